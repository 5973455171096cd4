"""Tries as they are kept: the paste behind one, and its log as the slab reads it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import practice, slab
from niddy.core.practice import Begun, Exercise, Moment
from niddy.core.slab import Event, Status
from niddy.db.practice import PracticeTry
from niddy.studio import batches, log
from niddy.studio.batches import BatchKept, Logged
from niddy.studio.errors import Missing
from niddy.studio.slab import LOG_SHOWN

ROOM = "practice"
BEGUN: TypeAdapter[Begun] = TypeAdapter(Begun)
BEGUN_VERSION = 1


@dataclass(frozen=True, slots=True)
class Try:
    """A try at a paste: its row, what is behind it, its whole log, and itself as a batch of the slab."""

    row: PracticeTry
    begun: Begun
    log: tuple[Logged, ...]
    kept: BatchKept

    @property
    def events(self) -> list[Event]:
        """The acts of its log."""
        return [logged.event for logged in self.log]

    def last_moment(self) -> Moment | None:
        """The paste, counted and real, after the last act."""
        moment = None
        for moment in practice.walk(self.events, self.begun.hidden):  # noqa: B007
            pass
        return moment

    def clock(self, now: datetime) -> datetime:
        """The time at the practice slab, which can be moved on."""
        return now + timedelta(seconds=self.row.ahead_s)


def row_of(session: Session, number: int, *, locked: bool = False) -> PracticeTry:
    """The row of a try. Raises Missing."""
    wanted = select(PracticeTry).where(PracticeTry.number == number).execution_options(populate_existing=True)
    if locked:
        log.hold_of(session, ROOM, number)
    row = session.scalar(wanted)
    if row is None:
        raise Missing("practice", number)
    return row


def job_of(session: Session, number: int) -> int:
    """The job that a try is. Raises Missing."""
    return row_of(session, number).job_id


def a_try(session: Session, number: int, *, locked: bool = False) -> Try:
    """A try at a paste. Raises Missing, also where its exercise has no paste."""
    row = row_of(session, number, locked=locked)
    if row.exercise == Exercise.JUDGING:
        raise Missing("practice with a paste", number)
    return try_of(session, row)


def try_of(session: Session, row: PracticeTry) -> Try:
    """A try at a paste from its row."""
    begun = BEGUN.validate_python(row.plan)
    log = batches.log(session, row.job_id)
    plan, paste = begun.plan, slab.fold([logged.event for logged in log])
    # Nothing of it is a lot of the shelf: the slab reads it as a batch of the library.
    asked: dict[str, Any] = {
        "lines": [{"pigment_key": plan.lines[0].pigment.key, "parts": 1.0}],
        "oil": {"oil_key": plan.oil.key},
        "reduced_pvc": plan.facts.target_reduced_pvc,
        "pigment_g": plan.pigment_mass.value,
    }
    shown = log[-LOG_SHOWN:]
    kept = BatchKept(
        row.number,
        row.job_id,
        row.name,
        Status(row.status),
        paste.verdict,
        plan.masstone_srgb,
        plan,
        asked,
        row.started_at,
        row.ended_at,
        row.last_seq,
        replace(paste, struck=batches.struck_among(log)),
        shown,
        len(log) - len(shown),
    )
    return Try(row, begun, log, kept)
