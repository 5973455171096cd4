"""The slab: an immutable log of acts, what is in the paste now as a pure fold over it, and all that is known of it."""

from __future__ import annotations

from niddy.core.log import Status
from niddy.core.slab.acts import (
    DoubtAnswer,
    Event,
    Gloss,
    Grit,
    Kind,
    Question,
    SessionPhase,
    Slip,
    Stage,
    StringLength,
    Verdict,
    Way,
)
from niddy.core.slab.asking import FAR_SHORT, Entry, doubted, question_of, short_of, units_of_liquid, units_of_powder
from niddy.core.slab.binder import (
    additive_excess,
    additive_ln_stress,
    binder_g,
    displaced_g_per_100g,
    gel_oil_to_come_g,
    missing_additive_g,
    volume_ml,
)
from niddy.core.slab.checking import check
from niddy.core.slab.folding import after, fold, put_right
from niddy.core.slab.knowledge import Doubt, Knowledge, Reading, Standing, know, looser
from niddy.core.slab.paste import (
    Added,
    Charge,
    Look,
    Paste,
    Poured,
    Spread,
    dry,
    dusty,
    last_even_look,
    last_look_here,
    stage_seen,
)
from niddy.core.slab.teaching import taught, taught_by_check, widening
from niddy.core.slab.untold import reckoned_oil, supposed

__all__ = [
    "FAR_SHORT",
    "Added",
    "Charge",
    "Doubt",
    "DoubtAnswer",
    "Entry",
    "Event",
    "Gloss",
    "Grit",
    "Kind",
    "Knowledge",
    "Look",
    "Paste",
    "Poured",
    "Question",
    "Reading",
    "SessionPhase",
    "Slip",
    "Spread",
    "Stage",
    "Standing",
    "Status",
    "StringLength",
    "Verdict",
    "Way",
    "additive_excess",
    "additive_ln_stress",
    "after",
    "binder_g",
    "check",
    "displaced_g_per_100g",
    "doubted",
    "dry",
    "dusty",
    "fold",
    "gel_oil_to_come_g",
    "know",
    "last_even_look",
    "last_look_here",
    "looser",
    "missing_additive_g",
    "put_right",
    "question_of",
    "reckoned_oil",
    "short_of",
    "stage_seen",
    "supposed",
    "taught",
    "taught_by_check",
    "units_of_liquid",
    "units_of_powder",
    "volume_ml",
    "widening",
]
