"""A whole studio out and in at the terminal: ./niddy export and ./niddy import."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from niddy import __version__
from niddy.core.errors import Refused
from niddy.core.package import How
from niddy.operations import backup
from niddy.operations.cluster import Cluster, ClusterError
from niddy.settings import Settings

if TYPE_CHECKING:
    from niddy.db import Database


@contextmanager
def _database(settings: Settings) -> Iterator[Database]:
    """The records, whether Niddy runs or not. Raises ClusterError."""
    from niddy.db import Database, migrations

    cluster = None if settings.database_url else Cluster(settings.home)
    was_running = cluster is None or cluster.running()
    try:
        url = settings.database_url or (cluster.ensure() if cluster is not None else "")
        migrations.upgrade(url)
        database = Database(url)
        try:
            yield database
        finally:
            database.dispose()
    finally:
        if cluster is not None and not was_running:
            cluster.stop()


def leave(settings: Settings, file: Path | None) -> int:
    """Write the whole studio as a package; Niddy may be running. The exit code."""
    from niddy.exchange import data_package

    if file is None:
        file = Path(f"niddy-studio-{settings.now():%Y-%m-%d}.zip")
    if file.exists():
        print(f"niddy: {file} is there already; name another", file=sys.stderr)
        return 1
    if not file.parent.is_dir():
        print(f"niddy: there is no folder {file.parent}", file=sys.stderr)
        return 1
    beside = file.with_name(f".{file.name}.part")
    try:
        with (
            _database(settings) as database,
            database.snapshot() as connection,
            os.fdopen(os.open(beside, os.O_RDWR | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as to,
        ):
            rows = data_package.write(connection, to, settings.now(), __version__)
            to.flush()
            os.fsync(to.fileno())
        beside.replace(file)
    except ClusterError as error:
        print(f"niddy: {error}", file=sys.stderr)
        return 1
    finally:
        beside.unlink(missing_ok=True)
    print(f"{rows} records written to {file}")
    return 0


def come(settings: Settings, file: Path, *, add: bool, replace: bool) -> int:
    """Say what would come in with a package and, if told how, take it in. The exit code."""
    from niddy.exchange import data_package
    from niddy.studio import package as studio
    from niddy.studio import workshop
    from niddy.studio.errors import Conflict

    if not file.is_file():
        print(f"niddy: there is no file {file}", file=sys.stderr)
        return 1
    try:
        with _database(settings) as database, data_package.opened(file) as package:
            with database.session() as session:
                workshop.furnish(session)
            seen = studio.look(database, package)
            for one in seen.tables:
                if one.new or one.otherwise:
                    print(f"{one.table:24}{one.new:8} new {one.same:8} the same {one.otherwise:8} otherwise")
            for name in package.unknown:
                print(f"{name}: not known, left in the package")
            how = How.REPLACE if replace else How.ADD if add else None
            if how is None:
                print("Nothing was changed. " + _told([str(way) for way in seen.ways]))
                return 0
            if how is How.REPLACE and not seen.here_is_empty and not settings.database_url:
                kept = backup.beside(settings)
                print(f"What was here is backed up: {kept}")
            studio.take_in(database, package, how, settings.now())
    except (Refused, Conflict) as refusal:
        print(f"niddy: {refusal.problem}; accepted: {refusal.accepted}; nothing was changed", file=sys.stderr)
        return 1
    except ClusterError as error:
        print(f"niddy: {error}; nothing was changed", file=sys.stderr)
        return 1
    print("It is all in.")
    return 0


def _told(ways: list[str]) -> str:
    said = {
        "add": "--add takes in what is new and leaves the rest as it is here.",
        "replace": "--replace takes all of it in place of all that is here, which is backed up first.",
    }
    return " ".join(said[way] for way in ways)
