"""What the log of every craft has on the web: its pictures, and word of its growth to every open window."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api.balance import BalanceHub, connection_if_any, weight_event
from niddy.api.context import Db, RowId
from niddy.api.follow import Followers
from niddy.api.ph_meter import PhMeterHub, meter_if_any, ph_event
from niddy.api.thermometer import ThermometerHub, port_if_any, temperature_event
from niddy.devices.balance import Connection
from niddy.studio import photos

PICTURE = {
    "requestBody": {
        "required": True,
        "content": {f"image/{kind}": {"schema": {"type": "string", "format": "binary"}} for kind in ("jpeg", "png")},
    }
}
"""How an address says that its body is a picture."""


def add_log(router: APIRouter, job_of: Callable[[Session, int], int], path: str = "/{number}") -> None:
    """Give a room's router the addresses of its jobs' pictures and of their growth; `job_of` finds a job by number."""

    @router.get(
        path + "/photos/{photo_id}.jpg", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
    )
    def photo(db: Db, number: RowId, photo_id: UUID) -> Response:
        """One picture. It never changes."""
        with db.session() as session:
            found = photos.jpeg(session, job_of(session, number), photo_id)
        kept = {"cache-control": "private, max-age=31536000, immutable"}
        return Response(found, media_type="image/jpeg", headers=kept)

    @router.get(path + "/follow", response_class=EventSourceResponse)
    async def follow(request: Request, db: Db, number: RowId) -> EventSourceResponse:
        """Server-sent events: `grew` whenever this log grew, from whichever app process.

        Where a balance, thermometer or pH meter is set up, `weight`, `temperature` and `ph` besides with each change
        of their readings: one stream a window, since a browser keeps only a few open to one host.
        """

        def found() -> int:
            with db.session() as session:
                return job_of(session, number)

        job_id = await run_in_threadpool(found)
        connection = await run_in_threadpool(connection_if_any, db)
        thermometer = await run_in_threadpool(port_if_any, db)
        meter = await run_in_threadpool(meter_if_any, db)
        return EventSourceResponse(_events(request, job_id, number, connection, thermometer, meter), ping=15)


async def _events(
    request: Request,
    job_id: int,
    number: int,
    connection: Connection | None,
    thermometer: str | None,
    meter: str | None,
) -> AsyncIterator[ServerSentEvent]:
    followers: Followers = request.app.state.followers
    balance: BalanceHub = request.app.state.balance
    warm: ThermometerHub = request.app.state.thermometer
    sour: PhMeterHub = request.app.state.ph_meter
    async with (
        followers.of(job_id) as grew,
        balance.readings_if_any(connection) as weights,
        warm.readings_if_any(thermometer) as degrees,
        sour.readings_if_any(meter) as acidity,
    ):
        yield ServerSentEvent(event="ready", data=str(number))
        growing = asyncio.create_task(grew.wait())
        weighing = asyncio.create_task(weights.next())
        warming = asyncio.create_task(degrees.next())
        souring = asyncio.create_task(acidity.next())
        try:
            while True:
                await asyncio.wait((growing, weighing, warming, souring), return_when=asyncio.FIRST_COMPLETED)
                if growing.done():
                    grew.clear()
                    growing = asyncio.create_task(grew.wait())
                    yield ServerSentEvent(event="grew", data=str(number))
                if weighing.done():
                    reading = weighing.result()
                    weighing = asyncio.create_task(weights.next())
                    yield weight_event(reading)
                if warming.done():
                    read = warming.result()
                    warming = asyncio.create_task(degrees.next())
                    yield temperature_event(read)
                if souring.done():
                    met = souring.result()
                    souring = asyncio.create_task(acidity.next())
                    yield ph_event(met)
        finally:
            growing.cancel()
            weighing.cancel()
            warming.cancel()
            souring.cancel()
