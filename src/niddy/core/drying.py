"""Drying: days until a film is touch-dry, from the oil, the pigments, the film and what was stirred in."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import fmean

from niddy.core.additives import Dosing
from niddy.core.estimate import Z90
from niddy.core.materials import BinderOil, DryPigment

PIGMENT_FACTOR = {"fast": 0.6, "medium": 1.0, "slow": 1.5}
"""How a pigment's drying class stretches the oil's days (assumed)."""

FILM_FACTOR = {"thin": 1.0, "normal": 1.5, "thick": 4.0}
"""How the film stretches them (assumed)."""

DRIER_AT_HIGH = 0.5
"""A drier at the high end of its usual dose halves the days (assumed)."""

RETARDER_AT_HIGH = 2.0
"""A retarder at the high end of its usual dose doubles them (assumed)."""


@dataclass(frozen=True, slots=True)
class TouchDry:
    """Days until a film of one thickness is touch-dry."""

    film: str
    days_low: float
    days_high: float


def pigment_factor(blend: list[tuple[float, DryPigment]]) -> float:
    """The factor of a blend: the mean of its logarithm, weighed by share of weight (assumed)."""
    logs = [share * math.log(PIGMENT_FACTOR.get(pigment.drying, 1.0)) for share, pigment in blend]
    return math.exp(sum(logs) / sum(share for share, _ in blend))


def additive_factor(dosings: list[Dosing]) -> float:
    """What driers and retarders make of the days: in proportion to the logarithm, by dose (assumed)."""
    factor = 1.0
    for dosing in dosings:
        at_high = {"drier": DRIER_AT_HIGH, "retarder": RETARDER_AT_HIGH}.get(dosing.additive.kind)
        if at_high is not None:
            factor *= at_high ** (dosing.dose_pct / dosing.additive.dose_high_pct)
    return factor


DAYS_SD_LN = 0.35
"""Sd of the logarithm of the days about what is assumed (assumed)."""

TEST_SD_LN = 0.25
"""Sd of one finger test about its recipe's own days (assumed, until the tests say)."""


def learned(assumed_low: float, assumed_high: float, tested_days: list[float]) -> tuple[float, float]:
    """The 90 % range of days by a recipe's own finger tests, log-normal, the assumed range as a prior."""
    middle = (math.log(assumed_low) + math.log(assumed_high)) / 2
    logs = [math.log(days) for days in tested_days]
    mean = fmean(logs)
    squares = sum((value - mean) ** 2 for value in logs)
    noise2 = (4 * TEST_SD_LN**2 + squares) / (4 + len(logs) - 1)
    precision = 1 / DAYS_SD_LN**2 + len(logs) / noise2
    at = (middle / DAYS_SD_LN**2 + sum(logs) / noise2) / precision
    half = Z90 * math.sqrt(1 / precision + noise2)
    return math.exp(at - half), math.exp(at + half)


def touch_dry(
    oil: BinderOil, blend: list[tuple[float, DryPigment]], dosings: list[Dosing], tested_days: tuple[float, ...] = ()
) -> tuple[TouchDry, ...]:
    """Days to touch-dry for a thin, a normal and a thick film; nothing for an oil whose days nobody knows.

    `tested_days` are the recipe's own finger tests, of a thin film: they replace what is assumed.
    """
    low, high = oil.touch_dry_days_low, oil.touch_dry_days_high
    if low is None or high is None:
        return ()
    factor = pigment_factor(blend) * additive_factor(dosings)
    if tested_days:
        low, high = learned(low * factor, high * factor, list(tested_days))
        factor = 1.0
    return tuple(TouchDry(film, low * factor * by, high * factor * by) for film, by in FILM_FACTOR.items())
