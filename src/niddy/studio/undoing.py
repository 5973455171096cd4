"""What a strike-out takes out, or brings back: one rule for the logs of every room, at any depth."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol, TypeVar
from uuid import UUID

from niddy.core.errors import Refused

STILL_COUNTS = "something that still counts"


class Logged(Protocol):
    """An act of a log: its id, what it strikes out, and whether it is struck out itself."""

    @property
    def id(self) -> UUID: ...
    @property
    def strikes(self) -> UUID | None: ...
    @property
    def struck(self) -> bool: ...


L = TypeVar("L", bound=Logged)


def undone_by(entries: Iterable[L], strikes: UUID | None) -> L:
    """The act that a strike-out takes out, or whose strike-out it takes back.

    An act is struck out, or the strike-out of it; what put an act back is not struck out itself: that would be the
    same as striking the act out, said in a way no reader of a log could follow. Raises Refused.
    """
    by_id = {entry.id: entry for entry in entries}
    target = by_id.get(strikes) if strikes is not None else None
    if target is None:
        raise Refused("strikes", "no such act in this log", STILL_COUNTS)
    if target.struck:
        raise Refused("strikes", "that is undone already", STILL_COUNTS)
    if target.strikes is not None:
        back = by_id.get(target.strikes)
        if back is not None and back.strikes is not None:
            raise Refused("strikes", "that put an act back", "undoing the act itself")
    return target
