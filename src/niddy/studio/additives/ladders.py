"""Ladders at the bench: what is done and read on each rung, and what comes of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, Field, TypeAdapter
from sqlalchemy import Select, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from niddy.core import checks, ladder
from niddy.core.additives import DoseBasis
from niddy.core.errors import MIN_VOLUME_ML, Refused
from niddy.core.ladder import Design, Fit, Measured, RungRead
from niddy.db.additives import Ladder, LadderAct
from niddy.reference import library
from niddy.studio.additives.designing import LadderAsked, Millimetres, TargetAsked, check_wanted, design, targets_of
from niddy.studio.documents import Document
from niddy.studio.errors import Conflict, Missing
from niddy.studio.times import act_time

BLEED_AFTER = timedelta(hours=checks.BLEED_AFTER_H)


HALOS_WAIT_FOR = timedelta(days=21)
"""A ladder begun longer ago than this asks for nothing any more."""


class RungAct(StrEnum):
    """What can happen to a rung: weighed out, mixed and dabbed, and its three readings."""

    WEIGHED = "weighed"
    MIXED = "mixed"
    SPREAD = "spread"
    STRING = "string"
    BLEED = "bleed"


class RungActAsked(Document):
    """One tick or reading of a rung, with an id made by the client. `undo` takes the last of its kind back.

    `spread` has `diameters_mm` (two, at right angles), and `volume_ml`, `mass_kg`, `plate_mm` where they are not
    the usual; `string` and `bleed` have `length_mm`.
    """

    id: UUID
    rung: Annotated[int, Field(strict=True, ge=0, le=40)]
    kind: RungAct
    made_at: AwareDatetime
    diameters_mm: Annotated[list[Millimetres], Field(max_length=8)] | None = None
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None
    length_mm: Millimetres | None = None
    undo: bool = False


@dataclass(frozen=True, slots=True)
class RungState:
    """A rung as it stands: ticks, readings (spread in mm and the stress it tells in Pa), and when bleed can be read."""

    weighed: bool
    mixed_at: datetime | None
    spread_mm: float | None
    yield_pa: float | None
    string_mm: float | None
    bleed_mm: float | None
    bleed_due_at: datetime | None
    bleed_is_due: bool


@dataclass(frozen=True, slots=True)
class LadderPage:
    """A ladder: what to weigh, how far it is, what its readings say, and what is still missing."""

    id: int
    name: str
    made_at: datetime
    recipe_id: int | None
    asked: LadderAsked
    parts: tuple[str, ...]
    basis: DoseBasis
    design: Design
    rungs: tuple[RungState, ...]
    fit: Fit | None
    missing: tuple[str, ...]
    next_line: str
    next_reason: str
    next_rung: int | None
    next_kind: RungAct | None
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LadderLine:
    """A ladder as a list shows it."""

    id: int
    name: str
    made_at: datetime
    recipe_id: int | None
    parts: tuple[str, ...]
    says: str
    waits: str


def begin(session: Session, now: datetime, request_id: UUID, asked: LadderAsked) -> int:
    """Keep a ladder to be run; its id. The same `request_id` again gives the same ladder. Raises Refused, Missing."""
    made = design(session, asked)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name for the ladder")
    document = {"asked": asked.model_dump(mode="json"), "design": DESIGN.dump_python(made, mode="json")}
    found = session.scalar(
        insert(Ladder)
        .values(
            request_id=request_id, name=asked.name.strip(), made_at=now, recipe_id=asked.recipe_id, design=document,
            retired=False,
        )
        .on_conflict_do_nothing(index_elements=[Ladder.request_id])
        .returning(Ladder.id)
    )  # fmt: skip
    if found is not None:
        return int(found)
    earlier = session.execute(select(Ladder.id, Ladder.design).where(Ladder.request_id == request_id)).one()
    if earlier.design["asked"] != document["asked"]:
        raise Conflict("request_id", "this id began another ladder already", "a new id for another ladder")
    return int(earlier.id)


DESIGN = TypeAdapter(Design)


def ladder_row(session: Session, ladder_id: int, *, lock: bool = False) -> Ladder:
    """The row of a ladder. Raises Missing."""
    row = session.get(Ladder, ladder_id, with_for_update=lock or None)
    if row is None:
        raise Missing("ladder", ladder_id)
    return row


def retarget(session: Session, now: datetime, ladder_id: int, targets: list[TargetAsked]) -> LadderPage:
    """Change what the ladder is asked for; readings stay. Raises Refused, Missing."""
    row = ladder_row(session, ladder_id, lock=True)
    asked = LadderAsked.model_validate(row.design["asked"]).model_copy(update={"targets": targets})
    check_wanted(asked)
    row.design = {**row.design, "asked": asked.model_dump(mode="json")}
    _note_outcome(session, row)
    return page(session, now, ladder_id)


def act(session: Session, now: datetime, ladder_id: int, asked: RungActAsked) -> LadderPage:
    """Log a tick or a reading of one rung. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    row = ladder_row(session, ladder_id, lock=True)
    value = asked.model_dump(mode="json", exclude={"id", "rung", "kind", "made_at"}, exclude_defaults=True)
    earlier = session.get(LadderAct, asked.id)
    if earlier is not None:
        if (earlier.ladder_id, earlier.rung, earlier.kind, earlier.value) != (
            ladder_id, asked.rung, asked.kind, value,
        ):  # fmt: skip
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return page(session, now, ladder_id)
    made = DESIGN.validate_python(row.design["design"])
    if asked.rung >= len(made.rungs):
        raise Refused("rung", f"there is no rung {asked.rung}", f"0 to {len(made.rungs) - 1}")
    state = rung_states(session, ladder_id, now, len(made.rungs))[asked.rung]
    if not asked.undo:
        _check_act(asked, state, now)
    last = session.scalar(select(func.max(LadderAct.seq)).where(LadderAct.ladder_id == ladder_id)) or 0
    session.add(
        LadderAct(
            id=asked.id, ladder_id=ladder_id, seq=last + 1, rung=asked.rung, kind=asked.kind, value=value,
            made_at=asked.made_at, recorded_at=now,
        )
    )  # fmt: skip
    session.flush()
    _note_outcome(session, row)
    return page(session, now, ladder_id)


def _check_act(asked: RungActAsked, state: RungState, now: datetime) -> None:
    match asked.kind:
        case RungAct.SPREAD:
            if not asked.diameters_mm or len(asked.diameters_mm) != 2:
                raise Refused("diameters_mm", "one of two diameters is missing", "two diameters at right angles, in mm")
            checks.spread(
                asked.diameters_mm, asked.volume_ml or checks.SYRINGE_ML, asked.mass_kg or checks.PLATES_KG,
                asked.plate_mm or checks.PLATE_MM,
            )  # fmt: skip
        case RungAct.STRING:
            if not asked.length_mm:
                raise Refused("length_mm", "missing", "the length at which the thread broke, above 0 mm")
        case RungAct.BLEED:
            if asked.length_mm is None:
                raise Refused("length_mm", "missing", "the width of the halo, 0 mm or more")
            if state.mixed_at is None:
                raise Refused("kind", "this rung has no dab yet", "bleed a day after the dab was made")
            if asked.made_at < state.mixed_at + BLEED_AFTER * 0.75:
                raise Refused(
                    "kind", "its dab is younger than a day", f"bleed from {state.mixed_at + BLEED_AFTER:%d %B %H:%M}"
                )
        case RungAct.MIXED:
            if not state.weighed:
                raise Refused("kind", "this rung was not weighed out yet", "weighed first")
        case RungAct.WEIGHED:
            pass
    act_time("made_at", asked.made_at, now)


def rung_states(session: Session, ladder_id: int, now: datetime, rungs: int) -> list[RungState]:
    """What was done and read on each rung, the newest of each kind."""
    rows = session.scalars(select(LadderAct).where(LadderAct.ladder_id == ladder_id).order_by(LadderAct.seq))
    last: dict[tuple[int, str], LadderAct] = {}
    for row in rows:
        if row.value.get("undo"):
            last.pop((row.rung, row.kind), None)
        else:
            last[row.rung, row.kind] = row
    states = []
    for rung in range(rungs):
        told = {kind: last.get((rung, kind)) for kind in RungAct}
        mixed, spread = told[RungAct.MIXED], told[RungAct.SPREAD]
        diameter = stress = None
        if spread is not None:
            value = spread.value
            read = checks.spread(
                value["diameters_mm"], value.get("volume_ml") or checks.SYRINGE_ML,
                value.get("mass_kg") or checks.PLATES_KG, None,
            )  # fmt: skip
            diameter, stress = read.diameter_mm, read.yield_stress_pa
        due = mixed.made_at + BLEED_AFTER if mixed is not None else None
        bleed = _length(told[RungAct.BLEED])
        states.append(
            RungState(
                told[RungAct.WEIGHED] is not None, mixed.made_at if mixed else None, diameter, stress,
                _length(told[RungAct.STRING]), bleed, due, due is not None and bleed is None and due <= now,
            )
        )  # fmt: skip
    return states


def _length(row: LadderAct | None) -> float | None:
    return float(row.value["length_mm"]) if row is not None else None


def _read(made: Design, states: list[RungState]) -> list[RungRead]:
    return [
        RungRead(rung.additives[0].dose_pct, state.yield_pa, state.string_mm, state.bleed_mm)
        for rung, state in zip(made.rungs, states, strict=True)
    ]


def fit_of(asked: LadderAsked, made: Design, states: list[RungState]) -> tuple[Fit | None, tuple[str, ...]]:
    """What the readings say so far: the fit, with its answer once every target's measure has rungs enough."""
    read = _read(made, states)
    counts = {what: sum(one.value(what) is not None for one in read) for what in Measured}
    if max(counts.values()) < ladder.RUNGS_TO_FIT:
        return None, (f"{ladder.RUNGS_TO_FIT} rungs or more have to be checked before a line can be drawn.",)
    short = [
        f"{ladder.WORDS[one.what]}: {ladder.RUNGS_TO_FIT - counts[one.what]} more rungs to check"
        for one in asked.targets
        if counts[one.what] < ladder.RUNGS_TO_FIT
    ]
    top = max(rung.additives[0].dose_pct for rung in made.rungs)
    fitted = ladder.fit(read, [] if short else targets_of(asked), top)
    return fitted, tuple(dict.fromkeys((*short, *fitted.missing)))


def _note_outcome(session: Session, row: Ladder) -> None:
    """Keep what a ladder taught beside it, for plans and routes to use."""
    asked = LadderAsked.model_validate(row.design["asked"])
    made = DESIGN.validate_python(row.design["design"])
    fitted, _ = fit_of(asked, made, rung_states(session, row.id, row.made_at, len(made.rungs)))
    outcome: dict[str, Any] = {}
    if fitted is not None:
        slope = next((one.slope for one in fitted.lines if one.what is Measured.YIELD), None)
        answer = fitted.answer
        outcome = {
            "stiffening": slope if len(asked.additives) == 1 else None,
            "least": answer.dose_pct if answer else None,
            "none_does": answer is not None and answer.dose_pct is None,
            "says": answer.says if answer else "",
        }
    row.outcome = outcome or None
    session.flush()


def page(session: Session, now: datetime, ladder_id: int) -> LadderPage:
    """A ladder to be run and read. Raises Missing."""
    row = ladder_row(session, ladder_id)
    asked = LadderAsked.model_validate(row.design["asked"])
    made = DESIGN.validate_python(row.design["design"])
    states = rung_states(session, ladder_id, now, len(made.rungs))
    fitted, missing = fit_of(asked, made, states)
    additives = [library().additives[one.additive_key] for one in asked.additives]
    line, reason, next_rung, next_kind = _next(made, states, fitted, missing)
    return LadderPage(
        row.id, row.name, row.made_at, row.recipe_id, asked, tuple(w.name for w in made.rungs[0].additives),
        DoseBasis(additives[0].dose_basis), made, tuple(states), fitted, missing, line, reason,
        next_rung, next_kind,
        tuple(one.note for one in additives),
    )  # fmt: skip


def _next(
    made: Design, states: list[RungState], fitted: Fit | None, missing: tuple[str, ...]
) -> tuple[str, str, int | None, RungAct | None]:
    """What to do next in a line, why, and on which rung."""
    rungs = list(enumerate(zip(made.rungs, states, strict=True)))
    for n, (rung, state) in rungs:
        if not state.weighed:
            why = "Paste, then the additive, then plain oil: the same order each time."
            return f"Weigh out {rung.label}", why, n, RungAct.WEIGHED
        if state.mixed_at is None:
            why = "A minute with the knife, then a dab on blotting paper beside its label."
            return f"Mix {rung.label} and dab it", why, n, RungAct.MIXED
    for kind, what in ((RungAct.SPREAD, "spread_mm"), (RungAct.STRING, "string_mm")):
        for n, (rung, state) in rungs:
            if getattr(state, what) is None:
                return f"Read the {kind} of {rung.label}", "Fresh paste, all rungs within the hour.", n, kind
    for n, (rung, state) in rungs:
        if state.bleed_mm is None and state.bleed_due_at is not None:
            if state.bleed_is_due:
                return f"Read the halo of {rung.label}", "Its dab is a day old.", n, RungAct.BLEED
            return (
                "Wait for the halos",
                f"{rung.label} is a day old on {state.bleed_due_at:%A, %d %B, %H:%M} UTC.",
                n,
                None,
            )
    if fitted is not None and fitted.answer is not None:
        return fitted.answer.says, "From the lines below; the band is 90 %.", None, None
    why = "; ".join(missing) or "With targets the ladder tells the least dose that meets them."
    return "Say what is wanted", why, None, None


def lines(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """The ladders, newest first."""
    return _lines(session, now, select(Ladder).where(~Ladder.retired))


def _lines(session: Session, now: datetime, wanted: Select[Ladder]) -> tuple[LadderLine, ...]:
    rows = session.scalars(wanted.order_by(Ladder.made_at.desc(), Ladder.id.desc()).limit(60))
    shown = []
    for row in rows:
        made = DESIGN.validate_python(row.design["design"])
        states = rung_states(session, row.id, now, len(made.rungs))
        done = sum(state.bleed_mm is not None for state in states)
        due = sum(state.bleed_is_due for state in states)
        says = (row.outcome or {}).get("says") or ""
        waits = f"{due} halos to read" if due else "" if says else f"{done} of {len(states)} rungs read"
        shown.append(
            LadderLine(
                row.id, row.name, row.made_at, row.recipe_id, tuple(w.name for w in made.rungs[0].additives), says,
                waits,
            )
        )  # fmt: skip
    return tuple(shown)


def halos_due(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """Ladders with halos to read now."""
    recent = select(Ladder).where(~Ladder.retired, Ladder.made_at > now - HALOS_WAIT_FOR)
    return tuple(one for one in _lines(session, now, recent) if "halos" in one.waits)


def retire(session: Session, ladder_id: int) -> None:
    """Put a ladder away: its readings are kept, but teach nothing any more. Raises Missing."""
    ladder_row(session, ladder_id, lock=True).retired = True
    session.flush()
