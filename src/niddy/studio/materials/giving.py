"""What a tub gives: the paint that what is left of a powder makes at the usual body, and so many tubes of it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from niddy.core import sizing, wetting
from niddy.core.estimate import Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import REFERENCE_OIL_DENSITY_G_PER_ML
from niddy.studio import workshop
from niddy.studio.materials.kept import LotKept

USUAL_TUBE_ML = 40.0
"""Tubes are counted of this size, or of the next smaller one the studio has."""


@dataclass(frozen=True, slots=True)
class Gives:
    """The paint that what is left of a powder gives, and how many tubes of a size the studio has that fills."""

    paint: Figure
    tubes: int
    tube_ml: float | None


def gives(session: Session, lot: LotKept) -> Gives | None:
    """What is left of a lot of pigment as paint; None of what is no powder, or used up."""
    if lot.kind != "pigment" or lot.on_hand <= 0 or lot.density is None or lot.oil_absorption is None:
        return None
    density, absorption = lot.density.value, lot.oil_absorption
    dry_g = lot.on_hand * (1 - (lot.liquid_share or 0.0))
    reduced = workshop.settings(session).default_reduced_pvc

    def made(oil_absorption: float) -> sizing.Sizing:
        ratio = wetting.ratio_at(reduced, oil_absorption, density, REFERENCE_OIL_DENSITY_G_PER_ML)
        return sizing.size(ratio, density, REFERENCE_OIL_DENSITY_G_PER_ML, pigment_g=dry_g)

    middle = made(absorption.value)
    low, high = (
        made(end).leftover_ml if end is not None else middle.leftover_ml for end in (absorption.low, absorption.high)
    )
    paint = Figure.of(
        "Paint it would make",
        Estimate(middle.leftover_ml, low, high, absorption.basis),
        "ml",
        0,
        Working(
            "powder / density + oil to the usual body / its density, less what stays on the slab",
            (
                Input("powder left", dry_g, "g"),
                Input("density", density, "g/ml", lot.density.basis),
                Input("oil absorption", absorption.value, "g per 100 g", absorption.basis),
                Input("usual target, reduced PVC", reduced),
            ),
            "1 ml and 3 % stay on slab and muller (assumed)",
            "how much oil this powder takes",
        ),
    )
    sizes = [one.usable_ml for one in workshop.workshop(session).tube_types]
    size = max((ml for ml in sizes if ml <= USUAL_TUBE_ML), default=min(sizes, default=None))
    return Gives(paint, sizing.tubes_filled(middle.volume_ml, size) if size else 0, size)
