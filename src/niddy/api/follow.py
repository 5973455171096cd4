"""Followers of jobs: one LISTEN connection an app process, many open windows."""

from __future__ import annotations

import asyncio
import contextlib
import logging
from collections import defaultdict
from collections.abc import AsyncIterator

import psycopg

from niddy.db.engine import CONNECT_TIMEOUT_S, JOB_CHANNEL

log = logging.getLogger("niddy")
RETRY_SECONDS = 0.5


class Followers:
    """Wakes everyone who follows a job when its log grew, whichever process wrote it."""

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
    async def of(self, job_id: int) -> AsyncIterator[asyncio.Event]:
        """An event that is set whenever job `job_id` grew, for as long as the block lasts."""
        grew = asyncio.Event()
        self._waiting[job_id].add(grew)
        try:
            yield grew
        finally:
            self._waiting[job_id].discard(grew)
            if not self._waiting[job_id]:
                del self._waiting[job_id]

    def _wake(self, job_id: int) -> None:
        for grew in self._waiting.get(job_id, ()):
            grew.set()

    async def _listen(self) -> None:
        """Listen for ever: whatever goes wrong is said once, and tried again until it goes well."""
        said = ""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(
                    self._url, autocommit=True, connect_timeout=CONNECT_TIMEOUT_S
                ) as connection:
                    await connection.execute(f"listen {JOB_CHANNEL}")
                    said = ""
                    # What was missed while not listening is unknown: everyone looks again.
                    for job_id in list(self._waiting):
                        self._wake(job_id)
                    async for notice in connection.notifies():
                        if notice.payload.isdecimal():
                            self._wake(int(notice.payload))
                why = "the connection ended"
            except Exception as error:
                # Whatever it was, nobody would hear of any job again if this task ended with it.
                why = f"{type(error).__name__}: {str(error).splitlines()[0] if str(error) else ''}"
            if not said:
                said = why
                log.warning("not listening for what is logged: %s; tried again until it goes", why)
            await asyncio.sleep(RETRY_SECONDS)
