"""A finished powder: its density by displacement, how coarse it is by its sieve, how strong beside another."""

from __future__ import annotations

from niddy.core.errors import Refused, density_g_per_ml, mass_g, within
from niddy.core.making.sieving import Sieved
from niddy.core.materials import Particle

READING_G = 0.02
"""What each of the three weighings may be off (assumed)."""

FINE_UM, MEDIUM_UM = 45.0, 90.0
"""A powder whose larger half begins below these is fine or medium, else coarse (assumed)."""

LOOSE_SHARE = 0.3
"""A loose powder made here is so much of its density (assumed, until a spoon of it is weighed)."""


def density_by_displacement(
    powder_g: float, full_g: float, with_powder_g: float, oil_g_per_ml: float
) -> tuple[float, float]:
    """Density in g/ml of a powder, and its 90 % half-width.

    A flask is weighed full of oil (`full_g`), then with the powder in it and filled up with oil to the same mark:
    density = powder x oil density / (full + powder - with powder). Raises Refused naming the weighing.
    """
    mass_g("powder_g", powder_g)
    mass_g("full_g", full_g)
    mass_g("with_powder_g", with_powder_g)
    density_g_per_ml("oil_g_per_ml", oil_g_per_ml)
    if with_powder_g <= full_g:
        raise Refused("with_powder_g", "no heavier than the flask of oil alone", f"above {full_g:g} g")
    displaced = full_g + powder_g - with_powder_g
    if displaced <= 0:
        raise Refused("with_powder_g", "heavier than powder and oil together", f"below {full_g + powder_g:g} g")
    found = powder_g * oil_g_per_ml / displaced
    within("with_powder_g", found, 0.8, 25, "g/ml as density")
    off = 1.6449 * READING_G * 2**0.5 / displaced
    return found, found * min(0.5, off)


def particle_of(sieved: Sieved | None, mesh_um: float | None) -> Particle:
    """How coarse a powder is taken for: by the middle of its sieving, else by the finest mesh all of it went through.

    Medium where nothing is known (assumed).
    """
    size = sieved.d50_um if sieved is not None else None
    if size is None and mesh_um is not None:
        size = 0.6 * mesh_um
    if size is None:
        return Particle.MEDIUM
    if size <= FINE_UM:
        return Particle.FINE
    return Particle.MEDIUM if size <= MEDIUM_UM else Particle.COARSE


def strength_percent(white_parts: float, reference_white_parts: float) -> float:
    """Strength beside a reference, in percent, from the white each takes to come equally pale."""
    within("white_parts", white_parts, 0.1, 1_000)
    within("reference_white_parts", reference_white_parts, 0.1, 1_000)
    return 100 * white_parts / reference_white_parts
