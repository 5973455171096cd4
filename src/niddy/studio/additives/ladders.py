"""Ladders at the bench: what is done and read on each rung, and what comes of it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from niddy.core import checks, ladder
from niddy.core.additives import DoseBasis
from niddy.core.documents import Step, upgraded
from niddy.core.errors import Refused
from niddy.core.ladder import Design, Fit, Measured, RungRead
from niddy.core.log import Status
from niddy.db.additives import Ladder
from niddy.db.base import table_of
from niddy.reference import library
from niddy.studio import jobs, log
from niddy.studio.additives.designing import LadderAsked, TargetAsked, check_wanted, design, targets_of
from niddy.studio.additives.rung_acts import (
    RUNG_ACTS,
    BleedRead,
    Mixed,
    RungAct,
    RungFacts,
    RungKind,
    SpreadRead,
    StringRead,
    TakenBack,
    last_of_each,
)
from niddy.studio.errors import Missing
from niddy.studio.recorder import LogRoom

ROOM = "additives"
BLEED_AFTER = timedelta(hours=checks.BLEED_AFTER_H)


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
    next_kind: RungKind | None
    cautions: tuple[str, ...]


def begin(session: Session, now: datetime, request_id: UUID, asked: LadderAsked) -> int:
    """Keep a ladder to be run; its id. The same `request_id` again gives the same ladder. Raises Refused, Missing."""
    made = design(session, asked)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name for the ladder")
    begun = jobs.begin_job(
        session,
        ROOM,
        now,
        request_id,
        asked.name.strip(),
        asked.model_dump(mode="json"),
        plan=DESIGN.dump_python(made, mode="json"),
        plan_version=DESIGN_VERSION,
    )
    if begun.anew:
        row = {"number": begun.number, "job_id": begun.job_id, "recipe_id": asked.recipe_id}
        session.execute(insert(_LADDER).values(row))
    return begun.number


_LADDER = table_of(Ladder)
DESIGN = TypeAdapter(Design)
DESIGN_VERSION = 1
_DESIGN_STEPS: dict[int, Step] = {}


def ladder_row(session: Session, ladder_id: int, *, lock: bool = False) -> Ladder:
    """The row of a ladder. Raises Missing."""
    if lock:
        log.hold_of(session, ROOM, ladder_id)
    row = session.scalar(select(Ladder).where(Ladder.number == ladder_id))
    if row is None:
        raise Missing("ladder", ladder_id)
    return row


def asked_of(row: Ladder) -> LadderAsked:
    """What a ladder was asked for."""
    return LadderAsked.model_validate(row.asked)


def design_of(row: Ladder) -> Design:
    """The design of a ladder, upgraded where it was kept in an earlier shape."""
    return DESIGN.validate_python(upgraded(row.plan or {}, row.plan_version, DESIGN_VERSION, _DESIGN_STEPS))


def retarget(session: Session, now: datetime, ladder_id: int, targets: list[TargetAsked]) -> LadderPage:
    """Change what the ladder is asked for; readings stay. Raises Refused, Missing."""
    row = ladder_row(session, ladder_id, lock=True)
    asked = asked_of(row).model_copy(update={"targets": targets})
    check_wanted(asked)
    row.asked = asked.model_dump(mode="json")
    _note_outcome(session, row)
    return page(session, now, ladder_id)


@dataclass(frozen=True, slots=True)
class LadderKept:
    """A ladder while an act on it is recorded: its row, its design, what was read so far."""

    row: Ladder
    design: Design
    entries: tuple[log.Entry, ...]

    @property
    def job_id(self) -> int:
        """The job that it is."""
        return self.row.job_id

    @property
    def last_seq(self) -> int:
        """The place of the last act in its log."""
        return self.entries[-1].seq if self.entries else 0

    @property
    def status(self) -> Status:
        """Whether it still teaches."""
        return Status(self.row.status)


def _kept(session: Session, ladder_id: int) -> LadderKept:
    row = ladder_row(session, ladder_id)
    return LadderKept(row, design_of(row), log.entries(session, row.job_id))


def _check(kept: LadderKept, act: RungAct) -> None:
    rungs = len(kept.design.rungs)
    if act.rung >= rungs:
        raise Refused("rung", f"there is no rung {act.rung}", f"0 to {rungs - 1}")
    _check_act(act, rung_states(kept.entries, act.made_at, rungs)[act.rung])


def _taken_back(entries: Iterable[log.Entry], act: RungAct) -> UUID | None:
    """The last act of the kind on the rung, as nobody keeps its id. Raises Refused where there is none."""
    assert isinstance(act, TakenBack)
    last = last_of_each(entries).get((act.rung, act.of))
    if last is None:
        raise Refused("of", f"rung {act.rung} has no such entry", "one that was made on it")
    return last.id


def _follow(session: Session, now: datetime, kept: LadderKept, act: RungAct) -> LadderKept:
    _note_outcome(session, kept.row)
    return kept


LADDERS: LogRoom[LadderKept, RungAct, RungFacts] = LogRoom(
    ROOM,
    "ladder",
    RUNG_ACTS,
    job=_kept,
    grown=lambda session, kept, entry: kept,
    words=lambda kept, logged: logged.act.kind,
    check=_check,
    undoes=_taken_back,
    follow=_follow,
)


def page_of(session: Session, now: datetime, kept: LadderKept) -> LadderPage:
    """The page of a ladder that was acted on."""
    return page(session, now, kept.row.number)


def _check_act(asked: RungAct, state: RungState) -> None:
    match asked:
        case SpreadRead():
            if len(asked.diameters_mm) != 2:
                raise Refused("diameters_mm", "one of two diameters is missing", "two diameters at right angles, in mm")
            checks.spread(
                asked.diameters_mm,
                asked.volume_ml or checks.SYRINGE_ML,
                asked.mass_kg or checks.PLATES_KG,
                asked.plate_mm or checks.PLATE_MM,
            )
        case StringRead():
            if not asked.length_mm:
                raise Refused("length_mm", "missing", "the length at which the thread broke, above 0 mm")
        case BleedRead():
            if state.mixed_at is None:
                raise Refused("kind", "this rung has no dab yet", "bleed a day after the dab was made")
            if asked.made_at < state.mixed_at + BLEED_AFTER * 0.75:
                raise Refused(
                    "kind", "its dab is younger than a day", f"bleed from {state.mixed_at + BLEED_AFTER:%d %B %H:%M}"
                )
        case Mixed():
            if not state.weighed:
                raise Refused("kind", "this rung was not weighed out yet", "weighed first")
        case _:
            pass


def rung_states(entries: Iterable[log.Entry], now: datetime, rungs: int) -> list[RungState]:
    """What was done and read on each rung, the newest of each kind."""
    last = last_of_each(entries)
    states = []
    for rung in range(rungs):
        latest = {kind: last.get((rung, kind)) for kind in RungKind}
        mixed, spread = latest[RungKind.MIXED], latest[RungKind.SPREAD]
        diameter = stress = None
        if spread is not None:
            value = spread.payload
            read = checks.spread(
                value["diameters_mm"],
                value.get("volume_ml") or checks.SYRINGE_ML,
                value.get("mass_kg") or checks.PLATES_KG,
                None,
            )
            diameter, stress = read.diameter_mm, read.yield_stress_pa
        due = mixed.made_at + BLEED_AFTER if mixed is not None else None
        bleed = _length(latest[RungKind.BLEED])
        states.append(
            RungState(
                latest[RungKind.WEIGHED] is not None,
                mixed.made_at if mixed else None,
                diameter,
                stress,
                _length(latest[RungKind.STRING]),
                bleed,
                due,
                due is not None and bleed is None and due <= now,
            )
        )
    return states


def _length(row: log.Entry | None) -> float | None:
    return float(row.payload["length_mm"]) if row is not None else None


def _read(made: Design, states: list[RungState]) -> list[RungRead]:
    return [
        RungRead(rung.additives[0].dose_pct, state.yield_pa, state.string_mm, state.bleed_mm)
        for rung, state in zip(made.rungs, states, strict=True)
    ]


def fit_of(asked: LadderAsked, made: Design, states: list[RungState]) -> tuple[Fit | None, tuple[str, ...]]:
    """What the readings say so far: the fit, with its answer once every target's measure has rungs enough."""
    read = _read(made, states)
    counts = {what: sum(reading.value(what) is not None for reading in read) for what in Measured}
    if max(counts.values()) < ladder.RUNGS_TO_FIT:
        return None, (f"{ladder.RUNGS_TO_FIT} rungs or more have to be checked before a line can be drawn.",)
    short = [
        f"{ladder.WORDS[target.what]}: {ladder.RUNGS_TO_FIT - counts[target.what]} more rungs to check"
        for target in asked.targets
        if counts[target.what] < ladder.RUNGS_TO_FIT
    ]
    top = max(rung.additives[0].dose_pct for rung in made.rungs)
    fitted = ladder.fit(read, [] if short else targets_of(asked), top)
    return fitted, tuple(dict.fromkeys((*short, *fitted.missing)))


def _note_outcome(session: Session, row: Ladder) -> None:
    """Keep what a ladder taught beside it, for plans and routes to use."""
    asked = asked_of(row)
    made = design_of(row)
    fitted, _ = fit_of(asked, made, rung_states(log.entries(session, row.job_id), row.started_at, len(made.rungs)))
    outcome: dict[str, Any] = {}
    if fitted is not None:
        slope = next((line.slope for line in fitted.lines if line.what is Measured.YIELD), None)
        answer = fitted.answer
        outcome = {
            "stiffening": slope if len(asked.additives) == 1 else None,
            "least": answer.dose_pct if answer else None,
            "none_does": answer is not None and answer.dose_pct is None,
            "says": answer.says if answer else "",
        }
    row.state = outcome or None
    session.flush()


def page(session: Session, now: datetime, ladder_id: int) -> LadderPage:
    """A ladder to be run and read. Raises Missing."""
    row = ladder_row(session, ladder_id)
    asked = asked_of(row)
    made = design_of(row)
    states = rung_states(log.entries(session, row.job_id), now, len(made.rungs))
    fitted, missing = fit_of(asked, made, states)
    additives = [library().additives[additive.additive_key] for additive in asked.additives]
    line, reason, next_rung, next_kind = _next(made, states, fitted, missing)
    return LadderPage(
        row.number,
        row.name,
        row.started_at,
        row.recipe_id,
        asked,
        tuple(w.name for w in made.rungs[0].additives),
        DoseBasis(additives[0].dose_basis),
        made,
        tuple(states),
        fitted,
        missing,
        line,
        reason,
        next_rung,
        next_kind,
        tuple(additive.note for additive in additives),
    )


def _next(
    made: Design, states: list[RungState], fitted: Fit | None, missing: tuple[str, ...]
) -> tuple[str, str, int | None, RungKind | None]:
    """What to do next in a line, why, and on which rung."""
    rungs = list(enumerate(zip(made.rungs, states, strict=True)))
    for n, (rung, state) in rungs:
        if not state.weighed:
            why = "Paste, then the additive, then plain oil: the same order each time."
            return f"Weigh out {rung.label}", why, n, RungKind.WEIGHED
        if state.mixed_at is None:
            why = "A minute with the knife, then a dab on blotting paper beside its label."
            return f"Mix {rung.label} and dab it", why, n, RungKind.MIXED
    for kind, what in ((RungKind.SPREAD, "spread_mm"), (RungKind.STRING, "string_mm")):
        for n, (rung, state) in rungs:
            if getattr(state, what) is None:
                return f"Read the {kind} of {rung.label}", "Fresh paste, all rungs within the hour.", n, kind
    for n, (rung, state) in rungs:
        if state.bleed_mm is None and state.bleed_due_at is not None:
            if state.bleed_is_due:
                return f"Read the halo of {rung.label}", "Its dab is a day old.", n, RungKind.BLEED
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


def retire(session: Session, now: datetime, ladder_id: int) -> None:
    """Put a ladder away: its readings are kept, but teach nothing any more. Raises Missing."""
    log.note_end(session, now, ladder_row(session, ladder_id, lock=True).job_id, Status.ABANDONED)
