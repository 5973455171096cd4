"""Times as clients send them: an act cannot have been made in another age."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import TypeVar

from pydantic import BaseModel

from niddy.core.errors import Refused

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
OFF = timedelta(minutes=5)
"""So far a device's clock may be off the server's; one that is further off is put right by it."""


T = TypeVar("T", bound=BaseModel)


def by_our_clock(act: T, now: datetime, clock: datetime | None) -> T:
    """An act with its time by the server's clock, where the device whose `clock` shows something else made it.

    What the device's own clock said is kept beside.
    """
    if clock is None or abs(now - clock) <= OFF:
        return act
    said: datetime = getattr(act, "made_at")  # noqa: B009
    return act.model_copy(update={"made_at": said + (now - clock), CLOCK_SAID: said})


CLOCK_SAID = "clock_made_at"
"""Where an act keeps what its device's clock said, if that was put right."""


def act_time(field: str, at: datetime, now: datetime, since: datetime = EARLIEST) -> datetime:
    """The time of an act, where it lies between `since` and now. Raises Refused."""
    if not since <= at <= now + OFF:
        raise Refused(
            field,
            f"{at:%Y-%m-%d %H:%M} is not now",
            f"the time of the act, from {since:%Y-%m-%d} to now, {now:%Y-%m-%d %H:%M} UTC",
        )
    return at
