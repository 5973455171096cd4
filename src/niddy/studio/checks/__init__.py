"""Checks: readings of a batch, its verdict against the recipe, what is due, consistency, and comparison."""

from __future__ import annotations

from niddy.studio.checks.colours import (
    TINT_WHITE_PARTS,
    ColourRead,
    LabAsked,
    ReadColour,
    colours_of,
    colours_stamp,
    masstones,
)
from niddy.studio.checks.comparing import Comparison, compare
from niddy.studio.checks.consistency import BodyMap, Consistency, body_map, consistency
from niddy.studio.checks.due import DueCheck, all_due, waits
from niddy.studio.checks.readings import CheckAsked, is_colour, keep
from niddy.studio.checks.verdict import BatchChecks, ReleaseAsked, decide, page, record, set_aside

__all__ = [
    "TINT_WHITE_PARTS",
    "BatchChecks",
    "BodyMap",
    "CheckAsked",
    "ColourRead",
    "Comparison",
    "Consistency",
    "DueCheck",
    "LabAsked",
    "ReadColour",
    "ReleaseAsked",
    "all_due",
    "body_map",
    "colours_of",
    "colours_stamp",
    "compare",
    "consistency",
    "decide",
    "is_colour",
    "keep",
    "masstones",
    "page",
    "record",
    "set_aside",
    "waits",
]
