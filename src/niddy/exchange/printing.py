"""What every printed document shares: its fonts, its papers, words that fit, and a page of it as a picture."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import arabic_reshaper  # type: ignore[import-untyped]
import pypdfium2  # type: ignore[import-untyped]
from bidi import get_display  # type: ignore[import-untyped]
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from niddy.core.errors import Refused

REGULAR, BOLD = "NiddySans", "NiddySans-Bold"
PAPERS = {"a4": A4, "letter": LETTER}


@dataclass(frozen=True, slots=True)
class Printed:
    """A printed document: its bytes, its pages, and what could not be printed as asked, in words."""

    pdf: bytes
    pages: int
    says: tuple[str, ...]


def _face() -> Any:
    return pdfmetrics.getFont(REGULAR).face  # type: ignore[attr-defined]


@cache
def fonts() -> frozenset[int]:
    """Register the shipped fonts; the characters they hold."""
    for name, file in ((REGULAR, "DejaVuSans.ttf"), (BOLD, "DejaVuSans-Bold.ttf")):
        with resources.as_file(resources.files(__package__) / "fonts" / file) as path:
            pdfmetrics.registerFont(TTFont(name, str(path)))
    return frozenset(_face().charWidths)


def printable(text: str, says: list[str]) -> str:
    """The text with letters of a joined script joined, what the font lacks as boxes, and that said."""
    if any(unicodedata.bidirectional(c) == "AL" for c in text):
        text = arabic_reshaper.reshape(text)
    known = fonts()
    strange = [c for c in text if c != "\n" and ord(c) not in known]
    if strange:
        shown = ", ".join(f"U+{ord(c):04X}" for c in dict.fromkeys(strange[:4]))
        says.append(f"{len(strange)} characters are not in the printing font ({shown}): they print as boxes")
    return "".join(c if c == "\n" or ord(c) in known else "\u25a1" for c in text)


def visual(line: str) -> str:
    """A line as it is set, left to right: what is written from the right is turned (Unicode annex 9)."""
    if any(unicodedata.bidirectional(c) in ("R", "AL") for c in line):
        return str(get_display(line))
    return line


def wrapped(text: str, font: str, size: float, w: float) -> list[str]:
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
