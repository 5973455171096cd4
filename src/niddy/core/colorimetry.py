"""Colour measured: Lab, CIEDE2000 (ISO/CIE 11664-6), spectra, tint strength, and a photograph with a neutral card."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import fmean

from coloraide import Color

from niddy.core.colour import hex_to_linear, linear_to_hex
from niddy.core.errors import Refused, within

BANDS_NM = tuple(range(400, 701, 10))
CARD_REFLECTANCE = 0.18
"""A neutral grey card reflects so much where nothing else is printed on it (assumed)."""

CARD_CHROMA = 36.0
"""A card further than this from neutral, by the photograph's own white, is coloured light or no grey card (assumed)."""

CLIPPED = 250
DARK = 8
WEAK_PERCENT = 90.0


@dataclass(frozen=True, slots=True)
class Lab:
    """CIE L*a*b*, D50 and 2 degrees. Raises Refused outside its solid."""

    L: float
    a: float
    b: float

    def __post_init__(self) -> None:
        within("L", self.L, 0, 100)
        within("a", self.a, -128, 128)
        within("b", self.b, -128, 128)


@dataclass(frozen=True, slots=True)
class Observer:
    """Colour matching functions of the 2 degree observer times D50, per band of `BANDS_NM`."""

    x: tuple[float, ...]
    y: tuple[float, ...]
    z: tuple[float, ...]


def difference(one: Lab, other: Lab) -> float:
    """CIEDE2000 of two colours under one white."""
    # The formula knows no white: the D65 space only keeps the package from adapting what is given.
    first, second = (Color("lab-d65", [lab.L, lab.a, lab.b]) for lab in (one, other))
    return float(first.delta_e(second, method="2000"))


def seen_off(off: float, may_be_off: float = 0.0) -> str:
    """How far off a colour looks, by dE00 (assumed: 1 is just seen, 3 looks close).

    "No different" only where the difference and its error (nine times in ten) together stay unseen.
    """
    words = next(words for most, words in _SEEN if off < most)
    return _SEEN[1][1] if words == _SEEN[0][1] and off + may_be_off >= _SEEN[0][0] else words


_SEEN = ((1.0, "no different from"), (3.0, "close to"), (8.0, "near"), (math.inf, "far from"))


def _color(lab: Lab) -> Color:
    return Color("lab", [lab.L, lab.a, lab.b])


def lab_of_srgb(colour: str) -> Lab:
    """Lab D50 of an sRGB '#rrggbb'. Raises Refused."""
    if len(colour) != 7 or not colour.startswith("#") or any(c not in "0123456789abcdefABCDEF" for c in colour[1:]):
        raise Refused("srgb", f"'{colour[:20]}'", "a colour such as #7b3f22")
    lightness, a, b = Color(colour).convert("lab").coords()
    return Lab(min(100.0, max(0.0, lightness)), a, b)


def srgb_of(lab: Lab) -> str:
    """The nearest colour a screen can show, for drawing."""
    return str(_color(lab).convert("srgb").fit(method="clip").to_string(hex=True))


def lab_of_spectrum(reflectance: tuple[float, ...], observer: Observer) -> Lab:
    """Lab of a reflectance spectrum from 0 to 1 (a little over for fluorescent or glossy ones) at `BANDS_NM`."""
    if len(reflectance) != len(BANDS_NM):
        raise Refused("spectrum", f"{len(reflectance)} bands", f"{len(BANDS_NM)} bands, 400 to 700 nm in steps of 10")
    for band, value in zip(BANDS_NM, reflectance, strict=True):
        within(f"spectrum.{band}", value, 0, 1.5)
    white = [sum(weights) for weights in (observer.x, observer.y, observer.z)]
    xyz = [
        sum(r * w for r, w in zip(reflectance, weights, strict=True)) / whole
        for weights, whole in zip((observer.x, observer.y, observer.z), white, strict=True)
    ]
    fx, fy, fz = (_f(value) for value in xyz)
    return Lab(min(100.0, max(0.0, 116 * fy - 16)), 500 * (fx - fy), 200 * (fy - fz))


def _f(t: float) -> float:
    return t ** (1 / 3) if t > (6 / 29) ** 3 else t / (3 * (6 / 29) ** 2) + 4 / 29


def tint_strength_percent(standard: tuple[float, ...], batch: tuple[float, ...]) -> float:
    """Relative tint strength: 100 (K/S batch) / (K/S standard), where the standard absorbs most."""
    if not standard or len(standard) != len(batch):
        raise Refused("batch", f"{len(batch)} bands", f"{len(standard)} bands, as the standard")
    for name, values in (("standard", standard), ("batch", batch)):
        for n, value in enumerate(values):
            within(f"{name}.{n}", value, 0.0001, 1)
    at = min(range(len(standard)), key=lambda n: standard[n])
    if standard[at] >= 1:
        raise Refused("standard", "absorbs nothing", "a tint that is not white")
    return 100 * _k_over_s(batch[at]) / _k_over_s(standard[at])


def _k_over_s(reflectance: float) -> float:
    return (1 - reflectance) ** 2 / (2 * reflectance)


def weaker_because(
    strength: float,
    ratio_change: float,
    fineness_change_um: float | None,
    minutes_change: float | None,
    lot_changed: bool,
) -> str:
    """What explains a weak tint best, in a sentence; empty where it is not weak."""
    if strength >= WEAK_PERCENT:
        return ""
    if ratio_change > 0.03:
        return "Weaker than the standard: more oil stands in it, which thins the colour."
    if (fineness_change_um or 0) > 3 or (minutes_change or 0) < -2:
        return "Weaker than the standard: it is less dispersed; mull longer."
    if lot_changed:
        return "Weaker than the standard: the lot is another one."
    return "Weaker than the standard, and neither ratio, dispersion nor lot explains it."


@dataclass(frozen=True, slots=True)
class Patch:
    """A patch of a photograph: mean sRGB codes 0 to 255, and the sd of each channel over its pixels."""

    rgb: tuple[float, float, float]
    sd: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Photographed:
    """A colour taken from a photograph: Lab, sRGB for drawing, and how far off (dE00, 90 %) it may be."""

    lab: Lab
    srgb: str
    uncertainty: float


def from_photograph(card: Patch, paint: Patch, card_reflectance: float = CARD_REFLECTANCE) -> Photographed:
    """Paint's Lab from a photograph with a neutral card in it: the card sets white balance and exposure.

    Raises Refused at `card` where it is clipped, too dark, or not grey; at `paint` where that is clipped.
    """
    within("card_reflectance", card_reflectance, 0.02, 0.98)
    for name, patch in (("card", card), ("paint", paint)):
        if max(patch.rgb) >= CLIPPED:
            raise Refused(name, "too bright: a channel is clipped", "the same with less exposure")
    if min(card.rgb) < DARK:
        raise Refused("card", "too dark to balance by", "the same with more light")
    if _chroma(card) > CARD_CHROMA:
        raise Refused(
            "card", "coloured: that is not a neutral card, or the light is coloured", "a grey card in daylight"
        )
    card_linear = [_linear(code) for code in card.rgb]
    balanced = tuple(
        _linear(code) / white * card_reflectance for code, white in zip(paint.rgb, card_linear, strict=True)
    )
    lab = lab_of_srgb(linear_to_hex(balanced))
    # A camera's own colours are off by some units; a restless patch or card adds to that.
    noise = fmean(paint.sd) / max(8.0, fmean(paint.rgb)) + fmean(card.sd) / max(8.0, fmean(card.rgb))
    return Photographed(lab, linear_to_hex(balanced), 4.0 + 0.12 * _chroma(card) + 12 * noise)


def _chroma(patch: Patch) -> float:
    lab = lab_of_srgb("#" + "".join(f"{round(min(255.0, max(0.0, code))):02x}" for code in patch.rgb))
    return math.hypot(lab.a, lab.b)


def _linear(code: float) -> float:
    return float(Color("srgb", [code / 255, 0, 0]).convert("srgb-linear")["red"])


def spectrum_of(colour: str) -> tuple[float, ...]:
    """A smooth made-up reflectance at `BANDS_NM` that looks like an sRGB colour: for the stand-in reader."""
    r, g, b = hex_to_linear(colour)

    def step(nm: float, at: float, width: float) -> float:
        return 1 / (1 + math.exp(-(nm - at) / width))

    def reflectance(nm: float) -> float:
        green, red = step(nm, 490, 12), step(nm, 585, 12)
        return min(0.98, max(0.01, b * (1 - green) + g * (green - red) + r * red))

    return tuple(reflectance(nm) for nm in BANDS_NM)
