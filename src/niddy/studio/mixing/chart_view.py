"""A chart as it is looked at: predicted beside painted, how far apart, and how far apart was to be expected."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

import numpy as np
from sqlalchemy.orm import Session

from niddy.core.colorimetry import Lab
from niddy.core.estimate import Basis
from niddy.core.log import Status
from niddy.core.mixing import chart as core
from niddy.core.mixing.chart import Hides, Layout
from niddy.core.mixing.constants import K1
from niddy.core.mixing.paints import Shine
from niddy.core.mixing.predicting import expected_off
from niddy.core.mixing.seeing import Floats, difference, srgb_of
from niddy.studio import log, shelf
from niddy.studio.mixing.chart_acts import BY_EYE
from niddy.studio.mixing.charts import ChartKept, OnChart, chart_of, heavy_assumed
from niddy.studio.mixing.inside import MixingBeware, beware_of, inside
from niddy.studio.mixing.kept import basis_of, bench
from niddy.studio.mixing.lists import PaintLine, line_of
from niddy.studio.mixing.predicted import Predicted, predicted
from niddy.studio.mixing.teaching import CHARTS
from niddy.studio.recorder import log_lines

ACTS_SHOWN = 8


@dataclass(frozen=True, slots=True)
class CellPart:
    """A paint's parts in a square: its place on the chart, -1 the white."""

    place: int
    parts: float


@dataclass(frozen=True, slots=True)
class ChartCell:
    """A square: place and parts, predicted and, where it was read, painted.

    `off` is how far off the prediction may be, nine times in ten, in dE00; `de00` how far the painted one is from it,
    and `within` whether that is within both, what was said of the prediction and of the reading.
    """

    code: str
    row: int
    column: int
    parts: tuple[CellPart, ...]
    lab: Lab
    srgb: str
    off: float
    basis: Basis
    painted_lab: Lab | None
    painted_srgb: str | None
    painted_off: float | None
    how: str | None
    de00: float | None
    within: bool | None


@dataclass(frozen=True, slots=True)
class Accuracy:
    """The median dE00 of painted squares: by the readings alone, with what squares taught, and on squares held out.

    `within` of the painted squares are within what was said they may be off.
    """

    squares: int
    before: float
    after: float
    held_out: float | None
    within: int


@dataclass(frozen=True, slots=True)
class ChartDone:
    """An act on a chart in words, and whether it was taken back."""

    id: UUID
    says: str
    made_at: datetime
    struck: bool


@dataclass(frozen=True, slots=True)
class ThinFilm:
    """The thin film of a paint over white and black, and how well it hides, once that was said."""

    code: str
    row: int
    hides: Hides | None


@dataclass(frozen=True, slots=True)
class ChartView:
    """A chart: its layout, paints as they are now, squares, how well they are predicted, and what was done last.

    `heavy_assumed` are the paints whose parts by volume rest on an assumed density.
    """

    number: int
    name: str
    status: Status
    now: datetime
    started_at: datetime
    layout: Layout
    paints: tuple[PaintLine, ...]
    codes: tuple[str, ...]
    white: OnChart | None
    cells: tuple[ChartCell, ...]
    accuracy: Accuracy | None
    next_code: str | None
    unread: tuple[str, ...]
    done: tuple[ChartDone, ...]
    beware: MixingBeware
    heavy_assumed: tuple[str, ...]
    films: tuple[ThinFilm, ...]


def view(session: Session, now: datetime, number: int) -> ChartView:
    """A chart as it is. Raises Missing."""
    return view_of(session, now, chart_of(session, number))


def view_of(session: Session, now: datetime, kept: ChartKept) -> ChartView:
    """The view of a chart that was read already."""
    of = predicted(session, kept)
    off = expected_off(of.by, of.weights, of.lab)
    srgb = srgb_of(of.lab)
    painted = [kept.state.squares.get(square.code) for square in of.squares]
    read = np.array([one.lab if one is not None else (0.0, 0.0, 0.0) for one in painted])
    far = difference(of.lab, read)
    painted_srgb = srgb_of(read)
    by, on_shelf = bench(session), shelf.here(session)
    bases = [basis_of([of.members[n] for n, _ in square.parts], by) for square in of.squares]
    cells = tuple(
        ChartCell(
            square.code,
            square.row,
            square.column,
            tuple(CellPart(*part) for part in square.parts),
            _lab(of.lab[n]),
            srgb[n],
            round(float(off[n]), 2),
            bases[n],
            _lab(one.lab) if one else None,
            painted_srgb[n] if one else None,
            one.off if one else None,
            one.how if one else None,
            round(float(far[n]), 2) if one else None,
            bool(far[n] <= np.hypot(off[n], one.off)) if one else None,
        )
        for n, (square, one) in enumerate(zip(of.squares, painted, strict=True))
    )
    unread = tuple(cell.code for cell in cells if cell.de00 is None)
    return ChartView(
        kept.number,
        kept.name,
        kept.status,
        now,
        kept.started_at,
        kept.plan.layout,
        tuple(line_of(one, by, on_shelf) for one in of.paints),
        tuple(paint.code for paint in kept.plan.paints),
        kept.plan.white,
        cells,
        _accuracy(kept, of, read, cells),
        unread[0] if unread else None,
        unread,
        _done(session, kept),
        beware_of(list(of.members.values()), inside(session, list(of.members.values()))),
        heavy_assumed(kept.plan),
        tuple(
            ThinFilm(code, row, kept.state.hides.get(code))
            for row, code in enumerate(core.thin_films(kept.plan.layout))
        ),
    )


def _lab(lab: Sequence[float] | Floats) -> Lab:
    lightness, a, b = (round(float(at), 2) for at in lab)
    return Lab(min(100.0, max(0.0, lightness)), a, b)


def _accuracy(kept: ChartKept, of: Predicted, read: Floats, cells: Sequence[ChartCell]) -> Accuracy | None:
    there = np.array([cell.de00 is not None and cell.how != BY_EYE for cell in cells])
    if not there.any():
        return None
    before = difference(of.plain.lab(of.weights[there]), read[there])
    after = difference(of.lab[there], read[there])
    return Accuracy(
        int(there.sum()),
        float(np.median(before)),
        float(np.median(after)),
        kept.state.held_out,
        sum(cell.within is True for cell in cells if cell.how != BY_EYE),
    )


def _done(session: Session, kept: ChartKept) -> tuple[ChartDone, ...]:
    """The last acts that say something of it, the last first."""
    lines = log_lines(CHARTS, kept, log.entries(session, kept.job_id, last=3 * ACTS_SHOWN))
    said = (line for line in reversed(lines) if line.kind != log.STRIKE)
    return tuple(ChartDone(line.id, line.text, line.at, line.struck) for line in said)[:ACTS_SHOWN]


def reflectance_at(session: Session, number: int, code: str) -> tuple[float, ...]:
    """The reflectance a square is predicted to have, as the studio's reader would see it. Raises Missing, Refused."""
    kept = chart_of(session, number)
    of = predicted(session, kept)
    n = next((n for n, square in enumerate(of.squares) if square.code == code.upper()), None)
    if n is None:
        raise core.no_square(code)
    shine = K1 if bench(session).shine is Shine.WITHOUT else 0.0
    seen = of.by.reflectance(of.weights[n : n + 1])[0] - shine
    return tuple(float(at) for at in np.clip(seen, 0.001, 1.0))
