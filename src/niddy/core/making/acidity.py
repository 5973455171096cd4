"""pH kept within a window: how much of a run was inside, and what a reading asks for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from niddy.core.errors import Refused, within
from niddy.core.steps import Window


@dataclass(frozen=True, slots=True)
class PhReading:
    """One reading: minutes from the first, and the pH."""

    minutes: float
    ph: float


def share_inside(readings: Sequence[PhReading], window: Window) -> float | None:
    """The share of the time from first to last reading that pH was inside, straight between readings.

    None for no reading; one reading is inside or not. Raises Refused naming the reading.
    """
    for n, one in enumerate(readings):
        within(f"readings.{n}.ph", one.ph, 0, 14)
        if n and one.minutes < readings[n - 1].minutes:
            raise Refused(f"readings.{n}.minutes", "before the one before", f"{readings[n - 1].minutes:g} min or later")
    if not readings:
        return None
    whole = readings[-1].minutes - readings[0].minutes
    if whole <= 0:
        return sum(window.holds(one.ph) for one in readings) / len(readings)
    inside = sum(
        (after.minutes - before.minutes) * _inside(before.ph, after.ph, window) for before, after in pairwise(readings)
    )
    return inside / whole


def _inside(one: float, other: float, window: Window) -> float:
    """The share of a straight way between two pH that lies inside."""
    low = window.low if window.low is not None else 0.0
    high = window.high if window.high is not None else 14.0
    if one == other:
        return float(low <= one <= high)
    start, end = sorted((one, other))
    return max(0.0, min(end, high) - max(start, low)) / (end - start)


def asks_for(ph: float, window: Window, more: str, precipitant_is_base: bool = True) -> str:
    """What a reading asks for, in words; `more` is what is being added."""
    within("ph", ph, 0, 14)
    if window.holds(ph):
        return "Inside: stir a minute and read again."
    below = window.low is not None and ph < window.low
    if below == precipitant_is_base:
        end = window.low if below else window.high
        far = end is not None and abs(ph - end) > 1.0
        return f"A {'spoon' if far else 'few drops'} more of the {more.lower()}, stir, wait for the foam, read again."
    return f"Enough of the {more.lower()}: no more. Stir a few minutes and read again; washing brings it nearer."
