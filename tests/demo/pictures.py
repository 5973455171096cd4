"""Made-up pictures of a paste on a slab, for the demo: drawn, not photographed."""

from __future__ import annotations

import io
import math
import random

from PIL import Image, ImageDraw, ImageFilter


def paste(colour: str, spread: float, seed: int) -> bytes:
    """A JPEG of a heap of paint in a colour (#rrggbb); `spread` from 0 (crumbs) to 1 (a mulled film)."""
    chance = random.Random(seed)
    size = (1200, 900)
    picture = Image.new("RGB", size, "#d9dbd8")
    draw = ImageDraw.Draw(picture)
    for row in range(size[1]):
        shade = 214 + int(10 * math.sin(row / 140))
        draw.line([(0, row), (size[0], row)], fill=(shade, shade + 1, shade - 1))
    base = tuple(int(colour[n : n + 2], 16) for n in (1, 3, 5))

    def shaded(by: float) -> tuple[int, int, int]:
        r, g, b = (max(0, min(255, int(part + by))) for part in base)
        return r, g, b

    lumps = int(240 * (1 - spread)) + 14
    for _ in range(lumps):
        reach = 130 + 260 * spread
        x = 600 + chance.gauss(0, reach * 0.62)
        y = 470 + chance.gauss(0, reach * 0.45)
        r = chance.uniform(14, 46) * (1 + 2.4 * spread)
        draw.ellipse([x - r * 1.3, y - r, x + r * 1.3, y + r], fill=shaded(chance.uniform(-22, 22)))
    for n in range(int(26 * spread)):
        level = 300 + n * 13
        half = 330 - abs(n - 13) * 16
        draw.arc(
            [600 - half, level - 60, 600 + half, level + 60], 200, 340, fill=shaded(chance.uniform(-30, 34)), width=7
        )
    soft = picture.filter(ImageFilter.GaussianBlur(2.2))
    out = io.BytesIO()
    soft.save(out, "JPEG", quality=82)
    return out.getvalue()
