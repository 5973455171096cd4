"""Paint sticks: pigment and oil in a base of waxes and resins; how hard, how hot, how much, and whether it dries."""

from niddy.core.sticks.acts import (
    AFTERWARDS,
    FLAW_WORDS,
    IN_POT,
    Act,
    By,
    Flaw,
    Kind,
    Matter,
)
from niddy.core.sticks.casting import (
    DEFAULT_REDUCED_PVC,
    FEEL_BELOW,
    HIGHEST_C,
    HOLD_UP_ML,
    LOSS,
    POUR_ABOVE_SET_C,
    SET_DROP_C,
    WATER_BATH_C,
    Dries,
    Feel,
    Limit,
    Mould,
    Stick,
    dries_of,
    feel_of,
    stick,
)
from niddy.core.sticks.folding import Dent, Pot, PotReading, Taught, fold, read, taught
from niddy.core.sticks.guide import Mend, PigmentWay, PotAdvice, PotPlan, advise, mend, sunk_mm
from niddy.core.sticks.lifting import Lifting, lifting
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
    BEESWAX_DMM,
    OFFSET_SD,
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
from niddy.core.sticks.sets import (
    FEEL_DENT,
    SINKS_FROM_MM,
    WEIGHT_SCHOOL,
    ColourPlan,
    ColourWish,
    Loading,
    OnScale,
    casting_order,
    dries_or_crayon,
    plan_colour,
    powder_of,
)
from niddy.core.sticks.trials import DRY, DRYING, WET, Question, SticksVerdict, TrialVerdict, check_seen, judge

__all__ = [
    "AFTERWARDS", "BEESWAX_DMM", "DEFAULT_REDUCED_PVC", "DRY", "DRYING", "FEEL_BELOW", "FEEL_DENT", "FLAW_WORDS",
    "HIGHEST_C", "HOLD_UP_ML", "IN_POT", "LOSS", "OFFSET_SD", "POUR_ABOVE_SET_C", "READING_SD", "SET_DROP_C",
    "SINKS_FROM_MM", "SIZE_UM", "WATER_BATH_C", "WEIGHT_SCHOOL", "WET", "Act", "BaseMix", "By", "ColourPlan",
    "ColourWish", "Correcting", "Dent", "DentRead", "Dries", "Feel", "Flaw", "Kind", "Lifting", "Limit", "Loading",
    "Matter", "Mend", "Mould", "Offset", "OilKind", "OnScale", "Part", "PigmentWay", "Pot", "PotAdvice", "PotPlan",
    "PotReading", "Powder", "Question", "Stick", "StickCorrection", "StickOil", "SticksVerdict", "Taught",
    "TrialVerdict", "advise", "at_25_c", "base_of", "casting_order", "check_seen", "correct", "dries_of",
    "dries_or_crayon", "feel_of", "fold", "judge", "learn_offset", "lifting", "ln_dent", "mend", "oil_fraction_for",
    "plan_colour", "powder_of", "read", "settled_mm", "stick", "stiffening_ln", "sunk_mm", "taught",
]  # fmt: skip
