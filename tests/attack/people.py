"""Attacks on who may: odd ends of addresses as a maker and as a looker, and floods of wrong passwords."""

from __future__ import annotations

import re
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import httpx

from niddy.operations.instance import Instance

PASSWORD = "umber and linseed"
ENDINGS = (
    "",
    "%0A",
    "%0D%0A",
    "%09",
    "%00",
    "%1F",
    "%7F",
    "%C2%85",
    "%E2%80%A8",
    "/",
    "//",
    "/.",
    "/..;/",
    "%2F",
    "%252F",
    ";",
    "%20",
    ".",
    "%3Fx",
    "%EF%BC%8F",
)
QUICK_S = 0.5
"""Health and slab are answered within this while others guess."""


def _owner(instance: Instance) -> httpx.Client:
    """An owner made at the terminal, signed in; with a maker and a looker."""
    from niddy.db import Database
    from niddy.settings import Settings
    from niddy.studio import makers

    database = Database(instance.cluster.url())
    try:
        makers.make_owner(database, Settings().now(), "Ada", PASSWORD)
    finally:
        database.dispose()
    ada = signed_in(instance, "Ada")
    for name, role in (("Bo", "maker"), ("Lu", "looker")):
        body = {"name": name, "role": role, "password": PASSWORD}
        ada.post("/api/makers", json=body).raise_for_status()
    return ada


def signed_in(instance: Instance, name: str) -> httpx.Client:
    """A client that signed in by a name."""
    client = httpx.Client(base_url=instance.base, timeout=60)
    client.post("/api/makers/sign-in", json={"name": name, "password": PASSWORD}).raise_for_status()
    return client


def past_a_role(instance: Instance) -> tuple[int, list[str]]:
    """Every address that is not theirs, as a maker and as a looker, with whatever may stand behind it."""
    from niddy.api.app import addresses
    from niddy.core.makers import Reach

    _owner(instance).close()
    reaches = {"Bo": {Reach.OWNS}, "Lu": {Reach.OWNS, Reach.WORKS}}
    tries, harm = 0, []
    for name, not_theirs in reaches.items():
        with closing(signed_in(instance, name)) as client:
            for address in addresses().all:
                if address.policy.reach not in not_theirs:
                    continue
                at = re.sub(r"\{on\}", "2026-06-18", re.sub(r"\{(?!on)\w+\}", "1", address.path))
                kind = (*address.policy.body.kinds, "application/json")[0]
                for method in address.methods:
                    for ending in ENDINGS:
                        url = httpx.URL(instance.base).copy_with(raw_path=f"{at}{ending}".encode())
                        answer = client.request(method, url, content=b"{}", headers={"content-type": kind})
                        tries += 1
                        if answer.status_code not in (400, 403, 404, 405):
                            harm.append(f"{name} {method} {at}{ending}: {answer.status_code}")
    return tries, harm


def floods_of_passwords(instance: Instance) -> tuple[int, list[str]]:
    """Eighty wrong passwords at once, twice over, while somebody works: nobody at work waits, and nobody gets in."""
    ada = _owner(instance)
    over, slowest, harm = threading.Event(), [0.0], []

    def works() -> None:
        while not over.is_set():
            for path in ("/api/health", "/api/slab/32"):
                begun = time.perf_counter()
                if not ada.get(path).is_success:
                    harm.append(f"{path} was refused")
                slowest[0] = max(slowest[0], time.perf_counter() - begun)

    def guesses(n: int) -> int:
        body = {"name": ("Ada", "\uff21da", f"nobody {n}")[n % 3], "password": f"wrong wrong {n}"}
        return guessing.post("/api/makers/sign-in", json=body).status_code

    # One client for all: what it takes to make eighty is not what is measured.
    guessing = httpx.Client(base_url=instance.base, timeout=90, limits=httpx.Limits(max_connections=80))
    at_work = threading.Thread(target=works)
    at_work.start()
    with ThreadPoolExecutor(80) as pool:
        said = [code for _ in range(2) for code in pool.map(guesses, range(80))]
    over.set()
    at_work.join()
    guessing.close()
    if set(said) - {422, 429}:
        harm.append(f"answers {sorted(set(said))}")
    if slowest[0] > QUICK_S:
        harm.append(f"who worked waited {slowest[0]:.2f} s")
    # The right person, on a device of theirs, is let in at once whatever others tried.
    ada.post("/api/makers/sign-out").raise_for_status()
    again = ada.post("/api/makers/sign-in", json={"name": "Ada", "password": PASSWORD})
    if again.status_code != 204:
        harm.append(f"the right one was refused: {again.status_code}")
    ada.close()
    return len(said), harm
