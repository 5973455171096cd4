"""The day: in which order jobs are done so that least is cleaned, and where the hours go."""

from __future__ import annotations

from niddy.core.day.cleaning import END_MIN, HAZARD_END_MIN, Job, cleaning_min, cost_of, end_min
from niddy.core.day.clock import (
    Break,
    Errand,
    Hours,
    Slot,
    Timetable,
    check_hours,
    first_free,
    longest_stretch,
    said,
    timetable,
)
from niddy.core.day.learning import STAININGS, USUAL, Cleaned, Pace, pace_of
from niddy.core.day.ordering import EXACT_UP_TO, Order, best_order
from niddy.core.day.sharing import MOST_SLABS, share_out

__all__ = [
    "END_MIN", "EXACT_UP_TO", "HAZARD_END_MIN", "MOST_SLABS", "STAININGS", "USUAL", "Break", "Cleaned", "Errand",
    "Hours", "Job", "Order", "Pace", "Slot", "Timetable", "best_order", "check_hours", "cleaning_min", "cost_of",
    "end_min", "first_free", "longest_stretch", "pace_of", "said", "share_out", "timetable",
]  # fmt: skip
