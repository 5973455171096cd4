"""Plan: one batch on paper, from what is wanted to what to weigh, what to pour first and what to beware of."""

from __future__ import annotations

from niddy.core.plan.bench import loads_of, mull_minutes, working_factor
from niddy.core.plan.computing import compute
from niddy.core.plan.facts import Facts, Plan, Scale, fully_known, pigment_and_oil_only, shifted
from niddy.core.plan.wish import (
    ASBECK,
    QUIET_DISPERSION_TIMES,
    Bench,
    Extender,
    Grind,
    Line,
    OldPaint,
    Tool,
    Tooth,
    Tubes,
    Wish,
)

__all__ = [
    "ASBECK",
    "QUIET_DISPERSION_TIMES",
    "Bench",
    "Extender",
    "Facts",
    "Grind",
    "Line",
    "OldPaint",
    "Plan",
    "Scale",
    "Tool",
    "Tooth",
    "Tubes",
    "Wish",
    "compute",
    "fully_known",
    "loads_of",
    "mull_minutes",
    "pigment_and_oil_only",
    "shifted",
    "working_factor",
]
