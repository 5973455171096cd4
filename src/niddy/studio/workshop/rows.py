"""What every thing of the workshop has: a name of its own."""

from __future__ import annotations

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.workshop import Muller, OwnMeasure, Slab, TubeType


def named(name: str) -> str:
    """A name that says something. Raises Refused."""
    name = name.strip()
    if not name:
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    return name


def kept(session: Session, row: Slab | Muller | TubeType | OwnMeasure) -> int:
    """Keep a row; its id. Raises Refused for a name that another has."""
    name = row.name
    session.add(row)
    try:
        session.flush()
    except IntegrityError:
        raise Refused("name", f"'{name}' is in use already", "a name of its own") from None
    return row.id
