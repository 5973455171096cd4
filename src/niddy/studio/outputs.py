"""What jobs made: lots, and paint in tubes and jars. With what they drew, it is the lineage of everything."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import ColumnExpressionArgument, func, select
from sqlalchemy.orm import Session

from niddy.db.base import table_of
from niddy.db.log import Job, Output


@dataclass(frozen=True, slots=True)
class Made:
    """An amount a job made: of a lot in g or pieces, or of a tube or jar in ml."""

    job_id: int
    lot_id: int | None
    item_id: int | None
    amount: float


@dataclass(frozen=True, slots=True)
class JobNamed:
    """A job as others name it: its room, the room's number, its name."""

    id: int
    room: str
    number: int
    name: str


def note(
    session: Session,
    job_id: int,
    at: datetime,
    amount: float,
    *,
    lot_id: int | None = None,
    item_id: int | None = None,
    act_id: UUID | None = None,
) -> None:
    """Note that a job made so much of a lot, or of what is in a tube or jar."""
    session.add(Output(job_id=job_id, act_id=act_id, lot_id=lot_id, item_id=item_id, amount=amount, at=at))
    session.flush()


def of_jobs(session: Session, job_ids: list[int]) -> tuple[Made, ...]:
    """What some jobs made."""
    return _made(session, Output.job_id.in_(job_ids))


def of_lots(session: Session, lot_ids: list[int]) -> tuple[Made, ...]:
    """Which jobs made some lots."""
    return _made(session, Output.lot_id.in_(lot_ids))


def of_items(session: Session, item_ids: list[int]) -> tuple[Made, ...]:
    """Which jobs made what is in some tubes and jars."""
    return _made(session, Output.item_id.in_(item_ids))


def _made(session: Session, where: ColumnExpressionArgument[bool]) -> tuple[Made, ...]:
    rows = session.execute(
        select(Output.job_id, Output.lot_id, Output.item_id, func.sum(Output.amount), func.min(Output.id))
        .where(where)
        .group_by(Output.job_id, Output.lot_id, Output.item_id)
        .order_by(func.min(Output.id))
    )
    return tuple(Made(job_id, lot_id, item_id, float(amount)) for job_id, lot_id, item_id, amount, _ in rows)


def jobs_named(session: Session, job_ids: list[int]) -> dict[int, JobNamed]:
    """Some jobs by their ids."""
    job = table_of(Job).c
    rows = session.execute(select(job.id, job.room, job.number, job.name).where(job.id.in_(job_ids)))
    return {row.id: JobNamed(row.id, row.room, row.number, row.name) for row in rows}
