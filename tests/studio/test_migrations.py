"""Every step of the tables goes up and down again, and keeps what was recorded."""

from alembic import command
from sqlalchemy import inspect, text

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
        counted = text("select count(*) filter (where here), count(*), count(distinct searched) from shelf_item")
        with self.database.engine.connect() as connection:
            before = connection.execute(counted).one()
        self.database.dispose()
        command.downgrade(config, "0005")
        command.upgrade(config, "head")
        with self.database.engine.connect() as connection:
            self.assertEqual(connection.execute(counted).one(), before)
            searched = connection.execute(text("select searched from shelf_item where code = '24-1'")).scalar_one()
        self.assertEqual(searched, "lead-tin yellow 24-1 locked box 40 ml tube")
        self.assertLess(before[0], before[1])
