"""The hours of a day: when each job begins and ends, with cleaning and breaks between, and what no longer fits.

Times are minutes since midnight where the maker is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from niddy.core.day.cleaning import Job, cleaning_min, end_min
from niddy.core.day.learning import USUAL, Pace
from niddy.core.errors import Refused, within

MIDNIGHT = 24 * 60
MOST_BREAKS = 8


@dataclass(frozen=True, slots=True)
class Break:
    """A rest, from one minute of the day to another."""

    from_min: int
    to_min: int


@dataclass(frozen=True, slots=True)
class Hours:
    """From when to when one works, and the breaks between."""

    start_min: int = 9 * 60
    end_min: int = 17 * 60
    breaks: tuple[Break, ...] = (Break(12 * 60 + 30, 13 * 60),)


@dataclass(frozen=True, slots=True)
class Errand:
    """Something short that needs no slab and dirties none; `from_min` is when it may first be done."""

    key: str
    minutes: float
    from_min: float = 0.0


@dataclass(frozen=True, slots=True)
class Slot:
    """When something is done. `cleaning_min` comes after it at its slab."""

    key: str
    start_min: float
    end_min: float
    cleaning_min: float = 0.0


@dataclass(frozen=True, slots=True)
class Timetable:
    """What fits, in the order of the clock; what does not; the minutes of cleaning; when the last is done."""

    slots: tuple[Slot, ...]
    left_over: tuple[str, ...]
    cleaning_min: float
    ends_min: float


def check_hours(hours: Hours) -> Hours:
    """The hours, where they make a day. Raises Refused naming the field."""
    within("start_min", hours.start_min, 0, MIDNIGHT, "min")
    within("end_min", hours.end_min, 0, MIDNIGHT, "min")
    if hours.end_min <= hours.start_min:
        raise Refused("end_min", "the day ends before it begins", f"a time after {said(hours.start_min)}")
    if len(hours.breaks) > MOST_BREAKS:
        raise Refused("breaks", f"{len(hours.breaks)} of them", f"up to {MOST_BREAKS}")
    last = hours.start_min
    for n, rest in enumerate(hours.breaks):
        if rest.to_min <= rest.from_min:
            raise Refused(f"breaks.{n}.to_min", "the break ends before it begins", f"after {said(rest.from_min)}")
        if rest.from_min < last or rest.to_min > hours.end_min:
            accepted = f"between {said(last)} and {said(hours.end_min)}, one after the other"
            raise Refused(f"breaks.{n}.from_min", "the break is not within the day", accepted)
        last = rest.to_min
    return hours


def said(minute: float) -> str:
    """A minute of the day as a clock says it."""
    whole = round(minute)
    return f"{whole // 60:02d}:{whole % 60:02d}"


def first_free(at: float, minutes: float, hours: Hours) -> float | None:
    """The first moment from which so many minutes are free of breaks and before the end; None where there is none."""
    start = max(at, hours.start_min)
    for rest in hours.breaks:
        if start + minutes <= rest.from_min:
            break
        start = max(start, rest.to_min) if start + minutes > rest.from_min and start < rest.to_min else start
    return start if start + minutes <= hours.end_min else None


def longest_stretch(hours: Hours) -> int:
    """The most minutes without a break."""
    edges = [hours.start_min, *(edge for rest in hours.breaks for edge in (rest.from_min, rest.to_min)), hours.end_min]
    return max(end - start for start, end in zip(edges[::2], edges[1::2], strict=True))


def timetable(
    jobs: Sequence[Job], errands: Sequence[Errand], hours: Hours, *, now_min: float = 0.0, pace: Pace = USUAL
) -> Timetable:
    """Clock times at one slab: jobs in the order given, and errands where they do not hold these up.

    A job never runs into a break: it waits until after it, and errands fill the gap. One that waits for a moment of the
    day comes before the next job from then on; one for any time comes into gaps, or last. A job that no longer fits,
    with its cleaning, is left over, and those after it move up. Raises Refused for hours that are no day.
    """
    check_hours(hours)
    work = _Work(hours, sorted(errands, key=lambda errand: errand.from_min))
    at = max(float(hours.start_min), now_min)
    before: Job | None = None
    for job in jobs:
        at = work.due(at)
        wipe = cleaning_min(before, job, pace) if before is not None else 0.0
        start = first_free(at + wipe, job.minutes, hours)
        if start is None or start + job.minutes + end_min(job, pace) > hours.end_min:
            work.left.append(job.key)
            continue
        if before is not None:
            work.clean(before.key, wipe)
        # What waits for a break leaves a gap before it.
        work.fill(at + wipe, start)
        work.slots[job.key] = Slot(job.key, start, start + job.minutes)
        at, before = start + job.minutes, job
    if before is not None:
        work.clean(before.key, end_min(before, pace))
        at += end_min(before, pace)
    work.rest(at)
    slots = sorted(work.slots.values(), key=lambda slot: slot.start_min)
    ends = max((slot.end_min + slot.cleaning_min for slot in slots), default=at)
    return Timetable(tuple(slots), tuple(work.left), sum(slot.cleaning_min for slot in slots), ends)


class _Work:
    """The slots of a day as they are found, and the errands that wait."""

    def __init__(self, hours: Hours, waiting: list[Errand]) -> None:
        self.hours, self.waiting = hours, waiting
        self.slots: dict[str, Slot] = {}
        self.left: list[str] = []

    def clean(self, key: str, minutes: float) -> None:
        self.slots[key] = replace(self.slots[key], cleaning_min=minutes)

    def _do(self, errand: Errand, start: float) -> float:
        self.waiting.remove(errand)
        self.slots[errand.key] = Slot(errand.key, start, start + errand.minutes)
        return start + errand.minutes

    def due(self, at: float) -> float:
        """What waited for a moment of this day that has come."""
        for errand in list(self.waiting):
            if self.hours.start_min < errand.from_min <= at:
                start = first_free(at, errand.minutes, self.hours)
                if start is not None and start <= at:
                    at = self._do(errand, start)
        return at

    def fill(self, at: float, until: float) -> None:
        """Whatever fits between two moments, before the break that makes them one gap."""
        for errand in list(self.waiting):
            start = first_free(max(at, errand.from_min), errand.minutes, self.hours)
            if start is not None and start + errand.minutes <= until:
                at = self._do(errand, start)

    def rest(self, at: float) -> None:
        """All that is left, whatever can begin soonest first; what does not fit is left over."""
        while self.waiting:
            begins = [first_free(max(at, errand.from_min), errand.minutes, self.hours) for errand in self.waiting]
            soonest = min((start for start in begins if start is not None), default=None)
            if soonest is None:
                break
            at = self._do(self.waiting[begins.index(soonest)], soonest)
        self.left += [errand.key for errand in self.waiting]
