"""Drying: days until a film is touch-dry, from the oil, the pigments, the film and what was stirred in."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.additives import Dosing
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
    for one in dosings:
        at_high = {"drier": DRIER_AT_HIGH, "retarder": RETARDER_AT_HIGH}.get(one.additive.kind)
        if at_high is not None:
            factor *= at_high ** (one.dose_pct / one.additive.dose_high_pct)
    return factor


def touch_dry(oil: BinderOil, blend: list[tuple[float, DryPigment]], dosings: list[Dosing]) -> tuple[TouchDry, ...]:
    """Days to touch-dry for a thin, a normal and a thick film; nothing for an oil whose days nobody knows."""
    low, high = oil.touch_dry_days_low, oil.touch_dry_days_high
    if low is None or high is None:
        return ()
    factor = pigment_factor(blend) * additive_factor(dosings)
    return tuple(TouchDry(film, low * factor * by, high * factor * by) for film, by in FILM_FACTOR.items())
