"""Paints known by their colour: a batch, tube or jar becomes one as soon as a colour is read of it."""

from __future__ import annotations

from datetime import datetime
from functools import cache
from uuid import NAMESPACE_OID, uuid5

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core.colorimetry import Lab
from niddy.core.mixing.paints import READER_OFF
from niddy.core.mixing.seeing import Viewer, of_spectra
from niddy.db.base import table_of
from niddy.db.mixing import MixingPaint, MixingReading
from niddy.reference import observer

_PAINT = table_of(MixingPaint)


@cache
def viewer() -> Viewer:
    """Who looks: the 2 degree observer under D50. One and the same, so that what it saw is found again."""
    return of_spectra(observer())


def know_batch(session: Session, now: datetime, number: int, name: str, tinting: str, swatch_srgb: str) -> int:
    """The paint a batch is, made known where it was not; its id."""
    return _known(session, now, {"batch_number": number}, name, tinting, swatch_srgb)


def know_item(session: Session, now: datetime, item_id: int, name: str, swatch_srgb: str) -> int:
    """The paint a tube or jar of no known batch is, made known where it was not; its id."""
    return _known(session, now, {"item_id": item_id}, name, "medium", swatch_srgb)


def read_item(session: Session, now: datetime, item_id: int, lab: Lab) -> None:
    """Keep the masstone that was read of a tube or jar when it was found, once."""
    paint_id = of_item(session, item_id)
    facts = {"lab": [lab.L, lab.a, lab.b], "off": READER_OFF}
    session.execute(
        insert_once(table_of(MixingReading))
        .values(
            id=uuid5(NAMESPACE_OID, f"found/{item_id}"), paint_id=paint_id, kind="masstone", facts=facts, made_at=now
        )
        .on_conflict_do_nothing(index_elements=["id"])
    )


def read_of_item(session: Session, item_id: int) -> Lab | None:
    """The masstone last read of a tube or jar, of those that count."""
    facts = session.scalar(
        select(MixingReading.facts)
        .join(MixingPaint, MixingPaint.id == MixingReading.paint_id)
        .where(MixingPaint.item_id == item_id, MixingReading.kind == "masstone", MixingReading.set_aside.is_(None))
        .order_by(MixingReading.made_at.desc())
        .limit(1)
    )
    return Lab(*facts["lab"]) if facts is not None else None


def read_anew(session: Session, paint_id: int | None) -> None:
    """Tell the Colour room that what is read of a paint changed (of any, where None): strengths are beside readings."""
    # The room stands on checks and shelf, which tell it here.
    from niddy.studio.mixing.teaching import learn_anew

    learn_anew(session, paint_id)


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
