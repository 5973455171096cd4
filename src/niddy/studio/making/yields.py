"""Runs of one process beside one another: what each came to, in what it differed, the one change for the next."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from niddy.core import making as core
from niddy.core.estimate import Estimate
from niddy.core.log import Status
from niddy.core.making import Change, Difference, LightVerdict, RunFacts, StepKind, Takes
from niddy.core.making.acts import WeighedIn
from niddy.studio.making.runs import RunKept, own_of, parts_g, yield_share


@dataclass(frozen=True, slots=True)
class RunRow:
    """A run as its process shows it. `yield_share` of theory, or of what went in; `differs` from the run before it."""

    number: int
    version: int
    status: Status
    started_at: datetime
    changed: str
    yield_g: float | None
    yield_share: float | None
    ph_inside: float | None
    washes: int
    hold_min: float
    takes: Takes | None
    light: LightVerdict | None
    differs: tuple[Difference, ...]
    suspects: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Yields:
    """All runs of a process, what the next may come to, and the one thing to change."""

    of: str
    runs: tuple[RunRow, ...]
    expected_share: Estimate | None
    change: Change | None


def facts_of(kept: RunKept) -> RunFacts:
    """What of a run is compared."""
    state = kept.run
    lots = {facts.name: facts.lot_code for _, facts in kept.acts_of(WeighedIn) if facts.lot_code}
    end = kept.ended_at or (kept.entries[-1].made_at if kept.entries else kept.started_at)
    held = sum(core.held_min(state, step.key, end) for step in kept.process.steps if step.kind is StepKind.HOLD)
    return RunFacts(
        kept.number,
        yield_share(kept, state.yield_g) if state.yield_g is not None else None,
        core.ph_inside(kept.process, state),
        len(state.washes),
        sum(state.washes),
        held,
        max((one.value for one in state.temperatures), default=None),
        sum(state.added.values()) or parts_g(kept),
        state.takes,
        lots,
        kept.changed,
    )


def yields_of(runs: tuple[RunKept, ...], process: core.Process, suspects: dict[str, str]) -> Yields:
    """Runs in their order; `suspects` are the codes of lots under suspicion, with the reasons."""
    counted = [one for one in runs if one.status is not Status.ABANDONED]
    facts = {one.number: facts_of(one) for one in counted}
    rows, before = [], None
    for kept in runs:
        mine = facts.get(kept.number)
        differs: tuple[Difference, ...] = ()
        if mine is not None and kept.status is Status.FINISHED:
            differs = core.differences(before, mine) if before is not None else ()
            before = mine
        light = kept.run.light
        rows.append(
            RunRow(
                kept.number,
                kept.version,
                kept.status,
                kept.started_at,
                kept.changed,
                kept.run.yield_g,
                mine.yield_ if mine else None,
                mine.ph_inside if mine else None,
                len(kept.run.washes),
                mine.hold_min if mine else 0.0,
                kept.run.takes,
                light.verdict if light is not None else None,
                differs,
                tuple(code for code in (mine.lots.values() if mine else ()) if code in suspects),
            )
        )
    done = [facts[one.number] for one in counted if one.status is Status.FINISHED]
    washes = sum(one.washes or 0 for one in process.steps if one.kind is StepKind.WASH) or None
    hold = sum(one.minutes or 0.0 for one in process.steps if one.kind is StepKind.HOLD) or None
    of = "theory" if process.products else "what went in"
    own = own_of(runs)
    return Yields(of, tuple(rows), own.of(bool(process.products)), core.propose(done, washes, hold))
