"""What dishes came from, and what went into dishes: for the lineage of everything."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import ColumnExpressionArgument, select
from sqlalchemy.orm import Session

from niddy.db.sludge import SludgeDish, SludgeSource


@dataclass(frozen=True, slots=True)
class Source:
    """Something that was washed into the sludge of a dish: a lot, a tube or jar, or a batch by its job."""

    job_id: int
    lot_id: int | None
    item_id: int | None
    of_job_id: int | None


@dataclass(frozen=True, slots=True)
class DishNamed:
    """A dish as lineage names it."""

    number: int
    job_id: int
    name: str
    status: str
    started_at: datetime


def came_from(session: Session, job_ids: list[int]) -> tuple[Source, ...]:
    """What some dishes came from."""
    return _sources(session, SludgeSource.job_id.in_(job_ids))


def went_in(
    session: Session,
    *,
    lot_ids: list[int] | None = None,
    item_ids: list[int] | None = None,
    job_ids: list[int] | None = None,
) -> tuple[Source, ...]:
    """The dishes that some lots, tubes and jars, or batches were washed into."""
    if lot_ids is not None:
        return _sources(session, SludgeSource.lot_id.in_(lot_ids))
    if item_ids is not None:
        return _sources(session, SludgeSource.item_id.in_(item_ids))
    return _sources(session, SludgeSource.of_job_id.in_(job_ids or []))


def _sources(session: Session, where: ColumnExpressionArgument[bool]) -> tuple[Source, ...]:
    rows = session.scalars(select(SludgeSource).where(where).order_by(SludgeSource.id))
    return tuple(Source(row.job_id, row.lot_id, row.item_id, row.of_job_id) for row in rows)


def dishes_named(session: Session, numbers: list[int]) -> tuple[DishNamed, ...]:
    """Some dishes by their numbers."""
    rows = session.scalars(select(SludgeDish).where(SludgeDish.number.in_(numbers)))
    return tuple(DishNamed(row.number, row.job_id, row.name, row.status, row.started_at) for row in rows)
