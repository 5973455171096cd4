"""The balance: its live weight to every window that looks, and the tare."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api.context import Db
from niddy.api.problems import REFUSALS
from niddy.core.balance import BalanceReading, BalanceState, tare_says
from niddy.core.errors import Refused
from niddy.db import Database
from niddy.devices.balance import BalancePort, Connection
from niddy.studio import workshop

router = APIRouter(prefix="/api/balance", tags=["balance"], responses=REFUSALS)
TARE_PATIENCE_S = 4.0
_READING = TypeAdapter(BalanceReading)


class Readings:
    """What one listener has not taken yet: only the newest, since an old weight is of no use."""

    def __init__(self) -> None:
        self._newest: BalanceReading | None = None
        self._said: BalanceReading | None = None
        self._come = asyncio.Event()

    def put(self, reading: BalanceReading) -> None:
        """A new reading; a jump is kept until it was told."""
        if self._newest is not None and self._newest.jumped_g is not None and reading.jumped_g is None:
            reading = replace(reading, jumped_g=self._newest.jumped_g, says=self._newest.says)
        if reading != self._said:
            self._newest = reading
            self._come.set()

    async def next(self) -> BalanceReading:
        """The newest reading, once it differs from the last one taken."""
        await self._come.wait()
        self._come.clear()
        assert self._newest is not None
        reading, self._newest = self._newest, None
        self._said = reading
        return reading


class BalanceHub:
    """One open port for all who look at the weight; closed when the last of them has gone."""

    def __init__(self) -> None:
        self._port: BalancePort | None = None
        self._listeners: set[Readings] = set()
        self._last: BalanceReading | None = None

    @contextlib.asynccontextmanager
    async def readings(self, connection: Connection) -> AsyncIterator[Readings]:
        """The balance's readings while the block lasts."""
        readings = Readings()
        if self._port is not None and self._port.connection != connection:
            await self._close()
        self._listeners.add(readings)
        if self._last is not None:
            readings.put(self._last)
        if self._port is None:
            loop = asyncio.get_running_loop()
            self._port = BalancePort(connection, lambda reading: _soon(loop, self._tell, reading))
            self._port.open()
        try:
            yield readings
        finally:
            self._listeners.discard(readings)
            if not self._listeners:
                await self._close()

    @contextlib.asynccontextmanager
    async def readings_if_any(self, connection: Connection | None) -> AsyncIterator[Readings]:
        """The balance's readings, or none ever where no balance is set up."""
        if connection is None:
            yield Readings()
            return
        async with self.readings(connection) as readings:
            yield readings

    async def _close(self) -> None:
        port, self._port, self._last = self._port, None, None
        if port is not None:
            await run_in_threadpool(port.close)

    def _tell(self, reading: BalanceReading) -> None:
        self._last = reading
        for readings in self._listeners:
            readings.put(reading)

    async def tare(self, connection: Connection) -> BalanceReading:
        """Send the tare and wait until the pan rests at zero, or patience ends."""
        async with self.readings(connection) as readings:
            reading = await readings.next()
            if reading.state is BalanceState.GONE or self._port is None or not await run_in_threadpool(self._port.tare):
                return reading
            if not tare_says(reading):
                return reading
            async with _patience(TARE_PATIENCE_S):
                while True:
                    reading = await readings.next()
                    if not tare_says(reading):
                        break
            return reading


def _soon(loop: asyncio.AbstractEventLoop, tell: object, reading: BalanceReading) -> None:
    with contextlib.suppress(RuntimeError):  # the loop may have ended before the thread
        loop.call_soon_threadsafe(tell, reading)  # type: ignore[arg-type]


@contextlib.asynccontextmanager
async def _patience(seconds: float) -> AsyncIterator[None]:
    try:
        async with asyncio.timeout(seconds):
            yield
    except TimeoutError:
        pass


def connection_of(db: Database) -> Connection:
    """The balance as the settings have it. Raises Refused where none is set up."""
    connection = connection_if_any(db)
    if connection is None:
        raise Refused("balance_port", "no balance is set up", "its port, in Workshop")
    return connection


def connection_if_any(db: Database) -> Connection | None:
    """The balance as the settings have it, or None."""
    with db.session() as session:
        kept = workshop.settings(session)
    if not kept.balance_port:
        return None
    return Connection(
        kept.balance_port, kept.balance_baud, kept.balance_pattern, kept.balance_unit, kept.balance_tare
    )  # fmt: skip


@router.get("/live", response_class=EventSourceResponse)
async def live(request: Request, db: Db) -> EventSourceResponse:
    """Server-sent events: `weight` with a BalanceReading for every change of what the balance shows."""
    connection = await run_in_threadpool(connection_of, db)
    hub: BalanceHub = request.app.state.balance

    async def events() -> AsyncIterator[ServerSentEvent]:
        async with hub.readings(connection) as readings:
            while True:
                yield weight_event(await readings.next())

    return EventSourceResponse(events(), ping=15)


def weight_event(reading: BalanceReading) -> ServerSentEvent:
    """A reading as it is sent to windows."""
    return ServerSentEvent(event="weight", data=_READING.dump_json(reading).decode())


@dataclass(frozen=True, slots=True)
class Tared:
    """Whether the tare took; if not, why, and what the balance shows."""

    tared: bool
    says: str
    reading: BalanceReading


@router.post("/tare")
async def tare(request: Request, db: Db) -> Tared:
    """Tare the balance and wait for it to rest at zero."""
    connection = await run_in_threadpool(connection_of, db)
    hub: BalanceHub = request.app.state.balance
    reading = await hub.tare(connection)
    says = tare_says(reading)
    return Tared(not says, says, reading)
