"""One open port for all who look at what a device says: its newest reading to each, closed when the last has gone."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api import policy
from niddy.api.context import Db
from niddy.core.errors import Refused
from niddy.db import Database
from niddy.devices.line_port import LinePort, ReadingPort
from niddy.studio import workshop

R = TypeVar("R")
C = TypeVar("C")


class Readings(Generic[R]):
    """What one listener has not taken yet: only the newest, since an old reading is of no use.

    `merged` says what is kept of one that was never taken when the next comes.
    """

    def __init__(self, merged: Callable[[R, R], R] = lambda _, new: new) -> None:
        self._newest: R | None = None
        self._said: R | None = None
        self._come = asyncio.Event()
        self._merged = merged

    def put(self, reading: R) -> None:
        """A new reading."""
        if self._newest is not None:
            reading = self._merged(self._newest, reading)
        if reading != self._said:
            self._newest = reading
            self._come.set()

    async def next(self) -> R:
        """The newest reading, once it differs from the last one taken."""
        await self._come.wait()
        self._come.clear()
        assert self._newest is not None
        reading, self._newest = self._newest, None
        self._said = reading
        return reading


class Hub(Generic[C, R]):
    """The device reached by a connection of type C, that says readings of type R."""

    def __init__(
        self, made: Callable[[C, Callable[[R], None]], LinePort], merged: Callable[[R, R], R] = lambda _, new: new
    ) -> None:
        self._made, self._merged = made, merged
        self.port: Any = None
        self._of: C | None = None
        self._listeners: set[Readings[R]] = set()
        self._last: R | None = None

    @contextlib.asynccontextmanager
    async def readings(self, connection: C) -> AsyncIterator[Readings[R]]:
        """The device's readings while the block lasts."""
        readings = Readings[R](self._merged)
        if self.port is not None and self._of != connection:
            await self._close()
        self._listeners.add(readings)
        if self._last is not None:
            readings.put(self._last)
        if self.port is None:
            loop = asyncio.get_running_loop()
            self._of = connection
            self.port = self._made(connection, lambda reading: _soon(loop, self._tell, reading))
            self.port.open()
        try:
            yield readings
        finally:
            self._listeners.discard(readings)
            if not self._listeners:
                await self._close()

    @contextlib.asynccontextmanager
    async def readings_if_any(self, connection: C | None) -> AsyncIterator[Readings[R]]:
        """The device's readings, or none ever where none is set up."""
        if connection is None:
            yield Readings[R]()
            return
        async with self.readings(connection) as readings:
            yield readings

    async def _close(self) -> None:
        port, self.port, self._last, self._of = self.port, None, None, None
        if port is not None:
            await run_in_threadpool(port.close)

    def _tell(self, reading: R) -> None:
        self._last = reading
        for readings in self._listeners:
            readings.put(reading)


def _soon(loop: asyncio.AbstractEventLoop, tell: Callable[[R], None], reading: R) -> None:
    with contextlib.suppress(RuntimeError):  # the loop may have ended before the thread
        loop.call_soon_threadsafe(tell, reading)


@dataclass(frozen=True)
class Device(Generic[R]):
    """A device each of whose lines is one reading: what it is called, how its readings are sent, where it is set up.

    `state` is the name its hub has in the application, `setting` that of its port among the studio's settings.
    """

    name: str
    state: str
    setting: str
    event: str
    port: type[ReadingPort[R]]
    reading: type[R]

    def hub(self) -> Hub[str, R]:
        """One open port for all who look."""
        return Hub(self.port)

    def port_if_any(self, db: Database) -> str | None:
        """Where it is plugged in, or None."""
        with db.session() as session:
            return getattr(workshop.settings(session), self.setting) or None

    def sent(self, reading: R) -> ServerSentEvent:
        """A reading as it is sent to windows."""
        return ServerSentEvent(event=self.event, data=TypeAdapter(self.reading).dump_json(reading).decode())

    def add_live(self, router: APIRouter) -> None:
        """Give a router the address of its live readings."""

        @router.get("/live", response_class=EventSourceResponse)
        @policy.looks(lasts=True)
        async def live(request: Request, db: Db) -> EventSourceResponse:
            """Server-sent events: one with a reading for every change of what it shows."""
            port = await run_in_threadpool(self.port_if_any, db)
            if port is None:
                raise Refused(self.setting, f"no {self.name} is set up", "its port, in Workshop")
            hub: Hub[str, R] = getattr(request.app.state, self.state)

            async def events() -> AsyncIterator[ServerSentEvent]:
                async with hub.readings(port) as readings:
                    while True:
                        yield self.sent(await readings.next())

            return EventSourceResponse(events(), ping=15)
