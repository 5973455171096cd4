"""Lists on paper: the shelf, a batch sheet."""

from __future__ import annotations

import io
from dataclasses import dataclass

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused
from niddy.exchange.printing import BOLD, PAPERS, REGULAR, Printed, fonts, printable, visual, wrapped


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
        raise Refused("paper", f"'{paper}' is not a paper size here", ", ".join(PAPERS))
    fonts()
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
        canvas.drawString(margin, height - margin - 10, printable(wanted.title, says))
        canvas.setFont(REGULAR, 8)
        under = wrapped(printable(wanted.under, says), REGULAR, 8, width - 2 * margin)
        for n, line in enumerate(under):
            canvas.drawString(margin, height - margin - 23 - 10 * n, visual(line))
        canvas.drawRightString(width - margin, height - margin - 10, f"page {page}")
        canvas.setFont(BOLD, 7.5)
        at = height - margin - 30 - 10 * len(under)
        for n, (name, _, right) in enumerate(wanted.columns):
            (canvas.drawRightString if right else canvas.drawString)(edges[n + 1] - 4 if right else edges[n], at, name)
        canvas.line(margin, at - 4, width - margin, at - 4)
        return float(at - 6)

    y = head()
    for r, row in enumerate(wanted.rows):
        cells = [
            wrapped(printable(text, says), REGULAR, size, edges[n + 1] - edges[n] - 5) for n, text in enumerate(row)
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
                    edges[n + 1] - 4 if right else edges[n], at, visual(line)
                )
        y -= tall
        canvas.setStrokeGray(0.75)
        canvas.line(margin, y + 1, width - margin, y + 1)
        canvas.setStrokeGray(0)
    if wanted.foot:
        canvas.setFont(REGULAR, 7.5)
        canvas.drawString(margin, margin - 12, printable(wanted.foot, says))
    canvas.save()
    return Printed(out.getvalue(), page, tuple(dict.fromkeys(says)))
