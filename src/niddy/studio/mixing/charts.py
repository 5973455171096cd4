"""Mixing charts as they are kept: laid out, made, listed, and what an act on one comes to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.log import Status, counting
from niddy.core.mixing import chart as core
from niddy.core.mixing.chart import Hides, Layout, Lower, PartsBy, Square
from niddy.core.mixing.paints import Reading
from niddy.core.mixing.sheet import sheet
from niddy.core.words import Words
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.mixing import MixingChart
from niddy.studio import jobs, log
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.mixing.chart_acts import (
    BY_EYE,
    CHART_ACTS,
    ChartAct,
    ChartFacts,
    FilmJudged,
    SquareJudged,
    SquaresPainted,
)
from niddy.studio.mixing.inside import Inside, inside
from niddy.studio.mixing.kept import PaintKept, bench, row_of, several, white_needed

ROOM = "charts"
PLAN_VERSION = STATE_VERSION = 1
Parts = Annotated[float, Field(strict=True, ge=0.05, le=core.MOST_PARTS)]


class LayoutAsked(Document):
    """How a chart is laid out: its ratios, what stands below the line, the rows with white, what parts are of."""

    row_parts: Parts = 1.0
    column_parts: Parts = 1.0
    lower: Lower = Lower.WITH_WHITE
    white_parts: Parts = 1.0
    white_rows: Annotated[list[Parts], Field(max_length=core.MOST_WHITE_ROWS)] = Field(default_factory=list)
    by: PartsBy = PartsBy.WEIGHT
    thin: bool = False

    def layout(self, paints: int) -> Layout:
        """The core's layout of so many paints. Raises Refused."""
        return Layout(
            paints,
            self.row_parts,
            self.column_parts,
            self.lower,
            self.white_parts,
            tuple(self.white_rows),
            self.by,
            self.thin,
        )


class SheetAsked(LayoutAsked):
    """What the sheet of so many paints would be."""

    paints: Annotated[int, Field(strict=True, ge=0, le=10_000)]


@dataclass(frozen=True, slots=True)
class SheetToBe:
    """The sheet of a chart before it is made: its squares, and how large each is on A4, in mm."""

    squares: int
    side_mm: float


class ChartAsked(LayoutAsked):
    """A chart of paints across and down, in this order; `id` is the client's own, so that asking twice makes one."""

    id: UUID
    name: Annotated[Words, Field(max_length=120)] = ""
    paint_ids: Annotated[list[RowId], Field(min_length=1, max_length=core.MOST_PAINTS)]


@dataclass(frozen=True, slots=True)
class OnChart:
    """A paint as a chart has it: which, what it was called when the chart was made, and what a millilitre weighs.

    `density_known` is False where that is assumed.
    """

    id: int
    name: str
    code: str
    density_g_per_ml: float = 1.0
    density_known: bool = True


@dataclass(frozen=True, slots=True)
class ChartPlan:
    """What a chart was made for: its layout, paints, and the white."""

    layout: Layout
    paints: tuple[OnChart, ...]
    white: OnChart | None


@dataclass(frozen=True, slots=True)
class PaintedSquare:
    """A square as it was read: Lab, how far off that may be, and by what."""

    lab: tuple[float, float, float]
    off: float
    how: str


@dataclass(frozen=True, slots=True)
class ChartState:
    """What was read of a chart's squares, by their codes; their median dE00 as the last learning told it.

    `hides` is how well the thin films hide, by their codes. `before` by the readings alone, `after` with what squares
    taught, `held_out` on squares it did not learn from.
    """

    squares: dict[str, PaintedSquare] = field(default_factory=dict)
    hides: dict[str, Hides] = field(default_factory=dict)
    held_out: float | None = None
    before: float | None = None
    after: float | None = None


PLAN: TypeAdapter[ChartPlan] = TypeAdapter(ChartPlan)
STATE: TypeAdapter[ChartState] = TypeAdapter(ChartState)
_CHART = table_of(MixingChart)
_JOB = table_of(Job)


@dataclass(frozen=True, slots=True)
class ChartKept:
    """A chart as it is kept."""

    number: int
    job_id: int
    name: str
    plan: ChartPlan
    state: ChartState
    status: Status
    started_at: datetime
    last_seq: int


@dataclass(frozen=True, slots=True)
class ChartLine:
    """A chart in a list: how many squares it has, how many are read, how right it was before and after they taught."""

    number: int
    name: str
    paints: tuple[str, ...]
    squares: int
    read: int
    before: float | None
    after: float | None
    started_at: datetime


def sheet_to_be(asked: SheetAsked) -> SheetToBe:
    """What the sheet of a chart would be. Raises Refused under the field that is wrong."""
    layout = asked.layout(asked.paints)
    return SheetToBe(len(core.squares(layout)), sheet(layout, "a4").side)


def begin(session: Session, now: datetime, asked: ChartAsked) -> int:
    """Make a chart; its number. The same id again is the same chart. Raises Missing, Refused, Conflict."""
    layout = asked.layout(len(asked.paint_ids))
    if len(set(asked.paint_ids)) < len(asked.paint_ids):
        raise Refused("paint_ids", "a paint is in it twice", "each paint once")
    found = several(session, asked.paint_ids)
    for n, paint_id in enumerate(asked.paint_ids):
        if paint_id not in found:
            raise Refused(f"paint_ids.{n}", "no such paint", "a paint of this room")
    by = bench(session)
    white = white_needed(session, by) if layout.wants_white else None
    chosen = [found[paint_id] for paint_id in asked.paint_ids]
    of = inside(session, [*chosen, *([white] if white else [])])
    plan = ChartPlan(
        layout, tuple(_on_chart(one, of[one.id]) for one in chosen), _on_chart(white, of[white.id]) if white else None
    )
    name = asked.name.strip() or ", ".join(one.name for one in plan.paints[:3]) + (
        f" and {len(plan.paints) - 3} more" if len(plan.paints) > 3 else ""
    )
    made = jobs.begin_job(
        session,
        ROOM,
        now,
        asked.id,
        name[:120],
        asked.model_dump(mode="json", exclude={"id"}),
        plan=PLAN.dump_python(plan, mode="json"),
        plan_version=PLAN_VERSION,
        state=STATE.dump_python(ChartState(), mode="json"),
        state_version=STATE_VERSION,
    )
    if made.anew:
        session.execute(insert(_CHART).values(number=made.number, job_id=made.job_id))
    return made.number


def _on_chart(kept: PaintKept, of: Inside) -> OnChart:
    row = kept.row
    code = f"batch {row.batch_number}" if row.batch_number is not None else ""
    return OnChart(row.id, row.name, code, of.density_g_per_ml, of.density_known)


def chart_of(session: Session, number: int) -> ChartKept:
    """A chart. Raises Missing."""
    row = session.execute(select(_JOB).where(_JOB.c.room == ROOM, _JOB.c.number == number)).first()
    if row is None:
        raise Missing("chart", number)
    return kept_chart(row)


def kept_chart(row: Any) -> ChartKept:
    """A chart from its row."""
    return ChartKept(
        row.number,
        row.id,
        row.name,
        PLAN.validate_python(row.plan),
        STATE.validate_python(row.state),
        Status(row.status),
        row.started_at,
        row.last_seq,
    )


def chart_lines(session: Session, of_paint: int | None = None) -> tuple[ChartLine, ...]:
    """The charts, the newest first; those that a paint is on."""
    rows = session.execute(select(_JOB).where(_JOB.c.room == ROOM).order_by(_JOB.c.number.desc()))
    kept = [kept_chart(row) for row in rows]
    return tuple(
        ChartLine(
            one.number,
            one.name,
            tuple(paint.name for paint in one.plan.paints),
            len(core.squares(one.plan.layout)),
            len(one.state.squares),
            one.state.before,
            one.state.after,
            one.started_at,
        )
        for one in kept
        if of_paint is None or of_paint in {paint.id for paint in one.plan.paints}
    )


def check_act(kept: ChartKept, act: ChartAct) -> None:
    """Refuse squares that a chart does not have. Raises Refused."""
    if isinstance(act, SquareJudged):
        if act.at not in {square.code for square in core.squares(kept.plan.layout)}:
            raise core.no_square(act.code, "code")
        seen = kept.state.squares.get(act.at)
        if seen is not None and seen.how != BY_EYE:
            raise Refused("code", f"{act.at} was read already", "a square that nobody read")
    if isinstance(act, FilmJudged) and act.at not in core.thin_films(kept.plan.layout):
        raise Refused("code", f"'{act.code}' is not a thin film of this chart", "a code of its last column")
    if not isinstance(act, SquaresPainted):
        return
    if not act.squares:
        raise Refused("squares", "none", "one square or more")
    known, found = {square.code for square in core.squares(kept.plan.layout)}, set()
    if len(act.squares) > len(known):
        raise Refused("squares", f"{len(act.squares)} of them", f"up to the chart's {len(known)}")
    for n, square in enumerate(act.squares):
        code = square.at
        if code not in known:
            raise Refused(f"squares.{n}.code", f"'{square.code}' is not a square of this chart", "a square such as B3")
        if code in found:
            raise Refused(f"squares.{n}.code", f"{code} is in it twice", "each square once")
        found.add(code)


def squares_of(facts: ChartFacts) -> dict[str, PaintedSquare]:
    """The squares that an act read, from what it came to."""
    return {code: PaintedSquare(one.lab, one.off, facts.how) for code, one in facts.squares.items()}


def hiding_of(entries: Sequence[Entry]) -> dict[str, Hides]:
    """How well each thin film hides, of the acts that count."""
    acts = (logged.act for logged in counting(CHART_ACTS.logged(entry) for entry in entries))
    return {act.at: act.hides for act in acts if isinstance(act, FilmJudged)}


def hides_of_paint(session: Session, paint_id: int) -> Hides | None:
    """How well a thin film of a paint hides, by the newest chart that says so."""
    rows = session.execute(select(_JOB).where(_JOB.c.room == ROOM).order_by(_JOB.c.number.desc()))
    for kept in map(kept_chart, rows):
        films = core.thin_films(kept.plan.layout)
        for paint, code in zip(kept.plan.paints, films, strict=False):
            if paint.id == paint_id and code in kept.state.hides:
                return kept.state.hides[code]
    return None


def painted_of(entries: Sequence[Entry]) -> dict[str, PaintedSquare]:
    """What was read of each square last, of the acts that count."""
    found: dict[str, PaintedSquare] = {}
    for logged in counting(CHART_ACTS.logged(entry) for entry in entries):
        found |= squares_of(logged.facts)
    return found


def squares_read(session: Session, kept: ChartKept) -> dict[str, Reading]:
    """What was read of each square last, in their order, with spectra where there are some."""
    found: dict[str, Reading] = {}
    for logged in counting(CHART_ACTS.logged(entry) for entry in log.entries(session, kept.job_id)):
        if isinstance(logged.act, SquaresPainted):
            found |= {square.at: square.reading() for square in logged.act.squares}
    return {square.code: found[square.code] for square in core.squares(kept.plan.layout) if square.code in found}


def paint_at(plan: ChartPlan, n: int) -> OnChart:
    """The paint at a place of a chart; the white at -1."""
    if n != core.WHITE:
        return plan.paints[n]
    assert plan.white is not None
    return plan.white


def mixture_of(plan: ChartPlan, square: Square) -> list[tuple[int, float]]:
    """A square's mixture by mass: the place of each paint, the white at -1, and grams to a part."""
    if plan.layout.by is PartsBy.WEIGHT:
        return list(square.parts)
    return [(n, parts * paint_at(plan, n).density_g_per_ml) for n, parts in square.parts]


def heavy_assumed(plan: ChartPlan) -> tuple[str, ...]:
    """The paints of a chart by volume whose weight is assumed, by name."""
    if plan.layout.by is PartsBy.WEIGHT:
        return ()
    every = (*plan.paints, *((plan.white,) if plan.white is not None else ()))
    return tuple(dict.fromkeys(paint.name for paint in every if not paint.density_known))


def placed(kept: ChartKept, codes: Sequence[str]) -> tuple[Square, ...]:
    """The squares that samples of a file belong to. Raises Refused."""
    return core.placed(codes, kept.plan.layout)


def paints_of(session: Session, plan: ChartPlan) -> tuple[list[PaintKept], PaintKept | None]:
    """The paints of a chart in its order, and the white it was made with."""
    wanted = [paint.id for paint in plan.paints] + ([plan.white.id] if plan.white is not None else [])
    found = several(session, wanted)
    white = found.get(plan.white.id) if plan.white is not None else None
    for paint in plan.paints:
        row_of(session, paint.id)
    return [found[paint.id] for paint in plan.paints], white
