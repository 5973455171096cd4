"""What the log of every craft has on the web: its pictures, and word of its growth to every open window."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Callable
from typing import Any
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api import policy
from niddy.api.balance import BalanceHub, connection_if_any, weight_event
from niddy.api.context import Db, RowId
from niddy.api.follow import Followers
from niddy.api.hub import Device, Hub, Readings
from niddy.api.ph_meter import PH_METER
from niddy.api.thermometer import THERMOMETER
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
    @policy.looks(lasts=True)
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
        ports = [await run_in_threadpool(device.port_if_any, db) for device in DEVICES]
        return EventSourceResponse(_events(request, job_id, number, connection, ports), ping=15)


DEVICES: tuple[Device[Any], ...] = (THERMOMETER, PH_METER)
"""What may be read beside the balance."""


async def _events(
    request: Request, job_id: int, number: int, connection: Connection | None, ports: list[str | None]
) -> AsyncIterator[ServerSentEvent]:
    followers: Followers = request.app.state.followers
    balance: BalanceHub = request.app.state.balance
    async with contextlib.AsyncExitStack() as opened:
        grew = await opened.enter_async_context(followers.of(job_id))
        weights = await opened.enter_async_context(balance.readings_if_any(connection))
        said: list[tuple[Readings[Any], Callable[[Any], ServerSentEvent]]] = [(weights, weight_event)]
        for device, port in zip(DEVICES, ports, strict=True):
            hub: Hub[str, Any] = getattr(request.app.state, device.state)
            said.append((await opened.enter_async_context(hub.readings_if_any(port)), device.sent))
        yield ServerSentEvent(event="ready", data=str(number))
        growing = asyncio.create_task(grew.wait())
        coming = [asyncio.create_task(readings.next()) for readings, _ in said]
        try:
            while True:
                await asyncio.wait((growing, *coming), return_when=asyncio.FIRST_COMPLETED)
                if growing.done():
                    grew.clear()
                    growing = asyncio.create_task(grew.wait())
                    yield ServerSentEvent(event="grew", data=str(number))
                for n, (readings, sent) in enumerate(said):
                    if coming[n].done():
                        reading = coming[n].result()
                        coming[n] = asyncio.create_task(readings.next())
                        yield sent(reading)
        finally:
            for task in (growing, *coming):
                task.cancel()
