"""The shelf: every tube and jar that holds paint, its inspections and ways to save it, and jars nobody can name."""

from __future__ import annotations

from niddy.studio.shelf.finding import FoundAsked, find
from niddy.studio.shelf.inspecting import InspectAsked, keep_look
from niddy.studio.shelf.item_page import ItemAct, ItemActAsked, ItemPage, act, inspect, page, settle
from niddy.studio.shelf.items import (
    Held,
    ItemKind,
    ItemLine,
    Left,
    NewItem,
    Page,
    Used,
    Wanted,
    at_risk,
    by_code,
    by_request,
    due,
    due_count,
    held,
    lines_of,
    of_batches,
    search,
    used_from,
    used_in,
)
from niddy.studio.shelf.putting import filled_from, put, taken_of, top_up, waiting_of
from niddy.studio.shelf.regrinding import Reground, regrind

__all__ = [
    "FoundAsked",
    "Held",
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
    "Used",
    "Wanted",
    "act",
    "at_risk",
    "by_code",
    "by_request",
    "due",
    "due_count",
    "filled_from",
    "find",
    "held",
    "inspect",
    "keep_look",
    "lines_of",
    "of_batches",
    "page",
    "put",
    "regrind",
    "search",
    "settle",
    "taken_of",
    "top_up",
    "used_from",
    "used_in",
    "waiting_of",
]
