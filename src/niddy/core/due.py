"""What waits for a date, whatever the craft: one kind of entry for one list and one calendar."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Due:
    """Something that can be done from a moment on: in which room, of what, and what it is for.

    `key` tells it from all others of its room; `what` is a word or two, `page` where it is done;
    `takes_min` how long it takes, where that is known.
    """

    room: str
    key: str
    what: str
    name: str
    says: str
    at: datetime
    page: str
    takes_min: float | None = None


def in_order(waits: Iterable[Due]) -> tuple[Due, ...]:
    """The earliest first."""
    return tuple(sorted(waits, key=lambda due: (due.at, due.room, due.key)))
