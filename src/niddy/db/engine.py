"""Engine and sessions, and word between app processes (LISTEN/NOTIFY)."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from pydantic_core import from_json
from sqlalchemy import ColumnElement, Connection, create_engine, func, text
from sqlalchemy.engine import Engine
from sqlalchemy.orm import Session, sessionmaker

JOB_CHANNEL = "niddy_job"
"""Payload: the id of a job whose log grew."""


AT_WORK: ContextVar[int | None] = ContextVar("maker at work", default=None)
"""The maker whose request is being answered: what is written meanwhile carries them. None: nobody signs in here."""

MAKER_AT_WORK = "(nullif(current_setting('niddy.maker', true), ''))::integer"
"""The default of a column that says who wrote a row."""

CONNECT_TIMEOUT_S = 5
LOCK_TIMEOUT_S = 10
IDLE_IN_TRANSACTION_S = 60
_OPTIONS = f"-c lock_timeout={LOCK_TIMEOUT_S}s -c idle_in_transaction_session_timeout={IDLE_IN_TRANSACTION_S}s"
"""Nobody waits for ever on a row, and who leaves in the middle of a transaction gives back what it held."""


_WORKS = text("select set_config('niddy.maker', :maker, true)")


class Database:
    """One PostgreSQL database and how to get a session on it."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.engine: Engine = create_engine(
            url,
            pool_size=12,
            max_overflow=20,
            pool_pre_ping=True,
            pool_timeout=20,
            json_deserializer=from_json,
            connect_args={"connect_timeout": CONNECT_TIMEOUT_S, "options": _OPTIONS},
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session in one transaction: committed at the end, rolled back on any exception."""
        with self._sessions.begin() as session:
            maker = AT_WORK.get()
            if maker is not None:
                session.execute(_WORKS, {"maker": str(maker)})
            yield session

    @contextmanager
    def snapshot(self) -> Iterator[Connection]:
        """A connection that sees one moment while the block lasts, and changes nothing."""
        with self.engine.connect().execution_options(isolation_level="REPEATABLE READ") as connection:
            connection.execute(text("set transaction read only"))
            connection.execute(text("set local timezone to 'UTC'"))
            connection.execute(text("set local idle_in_transaction_session_timeout to 0"))
            yield connection
            connection.rollback()

    def dispose(self) -> None:
        """Close all connections."""
        self.engine.dispose()


def notified(job_id: ColumnElement[str]) -> ColumnElement[None]:
    """An expression that, once its transaction commits, tells every listening app process that a job's log grew."""
    return func.pg_notify(JOB_CHANNEL, job_id)
