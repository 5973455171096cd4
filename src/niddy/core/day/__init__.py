"""The day: in which order jobs are done so that least is cleaned, and where the hours go."""

from __future__ import annotations

from niddy.core.day.cleaning import END_MIN, HAZARD_END_MIN, Job, cleaning_min, cost_of, end_min
from niddy.core.day.ordering import EXACT_UP_TO, Order, best_order

__all__ = [
    "END_MIN", "EXACT_UP_TO", "HAZARD_END_MIN", "Job", "Order", "best_order", "cleaning_min", "cost_of", "end_min",
]  # fmt: skip
