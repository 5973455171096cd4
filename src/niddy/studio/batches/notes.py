"""What other rooms note beside a batch."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.slab import Status
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.studio import log
from niddy.studio.batches.kept import job_of
from niddy.studio.errors import Missing

_BATCH = table_of(Batch)


def note_results(session: Session, number: int, results: dict[str, Any]) -> None:
    """Keep the means of a batch's checks beside it; other windows hear of it."""
    session.execute(update(_BATCH).where(_BATCH.c.number == number).values(results=results))
    log.tell(session, job_of(session, number))


def note_release(session: Session, number: int, release: str | None) -> None:
    """Keep what was decided about a batch beside it; nothing once it is taken up again."""
    session.execute(update(_BATCH).where(_BATCH.c.number == number).values(release=release))
    log.tell(session, job_of(session, number))


def note_use_by(session: Session, number: int, use_by: date | None) -> None:
    """Keep the last day a batch may be used; nothing where nothing in it spoils."""
    session.execute(update(_BATCH).where(_BATCH.c.number == number).values(use_by=use_by))


@dataclass(frozen=True, slots=True)
class Keeping:
    """How long a batch may be kept, and when and why it was thrown away."""

    use_by: date | None
    discarded_at: datetime | None
    discarded_why: str | None


def keeping(session: Session, number: int) -> Keeping:
    """The use-by of a batch, and whether it was discarded. Raises Missing."""
    row = session.execute(
        select(Batch.use_by, Batch.discarded_at, Batch.discarded_why).where(Batch.number == number)
    ).first()
    if row is None:
        raise Missing("batch", number)
    return Keeping(row.use_by, row.discarded_at, row.discarded_why)


def discard(session: Session, now: datetime, number: int, why: str) -> None:
    """Note that what is left of a finished batch was thrown away. Raises Refused, Missing."""
    row = session.scalar(select(Batch).where(Batch.number == number).with_for_update())
    if row is None:
        raise Missing("batch", number)
    if row.status != Status.FINISHED:
        raise Refused("number", f"this batch is {row.status}", "a finished batch")
    if row.discarded_at is not None:
        raise Refused("number", "it was discarded already", "a batch that is still kept")
    if not why.strip():
        raise Refused("why", "empty", "why it is thrown away")
    row.discarded_at, row.discarded_why = now, why.strip()
    session.flush()


def note_tubes(session: Session, number: int, tubes: int) -> None:
    """How many tubes were really filled from a batch: from the first on, this is the count."""
    session.execute(update(_BATCH).where(_BATCH.c.number == number).values(tubes_counted=tubes))


def note_late(session: Session, number: int, acts: int) -> None:
    """How many acts of a batch came late and wait."""
    session.execute(update(_BATCH).where(_BATCH.c.number == number).values(late_waiting=acts))


def note_lot(session: Session, number: int, lot_id: int) -> None:
    """A lot that went into a batch beside its plan is one of its lots."""
    session.execute(
        update(_BATCH)
        .where(_BATCH.c.number == number, ~_BATCH.c.lot_ids.contains([lot_id]))
        .values(lot_ids=func.array_append(_BATCH.c.lot_ids, lot_id))
    )
