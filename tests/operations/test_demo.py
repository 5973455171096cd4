"""The demo's package against the demo acted out anew, and its dates moved to another day."""

import io
import os
import re
import unittest
import zipfile
from datetime import date, timedelta
from importlib.resources import files
from pathlib import Path

from niddy import __version__, demo
from niddy.db import Database
from niddy.exchange import data_package
from niddy.studio import batches, due, sludge, workshop
from niddy.studio.numbering import next_number
from tests import demo as acted
from tests.support import NOW, DatabaseTest, cluster

KEEP = "NIDDY_KEEP_DEMO"
"""Set, the package is written anew from what was acted out."""

LARGEST = 1_000_000
_NUMBER = re.compile(r"-?\d+\.\d+(?:e-?\d+)?")


def packed(database: Database) -> bytes:
    """A studio as a package."""
    to = io.BytesIO()
    with database.snapshot() as connection:
        data_package.write(connection, to, NOW, __version__)
    return to.getvalue()


def tables(package: bytes) -> dict[str, list[str]]:
    """The rows of each table; figures to nine places, since other machines end them otherwise."""
    with zipfile.ZipFile(io.BytesIO(package)) as archive:
        return {
            name: _NUMBER.sub(lambda found: f"{float(found.group(0)):.9g}", archive.read(name).decode()).splitlines()
            for name in archive.namelist()
            if name.startswith("data/")
        }


class Acted(unittest.TestCase):
    def test_the_package_is_what_the_demo_acted_out_comes_to(self) -> None:
        database = Database(cluster().clone("empty_template", "acted"))
        try:
            with database.session() as session:
                acted.load(session, NOW)
            made = packed(database)
        finally:
            database.dispose()
            cluster().drop("acted")
        kept = Path(str(files("niddy.demo") / demo.FILE))
        if os.environ.get(KEEP):
            kept.write_bytes(made)
        self.assertLess(len(made), LARGEST)
        there, here = tables(kept.read_bytes()), tables(made)
        self.assertEqual(set(there), set(here))
        for name, rows in here.items():
            self.assertEqual(there[name], rows, f"{name} is acted out otherwise; if it is meant, keep it with {KEEP}=1")


class Moved(DatabaseTest):
    later = timedelta(days=531, hours=5, minutes=40)

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        with cls.database.session() as session:
            workshop.furnish(session)
        demo.load(cls.database, NOW + cls.later)

    def test_every_moment_is_as_long_ago_as_it_was(self) -> None:
        made = Database(cluster().clone("demo_template", "as_made"))
        try:
            for number in (1, 20, 32):
                with made.session() as session:
                    then = batches.batch(session, number)
                with self.database.session() as session:
                    now = batches.batch(session, number)
                self.assertEqual(now.started_at - then.started_at, self.later)
                self.assertEqual(
                    [one.event.made_at - self.later for one in now.log], [one.event.made_at for one in then.log]
                )
            with made.session() as session, self.database.session() as other:
                waiting = sorted(one.says for one in due.everything(session, NOW))
                self.assertEqual(sorted(one.says for one in due.everything(other, NOW + self.later)), waiting)
            self.assertGreater(len(waiting), 3)
        finally:
            made.dispose()
            cluster().drop("as_made")

    def test_the_cans_count_by_weeks_that_begin_on_a_monday(self) -> None:
        with self.database.session() as session:
            weeks = {week for can in sludge.cans(session) for week in can.can.weekly}
        self.assertTrue(weeks)
        self.assertEqual({date.fromisoformat(week).weekday() for week in weeks}, {0})

    def test_it_goes_on_from_its_numbers_and_keeps_what_holds_it_together(self) -> None:
        with self.database.engine.connect() as connection:
            loose = connection.exec_driver_sql("select count(*) from pg_constraint where condeferrable").scalar_one()
        before = Database(cluster().clone("empty_template", "as_empty"))
        try:
            with before.engine.connect() as connection:
                was = connection.exec_driver_sql("select count(*) from pg_constraint where condeferrable").scalar_one()
        finally:
            before.dispose()
            cluster().drop("as_empty")
        self.assertEqual(loose, was)
        with self.database.session() as session:
            self.assertFalse(demo.load_if_empty(self.database, NOW))
            last = max(one.number for one in batches.search(session, batches.Search(limit=100)).batches)
            self.assertEqual(next_number(session, "slab"), last + 1)
            session.rollback()
