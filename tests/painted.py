"""A made-up photograph of a printed chart that was painted: its sheet from the PDF, its squares filled, badly lit."""

from __future__ import annotations

import io

import numpy as np
import pypdfium2
from PIL import Image, ImageDraw

from niddy.core.mixing.chart import Layout, squares
from niddy.core.mixing.photographed import linear_of
from niddy.core.mixing.sheet import Box, sheet

CARD = "#767676"
"""18 % of the light."""


def photograph(
    pdf: bytes,
    layout: Layout,
    colours: dict[str, str],
    *,
    paper: str = "a4",
    card: str | None = CARD,
    exposure: float = 0.7,
    cast: tuple[float, float, float] = (1.0, 0.93, 0.8),
    uneven: float = 0.25,
    covered: tuple[int, ...] = (),
    px_per_mm: int = 4,
) -> bytes:
    """A JPEG of the sheet taken askew under warm, uneven light; `colours` of the squares by their codes.

    `covered` are corner marks that nobody sees.
    """
    of = sheet(layout, paper)
    image = pypdfium2.PdfDocument(pdf)[0].render(scale=px_per_mm * 25.4 / 72).to_pil().convert("RGB")
    draw = ImageDraw.Draw(image)

    def fill(box: Box, colour: str, edge: float = 0.0) -> None:
        left, top = (box.x + edge) * px_per_mm, (box.y + edge) * px_per_mm
        draw.rectangle([left, top, left + (box.w - 2 * edge) * px_per_mm, top + (box.h - 2 * edge) * px_per_mm], colour)

    for square in squares(layout):
        if square.code in colours:
            fill(of.square(square), colours[square.code], 0.2)
    if card is not None:
        fill(of.card, card)
    for mark in covered:
        fill(of.marks[mark], "#bba98f", -1.0)
    light = linear_of(np.asarray(image, float)) * 0.9 * exposure
    high, wide = light.shape[:2]
    light *= 1 - uneven * (0.6 * np.linspace(0, 1, wide)[None, :, None] + 0.4 * np.linspace(0, 1, high)[:, None, None])
    light *= np.array(cast)
    codes = np.where(light > 0.0031308, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055, 12.92 * light)
    grain = np.random.default_rng(1).normal(0, 1.5, codes.shape)
    image = Image.fromarray((np.clip(codes, 0, 1) * 255 + grain).clip(0, 255).astype("uint8"))
    return _askew(image)


def _askew(image: Image.Image) -> bytes:
    wide, high = image.width + 200, image.height + 240
    corners = [(0, 0), (image.width, 0), (image.width, image.height), (0, image.height)]
    seen = [(120, 70), (wide - 60, 130), (wide - 110, high - 60), (50, high - 100)]
    rows, right = [], []
    for (x, y), (u, v) in zip(seen, corners, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    by = np.linalg.solve(np.array(rows, float), np.array(right, float))
    turned = image.transform(
        (wide, high), Image.Transform.PERSPECTIVE, tuple(by), Image.Resampling.BICUBIC, fillcolor=(70, 60, 50)
    )
    out = io.BytesIO()
    turned.save(out, "JPEG", quality=92)
    return out.getvalue()
