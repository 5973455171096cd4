"""Minutes of cleaning between two jobs at one slab, and at the end of the day (assumed until the studio's own)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from niddy.core.day.learning import USUAL, Pace
from niddy.core.estimate import Basis
from niddy.core.figure import Figure, Input, Working

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


def cleaning_figure(slabs: Sequence[Sequence[Job]], names: Mapping[str, str], pace: Pace = USUAL) -> Figure:
    """The cleaning of a day at its slabs, each with its jobs in their order; `names` says what each job is called."""
    inputs = []
    total = 0.0
    for jobs in slabs:
        for job, minutes in zip(jobs, cost_of(jobs, pace), strict=True):
            total += minutes
            at_end = job is jobs[-1]
            inputs.append(Input(f"{'at the end, after' if at_end else 'after'} {names[job.key]}", minutes, "min"))
    learned = pace.cleanings > 0
    if learned:
        inputs += [
            Input(f"your pace after colours of staining {n}", factor, "x", Basis.LEARNED)
            for n, factor in enumerate(pace.by_staining)
            if any(job.staining == n for jobs in slabs for job in jobs)
        ]
    working = Working(
        "4 min between two jobs, 12 x (lightness of the next - lightness) / 100 x (1 + 0.5 x staining) where the next "
        "is lighter, 6 where the oil differs; 10 min at the end, 20 more after what is hazardous; times your pace",
        tuple(inputs),
        "assumed minutes, and the cleanings you noted" if learned else "assumed until you note some",
    )
    return Figure("Cleaning", total, "min", 0, Basis.LEARNED if learned else Basis.ASSUMED, working)
