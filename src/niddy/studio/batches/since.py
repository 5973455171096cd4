"""Batches begun since a moment, as whoever waits for one of them knows it again."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from niddy.core.slab import Status
from niddy.db.batches import Batch


@dataclass(frozen=True, slots=True)
class BegunSince:
    """A batch with what it was begun from: a kept plan, a recipe, lots."""

    number: int
    name: str
    masstone_srgb: str
    status: Status
    started_at: datetime
    ended_at: datetime | None
    kept_id: int | None
    recipe_id: int | None
    lot_ids: tuple[int, ...]


OPEN_SHOWN = 20


def begun_since(session: Session, since: datetime) -> tuple[BegunSince, ...]:
    """Batches begun since a moment, and those that are open still, the oldest first; given up ones left out."""
    rows = session.execute(
        select(
            Batch.number,
            Batch.name,
            Batch.masstone_srgb,
            Batch.status,
            Batch.started_at,
            Batch.ended_at,
            Batch.asked["kept_id"].astext.label("kept"),
            Batch.recipe_id,
            Batch.lot_ids,
        )
        .where(or_(Batch.started_at >= since, Batch.status == Status.OPEN), Batch.status != Status.ABANDONED)
        .order_by(Batch.started_at)
        .limit(400)
    )
    return tuple(
        BegunSince(
            row.number,
            row.name,
            row.masstone_srgb,
            Status(row.status),
            row.started_at,
            row.ended_at,
            int(row.kept) if row.kept else None,
            row.recipe_id,
            tuple(row.lot_ids),
        )
        for row in rows
    )


SESSION_LONGEST_MIN = 600


def session_minutes(session: Session, recipe_id: int, last: int = 5) -> list[float]:
    """How many minutes the last finished batches of a recipe took from first to last act, where within a day's work."""
    rows = session.execute(
        select(Batch.started_at, Batch.ended_at)
        .where(Batch.recipe_id == recipe_id, Batch.status == Status.FINISHED, Batch.ended_at.is_not(None))
        .order_by(Batch.number.desc())
        .limit(last * 2)
    )
    took = [(row.ended_at - row.started_at).total_seconds() / 60 for row in rows if row.ended_at is not None]
    return [minutes for minutes in took if 5 <= minutes <= SESSION_LONGEST_MIN][:last]
