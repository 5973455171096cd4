"""What was worked out of the record last, told again only while nobody wrote since."""

from datetime import datetime, timedelta
from typing import Any
from unittest.mock import patch

from sqlalchemy import text

from niddy.studio import home, workshop
from niddy.studio import remembered as remembering
from niddy.studio.remembered import remembered
from tests.support import NOW, DatabaseTest


class Remembered(DatabaseTest):
    def setUp(self) -> None:
        self.asked = 0

    def ask(self, now: datetime = NOW) -> int:
        with self.database.session() as session:
            return remembered(session, now, self.id(), self.count)

    def count(self) -> int:
        self.asked += 1
        return self.asked

    def write(self) -> None:
        with self.database.session() as session:
            workshop.furnish(session)
            session.execute(text("create temporary table if not exists written (n integer)"))

    def test_it_is_worked_out_once_while_nothing_is_written(self) -> None:
        with self.nobody_writes():
            self.assertEqual([self.ask() for _ in range(3)], [1, 1, 1])

    def nobody_writes(self) -> Any:
        """As if no other database of the same cluster were written to either, as they are while tests run."""
        return patch.object(remembering, "_SNAPSHOT", text("select 'as it was' as sees, false as wrote"))

    def test_once_somebody_wrote_it_is_worked_out_anew(self) -> None:
        before = self.ask()
        self.write()
        self.assertGreater(self.ask(), before)

    def test_what_is_not_done_yet_is_worked_out_each_time_by_whoever_writes_it(self) -> None:
        with self.database.session() as session:
            session.execute(text("create temporary table begun (n integer)"))
            self.assertEqual([remembered(session, NOW, self.id(), self.count) for _ in range(3)], [1, 2, 3])

    def test_another_minute_is_another_answer(self) -> None:
        later = (timedelta(0), timedelta(seconds=30), timedelta(minutes=1))
        with self.nobody_writes():
            self.assertEqual([self.ask(NOW + one) for one in later], [1, 1, 2])

    def test_what_is_asked_for_otherwise_is_another_answer(self) -> None:
        with self.nobody_writes(), self.database.session() as session:
            for of in ("one", "other", "one"):
                remembered(session, NOW, (self.id(), of), self.count)
        self.assertEqual(self.asked, 2)

    def test_home_says_what_time_it_is_and_what_was_just_written(self) -> None:
        with self.database.session() as session:
            workshop.furnish(session)
        with self.database.session() as session:
            first = home.home(session, NOW)
            later = home.home(session, NOW + timedelta(seconds=20))
        self.assertEqual((first.now, later.now), (NOW, NOW + timedelta(seconds=20)))
        with self.database.session() as session:
            settings = workshop.settings(session)
            session.execute(text("update studio_settings set name = :name"), {"name": f"{settings.name} by the quay"})
        with self.database.session() as session:
            self.assertEqual(home.home(session, NOW).studio_name, f"{settings.name} by the quay")
