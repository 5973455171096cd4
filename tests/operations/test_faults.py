"""Two hundred acts through random kills of the app and of PostgreSQL, with requests dropped and repeated."""

import contextlib
import json
import random
import signal
import socket
import threading
import time
import unittest
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

import httpx

from niddy.operations.cluster import Cluster
from tests.support import Instance, now_iso

ACTS = 200
KILLS = 6
SEED = 20260618


class Faults(unittest.TestCase):
    def setUp(self) -> None:
        self.luck = random.Random(SEED)
        self.instance = Instance(NIDDY_TODAY="2026-06-18")
        self.addCleanup(self.instance.destroy)
        self.instance.start("--no-demo")
        plan = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 100,
        }
        opened = httpx.post(
            f"{self.instance.base}/api/plan/take-to-slab",
            json={"request_id": str(UUID(int=self.luck.getrandbits(128), version=4)), "plan": plan},
        )
        self.number = opened.json()["number"]
        self.address = f"{self.instance.base}/api/slab/{self.number}/acts"

    def acts(self) -> list[dict[str, Any]]:
        """A session that is always allowed: powder, then pours, notes, looks, spells, and strike-outs of pours."""
        made: list[dict[str, Any]] = []
        running, pours = False, []
        at = datetime.fromisoformat(now_iso())
        for n in range(ACTS):
            at += timedelta(seconds=20)
            act: dict[str, Any] = {
                "id": str(UUID(int=self.luck.getrandbits(128), version=4)),
                "made_at": at.isoformat(),
            }
            kind = (
                "powder" if n == 0 else "look" if n == 1 else self.luck.choice(("oil", "oil", "note", "mull", "strike"))
            )
            # A spell is closed at once: striking a pour out would start again a muller that it had stopped.
            running, kind = kind == "mull" and not running, "pause" if running else kind
            if kind == "strike" and not pours:
                kind = "note"
            act["kind"] = kind
            if kind == "powder":
                act |= {"source": "library-bone-black", "measure": {"amount": 100.0}}
            elif kind == "oil":
                act |= {"source": "library-linseed-refined", "measure": {"amount": 0.25}}
                pours.append(act["id"])
            elif kind == "look":
                act |= {"stage": "wet_curds"}
            elif kind == "note":
                act |= {"text": f"note {n}"}
            elif kind == "strike":
                act |= {"strikes": pours.pop()}
            made.append(act)
        return made

    def drop(self, act: dict[str, Any]) -> None:
        """Send an act and hang up before the answer."""
        body = json.dumps(act).encode()
        head = (
            f"POST /api/slab/{self.number}/acts HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
            f"Content-Length: {len(body)}\r\n\r\n"
        )
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", self.instance.port), 2) as wire:
            wire.sendall(head.encode() + body)

    def until_acknowledged(self, act: dict[str, Any]) -> None:
        """What the browser's queue does: the same act again until it is told."""
        until = time.monotonic() + 90
        while time.monotonic() < until:
            with contextlib.suppress(httpx.TransportError):
                answer = httpx.post(self.address, json=act, timeout=3)
                if answer.status_code == 200:
                    return
                # Only a server that lost its database may fail; a refusal would mean that order was lost.
                self.assertGreaterEqual(answer.status_code, 500, answer.text)
            if not self.killed.is_set():
                time.sleep(0.05)
                continue
            self.revive()
        self.fail("never acknowledged")

    def revive(self) -> None:
        self.killed.clear()
        self.instance.kill(signal.SIGKILL)
        self.instance.start("--no-demo")

    def kill_soon(self, what: str) -> None:
        time.sleep(self.luck.random() * 0.03)
        if what == "app":
            assert self.instance.process is not None
            self.instance.process.send_signal(signal.SIGKILL)
        else:
            cluster = Cluster(self.instance.home)
            postmaster = (cluster.data / "postmaster.pid").read_text().splitlines()[0]
            cluster._as_owner(["kill", "-KILL", postmaster])
        self.killed.set()

    def test_every_acknowledged_act_is_there_once_and_in_order(self) -> None:
        self.killed = threading.Event()
        acts = self.acts()
        kills = dict(zip(self.luck.sample(range(5, ACTS - 5), KILLS), ["app", "postgres"] * (KILLS // 2), strict=True))
        for n, act in enumerate(acts):
            killer = None
            if n in kills:
                killer = threading.Thread(target=self.kill_soon, args=(kills[n],))
                killer.start()
            fate = self.luck.random()
            if fate < 0.15:
                self.drop(act)
            self.until_acknowledged(act)
            if fate > 0.85:
                self.until_acknowledged(act)
            if killer is not None:
                killer.join()
                if self.killed.is_set():
                    self.revive()
        told: list[dict[str, Any]] = []
        before = ACTS + 1
        while before > 1:
            part = httpx.get(
                f"{self.instance.base}/api/batches/{self.number}/log", params={"before": before}, timeout=60
            ).json()
            told = part["entries"] + told
            before = told[0]["seq"]
        self.assertEqual([entry["id"] for entry in told], [act["id"] for act in acts])
        self.assertEqual([entry["seq"] for entry in told], list(range(1, ACTS + 1)))
        struck = {act["strikes"] for act in acts if act["kind"] == "strike"}
        poured = 0.25 * sum(act["kind"] == "oil" and act["id"] not in struck for act in acts)
        seen = httpx.get(f"{self.instance.base}/api/slab/{self.number}", timeout=60).json()
        self.assertAlmostEqual(seen["oil"]["in_g"], poured)
        self.assertEqual({entry["id"] for entry in told if entry["struck"]}, struck)
