"""A mixing chart on paper: empty squares to paint, corner codes to find them again by, and the list of paints."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import date

import segno
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused
from niddy.core.mixing.chart import Layout, Lower, squares
from niddy.core.mixing.sheet import HEADING_MM, PAPERS_MM, Box, Sheet, mark_text, sheet
from niddy.exchange.printing import BOLD, REGULAR, Printed, fitted, fonts, printable, visual, wrapped

WORDS_MM = 62.0


@dataclass(frozen=True, slots=True)
class Listed:
    """A paint of the chart: its name and code, as they stand in the list."""

    name: str
    code: str


@dataclass(frozen=True, slots=True)
class ChartSheet:
    """What is printed of a chart; `heavy_assumed` are the paints whose parts by volume rest on an assumed density."""

    number: int
    name: str
    day: date
    layout: Layout
    paints: tuple[Listed, ...]
    white: str
    heavy_assumed: tuple[str, ...] = ()


def chart(said: ChartSheet, paper: str = "a4") -> Printed:
    """The sheet to paint on, and the list of its paints on a second page. Raises Refused for a paper unknown here."""
    if paper not in PAPERS_MM:
        raise Refused("paper", f"'{paper}' is not a paper size here", ", ".join(PAPERS_MM))
    fonts()
    of = sheet(said.layout, paper)
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(of.width * mm, of.height * mm), pageCompression=1)
    canvas.setTitle(said.name)
    says: list[str] = []
    _marks(canvas, said, of, paper)
    _head(canvas, said, of, says)
    _grid(canvas, said, of, says)
    canvas.showPage()
    _list(canvas, said, of, says)
    canvas.save()
    return Printed(out.getvalue(), 2, tuple(dict.fromkeys(says)))


def _marks(canvas: Canvas, said: ChartSheet, of: Sheet, paper: str) -> None:
    for place, box in enumerate(of.marks):
        drawn = io.BytesIO()
        # No border: the code's own corners are what a picture of the sheet is laid out by.
        segno.make_qr(mark_text(said.number, paper, place), error="m", boost_error=False).save(
            drawn, kind="png", scale=10, border=0
        )
        drawn.seek(0)
        canvas.drawImage(ImageReader(drawn), box.x * mm, (of.height - box.y - box.h) * mm, box.w * mm, box.h * mm)


def _text(canvas: Canvas, of: Sheet, words: str, font: str, size: float, x: float, y: float) -> None:
    canvas.setFont(font, size)
    canvas.drawString(x * mm, (of.height - y) * mm, visual(words))


def _head(canvas: Canvas, said: ChartSheet, of: Sheet, says: list[str]) -> None:
    left = of.marks[0].x + of.marks[0].w + 4
    name = printable(said.name, says)
    wide = of.card.x - left - 4
    size, lines = fitted(name, BOLD, 15.0, 9.0, wide * mm, 13 * mm)
    y = of.marks[0].y + size / mm
    for line in lines[:2]:
        _text(canvas, of, line, BOLD, size, left, y)
        y += 1.18 * size / mm
    for line in (f"Chart {said.number}, printed {said.day:%d %b %Y}", "Row by row, from A1 to the right."):
        _text(canvas, of, line, REGULAR, 8.5, left, y + 0.5)
        y += 4.0
    canvas.setStrokeGray(0.55)
    canvas.setDash(3, 3)
    _rect(canvas, of, of.card)
    canvas.setDash()
    canvas.setFillGray(0.35)
    x, _ = of.card.centre
    canvas.setFont(REGULAR, 8)
    canvas.drawCentredString(x * mm, (of.height - of.card.y - of.card.h - 4) * mm, "for a picture: grey card here")
    canvas.setFillGray(0)


def _rect(canvas: Canvas, of: Sheet, box: Box) -> None:
    canvas.rect(box.x * mm, (of.height - box.y - box.h) * mm, box.w * mm, box.h * mm)


def _grid(canvas: Canvas, said: ChartSheet, of: Sheet, says: list[str]) -> None:
    layout = said.layout
    letters = min(11.0, of.side * 1.6)
    for column in range(layout.paints):
        x, _ = of.at(0, column).centre
        canvas.setFont(BOLD, letters)
        canvas.drawCentredString(x * mm, (of.height - of.top + 2) * mm, chr(ord("A") + column))
        if of.side >= 13:
            _name(canvas, of, said.paints[column].code, x, of.top - 5.6, of.side, says)
    for row in range(layout.rows):
        box = of.at(row, 0)
        x = of.left - HEADING_MM / 2
        canvas.setFont(BOLD, min(letters, 10))
        canvas.drawCentredString(x * mm, (of.height - box.y - box.h / 2) * mm - letters / 3, str(row + 1))
        if row >= layout.paints:
            _name(
                canvas, of, f"+{layout.white_rows[row - layout.paints]:g} W", x, box.y + box.h - 0.8, HEADING_MM, says
            )
    canvas.setLineWidth(0.5)
    canvas.setStrokeGray(0.45)
    for square in squares(layout):
        _rect(canvas, of, of.square(square))
    if layout.thin:
        _films(canvas, of, layout, letters)


def _films(canvas: Canvas, of: Sheet, layout: Layout, letters: float) -> None:
    """The last column: half of each place is black, so that a thin film over it shows what it hides."""
    x, _ = of.at(0, layout.paints).centre
    canvas.setFont(BOLD, min(letters, 9))
    canvas.drawCentredString(x * mm, (of.height - of.top + 2) * mm, "thin")
    for row in range(layout.paints):
        box = of.at(row, layout.paints)
        _rect(canvas, of, box)
        canvas.rect((box.x + box.w / 2) * mm, (of.height - box.y - box.h) * mm, box.w / 2 * mm, box.h * mm, 0, 1)


def _name(canvas: Canvas, of: Sheet, words: str, x: float, y: float, wide: float, says: list[str]) -> None:
    size, lines = fitted(printable(words, says), REGULAR, 7.0, 4.5, wide * mm, 4 * mm)
    canvas.setFont(REGULAR, size)
    canvas.drawCentredString(x * mm, (of.height - y) * mm, visual(lines[0]))


def _list(canvas: Canvas, said: ChartSheet, of: Sheet, says: list[str]) -> None:
    """The second page: which paint is which, what goes into a square, and how it is painted."""
    left, y = 18.0, 22.0
    _text(canvas, of, f"Chart {said.number}: its paints", BOLD, 15, left, y)
    y += 9
    columns = 2 if said.layout.paints > 12 else 1
    each = -(-said.layout.paints // columns)
    for n, paint in enumerate(said.paints):
        x = left + (n // each) * (of.width - 2 * left) / columns
        at = y + (n % each) * 6.2
        _text(canvas, of, chr(ord("A") + n), BOLD, 11, x, at)
        _text(canvas, of, str(n + 1), REGULAR, 9, x + 7, at)
        words = printable(f"{paint.name}, {paint.code}" if paint.code else paint.name, says)
        size, lines = fitted(words, REGULAR, 10.0, 6.0, ((of.width - 2 * left) / columns - 18) * mm, 5 * mm)
        _text(canvas, of, lines[0], REGULAR, size, x + 14, at)
    y += each * 6.2 + 6
    for words in _how(said):
        for line in wrapped(printable(words, says), REGULAR, 10.0, (of.width - 2 * left) * mm):
            _text(canvas, of, line, REGULAR, 10, left, y)
            y += 4.6
        y += 2


def _how(said: ChartSheet) -> list[str]:
    layout = said.layout
    row, column = f"{layout.row_parts:g}", f"{layout.column_parts:g}"
    lines = [
        "Where a letter meets its own number, the paint alone.",
        f"Above that line: {row} of the row's paint to {column} of the column's, by {layout.by}.",
    ]
    if layout.lower is Lower.OTHER_WAY:
        lines.append("Below it the same: the row's paint first, so the pair stands the other way round.")
    elif layout.lower is Lower.WITH_WHITE:
        white = layout.white_parts * (layout.row_parts + layout.column_parts)
        lines.append(f"Below it the same pair with white: {row} to {column} to {white:g} of white.")
    for n, parts in enumerate(layout.white_rows):
        lines.append(f"Row {layout.paints + n + 1}: 1 of the paint to {parts:g} of white.")
    if layout.wants_white:
        lines.append(f"White (W): {said.white}.")
    if layout.thin:
        lines.append("Last column: the row's paint alone, scraped thin with a knife over white and black.")
    if said.heavy_assumed:
        lines.append(f"Density assumed: {', '.join(said.heavy_assumed)}.")
    lines += [
        "Fill each square to its edge, so thick that no paper shows; leave the gaps and the corner codes clean.",
        "With a reader: row by row from A1, to the right. With a camera: grey card on its place, even daylight, no "
        "reflections, the whole sheet with all four codes, from straight above.",
    ]
    return lines
