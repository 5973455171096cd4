"""Cleaning noted at the slab, and the pace it teaches."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core.day import Cleaned, Job, Pace, cleaning_min, end_min, pace_of
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.day import SlabCleaning
from niddy.studio import batches
from niddy.studio.day.jobs import Known, known_of_batch
from niddy.studio.documents import Document, RowId
from niddy.studio.errors import Conflict

LONGEST_MIN = 180.0
"""Who taps later than this after a batch did something else in between; nobody is asked any more."""

LEARNS_FROM = 200


class CleanedAsked(Document):
    """The slab is clean after a batch: now, or after so many minutes where somebody knows them."""

    id: UUID
    batch_number: RowId
    minutes: Annotated[float, Field(strict=True, gt=0, le=LONGEST_MIN)] | None = None


def pace(session: Session) -> Pace:
    """How long this studio cleans, from what was noted."""
    rows = session.execute(
        select(SlabCleaning.minutes, SlabCleaning.expected_min, SlabCleaning.staining)
        .order_by(SlabCleaning.at.desc())
        .limit(LEARNS_FROM)
    )
    return pace_of([Cleaned(minutes, expected, staining) for minutes, expected, staining in rows])


def job_of(number: int, known: Known) -> Job:
    """A job of the day's order from what is known of it."""
    return Job(f"batch-{number}", known.minutes, known.lightness, known.staining, known.oil, known.hazard)


def note(session: Session, now: datetime, asked: CleanedAsked, following: Job | None) -> float:
    """Note how long cleaning after a batch took; the minutes. `following` is what comes next at that slab.

    Sent again it is noted once. Raises Refused for a batch that is not finished or was finished long ago, Missing.
    """
    kept = batches.batch(session, asked.batch_number, 0)
    if kept.status is not Status.FINISHED or kept.ended_at is None:
        raise Refused("batch_number", f"batch {asked.batch_number} is {kept.status}", "a batch that is finished")
    minutes = asked.minutes if asked.minutes is not None else (now - kept.ended_at).total_seconds() / 60
    if not 0 < minutes <= LONGEST_MIN:
        raise Refused(
            "minutes", f"{minutes:.0f} min since it was finished", f"the minutes it took, from 1 to {LONGEST_MIN:.0f}"
        )
    before = job_of(asked.batch_number, known_of_batch(session, asked.batch_number))
    expected = end_min(before) if following is None else cleaning_min(before, following)
    made = session.execute(
        insert_once(table_of(SlabCleaning))
        .values(act_id=asked.id, batch_number=asked.batch_number, minutes=minutes, expected_min=expected,
                staining=before.staining, at=now)
        .on_conflict_do_nothing()
        .returning(SlabCleaning.id)
    ).first()  # fmt: skip
    if made is None and session.scalar(select(SlabCleaning.id).where(SlabCleaning.act_id == asked.id)) is None:
        raise Conflict("batch_number", "its cleaning is noted already", "once a batch")
    return minutes


def to_clean(session: Session, now: datetime) -> int | None:
    """The batch after which the slab is still to be cleaned, or None: nothing was begun or noted since it ended."""
    last = batches.finished_last(session)
    if last is None or not timedelta(0) <= now - last[1] <= timedelta(minutes=LONGEST_MIN):
        return None
    noted = session.scalar(select(SlabCleaning.id).where(SlabCleaning.batch_number == last[0]))
    return last[0] if noted is None else None
