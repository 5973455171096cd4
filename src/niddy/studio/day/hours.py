"""The hours of a day: when one begins and ends, breaks, slabs, and an order somebody chose."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.day import MOST_SLABS, Break, Hours, check_hours
from niddy.core.documents import Document
from niddy.core.words import Words
from niddy.db.day import Day

Minute = Annotated[int, Field(strict=True, ge=0, le=1_440)]


class BreakAsked(Document):
    """A rest, in minutes since midnight."""

    from_min: Minute
    to_min: Minute


class HoursAsked(Document):
    """From when to when one works, in minutes since midnight; breaks; at how many slabs."""

    start_min: Minute
    end_min: Minute
    breaks: Annotated[list[BreakAsked], Field(max_length=20)] = []
    slabs: Annotated[int, Field(strict=True, ge=1, le=MOST_SLABS)] = 1


class OrderAsked(Document):
    """The order of the day's slab jobs by their keys; None for the one with the least cleaning."""

    order: Annotated[list[Annotated[Words, Field(max_length=80)]], Field(max_length=400)] | None


def hours_of(session: Session, on_date: date) -> tuple[Hours, int, list[str] | None]:
    """The hours of a day, its slabs, and its chosen order; those of the day set last where none were set for it."""
    row = session.get(Day, on_date)
    if row is None:
        last = session.scalar(select(Day).where(Day.on_date < on_date).order_by(Day.on_date.desc()).limit(1))
        if last is None:
            return Hours(), 1, None
        return _hours(last), last.slabs, None
    return _hours(row), row.slabs, row.order


def _hours(row: Day) -> Hours:
    return Hours(row.start_min, row.end_min, tuple(Break(start, end) for start, end in row.breaks))


def _row(session: Session, on_date: date) -> Day:
    row = session.get(Day, on_date, with_for_update=True)
    if row is None:
        hours, slabs, _ = hours_of(session, on_date)
        row = Day(
            on_date=on_date,
            start_min=hours.start_min,
            end_min=hours.end_min,
            slabs=slabs,
            order=None,
            breaks=[[rest.from_min, rest.to_min] for rest in hours.breaks],
        )
        session.add(row)
        session.flush()
    return row


def set_hours(session: Session, on_date: date, asked: HoursAsked) -> None:
    """Set the hours of a day. Raises Refused where they make none."""
    breaks = sorted((rest.from_min, rest.to_min) for rest in asked.breaks)
    check_hours(Hours(asked.start_min, asked.end_min, tuple(Break(start, end) for start, end in breaks)))
    row = _row(session, on_date)
    row.start_min, row.end_min, row.slabs = asked.start_min, asked.end_min, asked.slabs
    row.breaks = [list(rest) for rest in breaks]
    session.flush()


def set_order(session: Session, on_date: date, asked: OrderAsked) -> None:
    """Choose the order of a day's slab jobs, or let it be the best one again."""
    _row(session, on_date).order = asked.order
    session.flush()
