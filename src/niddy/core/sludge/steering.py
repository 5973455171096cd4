"""Steering a cake's colour: which way it leans, and how much of which paint brings it to what is wanted.

A paint that was read is mixed by its own two constants; the others by one constant a channel (Kubelka and Munk 1931),
a guess for the eye. Differences are CIEDE2000.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from coloraide import Color

from niddy.core.colorimetry import lab_of_srgb, seen_off
from niddy.core.colour import masstone_of
from niddy.core.mixing.paints import GUESS_OFF, InNumbers, Shine, seen_by
from niddy.core.mixing.predicting import expected_off, palette
from niddy.core.mixing.seeing import Viewer, difference, srgb_of


class Grey(StrEnum):
    """What a neutral may be wanted to be."""

    NEUTRAL = "neutral"
    WARM = "warm"
    COOL = "cool"


_AIM_AB = {Grey.NEUTRAL: (0.0, 0.0), Grey.WARM: (2.5, 7.0), Grey.COOL: (-1.5, -6.0)}
"""Where a grey of each kind lies in a and b of CIELAB (assumed); its lightness stays."""

MOST_G = 80.0
_DOSES = tuple(MOST_G * (n / 40) ** 2 for n in range(1, 41))
_LEANS = (
    (20.0, "pink"),
    (55.0, "red brown"),
    (85.0, "yellow brown"),
    (110.0, "yellow green"),
    (165.0, "green"),
    (215.0, "blue green"),
    (300.0, "blue"),
    (330.0, "violet"),
    (360.0, "pink"),
)
NEUTRAL_WITHIN = 3.0


@dataclass(frozen=True, slots=True)
class Paint:
    """A paint of the studio's that could steer: what the maker knows it by, its tinting class and colour."""

    id: str
    name: str
    tinting: str
    masstone_srgb: str


@dataclass(frozen=True, slots=True)
class Steered:
    """So much of a paint to 100 g of the cake, what that may look like, and how far off it still is in dE00."""

    paint: Paint
    g_per_100g: float
    masstone_srgb: str
    off: float
    says: str
    read: bool = False
    may_be_off: float | None = None


@dataclass(frozen=True, slots=True)
class Numbers:
    """The cake, and paints by their ids, in numbers; who looks at what they mix to, and how shine is read."""

    cake: InNumbers
    paints: Mapping[str, InNumbers]
    viewer: Viewer
    shine: Shine


@dataclass(frozen=True, slots=True)
class Steering:
    """Which way a colour leans, what was aimed at, how far off it is in dE00, and what brings it nearer, best first."""

    leans: str
    chroma: float
    cake_srgb: str
    aim_srgb: str
    off: float
    says: str
    ways: tuple[Steered, ...]


def lean_of(srgb: str) -> tuple[str, float]:
    """Which way a colour leans, in words, and how strongly (C of CIELAB)."""
    _, a, b = Color(srgb).convert("lab-d65").coords()
    chroma = math.hypot(a, b)
    if chroma < NEUTRAL_WITHIN:
        return "neutral", chroma
    hue = math.degrees(math.atan2(b, a)) % 360
    return next(word for until, word in _LEANS if hue <= until), chroma


def aim_of(srgb: str, wish: Grey) -> str:
    """The grey of the same lightness that is wanted."""
    lightness = Color(srgb).convert("lab-d65").coords()[0]
    aimed = Color("lab-d65", [lightness, *_AIM_AB[wish]])
    return str(aimed.convert("srgb").fit().to_string(hex=True))


def steer(
    srgb: str, tinting: str, aim_srgb: str, paints: Sequence[Paint], most: int = 5, numbers: Numbers | None = None
) -> Steering:
    """The paints that bring a colour nearest to an aim, each alone, best first; none that does not help.

    Those that `numbers` knows are mixed by what was read of them.
    """
    aim = Color(aim_srgb)
    leans, chroma = lean_of(srgb)
    off = float(aim.delta_e(srgb, method="2000"))
    ways = []
    for paint in paints:
        if numbers is not None and paint.id in numbers.paints:
            way = _by_numbers(numbers, paint, aim_srgb)
            if way.off < 0.9 * off:
                ways.append(way)
            continue
        tries = []
        for dose in _DOSES:
            mixed = masstone_of([(100.0, tinting, srgb), (dose, paint.tinting, paint.masstone_srgb)])
            tries.append((float(aim.delta_e(mixed, method="2000")), dose, mixed))
        best, dose, mixed = min(tries)
        if best < 0.9 * off:
            ways.append(Steered(paint, dose, mixed, best, seen_off(best, GUESS_OFF)))
    ways.sort(key=lambda way: (round(way.off, 1), way.g_per_100g))
    return Steering(leans, chroma, srgb, aim_srgb, off, seen_off(off, GUESS_OFF), tuple(ways[:most]))


def _by_numbers(numbers: Numbers, paint: Paint, aim_srgb: str) -> Steered:
    """How near a paint that was read brings the cake."""
    by = palette([numbers.cake, numbers.paints[paint.id]], seen_by(numbers.viewer, numbers.shine), numbers.shine)
    weights = np.array([(100.0, dose) for dose in _DOSES])
    labs = by.lab(weights)
    aim = lab_of_srgb(aim_srgb)
    far = difference(labs, np.array([aim.L, aim.a, aim.b]))
    n = int(np.argmin(far))
    may = float(expected_off(by, weights[n : n + 1], labs[n : n + 1])[0])
    best = float(far[n])
    return Steered(paint, _DOSES[n], srgb_of(labs[n : n + 1])[0], best, seen_off(best, may), read=True, may_be_off=may)
