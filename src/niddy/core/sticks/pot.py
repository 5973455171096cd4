"""The pot: what brings a drop to the dent wanted, what a base teaches, and how pigment settles in it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from scipy.optimize import brentq

from niddy.core.errors import MIN_MASS_G, Refused, mass_g, within
from niddy.core.sticks.materials import BaseMix, Powder, StickOil, ln_dent

NEAR_ENOUGH = 0.02
BEESWAX_DMM = 17.0
"""What the needle of the standard reads on plain beeswax: any other needle is calibrated there."""

OFFSET_SD = 0.35
BOUGHT_SD = 0.9
READING_SD = {"needle": 0.12, "feel": 0.35}
"""Sds of ln dent: what a base may be off before any reading, one bought more than one melted here, and of a reading by
needle or by feel (assumed)."""

DENT_PER_DEGREE = 0.06
HOT_VISCOSITY_PA_S = 0.02
GRAVITY = 9.80665
SIZE_UM = {"fine": 1.0, "medium": 5.0, "coarse": 20.0}


class Correcting(StrEnum):
    """What a pot wants."""

    ADD_OIL = "add_oil"
    ADD_BASE = "add_base"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class StickCorrection:
    """What a pot wants to come to the dent wanted; `offset_ln` is how far this pot is off what was predicted."""

    offset_ln: float
    direction: Correcting
    add_g: float
    reduced_pvc_after: float
    volume_after_ml: float


def correct(
    pigment_g: float,
    base_g: float,
    oil_g: float,
    pigment: Powder | None,
    base: BaseMix,
    oil: StickOil,
    observed_dmm: float,
    target_dmm: float,
) -> StickCorrection:
    """Oil or base to add to a pot so that a drop dents as wanted, its pigment unchanged. Raises Refused.

    Both loosen it by thinning the pigment: oil always softens, base hardens only where its wax outweighs that.
    """
    within("observed_dmm", observed_dmm, 0.1, 400)
    within("target_dmm", target_dmm, 0.1, 400)
    mass_g("pigment_g", pigment_g, zero=True)
    mass_g("base_g", base_g, zero=True)
    mass_g("oil_g", oil_g, zero=True)
    if base_g + oil_g < MIN_MASS_G:
        raise Refused("base_g", "there is nothing in the pot", "base, or oil")
    if pigment_g > 0 and pigment is None:
        raise Refused("pigment", "missing", "the pigment that is in the pot")
    cpvc = pigment.cpvc if pigment is not None else None

    def volume(more_oil: float, more_base: float) -> float:
        powder = pigment_g / pigment.density_g_per_ml if pigment is not None else 0.0
        medium = (oil_g + more_oil) / oil.density_g_per_ml + (base_g + more_base) / base.density_g_per_ml
        return powder + medium

    def reduced(more_oil: float, more_base: float) -> float:
        if pigment is None or cpvc is None:
            return 0.0
        return pigment_g / pigment.density_g_per_ml / volume(more_oil, more_base) / cpvc

    def ln_predicted(more_oil: float, more_base: float) -> float:
        share = (oil_g + more_oil) / (oil_g + more_oil + base_g + more_base)
        return ln_dent(base, share, cpvc, reduced(more_oil, more_base), 0.0)

    offset = math.log(observed_dmm) - ln_predicted(0.0, 0.0)
    wanted = math.log(target_dmm) - offset
    if abs(target_dmm / observed_dmm - 1) <= NEAR_ENOUGH:
        return StickCorrection(offset, Correcting.NONE, 0.0, reduced(0, 0), volume(0, 0))
    softer = target_dmm > observed_dmm
    direction = Correcting.ADD_OIL if softer else Correcting.ADD_BASE

    def off(grams: float) -> float:
        return ln_predicted(grams, 0.0) - wanted if softer else ln_predicted(0.0, grams) - wanted

    most = 100.0 * (pigment_g + base_g + oil_g)
    if (off(most) < 0) if softer else (off(most) > 0):
        raise Refused(
            "target_dmm",
            f"no {'oil' if softer else 'base'} brings this pot there",
            "a target nearer to what it is, or a second pot of pigment and base",
        )
    grams = float(brentq(off, 0.0, most, xtol=1e-9))
    added = (grams, 0.0) if softer else (0.0, grams)
    return StickCorrection(offset, direction, grams, reduced(*added), volume(*added))


@dataclass(frozen=True, slots=True)
class Offset:
    """By how much a base dents otherwise than predicted, ln, with its sd."""

    offset_ln: float
    sd_ln: float


@dataclass(frozen=True, slots=True)
class DentRead:
    """One reading: ln of observed over predicted, and its sd."""

    ln_ratio: float
    sd: float


def learn_offset(readings: list[DentRead], before_sd: float = OFFSET_SD) -> Offset:
    """What readings teach of a base: the exact Gaussian posterior. Raises Refused."""
    precision, weighted = 1 / before_sd**2, 0.0
    for n, reading in enumerate(readings):
        within(f"observations.{n}.ln_ratio", reading.ln_ratio, -5, 5)
        within(f"observations.{n}.sd", reading.sd, 0.001, 5)
        precision += 1 / reading.sd**2
        weighted += reading.ln_ratio / reading.sd**2
    return Offset(weighted / precision, math.sqrt(1 / precision))


def at_25_c(dent_dmm: float, temperature_c: float) -> float:
    """A dent read at another temperature, as it would be at 25 C (6 % for each degree, assumed)."""
    return dent_dmm * math.exp(-DENT_PER_DEGREE * (temperature_c - 25.0))


def settled_mm(
    pigment_density: float, medium_density: float, size_um: float, pigment_volume_fraction: float, minutes: float
) -> float:
    """How far pigment sinks in a still pot: Stokes, hindered after Richardson and Zaki (hot viscosity assumed)."""
    within("size_um", size_um, 0.01, 1_000, "um")
    within("pigment_volume_fraction", pigment_volume_fraction, 0, 0.74)
    d = size_um * 1e-6
    stokes = (pigment_density - medium_density) * 1000 * GRAVITY * d * d / (18 * HOT_VISCOSITY_PA_S)
    hindered = math.pow(1 - pigment_volume_fraction, 4.65)
    return max(0.0, stokes * hindered * minutes * 60 * 1000)
