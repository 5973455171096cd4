"""Checks: what a batch is like, in figures anyone can take with glass, a weight, a ruler and a syringe."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from statistics import fmean, linear_regression, stdev

from scipy.special import stdtrit

from niddy.core.errors import MAX_VOLUME_ML, MIN_VOLUME_ML, Refused, density_g_per_ml, mass_g, within
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.wetting import LN_STRESS_PER_REDUCED

GRAVITY = 9.80665
PLATE_MM = 150.0
"""Across a plate of the spread test, where the maker did not measure theirs (assumed)."""

SYRINGE_ML = 0.5
PLATES_KG = 0.650
WEIGHED_SYRINGE_ML = 5.0


@dataclass(frozen=True, slots=True)
class Usual:
    """What a check is usually done with: the drop, the load and the plate of a spread, the syringe that is weighed."""

    spread_volume_ml: float = SYRINGE_ML
    spread_mass_kg: float = PLATES_KG
    plate_mm: float = PLATE_MM
    density_volume_ml: float = WEIGHED_SYRINGE_ML


SLOPE_LN_D_PER_REDUCED = -LN_STRESS_PER_REDUCED / 5
"""How ln D answers reduced PVC near 0.86, until a recipe has its own slope (assumed)."""

SLOPE_SD = 0.6
"""90 % half-width of that assumed slope over 1.645 (assumed)."""

BATCHES_TO_LEARN_SLOPE = 4
AIR_TOO_LOW = -0.02
AIR_TOO_HIGH = 0.05
BLEED_AFTER_H = 24
FINGER_TEST_DAYS = (1, 2, 4, 7, 14)


class CheckKind(StrEnum):
    """What can be checked on a batch."""

    SPREAD = "spread"
    DENSITY = "density"
    STRING = "string"
    FINENESS = "fineness"
    BLEED = "bleed"
    MASSTONE = "masstone"
    UNDERTONE = "undertone"
    TINT = "tint"
    DRYING = "drying"
    TRANSPARENCY = "transparency"
    TEXTURE = "texture"
    BRUSH_MARK = "brush_mark"


TOWARDS: dict[CheckKind, tuple[str, str]] = {
    CheckKind.SPREAD: ("stiffer", "softer"),
    CheckKind.DENSITY: ("lighter", "heavier"),
    CheckKind.STRING: ("shorter", "longer"),
    CheckKind.FINENESS: ("finer", "coarser"),
    CheckKind.BLEED: ("drier", "to more bleed"),
    CheckKind.MASSTONE: ("nearer in masstone", "off in masstone"),
    CheckKind.UNDERTONE: ("nearer in undertone", "off in undertone"),
    CheckKind.TINT: ("nearer in tint", "off in tint"),
    CheckKind.DRYING: ("quicker to dry", "slower to dry"),
}
"""How a maker says that a figure falls, and that it rises."""

COLOURS = (CheckKind.MASSTONE, CheckKind.UNDERTONE, CheckKind.TINT)
CHOICES: dict[CheckKind, tuple[str, ...]] = {
    CheckKind.TRANSPARENCY: ("opaque", "semi-opaque", "semi-transparent", "transparent"),
    CheckKind.TEXTURE: ("smooth", "fine tooth", "gritty"),
    CheckKind.BRUSH_MARK: ("keeps", "softens", "levels"),
    CheckKind.DRYING: ("wet", "tacky", "touch-dry"),
}
UNITS: dict[CheckKind, str] = {
    CheckKind.SPREAD: "mm",
    CheckKind.DENSITY: "air %",
    CheckKind.STRING: "mm",
    CheckKind.FINENESS: "um",
    CheckKind.BLEED: "mm",
    CheckKind.MASSTONE: "dE00",
    CheckKind.UNDERTONE: "dE00",
    CheckKind.TINT: "dE00",
    CheckKind.DRYING: "days",
}


@dataclass(frozen=True, slots=True)
class Spread:
    """A spread test: mean diameter in mm, and the yield stress it tells in Pa."""

    diameter_mm: float
    yield_stress_pa: float


def spread(
    diameters_mm: list[float], volume_ml: float = SYRINGE_ML, mass_kg: float = PLATES_KG, plate_mm: float | None = None
) -> Spread:
    """Apparent yield stress from a squeezed drop: 3 M g V / (2 pi^2 (D/2)^5), no slip (Scott 1931).

    `diameters_mm` are two, at right angles (or their mean alone). Raises Refused for a diameter below what
    the volume alone would cover between touching plates, or beyond the plate.
    """
    within("volume_ml", volume_ml, MIN_VOLUME_ML, MAX_VOLUME_ML, "ml")
    within("mass_kg", mass_kg, 0.001, 100, "kg")
    if not diameters_mm:
        raise Refused("diameters_mm", "missing", "two diameters at right angles, in mm")
    # A drop no wider than it is high was not squeezed at all.
    least = 2 * (3 * volume_ml * 1000 / (4 * math.pi)) ** (1 / 3)
    most = plate_mm if plate_mm is not None else 500.0
    for n, diameter in enumerate(diameters_mm):
        within(f"diameters_mm.{n}", diameter, least, most, "mm")
    mean = fmean(diameters_mm)
    radius_m = mean / 2000
    stress = 3 * mass_kg * GRAVITY * volume_ml * 1e-6 / (2 * math.pi**2 * radius_m**5)
    return Spread(mean, stress)


@dataclass(frozen=True, slots=True)
class Component:
    """One part of a paint: its mass and density."""

    mass_g: float
    density_g_per_ml: float


@dataclass(frozen=True, slots=True)
class Air:
    """A filled syringe weighed: the paint's density, what it would be without air, and the fraction of air."""

    density_g_per_ml: float
    theoretical_g_per_ml: float
    air_fraction: float


def air(gross_g: float, tare_g: float, volume_ml: float, components: list[Component]) -> Air:
    """Air in a paint: 1 - measured density / theoretical. Raises Refused naming the field."""
    mass_g("gross_g", gross_g)
    mass_g("tare_g", tare_g, zero=True)
    within("volume_ml", volume_ml, MIN_VOLUME_ML, MAX_VOLUME_ML, "ml")
    if gross_g <= tare_g:
        raise Refused("gross_g", "not above the tare", f"more than {tare_g:g} g")
    if not components:
        raise Refused("components", "none", "what the paint is made of")
    for n, part in enumerate(components):
        mass_g(f"components.{n}.mass_g", part.mass_g)
        density_g_per_ml(f"components.{n}.density_g_per_ml", part.density_g_per_ml)
    measured = (gross_g - tare_g) / volume_ml
    density_g_per_ml("gross_g", measured)
    theoretical = sum(p.mass_g for p in components) / sum(p.mass_g / p.density_g_per_ml for p in components)
    return Air(measured, theoretical, 1 - measured / theoretical)


def air_says(fraction: float) -> str:
    """What an air fraction asks for."""
    if fraction < AIR_TOO_LOW:
        return "Denser than it can be: the ratio, a density or the weighing is wrong."
    if fraction > AIR_TOO_HIGH:
        return "Much air: tap it out, or let the paint rest."
    return "As it should be."


def implied_ratio(density: float, pigment_density: float, oil_density: float) -> float | None:
    """The ratio in g oil per 100 g that a density implies with no air, or None where none can."""
    if not oil_density < density < pigment_density:
        return None
    return 100 * (1 - density / pigment_density) / (density / oil_density - 1)


class StringLength(StrEnum):
    """A thread's length in words."""

    SHORT = "short"
    MIDDLE = "middle"
    LONG = "long"


def string_says(length_mm: float) -> StringLength:
    """Short below 10 mm, middle to 30, long above."""
    return StringLength.SHORT if length_mm < 10 else StringLength.MIDDLE if length_mm <= 30 else StringLength.LONG


@dataclass(frozen=True, slots=True)
class Slope:
    """d ln D / d reduced PVC with the half width of its 90 % band, its basis, and how many batches said so."""

    per_reduced: float
    half_width: float
    basis: Basis
    batches: int


def slope(points: list[tuple[float, float]]) -> Slope:
    """A recipe's own slope by least squares from (reduced PVC, D in mm) of its batches.

    Assumed until four batches with different ratios were checked.
    """
    different = {round(reduced, 3) for reduced, _ in points}
    if len(points) < BATCHES_TO_LEARN_SLOPE or len(different) < BATCHES_TO_LEARN_SLOPE:
        return Slope(SLOPE_LN_D_PER_REDUCED, Z90 * SLOPE_SD, Basis.ASSUMED, len(points))
    xs = [reduced for reduced, _ in points]
    ys = [math.log(diameter) for _, diameter in points]
    fit = linear_regression(xs, ys)
    residual = [y - fit.intercept - fit.slope * x for x, y in zip(xs, ys, strict=True)]
    mean = fmean(xs)
    spread_x = math.sqrt(sum((x - mean) ** 2 for x in xs))
    noise = math.sqrt(sum(r * r for r in residual) / (len(xs) - 2))
    # Few batches: Student's t, not the normal law.
    half_width = float(stdtrit(len(xs) - 2, 0.95)) * noise / spread_x
    # A slope of the wrong sign, or one that noise alone could make, tells less than the assumed one.
    if fit.slope >= 0 or abs(fit.slope) < half_width:
        return Slope(SLOPE_LN_D_PER_REDUCED, Z90 * SLOPE_SD, Basis.ASSUMED, len(points))
    return Slope(fit.slope, half_width, Basis.LEARNED, len(points))


def reduced_change(diameter_mm: float, target_mm: float, by: Slope) -> float:
    """By how much reduced PVC has to change for a spread to come to its target."""
    return math.log(target_mm / diameter_mm) / by.per_reduced


def repeated(values: list[float]) -> Estimate:
    """The mean of repeats with the 90 % band of that mean; one reading stands alone."""
    mean = fmean(values)
    if len(values) < 2:
        return Estimate.exact(mean, Basis.MEASURED)
    half = float(stdtrit(len(values) - 1, 0.95)) * stdev(values) / math.sqrt(len(values))
    return Estimate(mean, mean - half, mean + half, Basis.MEASURED)


@dataclass(frozen=True, slots=True)
class Due:
    """A check that waits, and since when it can be done."""

    kind: CheckKind
    at: datetime
    says: str


def due(finished_at: datetime, wanted: list[CheckKind], done: dict[CheckKind, int], dried: bool) -> tuple[Due, ...]:
    """What is still to check on a batch: bleed a day on, finger tests on a log schedule, the rest at once."""
    waits = []
    for kind in wanted:
        if kind is CheckKind.DRYING:
            tests = done.get(kind, 0)
            if not dried and tests < len(FINGER_TEST_DAYS):
                days = FINGER_TEST_DAYS[tests]
                waits.append(Due(kind, finished_at + timedelta(days=days), f"finger test, day {days}"))
        elif not done.get(kind):
            bleeds = kind is CheckKind.BLEED
            at = finished_at + timedelta(hours=BLEED_AFTER_H if bleeds else 0)
            waits.append(Due(kind, at, "halo after 24 h" if bleeds else "fresh paint"))
    return tuple(sorted(waits, key=lambda wait: (wait.at, wait.kind)))
