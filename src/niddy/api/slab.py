"""The slab: the view, the acts, and word of them to every open window."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api.answers import answer
from niddy.api.balance import BalanceHub, connection_if_any, weight_event
from niddy.api.context import Db, Now, RowId
from niddy.api.follow import Followers
from niddy.api.problems import REFUSALS
from niddy.studio import photos
from niddy.studio import slab as studio
from niddy.studio.slab import Act, PhotoAsked, SlabView
from niddy.studio.words import Words

router = APIRouter(prefix="/api/slab", tags=["slab"], responses=REFUSALS)


@router.get("/{number}", response_model=SlabView)
def view(db: Db, now: Now, number: RowId) -> Response:
    """The slab of a batch as it is."""
    with db.session() as session:
        seen = studio.view(session, now, number)
    return answer(seen)


@router.post("/{number}/acts", response_model=SlabView)
def record(db: Db, now: Now, number: RowId, act: Act) -> Response:
    """Log one act; the answer is the slab after it. The same act sent again changes nothing."""
    with db.session() as session:
        seen = studio.record(session, now, number, act)
    return answer(seen)


class LateDecision(BaseModel):
    """What becomes of an act that came late: taken into the record, or left out with a few words why."""

    model_config = ConfigDict(extra="forbid")
    take_in: Annotated[bool, Field(strict=True)]
    words: Annotated[Words, Field(max_length=300)] = ""


@router.post("/{number}/late/{act_id}", response_model=SlabView)
def decide_late(db: Db, now: Now, number: RowId, act_id: UUID, asked: LateDecision) -> Response:
    """Decide on an act that came when its batch was over already."""
    with db.session() as session:
        seen = studio.decide_late(session, now, number, act_id, take_in=asked.take_in, words=asked.words)
    return answer(seen)


_PICTURE = {
    "requestBody": {
        "required": True,
        "content": {f"image/{kind}": {"schema": {"type": "string", "format": "binary"}} for kind in ("jpeg", "png")},
    }
}


@router.post("/{number}/photos/{photo_id}", response_model=SlabView, openapi_extra=_PICTURE)
async def take_photo(
    request: Request,
    db: Db,
    now: Now,
    number: RowId,
    photo_id: UUID,
    made_at: AwareDatetime,
    text: Annotated[Words, Query(max_length=200, description="a few words to it")] = "",
) -> Response:
    """Keep a picture of the paste (the body: a JPEG, PNG or WebP file) and log it. Sent again, it changes nothing."""
    picture = await request.body()

    def kept() -> SlabView:
        with db.session() as session:
            return studio.take_photo(session, now, number, PhotoAsked(photo_id, made_at, text), picture)

    return answer(await run_in_threadpool(kept))


@router.get(
    "/{number}/photos/{photo_id}.jpg", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
)
def photo(db: Db, number: RowId, photo_id: UUID) -> Response:
    """One picture of a batch. It never changes."""
    with db.session() as session:
        found = photos.jpeg(session, number, photo_id)
    return Response(found, media_type="image/jpeg", headers={"cache-control": "private, max-age=31536000, immutable"})


@router.get("/{number}/follow", response_class=EventSourceResponse)
async def follow(request: Request, db: Db, number: RowId) -> EventSourceResponse:
    """Server-sent events: `grew` whenever the log of this batch grew, from whichever app process.

    Where a balance is set up, `weight` besides with each change of its reading: one stream a window, since a
    browser keeps only a few open to one host.
    """
    followers: Followers = request.app.state.followers
    hub: BalanceHub = request.app.state.balance
    connection = await run_in_threadpool(connection_if_any, db)

    async def events() -> AsyncIterator[ServerSentEvent]:
        async with followers.of(number) as grew, hub.readings_if_any(connection) as weights:
            yield ServerSentEvent(event="ready", data=str(number))
            growing = asyncio.create_task(grew.wait())
            weighing = asyncio.create_task(weights.next())
            try:
                while True:
                    await asyncio.wait((growing, weighing), return_when=asyncio.FIRST_COMPLETED)
                    if growing.done():
                        grew.clear()
                        growing = asyncio.create_task(grew.wait())
                        yield ServerSentEvent(event="grew", data=str(number))
                    if weighing.done():
                        reading = weighing.result()
                        weighing = asyncio.create_task(weights.next())
                        yield weight_event(reading)
            finally:
                growing.cancel()
                weighing.cancel()

    return EventSourceResponse(events(), ping=15)
