"""The commands' promises: a second start is told, Ctrl-C stops all, a backup brings all back."""

import signal
import stat
import time
import unittest

import httpx

from niddy.operations.cluster import Cluster, free_port
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

        with psycopg.connect(cluster._plain_url("niddy")) as connection:
            for name, wanted in {"fsync": "on", "synchronous_commit": "on", "listen_addresses": "127.0.0.1"}.items():
                self.assertEqual(connection.execute(f"show {name}").fetchone(), (wanted,))
        with self.assertRaises(psycopg.OperationalError):
            psycopg.connect(cluster._plain_url("niddy").replace("niddy:", "niddy:wrong"))

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
