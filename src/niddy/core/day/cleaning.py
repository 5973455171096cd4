"""Minutes of cleaning between two jobs at one slab, and at the end of the day (assumed until the studio's own)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from niddy.core.day.learning import USUAL, Pace

BETWEEN_MIN = 4.0
"""A wipe between any two jobs (assumed)."""

LIGHTER_MIN = 12.0
"""From black to white, for a colour that does not stain (assumed)."""

STAINING_SHARE = 0.5
"""So much more for each step of staining (assumed)."""

OTHER_OIL_MIN = 6.0
"""More when the oil differs (assumed)."""

END_MIN, HAZARD_END_MIN = 10.0, 20.0
"""At the end of the day, and more when the last job was hazardous (assumed)."""


@dataclass(frozen=True, slots=True)
class Job:
    """A job of a day: its minutes, lightness of its colour (L*), staining 0 to 3, its oil, whether it is hazardous."""

    key: str
    minutes: float
    lightness: float
    staining: int
    oil: str
    hazard: bool = False


def cleaning_min(before: Job, after: Job, pace: Pace = USUAL) -> float:
    """Minutes of cleaning from one job to the next."""
    lighter = max(0.0, after.lightness - before.lightness) / 100
    minutes = BETWEEN_MIN + LIGHTER_MIN * lighter * (1 + STAINING_SHARE * before.staining)
    return pace.of(before.staining) * (minutes + (OTHER_OIL_MIN if before.oil != after.oil else 0.0))


def end_min(last: Job, pace: Pace = USUAL) -> float:
    """Minutes of cleaning when a job was the last."""
    return pace.of(last.staining) * (END_MIN + (HAZARD_END_MIN if last.hazard else 0.0))


def cost_of(jobs: Sequence[Job], pace: Pace = USUAL) -> list[float]:
    """Minutes of cleaning after each job in this order, the last with the end of the day; empty for no job."""
    if not jobs:
        return []
    return [*(cleaning_min(one, other, pace) for one, other in pairwise(jobs)), end_min(jobs[-1], pace)]
