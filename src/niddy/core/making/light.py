"""A light test: half covered in a window, looked at on a schedule, and a verdict. No spot test replaces it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum

SCHEDULE_DAYS = (7, 28, 84)
"""When it is looked at: after a week, a month, three months (assumed)."""

BARELY_DE, CLEARLY_DE, GONE_DE = 1.5, 5.0, 20.0
"""dE00 between the covered and the open half from which it has barely, clearly and quite faded (assumed)."""


class Fading(StrEnum):
    """How the open half looks beside the covered one."""

    NONE = "none"
    BARELY = "barely"
    CLEARLY = "clearly"
    GONE = "gone"


class LightVerdict(StrEnum):
    """What a light test says a colour is good for."""

    HOLDS = "holds"
    FADES = "fades"
    FUGITIVE = "fugitive"


VERDICT_WORDS = {
    LightVerdict.HOLDS: "it holds: as far as this window and this summer go",
    LightVerdict.FADES: "it fades: for what is kept from the light",
    LightVerdict.FUGITIVE: "it does not last: for practice and books that stay closed",
}


@dataclass(frozen=True, slots=True)
class FadeRead:
    """One look: when, how it looks, and the colour difference where both halves were read."""

    at: datetime
    fading: Fading
    delta_e: float | None = None


@dataclass(frozen=True, slots=True)
class LightTest:
    """A light test since it was hung up; `verdict` once the maker gave one."""

    begun_at: datetime
    where: str = ""
    looks: tuple[FadeRead, ...] = ()
    verdict: LightVerdict | None = None

    def looked(self, look: FadeRead) -> LightTest:
        """The test after one more look, in the order of time."""
        return replace(self, looks=tuple(sorted((*self.looks, look), key=lambda one: one.at)))


def fading_of(delta_e: float) -> Fading:
    """How faded a colour difference is."""
    if delta_e < BARELY_DE:
        return Fading.NONE
    if delta_e < CLEARLY_DE:
        return Fading.BARELY
    return Fading.CLEARLY if delta_e < GONE_DE else Fading.GONE


def next_look(test: LightTest) -> datetime | None:
    """When it is to be looked at next; None once a verdict is given or the schedule is through."""
    if test.verdict is not None:
        return None
    last = test.looks[-1].at if test.looks else test.begun_at
    for days in SCHEDULE_DAYS:
        due = test.begun_at + timedelta(days=days)
        # A look up to a tenth of the wait before its day counts for that day.
        if last < due - timedelta(days=0.1 * days):
            return due
    return None


def suggested(test: LightTest) -> LightVerdict | None:
    """The verdict the looks so far call for; None while only time can say."""
    if not test.looks:
        return None
    last = test.looks[-1]
    if last.fading is Fading.GONE:
        return LightVerdict.FUGITIVE
    if next_look(test) is not None:
        early = (last.at - test.begun_at) <= timedelta(days=1.2 * SCHEDULE_DAYS[0])
        return LightVerdict.FUGITIVE if last.fading is Fading.CLEARLY and early else None
    return {Fading.NONE: LightVerdict.HOLDS, Fading.BARELY: LightVerdict.FADES, Fading.CLEARLY: LightVerdict.FUGITIVE}[
        last.fading
    ]
