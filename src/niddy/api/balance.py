"""The balance: its live weight to every window that looks, and the tare."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator
from dataclasses import dataclass, replace

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api import policy
from niddy.api.context import Db
from niddy.api.hub import Hub
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.balance import BalanceReading, BalanceState, tare_says
from niddy.core.errors import Refused
from niddy.db import Database
from niddy.devices.balance import BalancePort, Connection
from niddy.studio import workshop

router = Router(prefix="/api/balance", tags=["balance"], responses=REFUSALS)
TARE_PATIENCE_S = 4.0
_READING = TypeAdapter(BalanceReading)


def _with_jump(untold: BalanceReading, reading: BalanceReading) -> BalanceReading:
    """A jump is kept until it was told."""
    if untold.jumped_g is not None and reading.jumped_g is None:
        return replace(reading, jumped_g=untold.jumped_g, says=untold.says)
    return reading


class BalanceHub(Hub[Connection, BalanceReading]):
    """The balance."""

    def __init__(self) -> None:
        super().__init__(BalancePort, _with_jump)

    async def tare(self, connection: Connection) -> BalanceReading:
        """Send the tare and wait until the pan rests at zero, or patience ends."""
        async with self.readings(connection) as readings:
            reading = await readings.next()
            if reading.state is BalanceState.GONE or self.port is None or not await run_in_threadpool(self.port.tare):
                return reading
            if not tare_says(reading):
                return reading
            async with _patience(TARE_PATIENCE_S):
                while True:
                    reading = await readings.next()
                    if not tare_says(reading):
                        break
            return reading


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
    return Connection(kept.balance_port, kept.balance_baud, kept.balance_pattern, kept.balance_unit, kept.balance_tare)


@router.get("/live", response_class=EventSourceResponse)
@policy.looks(lasts=True)
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
@policy.works("Tared the balance")
async def tare(request: Request, db: Db) -> Tared:
    """Tare the balance and wait for it to rest at zero."""
    connection = await run_in_threadpool(connection_of, db)
    hub: BalanceHub = request.app.state.balance
    reading = await hub.tare(connection)
    says = tare_says(reading)
    return Tared(not says, says, reading)
