"""What tests share: a throwaway cluster, a fresh database a class, a server on it, a browser."""

from __future__ import annotations

import atexit
import os
import shutil
import sys
import tempfile
import threading
import time
import unittest
from datetime import UTC, date, datetime
from functools import cache
from itertools import count
from pathlib import Path
from typing import Any, ClassVar
from uuid import uuid4

import httpx
import uvicorn
from argon2 import PasswordHasher

from niddy import demo
from niddy.api.app import create_app
from niddy.db import Database, migrations
from niddy.devices.stand_in import Pan, Probe, Wire
from niddy.devices.stand_in import create_app as create_stand_in
from niddy.operations import certificate
from niddy.operations.cluster import Cluster
from niddy.operations.instance import Instance, wait_for
from niddy.operations.ports import free_port
from niddy.operations.throwaway import throwaway
from niddy.settings import Settings
from niddy.studio import makers, workshop
from niddy.studio.makers import proving

# What is slow for whoever guesses is slow for tests as well.
proving.HASHER = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)

TODAY = date(2026, 6, 18)
__all__ = ["NOW", "TODAY", "DatabaseTest", "Instance", "ServerTest", "StandIn", "cluster", "now_iso", "wait_for"]
NOW = datetime(2026, 6, 18, 10, 0, tzinfo=UTC)
OWNERS_PASSWORD = "umber and linseed"
_names = count(1)


@cache
def cluster() -> Cluster:
    """The throwaway cluster of this test process, with an empty and a demo database to copy."""
    if shared := os.environ.get("NIDDY_TEST_CLUSTER"):
        return Cluster(Path(shared), durable=False)
    made = throwaway()
    atexit.register(made.destroy)
    made.ensure()
    for name in ("empty_template", "demo_template"):
        url = made.clone("template0", name)
        migrations.upgrade(url)
        database = Database(url)
        with database.session() as session:
            workshop.furnish(session)
        # A kept demo of older tables cannot be taken in: while it is being kept anew it is not needed either.
        if name == "demo_template" and not os.environ.get("NIDDY_KEEP_DEMO"):
            demo.load(database, NOW)
        database.dispose()
    return made


def now_iso() -> str:
    """The frozen time as a client would send it."""
    return NOW.isoformat()


class DatabaseTest(unittest.TestCase):
    """A class with a database of its own: furnished and empty, or (`with_demo`) the demo studio."""

    with_demo = False
    database: Database

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls._name = f"test_{os.getpid()}_{next(_names)}"
        url = cluster().clone("demo_template" if cls.with_demo else "empty_template", cls._name)
        cls.database = Database(url)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.database.dispose()
        cluster().drop(cls._name)
        super().tearDownClass()


class _Server(uvicorn.Server):
    def install_signal_handlers(self) -> None:
        """Signals belong to the test runner."""


class ServerTest(DatabaseTest):
    """A class with a real server on its database, its clock frozen; `host` is a name it answers to besides its own."""

    base: str
    host: ClassVar[str] = ""
    scheme: ClassVar[str] = "http"
    listens: ClassVar[str] = "127.0.0.1"
    signs_in: ClassVar[bool] = True
    description: ClassVar[Path | None] = None

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        port = cls.port()
        cls.base = f"{cls.scheme}://{cls.listens}:{port}"
        told = {"port": port, "address": f"{cls.scheme}://{cls.host}:{port}"} if cls.host else {}
        secret = cls.certificate() if cls.scheme == "https" else {}
        app = create_app(Settings.model_validate({"today": TODAY, **told}), cls.database, description=cls.description)
        config = uvicorn.Config(
            app,
            host=cls.listens,
            port=port,
            log_level="critical",
            timeout_graceful_shutdown=1,
            access_log=False,
            lifespan="on",
            **secret,
        )
        cls._server = _Server(config)
        cls._thread = threading.Thread(target=cls._server.run, daemon=True)
        cls._thread.start()
        wait_for(cls.base)
        # Plain http: the certificates of the world need not be read for it.
        cls.client = httpx.Client(base_url=cls.base, timeout=60, verify=False)
        if cls.host and cls.signs_in:
            cls.sign_in(cls.client)

    @classmethod
    def certificate(cls) -> dict[str, str]:
        """A certificate of our own for the server of this class, as uvicorn takes it."""
        folder = Path(tempfile.mkdtemp(prefix="niddy-certificate-"))
        cls.addClassCleanup(shutil.rmtree, folder)
        made = certificate.Files(folder / "niddy.crt", folder / "niddy.key", folder / "authority.crt")
        certificate.make(made, cls.host, datetime.now(UTC))
        return {"ssl_certfile": str(made.certificate), "ssl_keyfile": str(made.key)}

    @classmethod
    def port(cls) -> int:
        """Where the server of this class listens."""
        return free_port()

    @classmethod
    def sign_in(cls, client: httpx.Client) -> None:
        """Let a client be the owner."""
        makers.make_owner(cls.database, NOW, "Owner", OWNERS_PASSWORD)
        said = {"name": "Owner", "password": OWNERS_PASSWORD}
        client.post("/api/makers/sign-in", json=said).raise_for_status()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.client.close()
        cls._server.should_exit = True
        cls._thread.join(10)
        super().tearDownClass()

    def ok(self, response: httpx.Response) -> Any:
        """The body of an answer that must be a success."""
        self.assertLess(response.status_code, 300, response.text)
        return response.json()

    def refused(self, response: httpx.Response, field: str, status: int = 422) -> dict[str, Any]:
        """The refusal of a field in a problem document that must be there."""
        self.assertEqual(response.status_code, status, response.text)
        self.assertEqual(response.headers["content-type"], "application/problem+json")
        problem = response.json()
        found = [e for e in problem["errors"] if e["field"] == field]
        self.assertTrue(found, f"no refusal of {field} in {problem['errors']}")
        self.assertTrue(found[0]["problem"] and found[0]["accepted"])
        entry: dict[str, Any] = found[0]
        return entry

    def take_to_slab(self, **plan: Any) -> int:
        """A batch made over HTTP; its number."""
        asked = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 100,
            **plan,
        }
        body = {"request_id": str(uuid4()), "plan": asked}
        return int(self.ok(self.client.post("/api/plan/take-to-slab", json=body))["number"])

    def act(self, number: int, kind: str, **what: Any) -> httpx.Response:
        """One act sent to a slab."""
        body = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
        return self.client.post(f"/api/slab/{number}/acts", json=body)


class StandIn:
    """The stand-in balance in this process: its pan, its page's address and its wire."""

    def __init__(self) -> None:
        self.pan = Pan(noise_g=0.0, settle_s=0.1)
        self.wire = Wire(self.pan)
        port, self.wire_port, self.warm_port, self.ph_port = free_port(), free_port(), free_port(), free_port()
        self.base = f"http://127.0.0.1:{port}"
        app = create_stand_in(self.pan, self.wire, self.wire_port, Probe(), self.warm_port, self.ph_port)
        self._server = _Server(uvicorn.Config(app, host="127.0.0.1", port=port, log_level="critical"))
        self._thread = threading.Thread(target=self._server.run, daemon=True)
        self._thread.start()
        self.client = httpx.Client(base_url=self.base, timeout=10)
        until = time.monotonic() + 20
        while not self._server.started and time.monotonic() < until:
            time.sleep(0.02)

    def set(self, **what: Any) -> None:
        """What its page would send."""
        self.client.post("/pan", json=what).raise_for_status()

    def warm(self, **what: Any) -> None:
        """What its page would send of the thermometer."""
        self.client.post("/probe", json=what).raise_for_status()

    def sour(self, **what: Any) -> None:
        """What its page would send of the pH meter."""
        self.client.post("/electrode", json=what).raise_for_status()

    def settings(self, kept: dict[str, Any]) -> dict[str, Any]:
        """The studio's settings with this balance set up."""
        return {
            **kept,
            "balance_port": f"socket://127.0.0.1:{self.wire_port}",
            "thermometer_port": f"socket://127.0.0.1:{self.warm_port}",
            "ph_port": f"socket://127.0.0.1:{self.ph_port}",
        }

    def stop(self) -> None:
        self.client.close()
        self._server.should_exit = True
        self._thread.join(10)


def demo_backup(home: Path) -> Path:
    """The demo of a shared cluster as a backup, for whole instances."""
    return home / "demo.backup"


if __name__ == "__main__":
    # Kept up for the suites of one whole test run, until whoever asked for it closes the line.
    shared_home = cluster().home
    file = demo_backup(shared_home)
    cluster().tool("pg_dump", "-Fc", "-f", str(file), database="demo_template").check_returncode()
    print(shared_home, flush=True)
    sys.stdin.read()
