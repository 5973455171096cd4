"""One batch as JSON: the plan as asked and as computed, and the whole log, struck acts included."""

from __future__ import annotations

import json
from datetime import datetime

from pydantic import TypeAdapter

from niddy.core.plan import Plan
from niddy.core.slab import Event
from niddy.studio.batches import BatchKept

FORMAT = "niddy-batch"
VERSION = 1
_PLAN = TypeAdapter(Plan)
_EVENTS = TypeAdapter(list[Event])


def dump(kept: BatchKept) -> str:
    """The batch as an indented JSON document. Masses g, volumes ml, times UTC."""
    log = _EVENTS.dump_python([logged.event for logged in kept.log], mode="json")
    for entry, logged in zip(log, kept.log, strict=True):
        entry["struck_out"] = logged.event.id in kept.paste.struck
        entry["as_sent"] = logged.payload
    document = {
        "format": FORMAT,
        "version": VERSION,
        "number": kept.number,
        "name": kept.name,
        "status": kept.status,
        "verdict": kept.verdict,
        "started_at": _iso(kept.started_at),
        "ended_at": _iso(kept.ended_at),
        "asked": kept.asked,
        "plan": _PLAN.dump_python(kept.plan, mode="json"),
        "log": log,
    }
    return json.dumps(document, indent=2, ensure_ascii=False)


def _iso(moment: datetime | None) -> str | None:
    return moment.isoformat() if moment else None
