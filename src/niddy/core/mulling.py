"""Mulling: a batch split into loads for its slab, each with its own spells at the muller."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from niddy.core import sizing, timers
from niddy.core.timers import Timer

REWORK_TAU = 0.5
"""To work oil into a paste already dispersed takes this many dispersion times (assumed)."""

LONG_SPELL_TIMES = 3.0
"""A spell longer than this many times the minutes a load needs was probably left running (assumed)."""


class EndedBy(StrEnum):
    """What ended a load: its minutes, the fineness gauge, or a muller that no longer sounds gritty."""

    MINUTES = "minutes"
    FINENESS = "fineness"
    SILENCE = "silence"


class Due(StrEnum):
    """What the round at the muller has to do: disperse powder, or work oil into what is dispersed."""

    DISPERSE = "disperse"
    REWORK = "rework"


@dataclass(frozen=True, slots=True)
class Load:
    """One load of a round: seconds mulled in closed spells, spells begun, scrapes, last fineness in um."""

    seconds: float = 0.0
    spells: int = 0
    scrapes: int = 0
    unscraped_seconds: float = 0.0
    fineness_um: float | None = None
    ended_by: EndedBy | None = None


@dataclass(frozen=True, slots=True)
class Mulling:
    """The muller's side of a batch: the loads of this round, which is on the slab, and whether the muller runs.

    `count` is how many loads the round was split into; `seconds` counts every round, `dispersing_seconds`
    those that dispersed powder over `dispersing_loads`; `clock_back` counts spells that ended before they began.
    """

    loads: tuple[Load, ...] = ()
    at: int = 0
    count: int = 1
    running_since: datetime | None = None
    due: Due = Due.DISPERSE
    stale: bool = True
    gathered: bool = False
    rounds: int = 0
    seconds: float = 0.0
    dispersing_seconds: float = 0.0
    dispersing_loads: int = 0
    clock_back: int = 0

    @property
    def load(self) -> Load | None:
        """The load on the slab, or None before one was begun."""
        return self.loads[self.at] if self.at < len(self.loads) else None

    @property
    def fresh(self) -> bool:
        """Whether the next spell begins a new round: nothing was mulled since the last addition or gathering."""
        return self.stale or self.gathered or not self.loads


def start(mulling: Mulling, at: datetime, load: int | None, of_loads: int = 1) -> Mulling:
    """The muller starts, on the given load (from 1) or the next that is not done, of so many."""
    if mulling.fresh:
        mulling = replace(mulling, loads=(), at=0, count=1, stale=False, gathered=False, rounds=mulling.rounds + 1)
    place = load - 1 if load is not None else next_load(mulling)
    loads = list(mulling.loads)
    while len(loads) <= place:
        loads.append(Load())
    mine = loads[place]
    loads[place] = replace(mine, spells=mine.spells + 1, ended_by=None)
    begun = 1 if mulling.due is Due.DISPERSE and mine.spells == 0 else 0
    return replace(
        mulling,
        loads=tuple(loads),
        at=place,
        count=max(of_loads, len(loads)),
        running_since=at,
        dispersing_loads=mulling.dispersing_loads + begun,
    )


def pause(mulling: Mulling, at: datetime, minutes: float | None = None) -> Mulling:
    """The muller stops. `minutes` is how long it really ran, where the maker knows better than the clock."""
    if mulling.running_since is None:
        return mulling
    spell = timers.ended(mulling.running_since, at, minutes)
    seconds = spell.seconds
    loads = list(mulling.loads)
    mine = loads[mulling.at]
    loads[mulling.at] = replace(
        mine, seconds=mine.seconds + seconds, unscraped_seconds=mine.unscraped_seconds + seconds
    )
    return replace(
        mulling,
        loads=tuple(loads),
        running_since=None,
        seconds=mulling.seconds + seconds,
        dispersing_seconds=mulling.dispersing_seconds + (seconds if mulling.due is Due.DISPERSE else 0.0),
        clock_back=mulling.clock_back + spell.backwards,
    )


def scrape(mulling: Mulling, at: datetime) -> Mulling:
    """Slab and muller scraped together; a running muller goes straight on."""
    if mulling.load is None:
        return mulling
    running = mulling.running_since is not None
    mulling = pause(mulling, at)
    loads = list(mulling.loads)
    mine = loads[mulling.at]
    loads[mulling.at] = replace(mine, scrapes=mine.scrapes + 1, unscraped_seconds=0.0)
    return replace(mulling, loads=tuple(loads), running_since=at if running else None)


def fineness(mulling: Mulling, at: datetime, fineness_um: float, target_um: float | None) -> Mulling:
    """A reading of the fineness gauge; it ends the load where it reaches the target."""
    if mulling.load is None:
        return mulling
    loads = list(mulling.loads)
    loads[mulling.at] = replace(loads[mulling.at], fineness_um=fineness_um)
    mulling = replace(mulling, loads=tuple(loads))
    if target_um is not None and fineness_um <= target_um:
        return done(mulling, at, EndedBy.FINENESS)
    return mulling


def done(mulling: Mulling, at: datetime, by: EndedBy) -> Mulling:
    """The load on the slab is mulled out; the next that is not comes on."""
    if mulling.load is None:
        return mulling
    mulling = pause(mulling, at)
    loads = list(mulling.loads)
    loads[mulling.at] = replace(loads[mulling.at], ended_by=by)
    return replace(mulling, loads=tuple(loads))


def gather(mulling: Mulling, at: datetime) -> Mulling:
    """All loads scraped together into one heap."""
    mulling = pause(mulling, at)
    return replace(mulling, gathered=True, due=_due_next(mulling))


def added(mulling: Mulling, at: datetime, powder: bool) -> Mulling:
    """What an addition means for the muller: it rests, then powder has to be dispersed, oil only worked in."""
    mulling = pause(mulling, at)
    if powder:
        return replace(mulling, stale=True, due=Due.DISPERSE)
    if mulling.stale or mulling.gathered:
        return replace(mulling, stale=True)
    return replace(mulling, stale=True, due=_due_next(mulling))


def _due_next(mulling: Mulling) -> Due:
    """Powder is dispersed once every load of a round was mulled out."""
    out = len(mulling.loads) >= mulling.count and all(load.ended_by is not None for load in mulling.loads)
    return Due.REWORK if out or mulling.due is Due.REWORK else Due.DISPERSE


def next_load(mulling: Mulling) -> int:
    """The place of the load to mull now: the one on the slab until it is done, then the first that is not."""
    mine = mulling.load
    if mine is not None and mine.ended_by is None:
        return mulling.at
    for place, load in enumerate(mulling.loads):
        if load.ended_by is None:
            return place
    return len(mulling.loads)


def minutes_in_load(mulling: Mulling, now: datetime | None = None) -> float:
    """Minutes the load on the slab has been mulled in this round, with the spell that is running."""
    if mulling.fresh or mulling.load is None:
        return 0.0
    return timers.spent_s(Timer(mulling.load.seconds, mulling.running_since), now) / 60


@dataclass(frozen=True, slots=True)
class Muller:
    """What a load holds here in ml (None where no slab is known), and the minutes that disperse it.

    `minutes` is twice the dispersion time `tau_min`, both lengthened on a worn face.
    """

    load_ml: float | None
    minutes: float
    tau_min: float


@dataclass(frozen=True, slots=True)
class LoadNow:
    """One load as the slab shows it: `state` is to_come, waiting, running or done."""

    place: int
    volume_ml: float
    minutes: float
    state: str
    spells: int
    scrapes: int
    fineness_um: float | None
    ended_by: EndedBy | None


@dataclass(frozen=True, slots=True)
class MullingNow:
    """The round at the muller now. `load` counts from 1 and is the one on the slab or to come next.

    `seconds` and `unscraped_seconds` leave out the spell running since `running_since`.
    """

    loads: tuple[LoadNow, ...]
    load: int
    seconds: float
    unscraped_seconds: float
    need_minutes: float
    disperse_minutes: float
    minutes: float
    running_since: datetime | None
    long_spell: bool
    due: Due
    round: int
    all_done: bool
    gathered: bool
    begun: bool
    clock_back: int

    @property
    def left_minutes(self) -> float:
        """Minutes until the load on the slab may be judged."""
        return max(0.0, self.need_minutes - self.minutes)

    @property
    def done(self) -> int:
        """Loads of this round that are mulled out."""
        return sum(load.state == "done" for load in self.loads)


def now(mulling: Mulling, muller: Muller, volume_ml: float, at: datetime) -> MullingNow:
    """The loads of this volume on this slab, and how far each is, at a moment."""
    touched = () if mulling.fresh else mulling.loads
    count = sizing.loads(volume_ml, muller.load_ml) if muller.load_ml and volume_ml > 0 else 1
    count = max(count, len(touched))
    need = muller.minutes if mulling.due is Due.DISPERSE else REWORK_TAU * muller.tau_min
    place = 0 if mulling.fresh else min(next_load(mulling), count - 1)
    loads = []
    for n in range(count):
        load = touched[n] if n < len(touched) else Load()
        running = mulling.running_since is not None and not mulling.fresh and n == mulling.at
        seconds = load.seconds
        if running and mulling.running_since is not None:
            seconds += max(0.0, (at - mulling.running_since).total_seconds())
        state = "running" if running else "done" if load.ended_by else "waiting" if load.spells else "to_come"
        loads.append(
            LoadNow(n + 1, volume_ml / count, seconds / 60, state, load.spells, load.scrapes, load.fineness_um,
                    load.ended_by)
        )  # fmt: skip
    mine = touched[place] if place < len(touched) else Load()
    spell = (at - mulling.running_since).total_seconds() / 60 if mulling.running_since is not None else 0.0
    return MullingNow(
        loads=tuple(loads),
        load=place + 1,
        seconds=mine.seconds,
        unscraped_seconds=mine.unscraped_seconds,
        need_minutes=need,
        disperse_minutes=muller.minutes,
        minutes=loads[place].minutes,
        running_since=mulling.running_since,
        long_spell=spell > LONG_SPELL_TIMES * muller.minutes,
        due=mulling.due,
        round=mulling.rounds + (1 if mulling.fresh else 0),
        all_done=not mulling.fresh and all(load.state == "done" for load in loads),
        gathered=mulling.gathered and not mulling.stale,
        begun=mulling.rounds > 0,
        clock_back=mulling.clock_back,
    )


def dispersing_minutes_per_load(mulling: Mulling) -> float | None:
    """Minutes a load of this batch was mulled while it dispersed powder; None where nobody kept time."""
    if not mulling.dispersing_loads or mulling.dispersing_seconds <= 0:
        return None
    return mulling.dispersing_seconds / 60 / mulling.dispersing_loads
