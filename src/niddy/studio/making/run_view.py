"""A run as its screen shows it: what to do now, every step, the pH band, washes, drying, sieve, yield, trials."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.cautions import DEFERENCE, Caution, cautions_for
from niddy.core.entry import Entry
from niddy.core.figure import Figure
from niddy.core.log import Status
from niddy.core.making import ProcessStep, RunAdvice, RunPlan, Sieved
from niddy.core.making.trying import PowderToStock
from niddy.core.sludge import Curve
from niddy.core.telling import Habit, Measuring
from niddy.studio import materials, workshop
from niddy.studio.making.entries import run_entries
from niddy.studio.making.facts import goes_in, loose_of, spoon_says
from niddy.studio.making.offered import offered, raw_lots
from niddy.studio.making.paper import theory_of
from niddy.studio.making.parts import (
    DrySeen,
    HeatSeen,
    PhChoice,
    PhSeen,
    StepSeen,
    StepState,
    WashSeen,
    WeighSeen,
    YieldPoint,
    dry_seen,
    heat_seen,
    ph_seen,
    ph_strip,
    wash_seen,
    yield_figure,
    yield_points,
)
from niddy.studio.making.pigments import PowderCost, PowderGuess, cost_of, guess
from niddy.studio.making.processes import ALWAYS
from niddy.studio.making.recording import RUNS
from niddy.studio.making.runs import RunKept, run
from niddy.studio.making.trials import TrialsSeen, trials_of
from niddy.studio.making.waste import WasteSeen, waste_of
from niddy.studio.recorder import LogLine, log_lines


@dataclass(frozen=True, slots=True)
class LotOut:
    """A lot of pigment that came of a run."""

    lot_id: int
    code: str
    g: float
    per_g: str | None


@dataclass(frozen=True, slots=True)
class RunView:
    """All that a run's screen shows."""

    number: int
    name: str
    process_id: int
    version: int
    changed: str
    status: Status
    now: datetime
    started_at: datetime
    ended_at: datetime | None
    advice: RunAdvice | None
    advice_caution: str
    plan: RunPlan
    cannot: str
    theory: Figure | None
    weigh: tuple[WeighSeen, ...]
    steps: tuple[StepSeen, ...]
    ph: PhSeen | None
    ph_strip: tuple[PhChoice, ...]
    temperature_c: float | None
    wash: WashSeen | None
    dry: DrySeen | None
    curve: Curve | None
    heat: HeatSeen | None
    sieved: Sieved | None
    yield_g: float | None
    yields: tuple[YieldPoint, ...]
    yield_now: Figure | None
    trials: TrialsSeen
    waste: WasteSeen
    powder: PowderGuess
    cost: PowderCost
    worked_min: float
    lots_out: tuple[LotOut, ...]
    left_g: float | None
    cautions: tuple[Caution, ...]
    always: str
    deference: str
    timeline: tuple[LogLine, ...]
    entries: tuple[Entry, ...]


def view(session: Session, now: datetime, number: int) -> RunView:
    """A run as it is. Raises Missing."""
    return view_of(session, now, run(session, number))


def view_of(session: Session, now: datetime, kept: RunKept) -> RunView:
    """The view of a run that was read already."""
    state, habit = kept.run, workshop.habit(session)
    advice, scale = None, habit.how is Measuring.SCALE
    if kept.status is Status.OPEN:
        advice = core.advise(kept.process, kept.plan.weigh, state, kept.wash_ml, now, scale=scale)
    inside = goes_in(kept)
    hazards = {key for _, keys in inside for key in keys}
    caution = core.caution_of(advice.step, hazards) if advice is not None and advice.step is not None else ""
    outs = tuple(LotOut(facts.lot_id or 0, act.code, act.g, facts.per_g) for act, facts in kept.acts_of(PowderToStock))
    weigh = _weigh(session, kept, habit)
    steps = tuple(_step(kept, one, advice, hazards, now) for one in kept.process.steps)
    strip, wash, dry, heat, waste = ph_strip(kept), wash_seen(kept), dry_seen(kept), heat_seen(kept), waste_of(kept)
    return RunView(
        kept.number,
        kept.name,
        kept.process_id,
        kept.version,
        kept.changed,
        kept.status,
        now,
        kept.started_at,
        kept.ended_at,
        advice,
        caution,
        kept.plan,
        kept.process.cannot,
        theory_of(kept.plan),
        weigh,
        steps,
        ph_seen(kept),
        strip,
        state.temperatures[-1].value if state.temperatures else None,
        wash,
        dry,
        dry.curve if dry is not None else None,
        heat,
        state.sieved,
        state.yield_g,
        yield_points(kept),
        yield_figure(kept),
        trials_of(kept, now),
        waste,
        guess(kept),
        cost_of(session, kept),
        core.hand_minutes(kept.acts),
        outs,
        state.yield_g - state.stocked_g if state.yield_g is not None else None,
        cautions_for(inside),
        ALWAYS,
        DEFERENCE,
        tuple(reversed(log_lines(RUNS, kept, kept.entries))),
        run_entries(kept, weigh, steps, strip, wash, dry, heat, waste, workshop.units(session), scale=scale),
    )


def _weigh(session: Session, kept: RunKept, habit: Habit) -> tuple[WeighSeen, ...]:
    by_id = {lot_id: materials.lot(session, lot_id) for lot_id in set(kept.lots.values())}
    written = {one.key: one for one in kept.process.ingredients}
    lots = raw_lots(session, kept.process) if kept.status is Status.OPEN else ()
    found = []
    for one in kept.plan.weigh:
        lot = by_id.get(kept.lots.get(one.key, 0))
        found.append(
            WeighSeen(
                one.key,
                one.name,
                one.g,
                one.water_g,
                kept.run.added.get(one.key, 0.0),
                max(0.0, one.g - kept.run.added.get(one.key, 0.0)),
                core.is_in(one, kept.run.added),
                lot.id if lot else None,
                lot.code if lot else "",
                lot.on_hand if lot else None,
                lot.suspect if lot else "",
                one.hazards,
                offered(written[one.key], lots),
                spoon_says(lot),
                one.some,
                written[one.key].unit in core.LIQUID_UNITS,
                core.told_of(written[one.key], one.g - kept.run.added.get(one.key, 0.0), habit, loose_of(lot)),
            )
        )
    return tuple(found)


def _step(kept: RunKept, step: ProcessStep, advice: RunAdvice | None, hazards: set[str], now: datetime) -> StepSeen:
    state = kept.run
    where = StepState.LATER
    if step.key in state.done:
        where = StepState.DONE
    elif step.key in state.skipped:
        where = StepState.SKIPPED
    elif advice is not None and advice.step is not None and advice.step.key == step.key:
        where = StepState.NOW
    timer = state.holds.get(step.key)
    shown = step.step()
    return StepSeen(
        step.key,
        step.kind,
        step.says,
        step.how,
        shown.measured,
        shown.done_when,
        core.caution_of(step, hazards),
        where,
        state.skipped.get(step.key) or state.early.get(step.key, ""),
        step.minutes,
        core.held_min(state, step.key, now),
        timer is not None and timer.running_since is not None,
    )
