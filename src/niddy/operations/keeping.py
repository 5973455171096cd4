"""Backups by themselves: one a day and one before every upgrade, each read back whole; old ones make way."""

from __future__ import annotations

import logging
import re
import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from niddy.operations.backup import write
from niddy.operations.cluster import Cluster, ClusterError

if TYPE_CHECKING:
    from niddy.studio.workshop import BackupsSeen

log = logging.getLogger("niddy")

DAILY = timedelta(hours=24)
TOO_OLD = timedelta(hours=48)
"""A last backup older than this is told in red: a day was missed."""

FIRST_LOOK_S, LOOK_EVERY_S = 60.0, 300.0
TRY_AGAIN_S = 1_800.0
"""So long after one that failed the next is tried."""

DAYS, WEEKS, MONTHS = 7, 4, 12
BEFORE_UPGRADES = 5

_NAME = re.compile(r"niddy-(\d{4}-\d{2}-\d{2}-\d{6})\.backup")
_STAMP = "%Y-%m-%d-%H%M%S"


@dataclass(frozen=True, slots=True)
class Made:
    """One backup: its file, and when it was made."""

    file: Path
    at: datetime


def folder_of(home: Path) -> Path:
    """Where backups of every day lie."""
    return home / "backups" / "daily"


def made(folder: Path) -> list[Made]:
    """The backups of a folder, the oldest first; what is none of ours is left alone."""
    found = []
    for file in folder.glob("niddy-*.backup"):
        name = _NAME.fullmatch(file.name)
        if name is None or not file.is_file():
            continue
        try:
            found.append(Made(file, datetime.strptime(name[1], _STAMP).replace(tzinfo=UTC)))
        except ValueError:
            continue
    return sorted(found, key=lambda one: (one.at, one.file.name))


def to_keep(moments: Iterable[datetime]) -> set[datetime]:
    """Which backups stay: the last of each of the last seven days, four weeks and twelve months that have one."""
    newest_first = sorted(set(moments), reverse=True)
    kept: set[datetime] = set()
    for period, count in (
        (lambda at: at.date().isoformat(), DAYS),
        (lambda at: "{}-{}".format(*at.isocalendar()[:2]), WEEKS),
        (lambda at: f"{at:%Y-%m}", MONTHS),
    ):
        seen: set[str] = set()
        for at in newest_first:
            if period(at) not in seen and len(seen) < count:
                seen.add(period(at))
                kept.add(at)
    return kept


def make_way(folder: Path) -> None:
    """Remove the backups that need not stay."""
    there = made(folder)
    kept = to_keep(one.at for one in there)
    for one in there:
        if one.at not in kept:
            one.file.unlink(missing_ok=True)


def back_up(cluster: Cluster, folder: Path, now: datetime) -> Path:
    """One more backup in a folder, read back whole before it counts. Raises ClusterError, OSError."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    file = folder / f"niddy-{now:{_STAMP}}.backup"
    write(cluster, file)
    return file


def before_upgrade(cluster: Cluster, home: Path, now: datetime) -> Path:
    """A backup in the shape that an upgrade is about to change; the last few of these stay. Raises ClusterError."""
    folder = home / "backups" / "before-upgrade"
    file = back_up(cluster, folder, now)
    for old in made(folder)[:-BEFORE_UPGRADES]:
        old.file.unlink(missing_ok=True)
    return file


class Backups:
    """A thread that backs one cluster up every day while the block lasts; also what the Workshop asks."""

    def __init__(self, cluster: Cluster, home: Path, clock: Callable[[], datetime]) -> None:
        self._cluster, self._folder, self._clock = cluster, folder_of(home), clock
        self._over = threading.Event()
        self._busy = threading.Lock()
        self._trouble = ""
        self._not_before: datetime | None = None
        self._thread = threading.Thread(target=self._look_after, name="backups", daemon=True)

    def __enter__(self) -> Backups:
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join(timeout=120)

    def seen(self) -> BackupsSeen:
        """How they stand now."""
        from niddy.studio.workshop import BackupsSeen

        there = made(self._folder)
        last = there[-1].at if there else None
        old = last is None or self._clock() - last > TOO_OLD
        size = sum(one.file.stat().st_size for one in there if one.file.exists())
        return BackupsSeen(True, last, old, len(there), size, str(self._folder), self._trouble)

    def now(self) -> BackupsSeen:
        """Make one at once, and how they stand then; where it could not be made, `trouble` says why."""
        with self._busy:
            try:
                back_up(self._cluster, self._folder, self._clock())
                make_way(self._folder)
                self._trouble = ""
            except (ClusterError, OSError) as error:
                self._trouble = str(error)
        return self.seen()

    def due(self) -> bool:
        """Whether the last one is a day old, and nothing failed only just."""
        now = self._clock()
        if self._not_before is not None and now < self._not_before:
            return False
        there = made(self._folder)
        return not there or now - there[-1].at >= DAILY or there[-1].at > now + DAILY

    def _look_after(self) -> None:
        self._over.wait(FIRST_LOOK_S)
        while not self._over.is_set():
            if self.due():
                trouble = self.now().trouble
                self._not_before = self._clock() + timedelta(seconds=TRY_AGAIN_S) if trouble else None
                if trouble:
                    log.warning("no backup was made: %s", trouble)
            self._over.wait(LOOK_EVERY_S)
