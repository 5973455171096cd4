"""Labels as PDF: on the grid of a sheet, or one a page."""

from __future__ import annotations

import hashlib
import io
import math
from collections.abc import Generator
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import segno
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused, within
from niddy.exchange import pictograms
from niddy.exchange.printing import BOLD, LEADING, PAPERS, REGULAR, Printed, fitted, fonts, printable, visual
from niddy.studio.labels import Label

SMALLEST_PT = 4.5
"""Below this nobody reads it: a text that still does not fit is said to be cut."""

GAP_MM = 1.5
PICTOGRAM_MM = 14.15
"""From corner to corner: 1 cm² (Regulation (EC) 1272/2008, annex I, 1.2.1)."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of labels: paper, columns and rows, margins and gaps in mm. Or one label a page of `single` mm."""

    paper: str = "a4"
    columns: int = 3
    rows: int = 8
    margin_x_mm: float = 7.0
    margin_y_mm: float = 12.0
    gap_x_mm: float = 2.5
    gap_y_mm: float = 0.0
    single_mm: tuple[float, float] | None = None


def size_of(sheet: Sheet) -> tuple[float, float]:
    """Width and height of one label in mm. Raises Refused for a grid that does not fit its page."""
    if sheet.single_mm is not None:
        width, height = sheet.single_mm
        within("width_mm", width, 25, 300, "mm")
        within("height_mm", height, 15, 300, "mm")
        return width, height
    if sheet.paper not in PAPERS:
        raise Refused("paper", f"'{sheet.paper}' is no paper here", ", ".join(PAPERS))
    within("columns", sheet.columns, 1, 12)
    within("rows", sheet.rows, 1, 40)
    for name in ("margin_x_mm", "margin_y_mm", "gap_x_mm", "gap_y_mm"):
        within(name, getattr(sheet, name), 0, 100, "mm")
    page_w, page_h = (side / mm for side in PAPERS[sheet.paper])
    width = (page_w - 2 * sheet.margin_x_mm - (sheet.columns - 1) * sheet.gap_x_mm) / sheet.columns
    height = (page_h - 2 * sheet.margin_y_mm - (sheet.rows - 1) * sheet.gap_y_mm) / sheet.rows
    if width < 25:
        raise Refused(
            "columns", f"{sheet.columns} columns leave {width:.0f} mm a label", "fewer columns: 25 mm or more"
        )
    if height < 15:
        raise Refused("rows", f"{sheet.rows} rows leave {height:.0f} mm a label", "fewer rows: 15 mm or more")
    return width, height


LABEL_SIZES = (
    ("20 ml tube", 50.0, 30.0),
    ("40 ml tube", 65.0, 38.0),
    ("60 ml tube", 80.0, 45.0),
    ("Jar", 90.0, 50.0),
    ("Stick sleeve", 60.0, 30.0),
)
"""Labels in mm that go once round a tube below its folds, on a jar's side, or round a stick as its sleeve."""

_LEAST_MARGIN_MM = 8.0
_GAP_MM = 3.0


@dataclass(frozen=True, slots=True)
class LabelSize:
    """A label that fits one kind of tube or jar, and the grid that puts as many as go on a sheet."""

    name: str
    width_mm: float
    height_mm: float
    columns: int
    rows: int
    margin_x_mm: float
    margin_y_mm: float
    gap_x_mm: float
    gap_y_mm: float


def label_sizes(paper: str) -> tuple[LabelSize, ...]:
    """The sizes to choose from on a paper. Raises Refused for an unknown one."""
    if paper not in PAPERS:
        raise Refused("paper", f"'{paper}' is no paper here", ", ".join(PAPERS))
    page_w, page_h = (side / mm for side in PAPERS[paper])
    found = []
    for name, width, height in LABEL_SIZES:
        columns = int((page_w - 2 * _LEAST_MARGIN_MM + _GAP_MM) // (width + _GAP_MM))
        rows = int((page_h - 2 * _LEAST_MARGIN_MM + _GAP_MM) // (height + _GAP_MM))
        left, above = (
            (page - n * (side + _GAP_MM) + _GAP_MM) / 2
            for page, n, side in ((page_w, columns, width), (page_h, rows, height))
        )
        found.append(LabelSize(name, width, height, columns, rows, round(left, 2), round(above, 2), _GAP_MM, _GAP_MM))
    return tuple(found)


class LabelStyle(StrEnum):
    """How the front of a label is set: under a band of the colour, with a place for a dab, or in a quiet frame."""

    BAND = "band"
    DAB = "dab"
    RULE = "rule"


def labels(wanted: list[Label], sheet: Sheet, start_at: int = 1, style: LabelStyle = LabelStyle.BAND) -> Printed:
    """Labels on sheets or one a page; `start_at` is the first free place of a used sheet.

    Raises Refused for a grid that does not fit, a start that is not on the sheet, and nothing to print.
    """
    steps = label_by_label(wanted, sheet, start_at, style)
    while True:
        try:
            next(steps)
        except StopIteration as ended:
            printed: Printed = ended.value
            return printed


def check(wanted: list[Label], sheet: Sheet, start_at: int) -> tuple[float, float]:
    """Width and height of one label in mm. Raises Refused where there is nothing to print or nowhere to begin."""
    width, height = size_of(sheet)
    if not wanted:
        raise Refused("items", "nothing to print", "at least one tube or jar")
    within("start_at", start_at, 1, 1 if sheet.single_mm is not None else sheet.columns * sheet.rows)
    return width, height


def label_by_label(
    wanted: list[Label], sheet: Sheet, start_at: int = 1, style: LabelStyle = LabelStyle.BAND
) -> Generator[int, None, Printed]:
    """As `labels`, saying after each how many are drawn."""
    width, height = check(wanted, sheet, start_at)
    places = 1 if sheet.single_mm is not None else sheet.columns * sheet.rows
    page = (width * mm, height * mm) if sheet.single_mm is not None else PAPERS[sheet.paper]
    fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=page, pageCompression=1)
    canvas.setTitle("Labels")
    says: list[str] = []
    at = start_at - 1
    pages = 1
    for n, label in enumerate(wanted):
        if at == places:
            canvas.showPage()
            at, pages = 0, pages + 1
        if sheet.single_mm is not None:
            x, y = 0.0, 0.0
        else:
            column, row = at % sheet.columns, at // sheet.columns
            x = sheet.margin_x_mm + column * (width + sheet.gap_x_mm)
            y = page[1] / mm - sheet.margin_y_mm - (row + 1) * height - row * sheet.gap_y_mm
        _draw(canvas, label, style, x * mm, y * mm, width * mm, height * mm, says)
        at += 1
        yield n + 1
    canvas.save()
    return Printed(out.getvalue(), pages, tuple(dict.fromkeys(says)))


def _draw(
    canvas: Canvas, label: Label, style: LabelStyle, x: float, y: float, w: float, h: float, says: list[str]
) -> None:
    """A front that is looked at and a back that is read: beside each other round a tube, else one above the other."""
    if w >= WIDE * h:
        front = w * FRONT
        _front(canvas, label, style, x, y, front, h, says)
        _fold(canvas, x + front, y, x + front, y + h)
        _back(canvas, label, x + front, y, w - front, h, says)
    else:
        front = h * FRONT
        _front(canvas, label, style, x, y + h - front, w, front, says)
        _fold(canvas, x, y + h - front, x + w, y + h - front)
        _back(canvas, label, x, y, w, h - front, says)


WIDE, FRONT = 1.3, 0.48
"""So much wider than high, the back stands beside the front, which takes this share of it."""


def _fold(canvas: Canvas, x: float, y: float, to_x: float, to_y: float) -> None:
    canvas.setStrokeGray(0.75)
    canvas.setLineWidth(0.4)
    canvas.line(x, y, to_x, to_y)
    canvas.setLineWidth(1)


def _front(
    canvas: Canvas, label: Label, style: LabelStyle, x: float, y: float, w: float, h: float, says: list[str]
) -> None:
    pad = GAP_MM * mm
    left, top, bottom, wide = x + pad, y + h - pad, y + pad, w - 2 * pad
    colour = HexColor(label.colour) if label.colour else None
    if style is LabelStyle.BAND and colour is not None:
        band = h * 0.30
        canvas.setFillColor(colour)
        canvas.rect(x, y + h - band, w, band, stroke=0, fill=1)
        top -= band - pad / 2
    elif style is LabelStyle.RULE:
        canvas.setStrokeGray(0)
        canvas.setLineWidth(0.6)
        canvas.rect(x + pad / 2, y + pad / 2, w - pad, h - pad)
        canvas.setLineWidth(1)
        left, wide, top, bottom = left + pad, wide - 2 * pad, top - pad, bottom + pad / 2
        if colour is not None:
            canvas.setFillColor(colour)
            canvas.rect(left, top - h * 0.06, wide, h * 0.06, stroke=0, fill=1)
            top -= h * 0.06 + pad
    elif label.dab:
        side = min(h * 0.44, w * 0.3)
        canvas.setStrokeGray(0.55)
        canvas.setDash(1.5, 1.5)
        canvas.rect(x + w - pad - side, y + h - pad - side, side, side)
        canvas.setDash()
        canvas.setFillGray(0.4)
        canvas.setFont(REGULAR, min(5.5, side / 5))
        canvas.drawCentredString(x + w - pad - side / 2, y + h - pad - side / 2 - 2, "dab")
        wide -= side + pad
    canvas.setFillGray(0)
    foot = 0.0
    if label.studio:
        foot = max(SMALLEST_PT, min(7.0, h / 13)) * LEADING
        whole = x + w - pad - left - (pad if style is LabelStyle.RULE else 0.0)
        _block(canvas, label.studio, REGULAR, foot / LEADING, left, bottom + foot, whole, foot, says)
    room = top - bottom - foot
    what = "\n".join(part for part in (label.pigments, label.oil) if part)
    name_room = room * (0.52 if what else 1.0)
    # A long word makes the letters smaller before it is broken.
    longest = max((stringWidth(word, BOLD, 1) for word in label.name.split()), default=0.1)
    size = max(SMALLEST_PT, min(26.0, h / 4, 0.99 * wide / longest))
    used = _block(canvas, label.name, BOLD, size, left, top, wide, name_room, says)
    if what:
        _block(canvas, what, REGULAR, min(9.0, h / 11), left, top - used - 1.5, wide, room - used - 2, says)


def _back(canvas: Canvas, label: Label, x: float, y: float, w: float, h: float, says: list[str]) -> None:
    pad = GAP_MM * mm
    code = min(h * 0.36, w * 0.27)
    _code(canvas, label.address, x + w - pad - code, y + pad, code)
    left, top, bottom, wide = x + pad, y + h - pad, y + pad, w - 2 * pad
    marks, rows = _marks(len(label.pictograms), wide - code - pad, h * 0.62)
    if 0 < marks < PICTOGRAM_MM * mm - 0.1:
        area = (marks / mm / 10) ** 2 / 2
        says.append(f"the pictograms are {area:.1f} cm² here: 1 cm² is the usual least; a larger label has room for it")
    columns = math.ceil(len(label.pictograms) / rows) if rows else 1
    for n, mark in enumerate(label.pictograms):
        row, column = divmod(n, columns)
        pictograms.draw(canvas, mark, left + column * (marks + 1.5), bottom + row * (marks + 1.5), marks)
    high = rows * (marks + 1.5)
    canvas.setFillGray(0)
    beside = "\n".join(part for part in (label.besides, label.hazards) if part)
    facts = "\n".join(
        part for part in (", ".join(p for p in (label.batch, label.made_on) if p), label.volume, label.use_by) if part
    )
    largest = max(SMALLEST_PT, min(8.0, h / 12))
    low = max(code, high)
    if label.pictograms:
        # One block above them: together they shrink, and nothing is cut.
        _block(canvas, f"{beside}\n{facts}".strip(), REGULAR, largest, left, top, wide, top - bottom - low - 1, says)
        return
    used = 0.0
    if beside:
        used = _block(canvas, beside, REGULAR, largest, left, top, wide, top - bottom - low - 1, says)
    at = top - used - (1.5 if used else 0.0)
    _block(canvas, facts, REGULAR, largest, left, at, wide - code - pad, at - bottom, says)


def _marks(count: int, wide: float, high: float) -> tuple[float, int]:
    """How large so many pictograms can be in a box, at most the usual size, and in how many rows."""
    sizes = [
        (min(PICTOGRAM_MM * mm, wide / math.ceil(count / rows) - 1.5, high / rows - 1.5), -rows)
        for rows in range(1, count + 1)
    ]
    size, rows = max(sizes, default=(0.0, 0))
    return size, -rows


def _block(
    canvas: Canvas, text: str, font: str, size: float, x: float, top: float, w: float, h: float, says: list[str]
) -> float:
    """Text wrapped into a box, made smaller until it fits; what it took in height. What cannot fit is said."""
    text = printable(text, says)
    size, set_in = fitted(text, font, size, SMALLEST_PT, w, h)
    lines = list(set_in)
    room = max(1, int(h / (size * LEADING) + 0.001))
    if len(lines) > room:
        says.append(f"'{text[:40].replace(chr(10), ' ')}...' is cut: too long for this label even at {size:g} points")
        lines = lines[:room]
    canvas.setFont(font, size)
    for n, line in enumerate(lines):
        canvas.drawString(x, top - size * (1 + LEADING * n) + 0.15 * size, visual(line))
    return len(lines) * size * LEADING


def _code(canvas: Canvas, address: str, x: float, y: float, side: float) -> None:
    """A QR code of an address; one drawing serves every label of that address."""
    name = f"code{hashlib.sha1(address.encode(), usedforsecurity=False).hexdigest()}"
    matrix = _matrix(address)
    if not canvas.hasForm(name):
        canvas.beginForm(name, 0, 0, len(matrix), len(matrix))
        canvas.setFillGray(0)
        for r, row in enumerate(matrix):
            c = 0
            while c < len(row):
                run = 1
                while c + run < len(row) and row[c + run] == row[c]:
                    run += 1
                if row[c]:
                    canvas.rect(c, len(matrix) - 1 - r, run, 1.02, stroke=0, fill=1)
                c += run
        canvas.endForm()
    canvas.saveState()
    canvas.translate(x, y)
    canvas.scale(side / len(matrix), side / len(matrix))
    canvas.doForm(name)
    canvas.restoreState()


@lru_cache(maxsize=1_000)
def _matrix(address: str) -> tuple[bytearray, ...]:
    return segno.make(address, error="m", micro=False).matrix
