"""Washing a precipitate clean: what stays after so many washes, each well stirred and drained.

    left = (v / (v + V)) ** n

Salts and pH of what drains are checked by ISO 787-3 and ISO 787-9.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import Refused, volume_ml, within

MOST_WASHES = 200


@dataclass(frozen=True, slots=True)
class Washes:
    """So many washes, and the share of what could be washed out that is left after them."""

    washes: int
    left_fraction: float


def left_after(retained_ml: float, wash_ml: float, washes: int = 1) -> float:
    """The share left after so many washes of so much each."""
    return (retained_ml / (retained_ml + wash_ml)) ** washes


def washes_to(retained_ml: float, wash_ml: float, target_fraction: float) -> Washes:
    """How many washes of so much bring it to a share. Raises Refused naming the amount."""
    volume_ml("retained_ml", retained_ml)
    _water("wash_ml", wash_ml)
    within("target_fraction", target_fraction, 1e-6, 0.99)
    each = left_after(retained_ml, wash_ml)
    # A hair less than a whole number of washes is that number: the logarithm is only as good as its last digit.
    needed = max(1, math.ceil(math.log(target_fraction) / math.log(each) - 1e-9))
    if needed > MOST_WASHES:
        raise Refused("wash_ml", f"{needed} washes of it", f"so much that {MOST_WASHES} washes do")
    return Washes(needed, each**needed)


def washes_of(retained_ml: float, water_ml: float, washes: int) -> Washes:
    """What so much water does, shared among so many washes. Raises Refused naming the amount."""
    volume_ml("retained_ml", retained_ml)
    _water("water_ml", water_ml)
    if not 1 <= washes <= MOST_WASHES:
        raise Refused("washes", f"{washes}", f"1 to {MOST_WASHES}")
    return Washes(washes, left_after(retained_ml, water_ml / washes, washes))


def _water(field: str, ml: float) -> None:
    if not ml > 0 or not math.isfinite(ml):
        raise Refused(field, "no water", "the ml of water, above 0")
    within(field, ml, 0, 1_000_000, "ml", open_low=True)
