"""Backup and restore of one instance's records."""

from __future__ import annotations

import sys
from pathlib import Path

from niddy.operations.cluster import Cluster, ClusterError
from niddy.operations.serve import running_instance
from niddy.settings import Settings


def backup(settings: Settings, file: Path | None) -> int:
    """Write all records into one file; works while Niddy runs. The exit code."""
    if settings.database_url:
        print("niddy: your database is your own; back it up with its own tools", file=sys.stderr)
        return 1
    cluster = Cluster(settings.home)
    was_running = cluster.running()
    if not was_running and not cluster.data.is_dir():
        print("niddy: there is nothing to back up yet", file=sys.stderr)
        return 1
    if file is None:
        folder = settings.home / "backups"
        folder.mkdir(parents=True, exist_ok=True)
        file = folder / f"niddy-{settings.now():%Y-%m-%d-%H%M%S}.backup"
    cluster.ensure()
    try:
        cluster.dump(file)
    finally:
        if not was_running:
            cluster.stop()
    print(f"Backed up to {file}")
    return 0


def restore(settings: Settings, file: Path) -> int:
    """Replace all records by a backup. Niddy must not be running. The exit code."""
    if settings.database_url:
        print("niddy: your database is your own; restore it with its own tools", file=sys.stderr)
        return 1
    if not file.is_file():
        print(f"niddy: there is no file {file}", file=sys.stderr)
        return 1
    if running_instance(settings):
        print("niddy: stop Niddy first: ./niddy stop", file=sys.stderr)
        return 1
    cluster = Cluster(settings.home)
    cluster.ensure()
    try:
        cluster.load(file)
    except ClusterError as error:
        print(f"niddy: {error}; nothing was changed", file=sys.stderr)
        return 1
    finally:
        cluster.stop()
    print(f"Restored from {file}")
    return 0
