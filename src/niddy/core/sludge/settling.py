"""Clear enough to pour? How fast a can settles, from heights of clear liquid read now and then.

What is cloudy of the height falls to what the sediment takes in the end: as an exponential, with a slow tail, or at a
constant rate until it packs (`core/falling.py` sums over all of these).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.falling import Pace, Shape, fallen
from niddy.core.sludge.can import Height

PACE = Pace(12.0, 0.9, 4.8, 1440.0)
SEDIMENT, SEDIMENT_SD_LN = 0.25, 0.5
READ_WITHIN, FULL_WITHIN = 0.03, 0.01
"""What a reading may be off, as a share of the whole height, and the cloudy start (assumed, as are the others)."""

CLEAR = 0.95
"""Clear enough: so much of what will clear has cleared."""


@dataclass(frozen=True, slots=True)
class Settling:
    """Hours in which a can clears, the share of its height that will be clear in the end, and that is by now.

    `read_again_h` is when one more height would tell most, from when it was stirred; `shape` how it may fall.
    """

    hours_to_clear: Estimate
    clear_share: Estimate
    clear_now: Estimate
    readings: int
    read_again_h: float
    shape: Mapping[Shape, float] = field(default_factory=dict)


def check_height(clear_mm: float, total_mm: float, field: str = "clear_mm") -> None:
    """Refuse more clear liquid than there is liquid. Raises Refused."""
    if clear_mm > total_mm:
        raise Refused(field, f"{clear_mm:g} mm clear of {total_mm:g} mm", f"at most {total_mm:g} mm, all of it")


def settling(heights: Sequence[Height], now_h: float = 0.0) -> Settling:
    """How a can settles, from what was read of it since it was last stirred up."""
    read = sorted((one for one in heights if one.total_mm > 0 and one.hours > 0), key=lambda one: one.hours)
    hours = np.array([0.0, *(height.hours for height in read)])
    cloudy = np.array([1.0, *(max(0.0, 1 - height.clear_mm / height.total_mm) for height in read)])
    error = np.array([FULL_WITHIN, *(READ_WITHIN for _ in read)])
    found = fallen(hours, cloudy, error, PACE, SEDIMENT, SEDIMENT_SD_LN)
    basis = Basis.MEASURED if read else Basis.ASSUMED
    to_clear = found.until(np.full_like(found.weight, 1 - CLEAR))
    later = max(now_h, float(hours[-1])) + np.array([1.0, 2, 4, 8, 12, 24, 36, 48, 72, 96, 144])
    again = found.read_next(np.log(to_clear), later, np.full_like(later, READ_WITHIN))
    return Settling(
        found.estimate(to_clear, basis),
        found.estimate(1 - found.end, basis),
        found.estimate(np.clip(1 - found.at(now_h), 0, 1), basis),
        len(read),
        again,
        found.families(),
    )
