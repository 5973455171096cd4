"""The slab: the view, the acts, and word of them to every open window."""

from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request, Response
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.follow import Followers
from niddy.api.problems import REFUSALS
from niddy.studio import slab as studio
from niddy.studio.slab import Act, SlabView

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


@router.get("/{number}/follow", response_class=EventSourceResponse)
async def follow(request: Request, number: RowId) -> EventSourceResponse:
    """Server-sent events: one `grew` whenever the log of this batch grew, from whichever app process."""
    followers: Followers = request.app.state.followers

    async def events() -> AsyncIterator[ServerSentEvent]:
        async with followers.of(number) as grew:
            yield ServerSentEvent(event="ready", data=str(number))
            while True:
                await grew.wait()
                grew.clear()
                yield ServerSentEvent(event="grew", data=str(number))

    return EventSourceResponse(events(), ping=15)
