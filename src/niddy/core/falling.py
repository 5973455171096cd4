"""What falls and comes to rest: the weight of a dish that dries, the height of sediment in a can.

    y(t) = Y + V s(t),   s from 1 to 0

Nobody knows beforehand how it falls: as an exponential, with a slow tail, or at a constant rate until it falls. All of
these are summed over with what is known of each, so that a band holds whichever it is.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from niddy.core.estimate import Z90, Basis, Estimate

Grid = NDArray[np.float64]


class Shape(StrEnum):
    """How something falls."""

    EXPONENTIAL = "exponential"
    TAIL = "tail"
    CONSTANT = "constant"


WEIGHTS = {Shape.EXPONENTIAL: 0.30, Shape.TAIL: 0.45, Shape.CONSTANT: 0.25}
"""How likely each is before anything was read (assumed)."""

TAIL_SHARES = (0.06, 0.12, 0.20, 0.30)
TAIL_TIMES = (3.0, 5.0, 8.0)
FALLS_FROM = (0.10, 0.14, 0.18, 0.22, 0.26, 0.30, 0.35, 0.40, 0.45, 0.50, 0.55)
STEPS = 90

_U = np.concatenate([[0.0], np.geomspace(1e-3, 400.0, 1200)])
"""Times over tau at which each shape is laid down once; between them it is read off."""


@dataclass(frozen=True, slots=True)
class _One:
    """One shape: its family, its weight before anything was read, s at each of `_U`, and its last time over tau."""

    family: Shape
    weight: float
    s: Grid
    ends: float


def _shapes() -> tuple[_One, ...]:
    found = [_One(Shape.EXPONENTIAL, WEIGHTS[Shape.EXPONENTIAL], np.exp(-_U), 1.0)]
    each = WEIGHTS[Shape.TAIL] / (len(TAIL_SHARES) * len(TAIL_TIMES))
    for share in TAIL_SHARES:
        for times in TAIL_TIMES:
            found.append(_One(Shape.TAIL, each, (1 - share) * np.exp(-_U) + share * np.exp(-_U / times), 1.0))
    each = WEIGHTS[Shape.CONSTANT] / len(FALLS_FROM)
    for c in FALLS_FROM:
        falls = c * np.exp(np.minimum(0.0, -(_U - (1 - c)) / c))
        found.append(_One(Shape.CONSTANT, each, np.where(1 - c > _U, 1 - _U, falls), c))
    return tuple(found)


SHAPES = _shapes()
_S = np.stack([one.s for one in SHAPES])
_LN_S = np.log(np.maximum(_S, 1e-300))
_PRIOR = np.log([one.weight for one in SHAPES])
_ENDS = np.array([one.ends for one in SHAPES])


@dataclass(frozen=True, slots=True)
class Pace:
    """How fast such things fall before anything was read: tau with the sd of its ln, and the taus to look between."""

    tau: float
    sd_ln: float
    low: float
    high: float


def _left_at(hours: Grid, tau: Grid) -> Grid:
    """s at so many hours, for taus of each shape: (shapes, taus, hours)."""
    over = hours / tau[..., None]
    return np.stack([np.interp(over[n], _U, one.s) for n, one in enumerate(SHAPES)])


def _closer(tau: Grid, weight: Grid) -> Grid:
    """For each shape the taus that count, in finer steps: those a coarse look held for likely, and one beyond."""
    mass, found = weight.sum(axis=2), np.array(tau)
    for n, each in enumerate(mass):
        there = np.flatnonzero(each > mass.max() * 1e-6)
        if len(there):
            first, last = max(0, there[0] - 1), min(len(each) - 1, there[-1] + 1)
            found[n] = np.geomspace(tau[n, first], tau[n, last], STEPS)
    return found


@dataclass(frozen=True, slots=True)
class Fallen:
    """What is known after some readings: for each cell of (shapes, taus, ends) its end, fall, tau and weight."""

    end: Grid
    fall: Grid
    tau: Grid
    weight: Grid

    def at(self, hours: float) -> Grid:
        """What is read after so many hours, in each cell."""
        return self.end + self.fall * _left_at(np.array([hours]), self.tau)

    def until(self, left: Grid) -> Grid:
        """Hours until so much of the fall is left, in each cell."""
        wanted = -np.log(np.clip(left, 1e-12, 1.0))
        times = np.stack([np.interp(wanted[n], -_LN_S[n], _U) for n in range(len(SHAPES))])
        return np.asarray(times * self.tau[..., None])

    def estimate(self, values: Grid, basis: Basis = Basis.MEASURED) -> Estimate:
        """A quantity known in each cell: its middle and the band that nine in ten lie in."""
        values = np.broadcast_to(values, self.weight.shape)
        order = np.argsort(values, axis=None)
        sorted_, mass = values.ravel()[order], self.weight.ravel()[order]
        # Half of a cell's own mass lies below it: else a coarse axis would shift every quantile by half a step.
        below = np.cumsum(mass) - mass / 2
        low, median, high = (float(np.interp(q, below, sorted_)) for q in (_TAIL, 0.5, 1 - _TAIL))
        return Estimate(median, low, high, basis)

    def likely(self, holds: NDArray[np.bool_]) -> float:
        """How likely something is that holds in some cells."""
        return float(self.weight[np.broadcast_to(holds, self.weight.shape)].sum())

    def settles(self) -> Grid:
        """The time of the exponential part of each cell."""
        return np.asarray(self.tau[..., None] * _ENDS[:, None, None] + 0 * self.weight)

    def families(self) -> dict[Shape, float]:
        """How likely each way of falling is."""
        each = self.weight.sum(axis=(1, 2))
        return {family: float(sum(each[n] for n, one in enumerate(SHAPES) if one.family is family)) for family in Shape}

    def read_next(self, wanted: Grid, at: Grid, error: Grid) -> float:
        """The hour, of those in `at`, at which one reading more would narrow a quantity most; the soonest of the best.

        By how much of its spread goes along with what would be read then, beside what a reading may be off.
        """
        weight = self.weight
        off = wanted - (weight * wanted).sum()
        spread = (weight * off**2).sum()
        if spread <= 0:
            return float(at[0])
        seen = self.end[..., None] + self.fall[..., None] * _left_at(at, self.tau)[:, :, None, :]
        apart = seen - np.einsum("abc,abch->h", weight, seen)
        along = np.einsum("abc,abch,abc->h", weight, apart, off)
        told = along**2 / ((np.einsum("abc,abch->h", weight, apart**2) + error**2) * spread)
        return float(at[int(np.argmax(told >= 0.95 * told.max()))])


_TAIL = 0.5 * math.erfc(Z90 / math.sqrt(2))


_NODES, _NODE_WEIGHTS = np.polynomial.hermite_e.hermegauss(15)


def fallen(hours: Grid, read: Grid, error: Grid, pace: Pace, share: float, share_sd_ln: float) -> Fallen:
    """What readings say of something that falls from the first of them on.

    `read` and `error` (sd) are in one unit, `share` what its end is of the first reading (with the sd of its ln). In
    each shape and tau, fall and end are solved exactly; the end is looked at where it is likely. A second look is
    closer, since good readings tell taus apart that lie near each other.
    """
    tau = np.tile(np.geomspace(pace.low, pace.high, STEPS), (len(SHAPES), 1))
    found = _look(hours, read, error, tau, pace, share, share_sd_ln)
    return _look(hours, read, error, _closer(tau, found.weight), pace, share, share_sd_ln)


def _look(hours: Grid, read: Grid, error: Grid, tau: Grid, pace: Pace, share: float, share_sd_ln: float) -> Fallen:
    s = _left_at(hours, tau)
    precise = 1 / error**2
    first = float(read[0])
    # A normal belief of the end keeps the two unknowns apart where readings alone cannot; it is set right below.
    near = first * share * math.exp(share_sd_ln**2 / 2)
    wide = near * math.sqrt(math.expm1(share_sd_ln**2))
    a = precise.sum() + 1 / wide**2
    b = np.einsum("h,ath->at", precise, s)
    c = np.einsum("h,ath->at", precise, s**2)
    p = (precise * read).sum() + near / wide**2
    q = np.einsum("h,ath->at", precise * read, s)
    det = a * c - b**2
    det = np.maximum(det, 1e-9 * a * c)
    middle, sd = (c * p - b * q) / det, np.sqrt(c / det)
    end = middle[..., None] + sd[..., None] * _NODES
    safe = np.maximum(end, 1e-6 * first)
    fall = (q[..., None] - safe * b[..., None]) / c[..., None]
    model = safe[..., None] + fall[..., None] * s[:, :, None, :]
    chi = np.einsum("atnh,h->atn", (model - read) ** 2, precise)
    # What each place stands for: the nodes' own weight, their spread, and what was summed out with the fall.
    worth = np.log(_NODE_WEIGHTS) + 0.5 * _NODES**2 + np.log(sd)[..., None] - 0.5 * np.log(c)[..., None]
    believed = -0.5 * ((np.log(safe / first) - math.log(share)) / share_sd_ln) ** 2 - np.log(safe)
    there = (end > 0) & (fall > -error[0])
    ln = np.log(tau)
    of_tau = -0.5 * ((ln - math.log(pace.tau)) / pace.sd_ln) ** 2 + np.log(ln[:, 1:2] - ln[:, :1])
    log = -0.5 * chi + (_PRIOR[:, None] + of_tau)[..., None] + np.where(there, worth + believed, -np.inf)
    weight = np.exp(log - log.max())
    return Fallen(safe, fall, tau, weight / weight.sum())
