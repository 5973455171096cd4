"""Paint sticks: pigment and oil in a base of waxes and resins; how hard, how hot, how much, and whether it dries."""

from niddy.core.sticks.casting import (
    DEFAULT_REDUCED_PVC,
    HOLD_UP_ML,
    LOSS,
    Dries,
    Feel,
    Limit,
    Mould,
    Stick,
    dries_of,
    feel_of,
    stick,
)
from niddy.core.sticks.materials import (
    BaseMix,
    OilKind,
    Part,
    Powder,
    StickOil,
    base_of,
    ln_dent,
    oil_fraction_for,
    stiffening_ln,
)
from niddy.core.sticks.pot import (
    READING_SD,
    SIZE_UM,
    Correcting,
    DentRead,
    Offset,
    StickCorrection,
    at_25_c,
    correct,
    learn_offset,
    settled_mm,
)

__all__ = [
    "DEFAULT_REDUCED_PVC", "HOLD_UP_ML", "LOSS", "READING_SD", "SIZE_UM", "BaseMix", "Correcting", "DentRead", "Dries",
    "Feel", "Limit", "Mould", "Offset", "OilKind", "Part", "Powder", "Stick", "StickCorrection", "StickOil", "at_25_c",
    "base_of", "correct", "dries_of", "feel_of", "learn_offset", "ln_dent", "oil_fraction_for", "settled_mm", "stick",
    "stiffening_ln",
]  # fmt: skip
