"""A mixing chart read off one photograph: corner codes found, the sheet laid flat, every square sampled."""

from __future__ import annotations

import io
import re
import threading
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import zxingcpp
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from niddy.core.colorimetry import CARD_REFLECTANCE
from niddy.core.errors import Refused
from niddy.core.mixing.chart import Layout, Square, squares
from niddy.core.mixing.photographed import Patches, PhotographedSquare, from_sheet
from niddy.core.mixing.sheet import GAP_MM, MARK_MM, Box, Sheet, sheet

Floats = NDArray[np.float64]
Point = tuple[float, float]
LONGEST_SIDE = 3_200
MOST_PIXELS, MOST_BYTES = 110_000_000, 25_000_000
_ONE_AT_A_TIME = threading.Lock()
ACCEPTED = "a JPEG, PNG or WebP picture of the whole sheet, from straight above"
_MARK = re.compile(r"NIDDY CHART (\d{1,9}) (A4|LETTER) ([1-4])")
ENOUGH_MARKS = 3
"""From fewer the sheet is not laid flat surely enough for small squares."""

SAMPLES = 7
INNER = 0.5
"""So much of a square's side is looked at, its middle: edges are painted unevenly."""


@dataclass(frozen=True, slots=True)
class Found:
    """Where the corners of a sheet were found: the outer corner of each mark as a share of the picture, clockwise.

    `seen` are the marks that were read; `paper` the paper the sheet was printed on.
    """

    corners: tuple[Point, Point, Point, Point]
    seen: tuple[int, ...]
    paper: str


@dataclass(frozen=True, slots=True)
class ReadSquare:
    """A square read off the picture, and where its middle is, as shares of width and height."""

    square: Square
    read: PhotographedSquare
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class ReadChart:
    """A chart read off a picture: where the sheet lies in it, and its squares; no squares before that is known."""

    found: Found
    squares: tuple[ReadSquare, ...]


def opened(picture: bytes) -> Image.Image:
    """A picture upright and no larger than is read, one at a time: decoding takes memory. Raises Refused."""
    if len(picture) > MOST_BYTES:
        raise Refused("picture", f"{len(picture) / 1e6:.0f} MB", f"up to {MOST_BYTES // 1_000_000} MB")
    try:
        with _ONE_AT_A_TIME, Image.open(io.BytesIO(picture), formats=("JPEG", "PNG", "WEBP")) as image:
            if image.width * image.height > MOST_PIXELS:
                raise Refused("picture", "too many pixels", f"up to {MOST_PIXELS // 1_000_000} megapixels")
            image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            image.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
            return ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refused("picture", "not a picture that can be read", ACCEPTED) from None


def read(
    picture: bytes,
    number: int,
    layout: Layout,
    *,
    corners: Sequence[Point] | None = None,
    paper: str | None = None,
    card_reflectance: float = CARD_REFLECTANCE,
) -> ReadChart:
    """The squares of chart `number` from a picture of its sheet.

    `corners` are the outer corners of the four marks, from the top left clockwise as shares of the picture, where a
    maker set them; without them the codes are looked for. Raises Refused at `corners` where too few are seen, at
    `picture` where it is of another chart, and as `from_sheet` does.
    """
    image = opened(picture)
    size = np.array(image.size, float)
    seen = _marks(image, number)
    on = paper or (seen[0].paper if seen else "a4")
    of = sheet(layout, on)
    if corners is not None:
        if len(corners) != 4:
            raise Refused("corners", f"{len(corners)} of them", "four, from the top left clockwise")
        flat = _flat(_outer(of), np.array(corners, float) * size)
    elif len(seen) >= ENOUGH_MARKS:
        flat = _flat(
            np.concatenate([_corners(of.marks[mark.place]) for mark in seen]), np.concatenate([m.at for m in seen])
        )
    else:
        said = f"only {len(seen)} of its 4 corner codes seen" if seen else "no corner code is seen"
        raise Refused("corners", said, "a sharp picture of the whole sheet, or its four corners set by hand")
    found = _outer_in(flat, of) / size
    points = [(float(x), float(y)) for x, y in found]
    lies = Found((points[0], points[1], points[2], points[3]), tuple(mark.place for mark in seen), on)
    every = squares(layout)
    pixels = np.asarray(image)
    painted = _sampled(pixels, flat, [of.square(square) for square in every], INNER)
    card = _sampled(pixels, flat, [of.card], 0.4)
    between = _sampled(pixels, flat, _gaps(of, layout), 0.6)
    colours = from_sheet(card, between, painted, card_reflectance)
    centres = _through(flat, np.array([of.square(square).centre for square in every])) / size
    return ReadChart(
        lies,
        tuple(
            ReadSquare(square, colour, float(x), float(y))
            for square, colour, (x, y) in zip(every, colours, centres, strict=True)
        ),
    )


@dataclass(frozen=True, slots=True)
class _Mark:
    place: int
    paper: str
    at: Floats


def _marks(image: Image.Image, number: int) -> list[_Mark]:
    found: dict[int, _Mark] = {}
    others = set()
    for code in zxingcpp.read_barcodes(image.convert("L")):
        match = _MARK.fullmatch(code.text)
        if match is None:
            continue
        if int(match[1]) != number:
            others.add(int(match[1]))
            continue
        p = code.position
        corners = [(c.x, c.y) for c in (p.top_left, p.top_right, p.bottom_right, p.bottom_left)]
        place = int(match[3]) - 1
        found[place] = _Mark(place, match[2].lower(), np.array(corners, float))
    if others and not found:
        raise Refused("picture", f"this is the sheet of chart {min(others)}", f"the sheet of chart {number}")
    return [found[place] for place in sorted(found)]


def _corners(box: Box) -> Floats:
    return np.array(
        [(box.x, box.y), (box.x + box.w, box.y), (box.x + box.w, box.y + box.h), (box.x, box.y + box.h)], float
    )


def _outer(of: Sheet) -> Floats:
    """The outer corner of each mark, in mm."""
    return np.array([_corners(box)[n] for n, box in enumerate(of.marks)])


def _outer_in(flat: Floats, of: Sheet) -> Floats:
    return _through(flat, _outer(of))


def _flat(mm: Floats, pixels: Floats) -> Floats:
    """The projection (3 by 3) that takes places on the sheet to the picture, by least squares."""
    # Scaled so that both sides are near one: the equations are then well behaved.
    by_mm, by_px = np.diag([1 / 200, 1 / 200, 1.0]), np.diag([1 / 1_000, 1 / 1_000, 1.0])
    x, y = (mm / 200).T
    u, v = (pixels / 1_000).T
    one, none = np.ones(len(x)), np.zeros(len(x))
    rows = np.concatenate(
        [
            np.stack([x, y, one, none, none, none, -u * x, -u * y, -u], axis=1),
            np.stack([none, none, none, x, y, one, -v * x, -v * y, -v], axis=1),
        ]
    )
    _, sizes, turned = np.linalg.svd(rows)
    if len(sizes) < 8 or sizes[7] < 1e-9 * sizes[0]:
        raise Refused("corners", "they lie on a line", "the four corners of the sheet, from the top left clockwise")
    found = turned[-1].reshape(3, 3)
    return np.asarray(np.linalg.inv(by_px) @ found @ by_mm)


def _through(flat: Floats, mm: Floats) -> Floats:
    """Places in the picture of places on the sheet (n by 2)."""
    seen = np.concatenate([mm, np.ones((len(mm), 1))], axis=1) @ flat.T
    return np.asarray(seen[:, :2] / seen[:, 2:])


def _sampled(pixels: NDArray[np.uint8], flat: Floats, boxes: Sequence[Box], inner: float) -> Patches:
    """The middle of each place sampled: the mean of what is neither brightest nor darkest, and its sd."""
    steps = (np.arange(SAMPLES) + 0.5) / SAMPLES - 0.5
    grid = np.array([(x, y) for x in steps for y in steps]) * inner
    mm = np.array([[(b.x + b.w * (0.5 + x), b.y + b.h * (0.5 + y)) for x, y in grid] for b in boxes])
    at = np.rint(_through(flat, mm.reshape(-1, 2))).astype(int)
    high, wide = pixels.shape[:2]
    if np.any((at < 0) | (at >= (wide, high))):
        raise Refused("corners", "some of the sheet lies outside the picture", "a picture of the whole sheet")
    colours = pixels[at[:, 1], at[:, 0]].astype(float).reshape(len(boxes), len(grid), 3)
    order = np.argsort(colours.sum(axis=2), axis=1)
    cut = len(grid) // 6
    kept = np.take_along_axis(colours, order[:, cut : len(grid) - cut, None], axis=1)
    return Patches(np.array([b.centre for b in boxes]), kept.mean(axis=1), kept.std(axis=1))


def _gaps(of: Sheet, layout: Layout) -> list[Box]:
    """Places that stay paper: where four squares meet, above the grid, and beside the marks."""
    boxes: list[Box] = []
    for row in range(layout.rows + 1):
        for column in range(layout.paints + 1):
            corner = of.at(row, column)
            boxes.append(Box(corner.x - GAP_MM, corner.y - GAP_MM, GAP_MM, GAP_MM))
    return [*boxes, *_round_marks(of.marks)]


def _round_marks(marks: Iterable[Box]) -> list[Box]:
    side = 3.0
    return [
        Box(mark.x + (MARK_MM if n in (0, 3) else -side), mark.y + (MARK_MM if n < 2 else -side), side, side)
        for n, mark in enumerate(marks)
    ]
