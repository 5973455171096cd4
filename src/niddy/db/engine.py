"""Engine and sessions, and word between app processes (LISTEN/NOTIFY)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import create_engine, text
from sqlalchemy.engine import Engine
from sqlalchemy.orm import Session, sessionmaker

BATCH_CHANNEL = "niddy_batch"
"""Payload: the number of a batch whose log grew."""


class Database:
    """One PostgreSQL database and how to get a session on it."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.engine: Engine = create_engine(url, pool_size=12, max_overflow=20, pool_pre_ping=True)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session in one transaction: committed at the end, rolled back on any exception."""
        with self._sessions.begin() as session:
            yield session

    def dispose(self) -> None:
        """Close all connections."""
        self.engine.dispose()


def notify_batch(session: Session, number: int) -> None:
    """Tell every listening app process, once this transaction commits, that a batch's log grew."""
    session.execute(text("select pg_notify(:channel, :payload)"), {"channel": BATCH_CHANNEL, "payload": str(number)})
