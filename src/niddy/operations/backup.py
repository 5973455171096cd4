"""Backup of one instance's records: whole or not at all."""

from __future__ import annotations

import contextlib
import os
import re
import secrets
import stat
import sys
from pathlib import Path

from niddy.operations.cluster import Cluster, ClusterError
from niddy.settings import Settings

PLAIN = frozenset(
    {
        "TABLE",
        "TABLE DATA",
        "SEQUENCE",
        "SEQUENCE SET",
        "SEQUENCE OWNED BY",
        "DEFAULT",
        "CONSTRAINT",
        "CHECK CONSTRAINT",
        "FK CONSTRAINT",
        "INDEX",
        "COMMENT",
    }
)
"""What a backup of ours holds. Anything else in it (a function, a trigger) would be run by whoever loads it."""

OURS = frozenset({"alembic_version", "batch", "lot", "lot_movement", "studio_settings"})
"""Tables that every backup of ours has had."""

_ENTRY = re.compile(rf"\d+; \d+ \d+ (?P<kind>{'|'.join(sorted(PLAIN, key=len, reverse=True))}) public (?P<name>\S+)")


def backup(settings: Settings, file: Path | None) -> int:
    """Write all records into one file; works while Niddy runs. The exit code."""
    if settings.database_url:
        print("niddy: your database is your own; back it up with its own tools", file=sys.stderr)
        return 1
    cluster = Cluster(settings.home)
    was_running = cluster.running()
    if not was_running and not cluster.made():
        print("niddy: there is nothing to back up yet", file=sys.stderr)
        return 1
    if file is None:
        folder = settings.home / "backups"
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        file = folder / f"niddy-{settings.now():%Y-%m-%d-%H%M%S}.backup"
    refusal = _no_place(file)
    if refusal:
        print(f"niddy: {refusal}", file=sys.stderr)
        return 1
    cluster.ensure()
    try:
        write(cluster, file)
    finally:
        if not was_running:
            cluster.stop()
    print(f"Backed up to {file}")
    return 0


def beside(settings: Settings) -> Path:
    """A backup of a running cluster in the folder of all backups, before something makes way. Raises ClusterError."""
    folder = settings.home / "backups"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    file = folder / f"niddy-{settings.now():%Y-%m-%d-%H%M%S}-before-import.backup"
    write(Cluster(settings.home), file)
    return file


def _no_place(file: Path) -> str:
    """Why a backup cannot be written there, or empty. What is no backup is never written over."""
    if not file.parent.is_dir():
        return f"there is no folder {file.parent}"
    try:
        kind = file.lstat().st_mode
    except FileNotFoundError:
        return ""
    if stat.S_ISDIR(kind):
        return f"{file} is a folder; name a file in it"
    if not stat.S_ISREG(kind):
        return f"{file} is not a plain file; name another"
    with file.open("rb") as there:
        if there.read(5) not in (b"PGDMP", b""):
            return f"{file} is there already and no backup; name another"
    return ""


def write(cluster: Cluster, file: Path) -> None:
    """Write a backup beside its place, prove that it can be read, and put it there. What was there stays till then.

    Raises ClusterError or OSError; whatever was begun is removed, and nothing else.
    """
    beside = file.with_name(f".{file.name}.{secrets.token_hex(4)}").absolute()
    os.close(os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))
    under_way = _note_under_way(cluster.home, beside)
    try:
        cluster.dump(beside)
        check(cluster, beside)
        with beside.open("rb") as written:
            os.fsync(written.fileno())
        beside.replace(file)
    except BaseException:
        beside.unlink(missing_ok=True)
        raise
    finally:
        under_way.unlink(missing_ok=True)
    folder = os.open(file.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


UNDER_WAY = "backup-under-way-"


def _note_under_way(home: Path, beside: Path) -> Path:
    """Note what is being written, wherever that is, so that it is cleared away if nobody lives to do so."""
    note = home / f"{UNDER_WAY}{secrets.token_hex(4)}"
    note.write_text(str(beside))
    return note


def clear_half_written(home: Path) -> None:
    """Remove what backups that were killed left half-written. Nobody else may be at work in this folder."""
    for note in home.glob(f"{UNDER_WAY}*"):
        with contextlib.suppress(OSError, UnicodeDecodeError):
            left = Path(note.read_text())
            if re.fullmatch(r"\..+\.[0-9a-f]{8}", left.name):
                left.unlink(missing_ok=True)
        note.unlink(missing_ok=True)


def check(cluster: Cluster, file: Path) -> None:
    """Raise ClusterError for what is no whole backup of Niddy's, or holds what would be run."""
    tables = set()
    for line in cluster.contents(file):
        entry = _ENTRY.match(line)
        if entry is None:
            raise ClusterError(f"{file} holds what no backup of Niddy does: {line.strip()[:80]}")
        if entry["kind"] == "TABLE":
            tables.add(entry["name"])
    if not tables >= OURS:
        raise ClusterError(f"{file} is not a backup of Niddy's: it lacks {', '.join(sorted(OURS - tables)[:3])}")
