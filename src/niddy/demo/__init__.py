"""The demo: a made-up studio, kept as a package of its own and taken in with its dates moved to today."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections.abc import Iterator
from datetime import date, datetime, timedelta
from functools import cached_property
from importlib.resources import files
from uuid import UUID

from niddy.db import Database
from niddy.studio import batches, materials, package, sludge
from niddy.studio.batches import Search

FILE = "studio.zip"
_WHEN = re.compile(
    r"(?<![\w-])(20[0-3]\d-[01]\d-[0-3]\d)(?:([T ])(\d\d:\d\d(?::\d\d(?:\.\d+)?)?)(Z|[+-]\d\d(?::?\d\d)?)?)?(?![\w-])"
)
"""A date, or a moment, as the tables and the documents in them write it."""


def load_if_empty(database: Database, now: datetime) -> bool:
    """Load the demo where no lot and no batch was ever recorded; whether it was loaded."""
    with database.session() as session:
        if materials.lots(session, with_used_up=True, limit=1) or batches.search(session, Search(limit=1)).batches:
            return False
    load(database, now)
    return True


def load(database: Database, now: datetime) -> None:
    """Load the demo studio, as if it had been kept until now, into one where nothing is recorded."""
    with (files("niddy.demo") / FILE).open("rb") as file, zipfile.ZipFile(file) as archive:
        kept = Kept(archive, now)
        package.lay_down(database, kept)
    if kept.later:
        with database.session() as session:
            # Sums by week are kept under the week's Monday: dates that were moved are summed anew.
            sludge.freshen(session)


class Kept:
    """The demo's package, its dates moved by as much as has passed since it was made."""

    def __init__(self, archive: zipfile.ZipFile, now: datetime) -> None:
        self._archive = archive
        described = json.loads(archive.read("datapackage.json"))
        self.revision: str = described["niddy"]["revision"]
        self.made = datetime.fromisoformat(described["created"])
        self.later = now - self.made
        self._days = (now.date() - self.made.date()).days

    @cached_property
    def _names(self) -> frozenset[str]:
        return frozenset(self._archive.namelist())

    def columns(self, table: str) -> tuple[str, ...] | None:
        """The columns of a table in the order of its rows, or None where there is none of it."""
        name = f"data/{table}.csv"
        if name not in self._names:
            return None
        with self._archive.open(name) as file:
            return tuple(next(csv.reader(io.TextIOWrapper(file, "utf-8", newline=""))))

    def pieces(self, table: str) -> Iterator[bytes]:
        """A table as CSV with a header."""
        text = self._archive.read(f"data/{table}.csv").decode("utf-8")
        yield (_WHEN.sub(self._moved, text) if self.later else text).encode("utf-8")

    def pictures(self) -> Iterator[tuple[UUID, bytes]]:
        """The pictures, one at a time."""
        for name in sorted(self._names):
            if name.startswith("pictures/"):
                yield UUID(name.removeprefix("pictures/").removesuffix(".jpg")), self._archive.read(name)

    def _moved(self, found: re.Match[str]) -> str:
        day, between, time, zone = found.groups()
        try:
            if time is None:
                return (date.fromisoformat(day) + timedelta(days=self._days)).isoformat()
            at = datetime.fromisoformat(f"{day}T{time}{_whole(zone)}") + self.later
        except ValueError:
            return found.group(0)
        exact = "microseconds" if at.microsecond else "auto"
        return at.replace(tzinfo=None).isoformat(between, exact) + (zone or "")


def _whole(zone: str | None) -> str:
    """A zone as every version of Python reads it."""
    return "" if zone is None else f"{zone}:00" if len(zone) == 3 else zone
