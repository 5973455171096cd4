"""Moulds for sticks, measured by the water they take or by their size."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.amounts import FaceMillimetres
from niddy.core.documents import Document
from niddy.core.errors import Refused, within
from niddy.core.words import Words
from niddy.db.sticks import StickMould
from niddy.studio.errors import Missing

SMALLEST_ML, LARGEST_ML = 0.1, 5_000.0


class MouldAsked(Document):
    """A mould: grams of water it takes to the brim, or its size inside: a round one, or a square one."""

    name: Annotated[Words, Field(max_length=60)]
    water_g: Annotated[float, Field(strict=True, ge=SMALLEST_ML, le=LARGEST_ML)] | None = None
    diameter_mm: FaceMillimetres | None = None
    side_mm: FaceMillimetres | None = None
    length_mm: Annotated[float, Field(strict=True, ge=1, le=1_000)] | None = None


@dataclass(frozen=True, slots=True)
class MouldKept:
    """A mould and the ml it takes."""

    id: int
    name: str
    ml: float


def ml_of(asked: MouldAsked) -> float:
    """What a mould takes. Raises Refused naming the field that is missing."""
    if asked.water_g is not None:
        return asked.water_g
    if asked.length_mm is None:
        raise Refused("water_g", "missing", "the grams of water it takes, or its size inside")
    if (asked.diameter_mm is None) == (asked.side_mm is None):
        raise Refused("diameter_mm", "exactly one of the two is needed", "the diameter of a round one, or a side")
    if asked.diameter_mm is not None:
        across = math.pi * (asked.diameter_mm / 2) ** 2
    else:
        assert asked.side_mm is not None
        across = asked.side_mm**2
    return within("length_mm", across * asked.length_mm / 1000, SMALLEST_ML, LARGEST_ML, "ml")


def moulds(session: Session) -> tuple[MouldKept, ...]:
    """The moulds in use, the smallest first."""
    rows = session.scalars(select(StickMould).where(~StickMould.retired).order_by(StickMould.ml, StickMould.id))
    return tuple(MouldKept(row.id, row.name, row.ml) for row in rows)


def add_mould(session: Session, asked: MouldAsked) -> int:
    """Keep a mould; its id. Raises Refused."""
    if not asked.name.strip():
        raise Refused("name", "empty", "a name of 1 to 60 characters")
    row = StickMould(name=asked.name.strip(), ml=ml_of(asked))
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{asked.name.strip()}' is kept already", "a name of its own") from None
    return row.id


def retire_mould(session: Session, mould_id: int) -> None:
    """Take a mould out of use; what was cast in it keeps its volume. Raises Missing."""
    row = session.get(StickMould, mould_id)
    if row is None:
        raise Missing("mould", mould_id)
    row.retired = True
    session.flush()


def every_mould(session: Session) -> tuple[MouldKept, ...]:
    """All moulds, those out of use as well."""
    return tuple(MouldKept(row.id, row.name, row.ml) for row in session.scalars(select(StickMould)))
