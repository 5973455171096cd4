"""Additives: a dose on its own basis, dry or from a gel whose oil counts as oil (section 11)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused, mass_g, within


class DoseBasis(StrEnum):
    """What a dose is a percentage of; `total` is the finished paint, the additive included."""

    OIL = "oil"
    PIGMENT = "pigment"
    TOTAL = "total"


@dataclass(frozen=True, slots=True)
class Dose:
    """What to weigh of an additive in g, and what is left of the oil to pour; the gel only where one is used."""

    additive_g: float
    oil_to_pour_g: float
    gel_g: float | None = None
    oil_in_gel_g: float | None = None


def dose(dose_pct: float, basis: DoseBasis, pigment_g: float, oil_g: float, gel_strength: float | None = None) -> Dose:
    """The additive for a batch, dry or from a gel of a strength (mass fraction of additive in it).

    Gel g = dose / strength; the rest of it is oil, and comes off the pours. Raises Refused for a strength of
    0 or above 1, a dose of the total that leaves no room, and a gel that holds more oil than the batch takes.
    """
    within("dose_pct", dose_pct, 0, 100, "%")
    mass_g("pigment_g", pigment_g)
    mass_g("oil_g", oil_g)
    if basis is DoseBasis.TOTAL:
        if dose_pct >= 100:
            raise Refused("dose_pct", "nothing but additive", "less than 100 % of the total")
        additive_g = (pigment_g + oil_g) * dose_pct / (100 - dose_pct)
    else:
        additive_g = (oil_g if basis is DoseBasis.OIL else pigment_g) * dose_pct / 100
    if gel_strength is None:
        return Dose(additive_g, oil_g)
    within("gel_strength", gel_strength, 0, 1, open_low=True)
    gel_g = additive_g / gel_strength
    oil_in_gel_g = gel_g - additive_g
    if oil_in_gel_g > oil_g:
        raise Refused(
            "gel_strength",
            f"its gel brings {oil_in_gel_g:.1f} g of oil, the batch takes {oil_g:.1f} g",
            f"a stronger gel, from {additive_g / (additive_g + oil_g):.3f}",
        )
    return Dose(additive_g, oil_g - oil_in_gel_g, gel_g, oil_in_gel_g)
