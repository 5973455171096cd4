"""What a tub gives: the paint that what is left of a powder makes at the usual body, and so many tubes of it."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core import sizing, wetting
from niddy.core.estimate import Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import REFERENCE_OIL_DENSITY_G_PER_ML
from niddy.studio import workshop
from niddy.studio.materials.kept import LotKept


def gives(session: Session, lot: LotKept) -> Figure | None:
    """The paint that what is left of a lot of pigment makes, ml; None of what is no powder, or used up."""
    if lot.kind != "pigment" or lot.on_hand <= 0 or lot.density is None or lot.oil_absorption is None:
        return None
    density, absorption = lot.density.value, lot.oil_absorption
    dry_g = lot.on_hand * (1 - (lot.liquid_share or 0.0))
    reduced = workshop.settings(session).default_reduced_pvc

    def made(oil_absorption: float) -> float:
        ratio = wetting.ratio_at(reduced, oil_absorption, density, REFERENCE_OIL_DENSITY_G_PER_ML)
        whole = dry_g / density + dry_g * ratio / 100 / REFERENCE_OIL_DENSITY_G_PER_ML
        return max(0.0, whole * (1 - sizing.LOSS) - sizing.HOLD_UP_ML)

    middle = made(absorption.value)
    low, high = (made(end) if end is not None else middle for end in (absorption.low, absorption.high))
    return Figure.of(
        "Paint it gives",
        Estimate(middle, low, high, absorption.basis),
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
