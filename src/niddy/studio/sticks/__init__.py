"""Sticks: bases, plans of sticks and sets, the pot, trials, recipes."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from niddy.studio.acting import PhotoAsked
from niddy.studio.sticks.acts import Act, act_of
from niddy.studio.sticks.base_pages import BaseLine, BasePage, BaseShown, bases, beside, page, preview
from niddy.studio.sticks.bases import BaseAsked, VersionAsked, add, add_version
from niddy.studio.sticks.blocks import BlockAsked, WaxWeighed, melt_block
from niddy.studio.sticks.kept import ROOM, job_of, take_to_pots
from niddy.studio.sticks.lists import PotLine, PotNamed, open_pots, pots, several, waits
from niddy.studio.sticks.moulds import MouldAsked, MouldKept, add_mould, moulds, retire_mould
from niddy.studio.sticks.planning import (
    ColourAsked,
    MouldsAsked,
    PigmentAsked,
    SetAsked,
    SetPlanned,
    compute,
)
from niddy.studio.sticks.recipes import StickRecipeAsked, StickRecipeLine, StickRecipePage, keep_recipe, recipe, recipes
from niddy.studio.sticks.recording import keep
from niddy.studio.sticks.recording import take_photo as _take_photo
from niddy.studio.sticks.scale import DentZone, dent_scale
from niddy.studio.sticks.view import PotView, view, view_of


def record(session: Session, now: datetime, number: int, act: Act) -> PotView:
    """Log an act and say what the pot looks like after it. Raises Refused, Conflict, Missing."""
    return view_of(session, now, keep(session, now, number, act))


def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> PotView:
    """Keep a picture of a pot or its sticks and log it. Raises Refused, Conflict, Missing."""
    return view_of(session, now, _take_photo(session, now, number, asked, picture))


__all__ = [
    "ROOM", "Act", "BaseAsked", "BaseLine", "BasePage", "BaseShown", "BlockAsked", "ColourAsked", "DentZone",
    "MouldAsked", "MouldKept", "MouldsAsked", "PhotoAsked", "PigmentAsked", "PotLine", "PotNamed", "PotView",
    "SetAsked", "SetPlanned", "StickRecipeAsked", "StickRecipeLine", "StickRecipePage", "VersionAsked", "WaxWeighed",
    "act_of", "add", "add_mould", "add_version", "bases", "beside", "compute", "dent_scale", "job_of", "keep",
    "keep_recipe", "melt_block", "moulds", "open_pots", "page", "pots", "preview", "recipe", "recipes", "record",
    "retire_mould", "several", "take_photo", "take_to_pots", "view", "waits",
]  # fmt: skip
