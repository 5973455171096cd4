"""What every printed document shares: its fonts, its papers, words that fit, and a page of it as a picture."""

from __future__ import annotations

import io
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
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
LEADING = 1.18
"""From line to line, in sizes of the letters."""

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
    for name, file in ((REGULAR, "NiddySans-Regular.ttf"), (BOLD, "NiddySans-Bold.ttf")):
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
    """Lines no wider than `w`; a word that is wider by itself is broken. Time grows with the text alone."""
    room = w / size
    space = _em(" ", font)
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line: list[str] = []
        used = 0.0
        for word, wide in _broken(paragraph.split(" "), font, room):
            if line and used + space + wide > room:
                lines.append(" ".join(line))
                line, used = [], 0.0
            used += wide + (space if line else 0.0)
            line.append(word)
        lines.append(" ".join(line))
    return lines


def _em(text: str, font: str) -> float:
    """The width of a text at a size of 1."""
    return float(pdfmetrics.stringWidth(text, font, 1))


def _broken(words: list[str], font: str, room: float) -> Iterator[tuple[str, float]]:
    """Words with their widths, those wider than the room in pieces that fit it, one letter at the least."""
    for word in words:
        wide = _em(word, font)
        if wide <= room:
            yield word, wide
            continue
        begun, used = 0, 0.0
        for n, letter in enumerate(word):
            letter_w = _em(letter, font)
            if n > begun and used + letter_w > room:
                yield word[begun:n], used
                begun, used = n, 0.0
            used += letter_w
        yield word[begun:], used


@lru_cache(maxsize=2_000)
def fitted(text: str, font: str, largest: float, smallest: float, w: float, h: float) -> tuple[float, tuple[str, ...]]:
    """The largest size in quarter points at which a text fits a box, with its lines; the smallest where none does."""
    sizes = [largest - 0.25 * n for n in range(max(1, int((largest - smallest) / 0.25) + 1))]
    if sizes[-1] > smallest:
        sizes.append(smallest)

    def fits(size: float) -> bool:
        lines = wrapped(text, font, size, w)
        return len(lines) * size * LEADING <= h and max(_em(line, font) for line in lines) * size <= w

    # Smaller always fits better: the first size that does is found by halving.
    low, high = 0, len(sizes) - 1
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if fits(sizes[middle]) else (middle + 1, high)
    return sizes[low], tuple(wrapped(text, font, sizes[low], w))


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
