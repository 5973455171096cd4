"""Labels, batch sheets and shelf lists as PDF; a page of one as a picture, so that the preview is the print."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Generator, Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources
from typing import Any

import pypdfium2  # type: ignore[import-untyped]
import segno
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused, within
from niddy.studio.labels import Label

REGULAR, BOLD = "NiddySans", "NiddySans-Bold"
PAPERS = {"a4": A4, "letter": LETTER}
SMALLEST_PT = 4.5
"""Below this nobody reads it: a text that still does not fit is said to be cut."""

GAP_MM = 1.5


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


@dataclass(frozen=True, slots=True)
class Printed:
    """A printed document: its bytes, its pages, and what could not be printed as asked, in words."""

    pdf: bytes
    pages: int
    says: tuple[str, ...]


def _face() -> Any:
    return pdfmetrics.getFont(REGULAR).face  # type: ignore[attr-defined]


@cache
def _fonts() -> frozenset[int]:
    """Register the shipped fonts; the characters they hold."""
    for name, file in ((REGULAR, "DejaVuSans.ttf"), (BOLD, "DejaVuSans-Bold.ttf")):
        with resources.as_file(resources.files(__package__) / "fonts" / file) as path:
            pdfmetrics.registerFont(TTFont(name, str(path)))
    return frozenset(_face().charWidths)


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


def labels(wanted: list[Label], sheet: Sheet, start_at: int = 1) -> Printed:
    """Labels on sheets or one a page; `start_at` is the first free place of a used sheet.

    Raises Refused for a grid that does not fit, a start that is not on the sheet, and nothing to print.
    """
    steps = label_by_label(wanted, sheet, start_at)
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


def label_by_label(wanted: list[Label], sheet: Sheet, start_at: int = 1) -> Generator[int, None, Printed]:
    """As `labels`, saying after each how many are drawn."""
    width, height = check(wanted, sheet, start_at)
    places = 1 if sheet.single_mm is not None else sheet.columns * sheet.rows
    page = (width * mm, height * mm) if sheet.single_mm is not None else PAPERS[sheet.paper]
    _fonts()
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
        _draw(canvas, label, x * mm, y * mm, width * mm, height * mm, says)
        at += 1
        yield n + 1
    canvas.save()
    return Printed(out.getvalue(), pages, tuple(dict.fromkeys(says)))


def _draw(canvas: Canvas, label: Label, x: float, y: float, w: float, h: float, says: list[str]) -> None:
    pad = GAP_MM * mm
    qr = min(h * 0.42, w * 0.26)
    dab = min(h * 0.42, w * 0.26)
    _code(canvas, label.address, x + w - pad - qr, y + h - pad - qr, qr)
    canvas.setStrokeGray(0.55)
    canvas.setDash(1.5, 1.5)
    canvas.rect(x + w - pad - dab, y + pad, dab, dab)
    canvas.setDash()
    canvas.setFillGray(0.4)
    canvas.setFont(REGULAR, min(5.5, dab / 5))
    canvas.drawCentredString(x + w - pad - dab / 2, y + pad + dab / 2 - 2, "dab")
    canvas.setFillGray(0)
    left, width = x + pad, w - 3 * pad - max(qr, dab)
    top, bottom = y + h - pad, y + pad
    marks = min(h * 0.2, 5.5 * mm) if label.pictograms else 0.0
    name_box = (top - bottom - marks) * 0.34
    used = _block(canvas, label.name, BOLD, min(18.0, h / 7), left, top, width, name_box, says)
    rest = "\n".join(
        part
        for part in (
            label.pigments, label.oil, label.besides,
            ", ".join(p for p in (label.batch, label.made_on, label.volume) if p), label.use_by, label.hazards,
        )
        if part
    )  # fmt: skip
    _block(canvas, rest, REGULAR, min(10.0, h / 14), left, top - used - 1, width, top - used - bottom - marks - 1, says)
    for n, mark in enumerate(label.pictograms):
        _pictogram(canvas, mark, left + n * (marks + 1.5), bottom, marks)


def _block(
    canvas: Canvas, text: str, font: str, size: float, x: float, top: float, w: float, h: float, says: list[str]
) -> float:
    """Text wrapped into a box, made smaller until it fits; what it took in height. What cannot fit is said."""
    text = _printable(text, says)
    lines = _wrapped(text, font, size, w)
    while size > SMALLEST_PT and (len(lines) * size * 1.18 > h or _widest(lines, font, size) > w):
        size -= 0.25
        lines = _wrapped(text, font, size, w)
    room = max(1, int(h / (size * 1.18) + 0.001))
    if len(lines) > room:
        says.append(f"'{text[:40].replace(chr(10), ' ')}...' is cut: too long for this label even at {size:g} points")
        lines = lines[:room]
    canvas.setFont(font, size)
    for n, line in enumerate(lines):
        canvas.drawString(x, top - size * (1 + 1.18 * n) + 0.15 * size, line)
    return len(lines) * size * 1.18


def _printable(text: str, says: list[str]) -> str:
    known = _fonts()
    strange = [c for c in text if c != "\n" and ord(c) not in known]
    if strange:
        shown = ", ".join(f"U+{ord(c):04X}" for c in dict.fromkeys(strange[:4]))
        says.append(f"{len(strange)} characters are not in the printing font ({shown}): they print as boxes")
    return "".join(c if c == "\n" or ord(c) in known else "\u25a1" for c in text)


def _widest(lines: list[str], font: str, size: float) -> float:
    return max((pdfmetrics.stringWidth(line, font, size) for line in lines), default=0.0)


def _wrapped(text: str, font: str, size: float, w: float) -> list[str]:
    """Lines no wider than `w`; a word that is wider by itself is broken."""
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line = ""
        for word in _broken(paragraph.split(" "), font, size, w):
            longer = f"{line} {word}" if line else word
            if pdfmetrics.stringWidth(longer, font, size) <= w or not line:
                line = longer
            else:
                lines.append(line)
                line = word
        lines.append(line)
    return lines


def _broken(words: list[str], font: str, size: float, w: float) -> Iterator[str]:
    for word in words:
        while len(word) > 1 and pdfmetrics.stringWidth(word, font, size) > w:
            cut = len(word) - 1
            while cut > 1 and pdfmetrics.stringWidth(word[:cut], font, size) > w:
                cut -= 1
            yield word[:cut]
            word = word[cut:]
        yield word


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


def _pictogram(canvas: Canvas, mark: str, x: float, y: float, side: float) -> None:
    """A standard red diamond (UN GHS, annex 1) with its symbol, drawn plainly."""
    middle = side / 2
    canvas.saveState()
    canvas.translate(x + middle, y + middle)
    canvas.setStrokeColorRGB(0.8, 0, 0)
    canvas.setLineWidth(side * 0.07)
    path = canvas.beginPath()
    reach = middle * 0.93
    path.moveTo(0, reach)
    for dx, dy in ((reach, 0), (0, -reach), (-reach, 0)):
        path.lineTo(dx, dy)
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)
    canvas.setFillGray(0)
    canvas.setStrokeGray(0)
    u = side / 10
    if mark == "exclamation":
        canvas.rect(-0.45 * u, -0.6 * u, 0.9 * u, 2.7 * u, stroke=0, fill=1)
        canvas.circle(0, -1.7 * u, 0.6 * u, stroke=0, fill=1)
    elif mark == "health":
        canvas.circle(0, 1.6 * u, 0.8 * u, stroke=0, fill=1)
        body = canvas.beginPath()
        body.moveTo(-1.6 * u, 0.6 * u)
        for px, py in ((1.6, 0.6), (1.2, -2.1), (-1.2, -2.1)):
            body.lineTo(px * u, py * u)
        body.close()
        canvas.drawPath(body, stroke=0, fill=1)
        canvas.setFillGray(1)
        star = canvas.beginPath()
        star.moveTo(0, 0.4 * u)
        for px, py in ((0.3, -0.4), (1.0, -0.7), (0.3, -1.0), (0, -1.8), (-0.3, -1.0), (-1.0, -0.7), (-0.3, -0.4)):
            star.lineTo(px * u, py * u)
        star.close()
        canvas.drawPath(star, stroke=0, fill=1)
    elif mark == "environment":
        canvas.setLineWidth(0.45 * u)
        canvas.line(-2.4 * u, -1.4 * u, 2.0 * u, -1.4 * u)
        canvas.line(-1.2 * u, -1.4 * u, -1.2 * u, 1.4 * u)
        canvas.line(-1.2 * u, 0.2 * u, -2.0 * u, 1.0 * u)
        canvas.line(-1.2 * u, 0.5 * u, -0.4 * u, 1.3 * u)
        canvas.ellipse(0.3 * u, -1.1 * u, 1.9 * u, -0.3 * u, stroke=0, fill=1)
    else:
        flame = canvas.beginPath()
        flame.moveTo(0, -1.8 * u)
        flame.curveTo(-2.2 * u, -1.2 * u, -1.2 * u, 0.8 * u, -0.2 * u, 2.2 * u)
        flame.curveTo(-0.1 * u, 1.0 * u, 1.8 * u, 0.4 * u, 1.4 * u, -0.8 * u)
        flame.curveTo(1.2 * u, -1.6 * u, 0.6 * u, -1.8 * u, 0, -1.8 * u)
        canvas.drawPath(flame, stroke=0, fill=1)
    canvas.restoreState()


def picture(pdf: bytes, page: int = 0, width_px: int = 1000) -> bytes:
    """One page as PNG, drawn from the very bytes that are printed. Raises Refused for a page that is not there."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        if page >= len(document):
            raise Refused("page", f"there is no page {page + 1}", f"1 to {len(document)}")
        sheet = document[page]
        image = sheet.render(scale=width_px / sheet.get_width()).to_pil()
        out = io.BytesIO()
        image.convert("RGB").save(out, "PNG", optimize=True)
        return out.getvalue()
    finally:
        document.close()


@dataclass(frozen=True, slots=True)
class Table:
    """A printed list: title, a line beneath it, columns (name, share of the width, right-aligned) and rows of text."""

    title: str
    under: str
    columns: tuple[tuple[str, float, bool], ...]
    rows: tuple[tuple[str, ...], ...]
    colours: tuple[str, ...] = ()
    foot: str = ""


def table(wanted: Table, paper: str = "a4") -> Printed:
    """A list on paper, as many pages as it takes; a colour, where given, stands as a swatch before its row."""
    if paper not in PAPERS:
        raise Refused("paper", f"'{paper}' is no paper here", ", ".join(PAPERS))
    _fonts()
    width, height = PAPERS[paper]
    margin, size = 15 * mm, 8.5
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPERS[paper], pageCompression=1)
    canvas.setTitle(wanted.title)
    says: list[str] = []
    swatch = 7 * mm if wanted.colours else 0.0
    room = width - 2 * margin - swatch
    edges = [margin + swatch]
    whole = sum(share for _, share, _ in wanted.columns)
    for _, share, _ in wanted.columns:
        edges.append(edges[-1] + room * share / whole)
    page, y = 1, 0.0

    def head() -> float:
        canvas.setFont(BOLD, 14)
        canvas.drawString(margin, height - margin - 10, _printable(wanted.title, says))
        canvas.setFont(REGULAR, 8)
        canvas.drawString(margin, height - margin - 23, _printable(wanted.under, says))
        canvas.drawRightString(width - margin, height - margin - 10, f"page {page}")
        canvas.setFont(BOLD, 7.5)
        at = height - margin - 40
        for n, (name, _, right) in enumerate(wanted.columns):
            (canvas.drawRightString if right else canvas.drawString)(edges[n + 1] - 4 if right else edges[n], at, name)
        canvas.line(margin, at - 4, width - margin, at - 4)
        return float(at - 6)

    y = head()
    for r, row in enumerate(wanted.rows):
        cells = [
            _wrapped(_printable(text, says), REGULAR, size, edges[n + 1] - edges[n] - 5) for n, text in enumerate(row)
        ]
        tall = max(len(lines) for lines in cells) * size * 1.2 + 4
        if y - tall < margin:
            canvas.showPage()
            page += 1
            y = head()
        if wanted.colours:
            canvas.setFillColor(wanted.colours[r])
            canvas.rect(margin, y - size * 1.3, 5.5 * mm, size * 1.15, stroke=0, fill=1)
            canvas.setFillGray(0)
        canvas.setFont(REGULAR, size)
        for n, lines in enumerate(cells):
            for k, line in enumerate(lines):
                at = y - size * (1 + 1.2 * k)
                right = wanted.columns[n][2]
                (canvas.drawRightString if right else canvas.drawString)(
                    edges[n + 1] - 4 if right else edges[n], at, line
                )
        y -= tall
        canvas.setStrokeGray(0.75)
        canvas.line(margin, y + 1, width - margin, y + 1)
        canvas.setStrokeGray(0)
    if wanted.foot:
        canvas.setFont(REGULAR, 7.5)
        canvas.drawString(margin, margin - 12, _printable(wanted.foot, says))
    canvas.save()
    return Printed(out.getvalue(), page, tuple(dict.fromkeys(says)))
