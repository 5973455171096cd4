"""A whole studio out and into an empty one, and what the server holds in memory after many requests."""

from __future__ import annotations

import hashlib
import itertools
import random
import re
import tempfile
import time
from datetime import datetime
from pathlib import Path

import httpx
from sqlalchemy import text

from niddy import __version__
from niddy.core.package import How
from niddy.db import Database, migrations
from niddy.operations.cluster import Cluster
from niddy.operations.serve import Running

FEW, MANY = 1_000, 50_000


def whole(cluster: Cluster, now: datetime) -> None:
    """Take the filled studio out, into an empty one, and hold every table of the two against each other."""
    from niddy.exchange import data_package
    from niddy.studio import package, workshop

    name = "whole_again"
    cluster.clone("template0", name)
    here, there = Database(cluster.url()), Database(cluster.url(name))
    try:
        migrations.upgrade(there.url)
        with there.session() as session:
            workshop.furnish(session)
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "studio.zip"
            begun = time.perf_counter()
            with here.snapshot() as connection, file.open("wb") as to:
                rows = data_package.write(connection, to, now, __version__)
            out_s = time.perf_counter() - begun
            begun = time.perf_counter()
            with data_package.opened(file) as opened:
                package.take_in(there, opened, How.REPLACE, now)
            in_s = time.perf_counter() - begun
            size = file.stat().st_size
        with here.snapshot() as one, there.snapshot() as other:
            batches = one.execute(text("select count(*) from batch")).scalar_one()
            equal = sum(
                _hash(package.rows(one, shape)) == _hash(package.rows(other, shape)) for shape in package.shapes()
            )
        print(
            f"\nthe whole studio: {batches} batches, {rows} rows, {size / 1e6:.0f} MB; out in {out_s:.0f} s, "
            f"in in {in_s:.0f} s; {equal} of {len(package.shapes())} tables equal"
        )
    finally:
        here.dispose()
        there.dispose()
        cluster.drop(name)


def _hash(pieces: object) -> str:
    digest = hashlib.sha256()
    for piece in pieces:  # type: ignore[attr-defined]
        digest.update(piece)
    return digest.hexdigest()


def memory(client: httpx.Client, home: Path, asked: dict[str, object]) -> None:
    """What the server holds after a thousand mixed requests, and after fifty thousand of the same mix."""
    running = Running.noted(home)
    assert running is not None
    luck = random.Random(20260618)
    number = client.get("/api/batches", params={"limit": 1}).json()["batches"][0]["number"]
    reads = (
        "/api/home",
        "/api/day",
        "/api/batches",
        "/api/materials/lots",
        "/api/materials/library",
        "/api/shelf",
        f"/api/slab/{number}",
        f"/api/batches/{number}",
        "/api/recipes",
        "/api/sticks",
        "/api/practice",
        "/api/nothing",
    )
    held: dict[int, float] = {}
    for n in itertools.count(1):
        if luck.random() < 0.1:
            client.post("/api/plan", json=asked)
        else:
            client.get(luck.choice(reads))
        if n in (FEW, MANY):
            held[n] = _resident_mb(running.process.pid)
        if n >= MANY:
            break
    print(
        f"\nmemory: {held[FEW]:.0f} MB after {FEW} requests, {held[MANY]:.0f} MB after {MANY}, "
        f"{held[MANY] / held[FEW]:.2f} times"
    )


def _resident_mb(pid: int) -> float:
    found = re.search(r"VmRSS:\s+(\d+) kB", Path(f"/proc/{pid}/status").read_text())
    assert found is not None
    return int(found[1]) / 1024
