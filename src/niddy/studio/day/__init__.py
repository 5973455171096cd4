"""The day: what is put on it and what falls due, in the order with the least cleaning, at the hours of a clock."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime

from sqlalchemy.orm import Session

from niddy.studio.day import calendar
from niddy.studio.day.arranging import DayLine
from niddy.studio.day.cleaned import CleanedAsked, note, pace
from niddy.studio.day.done import DoneLine
from niddy.studio.day.hours import BreakAsked, HoursAsked, OrderAsked, set_hours, set_order
from niddy.studio.day.jobs import DayJobAsked, JobKind, MinutesAsked, Offer, offers, put, rows_of, set_minutes, take_off
from niddy.studio.day.view import DayView, Later, following_job, view


def move(session: Session, now: datetime, on_date: date, utc_offset_min: int, asked: OrderAsked) -> DayView:
    """Choose the order of a day's slab jobs, or let it be the best one; the day after it says what that cost."""
    before = view(session, now, on_date, utc_offset_min).cleaning.value
    set_order(session, on_date, asked)
    after = view(session, now, on_date, utc_offset_min)
    return replace(after, moved_min=after.cleaning.value - before)


def offered(session: Session, on_date: date) -> tuple[Offer, ...]:
    """What could be put on a day besides what is on it."""
    return offers(session, {(row.kind, row.ref) for row in rows_of(session, on_date)})


def clean(session: Session, now: datetime, utc_offset_min: int, asked: CleanedAsked) -> float | None:
    """Note that the slab is clean after a batch; the minutes it took, None where nobody knows.

    Raises Refused, Conflict, Missing.
    """
    return note(session, now, asked, following_job(session, now, utc_offset_min))


__all__ = [
    "BreakAsked",
    "CleanedAsked",
    "DayJobAsked",
    "DayLine",
    "DayView",
    "DoneLine",
    "HoursAsked",
    "JobKind",
    "Later",
    "MinutesAsked",
    "Offer",
    "OrderAsked",
    "calendar",
    "clean",
    "move",
    "offered",
    "pace",
    "put",
    "set_hours",
    "set_minutes",
    "take_off",
    "view",
]
