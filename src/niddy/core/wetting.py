"""Wetting: how much of the paint is pigment, against how much the pigment could pack.

Volumes follow Asbeck and Van Loo 1949; oil absorption is ISO 787-5 or ASTM D281. A ratio is always
g oil per 100 g pigment.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import MIN_PARTS, Refused, density_g_per_ml, oil_g_per_100g, within
from niddy.core.materials import REFERENCE_OIL_DENSITY_G_PER_ML

DEFAULT_REDUCED_PVC = 0.86
"""Target for paint in a tube (assumed)."""

LN_STRESS_PER_REDUCED = 10.75
"""How ln yield stress answers reduced PVC near a tube's body (assumed): what stiffens by so much reads 1 higher."""

LEAST_AIM = 0.35
"""However much an additive stiffens, no paste is aimed at that is wetter than this."""

SCALE_REDUCED_DRY = 1.15
SCALE_REDUCED_WET = 0.50


class Body(StrEnum):
    """What the paste is like under the knife, from dry to wet."""

    CRUMBLES = "crumbles"
    PUTTY = "putty"
    STIFF = "stiff"
    TUBE = "tube"
    SOFT = "soft"
    LOOSE = "loose"
    RUNS = "runs"


BODY_LOWEST_REDUCED: tuple[tuple[Body, float], ...] = (
    (Body.CRUMBLES, 1.05),
    (Body.PUTTY, 0.97),
    (Body.STIFF, 0.90),
    (Body.TUBE, 0.80),
    (Body.SOFT, 0.70),
    (Body.LOOSE, 0.58),
)
"""Lowest reduced PVC of each body but the last (assumed scale, the product's own)."""


@dataclass(frozen=True, slots=True)
class Part:
    """One dry pigment of a blend: parts by mass, density, oil absorption in the reference oil."""

    parts: float
    density_g_per_ml: float
    oil_absorption_g_per_100g: float


@dataclass(frozen=True, slots=True)
class Blend:
    """What a blend of dry pigments amounts to: density and oil absorption in the reference oil."""

    density_g_per_ml: float
    oil_absorption_g_per_100g: float


@dataclass(frozen=True, slots=True)
class Wetting:
    """The wetting calculator's answer; oil absorption in the oil used."""

    pigment_density_g_per_ml: float
    oil_absorption_g_per_100g: float
    cpvc: float
    pvc: float
    reduced_pvc: float
    oil_g_per_100g: float
    body: Body


@dataclass(frozen=True, slots=True)
class Zone:
    """One body on the wetting scale, between two ratios and two values of reduced PVC."""

    body: Body
    oil_from_g_per_100g: float
    oil_to_g_per_100g: float
    reduced_from: float
    reduced_to: float


def blend(parts: list[Part]) -> Blend:
    """Density (ml add up) and oil absorption (g add up) of a blend of dry pigments.

    Raises Refused where there is no pigment or a figure is outside what matter can be.
    """
    if not parts:
        raise Refused("pigments", "a blend of nothing", "at least one pigment")
    for n, part in enumerate(parts):
        within(f"pigments.{n}.parts", part.parts, MIN_PARTS, 1_000_000)
        density_g_per_ml(f"pigments.{n}.density_g_per_ml", part.density_g_per_ml)
        oil_g_per_100g(f"pigments.{n}.oil_absorption_g_per_100g", part.oil_absorption_g_per_100g)
    whole = sum(part.parts for part in parts)
    volume_ml = sum(part.parts / part.density_g_per_ml for part in parts)
    absorbed = sum(part.parts * part.oil_absorption_g_per_100g for part in parts)
    return Blend(whole / volume_ml, absorbed / whole)


def in_oil(oil_absorption_g_per_100g: float, oil_density_g_per_ml: float) -> float:
    """Oil absorption carried from the reference oil to another: the same volume wets."""
    return oil_absorption_g_per_100g * oil_density_g_per_ml / REFERENCE_OIL_DENSITY_G_PER_ML


def in_reference_oil(oil_absorption_g_per_100g: float, oil_density_g_per_ml: float) -> float:
    """Oil absorption found in some oil, carried to the reference oil: the inverse of `in_oil`."""
    return oil_absorption_g_per_100g * REFERENCE_OIL_DENSITY_G_PER_ML / oil_density_g_per_ml


def cpvc(oil_absorption: float, pigment_density: float, oil_density: float) -> float:
    """Critical pigment volume concentration from the oil absorption in that oil (Asbeck and Van Loo 1949)."""
    return 1 / (1 + oil_absorption * pigment_density / (100 * oil_density))


def pvc(ratio: float, pigment_density: float, oil_density: float, additive_ml_per_100g: float = 0.0) -> float:
    """Pigment volume over the volume of pigment, oil and non-volatile additives."""
    pigment_ml = 100 / pigment_density
    return pigment_ml / (pigment_ml + ratio / oil_density + additive_ml_per_100g)


def ratio_at(reduced: float, oil_absorption: float, pigment_density: float, oil_density: float) -> float:
    """The ratio at a reduced PVC, without additives: the inverse of `reduced_at`."""
    return oil_absorption / reduced + _pigment_term(pigment_density, oil_density) * (1 / reduced - 1)


def reduced_at(
    ratio: float, oil_absorption: float, pigment_density: float, oil_density: float, additive_ml_per_100g: float = 0.0
) -> float:
    """PVC over CPVC at a ratio; oil absorption in that oil."""
    return pvc(ratio, pigment_density, oil_density, additive_ml_per_100g) / cpvc(
        oil_absorption, pigment_density, oil_density
    )


def implied_oil_absorption(ratio: float, reduced: float, pigment_density: float, oil_density: float) -> float:
    """The oil absorption, in that oil, that makes `ratio` stand at `reduced`."""
    return reduced * ratio - _pigment_term(pigment_density, oil_density) * (1 - reduced)


def _pigment_term(pigment_density: float, oil_density: float) -> float:
    return 100 * oil_density / pigment_density


def body_at(reduced: float) -> Body:
    """The body at a reduced PVC. A boundary belongs to the stiffer body; crumbles begin above 1.05."""
    for body, lowest in BODY_LOWEST_REDUCED:
        if reduced > lowest or (reduced == lowest and body is not Body.CRUMBLES):
            return body
    return Body.RUNS


def wetting(parts: list[Part], oil_density: float, ratio: float | None = None, reduced: float | None = None) -> Wetting:
    """All there is to say of a blend in an oil, at a ratio or at a reduced PVC (exactly one of them).

    Raises Refused for a blend of nothing, impossible densities, or both or neither of the two.
    """
    if (ratio is None) == (reduced is None):
        raise Refused(
            "oil_g_per_100g", "exactly one of the two is needed", "either oil_g_per_100g or reduced_pvc, not both"
        )
    density_g_per_ml("oil_density_g_per_ml", oil_density)
    mixed = blend(parts)
    absorption = in_oil(mixed.oil_absorption_g_per_100g, oil_density)
    if ratio is None:
        assert reduced is not None
        within("reduced_pvc", reduced, 0.5, 1.15)
        ratio = ratio_at(reduced, absorption, mixed.density_g_per_ml, oil_density)
        if ratio < 0:
            raise Refused("reduced_pvc", f"{reduced:g} cannot be reached without drawing oil out", "a lower target")
    else:
        within("oil_g_per_100g", ratio, 0, 1_000, "g per 100 g")
        reduced = reduced_at(ratio, absorption, mixed.density_g_per_ml, oil_density)
    return Wetting(
        mixed.density_g_per_ml,
        absorption,
        cpvc(absorption, mixed.density_g_per_ml, oil_density),
        pvc(ratio, mixed.density_g_per_ml, oil_density),
        reduced,
        ratio,
        body_at(reduced),
    )


def scale_zones(
    oil_absorption: float, pigment_density: float, oil_density: float, stiffened: float = 0.0
) -> tuple[Zone, ...]:
    """The bodies as stretches of the wetting scale, from dry to wet, for this pigment in this oil.

    `stiffened` is by how much additives make it look stiffer than its oil says: each body then takes more oil.
    """
    edges = [SCALE_REDUCED_DRY, *(lowest for _, lowest in BODY_LOWEST_REDUCED), SCALE_REDUCED_WET]
    zones = []
    for body, reduced_from, reduced_to in zip(Body, edges, edges[1:], strict=False):
        zones.append(
            Zone(
                body,
                max(0.0, ratio_at(reduced_from - stiffened, oil_absorption, pigment_density, oil_density)),
                ratio_at(max(0.1, reduced_to - stiffened), oil_absorption, pigment_density, oil_density),
                reduced_from,
                reduced_to,
            )
        )
    return tuple(zones)
