"""The shelf: every tube, jar and stick of paint, its inspections and ways to save it, and jars nobody can name."""

from __future__ import annotations

from niddy.studio.shelf.acts import ItemAct, ItemActAsked, item_act_of
from niddy.studio.shelf.drawing import draw, part_of, put_back
from niddy.studio.shelf.finding import FoundAsked, find
from niddy.studio.shelf.inspecting import InspectAsked, StickInspectAsked, keep_look
from niddy.studio.shelf.item_page import ItemPage, act, inspect, job_of, page, settle, take_photo
from niddy.studio.shelf.items import (
    HERE,
    Held,
    Here,
    ItemKind,
    ItemLine,
    Left,
    NewItem,
    Used,
    Whereabouts,
    by_request,
    held,
    here,
    here_stamp,
    lines_of,
    of_pot,
    used_from,
    used_in,
    whereabouts,
)
from niddy.studio.shelf.putting import filled_from, put, taken_of, top_up, waiting_of
from niddy.studio.shelf.regrinding import Reground, regrind
from niddy.studio.shelf.searching import Page, Wanted, at_risk, by_code, due, due_count, newest, search, waits

__all__ = [
    "HERE",
    "FoundAsked",
    "Held",
    "Here",
    "InspectAsked",
    "ItemAct",
    "ItemActAsked",
    "ItemKind",
    "ItemLine",
    "ItemPage",
    "Left",
    "NewItem",
    "Page",
    "Reground",
    "StickInspectAsked",
    "Used",
    "Wanted",
    "Whereabouts",
    "act",
    "at_risk",
    "by_code",
    "by_request",
    "draw",
    "due",
    "due_count",
    "filled_from",
    "find",
    "held",
    "here",
    "here_stamp",
    "inspect",
    "item_act_of",
    "job_of",
    "keep_look",
    "lines_of",
    "newest",
    "of_pot",
    "page",
    "part_of",
    "put",
    "put_back",
    "regrind",
    "search",
    "settle",
    "take_photo",
    "taken_of",
    "top_up",
    "used_from",
    "used_in",
    "waiting_of",
    "waits",
    "whereabouts",
]
