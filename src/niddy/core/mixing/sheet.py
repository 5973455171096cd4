"""The sheet a chart is painted on: where its corner marks, the grey card's place and every square are, in mm.

From the top left corner of the paper, across and down. The picture of a sheet is read by the same places.
"""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.mixing.chart import Layout, Square

MARGIN_MM = 10.0
MARK_MM = 17.0
GAP_MM = 1.2
HEADING_MM = 9.0
TOP_MM = 44.0
"""What the marks, the title and the grey card's place take at the top."""

LARGEST_MM = 22.0
CARD_MM = (52.0, 26.0)

PAPERS_MM = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}


@dataclass(frozen=True, slots=True)
class Box:
    """A place on the sheet: its left and top edge, width and height, in mm."""

    x: float
    y: float
    w: float
    h: float

    @property
    def centre(self) -> tuple[float, float]:
        """Its middle."""
        return self.x + self.w / 2, self.y + self.h / 2


@dataclass(frozen=True, slots=True)
class Sheet:
    """A chart's sheet: the paper in mm, its four marks (from the top left, clockwise), the card, the grid's corner."""

    width: float
    height: float
    marks: tuple[Box, Box, Box, Box]
    card: Box
    left: float
    top: float
    side: float

    def square(self, square: Square) -> Box:
        """Where a square is painted."""
        return self.at(square.row, square.column)

    def at(self, row: int, column: int) -> Box:
        """Where the square of a row and a column is."""
        step = self.side + GAP_MM
        return Box(self.left + column * step, self.top + row * step, self.side, self.side)


def sheet(layout: Layout, paper: str) -> Sheet:
    """The sheet of a chart on a paper of `PAPERS_MM`: squares as large as fit, 22 mm at the most."""
    width, height = PAPERS_MM[paper]
    far_x, far_y = width - MARGIN_MM - MARK_MM, height - MARGIN_MM - MARK_MM
    marks = tuple(
        Box(x, y, MARK_MM, MARK_MM)
        for x, y in ((MARGIN_MM, MARGIN_MM), (far_x, MARGIN_MM), (far_x, far_y), (MARGIN_MM, far_y))
    )
    card = Box(far_x - CARD_MM[0] - 4, MARGIN_MM, *CARD_MM)
    across = width - 2 * MARGIN_MM - HEADING_MM
    down = far_y - 3 - TOP_MM - HEADING_MM
    side = min(
        (across - GAP_MM * (layout.columns - 1)) / layout.columns,
        (down - GAP_MM * (layout.rows - 1)) / layout.rows,
        LARGEST_MM,
    )
    left = MARGIN_MM + HEADING_MM + (across - layout.columns * (side + GAP_MM) + GAP_MM) / 2
    one, two, three, four = marks
    return Sheet(width, height, (one, two, three, four), card, left, TOP_MM + HEADING_MM, side)


def mark_text(number: int, paper: str, place: int) -> str:
    """What the code of a corner mark says: the chart, the paper, and which corner."""
    return f"NIDDY CHART {number} {paper.upper()} {place + 1}"
