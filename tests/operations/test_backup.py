"""Backups prove themselves and harm nothing; restores are whole or not at all, of older tables too."""

import os
import re
import shutil
import signal
import stat
import subprocess
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import httpx
import psycopg

from niddy.db import migrations
from niddy.operations import backup, restoring
from niddy.operations.cluster import Cluster, ClusterError
from niddy.operations.instance import Instance
from niddy.operations.process import Known


class Backups(unittest.TestCase):
    instance: Instance

    @classmethod
    def setUpClass(cls) -> None:
        cls.instance = Instance.furnished("2026-06-18")
        cls.addClassCleanup(cls.instance.destroy)
        cls.instance.start()
        cls.cluster: Cluster = cls.instance.cluster
        cls.kept = cls.instance.home / "kept.backup"
        backup.write(cls.cluster, cls.kept)

    def refused(self, *arguments: str) -> str:
        done = self.instance.run(*arguments)
        self.assertEqual(done.returncode, 1, done.stdout)
        self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
        return done.stderr

    def test_only_its_owner_reads_it_and_no_argument_shows_the_password(self) -> None:
        self.assertEqual(stat.S_IMODE(self.kept.stat().st_mode), 0o600)
        seen: list[list[str]] = []
        real = subprocess.run

        def spy(command: list[str], **what: object) -> object:
            seen.append(command)
            return real(command, **what)  # type: ignore[call-overload]

        with mock.patch("niddy.operations.cluster.subprocess.run", spy):
            backup.write(self.cluster, self.instance.home / "another.backup")
        password = (self.instance.home / "password").read_text()
        self.assertTrue(any("pg_dump" in command[0] for command in seen))
        self.assertFalse(any(password in word for command in seen for word in command))

    def test_a_failed_backup_leaves_the_last_good_one_and_nothing_of_its_own(self) -> None:
        before, there = self.kept.read_bytes(), set(self.instance.home.iterdir())
        with mock.patch.object(Cluster, "dump", side_effect=ClusterError("the disk is full")):
            self.assertRaises(ClusterError, backup.write, self.cluster, self.kept)
        with mock.patch.object(Cluster, "dump", lambda _, file: file.write_bytes(before[: len(before) // 2])):
            self.assertRaises(ClusterError, backup.write, self.cluster, self.kept)
        self.assertEqual(self.kept.read_bytes(), before)
        self.assertEqual(set(self.instance.home.iterdir()), there)

    def test_what_is_no_backup_is_never_written_over(self) -> None:
        note = self.instance.home / "note.txt"
        note.write_text("mine")
        self.assertIn("no backup; name another", self.refused("backup", str(note)))
        self.assertEqual(note.read_text(), "mine")
        pipe = self.instance.home / "pipe"
        os.mkfifo(pipe)
        self.assertIn("not a plain file", self.refused("backup", str(pipe)))
        self.assertTrue(stat.S_ISFIFO(pipe.stat().st_mode))
        self.assertIn("is a folder", self.refused("backup", str(self.instance.home)))
        self.assertIn("no folder", self.refused("backup", "/no/such/place.backup"))


class Restores(unittest.TestCase):
    def setUp(self) -> None:
        self.instance = Instance(NIDDY_TODAY="2026-06-18")
        self.addCleanup(self.instance.destroy)
        self.cluster = self.instance.cluster
        self.cluster.ensure()

    def dumped(self, name: str) -> Path:
        """A dump of another database of the same cluster."""
        file = self.instance.home / f"{name}.backup"
        file.touch(0o600)
        self.cluster.tool("pg_dump", "-Fc", "-f", str(file), database=name)
        return file

    def test_a_backup_of_older_tables_is_brought_up_and_a_foreign_one_leaves_nothing(self) -> None:
        older = self.cluster.clone("template0", "older")
        migrations.upgrade(older, "0003")
        with psycopg.connect(self.cluster.plain_url("older")) as connection:
            connection.execute(
                "insert into slab (name, area_cm2, tooth, retired) values ('Old slate', 700, 'fair', false)"
            )
        file = self.dumped("older")
        foreign = self.cluster.clone("template0", "foreign_one")
        with psycopg.connect(foreign.replace("postgresql+psycopg", "postgresql")) as connection:
            connection.execute("create table strange (id int)")
        strange = self.dumped("foreign_one")
        with psycopg.connect(self.cluster.plain_url("older")) as connection:
            connection.execute("create table strange (id int)")
            connection.execute("create function evil() returns int language sql as 'select 1'")
        laced = self.instance.home / "laced.backup"
        laced.touch()
        self.cluster.tool("pg_dump", "-Fc", "-f", str(laced), database="older")
        for name in ("older", "foreign_one"):
            self.cluster.drop(name)

        done = self.instance.run("restore", str(file))
        self.assertEqual(done.returncode, 0, done.stderr)
        for bad in (strange, laced):
            refused = self.instance.run("restore", str(bad))
            self.assertEqual(refused.returncode, 1)
            self.assertIn("nothing was changed", refused.stderr)
        self.instance.start("--no-demo")
        slabs = httpx.get(f"{self.instance.base}/api/workshop", timeout=30).json()["slabs"]
        self.assertIn("Old slate", [slab["name"] for slab in slabs])
        with psycopg.connect(self.cluster.plain_url("niddy")) as connection:
            names = {row[0] for row in connection.execute("select datname from pg_database").fetchall()}
            self.assertIsNone(connection.execute("select to_regclass('strange')").fetchone()[0])  # type: ignore[index]
        self.assertEqual(names, {"niddy", "postgres", "template0", "template1"})


class Processes(unittest.TestCase):
    def test_a_number_that_is_anothers_by_now_is_never_signalled(self) -> None:
        other = subprocess.Popen(["sleep", "60"])
        self.addCleanup(other.kill)
        known = Known.of(other.pid)
        assert known is not None
        stale = Known(known.pid, known.began - 1)
        self.assertFalse(stale.alive())
        stale.tell(signal.SIGKILL)
        self.assertIsNone(other.poll())
        known.tell(signal.SIGKILL)
        other.wait()
        self.assertTrue(known.gone_within(5))

    def test_stop_leaves_a_foreign_process_alone_and_ends_a_starting_one(self) -> None:
        instance = Instance(NIDDY_TODAY="2026-06-18")
        self.addCleanup(instance.destroy)
        other = subprocess.Popen(["sleep", "60"])
        self.addCleanup(other.kill)
        (instance.home / "run.json").write_text(f'{{"pid": {other.pid}, "began": 1, "port": 1}}')
        self.assertIn("was not running", instance.run("stop").stdout)
        self.assertIsNone(other.poll())
        instance.begin()
        while not (instance.home / "run.json").is_file():
            pass
        self.assertIn("is stopped", instance.run("stop").stdout)
        assert instance.process is not None
        instance.process.wait(30)
        self.assertFalse(instance.cluster.running())

    def test_a_lost_password_is_replaced_and_a_half_made_cluster_made_anew(self) -> None:
        instance = Instance()
        self.addCleanup(instance.destroy)
        cluster = instance.cluster
        (cluster.folder / "data").mkdir(parents=True)
        (cluster.folder / "making-1").mkdir()
        cluster.ensure()
        cluster.stop()
        (instance.home / "password").unlink()
        cluster.ensure()
        self.assertEqual(list(cluster.folder.glob("making-*")), [])
        cluster.stop()
        pid = cluster.data / "postmaster.pid"
        pid.write_text(f"{os.getpid()}\n{cluster.data}\n")
        self.assertFalse(cluster.running())
        cluster.ensure()
        self.assertTrue(cluster.ready())
        self.assertEqual(cluster.stop(), "stopped")

    def test_what_is_wrong_outside_is_one_line(self) -> None:
        for environment, words in (
            ({"NIDDY_HOME": "/proc/nowhere"}, "niddy: "),
            ({"NIDDY_PORT": "70000"}, "1 to 65535"),
            ({"NIDDY_ADDRESS": "http://*:8740"}, "http or https"),
            ({"NIDDY_ADDRESS": "ftp://studio.test:8740"}, "http or https"),
            ({"NIDDY_ADDRESS": "http://[::1]:8740"}, "http or https"),
            ({"NIDDY_ADDRESS": "http://studio.test:1"}, "the port of NIDDY_PORT"),
        ):
            instance = Instance(**environment)
            self.addCleanup(instance.destroy)
            told = instance.run("stop")
            self.assertEqual(told.returncode, 1, told.stdout)
            self.assertIn(words, told.stderr)
            self.assertEqual(len(told.stderr.strip().splitlines()), 1, told.stderr)


class Hostile(unittest.TestCase):
    """A backup is a list of statements, whoever wrote it: none of it is run that could reach beyond its tables."""

    def setUp(self) -> None:
        self.instance = Instance(NIDDY_TODAY="2026-06-18")
        self.addCleanup(self.instance.destroy)
        self.cluster = self.instance.cluster
        self.cluster.ensure()
        migrations.upgrade(self.cluster.url())
        self.marker = Path(tempfile.mkdtemp()) / "ran"
        self.marker.parent.chmod(0o777)
        self.addCleanup(shutil.rmtree, self.marker.parent)

    def crafted(self, *statements: str) -> Path:
        """A backup of tables of ours that somebody changed first."""
        name = f"crafted_{len(statements[0])}"
        url = self.cluster.clone("niddy", name)
        with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as connection:
            for statement in statements:
                connection.execute(statement)
        file = self.instance.home / f"{name}.backup"
        file.touch(0o600)
        self.cluster.tool("pg_dump", "-Fc", "-f", str(file), database=name).check_returncode()
        self.cluster.drop(name)
        return file

    def refused(self, file: Path) -> str:
        with self.assertRaises(ClusterError) as refused:
            restoring.bring_in(self.cluster, file)
        self.assertFalse(self.marker.exists())
        with psycopg.connect(self.cluster.plain_url("postgres")) as connection:
            left = connection.execute("select datname from pg_database where datname like 'niddy_incoming%'").fetchall()
            guests = connection.execute("select rolname from pg_roles where rolname like 'niddy_guest%'").fetchall()
        self.assertEqual((left, guests), ([], []))
        return str(refused.exception)

    def test_a_statement_inside_an_entry_of_a_table_cannot_run_a_program(self) -> None:
        file = self.crafted("insert into slab (name, area_cm2, tooth, retired) values ('S', 700, 'fair', false)")
        content = file.read_bytes()
        entry = re.search(rb"COPY public\.slab \([^)]*\) FROM stdin;\n", content)
        assert entry is not None
        run = f"copy (select 1) to program 'touch {self.marker}';".encode()
        self.assertLess(len(run), len(entry[0]) - 3)
        file.write_bytes(content.replace(entry[0], run + b"--" + b"x" * (len(entry[0]) - len(run) - 3) + b"\n", 1))
        # The list of its contents shows nothing: it is the statement of an entry that looks like every other.
        backup.check(self.cluster, file)
        self.assertIn("must be superuser", self.refused(file))

    def test_what_would_run_later_in_a_default_a_check_or_an_index_is_not_ours(self) -> None:
        for statement in (
            "alter table slab alter column name set default pg_read_file('/etc/hostname')",
            "alter table slab add constraint odd check (length(name) < 10000)",
            "create index odd on slab (lower(name))",
            "alter table slab add column odd text",
            "alter table slab alter column name drop not null",
        ):
            with self.subTest(statement):
                self.assertIn("not ours", self.refused(self.crafted(statement)))

    def test_a_backup_of_a_newer_niddy_is_refused_as_such(self) -> None:
        self.assertIn("newer Niddy", self.refused(self.crafted("update alembic_version set version_num = '9999'")))

    def test_rooms_number_on_from_the_highest_number_ever_given(self) -> None:
        older = self.crafted("insert into numbering (room, last) values ('slab', 4), ('runs', 9)")
        with psycopg.connect(self.cluster.plain_url("niddy")) as connection:
            connection.execute("insert into numbering (room, last) values ('slab', 7), ('cans', 2)")
        restoring.bring_in(self.cluster, older)
        with psycopg.connect(self.cluster.plain_url("niddy")) as connection:
            given = dict(connection.execute("select room, last from numbering").fetchall())
        self.assertEqual(given, {"slab": 7, "runs": 9, "cans": 2})
