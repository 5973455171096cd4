"""Parts of a run's view: the pH band, washes, drying, heating, and what every weighing says of its yield."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from niddy.core import making as core
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.making import StepKind
from niddy.core.making.acts import PlateWeighed, RunFinished
from niddy.core.sludge import Curve
from niddy.core.sludge.drydown import curve
from niddy.core.telling import Told
from niddy.studio.making.offered import RawOffered
from niddy.studio.making.runs import RunKept, parts_g, theory_g

AFTER_READY, MOST_DRAWN = 1.25, 3.0
LEAST_HOURS, MOST_HOURS = 24.0, 1_000.0


@dataclass(frozen=True, slots=True)
class PhPoint:
    """One reading of pH: when, minutes from the first, and whether it was inside."""

    at: datetime
    minutes: float
    ph: float
    inside: bool


@dataclass(frozen=True, slots=True)
class PhSeen:
    """pH against its window: readings, what the last asks for, and the share of the time that was inside."""

    low: float | None
    high: float | None
    readings: tuple[PhPoint, ...]
    share_inside: Figure | None
    asks: str
    more: str


class StepState(StrEnum):
    """Where a step stands."""

    DONE = "done"
    SKIPPED = "skipped"
    NOW = "now"
    LATER = "later"


@dataclass(frozen=True, slots=True)
class StepSeen:
    """One step of a run: what it asks for at this scale, where it stands, why it was out of order or left out."""

    key: str
    kind: StepKind
    says: str
    how: str
    measured: str
    good: str
    caution: str
    state: StepState
    why: str
    minutes: float | None
    held_min: float
    running: bool


@dataclass(frozen=True, slots=True)
class WeighSeen:
    """An ingredient of a run: what to weigh, what is in, what is left, of which lot, and which others there are.

    `suspect` says why its lot is not to be trusted, `spoon_says` what a spoon of it is taken for.
    """

    key: str
    name: str
    g: float
    water_g: float
    added_g: float
    left_g: float
    done: bool
    lot_id: int | None
    lot_code: str
    lot_left_g: float | None
    suspect: str
    hazards: tuple[str, ...]
    offered: tuple[RawOffered, ...]
    spoon_says: str
    some: bool
    liquid: bool
    told: Told | None


@dataclass(frozen=True, slots=True)
class PhChoice:
    """A pH that a strip can show, and whether it lies inside the window."""

    ph: float
    inside: bool


@dataclass(frozen=True, slots=True)
class WashSeen:
    """Washes so far and those written, ml of one at this scale, and what of the salts is left."""

    done: int
    planned: int
    ml: float
    used_ml: float
    left: Figure | None


@dataclass(frozen=True, slots=True)
class PlatePoint:
    """One weighing of the drying that goes on: hours from its first, net g."""

    hours: float
    g: float
    at: datetime


@dataclass(frozen=True, slots=True)
class DrySeen:
    """How it dries: weighings, dry weight to expect, when it will be dry, whether it is."""

    readings: tuple[PlatePoint, ...]
    tare_g: float
    dry: Figure | None
    ready_at: datetime | None
    ready_low: datetime | None
    ready_high: datetime | None
    ready_hours: Estimate | None
    constant: bool
    missing: int
    curve: Curve | None


@dataclass(frozen=True, slots=True)
class HeatSeen:
    """Heating from one compound into another: what it weighed, what it should, how far it went."""

    from_formula: str
    to_formula: str
    before_g: float | None
    after_g: float | None
    expected: Figure | None
    says: str


@dataclass(frozen=True, slots=True)
class YieldPoint:
    """What a weighing says of the yield: g, and its share of theory, or of what went in without one."""

    at: datetime
    g: float
    share: float
    final: bool


def ph_seen(kept: RunKept) -> PhSeen | None:
    """The pH of a run against the window of its process; None without a window and reading."""
    step = next((one for one in kept.process.steps if one.ph is not None), None)
    window = step.ph if step is not None else None
    if window is None and not kept.run.ph:
        return None
    start = kept.run.ph[0].at if kept.run.ph else None
    points = tuple(
        PhPoint(one.at, (one.at - start).total_seconds() / 60, one.value, window is None or window.holds(one.value))
        for one in kept.run.ph
        if start is not None
    )
    share = core.ph_inside(kept.process, kept.run)
    figure = None
    if share is not None:
        figure = Figure.of(
            "Inside the window",
            Estimate.exact(100 * share, Basis.MEASURED),
            "% of the time",
            0,
            Working(
                "time inside / time from first to last reading, straight between readings",
                (Input("readings", float(len(points))), Input("minutes", points[-1].minutes if points else 0.0, "min")),
            ),
        )
    more = core.more_of(kept.process, step)
    asks = core.asks_for(points[-1].ph, window, more) if points and window is not None else ""
    low, high = (window.low, window.high) if window is not None else (None, None)
    return PhSeen(low, high, points, figure, asks, more)


STRIP_BELOW, STRIP_ABOVE = 2.0, 1.0
NO_WINDOW = (6.0, 8.0)


def ph_strip(kept: RunKept) -> tuple[PhChoice, ...]:
    """What a strip can show about the window, in halves: for one tap with a glove."""
    window = next((one.ph for one in kept.process.steps if one.ph is not None), None)
    low = window.low if window is not None and window.low is not None else NO_WINDOW[0]
    high = window.high if window is not None and window.high is not None else NO_WINDOW[1]
    first, last = max(1, math.floor(low - STRIP_BELOW)), min(13, math.ceil(high + STRIP_ABOVE))
    values = [first + n / 2 for n in range(2 * (last - first) + 1)]
    return tuple(PhChoice(one, window is not None and window.holds(one)) for one in values)


def wash_seen(kept: RunKept) -> WashSeen | None:
    """The washes of a run; None where none is written and none was done."""
    planned = sum(one.washes or 0 for one in kept.process.steps if one.kind is StepKind.WASH)
    if not planned and not kept.run.washes:
        return None
    left = core.washed_to(kept.run, kept.retained_ml)
    figure = None
    if left is not None:
        figure = Figure.of(
            "Salts left",
            Estimate(100 * left, 100 * left / 3, min(100.0, 300 * left), Basis.ASSUMED),
            "%",
            3 if left < 0.001 else 2 if left < 0.01 else 1,
            Working(
                "v / (v + V) for each wash, multiplied",
                (
                    Input("v, what the cake holds", kept.retained_ml, "ml", Basis.ASSUMED),
                    Input("V, water so far", sum(kept.run.washes), "ml", Basis.ENTERED),
                    Input("washes", float(len(kept.run.washes))),
                ),
                "well stirred; ISO 787-3 checks the salts",
                "what the cake holds is assumed: a third to three times",
            ),
        )
    return WashSeen(len(kept.run.washes), planned, kept.wash_ml or 0.0, sum(kept.run.washes), figure)


def dry_seen(kept: RunKept) -> DrySeen | None:
    """How a run dries; None before the first weighing."""
    readings = kept.run.readings()
    if not readings:
        return None
    last = kept.run.weighed[-1]
    start = last.at - timedelta(hours=readings[-1].hours)
    plates = kept.acts_of(PlateWeighed)
    tare = plates[-1][0].tare_g if plates else 0.0
    points = tuple(PlatePoint(one.hours, one.g, start + timedelta(hours=one.hours)) for one in readings)
    found = core.drying(kept.run)
    if found is None:
        return DrySeen(points, tare, None, None, None, None, None, False, 3 - len(readings), None)
    hours = found.hours_to_target
    at = [start + timedelta(hours=one) for one in (hours.median, hours.low, hours.high)]
    dry = Figure.of(
        "Dry",
        found.dry_g,
        "g",
        1,
        Working(
            "m = dry + (start - dry) s(t): s an exponential, with a slow tail, or a constant rate that falls",
            (Input("tau", found.tau_h.median, "h", Basis.MEASURED), Input("weighings", float(len(readings)))),
            f"dry: {100 * core.DRY_RESIDUAL:g} % water or less (assumed)",
            "0.1 g or 0.3 % for each weighing",
        ),
    )
    soon = min(hours.high, MOST_DRAWN * readings[-1].hours)
    until = min(MOST_HOURS, max(LEAST_HOURS, AFTER_READY * soon, readings[-1].hours))
    return DrySeen(points, tare, dry, at[0], at[1], at[2], hours, found.constant, 0, curve(readings, until))


def heat_seen(kept: RunKept) -> HeatSeen | None:
    """How far heating went; None where the process has none with formulas."""
    step = next((one for one in kept.process.steps if one.kind is StepKind.HEAT and one.from_formula), None)
    if step is None:
        return None
    if kept.run.heated is None:
        return HeatSeen(step.from_formula, step.to_formula, None, None, None, "")
    before, after = kept.run.heated
    try:
        found = core.heating(before, after, step.from_formula, step.to_formula)
    except Refused as refusal:
        return HeatSeen(step.from_formula, step.to_formula, before, after, None, refusal.problem)
    far = found.conversion
    says = f"{100 * far:.0f} % of the way by its weight"
    if far < 0.95:
        says += ": heat it on, and weigh it again"
    elif far > 1.05:
        says += ": more left than should; was it damp, or is some of it gone?"
    figure = Figure.of(
        "Should weigh",
        Estimate.exact(found.expected_after_g, Basis.ENTERED),
        "g",
        2,
        Working(
            "before x M of the one / M of the other",
            (Input("before", before, "g", Basis.MEASURED), Input("after", after, "g", Basis.MEASURED)),
            f"{step.from_formula} to {step.to_formula}",
        ),
    )
    return HeatSeen(step.from_formula, step.to_formula, before, after, figure, says)


def yield_points(kept: RunKept) -> tuple[YieldPoint, ...]:
    """Every weighing against theory."""
    if not _per(kept):
        return ()
    points = [YieldPoint(one.at, one.value, one.value / _per(kept, one.step), False) for one in kept.run.weighed]
    finishes = kept.acts_of(RunFinished)
    if finishes and kept.run.yield_g is not None:
        at = finishes[-1][0].made_at
        points.append(YieldPoint(at, kept.run.yield_g, kept.run.yield_g / _per(kept), True))
    return tuple(points)


def _per(kept: RunKept, step: str = "") -> float:
    """What a weighing at a step is held against: theory of the compound there is by then, or all that went in."""
    keys = [one.key for one in kept.process.steps]
    past = keys[: keys.index(step)] if step in keys else None
    return theory_g(kept, [key for key in past if key in kept.run.done] if past is not None else None) or parts_g(kept)


def yield_figure(kept: RunKept) -> Figure | None:
    """The yield as far as it is known: weighed at the end, or what the drying says it will be."""
    theory = theory_g(kept)
    per = theory or parts_g(kept)
    if not per:
        return None
    named, factor = kept.process.becomes(kept.run.done)
    of = (f"theory of {named}" if factor != 1 else "theory") if theory else "all that went in"
    inputs: tuple[Input, ...] = (Input(of, per, "g"),)
    if kept.run.yield_g is not None:
        share = Estimate.exact(100 * kept.run.yield_g / per, Basis.MEASURED)
        inputs = (Input("weighed", kept.run.yield_g, "g", Basis.MEASURED), *inputs)
    else:
        down = core.drying(kept.run)
        if down is None:
            return None
        dry = down.dry_g
        share = Estimate(100 * dry.median / per, 100 * dry.low / per, 100 * dry.high / per, dry.basis)
        inputs = (Input("dry, by the weighings", dry.median, "g", dry.basis), *inputs)
    return Figure.of("Yield", share, f"% of {of}", 1, Working(f"weighed / {of}", inputs))
