"""The day: its view, jobs put on it, hours and order, cleaning noted; the calendar as a file and as a feed."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any
from uuid import UUID

from fastapi import Query, Request, Response
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.exchange import due_ics
from niddy.studio import day as studio
from niddy.studio.day import CleanedAsked, DayJobAsked, DayView, HoursAsked, MinutesAsked, Offer, OrderAsked
from niddy.studio.errors import Missing

router = Router(prefix="/api/day", tags=["day"], responses=REFUSALS)

Offset = Annotated[int, Query(ge=-900, le=900, description="how many minutes the maker's clock is ahead of UTC")]
CALENDAR: dict[int | str, dict[str, Any]] = {200: {"content": {"text/calendar": {}}}}


@router.get("", response_model=DayView)
def view(db: Db, now: Now, on: date | None = None, utc_offset_min: Offset = 0) -> Response:
    """A day as it is; today where none is named."""
    with db.session() as session:
        seen = studio.view(session, now, on, utc_offset_min)
    return answer(seen)


@router.get("/calendar.ics", response_class=Response, responses=CALENDAR)
def calendar(request: Request, db: Db, now: Now, utc_offset_min: Offset = 0) -> Response:
    """All that is due, and the jobs of the days to come, as a calendar file (RFC 5545)."""
    return _calendar(request, db, now, utc_offset_min, "attachment")


@router.get("/feed/{secret}.ics", response_class=Response, responses=CALENDAR)
@policy.anybody()
def feed(request: Request, db: Db, now: Now, secret: str, utc_offset_min: Offset = 0) -> Response:
    """The same as a feed that a phone subscribes to; its address is the secret."""
    with db.session() as session:
        if not studio.calendar.is_secret(session, secret):
            raise Missing("calendar", "of this address")
    return _calendar(request, db, now, utc_offset_min, "inline")


def _calendar(request: Request, db: Db, now: Now, utc_offset_min: int, how: str) -> Response:
    with db.session() as session:
        entries = studio.calendar.entries(session, now, utc_offset_min)
    text = due_ics.dump(entries, now, str(request.base_url).rstrip("/"))
    name = f'{how}; filename="niddy.ics"'
    return Response(text, media_type="text/calendar; charset=utf-8", headers={"content-disposition": name})


class Feed(BaseModel):
    """Where a phone subscribes to the calendar."""

    address: str


class FeedAsked(BaseModel):
    """Whether the address is to be a new one, and the old one none any more."""

    anew: bool = False


@router.post("/feed")
@policy.works("Asked for the address of the calendar")
def feed_address(request: Request, db: Db, asked: FeedAsked, utc_offset_min: Offset = 0) -> Feed:
    """The address of the feed, with its secret; made at the first asking."""
    with db.session() as session:
        secret = studio.calendar.secret(session, anew=asked.anew)
    base = request.app.state.settings.origin or str(request.base_url).rstrip("/")
    return Feed(address=f"{base}/api/day/feed/{secret}.ics?utc_offset_min={utc_offset_min}")


class CleanNoted(BaseModel):
    """The minutes a cleaning took, as noted; None where it was too long ago for the clock to tell."""

    minutes: float | None


@router.post("/cleaned")
@policy.works("Cleaned the slab")
def cleaned(db: Db, now: Now, asked: CleanedAsked, utc_offset_min: Offset = 0) -> CleanNoted:
    """Note that the slab is clean after a batch; sent again it is noted once."""
    with db.session() as session:
        return CleanNoted(minutes=studio.clean(session, now, utc_offset_min, asked))


@router.get("/{on}/offers")
def offers(db: Db, on: date) -> list[Offer]:
    """What could be put on a day besides what is on it."""
    with db.session() as session:
        return list(studio.offered(session, on))


@router.post("/{on}/jobs", response_model=DayView)
@policy.works("Put a job on a day")
def put(db: Db, now: Now, on: date, asked: DayJobAsked, utc_offset_min: Offset = 0) -> Response:
    """Put a job on a day; twice with one id is once."""
    with db.session() as session:
        studio.put(session, now, on, asked)
        seen = studio.view(session, now, on, utc_offset_min)
    return answer(seen)


@router.put("/{on}/jobs/{job_id}", response_model=DayView)
@policy.works("Changed how long a job takes")
def set_minutes(db: Db, now: Now, on: date, job_id: UUID, asked: MinutesAsked, utc_offset_min: Offset = 0) -> Response:
    """Say how long a job takes."""
    with db.session() as session:
        studio.set_minutes(session, job_id, asked)
        seen = studio.view(session, now, on, utc_offset_min)
    return answer(seen)


@router.delete("/{on}/jobs/{job_id}", response_model=DayView)
@policy.works("Took a job off its day")
def take_off(db: Db, now: Now, on: date, job_id: UUID, utc_offset_min: Offset = 0) -> Response:
    """Take a job off its day."""
    with db.session() as session:
        studio.take_off(session, job_id)
        seen = studio.view(session, now, on, utc_offset_min)
    return answer(seen)


@router.put("/{on}/hours", response_model=DayView)
@policy.works("Set the hours of a day")
def set_hours(db: Db, now: Now, on: date, asked: HoursAsked, utc_offset_min: Offset = 0) -> Response:
    """From when to when one works, the breaks, and at how many slabs."""
    with db.session() as session:
        studio.set_hours(session, on, asked)
        seen = studio.view(session, now, on, utc_offset_min)
    return answer(seen)


@router.put("/{on}/order", response_model=DayView)
@policy.works("Changed the order of a day")
def set_order(db: Db, now: Now, on: date, asked: OrderAsked, utc_offset_min: Offset = 0) -> Response:
    """Choose the order of the slab jobs, or let it be the best one again; the answer says what that cost."""
    with db.session() as session:
        seen = studio.move(session, now, on, utc_offset_min, asked)
    return answer(seen)
