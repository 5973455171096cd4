"""Colours as they are read and sent, and those that were read of batches, for whoever works with paints in numbers."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy import String, cast, func, select
from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import Lab, lab_of_spectrum, lab_of_srgb
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.mixing.paints import READER_OFF, SRGB_OFF, Reading, Shine, readable
from niddy.core.words import Words
from niddy.db.checks import Check
from niddy.reference import observer
from niddy.studio.paints import viewer


class LabAsked(Document):
    """CIE L*a*b*, D50 and 2 degrees."""

    L: Annotated[float, Field(strict=True)]
    a: Annotated[float, Field(strict=True)]
    b: Annotated[float, Field(strict=True)]


class ReadColour(Document):
    """A colour: exactly one of Lab, sRGB (a guess) and a spectrum of 31 bands; how far off it may be in dE00."""

    lab: LabAsked | None = None
    srgb: Annotated[Words, Field(max_length=20)] | None = None
    spectrum: Annotated[list[Annotated[float, Field(strict=True)]], Field(max_length=200)] | None = None
    uncertainty: Annotated[float, Field(strict=True, ge=0, le=100)] | None = None

    def reading(self) -> Reading:
        """The core's reading. Raises Refused under the field that is wrong, also for what no paint can look like."""
        found = self.seen()
        try:
            readable(found, viewer(), Shine.OFF, "")
        except Refused as refused:
            raise Refused("spectrum" if self.spectrum else "lab", refused.problem, refused.accepted) from None
        return found

    def seen(self) -> Reading:
        """What an instrument says, though no paint could look so. Raises Refused under the field that is wrong."""
        if sum(one is not None for one in (self.lab, self.srgb, self.spectrum)) != 1:
            raise Refused("lab", "exactly one of three is needed", "lab, srgb or spectrum")
        off = self.uncertainty if self.uncertainty is not None else SRGB_OFF if self.srgb is not None else READER_OFF
        if self.spectrum is not None:
            found = Reading(lab_of_spectrum(tuple(self.spectrum), observer()), tuple(self.spectrum), off)
        elif self.lab is not None:
            try:
                found = Reading(Lab(self.lab.L, self.lab.a, self.lab.b), None, off)
            except Refused as refused:
                raise refused.under("lab") from None
        else:
            found = Reading(lab_of_srgb(self.srgb or ""), None, off)
        return found


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
                row.id,
                row.batch_number,
                CheckKind(row.kind),
                Lab(*facts["lab"]),
                tuple(spectrum) if spectrum else None,
                off,
                facts.get("white_parts", TINT_WHITE_PARTS),
                facts.get("white_id"),
                row.made_at,
                row.set_aside,
                facts.get("note", ""),
            )
        )
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
