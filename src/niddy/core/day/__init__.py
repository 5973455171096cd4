"""The day: in which order jobs are done so that least is cleaned, and where the hours go."""

from __future__ import annotations

from niddy.core.day.cleaning import END_MIN, HAZARD_END_MIN, Job, cleaning_figure, cleaning_min, cost_of, end_min
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
from niddy.core.day.errands import CAKE_MIN, POT_MIN, as_errands, fill_min, left_min
from niddy.core.day.learning import STAININGS, USUAL, Cleaned, Pace, pace_of
from niddy.core.day.ordering import EXACT_UP_TO, Order, as_chosen, best_order
from niddy.core.day.sharing import MOST_SLABS, share_out

__all__ = [
    "CAKE_MIN",
    "END_MIN",
    "EXACT_UP_TO",
    "HAZARD_END_MIN",
    "MOST_SLABS",
    "POT_MIN",
    "STAININGS",
    "USUAL",
    "Break",
    "Cleaned",
    "Errand",
    "Hours",
    "Job",
    "Order",
    "Pace",
    "Slot",
    "Timetable",
    "as_chosen",
    "as_errands",
    "best_order",
    "check_hours",
    "cleaning_figure",
    "cleaning_min",
    "cost_of",
    "end_min",
    "fill_min",
    "first_free",
    "left_min",
    "longest_stretch",
    "pace_of",
    "said",
    "share_out",
    "timetable",
]
