"""What the squares of a chart look like by what is known of its paints now."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from niddy.core.mixing import chart as core
from niddy.core.mixing.predicting import Palette, weights_of
from niddy.core.mixing.seeing import Floats
from niddy.studio.mixing.charts import ChartKept, mixture_of, paints_of
from niddy.studio.mixing.kept import Bench, PaintKept, bench, palette_of


@dataclass(frozen=True, slots=True)
class Predicted:
    """A chart's paints, squares with weights, palettes with and without what was learned, and the Lab of each."""

    paints: tuple[PaintKept, ...]
    members: dict[int, PaintKept]
    squares: tuple[core.Square, ...]
    weights: Floats
    by: Palette
    plain: Palette
    lab: Floats


def predicted(session: Session, kept: ChartKept) -> Predicted:
    """What the squares of a chart look like by what is known now."""
    found, white = paints_of(session, kept.plan)
    by = _as_it_was(bench(session), kept)
    taught, plain = palette_of(found, by, white), palette_of(found, by, white, taught=False)
    squares = core.squares(kept.plan.layout)
    weights = weights_of([mixture_of(kept.plan, square) for square in squares], len(taught.strength))
    members = dict(enumerate(found)) | ({core.WHITE: white} if white is not None else {})
    return Predicted(tuple(found), members, squares, weights, taught, plain, taught.lab(weights))


def _as_it_was(by: Bench, kept: ChartKept) -> Bench:
    """An old chart keeps the white it was painted with."""
    return replace(by, white_id=kept.plan.white.id) if kept.plan.white is not None else by
