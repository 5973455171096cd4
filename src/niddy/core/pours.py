"""Pours: a first one that is safe to make at once, then a ladder of smaller ones."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import density_g_per_ml, mass_g, oil_g_per_100g, reduced_pvc, within
from niddy.core.estimate import normal_quantile
from niddy.core.wetting import ratio_at

QUANTILES = (0.1, 0.3, 0.5, 0.7, 0.9)
SEEN_STIFFER = (0.5, 0.7, 0.9)
"""Rungs after a look at even paste that is too stiff: much is known of it by then."""

DRY_STEP = 0.04
"""Beyond the ladder a paste that is still dry gets so much more of the oil that is in, and on it no less than half of
that (assumed)."""

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
    *,
    pigment_sd_ln: float = 0.0,
    oil_sd_ln: float = 0.0,
) -> Ladder:
    """Rungs at the 10, 30, 50, 70 and 90 % quantiles of what is needed, in counted grams of oil.

    `pigment_sd_ln` and `oil_sd_ln` are the sds of measuring the two; with both 0 it is the demand (in the oil used)
    alone that spreads. A step below the larger of 0.05 g and `smallest_step_g` (one drop) is merged into the next;
    what is left over at the end and still smaller is left out, since nobody can pour it. Raises Refused.
    """
    mass_g("pigment_g", pigment_g)
    oil_g_per_100g("demand.median", demand_median)
    within("demand.sd_ln", demand_sd_ln, 0, 2)
    density_g_per_ml("pigment_density_g_per_ml", pigment_density)
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    reduced_pvc("reduced_pvc", reduced)
    within("smallest_step_g", smallest_step_g, 0, 100, "g")
    smallest = max(SMALLEST_STEP_G, smallest_step_g)

    within("pigment_sd_ln", pigment_sd_ln, 0, 2)
    within("oil_sd_ln", oil_sd_ln, 0, 2)
    volumes = ratio_at(reduced, demand_median, pigment_density, oil_density) - demand_median / reduced

    def oil_at(quantile: float) -> float:
        ratio = needed(1 / reduced, volumes, demand_median, demand_sd_ln, quantile, pigment_sd_ln, oil_sd_ln)
        return max(0.0, pigment_g * ratio / 100)

    return Ladder(rungs([(quantile, oil_at(quantile)) for quantile in QUANTILES], smallest), oil_at(0.5))


def needed(
    a: float, b: float, demand: float, demand_sd_ln: float, quantile: float, pigment_sd_ln: float, oil_sd_ln: float
) -> float:
    """The ratio in counted grams that is enough in so many cases, where the true one is a x demand + b.

    The errors of demand and of measuring share the quantile by their parts in the whole spread.
    """
    z, ratio = normal_quantile(quantile), a * demand + b
    measuring = pigment_sd_ln**2 + oil_sd_ln**2
    of_ratio = a * demand / ratio * demand_sd_ln if ratio > 0 else demand_sd_ln
    whole = math.sqrt(of_ratio**2 + measuring)
    if not whole:
        return ratio
    return (a * demand * math.exp(z * demand_sd_ln * of_ratio / whole) + b) * math.exp(z * measuring / whole)


def as_read(grams: float) -> float:
    """Grams as a screen says them: hundredths below one gram, tenths from there on."""
    return round(grams, 2 if grams < 1 else 1)


def rungs(wanted: list[tuple[float, float]], smallest: float) -> tuple[Pour, ...]:
    """Pours to each cumulative amount (with its quantile); what is too small to pour is merged into the next."""
    pours: list[Pour] = []
    poured = 0.0
    for quantile, cumulative in wanted:
        if cumulative - poured >= smallest:
            pours.append(Pour(quantile, cumulative, cumulative - poured))
            poured = cumulative
    return tuple(pours)


def reading_excess(minutes: float, tau_min: float) -> float:
    """By how much reduced PVC reads too high after some minutes of mulling a load (assumed decay)."""
    return EXCESS_REDUCED_PVC * math.exp(-minutes / tau_min)
