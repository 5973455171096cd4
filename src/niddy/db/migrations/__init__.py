"""Alembic migrations and how to run them."""

from __future__ import annotations

import io
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import create_engine


def _config(url: str) -> Config:
    # What Alembic would print is for whoever develops: a command's own line is what a maker reads.
    config = Config(stdout=io.StringIO())
    config.set_main_option("script_location", str(Path(__file__).parent))
    config.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    return config


def upgrade(url: str, revision: str = "head") -> None:
    """Bring a database to a revision, the newest if none is named."""
    command.upgrade(_config(url), revision)


def revisions() -> list[str]:
    """Every revision this program knows, the newest first."""
    script = ScriptDirectory.from_config(_config(""))
    return [step.revision for step in script.walk_revisions()]


def current(url: str) -> str | None:
    """The revision a database is at; None where it has no tables yet."""
    engine = create_engine(url)
    try:
        with engine.connect() as connection:
            return MigrationContext.configure(connection).get_current_revision()
    finally:
        engine.dispose()


def revise(url: str, message: str) -> None:
    """Write a new revision from the difference between the tables in code and in the database."""
    command.revision(_config(url), message, autogenerate=True)


def check(url: str) -> None:
    """Raise where the database differs from the tables in code."""
    command.check(_config(url))
