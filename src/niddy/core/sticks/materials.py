"""What a stick is made of: pigment, a base of waxes and resins, oil; and how soft they make it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused, density_g_per_ml, within
from niddy.core.materials import REFERENCE_OIL_DENSITY_G_PER_ML
from niddy.core.wetting import cpvc as cpvc_of

OIL_PENETRATION_DMM = 400.0
"""What oil counts as where dents mix by their logarithms (assumed)."""

EINSTEIN = 2.5
YIELD_EXPONENT = 1.6
"""Krieger and Dougherty 1959; yield goes with the dent to the power -1.6, Haighton 1959."""

MINOR_SHARE = 0.02
MELT_ABOVE_C = 5.0


class OilKind(StrEnum):
    """Whether an oil dries."""

    DRYING = "drying"
    SEMI = "semi"
    NON = "non"


DRYING_SHARE = {OilKind.DRYING: 1.0, OilKind.SEMI: 0.7, OilKind.NON: 0.0}


@dataclass(frozen=True, slots=True)
class Powder:
    """A pigment as sticks need it; oil absorption in the reference oil."""

    density_g_per_ml: float
    oil_absorption_g_per_100g: float

    @property
    def cpvc(self) -> float:
        return cpvc_of(self.oil_absorption_g_per_100g, self.density_g_per_ml, REFERENCE_OIL_DENSITY_G_PER_ML)


@dataclass(frozen=True, slots=True)
class Part:
    """One wax or resin of a base: its share by mass, density, dent (0.1 mm) and melting point (middle of its range)."""

    share: float
    density_g_per_ml: float
    penetration_dmm: float
    melting_c: float


@dataclass(frozen=True, slots=True)
class BaseMix:
    """A base: its parts with shares that sum to 1."""

    parts: tuple[Part, ...]

    @property
    def density_g_per_ml(self) -> float:
        return 1 / sum(part.share / part.density_g_per_ml for part in self.parts)

    @property
    def ln_penetration(self) -> float:
        return sum(part.share * math.log(part.penetration_dmm) for part in self.parts)

    @property
    def mean_melting_c(self) -> float:
        return sum(part.share * part.melting_c for part in self.parts)

    @property
    def melt_c(self) -> float:
        """The highest melting point of any part of 2 % or more, and a little above."""
        return max(part.melting_c for part in self.parts if part.share >= MINOR_SHARE) + MELT_ABOVE_C


@dataclass(frozen=True, slots=True)
class StickOil:
    """The oil of a stick."""

    density_g_per_ml: float
    kind: OilKind = OilKind.DRYING


def base_of(parts: list[Part]) -> BaseMix:
    """A base with its shares brought to a sum of 1. Raises Refused naming the field under `base`."""
    if not parts:
        raise Refused("base", "nothing in it", "at least one wax or resin")
    for n, part in enumerate(parts):
        within(f"base.{n}.share", part.share, 0, 1e6)
        density_g_per_ml(f"base.{n}.density_g_per_ml", part.density_g_per_ml)
        within(f"base.{n}.penetration_dmm", part.penetration_dmm, 0.1, 400)
        within(f"base.{n}.melting_c", part.melting_c, 20, 200, "C")
    whole = sum(part.share for part in parts)
    if whole <= 0:
        raise Refused("base", "its shares sum to nothing", "shares above 0")
    if not any(part.share / whole >= MINOR_SHARE for part in parts):
        raise Refused("base", "no part of it is 2 % or more", "fewer parts, or larger shares")
    return BaseMix(
        tuple(Part(part.share / whole, part.density_g_per_ml, part.penetration_dmm, part.melting_c) for part in parts)
    )


def stiffening_ln(cpvc: float | None, reduced: float) -> float:
    """By how much pigment lowers ln dent. Raises Refused where there is more pigment than medium can wet."""
    if cpvc is None:
        return 0.0
    if reduced >= 1:
        raise Refused("reduced_pvc", "more pigment than base and oil can wet", "below 1")
    return EINSTEIN * cpvc / YIELD_EXPONENT * math.log(1 - reduced)


def ln_dent(base: BaseMix, oil_fraction: float, cpvc: float | None, reduced: float, offset_ln: float) -> float:
    """Ln of the needle dent of a stick, in 0.1 mm (as ASTM D1321: 100 g, 5 s, 25 C)."""
    medium = oil_fraction * math.log(OIL_PENETRATION_DMM) + (1 - oil_fraction) * base.ln_penetration
    return medium + stiffening_ln(cpvc, reduced) + offset_ln


def oil_fraction_for(base: BaseMix, dent_dmm: float, cpvc: float | None, reduced: float, offset_ln: float) -> float:
    """The oil share of the medium that gives a dent; it may lie outside of what can be cast."""
    wanted = math.log(dent_dmm) - stiffening_ln(cpvc, reduced) - offset_ln - base.ln_penetration
    return wanted / (math.log(OIL_PENETRATION_DMM) - base.ln_penetration)
