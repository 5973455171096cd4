"""Colour for drawing: what a swatch of a material or blend may look like. A guess for the eye, never a measurement.

Mixing adds K/S (Kubelka and Munk 1931) in three linear channels.
"""

from __future__ import annotations

from functools import lru_cache

from coloraide import Color

_TINTING_WEIGHT = {"none": 0.2, "low": 0.5, "medium": 1.0, "high": 2.0}
"""How hard a pigment pulls in a blend, by its tinting class (assumed)."""

_UNDERTONE_WHITE = 0.035
_SWATCH_GROUND = 0.86


@lru_cache(maxsize=4_096)
def hex_to_linear(colour: str) -> tuple[float, float, float]:
    """Linear light 0 to 1 of an sRGB colour '#rrggbb'."""
    r, g, b = Color(colour).convert("srgb-linear").coords()
    return r, g, b


def linear_to_hex(rgb: tuple[float, ...]) -> str:
    """sRGB '#rrggbb' of linear light, clipped to what a screen can show."""
    return str(Color("srgb-linear", list(rgb)).convert("srgb").clip().to_string(hex=True))


def masstone_of(parts: list[tuple[float, str, str]]) -> str:
    """The colour of a blend, from (parts by mass, tinting class, masstone '#rrggbb') of each pigment."""
    weights = [mass * _TINTING_WEIGHT[tinting] for mass, tinting, _ in parts]
    channels = [hex_to_linear(colour) for _, _, colour in parts]
    mixed = []
    for channel in range(3):
        ks = sum(w * _ks(c[channel]) for w, c in zip(weights, channels, strict=True)) / sum(weights)
        mixed.append(_reflectance(ks))
    return linear_to_hex(tuple(mixed))


@lru_cache(maxsize=4_096)
def undertone_of(masstone: str) -> str:
    """The same colour drawn thin over a pale ground: its K/S let down."""
    thin = (_reflectance(_ks(c) * _UNDERTONE_WHITE) * _SWATCH_GROUND for c in hex_to_linear(masstone))
    return linear_to_hex(tuple(thin))


def _ks(reflectance: float) -> float:
    r = min(0.999, max(0.004, reflectance))
    return (1 - r) ** 2 / (2 * r)


def _reflectance(ks: float) -> float:
    return float(1 + ks - (ks * ks + 2 * ks) ** 0.5)
