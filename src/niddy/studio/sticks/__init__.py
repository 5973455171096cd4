"""Sticks: bases, plans of sticks and sets, the pot, trials, recipes."""

from __future__ import annotations

from niddy.studio.sticks.asked import ColourAsked, MouldsAsked, PigmentAsked, SetAsked
from niddy.studio.sticks.base_pages import BaseLine, BasePage, BaseShown, bases, beside, page, preview
from niddy.studio.sticks.bases import BaseAsked, BoughtAsked, VersionAsked, add, add_bought, add_version
from niddy.studio.sticks.blocks import BlockAsked, WaxWeighed, melt_block
from niddy.studio.sticks.kept import take_to_pots
from niddy.studio.sticks.lists import PotAlone, PotLine, PotNamed, left_alone, open_pots, pots, several, waits
from niddy.studio.sticks.moulds import MouldAsked, MouldKept, add_mould, moulds, retire_mould
from niddy.studio.sticks.planning import SetPlanned, compute
from niddy.studio.sticks.recipes import StickRecipeAsked, StickRecipeLine, StickRecipePage, keep_recipe, recipe, recipes
from niddy.studio.sticks.recording import POTS
from niddy.studio.sticks.scale import DentZone, dent_scale
from niddy.studio.sticks.view import PotView, view, view_of

__all__ = [
    "POTS",
    "BaseAsked",
    "BaseLine",
    "BasePage",
    "BaseShown",
    "BlockAsked",
    "BoughtAsked",
    "ColourAsked",
    "DentZone",
    "MouldAsked",
    "MouldKept",
    "MouldsAsked",
    "PigmentAsked",
    "PotAlone",
    "PotLine",
    "PotNamed",
    "PotView",
    "SetAsked",
    "SetPlanned",
    "StickRecipeAsked",
    "StickRecipeLine",
    "StickRecipePage",
    "VersionAsked",
    "WaxWeighed",
    "add",
    "add_bought",
    "add_mould",
    "add_version",
    "bases",
    "beside",
    "compute",
    "dent_scale",
    "keep_recipe",
    "left_alone",
    "melt_block",
    "moulds",
    "open_pots",
    "page",
    "pots",
    "preview",
    "recipe",
    "recipes",
    "retire_mould",
    "several",
    "take_to_pots",
    "view",
    "view_of",
    "waits",
]
