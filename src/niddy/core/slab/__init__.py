"""The slab: an immutable log of acts, and what is in the paste now as a pure fold over it."""

from __future__ import annotations

from niddy.core.slab.acts import Event, Gloss, Grit, Kind, SessionPhase, Stage, Status, StringLength, Verdict, Way
from niddy.core.slab.binder import (
    additive_ln_stress,
    binder_g,
    displaced_g_per_100g,
    gel_oil_to_come_g,
    missing_additive_g,
    target_now,
    volume_ml,
)
from niddy.core.slab.checking import check
from niddy.core.slab.folding import after, fold, struck_by
from niddy.core.slab.paste import Added, Look, Paste, Spread, dusty, last_even_look, last_look_here
from niddy.core.slab.reading import (
    Reading,
    beyond_ladder,
    body_wanted,
    demand_now,
    ladder_now,
    matches,
    ratio_aimed_at,
    read,
    repeated_mismatch,
    target_ratio,
)

__all__ = [
    "Added",
    "Event",
    "Gloss",
    "Grit",
    "Kind",
    "Look",
    "Paste",
    "Reading",
    "SessionPhase",
    "Spread",
    "Stage",
    "Status",
    "StringLength",
    "Verdict",
    "Way",
    "additive_ln_stress",
    "after",
    "beyond_ladder",
    "binder_g",
    "body_wanted",
    "check",
    "demand_now",
    "displaced_g_per_100g",
    "dusty",
    "fold",
    "gel_oil_to_come_g",
    "ladder_now",
    "last_even_look",
    "last_look_here",
    "matches",
    "missing_additive_g",
    "ratio_aimed_at",
    "read",
    "repeated_mismatch",
    "struck_by",
    "target_now",
    "target_ratio",
    "volume_ml",
]
