"""A run as it stands: what went in, pH and warmth, holds, washes, weighings, heating, sieving, what came out."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import datetime

from niddy.core.log import Status
from niddy.core.making.acidity import PhReading, share_inside
from niddy.core.making.comparing import Takes
from niddy.core.making.light import LightTest
from niddy.core.making.process import Process, ProcessStep, StepKind
from niddy.core.making.sieving import Sieved
from niddy.core.making.washing import left_after
from niddy.core.sludge.drydown import LEAST_ERROR_G, LEAST_READINGS, RISE, DryDown, Weighing, drydown
from niddy.core.timers import Timer, spent_s, stopped


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


def in_order(found: tuple[At, ...], one: At) -> tuple[At, ...]:
    """Readings with one more, by when they were made, in whatever order they came."""
    return tuple(sorted((*found, one), key=lambda each: each.at))


def step_done(run: Run, step: str, at: datetime, why: str = "") -> Run:
    """The run once a step is done; done again it counts where it was done last."""
    timer = run.holds.get(step)
    holds = {**run.holds, step: stopped(timer, at)} if timer is not None else run.holds
    early = {**run.early, step: why} if why else run.early
    done = (*(key for key in run.done if key != step), step)
    return replace(run, done=done, holds=holds, early=early)


def at_rest(run: Run, at: datetime) -> Run:
    """The run with no time running any more."""
    return replace(run, holds={key: stopped(timer, at) for key, timer in run.holds.items()})


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


def yield_of(grams: float, theory_g: float | None, parts_g: float) -> float | None:
    """A yield as a process counts its own: of theory, or without an equation g for each g that went in.

    None where nobody knows what went in.
    """
    per = theory_g or parts_g
    return grams / per if per else None


def is_dry(run: Run, step: str | None = None) -> bool:
    """Whether two weighings of a step a day apart agree."""
    found = drying(run, step)
    return found is not None and found.constant


def last_of(process: Process, kind: StepKind) -> ProcessStep | None:
    """The last step of a kind."""
    return next((step for step in reversed(process.steps) if step.kind is kind), None)
