"""Backups by themselves: which stay, when the next is due, one before every upgrade; and what the doctor says."""

import errno
import os
import socket
import tempfile
import unittest
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from alembic import command
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy.exc import OperationalError

from niddy.db import migrations
from niddy.operations import doctor, keeping, serve
from niddy.operations.cluster import Cluster, ClusterError
from niddy.operations.keeping import Backups
from niddy.operations.ports import free_port
from niddy.operations.throwaway import throwaway
from niddy.settings import Settings

NOW = datetime(2026, 6, 18, 10, 0, tzinfo=UTC)


class WhichStay(unittest.TestCase):
    def test_a_year_of_days_keeps_seven_days_four_weeks_and_twelve_months(self) -> None:
        days = [NOW - timedelta(days=n) for n in range(400)]
        kept = keeping.to_keep(days)
        self.assertLessEqual({NOW - timedelta(days=n) for n in range(7)}, kept)
        self.assertEqual(len({f"{at:%Y-%m}" for at in kept}), 12)
        self.assertLessEqual(len(kept), 7 + 4 + 12)
        self.assertGreaterEqual(len(kept), 7 + 1 + 10)

    @settings(max_examples=80, deadline=None)
    @given(st.lists(st.integers(0, 500_000), max_size=120))
    def test_the_newest_always_stays_and_making_way_twice_is_once(self, minutes: list[int]) -> None:
        moments = {NOW - timedelta(minutes=n) for n in minutes}
        kept = keeping.to_keep(moments)
        self.assertLessEqual(kept, moments)
        self.assertEqual(keeping.to_keep(kept), kept)
        if moments:
            self.assertIn(max(moments), kept)

    def test_only_what_is_ours_is_seen_and_removed(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for n in range(60):
                (folder / f"niddy-{NOW - timedelta(days=n):%Y-%m-%d-%H%M%S}.backup").write_bytes(b"x")
            others = [folder / "niddy-holiday.backup", folder / "notes.txt", folder / "niddy-2026-13-40-250000.backup"]
            for other in others:
                other.write_text("mine")
            keeping.make_way(folder)
            self.assertTrue(all(other.exists() for other in others))
            left = keeping.made(folder)
            self.assertEqual(left[-1].at, NOW)
            self.assertLess(len(left), 15)


class OneADay(unittest.TestCase):
    cluster: Cluster

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = throwaway()
        cls.addClassCleanup(cls.cluster.destroy)
        cls.url = cls.cluster.ensure()
        migrations.upgrade(cls.url)

    def setUp(self) -> None:
        self.home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.now = NOW
        self.backups = Backups(self.cluster, self.home, lambda: self.now)

    def test_it_is_due_once_a_day_and_too_old_after_two(self) -> None:
        self.assertTrue(self.backups.due())
        self.assertTrue(self.backups.seen().too_old)
        seen = self.backups.now()
        self.assertEqual((seen.last_at, seen.count, seen.too_old), (NOW, 1, False))
        self.assertGreater(seen.bytes, 1_000)
        self.assertFalse(self.backups.due())
        self.now += timedelta(hours=25)
        self.assertTrue(self.backups.due())
        self.now += timedelta(hours=30)
        self.assertTrue(self.backups.seen().too_old)

    def test_a_failed_one_is_said_and_the_last_good_one_stays(self) -> None:
        self.backups.now()
        self.now += timedelta(days=1)
        with mock.patch.object(Cluster, "dump", side_effect=ClusterError("the disk is full")):
            seen = self.backups.now()
        self.assertEqual((seen.count, seen.trouble), (1, "the disk is full"))
        self.assertEqual(self.backups.now().trouble, "")

    def test_a_clock_set_back_does_not_stop_them_for_ever(self) -> None:
        self.now = NOW + timedelta(days=900)
        self.backups.now()
        self.now = NOW
        self.assertTrue(self.backups.due())

    def test_an_upgrade_is_preceded_by_a_backup_and_a_plain_start_is_not(self) -> None:
        settings = Settings(home=self.cluster.home)
        folder = self.cluster.home / "backups" / "before-upgrade"
        serve._before_upgrade(settings, self.url)
        self.assertFalse(folder.exists())
        command.downgrade(migrations._config(self.url), "0021")
        serve._before_upgrade(settings, self.url)
        self.assertEqual(len(keeping.made(folder)), 1)
        migrations.upgrade(self.url)


class ADatabaseThatDies(unittest.TestCase):
    def test_while_a_start_looks_at_it_it_is_waited_for_and_looked_at_again(self) -> None:
        tried: list[int] = []

        def dying(times: int) -> None:
            tried.append(times)
            if len(tried) <= times:
                raise OperationalError("select 1", None, Exception("terminating connection"))

        with mock.patch.object(serve.time, "sleep") as slept:
            serve._patiently(lambda: dying(2))
        self.assertEqual((len(tried), slept.call_count), (3, 2))
        clock = iter(range(0, 1_000, 20))
        with (
            mock.patch.object(serve.time, "sleep"),
            mock.patch.object(serve.time, "monotonic", lambda: next(clock)),
            self.assertRaisesRegex(ClusterError, "cannot be used: terminating connection"),
        ):
            serve._patiently(lambda: dying(1_000))


class UnderAnyMask(unittest.TestCase):
    def test_a_cluster_is_made_where_only_its_maker_may_look(self) -> None:
        closed = Path(self.enterContext(tempfile.TemporaryDirectory()))
        there = Path(self.enterContext(tempfile.TemporaryDirectory()))
        closed.chmod(0o700)
        there.chmod(0o755)
        mask = os.umask(0o077)
        self.addCleanup(os.umask, mask)
        with mock.patch("niddy.operations.cluster.ELSEWHERE", there / "elsewhere"):
            made = Cluster(closed / "home", durable=False)
            made.home.mkdir()
            made = Cluster(closed / "home", durable=False)
            self.addCleanup(made.destroy)
            made.ensure()
            self.assertTrue(made.running())
            self.assertEqual(made.folder.stat().st_mode & 0o777, 0o700)


class TheDoctor(unittest.TestCase):
    def examined(self, settings: Settings, **what: datetime) -> dict[str, doctor.Finding]:
        at = what.get("at", datetime.now(UTC))
        return {finding.what: finding for finding in doctor.examine(settings, clock=lambda: at)}

    def test_what_is_well_and_what_is_not_is_said_with_what_to_do(self) -> None:
        cluster = throwaway()
        self.addCleanup(cluster.destroy)
        url = cluster.ensure()
        port = free_port()
        settings = Settings(home=cluster.home, port=port)
        found = self.examined(settings)
        self.assertIn("empty", found["Database"].says)
        migrations.upgrade(url)
        found = self.examined(settings)
        self.assertIn("up to date", found["Database"].says)
        self.assertFalse(found["Backups"].well)
        self.assertIn("./niddy backup", found["Backups"].do)
        self.assertTrue(found[f"Port {port}"].well)
        keeping.back_up(cluster, keeping.folder_of(cluster.home), datetime.now(UTC))
        self.assertTrue(self.examined(settings)["Backups"].well)
        late = self.examined(settings, at=datetime.now(UTC) + timedelta(days=9))
        self.assertIn("9 days old", late["Backups"].says)
        command.downgrade(migrations._config(url), "0021")
        self.assertIn("earlier version (0021)", self.examined(settings)["Database"].says)
        cluster.stop()
        self.assertIn("stopped", self.examined(settings)["Database"].says)

    def test_a_folder_that_cannot_be_written_is_a_finding_and_no_crash(self) -> None:
        cluster = throwaway()
        self.addCleanup(cluster.destroy)
        cluster.ensure()
        settings = Settings(home=cluster.home, port=free_port())
        real = os.access
        denied = OSError(errno.EROFS, "Read-only file system")
        with (
            mock.patch("niddy.operations.doctor.try_lock", side_effect=denied),
            mock.patch("os.access", lambda path, mode: path != settings.home and real(path, mode)),
        ):
            found = self.examined(settings)
        self.assertIn("cannot be written", found["Data folder"].says)
        self.assertIn("empty", found["Database"].says)

    def test_a_taken_port_a_frozen_clock_and_a_lost_date_are_wrong(self) -> None:
        with tempfile.TemporaryDirectory() as name, closing(socket.socket()) as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            port = other.getsockname()[1]
            settings = Settings.model_validate({"home": Path(name) / "new", "port": port, "today": "2026-06-18"})
            found = self.examined(settings)
            self.assertFalse(found[f"Port {port}"].well)
            self.assertIn("NIDDY_PORT", found[f"Port {port}"].do)
            self.assertFalse(found["Clock"].well)
            self.assertTrue(found["Data folder"].well)
            plain = Settings(home=Path(name), port=port)
            self.assertFalse(self.examined(plain, at=datetime(1970, 1, 1, tzinfo=UTC))["Clock"].well)
            with mock.patch("niddy.operations.doctor.shutil.disk_usage", return_value=mock.Mock(free=1_000_000)):
                self.assertIn("free some space", self.examined(plain)["Disk"].do)

    def test_a_database_elsewhere_that_does_not_answer_is_said(self) -> None:
        url = f"postgresql+psycopg://nobody@127.0.0.1:{free_port()}/none"
        with tempfile.TemporaryDirectory() as name:
            found = self.examined(Settings(home=Path(name), database_url=url))
        self.assertFalse(found["Database"].well)
        self.assertIn("does not answer", found["Database"].says)
        self.assertNotIn("Backups", found)
        self.assertTrue(found["Database"].line().startswith("WRONG"))
