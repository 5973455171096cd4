"""The thermometer: its live reading to every window that looks."""

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
from niddy.core.thermometer import ThermometerReading
from niddy.db import Database
from niddy.devices.thermometer import ThermometerPort
from niddy.studio import workshop

router = APIRouter(prefix="/api/thermometer", tags=["thermometer"], responses=REFUSALS)
_READING = TypeAdapter(ThermometerReading)


class ThermometerHub(Hub[str, ThermometerReading]):
    """The thermometer, by its port."""

    def __init__(self) -> None:
        super().__init__(ThermometerPort)


def port_if_any(db: Database) -> str | None:
    """Where the thermometer is plugged in, or None."""
    with db.session() as session:
        return workshop.settings(session).thermometer_port or None


@router.get("/live", response_class=EventSourceResponse)
async def live(request: Request, db: Db) -> EventSourceResponse:
    """Server-sent events: `temperature` with a ThermometerReading for every change of what it shows."""
    port = await run_in_threadpool(port_if_any, db)
    if port is None:
        raise Refused("thermometer_port", "no thermometer is set up", "its port, in Workshop")
    hub: ThermometerHub = request.app.state.thermometer

    async def events() -> AsyncIterator[ServerSentEvent]:
        async with hub.readings(port) as readings:
            while True:
                yield temperature_event(await readings.next())

    return EventSourceResponse(events(), ping=15)


def temperature_event(reading: ThermometerReading) -> ServerSentEvent:
    """A reading as it is sent to windows."""
    return ServerSentEvent(event="temperature", data=_READING.dump_json(reading).decode())
