"""Colours of paints read in this room, paints made known here, and the white that tints are let down with."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated, Any, Literal, get_args
from uuid import UUID

from pydantic import AwareDatetime, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.acting import Source
from niddy.core.checks import CheckKind
from niddy.core.colorimetry import Lab, lab_of_spectrum
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.mixing.chart import PartsBy
from niddy.core.mixing.paints import Shine
from niddy.core.sources import source as known_source
from niddy.core.words import Words
from niddy.db.mixing import MixingPaint, MixingReading
from niddy.reference import observer
from niddy.studio import checks, materials, paints, shelf, workshop
from niddy.studio.checks import CheckAsked, ReadColour
from niddy.studio.errors import Conflict
from niddy.studio.mixing.inside import inside
from niddy.studio.mixing.kept import row_of, several

Tinting = Literal["none", "low", "medium", "high"]
Srgb = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
Name = Annotated[Words, Field(min_length=1, max_length=120)]
LEAST_WHITE, MOST_WHITE = 0.05, 1_000.0
WhiteParts = Annotated[float, Field(strict=True, ge=LEAST_WHITE, le=MOST_WHITE)]


class ReadingAsked(ReadColour):
    """A paint's masstone or its tint (`white_parts` to one of paint, ten where it does not say), under its own id.

    Parts `by` volume are kept as what they weigh.
    """

    id: UUID
    kind: Literal["masstone", "tint"]
    made_at: AwareDatetime
    white_parts: WhiteParts | None = None
    by: PartsBy = PartsBy.WEIGHT
    note: Annotated[Words, Field(max_length=500)] = ""


class PaintAsked(Document):
    """A paint that is no batch of this studio: by its name, a tube or jar of the shelf, or a pigment by its source.

    One of a pigment looks and tints as that does, a guess. `white`: tints are let down with it from now on.
    """

    id: UUID
    name: Name | None = None
    item_id: RowId | None = None
    source: Source | None = None
    white: Annotated[bool, Field(strict=True)] = False
    tinting: Tinting = "medium"
    swatch_srgb: Srgb = "#808080"


class PaintChange(Document):
    """What is said of a paint besides its readings."""

    name: Name
    tinting: Tinting
    swatch_srgb: Srgb
    retired: Annotated[bool, Field(strict=True)] = False


class SightAsked(Document):
    """The studio's white, and what its readings have of the surface's shine."""

    white_id: RowId | None
    shine: Shine


def add_paint(session: Session, now: datetime, asked: PaintAsked) -> int:
    """Make a paint known; its id. The same id again is the same paint. Raises Refused, Conflict."""
    known = session.scalar(select(MixingPaint).where(MixingPaint.request_id == asked.id))
    if known is not None:
        if asked.name is not None and known.name != asked.name.strip():
            raise Conflict("id", "this id belongs to another paint already", "a new id for another")
        return known.id
    if [asked.item_id, asked.name, asked.source].count(None) != 2:
        accepted = "a name, a tube or jar of the shelf, or a pigment"
        raise Refused("name", "a name, a tube or a pigment is needed, one of them", accepted)
    if asked.item_id is not None:
        line = shelf.lines_of(session, [asked.item_id])[0]
        if line.batch_number is not None:
            return paints.know_batch(session, now, line.batch_number, line.name, asked.tinting, line.masstone_srgb)
        return paints.know_item(session, now, line.id, line.name, line.masstone_srgb)
    name, tinting, swatch = (asked.name or "").strip(), asked.tinting, asked.swatch_srgb.lower()
    if asked.source is not None:
        name, tinting, swatch = _of_pigment(session, asked.source)
    if not name:
        raise Refused("name", "empty", "what the paint is called")
    row = MixingPaint(
        name=name, tinting=tinting, swatch_srgb=swatch, squares=0, retired=False, added_at=now, request_id=asked.id
    )
    session.add(row)
    session.flush()
    if asked.white:
        workshop.use_white(session, row.id, workshop.shine_of_readings(session))
    return row.id


def _of_pigment(session: Session, source: str) -> tuple[str, Tinting, str]:
    """What a paint of a pigment is called, how it tints and about how it looks. Raises Refused, Missing."""
    of = known_source(source)
    key = materials.lot(session, of.lot_id).material_key if of.lot_id is not None else of.key
    pigment = materials.pigment_of(session, key)
    if pigment is None:
        raise Refused("source", f"'{source}' is not a pigment", "a pigment of the stock or of the library")
    tinting: Tinting = pigment.tinting if pigment.tinting in get_args(Tinting) else "medium"  # type: ignore[assignment]
    return pigment.name, tinting, pigment.masstone_srgb.lower()


def change_paint(session: Session, paint_id: int, asked: PaintChange) -> None:
    """Change what is said of a paint. Raises Missing, Refused for the white put away."""
    row = row_of(session, paint_id)
    if asked.retired and workshop.white_of_tints(session) == paint_id:
        raise Refused("retired", "it is the studio's white", "another white first")
    if not asked.name.strip():
        raise Refused("name", "empty", "what the paint is called")
    row.name, row.tinting, row.swatch_srgb, row.retired = (
        asked.name.strip(),
        asked.tinting,
        asked.swatch_srgb.lower(),
        asked.retired,
    )
    session.flush()
    paints.read_anew(session, paint_id)


def see_by(session: Session, asked: SightAsked) -> None:
    """Choose the studio's white, and say how its readings see shine. Raises Refused."""
    if asked.white_id is not None and asked.white_id not in several(session, [asked.white_id]):
        raise Refused("white_id", "no such paint", "a paint of this room")
    workshop.use_white(session, asked.white_id, asked.shine)
    paints.read_anew(session, None)


def _white_parts(session: Session, paint_id: int, asked: ReadingAsked) -> float:
    """Parts of white to one of paint by weight. Raises Refused where so many are beyond what is kept."""
    parts = asked.white_parts or checks.TINT_WHITE_PARTS
    if asked.by is PartsBy.WEIGHT:
        return parts
    white_id = workshop.white_of_tints(session)
    assert white_id is not None
    of = inside(session, list(several(session, [paint_id, white_id]).values()))
    heavier = of[white_id].density_g_per_ml / of[paint_id].density_g_per_ml
    weighed = round(parts * heavier, 3)
    if not LEAST_WHITE <= weighed <= MOST_WHITE:
        low, high = LEAST_WHITE / heavier, MOST_WHITE / heavier
        raise Refused("white_parts", f"{parts:g} by volume is {weighed:g} by weight", f"{low:.2g} to {high:.3g}")
    return weighed


def keep(session: Session, now: datetime, paint_id: int, asked: ReadingAsked) -> None:
    """Keep a reading: of a batch among its checks, of another paint here. The same again changes nothing.

    Raises Missing, Refused, Conflict.
    """
    row = row_of(session, paint_id)
    found = asked.reading()
    if asked.kind == "tint" and workshop.white_of_tints(session) is None:
        raise Refused("white_id", "no white is chosen", "the white this tint was let down with, chosen under Colour")
    white_parts = _white_parts(session, row.id, asked) if asked.kind == "tint" else None
    if row.batch_number is not None:
        said = asked.model_dump(exclude_none=True, exclude={"kind", "by", "white_parts"})
        said |= {"white_parts": white_parts} if white_parts is not None else {}
        checks.keep(session, now, row.batch_number, CheckAsked(kind=CheckKind(asked.kind), **said))
        return
    if asked.made_at > now + timedelta(days=2):
        raise Refused("made_at", f"{asked.made_at:%Y-%m-%d} is still to come", "up to now")
    tint = asked.kind == "tint"
    facts: dict[str, Any] = {"lab": [found.lab.L, found.lab.a, found.lab.b], "off": found.off}
    facts |= {"spectrum": list(found.spectrum)} if found.spectrum is not None else {}
    facts |= {"note": asked.note} if asked.note else {}
    before = session.get(MixingReading, asked.id)
    if before is not None:
        if (before.paint_id, before.kind, before.facts) != (paint_id, asked.kind, facts):
            raise Conflict("id", "this id belongs to another reading already", "a new id for another")
        return
    session.add(
        MixingReading(
            id=asked.id,
            paint_id=paint_id,
            kind=asked.kind,
            facts=facts,
            white_parts=white_parts,
            white_id=workshop.white_of_tints(session) if tint else None,
            made_at=asked.made_at,
            set_aside=None,
        )
    )
    session.flush()
    paints.read_anew(session, paint_id)


def set_aside(session: Session, now: datetime, paint_id: int, reading_id: UUID, reason: str | None) -> None:
    """Let a reading not count, with a reason; or count again. Raises Missing, Refused."""
    row = row_of(session, paint_id)
    if row.batch_number is not None:
        checks.set_aside(session, now, row.batch_number, reading_id, reason)
        return
    read = session.get(MixingReading, reading_id)
    if read is None or read.paint_id != paint_id:
        raise Refused("reading_id", "no such reading of this paint", "a reading of this paint")
    if reason is not None and not reason.strip():
        raise Refused("reason", "empty", "why it does not count")
    read.set_aside = reason.strip() if reason is not None else None
    session.flush()
    paints.read_anew(session, paint_id)


def colour_of(lab: Lab | None, spectrum: tuple[float, ...] | None) -> Lab:
    """The Lab of a sample of a file. Raises Refused for a spectrum that cannot be."""
    return lab if lab is not None else lab_of_spectrum(spectrum or (), observer())
