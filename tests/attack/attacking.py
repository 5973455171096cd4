"""Attacks on an instance of its own: kills, odd requests, a foreign page, big words and pictures. Bounded, and told."""

from __future__ import annotations

import contextlib
import json
import random
import re
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from uuid import UUID

import httpx

from niddy.operations.backup import write as write_backup
from niddy.operations.instance import Instance, wait_for
from tests.attack import acts as attack_acts
from tests.attack import files as attack_files
from tests.attack import people as attack_people
from tests.attack.foreign import foreign_page
from tests.attack.large import large

DAY = "2026-06-18"
PLAN = {
    "lines": [{"pigment_key": "bone-black", "parts": 1}],
    "oil": {"oil_key": "linseed-refined"},
    "reduced_pvc": 0.86,
    "pigment_g": 100,
}
WHAT = ("app", "database", "both")


@dataclass
class Outcome:
    """What one kind of attack came to."""

    name: str
    tries: int = 0
    lost: int = 0
    doubled: int = 0
    errors: int = 0
    bricked: int = 0
    notes: list[str] = field(default_factory=list)

    @property
    def held(self) -> bool:
        """Whether nothing was harmed."""
        return not (self.lost or self.doubled or self.errors or self.bricked)


def strike(instance: Instance, what: str) -> None:
    """Kill the application, the database's server, or both."""
    if what in ("app", "both") and instance.process is not None:
        instance.process.kill()
        instance.process.wait()
        instance.process = None
    if what in ("database", "both"):
        instance.kill_database()


def revive(instance: Instance, outcome: Outcome, *arguments: str) -> bool:
    """Start again where the application is gone, and wait; whether it serves."""
    try:
        if instance.process is None:
            instance.begin(*arguments)
        wait_for(instance.base, 90)
    except Exception as error:
        outcome.bricked += 1
        outcome.notes.append(f"{error}: {instance.printed()[-300:]}")
        return False
    return True


def kills_at_start(luck: random.Random, tries: int) -> Outcome:
    """A first start, killed at any moment of it, and again: the next one comes up with the whole demo."""
    outcome = Outcome("first start")
    while outcome.tries < tries:
        instance = Instance(NIDDY_TODAY=DAY)
        try:
            for _ in range(min(2, tries - outcome.tries)):
                if instance.process is None:
                    instance.begin()
                time.sleep(luck.uniform(0.2, 7.0))
                strike(instance, luck.choice(WHAT))
                outcome.tries += 1
            if revive(instance, outcome):
                seen = httpx.get(f"{instance.base}/api/home", timeout=60).json()
                outcome.bricked += seen["counts"]["slab"] != 1 or not seen["attention"]
        finally:
            instance.destroy()
    return outcome


class Session:
    """A maker's device: acts that are sent until they are acknowledged, each with its id from the start."""

    def __init__(self, instance: Instance, luck: random.Random) -> None:
        self.instance, self.luck = instance, luck
        body = {"request_id": self.new_id(), "plan": PLAN}
        opened = httpx.post(f"{instance.base}/api/plan/take-to-slab", json=body, timeout=30)
        self.number = int(opened.json()["number"])
        self.acknowledged: list[str] = []
        self.over = threading.Event()
        self.refused = 0

    def new_id(self) -> str:
        """An id as a browser makes one."""
        return str(UUID(int=self.luck.getrandbits(128), version=4))

    def send(self) -> None:
        """Act after act until told to stop; each again and again until it is acknowledged, some twice."""
        address = f"{self.instance.base}/api/slab/{self.number}/acts"
        while not self.over.is_set():
            act = {"id": self.new_id(), "made_at": f"{DAY}T10:00:00Z", "kind": "note", "text": "noted"}
            again = 2 if self.luck.random() < 0.2 else 1
            while again and not self.over.is_set():
                with contextlib.suppress(httpx.TransportError):
                    answer = httpx.post(address, json=act, timeout=5)
                    if answer.status_code == 200:
                        again -= 1
                        if act["id"] not in self.acknowledged[-1:]:
                            self.acknowledged.append(act["id"])
                        continue
                    self.refused += 400 <= answer.status_code < 500
                time.sleep(0.05)

    def logged(self) -> list[str]:
        """The ids in the log, in order."""
        found: list[str] = []
        before = 2_000_000_000
        while True:
            part = httpx.get(
                f"{self.instance.base}/api/batches/{self.number}/log", params={"before": before}, timeout=60
            ).json()["entries"]
            if not part:
                return found
            found = [entry["id"] for entry in part] + found
            before = part[0]["seq"]
            if before <= 1:
                return found


def kills_at_the_slab(luck: random.Random, tries: int) -> Outcome:
    """Kills while acts are sent: what was acknowledged is in the log, once and in order."""
    outcome = Outcome("at the slab")
    instance = Instance(NIDDY_TODAY=DAY)
    try:
        instance.start("--no-demo")
        session = Session(instance, luck)
        sender = threading.Thread(target=session.send)
        sender.start()
        for _ in range(tries):
            time.sleep(luck.uniform(0.05, 0.8))
            strike(instance, luck.choice(WHAT))
            outcome.tries += 1
            if not revive(instance, outcome, "--no-demo"):
                break
        session.over.set()
        sender.join(30)
        logged = session.logged()
        acknowledged = set(session.acknowledged)
        outcome.lost = len(acknowledged - set(logged))
        # One maker sends one act after the other: the log has them in that order.
        outcome.errors = int([one for one in logged if one in acknowledged] != session.acknowledged)
        outcome.doubled = len(logged) - len(set(logged))
        outcome.errors += session.refused
        outcome.notes.append(f"{len(session.acknowledged)} acts acknowledged")
    finally:
        instance.destroy()
    return outcome


def kills_at_backup_and_restore(luck: random.Random, tries: int) -> Outcome:
    """Backups and restores killed: the last good backup stays, the records are the old or the new ones, whole."""
    outcome = Outcome("backup, restore")
    instance = Instance.furnished(DAY)
    try:
        instance.start()
        kept = instance.home / "kept.backup"
        write_backup(instance.cluster, kept)
        whole = _count(instance)
        for n in range(tries):
            outcome.tries += 1
            if n % 2 == 0:
                begun = instance.command("backup", str(kept))
                time.sleep(luck.uniform(0.1, 1.2))
                begun.kill()
                begun.wait()
                try:
                    instance.cluster.contents(kept)
                except Exception as error:
                    outcome.lost += 1
                    outcome.notes.append(str(error)[:200])
                continue
            instance.stop()
            begun = instance.command("restore", str(kept))
            time.sleep(luck.uniform(0.2, 3.0))
            begun.kill()
            begun.wait()
            if luck.random() < 0.5:
                instance.kill_database()
            if not revive(instance, outcome):
                break
            outcome.lost += _count(instance) != whole
    finally:
        instance.destroy()
    return outcome


def _count(instance: Instance) -> tuple[int, int]:
    lots = httpx.get(f"{instance.base}/api/materials/lots", params={"with_used_up": True}, timeout=60).json()
    found = httpx.get(f"{instance.base}/api/batches", params={"limit": 200}, timeout=60).json()["batches"]
    return len(lots), len(found)


def kills_at_import(luck: random.Random, tries: int) -> Outcome:
    """An import killed: all of its rows are there afterwards, or none."""
    outcome = Outcome("import")
    instance = Instance(NIDDY_TODAY=DAY)
    try:
        instance.start("--no-demo")
        for n in range(tries):
            rows = 400
            text = "kind,material,code,received,received_on\n" + "".join(
                f"pigment,bone-black,R{n}-{k},100,2026-01-02\n" for k in range(rows)
            )

            def bring(text: str = text) -> None:
                with contextlib.suppress(httpx.HTTPError):
                    httpx.post(
                        f"{instance.base}/api/materials/import",
                        params={"write": True},
                        content=text,
                        timeout=30,
                        headers={"content-type": "text/csv"},
                    )

            sender = threading.Thread(target=bring)
            sender.start()
            time.sleep(luck.uniform(0.0, 0.8))
            strike(instance, luck.choice(WHAT))
            outcome.tries += 1
            sender.join(40)
            if not revive(instance, outcome, "--no-demo"):
                break
            found = httpx.get(
                f"{instance.base}/api/materials/lots", params={"words": f"R{n}-", "limit": 500}, timeout=60
            ).json()
            there = sum(lot["code"].startswith(f"R{n}-") for lot in found)
            outcome.lost += there not in (0, rows)
    finally:
        instance.destroy()
    return outcome


def kills_at_whole_studio(luck: random.Random, tries: int) -> Outcome:
    """A studio killed on its way out or in: its file is whole or none; its records old or new, whole."""
    outcome = Outcome("whole studio")
    instance = Instance.furnished(DAY)
    try:
        instance.start()
        kept = instance.home / "kept.zip"
        made = instance.run("export", str(kept))
        assert made.returncode == 0, made.stderr
        whole = _count(instance)
        for n in range(tries):
            outcome.tries += 1
            out = instance.home / f"out-{n}.zip"
            slab = {"name": f"Slate {n}", "area_cm2": 600.0, "tooth": "fair"}
            httpx.post(f"{instance.base}/api/workshop/slabs", json=slab, timeout=30).raise_for_status()
            begun = (
                instance.command("export", str(out))
                if n % 3 == 0
                else instance.command("import", str(kept), "--replace")
            )
            time.sleep(luck.uniform(0.1, 4.0))
            if luck.random() < 0.5:
                strike(instance, luck.choice(WHAT))
            begun.kill()
            begun.wait()
            if not revive(instance, outcome):
                break
            if out.exists():
                outcome.lost += zipfile.ZipFile(out).testzip() is not None
            outcome.lost += _count(instance) != whole
            names = [one["name"] for one in httpx.get(f"{instance.base}/api/workshop", timeout=60).json()["slabs"]]
            outcome.doubled += len(names) != len(set(names))
    finally:
        instance.destroy()
    return outcome


def requests(seed: int, examples: int) -> Outcome:
    """Requests made from the API's own description, and odd ones: none may be answered above 4xx."""
    outcome = Outcome("requests")
    instance = Instance.furnished(DAY)
    try:
        instance.start()
        # The description is made at its first asking, which a busy machine takes longer for than the tool waits.
        httpx.get(f"{instance.base}/api/openapi.json", timeout=180).raise_for_status()
        tool = Path(sys.executable).parent / "schemathesis"
        run = subprocess.run(
            [
                str(tool),
                "run",
                f"{instance.base}/api/openapi.json",
                "--phases",
                "examples,coverage,fuzzing",
                "-c",
                "not_a_server_error",
                "--continue-on-failure",
                "--suppress-health-check",
                "all",
                "--exclude-path-regex",
                "follow|/live",
                "--max-examples",
                str(examples),
                "--seed",
                str(seed),
                "--request-timeout",
                "30",
                "--warnings",
                "off",
                "--no-color",
            ],
            capture_output=True,
            text=True,
            cwd=instance.home,
            timeout=3_000,
        )
        made = re.search(r"(\d+) generated", run.stdout)
        outcome.tries = int(made[1]) if made else 0
        for path in ("/%00", "/api/%00", "/..%2f..%2fetc/passwd", "/" + "a" * 3_000):
            outcome.tries += 1
            outcome.errors += httpx.get(instance.base + path, timeout=30).status_code >= 500
        outcome.errors += instance.printed().count("unforeseen error")
        if run.returncode:
            outcome.notes.append(run.stdout[-600:])
            outcome.errors += not outcome.errors
        outcome.bricked += not httpx.get(f"{instance.base}/api/home", timeout=30).is_success
    finally:
        instance.destroy()
    return outcome


def run(kills: int, examples: int, seed: int) -> int:
    """Every attack; prints a table. The exit code."""
    luck = random.Random(seed)
    share: Callable[[float], int] = lambda part: max(1, round(kills * part))  # noqa: E731
    kinds: list[Callable[[], Outcome]] = [
        lambda: kills_at_start(luck, share(0.1)),
        lambda: kills_at_the_slab(luck, share(0.55)),
        lambda: kills_at_backup_and_restore(luck, share(0.15)),
        lambda: kills_at_import(luck, share(0.1)),
        lambda: kills_at_whole_studio(luck, share(0.1)),
    ]
    rounds = max(1, round(examples * 0.6))
    others: list[Callable[[], Outcome]] = [
        lambda: requests(seed, examples),
        lambda: _plain("acts twice", lambda at: attack_acts.pairs(at, luck, rounds)),
        lambda: _plain("undone again", lambda at: attack_acts.undone(at, luck, rounds)),
        lambda: _plain("two windows", lambda at: attack_acts.two_windows(at, min(rounds, 10))),
        lambda: _plain("older backup", attack_acts.after_an_older_backup),
        lambda: _plain("crafted backups", attack_files.crafted_backups),
        lambda: _plain("crafted packages", attack_files.crafted_packages),
        lambda: _plain("garbled notes", attack_files.garbled_notes),
        lambda: _plain("past a role", attack_people.past_a_role, network=True),
        lambda: _plain("floods", attack_people.floods_of_passwords, network=True),
        lambda: _plain("foreign page", foreign_page),
        lambda: _plain("large", large),
    ]
    attacks = [*(kinds if kills else ()), *(others if examples else ())]
    print(f"{'attack':<18}{'tries':>8}{'lost':>8}{'doubled':>9}{'errors':>8}{'bricked':>9}", flush=True)
    held = True
    for attack in attacks:
        outcome = attack()
        held = held and outcome.held
        print(
            f"{outcome.name:<18}{outcome.tries:>8}{outcome.lost:>8}{outcome.doubled:>9}{outcome.errors:>8}{outcome.bricked:>9}"
            + ("   " + json.dumps(outcome.notes) if outcome.notes else ""),
            flush=True,
        )
    print("nothing was harmed" if held else "harm was done")
    return 0 if held else 1


def _plain(name: str, attack: Callable[[Instance], tuple[int, list[str]]], *, network: bool = False) -> Outcome:
    """An attack on a running demo studio that says how often it tried and what it managed.

    On the `network` people sign in.
    """
    instance = Instance.furnished(DAY)
    if network:
        instance.environment["NIDDY_ADDRESS"] = f"http://localhost:{instance.port}"
    try:
        instance.start()
        tries, harm = attack(instance)
        return Outcome(name, tries, errors=len(harm), notes=harm)
    finally:
        instance.destroy()
