"""The calendar: all that is due, and the jobs of the days to come at their hours; and the secret of its address."""

from __future__ import annotations

import secrets
from datetime import UTC, date, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.due import Due, in_order
from niddy.db.day import DayJob
from niddy.studio import due, workshop
from niddy.studio.day.view import view

DAYS = 14
"""So many days ahead the jobs put on them are in the calendar."""


def entries(session: Session, now: datetime, utc_offset_min: int) -> tuple[Due, ...]:
    """What is due, and each job put on a day with how long it takes, the earliest first."""
    today = (now + timedelta(minutes=utc_offset_min)).date()
    days = session.scalars(
        select(DayJob.on_date).where(DayJob.on_date >= today, DayJob.on_date <= today + timedelta(days=DAYS)).distinct()
    )
    planned = [job for on_date in sorted(days) for job in _jobs(session, now, on_date, utc_offset_min)]
    return in_order((*due.everything(session, now), *planned))


def _jobs(session: Session, now: datetime, on_date: date, utc_offset_min: int) -> list[Due]:
    midnight = datetime.combine(on_date, datetime.min.time(), UTC) - timedelta(minutes=utc_offset_min)
    return [
        Due(
            "day",
            line.job_id,
            line.what.capitalize(),
            line.name,
            f"{line.minutes:.0f} min, {line.minutes_say}",
            midnight + timedelta(minutes=line.start_min),
            line.page,
            line.minutes,
        )
        for line in view(session, now, on_date, utc_offset_min).lines
        if line.job_id is not None and line.start_min is not None
    ]


def secret(session: Session, *, anew: bool = False) -> str:
    """The secret in the feed's address, made at the first asking; `anew` so that the old address is none any more."""
    known = workshop.calendar_secret(session)
    if known is not None and not anew:
        return known
    made = secrets.token_urlsafe(24)
    workshop.keep_calendar_secret(session, made)
    return made


def is_secret(session: Session, said: str) -> bool:
    """Whether that is the secret of the feed."""
    known = workshop.calendar_secret(session)
    return known is not None and secrets.compare_digest(known.encode(), said.encode())
