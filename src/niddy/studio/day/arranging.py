"""The jobs of a day in their order and their stretches of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from niddy.core import day as core
from niddy.core.day import Errand, Hours, Job, Pace, Timetable
from niddy.core.due import Due
from niddy.core.figure import Figure
from niddy.studio.batches import BegunSince
from niddy.studio.day.jobs import Known


@dataclass(frozen=True, slots=True)
class DayLine:
    """One thing of the day. Times are minutes since midnight where the maker is; None where it no longer fits.

    `cleaning_min` comes after it; `key` names it when it is moved, `job_id` where it can be taken off again.
    """

    key: str
    kind: str
    what: str
    name: str
    says: str
    page: str
    masstone_srgb: str
    minutes: float
    minutes_say: str
    at_slab: bool
    slab: int
    hazard: bool
    status: str
    start_min: float | None
    end_min: float | None
    cleaning_min: float
    done_min: float | None
    job_id: str | None
    batch_number: int | None


@dataclass(frozen=True, slots=True)
class Put:
    """A job with where it stands: its batch once there is one."""

    key: str
    kind: str
    name: str
    what: str
    says: str
    page: str
    known: Known
    at_slab: bool
    status: str
    done_at: datetime | None
    job_id: str | None
    batch: BegunSince | None


@dataclass(frozen=True, slots=True)
class Clock:
    """What time it is on the day looked at, in minutes since its midnight."""

    midnight: datetime
    now_min: float
    today: bool

    def minute(self, at: datetime) -> float:
        """A moment as minutes since this midnight."""
        return (at - self.midnight).total_seconds() / 60


@dataclass(frozen=True, slots=True)
class Arranged:
    """The jobs of a day: in their stretches, left over, ticked off; what cleaning takes in their order and the best."""

    lines: tuple[DayLine, ...]
    left_over: tuple[DayLine, ...]
    ticked: tuple[DayLine, ...]
    cleaning: Figure
    best_min: float
    work_min: float
    ends_min: float


def job_of_put(put: Put, clock: Clock) -> Job:
    """A job as the order needs it; one that was begun has only what is left of it."""
    minutes = put.known.minutes
    if put.status == "going" and put.batch is not None and clock.today:
        ran = clock.now_min - clock.minute(put.batch.started_at)
        minutes = core.left_min(minutes, ran)
    known = put.known
    return Job(put.key, minutes, known.lightness, known.staining, known.oil, known.hazard)


def arranged_jobs(
    puts: list[Put],
    errands: tuple[Due, ...],
    hours: Hours,
    slabs: int,
    chosen: list[str] | None,
    clock: Clock,
    pace_now: Pace,
) -> Arranged:
    """The jobs that are put on a day, each slab's in the order chosen or the best, in the stretches of its hours."""
    by_key = {put.key: put for put in puts}
    at_slab = [put for put in puts if put.at_slab and put.status != "done"]
    jobs = {put.key: job_of_put(put, clock) for put in at_slab}
    going = [key for key in jobs if by_key[key].status == "going"]
    on_slab = jobs[going[-1]] if going else None
    rest = [job for job in jobs.values() if job is not on_slab]
    orders = core.share_out(rest, min(slabs, max(1, len(rest))), pace_now, on_slab)
    best = sum(order.total_cleaning_min for order in orders)
    ways = [
        [*([on_slab.key] if on_slab is not None and n == 0 else []), *core.as_chosen(order.order, chosen)]
        for n, order in enumerate(orders)
    ]
    waits = {f"due-{wait.room}-{wait.key}": wait for wait in errands}
    short = [
        *(Errand(put.key, put.known.minutes) for put in puts if not put.at_slab and put.status == "todo"),
        *(Errand(key, wait.takes_min or 0.0, max(0.0, clock.minute(wait.at))) for key, wait in waits.items()),
    ]
    tables: list[Timetable] = []
    for n, way in enumerate(ways):
        mine = short if n == 0 else []
        tables.append(core.timetable([jobs[key] for key in way], mine, hours, now_min=clock.now_min, pace=pace_now))
    lines: list[DayLine] = []
    left: list[DayLine] = []
    for n, table in enumerate(tables):
        for slot in table.slots:
            line = _line(slot.key, by_key, waits, jobs, n)
            lines.append(replace(line, start_min=slot.start_min, end_min=slot.end_min, cleaning_min=slot.cleaning_min))
        for key in table.left_over:
            line = _line(key, by_key, waits, jobs, n)
            left.append(replace(line, says=NO_STRETCH if line.minutes > core.longest_stretch(hours) else ""))
    ticked = [
        replace(_line(put.key, by_key, waits, {}, 0), done_min=clock.minute(put.done_at) if put.done_at else None)
        for put in puts
        if put.status == "done"
    ]
    shown = sorted(lines, key=lambda line: (line.start_min or 0.0, line.slab))
    cleaning = core.cleaning_figure(
        [[jobs[key] for key in way] for way in ways], {key: put.name for key, put in by_key.items()}, pace_now
    )
    return Arranged(
        tuple(shown),
        tuple(left),
        tuple(ticked),
        cleaning,
        best,
        sum(line.minutes for line in shown),
        max((table.ends_min for table in tables), default=0.0),
    )


NO_STRETCH = "longer than any stretch of the day"


def order_says(arranged: Arranged) -> str:
    """What the order costs beside the best."""
    more = arranged.cleaning.value - arranged.best_min
    if more < 0.5:
        return "Your own order, as good as the best."
    return f"Your own order: {more:.0f} min more cleaning than the best."


def _line(key: str, by_key: dict[str, Put], waits: dict[str, Due], jobs: dict[str, Job], slab: int) -> DayLine:
    if key in waits:
        wait = waits[key]
        what = f"{wait.what[:1].upper()}{wait.what[1:]}:"
        return DayLine(
            key,
            "due",
            what,
            wait.name,
            wait.says.removesuffix("."),
            wait.page,
            "",
            wait.takes_min or 0.0,
            "assumed",
            False,
            0,
            False,
            "todo",
            None,
            None,
            0.0,
            None,
            None,
            None,
        )
    put = by_key[key]
    minutes = jobs[key].minutes if key in jobs else put.known.minutes
    return DayLine(
        key,
        put.kind,
        put.what,
        put.name,
        put.says,
        put.page,
        put.known.masstone_srgb,
        minutes,
        put.known.minutes_say,
        put.at_slab,
        slab,
        put.known.hazard,
        put.status,
        None,
        None,
        0.0,
        None,
        put.job_id,
        put.batch.number if put.batch is not None else None,
    )
