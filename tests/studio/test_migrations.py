"""Every step of the tables goes up and down again, and keeps what was recorded."""

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from itertools import pairwise
from typing import Any

from alembic import command
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, inspect, text

from niddy.db import Database, migrations
from tests.support import DatabaseTest


class Steps(DatabaseTest):
    with_demo = True

    def test_down_to_nothing_and_up_again(self) -> None:
        config = migrations._config(self.database.url)
        whole = set(inspect(self.database.engine).get_table_names())
        self.assertIn("shelf_item", whole)
        self.database.dispose()
        command.downgrade(config, "base")
        empty = Database(self.database.url)
        self.addCleanup(empty.dispose)
        self.assertEqual(set(inspect(empty.engine).get_table_names()), {"alembic_version"})
        migrations.upgrade(self.database.url)
        again = Database(self.database.url)
        self.addCleanup(again.dispose)
        self.assertEqual(set(inspect(again.engine).get_table_names()), whole)
        migrations.check(self.database.url)


class Kept(DatabaseTest):
    with_demo = True

    def test_a_shelf_from_before_its_lists_is_found_in_them(self) -> None:
        config = migrations._config(self.database.url)
        counted = text(
            "select count(*) filter (where here), count(*), count(distinct searched) from shelf_item"
            " where kind <> 'stick'"
        )
        with self.database.engine.connect() as connection:
            before = connection.execute(counted).one()
        self.database.dispose()
        command.downgrade(config, "0005")
        command.upgrade(config, "head")
        with self.database.engine.connect() as connection:
            self.assertEqual(connection.execute(counted).one(), before)
            searched = connection.execute(text("select searched from shelf_item where code = '3-1'")).scalar_one()
        self.assertEqual(searched, "lead-tin yellow 3-1 locked box 40 ml tube")
        self.assertLess(before[0], before[1])


ROOMS = {"slab", "rubout", "checks", "additives", "shelf"}
"""Rooms whose acts were kept before there was one log for all."""


@contextmanager
def connected(url: str) -> Iterator[Engine]:
    """An engine of its own, so that no prepared statement outlives a change of the tables."""
    engine = create_engine(url)
    try:
        yield engine
    finally:
        engine.dispose()


LATER = ("sticks", "bases", "cans", "dishes", "runs", "practice", "charts")
"""Rooms whose jobs have no place in an earlier shape."""


class EveryRevision(DatabaseTest):
    with_demo = True

    def columns(self) -> dict[str, list[str]]:
        """The columns of every table as the tables are now."""
        with connected(self.database.url) as engine:
            tables = inspect(engine)
            return {
                table: [column["name"] for column in tables.get_columns(table)]
                for table in tables.get_table_names()
                if table != "alembic_version"
            }

    def rows(self, tables: Iterable[str]) -> dict[str, list[str]]:
        """All that is recorded, by table: each row as JSON, in the order of its text."""
        with connected(self.database.url) as engine, engine.connect() as connection:
            return {
                table: sorted(connection.execute(text(f"select to_jsonb(whole)::text from {table} whole")).scalars())
                for table in tables
            }

    def test_a_studio_full_of_records_comes_back_from_each_as_it_was(self) -> None:
        config = migrations._config(self.database.url)
        revisions = [step.revision for step in ScriptDirectory.from_config(config).walk_revisions()]
        self.assertEqual(revisions, sorted(revisions, reverse=True))
        self.database.dispose()
        now = self.columns()
        # All else goes over that step and back as it was.
        whole = _read(self.rows(now))
        command.downgrade(config, "0015")
        command.upgrade(config, "head")
        without = _read(self.rows(now))
        gone = {row["id"] for row in whole["job"] if row["room"] in LATER}
        gone |= {row["job_id"] for row in whole["shelf_item"] if row["kind"] == "stick"}
        self.assertGreater(len(gone), 19)
        lots = {row["id"] for row in whole["lot"] if row["kind"] not in ("wax", "base", "raw")}
        for table, mine in (
            ("job", lambda row: row["id"] not in gone),
            ("act", lambda row: row["job_id"] not in gone),
            ("shelf_item", lambda row: row["kind"] != "stick"),
            ("lot", lambda row: row["id"] in lots),
            ("output", lambda row: row["job_id"] not in gone),
            ("batch", lambda row: True),
        ):
            kept = [row for row in whole[table] if mine(row)]
            self.assertEqual(_words(without[table], sorted(kept[0])), _words(kept, sorted(kept[0])), table)
        drawn = [row["change"] for row in whole["lot_movement"] if row["lot_id"] in lots]
        self.assertEqual(sorted(drawn), sorted(row["change"] for row in without["lot_movement"]))
        there = now
        # Each step is gone down, up and down again, in the shape it is from and with the records as they are then.
        for above, revision in pairwise(revisions):
            with self.subTest(revision):
                tables = there
                before = self.rows(tables)
                self.assertGreater(len(before["batch"]) + len(before["lot"]), 40)
                command.downgrade(config, revision)
                there = self.columns()
                command.upgrade(config, above)
                after = self.rows(tables)
                command.downgrade(config, revision)
                for table in there.keys() & tables.keys():
                    if after[table] == before[table]:
                        continue
                    names = [name for name in there[table] if name in tables[table]]
                    # Gels, and the checks of a batch, became jobs later: which one it is no record says.
                    kept_before, kept_after = (_without_new(_read_rows(rows[table])) for rows in (before, after))
                    self.assertEqual(_words(kept_after, names), _words(kept_before, names), table)
                if "act" in tables and any(after[one] != before[one] for one in ("act", "job")):
                    self.assertEqual(_acts(after), _acts(before))
        command.upgrade(config, "head")
        self.assertGreater(len(self.rows(now)["batch"]), 20)


def _read(rows: dict[str, list[str]]) -> dict[str, list[dict[str, Any]]]:
    return {table: _read_rows(texts) for table, texts in rows.items()}


def _read_rows(texts: list[str]) -> list[dict[str, Any]]:
    return [json.loads(one) for one in texts]


def _without_new(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    news = {"gels", "checks", "reading", "set_aside", "decide"}
    return [row for row in rows if row.get("room") not in news and row.get("kind") not in news]


OF_JOB = ("room", "name", "status", "started_at", "ended_at", "last_seq", "asked", "state")
OF_ACT = ("id", "seq", "kind", "payload", "facts", "strikes", "made_at")


def _acts(rows: dict[str, list[str]]) -> list[dict[str, Any]]:
    """Every act of every room with its job, however jobs are numbered."""
    jobs = {job["id"]: job for job in _read_rows(rows["job"])}
    found = []
    for act in _read_rows(rows["act"]):
        job = jobs[act["job_id"]]
        if job["room"] in ROOMS:
            of_job = {f"job {name}": job[name] for name in OF_JOB if name in job}
            found.append(_as_kept({name: act[name] for name in OF_ACT} | of_job))
    return sorted(found, key=lambda act: (act["kind"], str(act.get("id")), str(act["strikes"])))


def _as_kept(act: dict[str, Any]) -> dict[str, Any]:
    """What is compared of an act: of one of the checks' not its place, nor when its job began.

    What sets a reading aside is known by that reading and its reason alone.
    """
    names = {"job room", "job name"}
    if act["kind"] == "set_aside":
        names |= {"strikes", "kind", "payload"}
    elif act["job room"] == "checks":
        names |= set(OF_ACT) - {"seq"}
    else:
        names = set(act)
    kept = {name: act[name] for name in names}
    if isinstance(kept.get("payload"), dict):
        # Its kind has a column of its own; earlier tables wrote it twice.
        kept["payload"] = {name: value for name, value in kept["payload"].items() if name != "kind"}
    return kept


def _words(rows: list[dict[str, Any]], names: list[str]) -> list[str]:
    return sorted(json.dumps([row[name] for name in names], sort_keys=True) for row in rows)
