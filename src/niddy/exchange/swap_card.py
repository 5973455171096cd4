"""A card to hand over: in words for people, and in codes the same as its file, read back from pictures of the card."""

from __future__ import annotations

import base64
import binascii
import io
import re
import zlib
from collections.abc import Iterable

import segno
import zxingcpp
from PIL import Image, ImageOps, UnidentifiedImageError
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from niddy.core.errors import Refused
from niddy.exchange import swap_json
from niddy.exchange.printing import BOLD, PAPERS, REGULAR, Printed, fonts, printable, visual, wrapped
from niddy.studio.swap import File
from niddy.studio.swapped import Card

A_CODE = 700
"""Letters a code holds: with more of them a phone no longer reads it off paper."""

CODE_MM, MARGIN_MM = 62.0, 18.0
_CODE = re.compile(r"NIDDY (\d{1,2})/(\d{1,2}) ([0-9A-F]{8}):([A-Z2-7]+)")
_MOST_PIXELS = 60_000_000
ACCEPTED = "a sharp picture of the card with all of its codes, from straight above"


def codes(file: File) -> tuple[str, ...]:
    """A file as the texts of codes: squeezed, in letters a code holds densely, numbered, and with a checksum."""
    text = swap_json.dump(file)
    squeezed = zlib.compress(text.encode(), 9)
    letters = base64.b32encode(squeezed).decode().rstrip("=")
    check = f"{zlib.crc32(squeezed):08X}"
    parts = [letters[n : n + A_CODE] for n in range(0, len(letters), A_CODE)]
    return tuple(f"NIDDY {n + 1}/{len(parts)} {check}:{part}" for n, part in enumerate(parts))


MOST_CODES = 200
"""No card has more."""


def joined(texts: Iterable[str]) -> bytes:
    """The file that codes hold, in whatever order they were read. Raises Refused where some are missing or damaged."""
    found: dict[tuple[str, int], dict[int, str]] = {}
    for text in texts:
        match = _CODE.fullmatch(text)
        if match is not None and 1 <= int(match[1]) <= int(match[2]) <= MOST_CODES:
            found.setdefault((match[3], int(match[2])), {})[int(match[1])] = match[4]
    if not found:
        raise Refused("file", "no code of a card is seen in it", ACCEPTED)
    (check, count), parts = max(found.items(), key=lambda one: len(one[1]) / one[0][1])
    missing = [str(n) for n in range(1, count + 1) if n not in parts]
    if missing:
        raise Refused("file", f"of {count} codes no. {', '.join(missing)} cannot be read", ACCEPTED)
    letters = "".join(parts[n] for n in range(1, count + 1))
    try:
        squeezed = base64.b32decode(letters + "=" * (-len(letters) % 8))
        if f"{zlib.crc32(squeezed):08X}" != check:
            raise Refused("file", "its codes do not belong together", ACCEPTED)
        opened = zlib.decompressobj().decompress(squeezed, swap_json.MOST_BYTES + 1)
    except (binascii.Error, zlib.error):
        raise Refused("file", "its codes are damaged", ACCEPTED) from None
    return opened


def read(picture: bytes) -> bytes:
    """The file on a card, from a picture of it (JPEG, PNG or WebP). Raises Refused."""
    try:
        with Image.open(io.BytesIO(picture), formats=("JPEG", "PNG", "WEBP")) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise Refused("file", "too many pixels", f"a picture of {_MOST_PIXELS // 10**6} megapixels at most")
            seen = ImageOps.exif_transpose(opened).convert("L")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise Refused("file", "not a picture that can be read", ACCEPTED) from None
    return joined(one.text for one in zxingcpp.read_barcodes(seen))


def card(said: Card, file: File, paper: str = "a4") -> Printed:
    """The card on paper. Raises Refused for a paper unknown here."""
    if paper not in PAPERS:
        raise Refused("paper", f"'{paper}' is not a paper size here", ", ".join(PAPERS))
    fonts()
    width, height = PAPERS[paper]
    margin, size = MARGIN_MM * mm, 11.0
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPERS[paper], pageCompression=1)
    canvas.setTitle(said.title)
    says: list[str] = []
    pages = 1
    y = height - margin

    def room_for(tall: float) -> None:
        nonlocal y, pages
        if y - tall < margin:
            canvas.showPage()
            pages += 1
            y = height - margin

    def text(words: str, font: str, at: float, gap: float = 4.0, right: str = "") -> None:
        nonlocal y
        wide = width - 2 * margin - (190 if right else 0)
        lines = wrapped(printable(words, says), font, at, wide)
        room_for(len(lines) * at * 1.25 + gap)
        canvas.setFont(font, at)
        if right:
            canvas.drawRightString(width - margin, y - at, visual(printable(right, says)))
        for line in lines:
            canvas.drawString(margin, y - at, visual(line))
            y -= at * 1.25
        y -= gap

    text(said.kind, REGULAR, 10)
    text(said.title, BOLD, 22)
    text(said.under, REGULAR, 10, 10)
    for line in said.lines:
        text(line.what, REGULAR, size, 3, line.much)
        canvas.setStrokeGray(0.75)
        canvas.line(margin, y + 1, width - margin, y + 1)
        y -= 3
    y -= 8
    text(
        "Figures of materials are approximate and general. The codes hold all of it: in Niddy, take a picture of this "
        "card where one from another studio is taken in.",
        REGULAR,
        9,
        8,
    )
    across = int((width - 2 * margin) // (CODE_MM * mm + 4 * mm))
    for n, code in enumerate(codes(file)):
        place = n % across
        if place == 0:
            room_for(CODE_MM * mm + 6 * mm)
            y -= CODE_MM * mm + 4 * mm
        drawn = io.BytesIO()
        segno.make_qr(code, error="l", boost_error=False).save(drawn, kind="png", scale=8, border=4)
        drawn.seek(0)
        at = margin + place * (CODE_MM + 4) * mm
        canvas.drawImage(ImageReader(drawn), at, y, CODE_MM * mm, CODE_MM * mm)
    canvas.save()
    return Printed(out.getvalue(), pages, tuple(dict.fromkeys(says)))
