"""A paint in numbers from what was read of it: masstone and tint, one of them, or none; and how sure that is."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from niddy.core.colorimetry import BANDS_NM, Lab, lab_of_srgb
from niddy.core.errors import Refused
from niddy.core.mixing.constants import K1, SCATTERS, Paint, assumed, calibrated, white_of
from niddy.core.mixing.seeing import Viewer
from niddy.core.mixing.spectra import smoothest

TINT_SHARE = 1 / 11
"""One part of paint to ten of white, by weight, as the check of a tint says."""

READER_OFF = 0.3
"""dE00 a colour reader's own readings differ by, nine times in ten (assumed)."""

PHOTO_OFF = 4.0
SRGB_OFF = 8.0
"""dE00 an sRGB figure typed for a paint may be off, nine times in ten: it is a guess (assumed)."""

GUESS_OFF = 12.0
"""dE00 that a library's swatch may be off the paint on the slab, nine times in ten (assumed)."""

BEYOND_SPECTRA, BEYOND_FIGURES = 0.006, 0.15
"""By so much a channel may contradict itself: what a reader scatters by; what a made-up spectrum is off in a band."""

DARKEST = 0.0005


class Shine(StrEnum):
    """What readings have of the surface's own shine: all of it, none of it, or nothing is corrected."""

    WITH = "with"
    WITHOUT = "without"
    OFF = "off"


class KnownBy(StrEnum):
    """What a paint is known from, the surest first."""

    SPECTRA = "spectra"
    FIGURES = "figures"
    MASSTONE = "masstone"
    GUESS = "guess"


class Missing(StrEnum):
    """What a paint still wants."""

    MASSTONE = "masstone"
    TINT = "tint"
    WHITE = "white"


STRENGTH_SD = {KnownBy.SPECTRA: 0.06, KnownBy.FIGURES: 0.2, KnownBy.MASSTONE: 1.0, KnownBy.GUESS: 1.0}
"""Sd of the logarithm of a paint's strength, by what it is known from, until squares teach it (assumed)."""

MODEL_OFF = {KnownBy.SPECTRA: 0.6, KnownBy.FIGURES: 3.4, KnownBy.MASSTONE: 4.0, KnownBy.GUESS: 6.0}
"""dE00 a mixture is off, whatever its paints' strengths, as squares are weighed by when they teach."""

TOLD_OFF = MODEL_OFF | {KnownBy.FIGURES: 5.0}
"""The same nine times in ten, from made-up paints with hidden spectra: what three figures leave out has a long tail."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A colour as read: Lab, the spectrum where there is one, and how far off it may be (dE00, nine times in ten)."""

    lab: Lab
    spectrum: tuple[float, ...] | None = None
    off: float = READER_OFF

    def __post_init__(self) -> None:
        if self.spectrum is not None and len(self.spectrum) != len(BANDS_NM):
            raise Refused(
                "spectrum", f"{len(self.spectrum)} bands", f"{len(BANDS_NM)} bands, 400 to 700 nm in steps of 10"
            )


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of a paint: its readings, the white of its tint, how hard it tints, and its swatch."""

    tinting: str
    swatch_srgb: str
    masstone: Reading | None = None
    tint: Reading | None = None
    white: Reading | None = None
    tint_share: float = TINT_SHARE


@dataclass(frozen=True, slots=True)
class InNumbers:
    """A paint in numbers, what it is known from, what is missing, and what is wrong with its readings, if anything.

    `off` is how far its own colour may be off, and `strength_sd` the sd of the logarithm of its strength.
    """

    paint: Paint
    how: KnownBy
    missing: tuple[Missing, ...]
    trouble: Refused | None
    off: float
    strength_sd: float

    @property
    def model_off(self) -> float:
        """dE00 its mixtures are off, were its strength known, as squares are weighed by."""
        return MODEL_OFF[self.how]

    @property
    def told_off(self) -> float:
        """dE00 its mixtures are off nine times in ten, were its strength known."""
        return TOLD_OFF[self.how]


@lru_cache(maxsize=2_000)
def in_numbers(known: Known, viewer: Viewer, shine: Shine) -> InNumbers:
    """A paint from what is known of it. Readings that contradict each other are named and not used.

    `viewer` looks at spectra without any shine.
    """
    missing = []
    if known.masstone is None:
        missing.append(Missing.MASSTONE)
    alone = known.masstone or Reading(lab_of_srgb(known.swatch_srgb), off=GUESS_OFF)
    off = alone.off
    if known.tint is None:
        missing.append(Missing.TINT)
    elif known.white is None:
        missing.append(Missing.WHITE)
    swatch, trouble = _as_read(alone, viewer, shine, "masstone")
    if trouble is None and known.masstone is not None and known.tint is not None and known.white is not None:
        spectra = None not in (known.masstone.spectrum, known.tint.spectrum, known.white.spectrum)
        how = KnownBy.SPECTRA if spectra else KnownBy.FIGURES
        try:
            _in_order(known.masstone, known.tint, known.white)
            paint = calibrated(
                swatch,
                readable(known.tint, viewer, shine, "tint"),
                readable(known.white, viewer, shine, "white"),
                known.tint_share,
                surface=shine is not Shine.OFF,
                scatter=BEYOND_SPECTRA if spectra else BEYOND_FIGURES,
            )
            photo = max(known.masstone.off, known.tint.off) >= PHOTO_OFF
            return InNumbers(paint, how, (), None, off, STRENGTH_SD[how] * (2 if photo else 1))
        except Refused as refused:
            trouble = at_band(refused)
    how = KnownBy.GUESS if known.masstone is None else KnownBy.MASSTONE
    tinting = known.tinting if known.tinting in SCATTERS else "medium"
    paint = assumed(swatch, tinting, surface=shine is not Shine.OFF)
    return InNumbers(paint, how, tuple(missing), trouble, off, STRENGTH_SD[how])


def _in_order(masstone: Reading, tint: Reading, white: Reading) -> None:
    """Raise Refused where a tint is no lighter than its masstone, or no darker than its white, to the eye."""
    if tint.lab.L <= masstone.lab.L:
        said = f"it is no lighter (L {tint.lab.L:.0f}) than the masstone (L {masstone.lab.L:.0f})"
        raise Refused("tint", said, "the two the other way round?")
    if tint.lab.L >= white.lab.L:
        said = f"it is no darker (L {tint.lab.L:.0f}) than the white (L {white.lab.L:.0f})"
        raise Refused("tint", said, "more of the paint in the tint")


USUAL_WHITE = Reading(Lab(96.0, -0.7, 2.2), off=4.0)
"""A titanium or zinc white in oil as most are, nine times in ten (assumed)."""


@lru_cache(maxsize=200)
def white_in_numbers(reading: Reading | None, viewer: Viewer, shine: Shine) -> InNumbers:
    """The studio's white: it scatters with 1. One that was not read is taken for a white as most are."""
    if reading is None:
        seen = readable(USUAL_WHITE, viewer, shine, "white")
        of = white_of(seen, surface=shine is not Shine.OFF)
        return InNumbers(of, KnownBy.GUESS, (Missing.MASSTONE,), None, USUAL_WHITE.off, 0.0)
    seen, trouble = _as_read(reading, viewer, shine, "white")
    how = KnownBy.SPECTRA if reading.spectrum is not None and trouble is None else KnownBy.FIGURES
    return InNumbers(white_of(seen, surface=shine is not Shine.OFF), how, (), trouble, reading.off, 0.0)


def _as_read(reading: Reading, viewer: Viewer, shine: Shine, field: str) -> tuple[tuple[float, ...], Refused | None]:
    """What can be mixed with of a reading: where its spectrum cannot be, its Lab alone, and why."""
    try:
        return readable(reading, viewer, shine, field), None
    except Refused as refused:
        return readable(Reading(reading.lab, off=reading.off), viewer, shine, field), refused


def readable(reading: Reading, viewer: Viewer, shine: Shine, field: str) -> tuple[float, ...]:
    """The reflectances of a reading in every band, with the shine on it: the smoothest where only its Lab was read.

    Raises Refused for a reflectance of nothing or above 1.
    """
    seen = spectrum_of(reading, viewer, field)
    if reading.spectrum is not None:
        for nm, value in zip(BANDS_NM, seen, strict=True):
            if not math.isfinite(value) or not 0 < value <= 1:
                raise Refused(
                    f"{field}.spectrum",
                    f"a reflectance of {value:g} at {nm} nm",
                    "above 0 and up to 1; 0.045 for 4.5 %",
                )
    if shine is Shine.WITHOUT:
        return tuple(min(1.0, value + K1) for value in seen)
    if shine is Shine.WITH:
        if reading.spectrum is not None and min(seen) <= K1:
            raise Refused(
                f"{field}.spectrum",
                f"{min(seen):g} is not even the {K1:g} that the surface throws back",
                "readings said to be taken without the shine",
            )
        # The smoothest spectrum of a dark colour may dip below what the surface alone throws back.
        return tuple(max(K1 + DARKEST, value) for value in seen)
    return seen


def spectrum_of(reading: Reading, viewer: Viewer, field: str = "") -> tuple[float, ...]:
    """The spectrum of a reading; the smoothest that looks like it where only its Lab was read."""
    return reading.spectrum if reading.spectrum is not None else smoothest(reading.lab, viewer, field)


def at_band(refused: Refused) -> Refused:
    """A refusal of a channel by its number, said by its wavelength."""
    field, _, n = refused.field.partition(".")
    if not n.isdigit():
        return refused
    return Refused(field, f"at {BANDS_NM[int(n)]} nm {refused.problem}", refused.accepted)


def seen_by(viewer: Viewer, shine: Shine) -> Viewer:
    """The viewer that sees mixtures as the studio's readings are taken."""
    return Viewer(viewer.weights, K1) if shine is Shine.WITHOUT else viewer
