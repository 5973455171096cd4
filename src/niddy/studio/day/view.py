"""The day as one view: jobs put on it and what falls due, in an order, with clock times, and what no longer fits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core import day as core
from niddy.core.day import Errand, Hours, Job, Pace, Timetable
from niddy.core.due import Due
from niddy.core.figure import Figure
from niddy.core.log import Status
from niddy.db.day import DayJob
from niddy.studio import batches, due, plan, tubes
from niddy.studio.batches import BegunSince
from niddy.studio.day.begun import begun as begun_elsewhere
from niddy.studio.day.cleaned import job_of, pace
from niddy.studio.day.done import DoneLine, done_on
from niddy.studio.day.hours import hours_of
from niddy.studio.day.jobs import AT_SLAB, PAGES, WHAT, JobKind, Known, known_of, known_of_batch, rows_of
from niddy.studio.sticks import several as pots_named

LATER_DAYS = 7
LATER_SHOWN = 12


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
class Later:
    """Something that falls due in the days after."""

    what: str
    name: str
    at: datetime
    page: str


@dataclass(frozen=True, slots=True)
class DayView:
    """A day: its hours, its lines in the order of the clock, what does not fit, what is done, and the cleaning.

    `order_by_hand` says that somebody chose the order, `order_says` what that costs.
    """

    on_date: date
    today: bool
    now: datetime
    now_min: float
    start_min: int
    end_min: int
    breaks: tuple[core.Break, ...]
    slabs: int
    lines: tuple[DayLine, ...]
    left_over: tuple[DayLine, ...]
    ticked: tuple[DayLine, ...]
    done: tuple[DoneLine, ...]
    later: tuple[Later, ...]
    order_by_hand: bool
    order_says: str
    cleaning: Figure
    best_cleaning_min: float
    work_min: float
    ends_min: float
    moved_min: float | None
    pace_says: str
    says: str


@dataclass(frozen=True, slots=True)
class _Put:
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


def view(session: Session, now: datetime, on_date: date | None, utc_offset_min: int) -> DayView:
    """A day as it is; today where none is named. `utc_offset_min` is how far the maker's clock is ahead of UTC."""
    here = now + timedelta(minutes=utc_offset_min)
    wanted = on_date or here.date()
    today = wanted == here.date()
    midnight = datetime.combine(wanted, datetime.min.time(), UTC) - timedelta(minutes=utc_offset_min)
    now_min = (now - midnight).total_seconds() / 60 if today else 0.0
    hours, slabs, chosen = hours_of(session, wanted)
    clock = _Clock(midnight, now_min, today)
    rows = rows_of(session, wanted)
    begun = batches.begun_since(session, min([midnight, *(row.put_at for row in rows)]))
    puts = _puts(session, rows, begun, today=today)
    waits = due.everything(session, now, timedelta(days=LATER_DAYS + 1) if today else _until(now, midnight))
    ends = midnight + timedelta(days=1)
    first = datetime.min.replace(tzinfo=UTC) if today else midnight
    falls = [wait for wait in waits if first <= wait.at < ends]
    if today:
        # What falls due later today stands there at its hour.
        falls += begun_elsewhere(session, now, midnight, {*(wait.page for wait in waits), *(put.page for put in puts)})
    errands = core.as_errands(falls)
    pace_now = pace(session)
    arranged = _arranged(puts, errands, hours, slabs, chosen, clock, pace_now)
    later = tuple(Later(wait.what, wait.name, wait.at, wait.page) for wait in waits if wait.at >= ends)
    return DayView(
        wanted, today, now, now_min, hours.start_min, hours.end_min, hours.breaks, slabs, arranged.lines,
        arranged.left_over, arranged.ticked, done_on(session, midnight, utc_offset_min), later[:LATER_SHOWN],
        chosen is not None, _order_says(arranged) if chosen is not None else "", arranged.cleaning, arranged.best_min,
        arranged.work_min, arranged.ends_min, None,
        _pace_says(pace_now), _says(arranged, hours),
    )  # fmt: skip


def _until(now: datetime, midnight: datetime) -> timedelta:
    return max(timedelta(0), midnight + timedelta(days=1) - now)


@dataclass(frozen=True, slots=True)
class _Clock:
    midnight: datetime
    now_min: float
    today: bool

    def minute(self, at: datetime) -> float:
        """A moment as minutes since this midnight."""
        return (at - self.midnight).total_seconds() / 60


def _puts(session: Session, rows: Sequence[DayJob], begun: tuple[BegunSince, ...], *, today: bool) -> list[_Put]:
    """The jobs put on, each with the batch that was begun for it; and on today batches open besides."""
    free = list(begun)
    to_fill = {one.number for one in tubes.to_fill(session)} if any(row.kind == JobKind.FILL for row in rows) else set()
    numbers = [row.ref for row in rows if row.kind == JobKind.STICKS]
    pots = {pot.number: pot for pot in pots_named(session, numbers)} if numbers else {}
    kept = {one.id for one in plan.saved(session)} if any(row.kind == JobKind.PLAN for row in rows) else set()
    puts = []
    for row in rows:
        kind, batch, status, done_at, known = JobKind(row.kind), None, "todo", None, known_of(row)
        page, says = PAGES[kind].format(ref=row.ref), ""
        if kind in AT_SLAB:
            batch = next((one for one in free if one.started_at >= row.put_at and _is_for(one, row)), None)
            if batch is not None:
                free.remove(batch)
                over = batch.status is Status.FINISHED
                status, done_at = ("done", batch.ended_at) if over else ("going", None)
                page = f"/batches/{batch.number}" if over else f"/slab/{batch.number}"
                known = known if over else replace(known, hazard=known_of_batch(session, batch.number).hazard)
            elif kind is JobKind.PLAN and row.ref not in kept:
                page, says = "/plan", "its kept plan was thrown away: plan it anew, or take it off"
        elif kind is JobKind.FILL and row.ref not in to_fill:
            status = "done"
        elif kind is JobKind.STICKS and row.ref in pots:
            status = "todo" if pots[row.ref].status == Status.OPEN else "done"
        puts.append(
            _Put(f"job-{row.id}", kind, row.name, WHAT[kind], says, page, known, kind in AT_SLAB, status, done_at,
                 str(row.id), batch)
        )  # fmt: skip
    if today:
        for one in free:
            if one.status is Status.OPEN:
                puts.append(
                    _Put(f"batch-{one.number}", "batch", f"{one.name}, batch {one.number}", "go on with", "on the slab",
                         f"/slab/{one.number}", known_of_batch(session, one.number), True, "going", None, None, one)
                )  # fmt: skip
    return puts


def _is_for(batch: BegunSince, row: DayJob) -> bool:
    """Whether a batch is what a job of the day asked for."""
    match JobKind(row.kind):
        case JobKind.PLAN:
            return batch.kept_id == row.ref
        case JobKind.RECIPE:
            return batch.recipe_id == row.ref
        case _:
            return row.ref in batch.lot_ids


@dataclass(frozen=True, slots=True)
class _Arranged:
    lines: tuple[DayLine, ...]
    left_over: tuple[DayLine, ...]
    ticked: tuple[DayLine, ...]
    cleaning: Figure
    best_min: float
    work_min: float
    ends_min: float


def _job(put: _Put, clock: _Clock) -> Job:
    """A job as the order needs it; one that was begun has only what is left of it."""
    minutes = put.known.minutes
    if put.status == "going" and put.batch is not None and clock.today:
        ran = clock.now_min - clock.minute(put.batch.started_at)
        minutes = core.left_min(minutes, ran)
    known = put.known
    return Job(put.key, minutes, known.lightness, known.staining, known.oil, known.hazard)


def _arranged(
    puts: list[_Put], errands: tuple[Due, ...], hours: Hours, slabs: int, chosen: list[str] | None, clock: _Clock,
    pace_now: Pace,
) -> _Arranged:  # fmt: skip
    by_key = {put.key: put for put in puts}
    at_slab = [put for put in puts if put.at_slab and put.status != "done"]
    jobs = {put.key: _job(put, clock) for put in at_slab}
    going = [key for key in jobs if by_key[key].status == "going"]
    on_slab = jobs[going[-1]] if going else None
    rest = [job for job in jobs.values() if job is not on_slab]
    orders = core.share_out(rest, min(slabs, max(1, len(rest))), pace_now, on_slab)
    best = sum(order.total_cleaning_min for order in orders)
    ways = [
        [*([on_slab.key] if on_slab is not None and n == 0 else []), *core.as_chosen(order.order, chosen)]
        for n, order in enumerate(orders)
    ]  # fmt: skip
    waits = {f"due-{wait.room}-{wait.key}": wait for wait in errands}
    short = [
        *(Errand(put.key, put.known.minutes) for put in puts if not put.at_slab and put.status == "todo"),
        *(Errand(key, wait.takes_min or 0.0, max(0.0, clock.minute(wait.at))) for key, wait in waits.items()),
    ]
    tables: list[Timetable] = []
    for n, way in enumerate(ways):
        mine = short if n == 0 else []
        tables.append(
            core.timetable([jobs[key] for key in way], mine, hours, now_min=clock.now_min, pace=pace_now)
        )  # fmt: skip
    lines: list[DayLine] = []
    left: list[DayLine] = []
    for n, table in enumerate(tables):
        for slot in table.slots:
            line = _line(slot.key, by_key, waits, jobs, n)
            lines.append(
                replace(line, start_min=slot.start_min, end_min=slot.end_min, cleaning_min=slot.cleaning_min)
            )  # fmt: skip
        for key in table.left_over:
            line = _line(key, by_key, waits, jobs, n)
            left.append(replace(line, says=NO_STRETCH if line.minutes > core.longest_stretch(hours) else ""))
    ticked = [
        replace(_line(put.key, by_key, waits, {}, 0), done_min=clock.minute(put.done_at) if put.done_at else None)
        for put in puts if put.status == "done"
    ]  # fmt: skip
    shown = sorted(lines, key=lambda line: (line.start_min or 0.0, line.slab))
    cleaning = core.cleaning_figure(
        [[jobs[key] for key in way] for way in ways], {key: put.name for key, put in by_key.items()}, pace_now
    )
    return _Arranged(
        tuple(shown), tuple(left), tuple(ticked), cleaning, best, sum(line.minutes for line in shown),
        max((table.ends_min for table in tables), default=0.0),
    )  # fmt: skip


NO_STRETCH = "longer than any stretch of the day"


def _order_says(arranged: _Arranged) -> str:
    more = arranged.cleaning.value - arranged.best_min
    if more < 0.5:
        return "Your own order, as good as the best."
    return f"Your own order: {more:.0f} min more cleaning than the best."


def _line(
    key: str, by_key: dict[str, _Put], waits: dict[str, Due], jobs: dict[str, Job], slab: int
) -> DayLine:  # fmt: skip
    if key in waits:
        wait = waits[key]
        what = f"{wait.what[:1].upper()}{wait.what[1:]}:"
        return DayLine(
            key, "due", what, wait.name, wait.says.removesuffix("."), wait.page, "", wait.takes_min or 0.0, "assumed",
            False, 0, False, "todo", None, None, 0.0, None, None, None,
        )  # fmt: skip
    put = by_key[key]
    minutes = jobs[key].minutes if key in jobs else put.known.minutes
    return DayLine(
        key, put.kind, put.what, put.name, put.says, put.page, put.known.masstone_srgb, minutes,
        put.known.minutes_say, put.at_slab, slab, put.known.hazard, put.status, None, None, 0.0, None, put.job_id,
        put.batch.number if put.batch is not None else None,
    )  # fmt: skip


def _pace_says(pace_now: Pace) -> str:
    if not pace_now.cleanings:
        return "Cleaning as assumed, until you noted some."
    usual = pace_now.by_staining[1]
    times = f"{pace_now.cleanings} {'cleaning' if pace_now.cleanings == 1 else 'cleanings'} noted"
    if 0.95 <= usual <= 1.05:
        return f"You clean about as fast as assumed ({times})."
    return f"Your cleaning takes {usual:.1f} times what is assumed ({times})."


def _says(arranged: _Arranged, hours: Hours) -> str:
    """The day in one line."""
    if not arranged.lines and not arranged.left_over:
        return "Nothing is on this day yet."
    if arranged.left_over:
        many = len(arranged.left_over)
        verb = "does" if many == 1 else "do"
        return f"{many} {'thing' if many == 1 else 'things'} {verb} not fit before {core.said(hours.end_min)}."
    return f"All of it is done about {core.said(arranged.ends_min)}."


def following_job(session: Session, now: datetime, utc_offset_min: int) -> Job | None:
    """What comes next at the slab today, or None where nothing does."""
    seen = view(session, now, None, utc_offset_min)
    for row in rows_of(session, seen.on_date):
        line = next((line for line in seen.lines if line.job_id == str(row.id) and line.at_slab), None)
        if line is not None and line.slab == 0 and line.status == "todo":
            return replace(job_of(0, known_of(row)), key=line.key)
    return None
