"""Oil demand, learned: what a lot of pigment takes, from a wide library range and the studio's own records.

Linear and Gaussian in ln OA: theta is the pigment's, delta_l each lot's deviation from it, beta the bias of the maker's
eye, which is in what batches say and not in rub-outs. All oil absorptions here are in the reference oil.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean

import numpy as np

from niddy.core.errors import Refused, oil_g_per_100g, within
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.evidence import EYE_BIAS_SD

LOT_SD_LN = 0.08
"""Sd of a lot's ln OA about its pigment's (assumed)."""

WEIGHED_SD_LN = 0.05
"""Sd of ln OA from a weighed rub-out."""

COUNTED_SD_LN = 0.10
"""Sd of ln OA from a rub-out counted in drops or spoons, where nothing is known of how."""

RUB_OUT_PRIOR_WEIGHT = 8
LOT_PRIOR_WEIGHT = 6
"""So many degrees of freedom the assumed sds are worth against the studio's own."""

OUTLIER_SD = 3.0
"""A record further off than this many predictive sd asks its question."""

OUTLIER_QUESTION = "Same powder? Weighed in the same oil? A slip?"


@dataclass(frozen=True, slots=True)
class Observation:
    """One record: oil absorption in the reference oil and the sd of its logarithm.

    `eye_k` is by how much the maker's bias is in it, 0 where it was weighed. One `confirmed` counts however far off.
    """

    oil_absorption_g_per_100g: float
    sd_ln: float
    eye_k: float = 0.0
    confirmed: bool = False


@dataclass(frozen=True, slots=True)
class LotRecords:
    """The records of one lot, under a key of the caller's."""

    key: str
    observations: tuple[Observation, ...]


@dataclass(frozen=True, slots=True)
class Demand:
    """A lot's demand: estimate of the oil absorption in the reference oil, and the sd of its logarithm.

    `shared_sd_ln` is the part of that sd which all lots of the pigment have in common; `eye_covariance` that of ln OA
    with the maker's bias.
    """

    estimate: Estimate
    sd_ln: float
    shared_sd_ln: float = 0.0
    eye_covariance: float = 0.0


@dataclass(frozen=True, slots=True)
class LearnedDemand:
    """The demand of every lot asked for, and of a lot nobody has seen yet; what the records say of the eye besides.

    `eye_precision` and `eye_weighted` are the information on the bias that these records hold by themselves.
    """

    lots: dict[str, Demand]
    unseen_lot: Demand
    eye_bias: float = 0.0
    eye_sd: float = EYE_BIAS_SD
    eye_precision: float = 0.0
    eye_weighted: float = 0.0


@dataclass(frozen=True, slots=True)
class Weighed:
    """What one record did: its share in its lot's estimate, and how far off it stands.

    `share` is the weight of the record's ln OA in the lot's estimate, 0 to 1; what is left is the prior and
    the other records. `off_sd` counts predictive sd from what the other records foretold. An outlier is held back
    until somebody confirms it.
    """

    share: float
    off_sd: float
    outlier: bool


@dataclass(frozen=True, slots=True)
class EyeKnown:
    """What is known of a maker's bias from elsewhere."""

    bias: float = 0.0
    sd: float = EYE_BIAS_SD


class _Solved:
    """The posterior of theta, every lot's delta and beta, from some records of some lots."""

    def __init__(
        self,
        low: float,
        high: float,
        lots: tuple[LotRecords, ...],
        lot_sd: float,
        eye: EyeKnown,
        held: frozenset[tuple[int, int]] = frozenset(),
    ) -> None:
        self.lots, self.held = lots, held
        size = len(lots) + 2
        sds = [(math.log(high) - math.log(low)) / (2 * Z90), *([lot_sd] * len(lots)), max(eye.sd, 1e-6)]
        precision = np.diag([1 / sd**2 for sd in sds])
        weighted = np.zeros(size)
        weighted[0] = (math.log(low) + math.log(high)) / 2 / sds[0] ** 2
        weighted[-1] = eye.bias / sds[-1] ** 2
        for n, lot in enumerate(lots):
            for m, record in enumerate(lot.observations):
                if (n, m) in held:
                    continue
                rows = np.array((0, n + 1, size - 1))
                x = np.array((1.0, 1.0, record.eye_k))
                precision[np.ix_(rows, rows)] += np.outer(x, x) / record.sd_ln**2
                weighted[rows] += x * (math.log(record.oil_absorption_g_per_100g) / record.sd_ln**2)
        self.covariance = np.linalg.inv(precision)
        self.mean = self.covariance @ weighted

    def of(self, lot: int, eye_k: float = 0.0) -> tuple[float, float]:
        """Mean and variance of a lot's ln OA, with so much of the bias in it."""
        rows = np.array((0, lot + 1, len(self.mean) - 1))
        x = np.array((1.0, 1.0, eye_k))
        return float(x @ self.mean[rows]), float(x @ self.covariance[np.ix_(rows, rows)] @ x)

    def off_sd(self, n: int, record: Observation) -> float:
        """By how many predictive sd a record stands off what all others foretell."""
        mean, variance = self.of(n, record.eye_k)
        noise, value = record.sd_ln**2, math.log(record.oil_absorption_g_per_100g)
        if not self.counts(n, record):
            return (value - mean) / math.sqrt(variance + noise)
        precision = 1 / variance - 1 / noise
        foretold = (mean / variance - value / noise) / precision
        return (value - foretold) / math.sqrt(1 / precision + noise)

    def counts(self, n: int, record: Observation) -> bool:
        return all(self.lots[n].observations[m] is not record for at, m in self.held if at == n)


def learn(
    range_low: float,
    range_high: float,
    lots: tuple[LotRecords, ...] = (),
    *,
    lot_sd: float = LOT_SD_LN,
    eye: EyeKnown | None = None,
    hold_back: bool = False,
) -> LearnedDemand:
    """Exact posterior of every lot's oil absorption, and of an unseen lot's.

    The prior is the range read as the central 90 % of a lognormal. The basis is `library` with no record
    of the pigment at all, else `learned`. With `hold_back`, records far off wait until they are confirmed. Raises
    Refused for a reversed range, a doubled lot key, an absorption or an sd that cannot be.
    """
    _check(range_low, range_high, lots)
    known = eye or EyeKnown()
    solved, _ = _settled(range_low, range_high, lots, lot_sd, known, hold_back=hold_back)
    basis = Basis.LEARNED if any(lot.observations for lot in lots) else Basis.LIBRARY
    theta_sd = math.sqrt(solved.covariance[0, 0])
    learned = {}
    for n, lot in enumerate(lots):
        mean, variance = solved.of(n)
        learned[lot.key] = _demand(
            mean,
            variance,
            basis,
            (solved.covariance[0, 0] + solved.covariance[0, n + 1]) / theta_sd,
            solved.covariance[0, -1] + solved.covariance[n + 1, -1],
        )
    unseen = _demand(solved.mean[0], solved.covariance[0, 0] + lot_sd**2, basis, theta_sd, solved.covariance[0, -1])
    bias, variance = float(solved.mean[-1]), float(solved.covariance[-1, -1])
    return LearnedDemand(
        learned,
        unseen,
        bias,
        math.sqrt(variance),
        max(0.0, 1 / variance - 1 / known.sd**2),
        bias / variance - known.bias / known.sd**2,
    )


def _check(low: float, high: float, lots: tuple[LotRecords, ...]) -> None:
    oil_g_per_100g("range_low", low)
    oil_g_per_100g("range_high", high)
    if high <= low:
        raise Refused("range_high", f"{high:g} is not above the low end", f"more than {low:g}")
    seen: set[str] = set()
    for n, lot in enumerate(lots):
        if lot.key in seen:
            raise Refused(f"lots.{n}.key", f"'{lot.key}' stands twice", "each lot once")
        seen.add(lot.key)
        for m, record in enumerate(lot.observations):
            where = f"lots.{n}.observations.{m}"
            oil_g_per_100g(f"{where}.oil_absorption_g_per_100g", record.oil_absorption_g_per_100g)
            within(f"{where}.sd", record.sd_ln, 0.001, 2)


def _settled(
    low: float, high: float, lots: tuple[LotRecords, ...], lot_sd: float, eye: EyeKnown, *, hold_back: bool
) -> tuple[_Solved, frozenset[tuple[int, int]]]:
    """The posterior, and which records (lot, place) were held back: the furthest off first, one by one."""
    held: frozenset[tuple[int, int]] = frozenset()
    solved = _Solved(low, high, lots, lot_sd, eye)
    while hold_back:
        off = [
            (abs(solved.off_sd(n, record)), n, m)
            for n, lot in enumerate(lots)
            for m, record in enumerate(lot.observations)
            if (n, m) not in held and not record.confirmed
        ]
        if not off or max(off)[0] <= OUTLIER_SD:
            break
        held |= {max(off)[1:]}
        solved = _Solved(low, high, lots, lot_sd, eye, held)
    return solved, held


def weigh_records(
    range_low: float,
    range_high: float,
    lots: tuple[LotRecords, ...],
    *,
    lot_sd: float = LOT_SD_LN,
    eye: EyeKnown | None = None,
    hold_back: bool = False,
) -> dict[str, list[Weighed]]:
    """For every lot, what each of its records contributed to that lot's estimate, in their order.

    The estimate is linear in the records, so a share is exact; an outlier is judged against the estimate
    made without it.
    """
    _check(range_low, range_high, lots)
    solved, held = _settled(range_low, range_high, lots, lot_sd, eye or EyeKnown(), hold_back=hold_back)
    found: dict[str, list[Weighed]] = {}
    for n, lot in enumerate(lots):
        weighed = []
        for m, record in enumerate(lot.observations):
            rows = np.array((0, n + 1, len(solved.mean) - 1))
            lever = np.array((1.0, 1.0, 0.0)) @ solved.covariance[np.ix_(rows, rows)] @ np.array((1, 1, record.eye_k))
            off = solved.off_sd(n, record)
            share = 0.0 if (n, m) in held else float(lever) / record.sd_ln**2
            weighed.append(Weighed(share, off, abs(off) > OUTLIER_SD and not record.confirmed))
        found[lot.key] = weighed
    return found


def rub_out_sd(lots: list[list[float]]) -> float:
    """The studio's own sd of a weighed rub-out, from the ln OA of repeats by lot, with the assumed one as a prior."""
    squares = sum(sum((value - fmean(lot)) ** 2 for value in lot) for lot in lots if lot)
    spare = sum(len(lot) - 1 for lot in lots if lot)
    return math.sqrt((RUB_OUT_PRIOR_WEIGHT * WEIGHED_SD_LN**2 + squares) / (RUB_OUT_PRIOR_WEIGHT + spare))


def with_own_noise(sd_ln: float, own_sd: float) -> float:
    """A record's sd where the noise of a weighed rub-out in it is the studio's own instead of the assumed one."""
    return math.sqrt(max(0.0, sd_ln**2 - WEIGHED_SD_LN**2) + own_sd**2) if sd_ln >= WEIGHED_SD_LN else sd_ln


def lot_sd(means: list[float]) -> float:
    """The sd of a pigment's lots, from the ln OA of each; the assumed one below three lots."""
    if len(means) < 3:
        return LOT_SD_LN
    middle = fmean(means)
    squares = sum((value - middle) ** 2 for value in means)
    return math.sqrt((LOT_PRIOR_WEIGHT * LOT_SD_LN**2 + squares) / (LOT_PRIOR_WEIGHT + len(means) - 1))


def _demand(mean_ln: float, variance: float, basis: Basis, shared: float = 0.0, eye: float = 0.0) -> Demand:
    sd_ln = math.sqrt(variance)
    estimate = Estimate.lognormal(math.exp(mean_ln), sd_ln, basis)
    return Demand(estimate, sd_ln, min(sd_ln, max(0.0, float(shared))), float(eye))


@dataclass(frozen=True, slots=True)
class Share:
    """One lot's part in a blend: mass fraction, OA, sd of ln OA, its pigment and that pigment's part in the sd."""

    fraction: float
    absorption: float
    sd_ln: float
    pigment: str = ""
    shared_sd_ln: float = 0.0


def blend_sd_ln(shares: list[Share]) -> float:
    """Sd of the ln OA of a blend: lots of different pigments are independent, those of one share the pigment's part.

    First order: the OA of the blend is the weighted sum.
    """
    whole = sum(share.fraction * share.absorption for share in shares)
    variance = sum((share.fraction * share.absorption * share.sd_ln) ** 2 for share in shares)
    for n, share in enumerate(shares):
        for other in shares[:n]:
            if share.pigment and share.pigment == other.pigment:
                common = share.shared_sd_ln * other.shared_sd_ln
                variance += 2 * share.fraction * share.absorption * other.fraction * other.absorption * common
    return math.sqrt(variance) / whole


SCOOPED_SD_LN = 0.06
"""By how much one scoop of a spoon differs from the next of the same powder (assumed)."""

DRIPPED_SD_LN = 0.16
"""How far a drop may be from what is supposed of it, as sd of its logarithm: 1.30 at nine in ten."""


@dataclass(frozen=True, slots=True)
class Spooned:
    """Oil absorption as the same spoon and the same drops count it: its median and the sd of its logarithm."""

    oil_absorption_g_per_100g: float
    sd_ln: float
    batches: int


def spooned(demand: Demand, measuring_sd_ln: float, counted: Sequence[Observation]) -> Spooned | None:
    """What batches of one lot teach of the next of it, as long as spoon and drops are the same.

    What is unknown of lot, spoon and drop is one number then: `counted` are its observations, each with what the looks
    left open; `measuring_sd_ln` is what spoon and drops may be out before any. None where nothing was counted yet.
    """
    if not counted:
        return None
    precision = 1 / (demand.sd_ln**2 + measuring_sd_ln**2)
    weighted = math.log(demand.estimate.median) * precision
    for one in counted:
        each = 1 / (one.sd_ln**2 + SCOOPED_SD_LN**2)
        precision += each
        weighted += each * math.log(one.oil_absorption_g_per_100g)
    return Spooned(math.exp(weighted / precision), math.hypot(math.sqrt(1 / precision), SCOOPED_SD_LN), len(counted))
