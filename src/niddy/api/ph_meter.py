"""The pH meter: its live reading to every window that looks."""

from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api.context import Db
from niddy.api.hub import Hub
from niddy.api.problems import REFUSALS
from niddy.core.errors import Refused
from niddy.core.ph_meter import PhMeterReading
from niddy.db import Database
from niddy.devices.ph_meter import PhMeterPort
from niddy.studio import workshop

router = APIRouter(prefix="/api/ph-meter", tags=["ph_meter"], responses=REFUSALS)
_READING = TypeAdapter(PhMeterReading)


class PhMeterHub(Hub[str, PhMeterReading]):
    """The pH meter, by its port."""

    def __init__(self) -> None:
        super().__init__(PhMeterPort)


def meter_if_any(db: Database) -> str | None:
    """Where the pH meter is plugged in, or None."""
    with db.session() as session:
        return workshop.settings(session).ph_port or None


@router.get("/live", response_class=EventSourceResponse)
async def live(request: Request, db: Db) -> EventSourceResponse:
    """Server-sent events: `ph` with a PhMeterReading for every change of what it shows."""
    port = await run_in_threadpool(meter_if_any, db)
    if port is None:
        raise Refused("ph_port", "no pH meter is set up", "its port, in Workshop")
    hub: PhMeterHub = request.app.state.ph_meter

    async def events() -> AsyncIterator[ServerSentEvent]:
        async with hub.readings(port) as readings:
            while True:
                yield ph_event(await readings.next())

    return EventSourceResponse(events(), ping=15)


def ph_event(reading: PhMeterReading) -> ServerSentEvent:
    """A reading as it is sent to windows."""
    return ServerSentEvent(event="ph", data=_READING.dump_json(reading).decode())
