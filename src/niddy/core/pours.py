"""Pours: a first one that is safe to make at once, then a ladder of smaller ones."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import density_g_per_ml, mass_g, oil_g_per_100g, reduced_pvc, within
from niddy.core.estimate import normal_quantile
from niddy.core.wetting import ratio_at

QUANTILES = (0.1, 0.3, 0.5, 0.7, 0.9)
SMALLEST_STEP_G = 0.05
EXCESS_REDUCED_PVC = 0.10
"""How much too dry an unmulled paste reads on the wetting scale (assumed)."""


@dataclass(frozen=True, slots=True)
class Pour:
    """One rung: the quantile of the demand it stands for, oil poured in all, and in this pour."""

    quantile: float
    cumulative_g: float
    step_g: float


@dataclass(frozen=True, slots=True)
class Ladder:
    """The pours in order, and the oil expected (the median)."""

    pours: tuple[Pour, ...]
    expected_g: float


def ladder(
    pigment_g: float,
    demand_median: float,
    demand_sd_ln: float,
    pigment_density: float,
    oil_density: float,
    reduced: float,
    smallest_step_g: float = SMALLEST_STEP_G,
) -> Ladder:
    """Rungs at the 10, 30, 50, 70 and 90 % quantiles of the demand (in the oil used).

    A step below the larger of 0.05 g and `smallest_step_g` (one drop) is merged into the next; what is
    left over at the end and still smaller is left out, since nobody can pour it. Raises Refused.
    """
    mass_g("pigment_g", pigment_g)
    oil_g_per_100g("demand.median", demand_median)
    within("demand.sd_ln", demand_sd_ln, 0, 2)
    density_g_per_ml("pigment_density_g_per_ml", pigment_density)
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    reduced_pvc("reduced_pvc", reduced)
    within("smallest_step_g", smallest_step_g, 0, 100, "g")
    smallest = max(SMALLEST_STEP_G, smallest_step_g)

    def oil_at(quantile: float) -> float:
        absorption = demand_median * math.exp(normal_quantile(quantile) * demand_sd_ln)
        return max(0.0, pigment_g * ratio_at(reduced, absorption, pigment_density, oil_density) / 100)

    pours: list[Pour] = []
    poured = 0.0
    for quantile in QUANTILES:
        cumulative = oil_at(quantile)
        if cumulative - poured >= smallest:
            pours.append(Pour(quantile, cumulative, cumulative - poured))
            poured = cumulative
    return Ladder(tuple(pours), oil_at(0.5))


def reading_excess(minutes: float, tau_min: float) -> float:
    """By how much reduced PVC reads too high after some minutes of mulling a load (assumed decay)."""
    return EXCESS_REDUCED_PVC * math.exp(-minutes / tau_min)
