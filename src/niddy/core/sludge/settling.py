"""Clear enough to pour? How fast a can settles, from heights of clear liquid read now and then.

    clear / whole height = most (1 - exp(-t / tau))

Most sludge drops out at first fast, then ever slower; `most` is what stays above the sediment in the end.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.sludge.can import Height

TAU_H, TAU_SD_LN = 12.0, 0.8
MOST, MOST_SD = 0.75, 0.12
READ_WITHIN = 0.03
"""What a reading may be off, as a share of the whole height (assumed, as are the others)."""

CLEAR = 0.95
"""Clear enough: so much of what will clear has cleared."""

_POINTS = 121


@dataclass(frozen=True, slots=True)
class Settling:
    """Hours in which a can clears, and the share of its height that will be clear; from so many readings."""

    hours_to_clear: Estimate
    clear_share: Estimate
    tau_h: float
    readings: int

    def share_at(self, hours: float) -> float:
        """The share of the height that is clear after so many hours."""
        return self.clear_share.median * (1 - math.exp(-hours / self.tau_h))


def settling(heights: Sequence[Height]) -> Settling:
    """How a can settles, from what was read of it since it was last stirred up, and before."""
    read = [height for height in heights if height.total_mm > 0 and height.hours > 0]
    most = np.linspace(0.3, 0.98, _POINTS)[:, None]
    ln_tau = np.linspace(math.log(TAU_H) - 4 * TAU_SD_LN, math.log(TAU_H) + 4 * TAU_SD_LN, _POINTS)[None, :]
    tau = np.exp(ln_tau)
    worth = -0.5 * (((most - MOST) / MOST_SD) ** 2 + ((ln_tau - math.log(TAU_H)) / TAU_SD_LN) ** 2)
    for height in read:
        clear = most * (1 - np.exp(-height.hours / tau))
        worth = worth - 0.5 * ((clear - height.clear_mm / height.total_mm) / READ_WITHIN) ** 2
    weight = np.exp(worth - worth.max())
    weight /= weight.sum()
    basis = Basis.MEASURED if read else Basis.ASSUMED
    taus = _estimate(tau[0], weight.sum(axis=0), basis)
    waits = -math.log(1 - CLEAR)
    hours = Estimate(taus.median * waits, taus.low * waits, taus.high * waits, basis)
    return Settling(hours, _estimate(most[:, 0], weight.sum(axis=1), basis), taus.median, len(read))


def _estimate(axis: np.ndarray, mass: np.ndarray, basis: Basis) -> Estimate:
    below = np.cumsum(mass) - mass / 2
    tail = 0.5 * math.erfc(Z90 / math.sqrt(2))
    low, median, high = (float(np.interp(q, below, axis)) for q in (tail, 0.5, 1 - tail))
    return Estimate(median, low, high, basis)
