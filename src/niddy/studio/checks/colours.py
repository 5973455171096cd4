"""Colours that were read of batches, for whoever works with paints in numbers."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import String, cast, func, select
from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import Lab
from niddy.core.mixing.paints import READER_OFF
from niddy.db.checks import Check

TINT_WHITE_PARTS = 10.0
"""White to one part of paint in a tint, where a reading does not say."""


@dataclass(frozen=True, slots=True)
class ColourRead:
    """A colour as a check read it; of a tint the parts of white to one of paint, and which white it was."""

    id: UUID
    batch_number: int
    kind: CheckKind
    lab: Lab
    spectrum: tuple[float, ...] | None
    off: float
    white_parts: float
    white_id: int | None
    made_at: datetime
    set_aside: str | None
    note: str


def colours_of(session: Session, numbers: list[int]) -> tuple[ColourRead, ...]:
    """The masstones and tints read of some batches, the last first; those set aside among them."""
    rows = session.execute(
        select(Check.id, Check.batch_number, Check.kind, Check.facts, Check.made_at, Check.set_aside)
        .where(Check.batch_number.in_(numbers), Check.kind.in_((CheckKind.MASSTONE, CheckKind.TINT)))
        .order_by(Check.made_at.desc(), Check.id)
    )
    found = []
    for row in rows:
        facts = row.facts
        if not facts.get("lab"):
            continue
        spectrum = facts.get("spectrum")
        off = next((much for name, much, _ in facts.get("worked", ()) if name == UNCERTAIN), READER_OFF)
        found.append(
            ColourRead(
                row.id, row.batch_number, CheckKind(row.kind), Lab(*facts["lab"]),
                tuple(spectrum) if spectrum else None, off, facts.get("white_parts", TINT_WHITE_PARTS),
                facts.get("white_id"), row.made_at, row.set_aside, facts.get("note", ""),
            )
        )  # fmt: skip
    return tuple(found)


UNCERTAIN = "uncertain by"
"""What the uncertainty of a colour is called among its worked figures."""


def masstones(session: Session) -> dict[int, Lab]:
    """The masstone last read of each batch that has one that counts."""
    rows = session.execute(
        select(Check.batch_number, Check.facts["lab"].label("lab"))
        .where(Check.kind == CheckKind.MASSTONE, Check.set_aside.is_(None))
        .order_by(Check.made_at)
    )
    return {row.batch_number: Lab(*row.lab) for row in rows if row.lab}


@dataclass(frozen=True, slots=True)
class ColoursStamp:
    """What was read of some batches, folded, and the whites their tints name."""

    stamp: str
    whites: frozenset[int]


def colours_stamp(session: Session, numbers: list[int]) -> ColoursStamp:
    """What `colours_of` would tell of some batches, folded: readings never change, but are set aside."""
    white = Check.facts["white_id"].as_integer()
    row = session.execute(
        select(
            func.count(),
            func.sum(func.hashtext(cast(Check.id, String) + func.coalesce(Check.set_aside, ""))),
            func.array_agg(white.distinct()),
        ).where(Check.batch_number.in_(numbers), Check.kind.in_((CheckKind.MASSTONE, CheckKind.TINT)))
    ).one()
    return ColoursStamp(f"{row[0]}.{row[1]}", frozenset(one for one in row[2] or () if one is not None))
