"""Runs as they are kept: a version of a process at one scale, the lots it is weighed from, its log."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from typing import Annotated, TypeVar
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.errors import Refused
from niddy.core.log import Status, counting
from niddy.core.making import Process, RawLot, Run, RunAct, RunActFacts, RunLogged, RunPlan
from niddy.core.making.acts import AnyRunAct
from niddy.db.base import table_of
from niddy.db.making import MakingProcess, PigmentRun
from niddy.studio import jobs, log, materials
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.making.asked import ProcessSaid, RunAsked, Said
from niddy.studio.making.kept import process_of, version_of
from niddy.studio.materials import LotKept
from niddy.studio.recorder import Acts

ROOM = "runs"
PLAN = TypeAdapter(RunPlan)
PLAN_VERSION = 1
RUN_ACTS: Acts[RunAct, RunActFacts] = Acts(AnyRunAct, RunActFacts)


class RunBegin(RunAsked):
    """A run to begin: as planned on paper, with the one thing that is changed. `request_id` is the client's.

    Sent twice it begins one run.
    """

    request_id: UUID
    changed: Said = ""
    change_washes: Annotated[int, Field(strict=True, ge=1, le=50)] | None = None
    change_hold_min: Annotated[float, Field(strict=True, ge=0, le=86_400)] | None = None

    def changing(self, process: Process) -> Process:
        """The process with that one thing changed."""
        return core.changed(process, self.change_washes, self.change_hold_min)


A = TypeVar("A", bound=RunAct)


@dataclass(frozen=True, slots=True)
class RunKept:
    """A run with its log, as it stands."""

    number: int
    job_id: int
    name: str
    process_id: int
    version: int
    changed: str
    said: ProcessSaid
    process: Process
    plan: RunPlan
    lots: dict[str, int]
    status: Status
    started_at: datetime
    ended_at: datetime | None
    last_seq: int
    entries: tuple[Entry, ...]
    acts: tuple[RunLogged, ...]
    run: Run

    def acts_of(self, kind: type[A]) -> list[tuple[A, RunActFacts]]:
        """The acts of one kind that count, in order, with what the record adds to each."""
        return [(one.act, one.facts) for one in self.acts if isinstance(one.act, kind)]

    @property
    def retained_ml(self) -> float:
        """What the settled cake holds, by the pigment to expect (assumed)."""
        return core.retained_ml(self.plan, self.process)

    @property
    def wash_ml(self) -> float | None:
        """The water of one wash at this scale."""
        step = core.last_of(self.process, core.StepKind.WASH)
        return step.wash_ml * self.plan.factor if step is not None and step.wash_ml else None


_RUN = table_of(PigmentRun)
Folded = tuple[tuple[Entry, ...], tuple[RunLogged, ...], Run]
"""The entries of a log, the acts of it that count, and what they come to."""


def lots_for(session: Session, process: Process, asked: dict[int, int]) -> dict[str, LotKept]:
    """The lots a run is weighed from, by ingredient. Raises Refused naming the ingredient."""
    found: dict[str, LotKept] = {}
    for n, lot_id in asked.items():
        if n >= len(process.ingredients):
            raise Refused(f"lots.{n}", "no such ingredient", "one of this process")
        try:
            lot = materials.lot(session, lot_id)
        except Missing:
            raise Missing("lot", lot_id, f"lots.{n}") from None
        if lot.kind not in (materials.RAW, "pigment"):
            raise Refused(f"lots.{n}", f"lot {lot.code} is {lot.kind}", "a raw material, or a powder such as chalk")
        found[process.ingredients[n].key] = lot
    return found


def planned(process: Process, asked: RunAsked, lots: dict[str, LotKept], own: core.OwnYield | None = None) -> RunPlan:
    """A run on paper, of the lots it is weighed from. Raises Refused naming the amount."""
    purities = {one.key: one.purity for one in process.ingredients}
    raw = {
        key: RawLot(lot.formula, lot.purity.value / 100 if lot.purity is not None else purities[key])
        for key, lot in lots.items()
    }
    try:
        plan = core.plan_run(
            process,
            own,
            on_hand={f"in-{n + 1}": grams for n, grams in asked.on_hand.items()},
            wanted_g=asked.wanted_g,
            lots=raw,
        )
    except Refused as refusal:
        field = refusal.field
        if field.startswith("on_hand.in-"):
            field = f"on_hand.{int(field.removeprefix('on_hand.in-')) - 1}"
        raise Refused(field, refusal.problem, refusal.accepted) from None
    # What a lot's own data sheet says counts beside what its formula calls for.
    weigh = tuple(
        replace(one, hazards=tuple(sorted({*one.hazards, *lots[one.key].hazards}))) if one.key in lots else one
        for one in plan.weigh
    )
    return replace(plan, weigh=weigh, waste_holds=core.waste_holds(weigh))


def begin(session: Session, now: datetime, process_id: int, asked: RunBegin) -> int:
    """Begin a run of a process; its number. Raises Refused, Conflict, Missing."""
    row = session.get(MakingProcess, process_id)
    if row is None:
        raise Missing("process", process_id)
    version = version_of(session, process_id, asked.version)
    process = asked.changing(process_of(row, version))
    lots = lots_for(session, process, asked.lots)
    plan = planned(process, asked, lots, own_yield(session, process_id))
    doc = {**asked.model_dump(mode="json", exclude={"request_id"}), "process_id": process_id}
    written = {**PLAN.dump_python(plan, mode="json"), "lots": {key: lot.id for key, lot in lots.items()}}
    begun = jobs.begin_job(session, ROOM, now, asked.request_id, row.name, doc, plan=written, plan_version=PLAN_VERSION)
    if begun.anew:
        session.execute(
            insert(_RUN).values(
                number=begun.number,
                job_id=begun.job_id,
                process_id=process_id,
                version=version.version,
                changed=asked.changed.strip(),
            )
        )
    return begun.number


def row_of(session: Session, number: int) -> PigmentRun:
    """The row of a run. Raises Missing."""
    wanted = select(PigmentRun).where(PigmentRun.number == number).execution_options(populate_existing=True)
    row = session.scalar(wanted)
    if row is None:
        raise Missing("run", number)
    return row


def run(session: Session, number: int) -> RunKept:
    """One run with its log. Raises Missing."""
    row = row_of(session, number)
    return several(session, [row])[0]


def several(session: Session, rows: Sequence[PigmentRun]) -> tuple[RunKept, ...]:
    """Runs of their rows, with their logs and versions read at once."""
    logs = log.as_text(session, [row.job_id for row in rows]) if rows else {}
    versions: dict[tuple[int, int], tuple[ProcessSaid, Process]] = {}
    for row in rows:
        key = (row.process_id, row.version)
        if key not in versions:
            process_row = session.get_one(MakingProcess, row.process_id)
            kept = version_of(session, *key)
            versions[key] = ProcessSaid.model_validate(kept.said), process_of(process_row, kept)
    return tuple(
        kept_of(row, *versions[(row.process_id, row.version)], _folded(row.job_id, logs[row.job_id])) for row in rows
    )


@lru_cache(maxsize=96)
def _last_seen(job_id: int) -> list[tuple[str, Folded]]:
    """The one place where a job's log is kept as it was seen last, with what it came to; empty before."""
    return []


def _folded(job_id: int, text: str) -> Folded:
    """The acts of a log as text and what they come to: an act more is added to what is known, all else folded anew."""
    for known, (entries, acts, run) in _last_seen(job_id):
        if known == text:
            return entries, acts, run
        more = log.added(known, text)
        if more is None or any(entry.strikes for entry in more):
            break
        new = tuple(RUN_ACTS.logged(entry) for entry in more)
        for one in new:
            run = core.run_after(run, one)
        return _seen(job_id, text, ((*entries, *more), (*acts, *new), run))
    entries = log.from_text(text)
    acts = counting(RUN_ACTS.logged(entry) for entry in entries)
    return _seen(job_id, text, (entries, acts, core.run_of(acts)))


def _seen(job_id: int, text: str, folded: Folded) -> Folded:
    _last_seen(job_id)[:] = [(text, folded)]
    return folded


def with_act(kept: RunKept, entry: Entry) -> Run:
    """What a run comes to with one act more: a strike-out counts all anew."""
    one = RUN_ACTS.logged(entry)
    if entry.strikes is None:
        return core.run_after(kept.run, one)
    return core.run_of([*(RUN_ACTS.logged(before) for before in kept.entries), one])


def kept_of(row: PigmentRun, said: ProcessSaid, process: Process, folded: Folded) -> RunKept:
    """A run of its row, version, log, and what that comes to."""
    plan = dict(row.plan or {})
    lots = plan.pop("lots", {})
    asked = row.asked or {}
    process = core.changed(process, asked.get("change_washes"), asked.get("change_hold_min"))
    return RunKept(
        row.number,
        row.job_id,
        row.name,
        row.process_id,
        row.version,
        row.changed,
        said,
        process,
        PLAN.validate_python(plan),
        lots,
        Status(row.status),
        row.started_at,
        row.ended_at,
        row.last_seq,
        *folded,
    )


def of_process(session: Session, process_id: int) -> tuple[RunKept, ...]:
    """All runs of a process, in their order."""
    rows = session.scalars(select(PigmentRun).where(PigmentRun.process_id == process_id).order_by(PigmentRun.number))
    return several(session, rows.all())


def own_yield(session: Session, process_id: int) -> core.OwnYield:
    """What the finished runs of a process came to, as a process counts its own."""
    return own_of(of_process(session, process_id))


def own_of(runs: Sequence[RunKept]) -> core.OwnYield:
    """What some runs came to, those that were finished."""
    done = [one for one in runs if one.run.yield_g is not None]
    shares = (yield_share(one, one.run.yield_g or 0.0) for one in done)
    return core.OwnYield(tuple(share for share in shares if share is not None))


def parts_g(kept: RunKept) -> float:
    """All that was planned to go in, g; 0 where of some of it nobody says how much."""
    return 0.0 if kept.process.unweighed else sum(one.g for one in kept.plan.weigh)


def theory_g(kept: RunKept, past: Collection[str] | None = None) -> float | None:
    """What the equation allows of the compound that is weighed: as it was precipitated, or as the heatings that are
    done (or those among the steps `past`) left it. None without an equation.
    """
    if kept.plan.theory_g is None:
        return None
    _, factor = kept.process.becomes(kept.run.done if past is None else past)
    return kept.plan.theory_g * factor


def yield_share(kept: RunKept, grams: float) -> float | None:
    """A yield as its process counts its own; None where nobody knows what went in."""
    return core.yield_of(grams, theory_g(kept), parts_g(kept))


def grown(session: Session, kept: RunKept) -> RunKept:
    """A run after an act that was just logged."""
    entries, acts, run = _folded(kept.job_id, log.as_text(session, [kept.job_id])[kept.job_id])
    row = row_of(session, kept.number)
    return replace(
        kept,
        entries=entries,
        acts=acts,
        last_seq=row.last_seq,
        status=Status(row.status),
        ended_at=row.ended_at,
        run=run,
    )
