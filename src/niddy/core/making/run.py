"""A run as its log tells it: what went in, pH and warmth, holds, washes, weighings, heating, sieving, what came out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from niddy.core import log
from niddy.core.log import Status
from niddy.core.making.acidity import PhReading, share_inside
from niddy.core.making.comparing import Takes
from niddy.core.making.light import FadeRead, Fading, LightTest, LightVerdict
from niddy.core.making.process import Process, ProcessStep, StepKind
from niddy.core.making.sieving import Fraction, Sieved, sieve
from niddy.core.making.washing import left_after
from niddy.core.sludge.drydown import LEAST_ERROR_G, LEAST_READINGS, RISE, DryDown, Weighing, drydown
from niddy.core.timers import Timer, spent_s, started, stopped


class RunKind(StrEnum):
    """What can happen in a run."""

    READY = "ready"
    ADDED = "added"
    PH = "ph"
    TEMPERATURE = "temperature"
    HOLD = "hold"
    REST = "rest"
    WASHED = "washed"
    WEIGHED = "weighed"
    HEATED = "heated"
    SIEVED = "sieved"
    DONE = "done"
    SKIP = "skip"
    WASTE = "waste"
    PHOTO = "photo"
    COLOUR = "colour"
    NOTE = "note"
    FINISH = "finish"
    ABANDON = "abandon"
    TRIED = "tried"
    STRENGTH = "strength"
    SPOT = "spot"
    IN_MEDIUM = "in_medium"
    LIGHT = "light"
    FADED = "faded"
    LIGHT_VERDICT = "light_verdict"
    DENSITY = "density"
    TO_STOCK = "to_stock"
    HANDED_OVER = "handed_over"
    STRIKE = "strike"


AFTERWARDS = frozenset(
    {
        RunKind.TRIED, RunKind.STRENGTH, RunKind.SPOT, RunKind.IN_MEDIUM, RunKind.LIGHT, RunKind.FADED,
        RunKind.LIGHT_VERDICT, RunKind.DENSITY, RunKind.TO_STOCK, RunKind.HANDED_OVER, RunKind.WASTE, RunKind.PHOTO,
        RunKind.NOTE, RunKind.COLOUR, RunKind.STRIKE,
    }
)  # fmt: skip
"""What may still be logged once a run is finished."""


@dataclass(frozen=True, slots=True)
class RunAct:
    """One act as logged. `step` is the process's own, and `completes` says that it is done with it.

    Of the rest only what its kind has.
    """

    id: UUID
    seq: int
    kind: RunKind
    made_at: datetime
    strikes: UUID | None = None
    step: str = ""
    ingredient: str = ""
    g: float | None = None
    ph: float | None = None
    temperature_c: float | None = None
    ml: float | None = None
    before_g: float | None = None
    fractions: tuple[Fraction, ...] = ()
    pan_g: float = 0.0
    why: str = ""
    completes: bool = False
    takes: Takes | None = None
    percent: float | None = None
    fading: Fading | None = None
    verdict: LightVerdict | None = None
    text: str = ""


@dataclass(frozen=True, slots=True)
class At:
    """A reading, when it was made, and at which step where that matters."""

    at: datetime
    value: float
    step: str = ""


@dataclass(frozen=True, slots=True)
class Run:
    """A run now. g by ingredient; `done` in the order in which steps were done, `skipped` and `early` with the reasons.

    `early` are steps done before one that the process has before them. `weighed` are net g while it dries.
    `washed_at` are the steps of the `washes`.
    """

    ready: bool = False
    added: dict[str, float] = field(default_factory=dict)
    ph: tuple[At, ...] = ()
    temperatures: tuple[At, ...] = ()
    holds: dict[str, Timer] = field(default_factory=dict)
    washes: tuple[float, ...] = ()
    washed_at: tuple[str, ...] = ()
    weighed: tuple[At, ...] = ()
    heated: tuple[float, float] | None = None
    sieved: Sieved | None = None
    done: tuple[str, ...] = ()
    skipped: dict[str, str] = field(default_factory=dict)
    early: dict[str, str] = field(default_factory=dict)
    waste_ml: float = 0.0
    yield_g: float | None = None
    takes: Takes | None = None
    strength: float | None = None
    light: LightTest | None = None
    density: float | None = None
    stocked_g: float = 0.0
    status: Status = Status.OPEN

    @property
    def past(self) -> frozenset[str]:
        """The steps that are behind: done or skipped."""
        return frozenset((*self.done, *self.skipped))

    def washes_of(self, step: str) -> int:
        """How often it was washed at a step; a wash that names none counts at each."""
        return sum(key in (step, "") for key in self.washed_at)

    def weighed_of(self, step: str | None) -> tuple[At, ...]:
        """The weighings of one step, or (None) of the step that was weighed at last."""
        step = step if step is not None else (self.weighed[-1].step if self.weighed else "")
        return tuple(one for one in self.weighed if one.step in (step, ""))

    def readings(self, step: str | None = None) -> list[Weighing]:
        """The weighings of a step's drying by the hour: those since it was last heavier than before."""
        weighed, since = self.weighed_of(step), 0
        for n in range(1, len(weighed)):
            if weighed[n].value > weighed[n - 1].value * (1 + RISE) + LEAST_ERROR_G:
                since = n
        found: list[Weighing] = []
        for one in weighed[since:]:
            hours = (one.at - weighed[since].at).total_seconds() / 3600
            if not found or hours > found[-1].hours:
                found.append(Weighing(hours, one.value))
        return found


DRY_RESIDUAL = 0.01
"""A powder that holds so little water counts as dry (assumed)."""


def fold(acts: Iterable[RunAct]) -> Run:
    """A run from its whole log."""
    return log.fold(acts, Run(), after)


def after(run: Run, act: RunAct) -> Run:
    """A run after one more act that counts."""
    run = _tried(run, act) if act.kind in AFTERWARDS else _worked(run, act)
    return _done(run, act) if act.completes and act.kind is not RunKind.DONE else run


def _tried(run: Run, act: RunAct) -> Run:
    """After what may come once it is finished too."""
    match act.kind:
        case RunKind.WASTE:
            return replace(run, waste_ml=run.waste_ml + (act.ml or 0.0))
        case RunKind.TRIED:
            return replace(run, takes=act.takes)
        case RunKind.STRENGTH:
            return replace(run, strength=act.percent)
        case RunKind.LIGHT:
            return replace(run, light=LightTest(act.made_at, act.text))
        case RunKind.FADED if run.light is not None and act.fading is not None:
            return replace(run, light=run.light.looked(FadeRead(act.made_at, act.fading, act.percent)))
        case RunKind.LIGHT_VERDICT if run.light is not None:
            return replace(run, light=replace(run.light, verdict=act.verdict))
        case RunKind.DENSITY:
            return replace(run, density=act.g)
        case RunKind.TO_STOCK:
            return replace(run, stocked_g=run.stocked_g + (act.g or 0.0))
    return run


def _worked(run: Run, act: RunAct) -> Run:
    """After what belongs to the bench."""
    match act.kind:
        case RunKind.READY:
            return replace(run, ready=True)
        case RunKind.ADDED:
            more = run.added.get(act.ingredient, 0.0) + (act.g or 0.0)
            return replace(run, added={**run.added, act.ingredient: more})
        case RunKind.PH if act.ph is not None:
            return replace(run, ph=_in_order(run.ph, At(act.made_at, act.ph)))
        case RunKind.TEMPERATURE if act.temperature_c is not None:
            return replace(run, temperatures=_in_order(run.temperatures, At(act.made_at, act.temperature_c)))
        case RunKind.HOLD | RunKind.REST:
            timer = run.holds.get(act.step, Timer())
            turned = started(timer, act.made_at) if act.kind is RunKind.HOLD else stopped(timer, act.made_at)
            return replace(run, holds={**run.holds, act.step: turned})
        case RunKind.WASHED:
            return replace(run, washes=(*run.washes, act.ml or 0.0), washed_at=(*run.washed_at, act.step))
        case RunKind.WEIGHED if act.g is not None:
            return replace(run, weighed=_in_order(run.weighed, At(act.made_at, act.g, act.step)))
        case RunKind.HEATED if act.before_g is not None and act.g is not None:
            return replace(run, heated=(act.before_g, act.g))
        case RunKind.SIEVED:
            return replace(run, sieved=sieve(act.fractions, act.pan_g, act.g))
        case RunKind.DONE:
            return _done(run, act)
        case RunKind.SKIP:
            return replace(run, skipped={**run.skipped, act.step: act.why})
        case RunKind.FINISH:
            return replace(_at_rest(run, act), status=Status.FINISHED, yield_g=act.g)
        case RunKind.ABANDON:
            return replace(_at_rest(run, act), status=Status.ABANDONED)
    return run


def _in_order(found: tuple[At, ...], one: At) -> tuple[At, ...]:
    return tuple(sorted((*found, one), key=lambda each: each.at))


def _done(run: Run, act: RunAct) -> Run:
    timer = run.holds.get(act.step)
    holds = {**run.holds, act.step: stopped(timer, act.made_at)} if timer is not None else run.holds
    early = {**run.early, act.step: act.why} if act.why else run.early
    # Done again it counts where it was done last.
    done = (*(key for key in run.done if key != act.step), act.step)
    return replace(run, done=done, holds=holds, early=early)


def _at_rest(run: Run, act: RunAct) -> Run:
    return replace(run, holds={key: stopped(timer, act.made_at) for key, timer in run.holds.items()})


def step_now(process: Process, run: Run) -> ProcessStep | None:
    """The first step that is not behind; None when all are."""
    return next((step for step in process.steps if step.key not in run.past), None)


def out_of_order(process: Process, run: Run, key: str) -> ProcessStep | None:
    """The step that the process has before one, and that is not behind yet; None where it is its turn."""
    for step in process.steps:
        if step.key == key:
            return None
        if step.key not in run.past:
            return step
    return None


def ph_inside(process: Process, run: Run) -> float | None:
    """The share of the time that pH was inside the process's window; None without a window or reading."""
    window = next((step.ph for step in process.steps if step.ph is not None), None)
    if window is None or not run.ph:
        return None
    start = run.ph[0].at
    return share_inside([PhReading((one.at - start).total_seconds() / 60, one.value) for one in run.ph], window)


def held_min(run: Run, key: str, now: datetime) -> float:
    """Minutes a step has been held by now."""
    return spent_s(run.holds.get(key, Timer()), now) / 60


def washed_to(run: Run, retained_ml: float) -> float | None:
    """The share of the salts that is left after the washes so far; None before any."""
    if not run.washes:
        return None
    left = 1.0
    for ml in run.washes:
        left *= left_after(retained_ml, ml) if ml > 0 else 1.0
    return left


def drying(run: Run, step: str | None = None) -> DryDown | None:
    """How it dries at a step, by the shared dry-down; None before three weighings."""
    readings = run.readings(step)
    return drydown(readings, target_residual=DRY_RESIDUAL) if len(readings) >= LEAST_READINGS else None


def yield_of(grams: float, theory_g: float | None, parts_g: float) -> float:
    """A yield as a process counts its own: of theory, or without an equation g for each g that went in."""
    return grams / (theory_g if theory_g else parts_g)


def is_dry(run: Run, step: str | None = None) -> bool:
    """Whether two weighings of a step a day apart agree."""
    found = drying(run, step)
    return found is not None and found.constant


def last_of(process: Process, kind: StepKind) -> ProcessStep | None:
    """The last step of a kind."""
    return next((step for step in reversed(process.steps) if step.kind is kind), None)
