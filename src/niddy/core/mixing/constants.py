"""Two-constant mixing (Kubelka and Munk 1931; Duncan 1940), channel by channel, under a surface (Saunderson 1942).

Channels are bands of a spectrum, or linear red, green and blue. The white of a studio scatters with 1 in every channel;
what a paint absorbs (K) and scatters (S) is told beside it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from niddy.core.errors import Refused

K1, K2 = 0.04, 0.6
"""Light thrown back by the surface before it enters, and thrown back inside before it leaves (Saunderson 1942)."""

LEAST_GAP = 0.002
"""What a reader of colours still tells apart, as a share of the light (assumed)."""

Channels = tuple[float, ...]
Light = TypeVar("Light", float, NDArray[np.float64])


@dataclass(frozen=True, slots=True)
class Paint:
    """A paint's absorption K and scattering S in every channel, beside a white that scatters with 1."""

    k: Channels
    s: Channels

    def __post_init__(self) -> None:
        if len(self.k) != len(self.s) or not self.k:
            raise Refused("k", f"{len(self.k)} channels against {len(self.s)} in s", "as many of each")
        for n, (k, s) in enumerate(zip(self.k, self.s, strict=True)):
            if not (math.isfinite(k) and k >= 0):
                raise Refused(f"k.{n}", f"{k:g} absorbs less than nothing", "0 or more")
            if not (math.isfinite(s) and s > 0):
                raise Refused(f"s.{n}", f"{s:g} scatters nothing", "more than 0")


def k_over_s(reflectance: float) -> float:
    """K/S of an opaque layer of reflectance R above 0 and up to 1: (1 - R)^2 / 2R."""
    return (1 - reflectance) ** 2 / (2 * reflectance)


def reflectance_of(ks: float) -> float:
    """R of an opaque layer: 1 + x - sqrt(x^2 + 2x), written so that a dark layer keeps its digits."""
    return 1 / (1 + ks + math.sqrt(ks * ks + 2 * ks))


def inside(measured: float) -> float:
    """What the layer itself throws back, from what is measured above its surface."""
    return (measured - K1) / (1 - K1 - K2 * (1 - measured))


def outside(layer: Light) -> Light:
    """What is measured above the surface of a layer: `inside` the other way round."""
    return K1 + (1 - K1) * (1 - K2) * layer / (1 - K2 * layer)


def checked(field: str, measured: Sequence[float], *, surface: bool) -> Channels:
    """Reflectances of the layers themselves. Raises Refused under the field and the channel that cannot be.

    `surface`: they were measured with the shine of the surface, which is taken off.
    """
    found = []
    for n, value in enumerate(measured):
        if not math.isfinite(value) or not 0 < value <= 1:
            raise Refused(f"{field}.{n}", f"a reflectance of {value:g}", "above 0 and up to 1; 0.045 for 4.5 %")
        if surface and value <= K1:
            raise Refused(
                f"{field}.{n}",
                f"{value:g} is not even the {K1:g} that the surface throws back",
                "a reading with the shine in it, or the surface switched off",
            )
        found.append(min(1.0, inside(value)) if surface else float(value))
    return tuple(found)


def white_of(white: Sequence[float], *, surface: bool = False) -> Paint:
    """The white as a paint: it scatters with 1, and absorbs what its reading says. Raises Refused."""
    if not white:
        raise Refused("white", "no reading of the white", "the white alone, in the same channels")
    return Paint(tuple(k_over_s(r) for r in checked("white", white, surface=surface)), (1.0,) * len(white))


def calibrated(
    masstone: Sequence[float],
    tint: Sequence[float],
    white: Sequence[float],
    tint_share: float,
    *,
    surface: bool = False,
    scatter: float = 0.0,
) -> Paint:
    """A paint's K and S from reflectances of its masstone, of its tint and of the white it was let down with.

    `tint_share`: mass of the paint in the tint, as a share of the tint's mass. `scatter`: what readings err by; a
    channel that contradicts itself by no more is read as if it just did not, since a yellow's red hardly differs from
    white. Raises Refused naming the channel where the tint is no lighter than the masstone or no darker than the
    white, and the field where channels differ.
    """
    if not math.isfinite(tint_share) or not 0 < tint_share < 1:
        raise Refused("tint_share", f"{tint_share:g}", "above 0 and below 1, such as 0.0909 for 1 part in 10 of white")
    for field, values in (("masstone", masstone), ("tint", tint), ("white", white)):
        if not values:
            raise Refused(field, "no reading of it", "masstone, tint and white, in the same channels")
        if len(values) != len(masstone):
            raise Refused(field, f"{len(values)} bands against {len(masstone)}", "the same bands for all three")
    of_white = white_of(white, surface=surface)
    light = checked("white", white, surface=surface)
    let_down = _apart(checked("tint", tint, surface=surface), light, scatter)
    alone = _apart(checked("masstone", masstone, surface=surface), let_down, scatter)
    a, b = [k_over_s(r) for r in alone], [k_over_s(r) for r in let_down]
    k, s = [], []
    for n in range(len(a)):
        if a[n] <= b[n]:
            raise Refused(f"tint.{n}", "the tint is no lighter than the masstone", "the two the other way round?")
        if b[n] <= of_white.k[n]:
            raise Refused(f"tint.{n}", "the tint is no darker than the white", "more of the paint in the tint")
        s.append((1 - tint_share) * (b[n] - of_white.k[n]) / (tint_share * (a[n] - b[n])))
        k.append(a[n] * s[n])
    return Paint(tuple(k), tuple(s))


SCATTERS = {"none": 0.08, "low": 0.2, "medium": 0.4, "high": 0.8}
"""What a paint scatters beside white by the library's tinting class, where nobody let it down (assumed)."""


def assumed(masstone: Sequence[float], tinting: str, *, surface: bool = False) -> Paint:
    """A paint of which only the masstone was read: it scatters by its tinting class, alike in every channel.

    A guess, to be said so. Raises Refused.
    """
    if tinting not in SCATTERS:
        raise Refused("tinting", f"'{tinting}'", ", ".join(SCATTERS))
    if not masstone:
        raise Refused("masstone", "no reading of it", "the paint alone")
    s = SCATTERS[tinting]
    return Paint(tuple(s * k_over_s(r) for r in checked("masstone", masstone, surface=surface)), (s,) * len(masstone))


def _apart(darker: Channels, lighter: Channels, scatter: float) -> Channels:
    """Reflectances that should be darker than others, held a little below them where readings say otherwise."""
    gap = min(scatter / 2, LEAST_GAP)
    return tuple(
        min(dark, light - gap) if light > gap and dark - light <= scatter else dark
        for dark, light in zip(darker, lighter, strict=True)
    )


def mixed(parts: Sequence[tuple[float, Paint]], *, surface: bool = False) -> Channels:
    """The reflectance of a mixture of paints by parts of mass; `surface`: with the shine of its surface on it.

    Raises Refused naming the part.
    """
    if not parts:
        raise Refused("parts", "nothing to mix", "one paint or more, each with its share")
    for n, (share, paint) in enumerate(parts):
        if not math.isfinite(share) or share < 0:
            raise Refused(f"parts.{n}.share", f"{share:g}", "0 or more")
        if len(paint.k) != len(parts[0][1].k):
            raise Refused(f"parts.{n}.k", f"{len(paint.k)} bands against {len(parts[0][1].k)}", "the same bands")
    if sum(share for share, _ in parts) <= 0:
        raise Refused("parts", "its shares sum to nothing", "a share above 0")
    found = []
    for n in range(len(parts[0][1].k)):
        k = math.fsum(share * paint.k[n] for share, paint in parts)
        s = math.fsum(share * paint.s[n] for share, paint in parts)
        layer = reflectance_of(k / s)
        found.append(outside(layer) if surface else layer)
    return tuple(found)
