"""./niddy doctor: what is wrong with this instance, in plain words, and what to do about it."""

from __future__ import annotations

import os
import shutil
import socket
import sys
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from niddy.operations import certificate, keeping
from niddy.operations.cluster import Cluster, ClusterError, NotInstalled
from niddy.operations.frontend import DIST
from niddy.operations.lock import try_lock
from niddy.operations.serve import answers
from niddy.settings import Settings

LEAST_FREE = 500 * 1024**2
"""Below so many bytes free nothing can be relied on."""

LITTLE_FREE = 2 * 1024**3
EARLIEST = datetime(2025, 1, 1, tzinfo=UTC)
"""A clock that says an earlier day was never set."""


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing looked at: whether it is well, what was found, and what to do where it is not."""

    well: bool
    what: str
    says: str
    do: str = ""

    def line(self) -> str:
        """The finding as it is printed."""
        mark = "ok   " if self.well else "WRONG"
        return f"{mark}  {self.what}: {self.says}" + (f"\n       What to do: {self.do}" if self.do else "")


def examine(settings: Settings, *, clock: Callable[[], datetime] | None = None) -> list[Finding]:
    """Look at everything an instance stands on. Changes nothing."""
    now = (clock or (lambda: datetime.now(UTC)))()
    found = [_python(), _folder(settings.home), _disk(settings.home), _clock(settings, now)]
    running = _running(settings)
    found.append(_port(settings, running=running))
    found += [_network(settings, now), _front_end()]
    if settings.database_url:
        found.append(_database(settings.database_url))
    else:
        found += list(_own_cluster(settings, now))
    return found


def doctor(settings: Settings) -> int:
    """Print what was found; the exit code is 1 where anything is wrong."""
    found = examine(settings)
    for finding in found:
        print(finding.line())
    wrong = sum(not finding.well for finding in found)
    print(f"\n{'All is well.' if not wrong else f'{wrong} of {len(found)} need you.'}")
    return 1 if wrong else 0


def _python() -> Finding:
    version = ".".join(map(str, sys.version_info[:3]))
    well = sys.version_info >= (3, 11)
    return Finding(well, "Python", version, "" if well else "install Python 3.11 or newer, then ./niddy start")


def _folder(home: Path) -> Finding:
    if not home.exists():
        return Finding(True, "Data folder", f"{home} is not there yet; ./niddy start makes it")
    if not os.access(home, os.R_OK | os.W_OK | os.X_OK):
        return Finding(False, "Data folder", f"{home} cannot be written", f"give yourself the rights: ls -ld {home}")
    return Finding(True, "Data folder", str(home))


def _disk(home: Path) -> Finding:
    there = home
    while not there.exists():
        there = there.parent
    free = shutil.disk_usage(there).free
    says = f"{free / 1024**3:.1f} GB free"
    if free < LEAST_FREE:
        return Finding(False, "Disk", says, "free some space before anything else: a full disk stops the database")
    return Finding(True, "Disk", says + (", which is little" if free < LITTLE_FREE else ""))


def _clock(settings: Settings, now: datetime) -> Finding:
    if settings.today is not None:
        return Finding(
            False, "Clock", f"NIDDY_TODAY holds it at {settings.today}", "unset NIDDY_TODAY, unless this is a demo"
        )
    if now < EARLIEST:
        return Finding(False, "Clock", f"this machine thinks it is {now:%Y-%m-%d}", "set the date, then start again")
    return Finding(True, "Clock", f"{now:%Y-%m-%d %H:%M} UTC")


def _running(settings: Settings) -> bool:
    if not settings.home.exists():
        return False
    try:
        lock = try_lock(settings.home)
    except OSError:
        # A folder nobody may write in holds no instance that runs.
        return False
    if lock is None:
        return True
    os.close(lock)
    return False


def _port(settings: Settings, *, running: bool) -> Finding:
    what = f"Port {settings.port}"
    if running:
        if answers(settings.port):
            return Finding(True, what, "Niddy answers there")
        return Finding(
            False,
            what,
            "Niddy runs or starts, and does not answer there",
            "wait a moment; then look at its window, or ./niddy stop and ./niddy start",
        )
    with closing(socket.socket()) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", settings.port))
        except OSError:
            return Finding(False, what, "another program has it", "choose another: NIDDY_PORT=8741 ./niddy start")
    return Finding(True, what, "free; Niddy is not running")


def _network(settings: Settings, now: datetime) -> Finding:
    """Whether the network is served as it should be, and by a certificate that lasts."""
    if settings.address is None:
        return Finding(True, "Network", "this machine alone; NIDDY_ADDRESS opens it to the studio's network")
    if settings.scheme == "http":
        return Finding(
            True, "Network", f"{settings.origin}; others on it can read along: ./niddy certificate ends that"
        )
    wanting = certificate.missing(settings)
    if wanting:
        return Finding(False, "Network", wanting.partition(";")[0], "./niddy certificate")
    until = certificate.good_until(settings)
    if until < now:
        says = f"its certificate ended on {until:%Y-%m-%d}"
        return Finding(False, "Network", says, "./niddy certificate, then start again")
    return Finding(True, "Network", f"{settings.origin}, by a certificate good until {until:%Y-%m-%d}")


def _front_end() -> Finding:
    if (DIST / "index.html").is_file():
        return Finding(True, "Screens", "built")
    return Finding(True, "Screens", "not built yet; ./niddy start builds them")


def _database(url: str) -> Finding:
    from sqlalchemy.exc import SQLAlchemyError

    from niddy.db import migrations

    try:
        at = migrations.current(url)
    except SQLAlchemyError as error:
        why = str(error).splitlines()[0][:160]
        return Finding(False, "Database", f"it does not answer ({why})", "./niddy stop, then ./niddy start")
    known = migrations.revisions()
    if at is None:
        return Finding(True, "Database", "empty; the first start fills it")
    if at not in known:
        return Finding(
            False,
            "Database",
            f"its tables are of a newer Niddy ({at})",
            "use the newer program, or restore a backup made by this one",
        )
    if at != known[0]:
        return Finding(True, "Database", f"of an earlier version ({at}); the next start backs it up and upgrades it")
    return Finding(True, "Database", f"answers; its tables are up to date ({at})")


def _own_cluster(settings: Settings, now: datetime) -> Iterator[Finding]:
    try:
        cluster = Cluster(settings.home)
    except NotInstalled as error:
        yield Finding(False, "PostgreSQL", "it is not installed", str(error).partition(": ")[2] or str(error))
        return
    yield Finding(True, "PostgreSQL", str(cluster.programs))
    if not cluster.made():
        yield Finding(True, "Database", "none yet; ./niddy start makes it")
        return
    trouble = cluster.notes.trouble()
    if trouble:
        what, _, do = trouble.partition("; ")
        yield Finding(False, "Database", what, do)
    elif cluster.running():
        try:
            yield _database(cluster.url())
        except (OSError, ValueError, ClusterError):
            yield Finding(False, "Database", "its password or port is lost", "./niddy stop, then ./niddy start")
    else:
        yield Finding(True, "Database", "there, and stopped while Niddy is")
    yield _last_backup(settings.home, now)


def _last_backup(home: Path, now: datetime) -> Finding:
    there = keeping.made(keeping.folder_of(home))
    if not there:
        return Finding(
            False, "Backups", "there is none yet", "./niddy backup makes one; running, Niddy makes one a day"
        )
    last = there[-1]
    age = now - last.at
    says = f"the last is of {last.at:%Y-%m-%d %H:%M} UTC, {last.file.stat().st_size / 1024:.0f} KB; {len(there)} kept"
    if age > keeping.TOO_OLD:
        days = age // timedelta(days=1)
        return Finding(
            False, "Backups", f"{says}; {days} days old", "./niddy backup now; leave Niddy running for the daily one"
        )
    return Finding(True, "Backups", says)
