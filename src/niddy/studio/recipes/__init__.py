"""Recipes: what a paint should be like, in versions; the same again from another lot, oil or amount."""

from __future__ import annotations

from niddy.studio.recipes.asked import PartAsked, RecipeAsked, RecipeDose, Stance, WantedAsked
from niddy.studio.recipes.ladders import LadderStart, ladder_start, take_ladder
from niddy.studio.recipes.pages import RecipeLine, RecipePage, Suggested, from_batch, lines, page
from niddy.studio.recipes.the_same import Again, AgainAsked, again
from niddy.studio.recipes.versions import (
    change,
    check_stance,
    followed,
    freeze,
    frozen_on,
    holds_with_additives,
    make,
    name_of,
    newest,
    note_bleeds,
    planned,
    retire,
    version_of,
)

__all__ = [
    "Again",
    "AgainAsked",
    "LadderStart",
    "PartAsked",
    "RecipeAsked",
    "RecipeDose",
    "RecipeLine",
    "RecipePage",
    "Stance",
    "Suggested",
    "WantedAsked",
    "again",
    "change",
    "check_stance",
    "followed",
    "freeze",
    "from_batch",
    "frozen_on",
    "holds_with_additives",
    "ladder_start",
    "lines",
    "make",
    "name_of",
    "newest",
    "note_bleeds",
    "page",
    "planned",
    "retire",
    "take_ladder",
    "version_of",
]
