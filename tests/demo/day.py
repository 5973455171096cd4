"""The demo's day: two kept plans, the recipe again and a fill put on it; a few cleanings noted."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from niddy.studio import day
from niddy.studio.day import CleanedAsked, DayJobAsked, JobKind
from tests.demo.session import demo_id

CLEANED = ((27, 16.0), (28, 9.0), (29, 31.0), (31, 14.0))
"""Batches and the minutes it took to clean after them."""


def a_full_day(session: Session, now: datetime, plans: tuple[int, ...], recipe_id: int) -> None:
    """Put jobs on today, and note how long cleaning took lately."""
    for n, (number, minutes) in enumerate(CLEANED):
        noted = CleanedAsked(id=demo_id("cleaned", n), batch_number=number, minutes=minutes)
        day.clean(session, now, 0, noted)
    jobs = [*((JobKind.PLAN, plan_id) for plan_id in plans), (JobKind.RECIPE, recipe_id), (JobKind.FILL, 30)]
    for n, (kind, ref) in enumerate(jobs):
        day.put(session, now, now.date(), DayJobAsked(id=demo_id("day", n), kind=kind, ref=ref))
