"""What stands in the room: open pots, trials that wait, and everything of it that waits for a date."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache

from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from niddy.core import sticks as core
from niddy.core.due import Due
from niddy.core.log import Status
from niddy.db.sticks import StickPot, StickSet
from niddy.studio import log
from niddy.studio.sticks.kept import PLANNED, state_of

TRIAL_AFTER = timedelta(days=1)
TOUCH_AFTER = timedelta(days=5)
THROUGH_AFTER = timedelta(days=30)
FORGOTTEN_AFTER = timedelta(days=120)
"""A pot that old asks for nothing any more."""

_WITHOUT_PLAN = (defer(StickPot.plan), defer(StickPot.state), defer(StickPot.asked))
"""Lists read a pot's plan only where they come to need it."""


@dataclass(frozen=True, slots=True)
class PotLine:
    """A pot as lists show it; `waits` says what it waits for, if anything."""

    number: int
    name: str
    masstone_srgb: str
    status: str
    started_at: datetime
    set_id: int | None
    set_name: str
    target_dmm: float
    dent_dmm: float | None
    verdict: str | None
    sticks: int
    waits: str


def pots(session: Session, now: datetime, limit: int = 60) -> tuple[PotLine, ...]:
    """The pots, those open first and then the newest."""
    wanted = select(StickPot, StickSet.name).outerjoin(StickSet, StickSet.id == StickPot.set_id).options(*_WITHOUT_PLAN)
    rows = session.execute(wanted.order_by(StickPot.status != Status.OPEN, StickPot.number.desc()).limit(limit)).all()
    waiting = {due.key: due.what for due in waits(session, now) if due.at <= now}
    return tuple(
        PotLine(
            row.number,
            row.name,
            row.masstone_srgb,
            row.status,
            row.started_at,
            row.set_id,
            name or "",
            row.target_dmm,
            row.dent_dmm,
            row.verdict,
            row.sticks,
            waiting.get(str(row.number), ""),
        )
        for row, name in rows
    )


@dataclass(frozen=True, slots=True)
class PotNamed:
    """A pot as lineage names it."""

    number: int
    job_id: int
    name: str
    status: str
    started_at: datetime
    masstone_srgb: str


def open_pots(session: Session) -> tuple[PotNamed, ...]:
    """The pots that are not done, the oldest first."""
    rows = session.scalars(select(StickPot).where(StickPot.status == Status.OPEN).order_by(StickPot.number).limit(60))
    return tuple(map(_named, rows))


def several(session: Session, numbers: list[int]) -> tuple[PotNamed, ...]:
    """Some pots by their numbers."""
    rows = session.scalars(select(StickPot).where(StickPot.number.in_(numbers)))
    return tuple(map(_named, rows))


def _named(row: StickPot) -> PotNamed:
    return PotNamed(row.number, row.job_id, row.name, row.status, row.started_at, row.masstone_srgb)


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Moulds to open, and the trials that come after: once for each pot, the next of them."""
    rows = session.scalars(
        select(StickPot)
        .where(StickPot.status != Status.ABANDONED, StickPot.started_at > now - FORGOTTEN_AFTER)
        .order_by(StickPot.number)
        .options(*_WITHOUT_PLAN)
    ).all()
    logs = log.as_text(session, [row.job_id for row in rows]) if rows else {}
    found = (_wait(row, _folded(logs[row.job_id])) for row in rows)
    return tuple(due for due in found if due is not None)


@dataclass(frozen=True, slots=True)
class PotAlone:
    """A pot on heat at which nothing was done for so many minutes, and what to do at once."""

    number: int
    name: str
    minutes: int
    says: str


def left_alone(session: Session, now: datetime) -> tuple[PotAlone, ...]:
    """Pots on heat that may have been left alone, the longest first."""
    rows = open_pots(session)
    logs = log.as_text(session, [row.job_id for row in rows]) if rows else {}
    found = []
    for row in rows:
        acts = log.from_text(logs[row.job_id])
        acted_at = max((entry.made_at for entry in acts), default=None)
        minutes = core.left_alone_min(_folded(logs[row.job_id]), acted_at, now)
        if minutes is not None:
            found.append(PotAlone(row.number, row.name, int(minutes), core.ON_ITS_OWN))
    return tuple(sorted(found, key=lambda one: -one.minutes))


@lru_cache(maxsize=256)
def _folded(text: str) -> core.Pot:
    """What a log as text comes to: home asks after the same pots again and again."""
    return state_of(text)


def _wait(row: StickPot, state: core.Pot) -> Due | None:
    page = f"/sticks/{row.number}"

    def due(what: str, says: str, at: datetime) -> Due:
        return Due("sticks", str(row.number), what, row.name, says, at, page)

    if state.status is Status.OPEN:
        if state.poured_at is None or state.out_at is not None:
            return None
        cooling = PLANNED.validate_python(row.plan).plan.cooling_min
        return due("out of the moulds", "cold through, then out", state.poured_at + timedelta(minutes=cooling))
    if state.status is not Status.FINISHED or state.out_at is None:
        return None
    if "dry" not in state.trials:
        return due("first trial", "draw a line, press it, wash it", state.out_at + TRIAL_AFTER)
    if "touch" not in state.dried:
        return due("finger test", "is the drawn film dry to the touch?", state.out_at + TOUCH_AFTER)
    if "through" not in state.dried:
        return due("hard through", "is the drawn film hard all through?", state.out_at + THROUGH_AFTER)
    return None
