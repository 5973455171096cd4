"""A response that levels off: the dose at which it crosses a value, over how early it may level off."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtr

Floats = NDArray[np.float64]

LEVELS_OFF = np.geomspace(0.06, 1.5, 24)
"""The dose after which a response has gone two thirds of its way, as a share of the highest dose."""

LINE = 0.5
"""How likely a straight line is before anything is read."""

READ_WITHIN, READS_WORTH = 0.08, 2.0
"""What readings scatter by, as a share of what they change by, and how many readings that is worth (assumed)."""

STEPS = 400


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """Readings by dose over ways of levelling off: their weights, and the likely mean, spread and degrees of freedom.

    `mean` and `spread` are (ways, doses); `likely` is how likely it is that the response bends at all.
    """

    doses: Floats
    weights: Floats
    mean: Floats
    spread: Floats
    degrees: float
    likely: float

    def reaches(self, y: float, sign: int) -> Floats:
        """How likely each dose is beyond a value: at or above it (1), at or below it (-1)."""
        return np.asarray(self.weights @ stdtr(self.degrees, sign * (self.mean - y) / self.spread))

    def dose_at(self, y: float, sign: int, chance: float) -> float | None:
        """The least dose that is beyond a value with that chance; None where none up to the highest is."""
        there = np.flatnonzero(self.reaches(y, sign) >= chance)
        return float(self.doses[there[0]]) if len(there) else None


def _columns(doses: Floats, top: float, of: float) -> Floats:
    """A constant, and how much of the rise up to the highest dose is there at each dose."""
    risen = doses / top if math.isinf(of) else (1 - np.exp(-doses / of)) / (1 - math.exp(-top / of))
    return np.column_stack((np.ones(len(doses)), risen))


def curve(x: Floats, y: Floats) -> Curve:
    """Fit readings by dose: a line, and lines in 1 - exp(-dose / d) for each d, the spread unknown in each."""
    top, n = float(x.max()), len(x)
    doses = np.linspace(0.0, top, STEPS + 1)
    scatter = READ_WITHIN * max(1e-6, float(np.ptp(y)))
    degrees = n - 2 + READS_WORTH
    logs, means, spreads = [], [], []
    for share in (math.inf, *LEVELS_OFF):
        design, seen = _columns(x, top, share * top), _columns(doses, top, share * top)
        inverse = np.linalg.inv(design.T @ design)
        fitted = inverse @ design.T @ y
        rest = float(((y - design @ fitted) ** 2).sum()) + READS_WORTH * scatter**2
        logs.append(0.5 * math.log(np.linalg.det(inverse)) - 0.5 * degrees * math.log(rest))
        means.append(seen @ fitted)
        spreads.append(np.sqrt(rest / degrees * np.einsum("di,ij,dj->d", seen, inverse, seen)))
    weights = np.exp(np.array(logs) - max(logs)) * np.array([LINE] + [(1 - LINE) / len(LEVELS_OFF)] * len(LEVELS_OFF))
    weights /= weights.sum()
    return Curve(doses, weights, np.array(means), np.array(spreads), degrees, float(1 - weights[0]))
