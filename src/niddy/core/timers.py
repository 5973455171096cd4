"""Timers as a fold over acts: spells that begin and end in a log, so that they outlive a reload on every device."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Spell:
    """One spell that ended: its seconds, and whether the clock said that it ended before it began."""

    seconds: float
    backwards: bool = False


@dataclass(frozen=True, slots=True)
class Timer:
    """Seconds of the spells that ended, and since when one runs."""

    seconds: float = 0.0
    running_since: datetime | None = None


def ended(since: datetime, at: datetime, minutes: float | None = None) -> Spell:
    """A spell from one moment to another; `minutes` is how long it really was, where the maker knows better."""
    ran = (at - since).total_seconds()
    if minutes is not None:
        return Spell(60 * minutes)
    return Spell(max(0.0, ran), ran < 0)


def started(timer: Timer, at: datetime) -> Timer:
    """The timer runs; one that runs already goes on."""
    return timer if timer.running_since is not None else replace(timer, running_since=at)


def stopped(timer: Timer, at: datetime, minutes: float | None = None) -> Timer:
    """The timer rests; one that rests already is unchanged."""
    if timer.running_since is None:
        return timer
    return Timer(timer.seconds + ended(timer.running_since, at, minutes).seconds)


def spent_s(timer: Timer, now: datetime | None = None) -> float:
    """Seconds in all, with the spell that runs."""
    if now is None or timer.running_since is None:
        return timer.seconds
    return timer.seconds + ended(timer.running_since, now).seconds
