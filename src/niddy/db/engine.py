"""Engine and sessions, and word between app processes (LISTEN/NOTIFY)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import ColumnElement, create_engine, func
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


def notified(number: ColumnElement[str]) -> ColumnElement[None]:
    """An expression that, once its transaction commits, tells every listening app process that a batch's log grew."""
    return func.pg_notify(BATCH_CHANNEL, number)
