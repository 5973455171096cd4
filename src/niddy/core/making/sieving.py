"""Sieving: what passes each mesh of a stack, and between which sizes half of a powder lies.

Apertures are those of ISO 3310-1; the numbers of ASTM E11 stand beside.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from niddy.core.errors import Refused, mass_g, within

ASTM_NUMBERS = {
    2000: "10",
    1700: "12",
    1400: "14",
    1180: "16",
    1000: "18",
    850: "20",
    710: "25",
    600: "30",
    500: "35",
    425: "40",
    355: "45",
    300: "50",
    250: "60",
    212: "70",
    180: "80",
    150: "100",
    125: "120",
    106: "140",
    90: "170",
    75: "200",
    63: "230",
    53: "270",
    45: "325",
    38: "400",
    32: "450",
    25: "500",
    20: "635",
}
"""ASTM E11 sieve numbers by aperture in um."""

MOST_SIEVES = 15
GAIN = 0.01
"""What came out may weigh so much more than what went in, as a share: the balance's own error."""


@dataclass(frozen=True, slots=True)
class Fraction:
    """What a sieve held back: its aperture in um, g on it."""

    aperture_um: float
    retained_g: float


@dataclass(frozen=True, slots=True)
class Passing:
    """How much of all passes a sieve, in percent; `astm` its number where it has one."""

    aperture_um: float
    percent: float
    astm: str | None


@dataclass(frozen=True, slots=True)
class Sieved:
    """A powder by size: what passes, the sizes below which a tenth, half and nine tenths lie, the share lost."""

    passing: tuple[Passing, ...]
    d10_um: float | None
    d50_um: float | None
    d90_um: float | None
    loss_fraction: float | None


def sieve(fractions: Sequence[Fraction], pan_g: float, charge_g: float | None = None) -> Sieved:
    """A stack read from the coarsest sieve down. Raises Refused naming the sieve."""
    if not fractions:
        raise Refused("fractions", "none", "at least one sieve")
    if len(fractions) > MOST_SIEVES:
        raise Refused("fractions", f"{len(fractions)} of them", f"up to {MOST_SIEVES}")
    for n, one in enumerate(fractions):
        within(f"fractions.{n}.aperture_um", one.aperture_um, 5, 5_000, "um")
        mass_g(f"fractions.{n}.retained_g", one.retained_g, zero=True)
        if n and one.aperture_um >= fractions[n - 1].aperture_um:
            raise Refused(
                f"fractions.{n}.aperture_um",
                f"{one.aperture_um:g} um below {fractions[n - 1].aperture_um:g} um",
                f"less than {fractions[n - 1].aperture_um:g} um: the coarsest sieve is on top",
            )
    mass_g("pan_g", pan_g, zero=True)
    whole = sum(one.retained_g for one in fractions) + pan_g
    if whole <= 0:
        raise Refused("pan_g", "nothing was sieved", "what lies on each sieve and in the pan")
    loss = None
    if charge_g is not None:
        mass_g("charge_g", charge_g)
        if whole > charge_g * (1 + GAIN):
            raise Refused("charge_g", f"{whole:g} g came out of {charge_g:g} g", f"{whole:g} g or more")
        loss = max(0.0, 1 - whole / charge_g)
    passing, held = [], 0.0
    for one in fractions:
        held += one.retained_g
        number = ASTM_NUMBERS.get(round(one.aperture_um))
        passing.append(Passing(one.aperture_um, 100 * (whole - held) / whole, number))
    return Sieved(tuple(passing), _below(passing, 10), _below(passing, 50), _below(passing, 90), loss)


def _below(passing: Sequence[Passing], percent: float) -> float | None:
    """The size below which so much lies, log-linear between sieves; None outside of them."""
    for coarse, fine in pairwise(passing):
        if fine.percent <= percent <= coarse.percent and coarse.percent > fine.percent:
            share = (percent - fine.percent) / (coarse.percent - fine.percent)
            low, high = math.log(fine.aperture_um), math.log(coarse.aperture_um)
            return math.exp(low + share * (high - low))
    return next((one.aperture_um for one in passing if one.percent == percent), None)
