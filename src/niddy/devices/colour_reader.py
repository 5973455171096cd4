"""A stand-in colour reader: a spectral reading with noise, made from a material's colour."""

from __future__ import annotations

import random

from niddy.core.colorimetry import spectrum_of

NOISE = 0.004
"""Sd of a band's reflectance between two readings of one spot (assumed)."""


def read(colour: str, chance: random.Random | None = None) -> tuple[float, ...]:
    """The reflectance a reader would see on a paint of this sRGB colour, at 400 to 700 nm in steps of 10."""
    chance = chance or random.Random()
    tilt = chance.gauss(0, NOISE)
    return tuple(min(1.0, max(0.001, r * (1 + tilt) + chance.gauss(0, NOISE))) for r in spectrum_of(colour))


def near(reflectance: tuple[float, ...], chance: random.Random | None = None) -> tuple[float, ...]:
    """What a reader would see of a square painted to have this reflectance: mixed by hand, so a little off."""
    chance = chance or random.Random()
    tilt = chance.gauss(0, 8 * NOISE)
    return tuple(min(1.0, max(0.001, r ** (1 + tilt) + chance.gauss(0, NOISE))) for r in reflectance)
