"""A backup that comes back: run by a guest, held against our own tables, and only then put in place."""

from __future__ import annotations

import os
import re
import secrets
import sys
from pathlib import Path

from niddy.operations.backup import check
from niddy.operations.cluster import GUEST, USER, Cluster, ClusterError
from niddy.operations.errors import in_a_line
from niddy.operations.lock import try_lock
from niddy.settings import Settings


def restore(settings: Settings, file: Path) -> int:
    """Replace all records by a backup. Niddy must not be running. The exit code."""
    if settings.database_url:
        print("niddy: your database is your own; restore it with its own tools", file=sys.stderr)
        return 1
    if not file.is_file():
        print(f"niddy: there is no file {file}", file=sys.stderr)
        return 1
    lock = try_lock(settings.home)
    if lock is None:
        print("niddy: stop Niddy first: ./niddy stop", file=sys.stderr)
        return 1
    cluster = Cluster(settings.home)
    try:
        cluster.ensure()
        bring_in(cluster, file)
    except ClusterError as error:
        print(f"niddy: {error}; nothing was changed", file=sys.stderr)
        return 1
    finally:
        cluster.stop()
        os.close(lock)
    print(f"Restored from {file}")
    return 0


def bring_in(cluster: Cluster, file: Path) -> None:
    """Load a backup beside, bring it to today's tables, hold it against them, and only then put it in place."""
    from niddy.db import migrations

    check(cluster, file)
    name = _load(cluster, file)
    try:
        url = cluster.url(name)
        try:
            revision = migrations.current(url)
            if revision not in migrations.revisions():
                raise ClusterError(f"its tables are of revision {revision}")
            # Nothing of it is run by us before its tables are, to the letter, those that our own steps make.
            _hold_against_ours(cluster, name, revision)
            migrations.upgrade(url)
            migrations.check(url)
        except Exception as error:
            why = str(error).splitlines()[0][:200] if str(error) else type(error).__name__
            raise ClusterError(f"{file} is of a newer Niddy, or not of Niddy at all ({why})") from None
        _number_on(cluster, url)
        cluster.swap_in(name)
    except BaseException:
        cluster.drop(name)
        raise


def _load(cluster: Cluster, file: Path) -> str:
    """Load a backup into a fresh database beside ours; its name. Raises ClusterError, the fresh one dropped.

    A backup is a list of statements, whoever wrote it: they are run as a user who may do nothing but make tables
    in that one database, who is gone afterwards.
    """
    import psycopg
    from psycopg import sql

    name, guest, password = cluster.fresh(), f"{GUEST}{secrets.token_hex(4)}", secrets.token_urlsafe(24)
    as_guest, as_name = sql.Identifier(guest), sql.Identifier(name)
    try:
        with psycopg.connect(cluster.plain_url("postgres"), autocommit=True) as connection:
            connection.execute(
                sql.SQL("create role {} login nosuperuser nocreatedb nocreaterole password {}").format(
                    as_guest, sql.Literal(password)
                )
            )
            connection.execute(sql.SQL("alter database {} owner to {}").format(as_name, as_guest))
        done = cluster.tool(
            "pg_restore",
            "--single-transaction",
            "--no-owner",
            "--no-privileges",
            "-d",
            name,
            str(file),
            database=name,
            user=guest,
            password=password,
        )
        if done.returncode != 0:
            raise ClusterError(f"the backup could not be read whole: {in_a_line(done.stderr)}")
        with psycopg.connect(cluster.plain_url(name), autocommit=True) as connection:
            connection.execute(sql.SQL("reassign owned by {} to {}").format(as_guest, sql.Identifier(USER)))
            connection.execute(sql.SQL("drop owned by {}").format(as_guest))
    except BaseException:
        cluster.drop(name)
        raise
    finally:
        cluster.drop_role(guest)
    return name


_OURS: dict[str, list[str]] = {}
"""The tables of each revision as our own steps make them."""


def _hold_against_ours(cluster: Cluster, name: str, revision: str) -> None:
    """Hold the tables of a database, every default, check and index, against those we make. Raises ClusterError."""
    from niddy.db import migrations

    if revision not in _OURS:
        ours = cluster.fresh()
        try:
            migrations.upgrade(cluster.url(ours), revision)
            _OURS[revision] = tables_of(cluster, ours).splitlines()
        finally:
            cluster.drop(ours)
    theirs, made = tables_of(cluster, name).splitlines(), _OURS[revision]
    if theirs != made:
        strange = next((line.strip() for line in theirs if line not in set(made)), "something is missing")
        raise ClusterError(f"its tables are not ours: {strange[:80]}")


def _number_on(cluster: Cluster, url: str) -> None:
    """Rooms number on from the highest number ever given here, so that no label and no phone means another job."""
    import psycopg

    with psycopg.connect(cluster.url().replace("+psycopg", "")) as old:
        there = old.execute("select to_regclass('public.numbering') is not null").fetchone()
        given = old.execute("select room, last from numbering").fetchall() if there and there[0] else []
    with psycopg.connect(url.replace("+psycopg", "")) as new:
        for room, last in given:
            new.execute(
                "insert into numbering (room, last) values (%s, %s)"
                " on conflict (room) do update set last = greatest(numbering.last, excluded.last)",
                (room, last),
            )


def tables_of(cluster: Cluster, name: str) -> str:
    """The tables of one of our databases as statements, to be held against those of another."""
    made = cluster.tool(
        "pg_dump", "--schema-only", "--no-owner", "--no-privileges", "--exclude-schema=coming_*", database=name
    )
    if made.returncode != 0:
        raise ClusterError(f"its tables cannot be read: {in_a_line(made.stderr)}")
    # What differs by itself: comments, and the key that newer programs put around a dump.
    left_out = ("--", "\\restrict", "\\unrestrict")
    return "\n".join(_as_read(line) for line in made.stdout.splitlines() if line and not line.startswith(left_out))


def _as_read(line: str) -> str:
    """A line of a schema without the casts and brackets that a list gains when it is read and written once more."""
    return re.sub(r"::character varying|::text|\[\]|[()]", "", line)
