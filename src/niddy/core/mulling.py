"""Mulling: a batch split into loads for its slab, each with its own spells at the muller."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from niddy.core import sizing, timers
from niddy.core.timers import Timer

REWORK_TAU = 0.5
"""To work oil into a paste already dispersed takes this many dispersion times (assumed)."""

QUIET_FROM_S = 60.0
"""Nobody hears a silent muller, or presses the grit away, in less than this (assumed)."""

MULLED_OUT = 0.9
"""A load that ended by its minutes is mulled out from this share of them on."""

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

    @property
    def quiet(self) -> bool:
        """Whether the gauge or a silent muller says that it is dispersed, whatever the clock says."""
        if self.ended_by is EndedBy.SILENCE:
            return self.seconds >= QUIET_FROM_S
        return self.ended_by is EndedBy.FINENESS

    def mulled_out(self, need_minutes: float) -> bool:
        """Whether it is mulled out, as far as anybody can say: three seconds of it are not."""
        if self.ended_by is None:
            return False
        return self.quiet or self.seconds / 60 >= MULLED_OUT * need_minutes


@dataclass(frozen=True, slots=True)
class Mulling:
    """The muller's side of a batch: the loads of this round, which is on the slab, and whether the muller runs.

    `count` is how many loads the round was split into; `seconds` counts every round, `dispersing_seconds`
    those that dispersed powder over `dispersing_loads`; `clock_back` counts spells that ended before they began.
    `earlier_s` is what each load was worked in the rounds before this one, `powder_at_s` what it had been when powder
    last went in, and `quiet` says that the gauge or a silent muller ended every load of a round since.
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
    earlier_s: float = 0.0
    powder_at_s: float = 0.0
    quiet: bool = False

    @property
    def timed(self) -> bool:
        """Whether anybody keeps time in this batch."""
        return self.rounds > 0

    @property
    def round_s(self) -> float:
        """What each load of the last round was worked, in the mean."""
        if not self.loads:
            return 0.0
        return sum(load.seconds for load in self.loads) / max(self.count, len(self.loads))

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
        mulling = replace(
            mulling,
            earlier_s=mulling.earlier_s + mulling.round_s,
            loads=(),
            at=0,
            count=1,
            stale=False,
            gathered=False,
            rounds=mulling.rounds + 1,
        )
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
    whole = len(loads) >= mulling.count
    return replace(mulling, loads=tuple(loads), quiet=mulling.quiet or (whole and all(load.quiet for load in loads)))


def gather(mulling: Mulling, at: datetime) -> Mulling:
    """All loads scraped together into one heap."""
    mulling = pause(mulling, at)
    return replace(mulling, gathered=True, due=_due_next(mulling))


def added(mulling: Mulling, at: datetime, powder: bool) -> Mulling:
    """What an addition means for the muller: it rests, then powder has to be dispersed, oil only worked in."""
    mulling = pause(mulling, at)
    if powder:
        return replace(
            mulling, stale=True, due=Due.DISPERSE, quiet=False, powder_at_s=mulling.earlier_s + mulling.round_s
        )
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


def worked_s(mulling: Mulling, now: datetime | None = None) -> float | None:
    """Seconds that what lies on the slab was worked in this batch, whatever round; None where nobody kept time."""
    if not mulling.timed:
        return None
    here = mulling.round_s if mulling.fresh else 60 * minutes_in_load(mulling, now)
    return mulling.earlier_s + here


def settled_minutes(mulling: Mulling, now: datetime | None = None) -> float | None:
    """Minutes that the last addition was worked in; None where nobody kept time, or all of it was gathered since."""
    if not mulling.timed or (mulling.gathered and not mulling.stale):
        return None
    return minutes_in_load(mulling, now)


@dataclass(frozen=True, slots=True)
class Muller:
    """What a load holds here in ml (None where no slab is known), and the minutes that disperse it.

    `minutes` are those a load needs, by its dispersion time `tau_min` and the finish wanted; both are longer on a worn
    face.
    """

    load_ml: float | None
    minutes: float
    tau_min: float


@dataclass(frozen=True, slots=True)
class LoadNow:
    """One load as the slab shows it: `state` is to_come, waiting, running or done.

    One that ended before it was mulled out waits.
    """

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
    due, need = _due_now(mulling, muller)
    loads = []
    for n in range(count):
        load = touched[n] if n < len(touched) else Load()
        running = mulling.running_since is not None and not mulling.fresh and n == mulling.at
        seconds = load.seconds
        if running and mulling.running_since is not None:
            seconds += max(0.0, (at - mulling.running_since).total_seconds())
        out = load.mulled_out(need)
        state = "running" if running else "done" if out else "waiting" if load.spells else "to_come"
        loads.append(
            LoadNow(
                n + 1,
                volume_ml / count,
                seconds / 60,
                state,
                load.spells,
                load.scrapes,
                load.fineness_um,
                load.ended_by,
            )
        )
    place = _place(mulling, loads)
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
        due=due,
        round=mulling.rounds + (1 if mulling.fresh else 0),
        all_done=not mulling.fresh and all(load.state == "done" for load in loads),
        gathered=mulling.gathered and not mulling.stale,
        begun=mulling.rounds > 0,
        clock_back=mulling.clock_back,
    )


def _due_now(mulling: Mulling, muller: Muller) -> tuple[Due, float]:
    """What this round has to do, and its minutes: what is left of dispersing the powder, or working oil in."""
    rework = REWORK_TAU * muller.tau_min
    before = mulling.earlier_s + (mulling.round_s if mulling.fresh else 0.0) - mulling.powder_at_s
    left = 0.0 if mulling.quiet else muller.minutes - before / 60
    if left <= max(rework, (1 - MULLED_OUT) * muller.minutes):
        return Due.REWORK, rework
    return Due.DISPERSE, left


def _place(mulling: Mulling, loads: list[LoadNow]) -> int:
    """The load on the slab, or the next that is not mulled out; the last where all are."""
    if not mulling.fresh and loads[min(mulling.at, len(loads) - 1)].state != "done":
        return min(mulling.at, len(loads) - 1)
    return next((n for n, load in enumerate(loads) if load.state != "done"), len(loads) - 1)


def dispersing_minutes_per_load(mulling: Mulling) -> float | None:
    """Minutes a load of this batch was mulled while it dispersed powder; None where nobody kept time."""
    if not mulling.dispersing_loads or mulling.dispersing_seconds <= 0:
        return None
    return mulling.dispersing_seconds / 60 / mulling.dispersing_loads
