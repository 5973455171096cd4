"""The log every craft shares: acts never changed, some struck out by later ones, and folds over what counts."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from enum import StrEnum
from typing import Protocol, TypeVar
from uuid import UUID


class Status(StrEnum):
    """Where a job stands."""

    OPEN = "open"
    FINISHED = "finished"
    ABANDONED = "abandoned"


_SAID = {
    "slab": "batch",
    "checks": "checks of batch",
    "rubout": "rub-out",
    "sticks": "pot",
    "cans": "washing can",
    "dishes": "dish",
    "runs": "run",
    "additives": "ladder",
    "charts": "chart",
}


def said_of(room: str, number: int) -> str:
    """What a job is in its room, with its number; of a tube or jar its code is the name, so only where it is."""
    return f"{_SAID[room]} {number}" if room in _SAID else "on the shelf" if room == "shelf" else ""


class Acted(Protocol):
    """What a log needs to know of an act: its id, its place, and which act it strikes out, if any."""

    @property
    def id(self) -> UUID: ...
    @property
    def seq(self) -> int: ...
    @property
    def strikes(self) -> UUID | None: ...


A = TypeVar("A", bound=Acted)
State = TypeVar("State")


def struck(acts: Iterable[Acted]) -> frozenset[UUID]:
    """The ids of the acts that do not count. A strike that is itself struck strikes nothing: its act is back."""
    out: set[UUID] = set()
    for act in sorted(acts, key=lambda act: act.seq, reverse=True):
        if act.strikes is not None and act.id not in out:
            out.add(act.strikes)
    return frozenset(out)


def counting(acts: Iterable[A]) -> tuple[A, ...]:
    """The acts that count, in the order of `seq` however they came: neither struck out nor strikes themselves."""
    acts = list(acts)
    out = struck(acts)
    return tuple(act for act in sorted(acts, key=lambda act: act.seq) if act.strikes is None and act.id not in out)


def fold(acts: Iterable[A], start: State, after: Callable[[State, A], State]) -> State:
    """What a log comes to: `after` applied to `start` and each act that counts, in order."""
    state = start
    for act in counting(acts):
        state = after(state, act)
    return state
