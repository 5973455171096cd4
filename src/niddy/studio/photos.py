"""Photos: pictures of the paste, checked before they are decoded, scaled down and kept with the batch."""

from __future__ import annotations

import io
import threading
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from uuid import UUID

from PIL import Image, ImageOps, ImageStat, UnidentifiedImageError
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.colorimetry import Patch
from niddy.core.errors import Refused, within
from niddy.db.log import Act, Photo
from niddy.studio.errors import Missing

LONGEST_SIDE = 1600
MAX_PIXELS = {"JPEG": 110_000_000, "PNG": 25_000_000, "WEBP": 25_000_000}
"""What a phone's camera makes; a JPEG is decoded small from the start, the others only whole."""

MAX_BYTES = 25_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
ACCEPTED = (
    f"a JPEG picture of up to {MAX_PIXELS['JPEG'] // 1_000_000} megapixels, a PNG or WebP of up to"
    f" {MAX_PIXELS['PNG'] // 1_000_000}, and {MAX_BYTES // 1_000_000} MB"
)
_ONE_AT_A_TIME = threading.Lock()
"""Decoding takes memory by the pixel: many pictures at once wait for one another."""


@dataclass(frozen=True, slots=True)
class Scaled:
    """A picture as kept: JPEG bytes and its size in pixels, upright, without what the camera wrote beside it."""

    jpeg: bytes
    width: int
    height: int


def scaled(picture: bytes) -> Scaled:
    """Check and scale a picture, one at a time. Its size is read from the header: a huge one is never decoded."""
    with _ONE_AT_A_TIME:
        return _scaled(picture)


def _scaled(picture: bytes) -> Scaled:
    if len(picture) > MAX_BYTES:
        raise Refused("picture", f"{len(picture) / 1e6:.0f} MB", ACCEPTED)
    with _readable(picture) as opened:
        opened.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
        opened.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
        upright = ImageOps.exif_transpose(opened).convert("RGB")
    # A fresh image of the pixels alone carries nothing of the camera's notes: neither place and time, nor comments.
    fresh = Image.new("RGB", upright.size)
    fresh.paste(upright)
    out = io.BytesIO()
    fresh.save(out, "JPEG", quality=85)
    return Scaled(out.getvalue(), upright.width, upright.height)


@contextmanager
def _readable(picture: bytes) -> Iterator[Image.Image]:
    """A picture opened and its size checked; whatever goes wrong while it is read, said in words. Raises Refused."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(picture), formats=FORMATS) as opened:
                pixels = opened.width * opened.height
                if pixels > MAX_PIXELS[opened.format or "PNG"]:
                    raise Refused("picture", f"{pixels / 1e6:.0f} megapixels", ACCEPTED)
                yield opened
    except Image.DecompressionBombError:
        raise Refused("picture", "too many pixels", ACCEPTED) from None
    except UnidentifiedImageError:
        raise Refused("picture", "not a picture that can be read", ACCEPTED) from None
    except (OSError, SyntaxError, ValueError):
        raise Refused("picture", "the file is broken or cut short", ACCEPTED) from None


MARK_SIDE = 240
MARK_SHADES = 48


def mark(picture: bytes) -> bytes:
    """A studio's mark as PNG, small and in few shades, on white where it let through. Raises Refused."""
    if len(picture) > MAX_BYTES:
        raise Refused("picture", f"{len(picture) / 1e6:.0f} MB", ACCEPTED)
    with _ONE_AT_A_TIME, _readable(picture) as opened:
        opened.draft("RGB", (2 * MARK_SIDE, 2 * MARK_SIDE))
        opened.thumbnail((MARK_SIDE, MARK_SIDE))
        upright = ImageOps.exif_transpose(opened).convert("RGBA")
        fresh = Image.new("RGB", upright.size, "white")
        fresh.paste(upright, mask=upright.getchannel("A"))
    out = io.BytesIO()
    fresh.quantize(MARK_SHADES).save(out, "PNG", optimize=True)
    return out.getvalue()


def keep(session: Session, act_id: UUID, picture: Scaled) -> None:
    """Keep a scaled picture under the id of its act."""
    session.add(Photo(id=act_id, jpeg=picture.jpeg, width=picture.width, height=picture.height))
    session.flush()


def jpeg(session: Session, job_id: int, photo_id: UUID) -> bytes:
    """One picture of a job. Raises Missing."""
    found = session.scalar(
        select(Photo.jpeg).join(Act, Act.id == Photo.id).where(Photo.id == photo_id, Act.job_id == job_id)
    )
    if found is None:
        raise Missing("picture", str(photo_id))
    return found


PATCH_FRACTION = 0.03
"""A patch reaches so far from where it was tapped, as a fraction of the longer side."""


def patch(picture: Scaled, x: float, y: float) -> Patch:
    """The colour around a place, given as fractions of width and height. Raises Refused outside the picture."""
    within("x", x, 0, 1)
    within("y", y, 0, 1)
    with Image.open(io.BytesIO(picture.jpeg)) as image:
        reach = max(3, round(PATCH_FRACTION * max(image.size)))
        left, top = round(x * image.width), round(y * image.height)
        box = (
            max(0, left - reach),
            max(0, top - reach),
            min(image.width, left + reach),
            min(image.height, top + reach),
        )
        colours = ImageStat.Stat(image.convert("RGB").crop(box))
    r, g, b = colours.mean
    sd_r, sd_g, sd_b = colours.stddev
    return Patch((r, g, b), (sd_r, sd_g, sd_b))
