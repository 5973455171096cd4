"""Cleaning noted at the slab, and the pace it teaches."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID, uuid5

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core.day import Cleaned, Job, Pace, cleaning_min, end_min, pace_of
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.day import SlabCleaning
from niddy.studio import batches, slab
from niddy.studio.day.jobs import Known, known_of_batch
from niddy.studio.errors import Conflict

LONGEST_MIN = 180.0
"""Who taps later than this after a batch did something else in between: the clock says nothing of cleaning."""

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


def note(session: Session, now: datetime, asked: CleanedAsked, following: Job | None) -> float | None:
    """Note that the slab is clean after a batch, and how long that took; the minutes. `following` comes next at it.

    None where it was too long ago for the clock to tell: then the slab is clean, and nothing is learned. Sent again it
    is noted once. Raises Refused for a batch that is not over or for no minutes at all, Missing.
    """
    kept = batches.batch(session, asked.batch_number, 0)
    if kept.status is Status.OPEN or kept.ended_at is None:
        raise Refused("batch_number", f"batch {asked.batch_number} is {kept.status}", "a batch that is over")
    minutes = asked.minutes if asked.minutes is not None else (now - kept.ended_at).total_seconds() / 60
    if minutes <= 0:
        raise Refused("minutes", "it ended this minute", f"the minutes it took, from 1 to {LONGEST_MIN:.0f}")
    if not kept.paste.cleaned:
        said = {"id": uuid5(asked.id, "cleaned"), "kind": "cleaned", "made_at": now}
        slab.record(session, now, asked.batch_number, slab.act_of(said))
    if minutes > LONGEST_MIN:
        return None
    before = job_of(asked.batch_number, known_of_batch(session, asked.batch_number))
    expected = end_min(before) if following is None else cleaning_min(before, following)
    made = session.execute(
        insert_once(table_of(SlabCleaning))
        .values(
            act_id=asked.id,
            batch_number=asked.batch_number,
            minutes=minutes,
            expected_min=expected,
            staining=before.staining,
            at=now,
        )
        .on_conflict_do_nothing()
        .returning(SlabCleaning.id)
    ).first()
    if made is None and session.scalar(select(SlabCleaning.id).where(SlabCleaning.act_id == asked.id)) is None:
        raise Conflict("batch_number", "its cleaning is noted already", "once a batch")
    return minutes
