"""Colour in numbers: a paint's two constants, and what a mixture throws back."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, Number, example, router
from niddy.core import colour, mixing
from niddy.core.errors import Refused
from niddy.core.mixing import Paint

MOST_BANDS = 100
Reflectances = Annotated[list[Number], Field(max_length=MOST_BANDS)]
Constants = Annotated[list[Number], Field(min_length=1, max_length=MOST_BANDS)]
RGB = 3


class PaintColourAsked(Asked):
    """Reflectances (0 to 1) of a paint alone, of its tint and of the white, in the same channels.

    `tint_share` is the paint's share of the tint by mass; `surface`: the shine is in the readings, and is taken off.
    """

    masstone: Reflectances
    tint: Reflectances
    white: Reflectances
    tint_share: Number
    surface: bool = False


class PaintColour(BaseModel):
    """Absorption and scattering in every channel, beside a white that scatters with 1."""

    k: list[float]
    s: list[float]


@router.post("/paint_colour")
def paint_colour(
    asked: Annotated[
        PaintColourAsked,
        example(
            "a red, and one part of it in ten of white",
            masstone=[0.05, 0.08, 0.35],
            tint=[0.45, 0.52, 0.75],
            white=[0.93, 0.93, 0.90],
            tint_share=1 / 11,
        ),
    ],
) -> PaintColour:
    """A paint's absorption and scattering, from its masstone and its tint (two-constant Kubelka-Munk)."""
    found = mixing.calibrated(asked.masstone, asked.tint, asked.white, asked.tint_share, surface=asked.surface)
    return PaintColour(k=list(found.k), s=list(found.s))


class MixPart(Asked):
    """A paint of a mixture: its share by mass, absorption and scattering."""

    share: Number
    k: Constants
    s: Constants


class MixColourAsked(Asked):
    """Paints and their shares; `surface`: the answer is to have the shine of a surface on it."""

    parts: Annotated[list[MixPart], Field(max_length=24)]
    surface: bool = False


class MixColour(BaseModel):
    """What the mixture throws back in every channel; with three channels (linear sRGB) also as a colour of a screen."""

    reflectance: list[float]
    srgb: str | None


@router.post("/mix_colour")
def mix_colour(
    asked: Annotated[
        MixColourAsked,
        example(
            "half and half with white",
            parts=[
                {"share": 1, "k": [3.46377, 2.28472, 0.38789], "s": [0.3838, 0.43189, 0.64266]},
                {"share": 1, "k": [0.002634, 0.002634, 0.005556], "s": [1, 1, 1]},
            ],
        ),
    ],
) -> MixColour:
    """The reflectance of a mixture of paints by mass."""
    made = []
    for n, part in enumerate(asked.parts):
        try:
            made.append((part.share, Paint(tuple(part.k), tuple(part.s))))
        except Refused as refused:
            raise refused.under(f"parts.{n}") from None
    found = mixing.mixed(made, surface=asked.surface)
    return MixColour(reflectance=list(found), srgb=colour.linear_to_hex(found) if len(found) == RGB else None)
