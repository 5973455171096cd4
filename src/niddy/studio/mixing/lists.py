"""The room's lists: paints with what they are known from and what they want, and how a paint came to its numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import BANDS_NM, Lab, srgb_of
from niddy.core.mixing.chart import Hides, PartsBy
from niddy.core.mixing.paints import KnownBy, Missing, Shine, spectrum_of, white_in_numbers
from niddy.db.mixing import MixingPaint
from niddy.studio import shelf, workshop
from niddy.studio.mixing.charts import ChartLine, chart_lines, hides_of_paint
from niddy.studio.mixing.inside import inside
from niddy.studio.mixing.kept import Bench, PaintKept, bench, by_name, numbers, paint, parts_by, row_of, several

STRONG_CHROMA = 45.0
"""Beyond this a spectrum helps most: three figures say least of strong, saturated colours (assumed)."""


@dataclass(frozen=True, slots=True)
class PaintLine:
    """A paint: whose it is, what it is known from, what it still wants, and how strong squares found it.

    `strength` is beside what its readings say, 1 where they agree, with its band; `trouble` says what is wrong with
    its readings. `spectrum_helps` where three figures are all there is of a strong colour.
    """

    id: int
    name: str
    batch_number: int | None
    item_id: int | None
    tinting: str
    srgb: str
    tint_srgb: str | None
    lab: Lab | None
    how: KnownBy
    missing: tuple[Missing, ...]
    trouble: str
    spectrum_helps: bool
    off: float
    strength: float | None
    strength_low: float | None
    strength_high: float | None
    squares: int
    here: bool
    white: bool
    retired: bool


@dataclass(frozen=True, slots=True)
class PaintLots:
    """The lots of one paint that are here: the one that is meant, and older ones."""

    first: PaintLine
    older: tuple[PaintLine, ...]


@dataclass(frozen=True, slots=True)
class MixingRoom:
    """The room: the paints that are here by name, those used up, the white, how shine is read, parts, charts."""

    here: tuple[PaintLots, ...]
    gone: tuple[PaintLine, ...]
    white_id: int | None
    white_ready: bool
    shine: Shine
    by: PartsBy
    charts: tuple[ChartLine, ...]


@dataclass(frozen=True, slots=True)
class PaintReading:
    """One reading of a paint as it is shown."""

    id: UUID
    kind: CheckKind
    lab: Lab
    srgb: str
    spectral: bool
    off: float
    white_parts: float | None
    white: str | None
    made_at: datetime
    set_aside: str | None
    note: str
    from_checks: bool


@dataclass(frozen=True, slots=True)
class PaintCurves:
    """What a paint throws back and what that comes to, at each of `nm`; K and S beside a white that scatters with 1."""

    nm: tuple[int, ...]
    masstone: tuple[float, ...] | None
    tint: tuple[float, ...] | None
    white: tuple[float, ...] | None
    k: tuple[float, ...]
    s: tuple[float, ...]
    white_k: tuple[float, ...] | None


@dataclass(frozen=True, slots=True)
class PaintPage:
    """A paint, its readings, curves, the white of its tint and the one a new tint would be of, and its charts.

    `by` is how this studio measures parts; `heavy_known` whether the paint's and the white's density are. `hides` is
    how well a thin film of it does, once a chart said so.
    """

    now: datetime
    line: PaintLine
    readings: tuple[PaintReading, ...]
    curves: PaintCurves
    white: str | None
    white_now: str | None
    charts: tuple[ChartLine, ...]
    by: PartsBy
    heavy_known: bool
    hides: Hides | None


def room(session: Session) -> MixingRoom:
    """The room."""
    by = bench(session)
    kept = several(session)
    on_shelf = shelf.here(session)
    there = [one for one in kept.values() if not one.row.retired and is_here(one.row, on_shelf)]
    ids = {one.id for one in there}
    here = [
        PaintLots(line_of(lots[0], by, on_shelf), tuple(line_of(one, by, on_shelf) for one in lots[1:]))
        for lots in sorted(by_name(there), key=lambda lots: lots[0].row.name.casefold())
    ]
    gone = [line_of(one, by, on_shelf) for one in kept.values() if one.id not in ids]
    white = kept.get(by.white_id) if by.white_id is not None else None
    return MixingRoom(
        tuple(here),
        tuple(sorted(gone, key=lambda line: line.name.casefold())),
        by.white_id,
        white is not None and white.known.masstone is not None,
        by.shine,
        parts_by(session),
        chart_lines(session),
    )


def lines(session: Session, ids: list[int]) -> dict[int, PaintLine]:
    """Some paints by their ids."""
    by, on_shelf = bench(session), shelf.here(session)
    return {paint_id: line_of(one, by, on_shelf) for paint_id, one in several(session, ids).items()}


def is_here(row: MixingPaint, on_shelf: shelf.Here) -> bool:
    """Whether there is some of a paint: of a batch or jar on the shelf; a bought one until it is put away."""
    if row.batch_number is not None:
        return row.batch_number in on_shelf.batches
    if row.item_id is not None:
        return row.item_id in on_shelf.items
    return not row.retired


def line_of(kept: PaintKept, by: Bench, on_shelf: shelf.Here) -> PaintLine:
    """A paint as lists show it."""
    row = kept.row
    of = numbers(kept, by)
    masstone, tint = kept.known.masstone, kept.known.tint
    lab = masstone.lab if masstone is not None else None
    strength = kept.learned if kept.id != by.white_id else None
    trouble = ""
    if of.trouble is not None:
        trouble = f"{_FIELDS.get(of.trouble.field, of.trouble.field)}: {of.trouble.problem}"
    return PaintLine(
        row.id,
        row.name,
        row.batch_number,
        row.item_id,
        row.tinting,
        srgb_of(lab) if lab is not None else row.swatch_srgb,
        srgb_of(tint.lab) if tint is not None else None,
        lab,
        of.how,
        of.missing,
        trouble,
        of.how is KnownBy.FIGURES
        and kept.id != by.white_id
        and lab is not None
        and math.hypot(lab.a, lab.b) > STRONG_CHROMA,
        of.off,
        math.exp(strength[0]) if strength else None,
        math.exp(strength[0] - 1.645 * strength[1]) if strength else None,
        math.exp(strength[0] + 1.645 * strength[1]) if strength else None,
        row.squares,
        is_here(row, on_shelf),
        row.id == by.white_id,
        row.retired,
    )


_FIELDS = {
    "tint": "Tint",
    "masstone": "Masstone",
    "white": "White",
    "masstone.spectrum": "Masstone",
    "tint.spectrum": "Tint",
    "white.spectrum": "White",
}


def page(session: Session, now: datetime, paint_id: int) -> PaintPage:
    """A paint with all that was read of it. Raises Missing."""
    by = bench(session)
    kept = paint(session, paint_id)
    of = numbers(kept, by)
    ids = {read.white_id for read in kept.readings} | {kept.white_id}
    names = {one: row_of(session, one).name for one in ids if one is not None}
    known = kept.known
    curves = {
        name: spectrum_of(reading, by.viewer) if reading is not None else None
        for name, reading in (("masstone", known.masstone), ("tint", known.tint), ("white", known.white))
    }
    white = white_in_numbers(known.white, by.viewer, by.shine).paint.k if known.white is not None else None
    white_now = several(session, [by.white_id]).values() if by.white_id is not None else ()
    readings = tuple(
        PaintReading(
            read.id,
            read.kind,
            read.reading.lab,
            srgb_of(read.reading.lab),
            read.reading.spectrum is not None,
            read.reading.off,
            read.white_parts if read.kind is CheckKind.TINT else None,
            names.get(read.white_id) if read.white_id is not None else None,
            read.made_at,
            read.set_aside,
            read.note,
            read.from_checks,
        )
        for read in kept.readings
    )
    return PaintPage(
        now,
        line_of(kept, by, shelf.here(session)),
        readings,
        PaintCurves(BANDS_NM, curves["masstone"], curves["tint"], curves["white"], of.paint.k, of.paint.s, white),
        names.get(kept.white_id) if kept.white_id is not None else None,
        white_name(session),
        chart_lines(session, of_paint=paint_id),
        parts_by(session),
        all(one.density_known for one in inside(session, [kept, *white_now]).values()),
        hides_of_paint(session, paint_id),
    )


def white_name(session: Session) -> str | None:
    """What the studio's white is called; None before one was chosen."""
    white_id = workshop.white_of_tints(session)
    return row_of(session, white_id).name if white_id is not None else None
