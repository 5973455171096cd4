"""Numbers of a room's jobs: one after the other, none left out and none given twice."""

from __future__ import annotations

from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.db.base import table_of
from niddy.db.log import Numbering

_NUMBERING = table_of(Numbering)


def next_number(session: Session, room: str) -> int:
    """The next number of a room, whose counter is held until the transaction ends: none is left out."""
    given = insert_once(_NUMBERING).values(room=room, last=1)
    given = given.on_conflict_do_update(index_elements=["room"], set_={"last": _NUMBERING.c.last + 1})
    return int(session.execute(given.returning(_NUMBERING.c.last)).scalar_one())


def number_next(session: Session, room: str, number: int) -> None:
    """The job of a room that begins next gets this number."""
    given = insert_once(_NUMBERING).values(room=room, last=number - 1)
    session.execute(given.on_conflict_do_update(index_elements=["room"], set_={"last": number - 1}))
