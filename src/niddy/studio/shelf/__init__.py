"""The shelf: every tube and jar that holds paint, its inspections and ways to save it, and jars nobody can name."""

from __future__ import annotations

from niddy.studio.shelf.finding import FoundAsked, find
from niddy.studio.shelf.inspecting import InspectAsked, keep_look
from niddy.studio.shelf.item_page import ItemAct, ItemActAsked, ItemPage, act, inspect, page, settle
from niddy.studio.shelf.items import (
    ItemKind,
    ItemLine,
    Left,
    NewItem,
    Page,
    Wanted,
    at_risk,
    by_code,
    by_request,
    due,
    due_count,
    lines_of,
    search,
)
from niddy.studio.shelf.putting import filled_from, put, taken_of, top_up, waiting_of
from niddy.studio.shelf.regrinding import Reground, regrind

__all__ = [
    "FoundAsked",
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
    "Wanted",
    "act",
    "at_risk",
    "by_code",
    "by_request",
    "due",
    "due_count",
    "filled_from",
    "find",
    "inspect",
    "keep_look",
    "lines_of",
    "page",
    "put",
    "regrind",
    "search",
    "settle",
    "taken_of",
    "top_up",
    "waiting_of",
]
