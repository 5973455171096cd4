"""The commands' promises: a second start is told, Ctrl-C stops all, a backup brings all back."""

import json
import signal
import socket
import stat
import subprocess
import time
import unittest
from unittest import mock
from uuid import uuid4

import httpx

from niddy.operations.cluster import Cluster, ClusterError
from niddy.operations.ports import free_port
from tests.support import Instance


class Commands(unittest.TestCase):
    def test_a_day_in_the_life_of_an_instance(self) -> None:
        instance = Instance.furnished("2026-06-18", cold=True)
        self.addCleanup(instance.destroy)
        instance.start()
        home = httpx.get(f"{instance.base}/api/home", timeout=60).json()
        self.assertEqual(home["counts"]["slab"], 1)

        second = instance.run("start")
        self.assertEqual(second.returncode, 0)
        self.assertIn(f"runs already: {instance.base}", second.stdout)
        # So far as from a terminal; what follows need not read its packages anew each time.
        instance.cold = False

        cluster = Cluster(instance.home)
        self.assertEqual(stat.S_IMODE(cluster.folder.stat().st_mode), 0o700)
        control = cluster._run("pg_controldata", "-D", str(cluster.data)).stdout
        self.assertRegex(control, r"Data page checksum version:\s+1")
        import psycopg

        with psycopg.connect(cluster.plain_url("niddy")) as connection:
            for name, wanted in {"fsync": "on", "synchronous_commit": "on", "listen_addresses": "127.0.0.1"}.items():
                self.assertEqual(connection.execute(f"show {name}").fetchone(), (wanted,))
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(cluster.plain_url("niddy").replace("niddy:", "niddy:wrong"))

        kept = instance.home / "kept.backup"
        self.assertEqual(instance.run("backup", str(kept)).returncode, 0)
        self.assertEqual(instance.run("restore", str(kept)).returncode, 1)
        httpx.delete(f"{instance.base}/api/plan/saved/1")

        output = instance.kill(signal.SIGINT)
        self.assertIn("Niddy is ready", output)
        self.assertNotIn("Traceback", output)
        self.assertFalse(cluster.running())

        restored = instance.run("restore", str(kept))
        self.assertEqual(restored.returncode, 0, restored.stderr)
        broken = instance.home / "broken.backup"
        broken.write_text("no backup at all")
        self.assertEqual(instance.run("restore", str(broken)).returncode, 1)
        instance.start()
        self.assertEqual(httpx.get(f"{instance.base}/api/plan/saved/1", timeout=60).status_code, 200)

        self.assertIn("is stopped", instance.run("stop").stdout)
        for _ in range(50):
            if instance.process is None or instance.process.poll() is not None:
                break
            time.sleep(0.1)
        self.assertIn("was not running", instance.run("stop").stdout)

    def test_asked_to_end_it_answers_what_it_was_asked_and_puts_off_the_rest(self) -> None:
        instance = Instance.furnished("2026-06-18")
        self.addCleanup(instance.destroy)
        instance.start()
        act = {"id": str(uuid4()), "kind": "note", "made_at": "2026-06-18T10:00:00Z", "text": "the last words"}
        body = json.dumps(act).encode()
        head = (
            f"POST /api/slab/32/acts HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
            f"Content-Length: {len(body)}\r\nConnection: close\r\n\r\n"
        ).encode()
        with socket.create_connection(("127.0.0.1", instance.port), timeout=20) as slow:
            slow.sendall(head + body[:20])
            time.sleep(0.5)
            assert instance.process is not None
            instance.process.send_signal(signal.SIGTERM)
            late = self.soon(instance.base)
            self.assertEqual((late.status_code, late.headers["retry-after"]), (503, "2"))
            slow.sendall(body[20:])
            answer = b"".join(iter(lambda: slow.recv(65536), b""))
        self.assertTrue(answer.startswith(b"HTTP/1.1 200"), answer[:200])
        self.assertIn(b"the last words", answer)
        instance.process.wait(30)
        instance.process = None
        instance.start()
        log = httpx.get(f"{instance.base}/api/batches/32/log", params={"before": 2_000_000_000}, timeout=60).json()
        self.assertIn(act["id"], [entry["id"] for entry in log["entries"]])

    def soon(self, base: str) -> httpx.Response:
        """The first answer that is no success, within seconds."""
        until = time.monotonic() + 8
        while True:
            answer = httpx.get(f"{base}/api/home", timeout=20)
            if answer.status_code != 200 or time.monotonic() > until:
                return answer
            time.sleep(0.02)

    def test_notes_that_are_empty_or_garbled_stop_nothing_and_are_told(self) -> None:
        instance = Instance.furnished("2026-06-18")
        self.addCleanup(instance.destroy)
        kept = instance.home / "kept.backup"
        for name, said in (("port", ""), ("port", "no port\0"), ("password", ""), ("password", "x y\n\xff")):
            with self.subTest(name, said=said):
                (instance.home / name).write_bytes(said.encode("latin-1"))
                told = instance.run("doctor").stdout
                self.assertIn(f"{name} is empty or garbled", told)
                done = instance.run("backup", str(kept))
                self.assertEqual(done.returncode, 0, done.stderr)
                self.assertNotIn("garbled", instance.run("doctor").stdout)

    def test_what_a_killed_backup_left_is_gone_after_the_next_start(self) -> None:
        instance = Instance.furnished("2026-06-18")
        self.addCleanup(instance.destroy)
        elsewhere = instance.home / "elsewhere"
        elsewhere.mkdir()
        left, mine = elsewhere / ".kept.backup.0a1b2c3d", elsewhere / "mine.backup"
        left.write_text("half")
        mine.write_text("whole")
        for n, path in enumerate((left, mine, elsewhere / "gone")):
            (instance.home / f"backup-under-way-{n}").write_text(str(path))
        instance.start()
        self.assertEqual((left.exists(), mine.exists()), (False, True))
        self.assertEqual(list(instance.home.glob("backup-under-way-*")), [])

    def test_a_full_disk_is_said_in_a_line(self) -> None:
        instance = Instance.furnished("2026-06-18")
        self.addCleanup(instance.destroy)
        done = instance.run("backup", "/dev/full")
        self.assertEqual((done.returncode, len(done.stderr.strip().splitlines())), (1, 1), done.stderr)
        instance.cluster.ensure()
        said = "pg_dump: error: could not write to output file:\nNo space left on device\n"
        failed = subprocess.CompletedProcess(["pg_dump"], 1, "", said)
        with mock.patch.object(Cluster, "tool", return_value=failed), self.assertRaises(ClusterError) as full:
            instance.cluster.dump(instance.home / "kept.backup")
        self.assertEqual(str(full.exception), "the backup failed: no room left on the disk")

    def test_a_setting_that_cannot_be_is_said_in_one_line(self) -> None:
        for name, odd in (("NIDDY_PORT", "door"), ("NIDDY_ADDRESS", "here"), ("NIDDY_TODAY", "someday")):
            instance = Instance(**{name: odd})
            self.addCleanup(instance.destroy)
            told = instance.run("stop")
            self.assertEqual(told.returncode, 1)
            self.assertEqual(len(told.stderr.splitlines()), 1, told.stderr)
            self.assertIn(f"{name}={odd}: accepted is", told.stderr)

    def test_a_taken_port_is_said_in_one_line(self) -> None:
        import socket

        with socket.socket() as other:
            other.bind(("127.0.0.1", free_port()))
            other.listen()
            instance = Instance(NIDDY_PORT=str(other.getsockname()[1]))
            self.addCleanup(instance.destroy)
            told = instance.run("start")
        self.assertEqual(told.returncode, 1)
        self.assertIn("is taken by another program", told.stderr)
