"""What a run asks for now: the step, what the large button does, and what good looks like."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from niddy.core.making.acidity import asks_for
from niddy.core.making.acts import HeatedBy, PlateWeighed, RunLogged, RunNote, StackSieved, WashDone, WeighedIn
from niddy.core.making.process import Does, Ingredient, Process, ProcessStep, StepKind
from niddy.core.making.run import Run, held_min, is_dry, step_now
from niddy.core.making.run_act import RunAct
from niddy.core.making.running import NOT_IN_WASTE, Scaled

WEIGHED_SHARE = 0.97
"""So much of what was planned counts as all of it (assumed)."""

BREAK_MIN = 30.0
"""A longer pause between two acts was no work at the bench (assumed)."""

FIRST_ACT_MIN = 5.0
"""What an act after a long pause took by itself (assumed)."""


class Tap(StrEnum):
    """What the large button does."""

    READY = "ready"
    WEIGH_IN = "weigh_in"
    PH = "ph"
    HOLD = "hold"
    WASH = "wash"
    WEIGH = "weigh"
    HEAT = "heat"
    SIEVE = "sieve"
    DONE = "done"
    FINISH = "finish"


@dataclass(frozen=True, slots=True)
class RunAdvice:
    """What to do now. `ingredient` and `grams` where something is weighed in, `ready_at` where something waits."""

    step: ProcessStep | None
    tap: Tap
    says: str
    how: str = ""
    ingredient: str = ""
    grams: float | None = None
    ml: float | None = None
    ready_at: datetime | None = None
    waiting: bool = False


CAUTIONS = {
    StepKind.HEAT: "Ovens and hot plates that never see food; airflow; tongs.",
    StepKind.CRUSH: "Mask on, damp cloth beneath: its dust is the powder.",
    StepKind.SIEVE: "Mask on, damp cloth beneath: its dust is the powder.",
}
FOAMS = "It foams up: a vessel of three times the liquid, a spoon at a time, stirring."
NO_DRAIN = "Nothing of it in the drain: kept for licensed disposal."


def caution_of(step: ProcessStep, hazards: Collection[str]) -> str:
    """What can hurt at a step, by its kind and what goes in."""
    if step.kind is StepKind.ADD and "foams" in hazards:
        return FOAMS
    if step.kind is StepKind.WASH and set(hazards) - NOT_IN_WASTE:
        return NO_DRAIN
    return CAUTIONS.get(step.kind, "")


def to_weigh(process: Process, plan: Sequence[Scaled], run: Run, step: ProcessStep | None) -> Scaled | None:
    """What a step still needs weighed in: its own ingredient, or when all are dissolved each that is; else None."""
    if step is None:
        return None
    by_key = {one.key: one for one in plan}
    keys = [step.ingredient] if step.ingredient else []
    if step.kind is StepKind.DISSOLVE and not step.ingredient:
        keys = [one.key for one in process.ingredients if one.solution_pct]
    return next((by_key[key] for key in keys if key in by_key and not is_in(by_key[key], run.added)), None)


def is_in(one: Scaled, added: Mapping[str, float]) -> bool:
    """Whether all of an ingredient went in."""
    return one.key in added if one.some else added.get(one.key, 0.0) >= WEIGHED_SHARE * one.g


def advise(
    process: Process, plan: Sequence[Scaled], run: Run, wash_ml: float | None, now: datetime, *, scale: bool = True
) -> RunAdvice:
    """What the run asks for; `wash_ml` is the water of one wash at its scale. Without a `scale` nothing is weighed."""
    step = step_now(process, run)
    if not run.ready and not run.done:
        return RunAdvice(None, Tap.READY, "Goggles, gloves, air moving", "data sheets read; acid into water")
    if step is None:
        if not scale:
            return RunAdvice(None, Tap.FINISH, "Measure what there is", "dry, in level spoons, not pressed down")
        return RunAdvice(None, Tap.FINISH, "Weigh what there is", "dry, without its dish")
    missing = to_weigh(process, plan, run, step)
    if missing is not None:
        left = missing.g - run.added.get(missing.key, 0.0)
        how = f"into {missing.water_g:.0f} ml of water; {step.how}" if missing.water_g else step.how
        put = "Weigh" if scale and not missing.words else "Put in"
        grams = None if missing.some else left
        return RunAdvice(step, Tap.WEIGH_IN, f"{put} {missing.name}", how.strip("; "), missing.key, grams)
    match step.kind:
        case StepKind.ACIDITY:
            return _acidity(process, run, step)
        case StepKind.HOLD | StepKind.SETTLE:
            return _hold(run, step, now)
        case StepKind.WASH:
            done, all_of = run.washes_of(step.key), step.washes or 1
            if done >= all_of:
                return RunAdvice(step, Tap.DONE, "Washed as often as written", "a drop on glass dries to nothing: good")
            return RunAdvice(step, Tap.WASH, f"Wash {done + 1} of {all_of}", step.how, ml=wash_ml)
        case StepKind.DRY if not scale:
            return RunAdvice(
                step, Tap.DONE, step.says, step.how or "until it crumbles and is no longer cool to the lip"
            )
        case StepKind.DRY:
            if is_dry(run, step.key):
                return RunAdvice(step, Tap.DONE, "It is dry", "two weighings a day apart agree")
            return RunAdvice(step, Tap.WEIGH, step.says, step.how)
        case StepKind.HEAT if step.from_formula and scale:
            return RunAdvice(step, Tap.HEAT, step.says, step.how)
        case StepKind.SIEVE if scale:
            return RunAdvice(step, Tap.SIEVE, step.says, step.how)
        case _:
            return _timed(run, step, now)


def _acidity(process: Process, run: Run, step: ProcessStep) -> RunAdvice:
    if not run.ph or step.ph is None:
        return RunAdvice(step, Tap.PH, "Read the pH", step.how or "a strip, or the meter")
    last = run.ph[-1].value
    if step.ph.holds(last):
        return RunAdvice(step, Tap.DONE, f"pH {last:g}: inside", "stir a minute, read once more, go on")
    return RunAdvice(step, Tap.PH, f"pH {last:g}", asks_for(last, step.ph, more_of(process, step), True))


def more_of(process: Process, step: ProcessStep | None) -> str:
    """What is added to bring the pH in: the step's own ingredient, or what brings it down."""
    found = next((one for one in process.ingredients if step is not None and one.key == step.ingredient), None)
    brings: Ingredient | None = next((one for one in process.ingredients if one.role is Does.PRECIPITANT), None)
    chosen = found or brings
    return chosen.name if chosen is not None else "precipitant"


def _hold(run: Run, step: ProcessStep, now: datetime) -> RunAdvice:
    timer = run.holds.get(step.key)
    if timer is None or (timer.running_since is None and held_min(run, step.key, now) < (step.minutes or 0.0)):
        return RunAdvice(step, Tap.HOLD, step.says, step.how)
    left = (step.minutes or 0.0) - held_min(run, step.key, now)
    if left > 0:
        return RunAdvice(step, Tap.DONE, step.says, step.how, ready_at=now + timedelta(minutes=left), waiting=True)
    return RunAdvice(step, Tap.DONE, f"{step.says}: time is up", step.how)


def _timed(run: Run, step: ProcessStep, now: datetime) -> RunAdvice:
    """A step that is done and said so; one that takes minutes has a timer first, where the maker wants it."""
    if step.minutes and step.key in run.holds:
        return _hold(run, step, now)
    return RunAdvice(step, Tap.DONE, step.says, step.how)


def completes(
    process: Process, plan: Sequence[Scaled], before: Run, after: Run, act: RunAct, step: ProcessStep | None
) -> bool:
    """Whether an act did the last that a step asked for, so that it is done with it."""
    if step is None or step.key in before.past:
        return False
    weighed = to_weigh(process, plan, before, step) is not None and to_weigh(process, plan, after, step) is None
    match act:
        case WeighedIn():
            return weighed and (step.kind is StepKind.DISSOLVE or (step.kind is StepKind.ADD and not step.minutes))
        case WashDone():
            return step.kind is StepKind.WASH and after.washes_of(step.key) >= (step.washes or 1)
        case PlateWeighed():
            return step.kind is StepKind.DRY and is_dry(after, step.key)
        case HeatedBy():
            return step.kind is StepKind.HEAT
        case StackSieved():
            return step.kind is StepKind.SIEVE
        case _:
            return False


def hand_minutes(acts: Sequence[RunLogged]) -> float:
    """Minutes of work at the bench: between acts close to one another, and a little for each that stands alone."""
    total = 0.0
    last: datetime | None = None
    for act in sorted((logged.act for logged in acts), key=lambda one: one.made_at):
        if isinstance(act, RunNote):
            continue
        gap = (act.made_at - last).total_seconds() / 60 if last is not None else None
        total += gap if gap is not None and gap <= BREAK_MIN else FIRST_ACT_MIN
        last = act.made_at
    return total
