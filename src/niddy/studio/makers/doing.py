"""Who did what: work on a batch, a pot, a run, and changes beside them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core.log import said_of
from niddy.db.log import Act, Job
from niddy.db.makers import Change, Maker

SHOWN = 60


@dataclass(frozen=True, slots=True)
class DoneBy:
    """Something somebody did, when last, in words; `acts` where it was work that keeps a log."""

    at: datetime
    maker_id: int
    maker: str
    initials: str
    what: str
    acts: int


def note_change(session: Session, now: datetime, maker_id: int, what: str, address: str) -> None:
    """Keep that somebody changed something that has no log of its own."""
    session.add(Change(maker_id=maker_id, at=now, what=what[:200], address=address[:200]))


def of_log(session: Session, room: str, number: int) -> dict[UUID, str]:
    """Whose initials stand at each act of a log; acts of nobody who signed in are left out."""
    rows = session.execute(
        select(Act.id, Maker.initials)
        .join(Job, Job.id == Act.job_id)
        .join(Maker, Maker.id == Act.maker_id)
        .where(Job.room == room, Job.number == number)
    )
    return {row.id: row.initials for row in rows}


def made_by(session: Session, batches: list[int]) -> dict[int, str]:
    """The initials of who worked on each of some batches, who did most of it first."""
    rows = session.execute(
        select(Job.number, Maker.initials)
        .join(Act, Act.job_id == Job.id)
        .join(Maker, Maker.id == Act.maker_id)
        .where(Job.room == "slab", Job.number.in_(batches))
        .group_by(Job.number, Maker.id)
        .order_by(Job.number, func.count().desc(), Maker.id)
    )
    found: dict[int, str] = {}
    for row in rows:
        found[row.number] = f"{found[row.number]} {row.initials}" if row.number in found else row.initials
    return found


def done_by(session: Session, maker_id: int | None, before: datetime | None) -> tuple[DoneBy, ...]:
    """What was done, the last first, up to a moment: the work of a day on one thing is one line. Practice is no work.

    Of one maker, or of all.
    """
    day = func.date_trunc("day", Act.recorded_at)
    at = func.max(Act.recorded_at)
    acts = (
        select(at.label("at"), Act.maker_id, Job.room, Job.number, Job.name, func.count().label("acts"))
        .join(Job, Job.id == Act.job_id)
        .where(Act.maker_id.is_not(None), Job.room != "practice")
        .group_by(Act.maker_id, Job.id, day)
        .order_by(at.desc())
        .limit(SHOWN)
    )
    changes = select(Change.at, Change.maker_id, Change.what).order_by(Change.at.desc()).limit(SHOWN)
    if maker_id is not None:
        acts, changes = acts.where(Act.maker_id == maker_id), changes.where(Change.maker_id == maker_id)
    if before is not None:
        acts, changes = acts.where(Act.recorded_at < before), changes.where(Change.at < before)
    names = {row.id: row for row in session.execute(select(Maker.id, Maker.name, Maker.initials))}
    found = [
        DoneBy(
            row.at,
            row.maker_id,
            names[row.maker_id].name,
            names[row.maker_id].initials,
            ", ".join(filter(None, (row.name, said_of(row.room, row.number)))),
            row.acts,
        )
        for row in session.execute(acts)
    ] + [
        DoneBy(row.at, row.maker_id, names[row.maker_id].name, names[row.maker_id].initials, row.what, 0)
        for row in session.execute(changes)
    ]
    return tuple(sorted(found, key=lambda one: one.at, reverse=True)[:SHOWN])
