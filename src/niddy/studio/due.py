"""Everything that waits for a date, asked of every room that has such: one list and one calendar."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy import registry
from niddy.core.due import Due, in_order

AHEAD = timedelta(days=92)
"""So far ahead the calendar looks: a season."""


def everything(session: Session, now: datetime, ahead: timedelta = AHEAD) -> tuple[Due, ...]:
    """What waits now or will within a while, the earliest first."""
    until = now + ahead
    return in_order(wait for room in registry.due_rooms() for wait in room.waits(session, now) if wait.at <= until)
