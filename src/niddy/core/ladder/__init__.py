"""Ladder: rungs of one mother paste with more and more additive, and the least dose that does what is wanted."""

from __future__ import annotations

from niddy.core.ladder.designing import Design, Ingredient, Mother, design, even_doses, mother, usual_top_pct
from niddy.core.ladder.fitting import RUNGS_TO_FIT, WORDS, Fit, Measured, RungRead, Target, check_targets, fit

__all__ = [
    "RUNGS_TO_FIT",
    "WORDS",
    "Design",
    "Fit",
    "Ingredient",
    "Measured",
    "Mother",
    "RungRead",
    "Target",
    "check_targets",
    "design",
    "even_doses",
    "fit",
    "mother",
    "usual_top_pct",
]
