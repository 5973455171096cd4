"""Batch consistency: individuals and moving range (ISO 7870-2), Nelson's rules, capability."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from statistics import fmean

from niddy.core.errors import Refused, within

D2 = 1.128
D4 = 3.267
BATCHES_FOR_LIMITS = 8


class Rule(StrEnum):
    """Nelson's rules as used here."""

    BEYOND_3_SIGMA = "beyond_3_sigma"
    NINE_ONE_SIDE = "nine_one_side"
    SIX_TRENDING = "six_trending"
    TWO_OF_THREE_BEYOND_2_SIGMA = "two_of_three_beyond_2_sigma"
    FOUR_OF_FIVE_BEYOND_1_SIGMA = "four_of_five_beyond_1_sigma"


RULE_WORDS: dict[Rule, str] = {
    Rule.BEYOND_3_SIGMA: "one beyond three sigma",
    Rule.NINE_ONE_SIDE: "nine on one side of the mean",
    Rule.SIX_TRENDING: "six rising or falling",
    Rule.TWO_OF_THREE_BEYOND_2_SIGMA: "two of three beyond two sigma on one side",
    Rule.FOUR_OF_FIVE_BEYOND_1_SIGMA: "four of five beyond one sigma on one side",
}


@dataclass(frozen=True, slots=True)
class Signal:
    """A rule that fired, at the point (from 0) that completes it."""

    rule: Rule
    at: int


@dataclass(frozen=True, slots=True)
class Control:
    """Limits and signals of a series. `cpk` only where there are tolerances."""

    mean: float
    moving_range_mean: float
    sigma: float
    lower: float
    upper: float
    moving_range_upper: float
    signals: tuple[Signal, ...]
    cpk: float | None


def control(
    values: list[float],
    tolerance_low: float | None = None,
    tolerance_high: float | None = None,
    frozen_on: list[int] | None = None,
) -> Control:
    """Individuals and moving range of batches in order; limits from all of them or frozen on chosen places.

    sigma = mean moving range / 1.128, limits mean +- 3 sigma. Raises Refused for fewer than two values or
    tolerances that cross.
    """
    if len(values) < 2:
        raise Refused("values", f"{len(values)} of them", "at least two values in order")
    for n, value in enumerate(values):
        if not -1e9 <= value <= 1e9:
            within(f"values.{n}", value, -1e9, 1e9)
    if tolerance_low is not None and tolerance_high is not None and tolerance_low >= tolerance_high:
        raise Refused("tolerance_high", "not above the lower one", f"more than {tolerance_low:g}")
    places = sorted(set(frozen_on)) if frozen_on else list(range(len(values)))
    if len(places) < 2 or places[0] < 0 or places[-1] >= len(values):
        raise Refused("frozen_on", "not two of the values", f"at least two places from 0 to {len(values) - 1}")
    reference = [values[n] for n in places]
    mean = fmean(reference)
    ranges = [abs(b - a) for a, b in pairwise(reference)]
    range_mean = fmean(ranges)
    sigma = range_mean / D2
    signals = _signals(values, mean, sigma)
    cpk = None
    if sigma > 0 and (tolerance_low is not None or tolerance_high is not None):
        sides = [(tolerance_high - mean)] if tolerance_high is not None else []
        sides += [(mean - tolerance_low)] if tolerance_low is not None else []
        cpk = min(sides) / (3 * sigma)
    return Control(mean, range_mean, sigma, mean - 3 * sigma, mean + 3 * sigma, D4 * range_mean, signals, cpk)


def _signals(values: list[float], mean: float, sigma: float) -> tuple[Signal, ...]:
    """Every rule at every point. Runs are counted in one pass; windows are looked at only where a point is far out."""
    found: list[Signal] = []
    above = below = rising = falling = 0
    before = values[0]
    for n, value in enumerate(values):
        above = above + 1 if value > mean else 0
        below = below + 1 if value < mean else 0
        rising = rising + 1 if value > before else 0
        falling = falling + 1 if value < before else 0
        before = value
        if above >= 9 or below >= 9:
            found.append(Signal(Rule.NINE_ONE_SIDE, n))
        if rising >= 5 or falling >= 5:
            found.append(Signal(Rule.SIX_TRENDING, n))
    if sigma > 0:
        high, low = mean + sigma, mean - sigma
        for n in [n for n, value in enumerate(values) if value > high or value < low]:
            away = values[n] - mean
            if abs(away) > 3 * sigma:
                found.append(Signal(Rule.BEYOND_3_SIGMA, n))
            if abs(away) > 2 * sigma and _alike(values[max(0, n - 2) : n + 1], mean, 2 * sigma, away) >= 2:
                found.append(Signal(Rule.TWO_OF_THREE_BEYOND_2_SIGMA, n))
            if _alike(values[max(0, n - 4) : n + 1], mean, sigma, away) >= 4:
                found.append(Signal(Rule.FOUR_OF_FIVE_BEYOND_1_SIGMA, n))
    return tuple(sorted(found, key=lambda signal: signal.at))


def _alike(window: list[float], mean: float, beyond: float, away: float) -> int:
    """How many of a window lie further than `beyond` from the mean, on the side of `away`."""
    return sum(v > mean + beyond for v in window) if away > 0 else sum(v < mean - beyond for v in window)
