"""What stands in the room: runs that go on or were finished last; and all of it that waits for a day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.due import Due
from niddy.core.log import Status
from niddy.core.making import Takes
from niddy.db.making import PigmentRun
from niddy.studio.making.parts import dry_seen
from niddy.studio.making.runs import RunKept, several, theory_g

SHOWN = 20


@dataclass(frozen=True, slots=True)
class RunAtRoom:
    """A run as the room and home show it: what it asks for, or what it came to."""

    number: int
    name: str
    process_id: int
    status: Status
    started_at: datetime
    says: str
    ready_at: datetime | None
    yield_g: float | None
    takes: Takes | None
    light_due_at: datetime | None


@dataclass(frozen=True, slots=True)
class RunNamed:
    """A run as lineage names it."""

    job_id: int
    number: int
    name: str
    status: Status
    started_at: datetime


def at_room(session: Session, now: datetime) -> tuple[RunAtRoom, ...]:
    """The runs of the room, those that go on first."""
    rows = session.scalars(
        select(PigmentRun).order_by(PigmentRun.status != Status.OPEN, PigmentRun.number.desc()).limit(SHOWN)
    ).all()
    return tuple(_line(kept, now) for kept in several(session, rows))


def at_home(session: Session, now: datetime) -> tuple[RunAtRoom, ...]:
    """The runs that go on, and those whose light test is to be looked at."""
    rows = session.scalars(
        select(PigmentRun)
        .where(or_(PigmentRun.status == Status.OPEN, PigmentRun.light_due_at <= now))
        .order_by(PigmentRun.number.desc())
        .limit(SHOWN)
    ).all()
    return tuple(_line(kept, now) for kept in several(session, rows))


def _line(kept: RunKept, now: datetime) -> RunAtRoom:
    says, ready = _now(kept, now)
    light = kept.run.light
    return RunAtRoom(
        kept.number,
        kept.name,
        kept.process_id,
        kept.status,
        kept.started_at,
        says,
        ready,
        kept.run.yield_g,
        kept.run.takes,
        core.next_look(light) if light is not None else None,
    )


def _now(kept: RunKept, now: datetime) -> tuple[str, datetime | None]:
    """What a run asks for, and until when it may be left alone."""
    if kept.status is Status.ABANDONED:
        return "given up", None
    if kept.status is Status.FINISHED:
        share = theory_g(kept)
        grams = kept.run.yield_g or 0.0
        return f"{grams:.1f} g" + (f", {100 * grams / share:.0f} % of theory" if share else ""), None
    advice = core.advise(kept.process, kept.plan.weigh, kept.run, kept.wash_ml, now)
    ready = advice.ready_at
    if ready is None and advice.step is not None and advice.step.kind is core.StepKind.DRY:
        dry = dry_seen(kept)
        ready = dry.ready_at if dry is not None else None
    return advice.says, ready


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Holds that end, powder that will be dry, light tests to be looked at."""
    rows = session.scalars(
        select(PigmentRun).where(or_(PigmentRun.status == Status.OPEN, PigmentRun.light_due_at.is_not(None)))
    ).all()
    found = []
    for kept in several(session, rows):
        page = f"/making/runs/{kept.number}"
        says, ready = _now(kept, now)
        if kept.status is Status.OPEN and ready is not None:
            found.append(Due("making", f"run-{kept.number}", "ready for the next step", kept.name, says, ready, page))
        light = core.next_look(kept.run.light) if kept.run.light is not None else None
        if light is not None:
            found.append(
                Due(
                    "making",
                    f"light-{kept.number}",
                    "light test",
                    kept.name,
                    "lift the cover and look at both halves",
                    light,
                    page,
                )
            )
    return tuple(found)


def runs_named(session: Session, numbers: list[int]) -> tuple[RunNamed, ...]:
    """Some runs by their numbers."""
    rows = session.scalars(select(PigmentRun).where(PigmentRun.number.in_(numbers)))
    return tuple(RunNamed(row.job_id, row.number, row.name, Status(row.status), row.started_at) for row in rows)
