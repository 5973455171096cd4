"""Labels as PDF: on the grid of a sheet, or one a page."""

from __future__ import annotations

import hashlib
import io
import math
from collections.abc import Generator
from enum import StrEnum
from functools import lru_cache

import segno
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused, within
from niddy.exchange import pictograms
from niddy.exchange.label_sheet import LabelForm, Sheet, size_of
from niddy.exchange.printing import BOLD, LEADING, PAPERS, REGULAR, Printed, fitted, fonts, printable, visual
from niddy.studio.labels import Label

SMALLEST_PT = 4.5
"""Below this nobody reads it: a text that still does not fit is said to be cut."""

GAP_MM = 1.5
PICTOGRAM_MM = 14.15
"""From corner to corner: 1 cm² (Regulation (EC) 1272/2008, annex I, 1.2.1)."""


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
        _DRAWN[sheet.form](canvas, label, style, x * mm, y * mm, width * mm, height * mm, says)
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


FLAP = 0.16
"""What of a sleeve's height is glued under, at the most its colour's own strip on it."""


def _draw_sleeve(
    canvas: Canvas, label: Label, style: LabelStyle, x: float, y: float, w: float, h: float, says: list[str]
) -> None:
    """Folded round a stick: the front, the back behind it, and a flap that is glued under the front."""
    flap = h * FLAP
    half = (h - flap) / 2
    _front(canvas, label, style, x, y + flap + half, w, half, says)
    _back(canvas, label, x, y + flap, w, half, says)
    canvas.setDash(2, 2)
    for fold in (flap, flap + half):
        _fold(canvas, x, y + fold, x + w, y + fold)
    canvas.setDash()
    canvas.setStrokeGray(0.75)
    canvas.rect(x, y, w, h)
    canvas.setFillGray(0.4)
    canvas.setFont(REGULAR, 6)
    canvas.drawCentredString(x + w / 2, y + flap / 2 - 2, "glue")
    canvas.setFillGray(0)


def _draw_round(
    canvas: Canvas, label: Label, style: LabelStyle, x: float, y: float, w: float, h: float, says: list[str]
) -> None:
    """For a lid: the front alone, inside the circle, its code at the foot; what is to be known stands on the jar."""
    side = min(w, h)
    x, y = x + (w - side) / 2, y + (h - side) / 2
    canvas.saveState()
    edge = canvas.beginPath()
    edge.circle(x + side / 2, y + side / 2, side / 2)
    canvas.clipPath(edge, stroke=0, fill=0)
    if label.colour and style is not LabelStyle.DAB:
        canvas.setFillColor(HexColor(label.colour))
        band = side * (0.24 if style is LabelStyle.BAND else 0.08)
        canvas.rect(x, y + side - band, side, band, stroke=0, fill=1)
    canvas.restoreState()
    if label.dab and style is LabelStyle.DAB:
        _dab(canvas, x + side * 0.41, y + side * 0.76, side * 0.18)
    canvas.setStrokeGray(0.6)
    canvas.circle(x + side / 2, y + side / 2, side / 2)
    canvas.setFillGray(0)
    code = side * 0.2
    _code(canvas, label.address, x + (side - code) / 2, y + side * 0.07, code)
    # What lies in the circle at its middle: words are set in a box that its edge does not cut.
    wide, top, bottom = side * 0.76, y + side * 0.73, y + side * 0.29
    left = x + (side - wide) / 2
    foot = _studio(canvas, label, left, bottom, wide, side * 0.8, says)
    words = "\n".join(part for part in (label.pigments, label.oil) if part)
    room = top - bottom - foot
    used = _block(canvas, label.name, BOLD, _name_size(label.name, wide, side), left, top, wide, room * 0.6, says)
    facts = "\n".join(part for part in (words, ", ".join(p for p in (label.batch, label.made_on) if p)) if part)
    _block(canvas, facts, REGULAR, min(8.0, side / 16), left, top - used - 1.5, wide, room - used - 2, says)


def _name_size(name: str, wide: float, high: float) -> float:
    """A long word makes the letters smaller before it is broken."""
    longest = max((stringWidth(word, BOLD, 1) for word in name.split()), default=0.1)
    return max(SMALLEST_PT, min(26.0, high / 4, 0.99 * wide / longest))


def _studio(canvas: Canvas, label: Label, x: float, bottom: float, w: float, h: float, says: list[str]) -> float:
    """The studio's mark and name at the foot of a front; how high they stand."""
    line = max(SMALLEST_PT, min(7.0, h / 13)) * LEADING if label.studio else 0.0
    beside = 0.0
    high = line
    if label.mark:
        high = max(line, min(h * 0.2, w * 0.22))
        drawn = ImageReader(io.BytesIO(label.mark))
        wide, tall = drawn.getSize()
        beside = high * min(3.0, wide / tall)
        canvas.drawImage(drawn, x, bottom, beside, high, preserveAspectRatio=True, anchor="sw")
        beside += GAP_MM * mm
    if label.studio:
        _block(canvas, label.studio, REGULAR, line / LEADING, x + beside, bottom + line, w - beside, line, says)
    return high


def _dab(canvas: Canvas, x: float, y: float, side: float) -> None:
    """The place for a dab of the paint itself."""
    canvas.setStrokeGray(0.55)
    canvas.setDash(1.5, 1.5)
    canvas.rect(x, y, side, side)
    canvas.setDash()
    canvas.setFillGray(0.4)
    canvas.setFont(REGULAR, min(5.5, side / 5))
    canvas.drawCentredString(x + side / 2, y + side / 2 - 2, "dab")


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
        _dab(canvas, x + w - pad - side, y + h - pad - side, side)
        wide -= side + pad
    canvas.setFillGray(0)
    whole = x + w - pad - left - (pad if style is LabelStyle.RULE else 0.0)
    foot = _studio(canvas, label, left, bottom, whole, h, says)
    room = top - bottom - foot
    what = "\n".join(part for part in (label.pigments, label.oil) if part)
    name_room = room * (0.52 if what else 1.0)
    used = _block(canvas, label.name, BOLD, _name_size(label.name, wide, h), left, top, wide, name_room, says)
    if what:
        _block(canvas, what, REGULAR, min(9.0, h / 11), left, top - used - 1.5, wide, room - used - 2, says)


_DRAWN = {LabelForm.FLAT: _draw, LabelForm.ROUND: _draw_round, LabelForm.SLEEVE: _draw_sleeve}


def _back(canvas: Canvas, label: Label, x: float, y: float, w: float, h: float, says: list[str]) -> None:
    if w >= FLAT * h and label.pictograms:
        _back_beside(canvas, label, x, y, w, h, says)
        return
    pad = GAP_MM * mm
    code = min(h * 0.36, w * 0.27)
    _code(canvas, label.address, x + w - pad - code, y + pad, code)
    left, top, bottom, wide = x + pad, y + h - pad, y + pad, w - 2 * pad
    high = _pictograms(canvas, label, left, bottom, wide - code - pad, h * 0.62, says)[1]
    beside, facts = _said(label)
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


FLAT = 2.2
"""So much wider than high, marks and code stand beside the words."""


def _back_beside(canvas: Canvas, label: Label, x: float, y: float, w: float, h: float, says: list[str]) -> None:
    pad = GAP_MM * mm
    code = h * 0.44
    _code(canvas, label.address, x + w - pad - code, y + pad, code)
    room, high = w * 0.5 - code - 2 * pad, h - 2 * pad
    marks, rows = _marks(len(label.pictograms), room, high)
    across = math.ceil(len(label.pictograms) / rows) * (marks + 1.5)
    _pictograms(canvas, label, x + w - 2 * pad - code - across, y + pad, room, high, says)
    words = "\n".join(part for part in _said(label) if part)
    wide = w - code - across - 4 * pad
    _block(canvas, words, REGULAR, max(SMALLEST_PT, min(8.0, h / 8)), x + pad, y + h - pad, wide, h - 2 * pad, says)


def _said(label: Label) -> tuple[str, str]:
    """What is to be known of it, and its facts."""
    made = ", ".join(part for part in (label.batch, label.made_on) if part)
    beside = "\n".join(part for part in (label.besides, label.hazards) if part)
    return beside, "\n".join(part for part in (made, label.volume, label.use_by) if part)


def _pictograms(
    canvas: Canvas, label: Label, x: float, y: float, w: float, h: float, says: list[str]
) -> tuple[float, float]:
    """The pictograms from a corner on; how far they reach across and up."""
    marks, rows = _marks(len(label.pictograms), w, h)
    if 0 < marks < PICTOGRAM_MM * mm - 0.1:
        area = (marks / mm / 10) ** 2 / 2
        says.append(f"the pictograms are {area:.1f} cm² here: 1 cm² is the usual least; a larger label has room for it")
    columns = math.ceil(len(label.pictograms) / rows) if rows else 0
    for n, mark in enumerate(label.pictograms):
        row, column = divmod(n, columns)
        pictograms.draw(canvas, mark, x + column * (marks + 1.5), y + row * (marks + 1.5), marks)
    canvas.setFillGray(0)
    return columns * (marks + 1.5), rows * (marks + 1.5)


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
