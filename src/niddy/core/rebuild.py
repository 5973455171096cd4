"""Rebuild: a recipe for another lot or oil keeps the body, not the ratio."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.errors import density_g_per_ml, oil_g_per_100g
from niddy.core.wetting import ratio_at, reduced_at


@dataclass(frozen=True, slots=True)
class Wets:
    """A blend in an oil: oil absorption in that oil, and both densities."""

    oil_absorption_g_per_100g: float
    pigment_density_g_per_ml: float
    oil_density_g_per_ml: float

    def checked(self, under: str) -> Wets:
        """Itself, or Refused naming the field below `under`."""
        oil_g_per_100g(f"{under}.oil_absorption_g_per_100g", self.oil_absorption_g_per_100g)
        density_g_per_ml(f"{under}.pigment_density_g_per_ml", self.pigment_density_g_per_ml)
        density_g_per_ml(f"{under}.oil_density_g_per_ml", self.oil_density_g_per_ml)
        return self


@dataclass(frozen=True, slots=True)
class Rebuilt:
    """The reduced PVC that is kept, the new ratio, and by how much it changed."""

    reduced_pvc: float
    oil_g_per_100g: float
    change_g_per_100g: float


def rebuild(ratio: float, old: Wets, new: Wets) -> Rebuilt:
    """The ratio that gives the new lot or oil the old one's reduced PVC. Raises Refused."""
    oil_g_per_100g("old.oil_g_per_100g", ratio)
    old.checked("old")
    new.checked("new")
    reduced = reduced_at(ratio, old.oil_absorption_g_per_100g, old.pigment_density_g_per_ml, old.oil_density_g_per_ml)
    again = ratio_at(reduced, new.oil_absorption_g_per_100g, new.pigment_density_g_per_ml, new.oil_density_g_per_ml)
    oil_g_per_100g("new.oil_absorption_g_per_100g", again)
    return Rebuilt(reduced, again, again - ratio)
