"""Oil demand, learned: what a lot of pigment takes, from a wide library range and the studio's own records.

Linear and Gaussian in ln OA: theta is the pigment's, delta_l each lot's deviation from it. All oil
absorptions here are in the reference oil. With independent records the posterior has a closed form,
so no matrix is solved.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import Refused, oil_g_per_100g, within
from niddy.core.estimate import Z90, Basis, Estimate

LOT_SD_LN = 0.08
"""Sd of a lot's ln OA about its pigment's (assumed)."""

WEIGHED_SD_LN = 0.05
"""Sd of ln OA from a weighed rub-out."""

COUNTED_SD_LN = 0.10
"""Sd of ln OA from a rub-out counted in drops or spoons."""

VERDICT_SD_LN = 0.12
"""Sd of ln OA from a maker's verdict on a batch."""

VERDICT_STEP = 0.06
"""By how much reduced PVC a stiff or soft batch lies off its target (assumed)."""

OUTLIER_SD = 3.0
"""A record further off than this many predictive sd asks its question."""

OUTLIER_QUESTION = "Same powder? Weighed in the same oil? A slip?"


@dataclass(frozen=True, slots=True)
class Observation:
    """One record: oil absorption in the reference oil and the sd of its logarithm."""

    oil_absorption_g_per_100g: float
    sd_ln: float


@dataclass(frozen=True, slots=True)
class LotRecords:
    """The records of one lot, under a key of the caller's."""

    key: str
    observations: tuple[Observation, ...]


@dataclass(frozen=True, slots=True)
class Demand:
    """A lot's demand: estimate of the oil absorption in the reference oil, and the sd of its logarithm."""

    estimate: Estimate
    sd_ln: float


@dataclass(frozen=True, slots=True)
class LearnedDemand:
    """The demand of every lot asked for, and of a lot nobody has seen yet."""

    lots: dict[str, Demand]
    unseen_lot: Demand


def learn(range_low: float, range_high: float, lots: tuple[LotRecords, ...] = ()) -> LearnedDemand:
    """Exact posterior of every lot's oil absorption, and of an unseen lot's.

    The prior is the range read as the central 90 % of a lognormal. The basis is `library` with no record
    of the pigment at all, else `learned`. Raises Refused for a reversed range, a doubled lot key, an
    absorption or an sd that cannot be.
    """
    oil_g_per_100g("range_low", range_low)
    oil_g_per_100g("range_high", range_high)
    if range_high <= range_low:
        raise Refused("range_high", f"{range_high:g} is not above the low end", f"more than {range_low:g}")
    theta_mean = (math.log(range_low) + math.log(range_high)) / 2
    theta_precision = 1 / ((math.log(range_high) - math.log(range_low)) / (2 * Z90)) ** 2
    theta_weighted = theta_mean * theta_precision

    read: list[tuple[str, float, float]] = []
    seen: set[str] = set()
    for n, lot in enumerate(lots):
        if lot.key in seen:
            raise Refused(f"lots.{n}.key", f"'{lot.key}' stands twice", "each lot once")
        seen.add(lot.key)
        precision, weighted = 0.0, 0.0
        for m, record in enumerate(lot.observations):
            where = f"lots.{n}.observations.{m}"
            oil_g_per_100g(f"{where}.oil_absorption_g_per_100g", record.oil_absorption_g_per_100g)
            within(f"{where}.sd", record.sd_ln, 0.001, 2)
            precision += 1 / record.sd_ln**2
            weighted += math.log(record.oil_absorption_g_per_100g) / record.sd_ln**2
        read.append((lot.key, precision, weighted))
        if precision:
            # The lot's records, seen from theta: their mean, blurred by the lot's own deviation.
            about_theta = 1 / (LOT_SD_LN**2 + 1 / precision)
            theta_precision += about_theta
            theta_weighted += about_theta * weighted / precision
    theta_mean = theta_weighted / theta_precision
    theta_variance = 1 / theta_precision
    basis = Basis.LEARNED if any(precision for _, precision, _ in read) else Basis.LIBRARY

    lot_precision = 1 / LOT_SD_LN**2
    learned = {}
    for key, precision, weighted in read:
        # Given theta the lot is a precision-weighted mean of theta and its records.
        whole = lot_precision + precision
        share = lot_precision / whole
        mean = share * theta_mean + weighted / whole
        learned[key] = _demand(mean, 1 / whole + share**2 * theta_variance, basis)
    return LearnedDemand(learned, _demand(theta_mean, theta_variance + LOT_SD_LN**2, basis))


def verdict_reduced(target: float, verdict: str) -> float:
    """The reduced PVC a verdict (`stiff`, `right`, `soft`) says a batch really had, for its target."""
    return target + {"stiff": VERDICT_STEP, "right": 0.0, "soft": -VERDICT_STEP}[verdict]


@dataclass(frozen=True, slots=True)
class Weighed:
    """What one record did: its share in its lot's estimate, and how far off it stands.

    `share` is the weight of the record's ln OA in the lot's estimate, 0 to 1; what is left is the prior and
    the other records. `off_sd` counts predictive sd from what the other records foretold.
    """

    share: float
    off_sd: float
    outlier: bool


def weigh_records(range_low: float, range_high: float, lots: tuple[LotRecords, ...]) -> dict[str, list[Weighed]]:
    """For every lot, what each of its records contributed to that lot's estimate, in their order.

    The estimate is linear in the records, so a share is exact; an outlier is judged against the estimate
    made without it, which has a closed form: a record's precision is taken out of its lot's again.
    """
    learned = learn(range_low, range_high, lots).lots
    found: dict[str, list[Weighed]] = {}
    for lot in lots:
        demand = learned[lot.key]
        variance, mean = demand.sd_ln**2, math.log(demand.estimate.median)
        weighed = []
        for record in lot.observations:
            noise = record.sd_ln**2
            value = math.log(record.oil_absorption_g_per_100g)
            precision = 1 / variance - 1 / noise
            foretold = (mean / variance - value / noise) / precision
            off = (value - foretold) / math.sqrt(1 / precision + noise)
            weighed.append(Weighed(variance / noise, off, abs(off) > OUTLIER_SD))
        found[lot.key] = weighed
    return found


def _demand(mean_ln: float, variance: float, basis: Basis) -> Demand:
    sd_ln = math.sqrt(variance)
    return Demand(Estimate.lognormal(math.exp(mean_ln), sd_ln, basis), sd_ln)


def blend_sd_ln(shares: list[tuple[float, float, float]]) -> float:
    """Sd of the ln OA of a blend of independent lots, from (mass fraction, OA, sd of ln OA) of each.

    First order: the OA of the blend is the weighted sum, its sd the root of the summed squares.
    """
    whole = sum(fraction * absorption for fraction, absorption, _ in shares)
    return math.sqrt(sum((fraction * absorption * sd) ** 2 for fraction, absorption, sd in shares)) / whole
