"""Processes: kept in versions, read with what their equation comes to, planned as a run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.cautions import DEFERENCE, Caution, cautions_for
from niddy.core.errors import Refused
from niddy.core.making import Process, Template
from niddy.core.measures import Unit
from niddy.db.making import MakingProcess, MakingProcessVersion
from niddy.studio import materials
from niddy.studio.errors import Missing
from niddy.studio.making.asked import (
    IngredientAsked,
    ProcessAsked,
    ProcessPreview,
    ProcessSaid,
    ProcessVersionAsked,
    RunAsked,
    StepAsked,
)
from niddy.studio.making.kept import process_of, version_of
from niddy.studio.making.lists import RunAtRoom, at_room
from niddy.studio.making.offered import RawOffered, offered, raw_lots
from niddy.studio.making.paper import RunPaper, paper
from niddy.studio.making.runs import lots_for, of_process, own_of, own_yield, planned
from niddy.studio.making.waste import book
from niddy.studio.making.yields import Yields, yields_of
from niddy.studio.materials import LotKept

ALWAYS = (
    "Read every safety data sheet first. Goggles, gloves, airflow; acid into water. Nothing with metals in the drain: "
    "licensed disposal. Ovens, pots and spoons that never see food again."
)


@dataclass(frozen=True, slots=True)
class ProcessLine:
    """A process as the room lists it."""

    id: int
    name: str
    note: str
    version: int
    made_at: datetime
    ingredients: tuple[str, ...]
    wanted: str


@dataclass(frozen=True, slots=True)
class VersionNote:
    """One version of a process: its number, when, and why."""

    version: int
    made_at: datetime
    why: str


@dataclass(frozen=True, slots=True)
class Previewed:
    """What a process comes to at its own scale: its run on paper, what each step measures, what to beware of."""

    run: RunPaper
    measured: tuple[str, ...]
    good: tuple[str, ...]
    cautions: tuple[Caution, ...]
    always: str
    deference: str


@dataclass(frozen=True, slots=True)
class ProcessPage:
    """A process to be read: as it was said, and what that comes to."""

    id: int
    name: str
    note: str
    version: int
    versions: tuple[VersionNote, ...]
    said: ProcessSaid
    previewed: Previewed
    yields: Yields
    offered: tuple[tuple[RawOffered, ...], ...]


@dataclass(frozen=True, slots=True)
class TemplateSaid:
    """What a new process may start from."""

    key: Template
    said: ProcessSaid


@dataclass(frozen=True, slots=True)
class MakingRoom:
    """Everything of the room."""

    processes: tuple[ProcessLine, ...]
    templates: tuple[TemplateSaid, ...]
    runs: tuple[RunAtRoom, ...]
    raw: tuple[LotKept, ...]
    kept_waste_ml: float


def room(session: Session, now: datetime) -> MakingRoom:
    """The room as it stands."""
    newest = (
        select(MakingProcessVersion.process_id, func.max(MakingProcessVersion.version).label("version"))
        .group_by(MakingProcessVersion.process_id)
        .subquery()
    )
    rows = session.execute(
        select(MakingProcess, MakingProcessVersion)
        .join(newest, newest.c.process_id == MakingProcess.id)
        .join(
            MakingProcessVersion,
            (MakingProcessVersion.process_id == MakingProcess.id) & (MakingProcessVersion.version == newest.c.version),
        )
        .order_by(MakingProcess.name)
    )
    lines = []
    for process, version in rows:
        said = ProcessSaid.model_validate(version.said)
        lines.append(
            ProcessLine(
                process.id,
                process.name,
                process.note,
                version.version,
                version.made_at,
                tuple(one.name for one in said.ingredients),
                said.wanted,
            )
        )
    return MakingRoom(
        tuple(lines),
        tuple(TemplateSaid(one, _said(core.template(one))) for one in Template),
        at_room(session, now),
        materials.lots(session, materials.RAW),
        book(session).kept_ml,
    )


def _said(process: Process) -> ProcessSaid:
    """A template as a client would say it."""
    places = {one.key: n for n, one in enumerate(process.ingredients)}
    return ProcessSaid(
        ingredients=[
            IngredientAsked(
                name=one.name,
                parts_g=one.parts_g if one.unit is Unit.GRAM else None,
                unit=one.unit,
                amount=one.amount,
                role=one.role,
                formula=one.formula,
                purity=one.purity,
                solution_pct=one.solution_pct,
            )
            for one in process.ingredients
        ],
        products=list(process.products),
        wanted=process.wanted,
        steps=[
            StepAsked(
                kind=one.kind,
                says=one.says,
                how=one.how,
                ingredient=places.get(one.ingredient),
                minutes=one.minutes,
                ph_low=one.ph.low if one.ph else None,
                ph_high=one.ph.high if one.ph else None,
                temperature_low_c=one.temperature.low if one.temperature else None,
                temperature_high_c=one.temperature.high if one.temperature else None,
                wash_ml=one.wash_ml,
                washes=one.washes,
                mesh_um=one.mesh_um,
                from_formula=one.from_formula,
                to_formula=one.to_formula,
                done_when=one.done_when,
                through=one.through,
            )
            for one in process.steps
        ],
    )


def preview(said: ProcessPreview) -> Previewed:
    """What a process being written comes to. Raises Refused naming the field."""
    return _previewed(said.process("a process"))


def _previewed(process: Process, own: core.OwnYield | None = None) -> Previewed:
    core.check(process)
    steps = [one.step() for one in process.steps]
    return Previewed(
        paper(core.plan_run(process, own), process),
        tuple(one.measured for one in steps),
        tuple(one.done_when for one in steps),
        cautions_for([(one.name, one.hazards) for one in process.ingredients]),
        ALWAYS,
        DEFERENCE,
    )


def add(session: Session, now: datetime, asked: ProcessAsked) -> int:
    """Keep a new process; its id. Raises Refused naming the field."""
    core.check(asked.process(asked.name))
    name = asked.name.strip()
    row = MakingProcess(name=name, note=asked.note.strip(), added_at=now)
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{name}' is kept already", "a name of its own") from None
    _keep(session, now, row.id, 1, asked, "")
    return row.id


def add_version(session: Session, now: datetime, process_id: int, asked: ProcessVersionAsked) -> int:
    """Keep a further version of a process; its number. Raises Refused, Missing."""
    row = session.get(MakingProcess, process_id, with_for_update=True)
    if row is None:
        raise Missing("process", process_id)
    core.check(asked.process(row.name))
    if not asked.why.strip():
        raise Refused("why", "empty", "a few words why this version differs")
    last = version_of(session, process_id, None)
    if last.said == _kept(asked):
        raise Refused("ingredients", f"the same as version {last.version}", "something that differs")
    _keep(session, now, process_id, last.version + 1, asked, asked.why.strip())
    return last.version + 1


def _kept(said: ProcessSaid) -> dict[str, object]:
    return said.model_dump(mode="json", include=set(ProcessSaid.model_fields))


def _keep(session: Session, now: datetime, process_id: int, version: int, said: ProcessSaid, why: str) -> None:
    session.add(MakingProcessVersion(process_id=process_id, version=version, said=_kept(said), why=why, made_at=now))
    session.flush()


def page(session: Session, process_id: int, version: int | None = None) -> ProcessPage:
    """A process to be read, its newest version or another. Raises Missing."""
    row = session.get(MakingProcess, process_id)
    if row is None:
        raise Missing("process", process_id)
    kept = version_of(session, process_id, version)
    said = ProcessSaid.model_validate(kept.said)
    process = said.process(row.name)
    runs = of_process(session, process_id)
    raw = raw_lots(session, process)
    notes = session.scalars(
        select(MakingProcessVersion)
        .where(MakingProcessVersion.process_id == process_id)
        .order_by(MakingProcessVersion.version.desc())
    )
    return ProcessPage(
        row.id,
        row.name,
        row.note,
        kept.version,
        tuple(VersionNote(one.version, one.made_at, one.why) for one in notes),
        said,
        _previewed(process, own_of(runs)),
        yields_of(runs, process, {lot.code: lot.suspect for lot in raw if lot.suspect}),
        tuple(offered(one, raw) for one in process.ingredients),
    )


def plan(session: Session, process_id: int, asked: RunAsked) -> RunPaper:
    """A run of a process on paper. Raises Refused naming the amount, Missing."""
    row = session.get(MakingProcess, process_id)
    if row is None:
        raise Missing("process", process_id)
    process = process_of(row, version_of(session, process_id, asked.version))
    own = own_yield(session, process_id)
    return paper(planned(process, asked, lots_for(session, process, asked.lots), own), process)
