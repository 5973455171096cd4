"""The first owner, and lost passwords: at the terminal only."""

from __future__ import annotations

import getpass
import sys

from niddy.core.errors import Refused
from niddy.operations.cluster import Cluster, ClusterError
from niddy.settings import Settings

LONGEST_NAME = 60


def owner(settings: Settings, name: str) -> int:
    """Ask for a password twice and keep it for an owner of that name, new or known; works while Niddy runs.

    The exit code.
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= LONGEST_NAME or not name.isprintable():
        print(f"niddy: a name has 1 to {LONGEST_NAME} letters", file=sys.stderr)
        return 1
    password = _asked()
    if password is None:
        print("niddy: the two are not the same; nothing was changed", file=sys.stderr)
        return 1
    if settings.database_url:
        return _keep(settings, settings.database_url, name, password)
    cluster = Cluster(settings.home)
    was_running = cluster.running()
    try:
        return _keep(settings, cluster.ensure(), name, password)
    except ClusterError as error:
        print(f"niddy: {error}", file=sys.stderr)
        return 1
    finally:
        if not was_running:
            cluster.stop()


def _asked() -> str | None:
    """The password, typed twice and not shown; a line of its own where nobody types (a script)."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    first = getpass.getpass("Password: ")
    return first if getpass.getpass("The same again: ") == first else None


def _keep(settings: Settings, url: str, name: str, password: str) -> int:
    from niddy.db import Database, migrations
    from niddy.studio import makers

    if migrations.current(url) != migrations.revisions()[0]:
        print("niddy: start Niddy once first: ./niddy start", file=sys.stderr)
        return 1
    database = Database(url)
    try:
        added = makers.make_owner(database, settings.now(), name, password)
    except Refused as refusal:
        print(f"niddy: {refusal.problem}; accepted: {refusal.accepted}", file=sys.stderr)
        return 1
    finally:
        database.dispose()
    if added:
        print(f"{name} is an owner now and signs in at {settings.origin or 'the address in NIDDY_ADDRESS'}")
    else:
        print(f"{name} is an owner with a new password; devices signed in before are signed out")
    return 0
