"""Followers of batches: one LISTEN connection an app process, many open windows."""

from __future__ import annotations

import asyncio
import contextlib
import logging
from collections import defaultdict
from collections.abc import AsyncIterator

import psycopg

from niddy.db.engine import BATCH_CHANNEL, CONNECT_TIMEOUT_S

log = logging.getLogger("niddy")
RETRY_SECONDS = 0.5


class Followers:
    """Wakes everyone who follows a batch when its log grew, whichever process wrote it."""

    def __init__(self, url: str) -> None:
        self._url = url.replace("postgresql+psycopg://", "postgresql://")
        self._waiting: dict[int, set[asyncio.Event]] = defaultdict(set)
        self._task: asyncio.Task[None] | None = None

    def start(self) -> None:
        """Begin to listen; needs a running event loop."""
        self._task = asyncio.create_task(self._listen())

    async def stop(self) -> None:
        """Stop listening."""
        if self._task:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    @contextlib.asynccontextmanager
    async def of(self, number: int) -> AsyncIterator[asyncio.Event]:
        """An event that is set whenever batch `number` grew, for as long as the block lasts."""
        grew = asyncio.Event()
        self._waiting[number].add(grew)
        try:
            yield grew
        finally:
            self._waiting[number].discard(grew)
            if not self._waiting[number]:
                del self._waiting[number]

    def _wake(self, number: int) -> None:
        for grew in self._waiting.get(number, ()):
            grew.set()

    async def _listen(self) -> None:
        """Listen for ever: whatever goes wrong is said once, and tried again until it goes well."""
        said = ""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(
                    self._url, autocommit=True, connect_timeout=CONNECT_TIMEOUT_S
                ) as connection:
                    await connection.execute(f"listen {BATCH_CHANNEL}")
                    said = ""
                    # What was missed while not listening is unknown: everyone looks again.
                    for number in list(self._waiting):
                        self._wake(number)
                    async for notice in connection.notifies():
                        if notice.payload.isdecimal():
                            self._wake(int(notice.payload))
                why = "the connection ended"
            except Exception as error:
                # Whatever it was, nobody would hear of any batch again if this task ended with it.
                why = f"{type(error).__name__}: {str(error).splitlines()[0] if str(error) else ''}"
            if not said:
                said = why
                log.warning("not listening for batches: %s; tried again until it goes", why)
            await asyncio.sleep(RETRY_SECONDS)
