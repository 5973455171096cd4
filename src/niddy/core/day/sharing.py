"""Two slabs, or two makers: jobs shared out so that the longer day is as short as possible."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from niddy.core.day.cleaning import Job, end_min
from niddy.core.day.learning import USUAL, Pace
from niddy.core.day.ordering import EXACT_UP_TO, Order, best_order, costs_between
from niddy.core.errors import within

MOST_SLABS = 4


def share_out(jobs: Sequence[Job], slabs: int, pace: Pace = USUAL, after: Job | None = None) -> tuple[Order, ...]:
    """The jobs of each slab in their best order; hazardous ones have the last slab to themselves where there are two.

    The longest day is the shortest there is for up to twelve jobs on two slabs, and near it beyond; `after` is what is
    on the first slab already. Raises Refused.
    """
    within("slabs", slabs, 1, MOST_SLABS)
    if slabs == 1:
        return (best_order(jobs, pace, after),)
    hazardous = [job for job in jobs if job.hazard]
    plain = [job for job in jobs if not job.hazard]
    if hazardous and plain:
        return (*share_out(plain, slabs - 1, pace, after), best_order(hazardous, pace))
    exact = slabs == 2 and len(jobs) <= EXACT_UP_TO
    groups = _halved(list(jobs), pace) if exact else _dealt(list(jobs), slabs, pace)
    return tuple(best_order(group, pace, after if n == 0 else None) for n, group in enumerate(groups))


def _halved(jobs: list[Job], pace: Pace) -> list[list[Job]]:
    """Two groups with the shorter longest day, by the least minutes of every set of jobs."""
    count = len(jobs)
    if not count:
        return [[], []]
    between = costs_between(jobs, pace)
    whole = 1 << count
    reach = np.full((whole, count), np.inf)
    for n in range(count):
        reach[1 << n, n] = jobs[n].minutes
    for chosen in range(1, whole):
        for last in range(count):
            so_far = reach[chosen, last]
            if not np.isfinite(so_far):
                continue
            for n in range(count):
                if not chosen >> n & 1:
                    after = so_far + between[last, n] + jobs[n].minutes
                    if after < reach[chosen | 1 << n, n]:
                        reach[chosen | 1 << n, n] = after
    ends = np.array([end_min(job, pace) for job in jobs])
    total = np.min(reach + ends, axis=1)
    total[0] = 0.0
    longer = np.maximum(total, total[::-1])
    best = int(np.argmin(longer))
    return [[job for n, job in enumerate(jobs) if (best >> n & 1) == side] for side in (1, 0)]


def _dealt(jobs: list[Job], slabs: int, pace: Pace) -> list[list[Job]]:
    """The longest job first to the slab that is free first; then one at a time elsewhere while that shortens it."""
    groups: list[list[Job]] = [[] for _ in range(slabs)]
    for job in sorted(jobs, key=lambda job: -job.minutes):
        min(groups, key=lambda group: sum(one.minutes for one in group)).append(job)

    def longest() -> float:
        return max(best_order(group, pace).total_min for group in groups)

    now = longest()
    for job in sorted(jobs, key=lambda job: -job.minutes)[:MOST_MOVED]:
        home = next(group for group in groups if job in group)
        for other in groups:
            if other is home:
                continue
            home.remove(job)
            other.append(job)
            then = longest()
            if then < now - 1e-9:
                now, home = then, other
                continue
            other.remove(job)
            home.append(job)
    return groups


MOST_MOVED = 24
"""So many of the longest jobs are tried at another slab."""
