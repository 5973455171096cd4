"""The ladders as lists show them, and the halos that wait to be read."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from niddy.core.due import Due
from niddy.core.log import Status
from niddy.db.additives import Ladder
from niddy.studio import log
from niddy.studio.additives.ladders import design_of, rung_states

HALOS_WAIT_FOR = timedelta(days=21)
"""A ladder begun longer ago than this asks for nothing any more."""


@dataclass(frozen=True, slots=True)
class LadderLine:
    """A ladder as a list shows it."""

    id: int
    name: str
    made_at: datetime
    recipe_id: int | None
    parts: tuple[str, ...]
    says: str
    waits: str


def lines(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """The ladders, newest first."""
    return _lines(session, now, select(Ladder).where(Ladder.status == Status.OPEN))


def _lines(session: Session, now: datetime, wanted: Select[Ladder]) -> tuple[LadderLine, ...]:
    rows = session.scalars(wanted.order_by(Ladder.started_at.desc(), Ladder.number.desc()).limit(60)).all()
    entries = log.several(session, [row.job_id for row in rows])
    shown = []
    for row in rows:
        made = design_of(row)
        states = rung_states(entries[row.job_id], now, len(made.rungs))
        done = sum(state.bleed_mm is not None for state in states)
        due = sum(state.bleed_is_due for state in states)
        says = (row.state or {}).get("says") or ""
        waits = f"{due} halos to read" if due else "" if says else f"{done} of {len(states)} rungs read"
        shown.append(
            LadderLine(
                row.number,
                row.name,
                row.started_at,
                row.recipe_id,
                tuple(w.name for w in made.rungs[0].additives),
                says,
                waits,
            )
        )
    return tuple(shown)


def halos_due(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """Ladders with halos to read now."""
    recent = select(Ladder).where(Ladder.status == Status.OPEN, Ladder.started_at > now - HALOS_WAIT_FOR)
    return tuple(line for line in _lines(session, now, recent) if "halos" in line.waits)


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Halos that will be a day old, for the calendar: once for each ladder, when its first is."""
    recent = select(Ladder).where(Ladder.status == Status.OPEN, Ladder.started_at > now - HALOS_WAIT_FOR)
    rows = session.scalars(recent.order_by(Ladder.started_at)).all()
    entries = log.several(session, [row.job_id for row in rows])
    dates = []
    for row in rows:
        states = rung_states(entries[row.job_id], now, len(design_of(row).rungs))
        waiting = [state.bleed_due_at for state in states if state.bleed_due_at is not None and state.bleed_mm is None]
        if waiting:
            says = f"{len(waiting)} dabs of this ladder are a day old: read the width of each halo."
            dates.append(
                Due(
                    "additives",
                    str(row.number),
                    "Halos",
                    row.name,
                    says,
                    min(waiting),
                    f"/additives/ladders/{row.number}",
                )
            )
    return tuple(dates)
