"""The day as one view: jobs put on it and what falls due, in an order, with clock times, and what no longer fits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core import day as core
from niddy.core.day import Hours, Job, Pace
from niddy.core.figure import Figure
from niddy.core.log import Status
from niddy.db.day import DayJob
from niddy.studio import batches, due, plan, tubes
from niddy.studio.batches import BegunSince
from niddy.studio.day.arranging import Arranged, Clock, DayLine, Put, arranged_jobs, order_says
from niddy.studio.day.begun import begun as begun_elsewhere
from niddy.studio.day.cleaned import job_of, pace
from niddy.studio.day.crafts import CRAFTS, NEW, worked
from niddy.studio.day.crafts import done_at as craft_done_at
from niddy.studio.day.done import DoneLine, done_on
from niddy.studio.day.hours import hours_of
from niddy.studio.day.jobs import AT_SLAB, WHAT, JobKind, known_of, known_of_batch, page_of, rows_of
from niddy.studio.remembered import remembered
from niddy.studio.sticks import several as pots_named

LATER_DAYS = 7
LATER_SHOWN = 12


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


def view(session: Session, now: datetime, on_date: date | None, utc_offset_min: int) -> DayView:
    """A day as it is; today where none is named. `utc_offset_min` is how far the maker's clock is ahead of UTC."""
    of = ("day", on_date, utc_offset_min)
    return replace(remembered(session, now, of, lambda: _view(session, now, on_date, utc_offset_min)), now=now)


def _view(session: Session, now: datetime, on_date: date | None, utc_offset_min: int) -> DayView:
    here = now + timedelta(minutes=utc_offset_min)
    wanted = on_date or here.date()
    today = wanted == here.date()
    midnight = datetime.combine(wanted, datetime.min.time(), UTC) - timedelta(minutes=utc_offset_min)
    now_min = (now - midnight).total_seconds() / 60 if today else 0.0
    hours, slabs, chosen = hours_of(session, wanted)
    clock = Clock(midnight, now_min, today)
    rows = rows_of(session, wanted)
    begun = batches.begun_since(session, min([midnight, *(row.put_at for row in rows)]))
    puts = _puts(session, rows, begun, midnight, today=today)
    waits = due.everything(session, now, timedelta(days=LATER_DAYS + 1) if today else _until(now, midnight))
    ends = midnight + timedelta(days=1)
    first = datetime.min.replace(tzinfo=UTC) if today else midnight
    falls = [wait for wait in waits if first <= wait.at < ends]
    if today:
        # What falls due later today stands there at its hour.
        falls += begun_elsewhere(session, now, midnight, {*(wait.page for wait in waits), *(put.page for put in puts)})
    errands = core.as_errands(falls)
    pace_now = pace(session)
    arranged = arranged_jobs(puts, errands, hours, slabs, chosen, clock, pace_now)
    later = tuple(Later(wait.what, wait.name, wait.at, wait.page) for wait in waits if wait.at >= ends)
    return DayView(
        wanted,
        today,
        now,
        now_min,
        hours.start_min,
        hours.end_min,
        hours.breaks,
        slabs,
        arranged.lines,
        arranged.left_over,
        arranged.ticked,
        done_on(session, midnight, utc_offset_min),
        later[:LATER_SHOWN],
        chosen is not None,
        order_says(arranged) if chosen is not None else "",
        arranged.cleaning,
        arranged.best_min,
        arranged.work_min,
        arranged.ends_min,
        None,
        _pace_says(pace_now),
        _says(arranged, hours),
    )


def _until(now: datetime, midnight: datetime) -> timedelta:
    return max(timedelta(0), midnight + timedelta(days=1) - now)


def _puts(
    session: Session, rows: Sequence[DayJob], begun: tuple[BegunSince, ...], midnight: datetime, *, today: bool
) -> list[Put]:
    """The jobs put on, each with the batch that was begun for it; and on today batches open besides."""
    free = list(begun)
    to_fill = {one.number for one in tubes.to_fill(session)} if any(row.kind == JobKind.FILL for row in rows) else set()
    numbers = [row.ref for row in rows if row.kind == JobKind.STICKS]
    pots = {pot.number: pot for pot in pots_named(session, numbers)} if numbers else {}
    kept = {one.id for one in plan.saved(session)} if any(row.kind == JobKind.PLAN for row in rows) else set()
    rooms = {CRAFTS[row.kind].room for row in rows if row.kind in CRAFTS}
    rooms |= {room for row in rows if row.kind == JobKind.NEW for room in NEW[row.ref].rooms}
    seen = worked(session, midnight, rooms)
    puts = []
    for row in rows:
        kind, batch, status, done_at, known = JobKind(row.kind), None, "todo", None, known_of(row)
        page, says = page_of(kind, row.ref), ""
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
        elif kind is JobKind.NEW or kind in CRAFTS:
            done_at = craft_done_at(kind, row.ref, row.put_at, seen)
            status = "done" if done_at is not None else "todo"
        elif kind is JobKind.STICKS and row.ref in pots:
            status = "todo" if pots[row.ref].status == Status.OPEN else "done"
        puts.append(
            Put(
                f"job-{row.id}",
                kind,
                row.name,
                WHAT[kind],
                says,
                page,
                known,
                kind in AT_SLAB,
                status,
                done_at,
                str(row.id),
                batch,
            )
        )
    if today:
        for one in free:
            if one.status is Status.OPEN:
                puts.append(
                    Put(
                        f"batch-{one.number}",
                        "batch",
                        f"{one.name}, batch {one.number}",
                        "go on with",
                        "",
                        f"/slab/{one.number}",
                        known_of_batch(session, one.number),
                        True,
                        "going",
                        None,
                        None,
                        one,
                    )
                )
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


def _pace_says(pace_now: Pace) -> str:
    if not pace_now.cleanings:
        return "Cleaning times are guesses until you note one."
    usual = pace_now.by_staining[1]
    times = f"{pace_now.cleanings} {'cleaning' if pace_now.cleanings == 1 else 'cleanings'} noted"
    if 0.95 <= usual <= 1.05:
        return f"You clean about as fast as assumed ({times})."
    return f"Your cleaning takes {usual:.1f} times what is assumed ({times})."


def _says(arranged: Arranged, hours: Hours) -> str:
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
