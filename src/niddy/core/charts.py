"""Which batches are out of the ordinary: an exponentially weighted mean (ISO 7870-6), and single batches far off.

Mean and sigma are frozen on the first good batches, so that a later one does not move the limits it is judged by.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from statistics import fmean, stdev

from scipy.special import nctdtrinc, ndtri, stdtr

from niddy.core.control import D2
from niddy.core.estimate import Basis, Estimate

WEIGHT = 0.2
FROZEN_FROM = 20
"""From so many batches on limits are frozen; before, they are provisional and only what is far off speaks."""

PROVISIONAL_FROM = 8
L_LEAST = 3.0
"""With 10 over the batches the limits rest on, so many of its own sigma the weighted mean may be off: in simulation it
keeps false alarms, single batches far off included, well below one in a hundred."""
SINGLE_SIGMAS = SELF_STARTING_SIGMAS = 3.5
TREND_OF = 10
"""A trend is looked for in so many of the last batches."""


class Alarm(StrEnum):
    """What a batch can be out of the ordinary by."""

    DRIFT = "drift"
    FAR_OFF = "far_off"


ALARM_WORDS: dict[Alarm, str] = {
    Alarm.DRIFT: "the last batches drift away from the first",
    Alarm.FAR_OFF: "this one came out unlike the others",
}


@dataclass(frozen=True, slots=True)
class Raised:
    """An alarm, at the batch (from 0) that raises it."""

    alarm: Alarm
    at: int


@dataclass(frozen=True, slots=True)
class Trend:
    """How the last batches go: by how much a batch, and a sentence; none where it may be chance."""

    by: float
    says: str


@dataclass(frozen=True, slots=True)
class Chart:
    """A series judged: limits, the weighted mean at each batch, alarms, trend; Cpk with its 90 % range.

    `frozen` is how many batches the limits rest on; `provisional` while they are too few to freeze.
    """

    mean: float
    sigma: float
    weighted: tuple[float, ...]
    weighted_limit: float
    single_limit: float
    alarms: tuple[Raised, ...]
    frozen: int
    provisional: bool
    trend: Trend | None
    cpk: float | None
    cpk_low: float | None
    cpk_high: float | None


def widened_sigma(values: list[float]) -> float:
    """Sigma by moving ranges, a little wider for being an estimate, as the mean is."""
    n = len(values)
    ranges = [abs(b - a) for a, b in pairwise(values)]
    return fmean(ranges) / D2 * math.sqrt(1 + 1 / n) * (1 + 1.2 / n)


def chart(
    values: list[float], low: float | None = None, high: float | None = None, frozen_on: tuple[int, ...] = ()
) -> Chart | None:
    """A series of batches in order, judged each from its own day; None while there are too few.

    `frozen_on` are the places a maker chose to freeze the limits on; else the first twenty are taken.
    """
    if len(values) < PROVISIONAL_FROM:
        return None
    places = frozen_on if len(frozen_on) >= PROVISIONAL_FROM else tuple(range(min(FROZEN_FROM, len(values))))
    reference = [values[n] for n in places]
    mean, sigma = fmean(reference), widened_sigma(reference)
    provisional = len(reference) < FROZEN_FROM
    limit = (L_LEAST + 10 / len(reference)) * sigma * math.sqrt(WEIGHT / (2 - WEIGHT))
    weighted, alarms = [], []
    at = mean
    begun = places[-1] + 1
    for n, value in enumerate(values):
        at = WEIGHT * value + (1 - WEIGHT) * at if n >= begun else mean
        weighted.append(at)
        if n >= begun:
            if sigma > 0 and abs(value - mean) > SINGLE_SIGMAS * sigma:
                alarms.append(Raised(Alarm.FAR_OFF, n))
            if not provisional and sigma > 0 and abs(at - mean) > limit:
                alarms.append(Raised(Alarm.DRIFT, n))
        elif n >= PROVISIONAL_FROM and _far_off(values[:n], value):
            alarms.append(Raised(Alarm.FAR_OFF, n))
    cpk = capability(reference, low, high)
    return Chart(
        mean,
        sigma,
        tuple(weighted),
        limit,
        SINGLE_SIGMAS * sigma,
        tuple(alarms),
        len(reference),
        provisional,
        trend(values[-TREND_OF:]),
        cpk.median if cpk is not None else None,
        cpk.low if cpk is not None else None,
        cpk.high if cpk is not None else None,
    )


def _far_off(before: list[float], value: float) -> bool:
    """Whether a batch is far off those before it, while they are few: by Student's t, told as normal sigmas."""
    n, sigma = len(before), stdev(before)
    if sigma <= 0:
        return False
    off = abs(value - fmean(before)) / (sigma * math.sqrt(1 + 1 / n))
    return bool(-ndtri(stdtr(n - 1, -off)) > SELF_STARTING_SIGMAS)


def capability(values: list[float], low: float | None, high: float | None) -> Estimate | None:
    """Cpk with its 90 % range; None without tolerances, or where all values are one.

    By the plain sigma: the widened one is for alarms. The range is exact for the nearer side: the distance to it over
    sigma follows a noncentral t.
    """
    mean, sigma, n = fmean(values), stdev(values), len(values)
    sides = [high - mean] if high is not None else []
    sides += [mean - low] if low is not None else []
    if not sides or sigma <= 0:
        return None
    seen = min(sides) / sigma * math.sqrt(n)
    at, to = (float(nctdtrinc(n - 1, share, seen)) / (3 * math.sqrt(n)) for share in (0.95, 0.05))
    return Estimate(seen / (3 * math.sqrt(n)), at, to, Basis.MEASURED)


def trend(values: list[float]) -> Trend | None:
    """A straight line through the last batches, where it is no chance (p below 0.05)."""
    n = len(values)
    if n < TREND_OF:
        return None
    middle, mean = (n - 1) / 2, fmean(values)
    sxx = sum((x - middle) ** 2 for x in range(n))
    by = sum((x - middle) * (y - mean) for x, y in enumerate(values)) / sxx
    rest = sum((y - mean - by * (x - middle)) ** 2 for x, y in enumerate(values)) / (n - 2)
    if rest <= 0 or 2 * float(stdtr(n - 2, -abs(by) / math.sqrt(rest / sxx))) >= 0.05:
        return None
    return Trend(by, drifts(by))


def drifts(by: float, towards: tuple[str, str] = ("down", "up"), unit: str = "") -> str:
    """Where a series drifts and how fast, in the words of what is measured: for falling figures and for rising ones."""
    return f"Drifts {towards[by > 0]}: {f'{abs(by):.2g} {unit}'.strip()} a batch over the last {TREND_OF}."
