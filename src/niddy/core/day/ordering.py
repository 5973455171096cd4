"""The order of jobs with the least cleaning: exact for a usual day, by search beyond; hazardous ones last."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise, permutations

import numpy as np
from numpy.typing import NDArray

from niddy.core.day.cleaning import Job, cleaning_min, cost_of, end_min
from niddy.core.day.learning import USUAL, Pace
from niddy.core.errors import Refused, within

EXACT_UP_TO = 12
MOST_JOBS = 200
MOST_OILS_TRIED = 5
"""Up to so many oils every order of them is a start of the search."""

SAME = 1e-9
"""Two orders whose cleaning differs by less are the same: the given one stands."""

Costs = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Order:
    """Jobs in their order, the minutes of cleaning after each (the last with the end of the day), and in all."""

    order: tuple[str, ...]
    cleaning_min: tuple[float, ...]
    total_cleaning_min: float
    total_min: float
    as_given_cleaning_min: float


def best_order(jobs: Sequence[Job], pace: Pace = USUAL, after: Job | None = None) -> Order:
    """The order with the least cleaning, hazardous jobs after all others. Raises Refused naming the job.

    `after` is what is on the slab already: cleaning it off for the first of them counts, itself it is not in the order.
    """
    _check(jobs)
    if not jobs:
        alone = tuple(cost_of([after], pace)) if after is not None else ()
        return Order((), alone, sum(alone), sum(alone), sum(alone))
    given = [*(job for job in jobs if not job.hazard), *(job for job in jobs if job.hazard)]
    costs = _costs(given, pace)
    plain = sum(not job.hazard for job in given)
    begins = np.array([cleaning_min(after, job, pace) if after is not None else 0.0 for job in given])
    small = len(given) <= EXACT_UP_TO
    found = _exact(costs, plain, begins) if small else _searched(given, costs, plain, begins)
    chosen = [given[n] for n in found]
    head = [after] if after is not None else []
    as_given = sum(cost_of([*head, *given], pace))
    if as_given <= sum(cost_of([*head, *chosen], pace)) + SAME:
        chosen = given
    cleaning = cost_of([*head, *chosen], pace)
    total = sum(cleaning)
    return Order(
        tuple(job.key for job in chosen), tuple(cleaning), total, total + sum(job.minutes for job in jobs), as_given
    )


def as_chosen(best: Sequence[str], chosen: Sequence[str] | None) -> list[str]:
    """The keys in the order somebody chose, what came since behind it; the best order where nobody chose one."""
    if chosen is None:
        return list(best)
    places = {key: n for n, key in enumerate([*chosen, *(key for key in best if key not in chosen)])}
    return sorted(best, key=lambda key: places[key])


def _check(jobs: Sequence[Job]) -> None:
    if len(jobs) > MOST_JOBS:
        raise Refused("jobs", f"{len(jobs)} of them", f"up to {MOST_JOBS}")
    seen: set[str] = set()
    for n, job in enumerate(jobs):
        if job.key in seen:
            raise Refused(f"jobs.{n}.key", f"'{job.key}' is there twice", "each job once")
        seen.add(job.key)
        within(f"jobs.{n}.minutes", job.minutes, 0, 1_440, "min")
        within(f"jobs.{n}.lightness", job.lightness, 0, 100)
        within(f"jobs.{n}.staining", job.staining, 0, 3)


def costs_between(jobs: Sequence[Job], pace: Pace = USUAL) -> Costs:
    """Minutes of cleaning from each job to each."""
    return _costs(jobs, pace)[:, :-1]


def _costs(jobs: Sequence[Job], pace: Pace) -> Costs:
    """Cleaning from each job to each; the last column is what it costs to end with it."""
    count = len(jobs)
    costs = np.zeros((count, count + 1))
    for i, one in enumerate(jobs):
        for j, other in enumerate(jobs):
            costs[i, j] = cleaning_min(one, other, pace)
        costs[i, count] = end_min(one, pace)
    return costs


@lru_cache(maxsize=16)
def _by_count(count: int) -> tuple[tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.bool_]], ...]:
    """All sets of jobs as numbers, the fullest first; for each what it is with one more, and which are in it."""
    sets = np.arange(1 << count, dtype=np.intp)
    bits = 1 << np.arange(count, dtype=np.intp)
    sizes = np.array([int(one).bit_count() for one in sets])
    levels = [sets[sizes == size] for size in range(count - 1, 0, -1)]
    return tuple((one, one[:, None] | bits, (one[:, None] & bits) != 0) for one in levels)


def _exact(costs: Costs, plain: int, begins: Costs) -> list[int]:
    """The best order by all sets of jobs that are done and which was last; of the best the one nearest to the given."""
    count = len(costs)
    left = np.full((1 << count, count), np.inf)
    whole = (1 << count) - 1
    left[whole] = costs[:, count]
    all_plain = (1 << plain) - 1
    between, places = np.ascontiguousarray(costs[:, :count].T), np.arange(count)
    for sets, with_one_more, inside in _by_count(count):
        ahead = left[with_one_more, places]
        too_soon = ((sets & all_plain) != all_plain)[:, None] & (places >= plain)
        ahead[inside | too_soon] = np.inf
        best = between[0] + ahead[:, :1]
        for j in range(1, count):
            np.minimum(best, between[j] + ahead[:, j : j + 1], out=best)
        left[sets] = best
    firsts = [n for n in range(count) if n < plain or plain == 0]
    least = min(begins[n] + left[1 << n, n] for n in firsts)
    order = [next(n for n in firsts if begins[n] + left[1 << n, n] <= least + SAME)]
    done = 1 << order[0]
    while done != whole:
        last = order[-1]
        for j in range(count):
            if done >> j & 1 or (j >= plain and done & all_plain != all_plain):
                continue
            if costs[last, j] + left[done | 1 << j, j] <= left[done, last] + SAME:
                order.append(j)
                done |= 1 << j
                break
    return order


def _searched(jobs: Sequence[Job], costs: Costs, plain: int, begins: Costs) -> list[int]:
    """A good order: from several starts, one or a few jobs moved elsewhere as long as that saves minutes."""
    starts = [list(range(len(jobs))), *_starts(jobs, plain)]
    starts.sort(key=lambda order: _total(costs, order, begins))
    best = starts[0]
    for start in starts[:6]:
        found = _improved(costs, plain, start, begins)
        if _total(costs, found, begins) < _total(costs, best, begins) - SAME:
            best = found
    return best


def _starts(jobs: Sequence[Job], plain: int) -> list[list[int]]:
    """From light to dark, whatever the oil; and oil by oil, in each order of the oils."""

    def sorted_by(rank: dict[str, int]) -> list[int]:
        places = range(len(jobs))
        return sorted(places, key=lambda n: (n >= plain, rank.get(jobs[n].oil, 0), -jobs[n].lightness, n))

    oils = sorted({job.oil for job in jobs})
    orders = permutations(oils) if len(oils) <= MOST_OILS_TRIED else (tuple(oils), tuple(reversed(oils)))
    return [sorted_by({}), *(sorted_by({oil: n for n, oil in enumerate(order)}) for order in orders)]


def _total(costs: Costs, order: Sequence[int], begins: Costs) -> float:
    return float(begins[order[0]] + sum(costs[i, j] for i, j in pairwise(order)) + costs[order[-1], len(costs)])


LONGEST_MOVED = 3
MOST_ROUNDS = 400


def _improved(costs: Costs, plain: int, start: Sequence[int], begins: Costs) -> list[int]:
    """The order after moving runs of up to three jobs to where they save most, until none does."""
    count = len(costs)
    # The place before the first is what is on the slab already, if anything; that after the last the end of the day.
    wide = np.zeros((count + 2, count + 2))
    wide[:count, : count + 1] = costs
    end, begin = count, count + 1
    wide[begin, :count] = begins
    order = list(start)
    masks = {length: _may_move(count, plain, length) for length in range(1, min(LONGEST_MOVED, count - 1) + 1)}
    for _ in range(MOST_ROUNDS):
        path = np.array([begin, *order, end])
        here = wide[path[:-1], path[1:]]
        gain, move = SAME, (0, 0, 0)
        for length, may in masks.items():
            firsts = np.arange(1, count - length + 2)
            lasts = firsts + length - 1
            saved = here[firsts - 1] + here[lasts] - wide[path[firsts - 1], path[lasts + 1]]
            added = wide[path[:-1][None, :], path[firsts][:, None]] + wide[path[lasts][:, None], path[1:][None, :]]
            saves = np.where(may, saved[:, None] - added + here[None, :], -np.inf)
            place = int(np.argmax(saves))
            if saves.flat[place] > gain:
                row, behind = divmod(place, count + 1)
                gain, move = float(saves.flat[place]), (row + 1, length, behind)
        if gain <= SAME:
            break
        order = _moved(order, *move)
    return order


def _may_move(count: int, plain: int, length: int) -> NDArray[np.bool_]:
    """Whether a run of so many jobs from each place on may stand behind each other place, hazardous ones last."""
    firsts, behind = np.arange(1, count - length + 2)[:, None], np.arange(count + 1)[None, :]
    elsewhere = (behind < firsts - 1) | (behind > firsts + length - 1)
    all_plain, all_hazard = firsts + length - 1 <= plain, firsts > plain
    return elsewhere & ((all_plain & (behind <= plain)) | (all_hazard & (behind >= plain)))


def _moved(order: list[int], first: int, length: int, place: int) -> list[int]:
    """The order with so many jobs from a place on set in behind another; places count from 1, behind 0 is the front."""
    run = order[first - 1 : first - 1 + length]
    rest = [*order[: first - 1], *order[first - 1 + length :]]
    behind = place if place < first else place - length
    return [*rest[:behind], *run, *rest[behind:]]
