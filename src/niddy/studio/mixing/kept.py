"""Paints in numbers as they are kept: what was read of each, and what that comes to."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import Lab
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.mixing.chart import PartsBy
from niddy.core.mixing.paints import InNumbers, Known, KnownBy, Reading, Shine, in_numbers, seen_by, white_in_numbers
from niddy.core.mixing.predicting import Palette, palette
from niddy.core.mixing.seeing import Viewer
from niddy.core.telling import Measuring
from niddy.db.mixing import MixingPaint, MixingReading
from niddy.studio import checks, paints, shelf, workshop
from niddy.studio.errors import Missing


@dataclass(frozen=True, slots=True)
class Read:
    """One reading of a paint: from its batch's checks, or this room's own."""

    id: UUID
    paint_id: int
    kind: CheckKind
    reading: Reading
    white_parts: float | None
    white_id: int | None
    made_at: datetime
    set_aside: str | None
    note: str
    from_checks: bool


@dataclass(frozen=True, slots=True)
class PaintKept:
    """A paint with all that was read of it, the last first, and what counts of that."""

    row: MixingPaint
    readings: tuple[Read, ...]
    known: Known
    white_id: int | None

    @property
    def id(self) -> int:
        """Its id."""
        return self.row.id

    @property
    def learned(self) -> tuple[float, float] | None:
        """The logarithm of its strength and its sd, where painted squares taught it."""
        if self.row.strength_ln is None or self.row.strength_sd is None:
            return None
        return self.row.strength_ln, self.row.strength_sd


@dataclass(frozen=True, slots=True)
class Bench:
    """How colours are seen in this studio: the white, how shine is read, who looks, and what else is taken as white."""

    white_id: int | None
    shine: Shine
    viewer: Viewer
    whites: frozenset[int] = frozenset()

    def is_white(self, paint_id: int) -> bool:
        """Whether a paint is the white, or was the white of something."""
        return paint_id == self.white_id or paint_id in self.whites


def bench(session: Session) -> Bench:
    """How colours are seen in this studio."""
    return Bench(workshop.white_of_tints(session), workshop.shine_of_readings(session), paints.viewer())


def row_of(session: Session, paint_id: int, field: str = "") -> MixingPaint:
    """The row of a paint. Raises Missing."""
    row = session.get(MixingPaint, paint_id)
    if row is None:
        raise Missing("paint", paint_id, field)
    return row


def paint(session: Session, paint_id: int) -> PaintKept:
    """One paint. Raises Missing."""
    row_of(session, paint_id)
    return several(session, [paint_id])[paint_id]


def several(session: Session, ids: Sequence[int] | None = None) -> dict[int, PaintKept]:
    """Some paints by their ids, or all that are kept; the whites of their tints are looked up."""
    wanted = select(MixingPaint).order_by(MixingPaint.id)
    rows = list(session.scalars(wanted if ids is None else wanted.where(MixingPaint.id.in_(ids))))
    read = _readings(session, rows)
    default = workshop.white_of_tints(session)
    whites = {r.white_id or default for reads in read.values() for r in reads if r.kind is CheckKind.TINT} - {None}
    of_whites = _white_readings(session, {white for white in whites if white is not None})
    return {row.id: _kept(row, read[row.id], of_whites, default) for row in rows}


def _kept(row: MixingPaint, reads: list[Read], whites: dict[int, Reading], default: int | None) -> PaintKept:
    counting = {read.kind: read for read in reversed(reads) if read.set_aside is None}
    masstone, tint = counting.get(CheckKind.MASSTONE), counting.get(CheckKind.TINT)
    white_id = (tint.white_id if tint is not None and tint.white_id is not None else default) if tint else None
    known = Known(
        row.tinting,
        row.swatch_srgb,
        masstone.reading if masstone else None,
        tint.reading if tint else None,
        whites.get(white_id) if white_id is not None else None,
        1 / (1 + (tint.white_parts or checks.TINT_WHITE_PARTS)) if tint else 1 / (1 + checks.TINT_WHITE_PARTS),
    )
    return PaintKept(row, tuple(reads), known, white_id)


def _readings(session: Session, rows: Sequence[MixingPaint]) -> dict[int, list[Read]]:
    """What was read of some paints, the last first."""
    found: dict[int, list[Read]] = {row.id: [] for row in rows}
    of_batch = {row.batch_number: row.id for row in rows if row.batch_number is not None}
    if of_batch:
        for read in checks.colours_of(session, list(of_batch)):
            at = of_batch[read.batch_number]
            found[at].append(
                Read(
                    read.id,
                    at,
                    read.kind,
                    Reading(read.lab, read.spectrum, read.off),
                    read.white_parts,
                    read.white_id,
                    read.made_at,
                    read.set_aside,
                    read.note,
                    from_checks=True,
                )
            )
    others = [row.id for row in rows if row.batch_number is None]
    if others:
        own = select(MixingReading).where(MixingReading.paint_id.in_(others))
        for row in session.scalars(own.order_by(MixingReading.made_at.desc(), MixingReading.id)):
            found[row.paint_id].append(_own(row))
    return found


def _own(row: MixingReading) -> Read:
    facts = row.facts
    spectrum = facts.get("spectrum")
    reading = Reading(Lab(*facts["lab"]), tuple(spectrum) if spectrum else None, facts["off"])
    return Read(
        row.id,
        row.paint_id,
        CheckKind(row.kind),
        reading,
        row.white_parts,
        row.white_id,
        row.made_at,
        row.set_aside,
        facts.get("note", ""),
        from_checks=False,
    )


def _white_readings(session: Session, ids: set[int]) -> dict[int, Reading]:
    """The masstones of whites."""
    if not ids:
        return {}
    rows = list(session.scalars(select(MixingPaint).where(MixingPaint.id.in_(ids))))
    found = {}
    for paint_id, reads in _readings(session, rows).items():
        last = next((r for r in reads if r.kind is CheckKind.MASSTONE and r.set_aside is None), None)
        if last is not None:
            found[paint_id] = last.reading
    return found


def numbers(kept: PaintKept, by: Bench) -> InNumbers:
    """A paint in numbers; the studio's white scatters with 1."""
    if by.is_white(kept.id):
        return white_in_numbers(kept.known.masstone, by.viewer, by.shine)
    return in_numbers(kept.known, by.viewer, by.shine)


def white_needed(session: Session, by: Bench, field: str = "white_id") -> PaintKept:
    """The studio's white, by what was read of it or as whites are. Raises Refused where none is chosen."""
    if by.white_id is None:
        raise Refused(field, "no white is chosen", "the white that tints are let down with, chosen under Colour")
    return several(session, [by.white_id])[by.white_id]


def palette_of(kept: Sequence[PaintKept], by: Bench, white: PaintKept | None, *, taught: bool = True) -> Palette:
    """Paints as a palette, the white last where there is one; with the strengths that squares taught, or without."""
    every = [*kept, *([white] if white is not None else [])]
    of = [numbers(one, by) for one in every]
    learned = [one.learned if taught and not by.is_white(one.id) else None for one in every]
    return palette(of, seen_by(by.viewer, by.shine), by.shine, learned)


def of_items(session: Session, item_ids: Sequence[int]) -> dict[int, InNumbers]:
    """Those of some tubes and jars in numbers whose colour was read, themselves or as their batch."""
    by = bench(session)
    kept = several(session)
    of_batch = {one.row.batch_number: one for one in kept.values() if one.row.batch_number is not None}
    of_item = {one.row.item_id: one for one in kept.values() if one.row.item_id is not None}
    found = {}
    for line in shelf.lines_of(session, list(item_ids)):
        one = of_item.get(line.id)
        if one is None and line.batch_number is not None:
            one = of_batch.get(line.batch_number)
        if one is not None and one.known.masstone is not None:
            found[line.id] = numbers(one, by)
    return found


def basis_of(kept: Sequence[PaintKept], by: Bench) -> Basis:
    """What a prediction of some paints rests on: the weakest of a swatch, readings, and what squares taught."""
    known = {numbers(one, by).how for one in kept}
    if KnownBy.GUESS in known:
        return Basis.LIBRARY
    if KnownBy.MASSTONE in known:
        return Basis.ASSUMED
    return Basis.LEARNED if len(kept) > 1 and any(one.learned for one in kept) else Basis.MEASURED


def by_name(kept: Iterable[PaintKept]) -> list[list[PaintKept]]:
    """Paints of one name together: the lot that is meant first, the newest that was read, then the newest."""
    found: dict[str, list[PaintKept]] = {}
    for one in kept:
        found.setdefault(one.row.name.casefold(), []).append(one)
    for lots in found.values():
        lots.sort(key=lambda one: (one.known.masstone is not None, one.row.batch_number or 0, one.id), reverse=True)
    return list(found.values())


def parts_by(session: Session) -> PartsBy:
    """What parts are of in this studio: by weight where there is a scale, by volume where one goes by spoon or eye."""
    return PartsBy.WEIGHT if workshop.habit(session).how is Measuring.SCALE else PartsBy.VOLUME
