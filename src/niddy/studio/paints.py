"""Paints known by their colour: a batch, tube or jar becomes one as soon as a colour is read of it."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.db.base import table_of
from niddy.db.mixing import MixingPaint

_PAINT = table_of(MixingPaint)


def know_batch(session: Session, now: datetime, number: int, name: str, tinting: str, swatch_srgb: str) -> int:
    """The paint a batch is, made known where it was not; its id."""
    return _known(session, now, {"batch_number": number}, name, tinting, swatch_srgb)


def know_item(session: Session, now: datetime, item_id: int, name: str, swatch_srgb: str) -> int:
    """The paint a tube or jar of no known batch is, made known where it was not; its id."""
    return _known(session, now, {"item_id": item_id}, name, "medium", swatch_srgb)


def of_batch(session: Session, number: int) -> int | None:
    """The paint a batch is, where it is known as one."""
    return session.scalar(select(MixingPaint.id).where(MixingPaint.batch_number == number))


def of_item(session: Session, item_id: int) -> int | None:
    """The paint a tube or jar is, where it is known as one."""
    return session.scalar(select(MixingPaint.id).where(MixingPaint.item_id == item_id))


def _known(session: Session, now: datetime, of: dict[str, int], name: str, tinting: str, swatch_srgb: str) -> int:
    ((column, key),) = of.items()
    session.execute(
        insert_once(_PAINT)
        .values(**of, name=name, tinting=tinting, swatch_srgb=swatch_srgb, squares=0, retired=False, added_at=now)
        .on_conflict_do_nothing(index_elements=[column])
    )
    return int(session.execute(select(_PAINT.c.id).where(_PAINT.c[column] == key)).scalar_one())
