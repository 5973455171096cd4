"""Times as clients send them: an act cannot have been made in another age."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from niddy.core.errors import Refused

EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
AHEAD = timedelta(days=2)
"""So far a client's clock may run ahead of the server's: time zones wrongly set, no more."""


def act_time(field: str, at: datetime, now: datetime, since: datetime = EARLIEST) -> datetime:
    """The time of an act, where it lies between `since` and now. Raises Refused."""
    if not since <= at <= now + AHEAD:
        raise Refused(field, f"{at:%Y-%m-%d} is not now", f"the time of the act, from {since:%Y-%m-%d} to now")
    return at
