"""./niddy bench: speed as ratios to a bare endpoint of the same server, in one run, at two sizes of record."""

from __future__ import annotations

import json
import os
import random
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID, uuid4

import httpx
import psycopg
from pydantic import TypeAdapter

from niddy.core.slab import Paste, Status
from niddy.db import migrations
from niddy.operations.cluster import Cluster
from niddy.operations.ports import free_port
from niddy.operations.throwaway import throwaway
from niddy.settings import ROOT
from niddy.studio.batches.kept import PASTE_VERSION, PLAN_VERSION
from tests.bench import bands, studios
from tests.bench import day as bench_day
from tests.bench import making as bench_making
from tests.bench import mixing as bench_mixing
from tests.bench import session as bench_session
from tests.bench import shelf as bench_shelf
from tests.bench import sludge as bench_sludge
from tests.bench import start as bench_start
from tests.bench import whole as bench_whole
from tests.bench.made import NOW, PIGMENTS, Made, materials_of

SIZES = (1_000, 10_000)
EVENTS_PER_BATCH = 100
ROUNDS = 150


@dataclass(frozen=True)
class Timing:
    """Milliseconds of one kind of request."""

    p50_ms: float
    p95_ms: float


PARTS = (
    "record",
    "stock",
    "session",
    "consistency",
    "shelf",
    "sludge",
    "making",
    "home",
    "day",
    "whole",
    "demand",
    "mixing",
)
STUDIOS, MEMORY, START, BANDS = "studios", "memory", "start", "bands"
"""By name alone: how often Niddy is right, what its server holds after fifty thousand requests, what a start takes, how
often bands hold."""


def run(sizes: tuple[int, ...] = SIZES, rounds: int = ROUNDS, parts: tuple[str, ...] = PARTS) -> int:
    """Fill, measure the parts asked for, print; the exit code."""
    if START in parts:
        bench_start.run()
        parts = tuple(part for part in parts if part != START)
        if not parts:
            return 0
    if BANDS in parts:
        bands.print_bands()
        parts = tuple(part for part in parts if part != BANDS)
        if not parts:
            return 0
    cluster = throwaway("niddy-bench-", durable=True)
    home = Path(tempfile.mkdtemp(prefix="niddy-bench-home-"))
    try:
        url = cluster.ensure()
        migrations.upgrade(url)
        made = materials_of(url)
        port = free_port()
        environment = {
            **os.environ,
            "NIDDY_DATABASE_URL": url,
            "NIDDY_HOME": str(home),
            "NIDDY_PORT": str(port),
            "PYTHONPATH": str(ROOT / "src"),
        }
        if STUDIOS in parts:
            studios.print_table(url, sizes[0])
        results: dict[int, dict[str, Timing]] = {}
        filled = 0
        for size in sizes if set(parts) != {STUDIOS} else ():
            _fill(cluster, made, filled, size)
            filled = size
            if "record" in parts:
                with served(environment, port) as client:
                    results[size] = _measure(client, made, size, rounds)
                _print(size, results[size])
        if "stock" in parts:
            _print_stock(cluster, environment, port, rounds)
        if set(parts) == {STUDIOS}:
            return 0
        if set(parts) - {"record", "stock", "whole", "demand"}:
            with served(environment, port) as client:
                if "session" in parts:
                    bench_session.long_log(client, cluster, made.asked[0], rounds)
                    bench_session.to_both_screens(client, made.asked[1])
                if "consistency" in parts:
                    _print_consistency(client, cluster, min(2_000, sizes[-1]), rounds)
                if "shelf" in parts:
                    bench_shelf.shelf(client, cluster, made.asked[0], lambda asked: print_table(timed(asked, rounds)))
                if "sludge" in parts:
                    bench_sludge.ledger(client, cluster, rounds)
                if "making" in parts:
                    bench_making.runs(client, rounds)
                if "mixing" in parts:
                    bench_mixing.chart(client, rounds)
                if "home" in parts:
                    bench_day.at_the_door(client, rounds)
                if "day" in parts:
                    bench_day.days(client, rounds)
                if MEMORY in parts:
                    bench_whole.memory(client, home, made.asked[0])
        if "whole" in parts:
            bench_whole.whole(cluster, NOW)
        if "demand" in parts:
            _print_demand()
        if "mixing" in parts:
            bench_mixing.predicted()
        if len(results) > 1:
            _print_growth(results[sizes[0]], results[sizes[-1]], sizes)
    finally:
        cluster.destroy()
        shutil.rmtree(home, ignore_errors=True)
    return 0


def _fill(cluster: Cluster, made: Made, have: int, want: int) -> None:
    """Bulk inserts up to `want` batches of a hundred acts each, with progress."""
    stored = [(json.dumps(asked), json.dumps(plan)) for asked, plan in zip(made.asked, made.plans, strict=True)]
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        for begin in range(have, want, 500):
            end = min(begin + 500, want)
            with connection.transaction(), connection.cursor() as cursor:
                with cursor.copy(
                    "copy job (id, number, room, request_id, name, status, asked, plan, plan_version, state,"
                    " state_version, started_at, ended_at, last_seq) from stdin"
                ) as copy:
                    for n in range(begin, end):
                        copy.write_row(_job_row(made, stored, n))
                with cursor.copy(
                    "copy batch (number, job_id, masstone_srgb, verdict, pigment_keys, lot_ids, oil_name, pigment_g,"
                    " oil_g, made_ml, filled_ml, leftover_ml, tubes_filled, planned_min) from stdin"
                ) as copy:
                    for n in range(begin, end):
                        copy.write_row(_batch_row(made, n))
                with cursor.copy(
                    "copy act (id, job_id, seq, kind, payload, facts, made_at, recorded_at) from stdin"
                ) as copy:
                    for n in range(begin, end):
                        for row in _event_rows(made, n):
                            copy.write_row(row)
            print(f"\rfilling: {end} of {want} batches, {end * EVENTS_PER_BATCH} acts", end="", flush=True)
        connection.execute("select setval(pg_get_serial_sequence('batch', 'number'), (select max(number) from batch))")
        connection.execute("select setval(pg_get_serial_sequence('job', 'id'), (select max(id) from job))")
        connection.execute("vacuum analyze")
    print()


FIRST_JOB = 1_000_000
"""Jobs of the bench are counted from here, so that those of the demo keep theirs."""


def _started(n: int) -> datetime:
    return NOW - timedelta(hours=3 * (SIZES[-1] - n))


def _job_row(made: Made, stored: list[tuple[str, str]], n: int) -> tuple[object, ...]:
    which = n % len(PIGMENTS)
    started = _started(n)
    open_ = n % 50 == 0
    return (
        FIRST_JOB + n,
        n + 1,
        "slab",
        uuid4(),
        PIGMENTS[which].replace("-", " ").capitalize(),
        "open" if open_ else "finished",
        *stored[which],
        PLAN_VERSION,
        _paste(*made.lots[which], open_),
        PASTE_VERSION,
        started,
        None if open_ else started + timedelta(hours=2),
        EVENTS_PER_BATCH,
    )


def _batch_row(made: Made, n: int) -> tuple[object, ...]:
    which = n % len(PIGMENTS)
    open_ = n % 50 == 0
    return (
        n + 1,
        FIRST_JOB + n,
        "#336655",
        None if open_ else ("right", "soft", "stiff")[n % 3],
        [PIGMENTS[which]],
        list(made.lots[which]),
        "Linseed oil, refined",
        112.0,
        60.0,
        110.0,
        0.0 if open_ else 100.0,
        4.0,
        0 if open_ else 3,
        90.0,
    )


def _paste(powder: int, oil: int, open_: bool) -> str:
    poured = 0.8 * sum(1 for seq in range(2, EVENTS_PER_BATCH + open_) if seq % 4 in (2, 3))
    status = Status.OPEN if open_ else Status.FINISHED
    paste = Paste({f"lot-{powder}": 112.0}, {f"lot-{oil}": poured}, poured_g=poured, status=status)
    return TypeAdapter(Paste).dump_json(paste).decode()


def _event_rows(made: Made, n: int) -> list[tuple[object, ...]]:
    powder, oil = made.lots[n % len(PIGMENTS)]
    at = _started(n)
    rows: list[tuple[object, ...]] = []
    for seq in range(1, EVENTS_PER_BATCH + 1):
        kind, mass = "oil", 0.8
        payload: dict[str, object] = {"source": f"lot-{oil}", "measure": {"unit": "g", "amount": 0.8}}
        if seq == 1:
            kind, payload, mass = "powder", {"source": f"lot-{powder}", "measure": {"unit": "g", "amount": 112}}, 112
        elif seq == EVENTS_PER_BATCH and n % 50:
            kind, payload, mass = "finish", {"verdict": "right", "leftover_ml": 4, "tubes": []}, 0
        elif seq % 4 == 0:
            kind, payload, mass = "note", {"text": "mulled, gathered, scraped"}, 0
        elif seq % 4 == 1:
            kind, payload, mass = "look", {"stage": "coarse_paste"}, 0
        event_id: UUID = uuid4()
        facts: dict[str, object] = {"tubes": [], "filled_ml": 100} if kind == "finish" else {}
        if mass:
            facts = {"mass": {"median": mass, "low": mass, "high": mass, "basis": "measured"}, "said": ""}
        body = {"id": str(event_id), "kind": kind, "made_at": at.isoformat(), **payload}
        moment = at + timedelta(seconds=40 * seq)
        rows.append((event_id, FIRST_JOB + n, seq, kind, json.dumps(body), json.dumps(facts), moment, moment))
    return rows


def _measure(client: httpx.Client, made: Made, size: int, rounds: int) -> dict[str, Timing]:
    luck = random.Random(7)
    open_batches = [n + 1 for n in range(0, size, 50)]

    def event() -> httpx.Response:
        number = luck.choice(open_batches)
        _, oil = made.lots[(number - 1) % len(PIGMENTS)]
        body = {
            "id": str(uuid4()),
            "kind": "oil",
            "source": f"lot-{oil}",
            "measure": {"unit": "g", "amount": 0.1},
            "made_at": datetime.now(UTC).isoformat(),
        }
        return client.post(f"/api/slab/{number}/acts", json=body)

    def somewhere() -> int:
        return luck.randrange(1, size + 1)

    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "plan": lambda: client.post("/api/plan", json=luck.choice(made.asked)),
        "set of twelve sticks": lambda: client.post("/api/sticks/plan", json=made.twelve_sticks),
        "event": event,
        "slab view": lambda: client.get(f"/api/slab/{somewhere()}"),
        "batch list": lambda: client.get("/api/batches", params={"pigment": "viridian", "verdict": "right"}),
        "batch page": lambda: client.get(f"/api/batches/{somewhere()}"),
    }
    return timed(requests, rounds)


def _wait(client: httpx.Client) -> None:
    for _ in range(400):
        try:
            if client.get("/api/health").status_code == 200:
                return
        except httpx.TransportError:
            time.sleep(0.1)
    raise RuntimeError("the server does not answer")


def timed(requests: dict[str, Callable[[], httpx.Response]], rounds: int) -> dict[str, Timing]:
    """Every request so many times, one of each in turn."""
    spent: dict[str, list[float]] = {name: [] for name in requests}
    for round_ in range(-10, rounds):
        # One of each in turn: whatever else the machine does falls on all of them alike.
        for name, request in requests.items():
            begun = time.perf_counter()
            answer = request()
            took = (time.perf_counter() - begun) * 1000
            answer.raise_for_status()
            if round_ >= 0:
                spent[name].append(took)
    return {
        name: Timing(statistics.median(times), statistics.quantiles(times, n=20)[18]) for name, times in spent.items()
    }


def _print(size: int, timings: dict[str, Timing]) -> None:
    print(f"\n{size} batches, {size * EVENTS_PER_BATCH} acts")
    print_table(timings)


def print_table(timings: dict[str, Timing]) -> None:
    """Medians, 95th percentiles, and both as ratios to the bare endpoint of the same run."""
    bare = timings["bare"]
    print(f"{'request':<12}{'p50 ms':>9}{'p95 ms':>9}{'p50/bare':>10}{'p95/bare':>10}")
    for name, timing in timings.items():
        print(
            f"{name:<12}{timing.p50_ms:>9.2f}{timing.p95_ms:>9.2f}"
            f"{timing.p50_ms / bare.p50_ms:>10.2f}{timing.p95_ms / bare.p95_ms:>10.2f}"
        )


def _print_growth(small: dict[str, Timing], large: dict[str, Timing], sizes: tuple[int, ...]) -> None:
    print(f"\ngrowth of the ratio to bare from {sizes[0]} to {sizes[-1]} batches")
    for name, timing in large.items():
        if name != "bare":
            before = small[name].p50_ms / small["bare"].p50_ms
            after = timing.p50_ms / large["bare"].p50_ms
            print(f"{name:<12}{after / before:>9.2f}")


def _print_stock(cluster: Cluster, environment: dict[str, str], port: int, rounds: int) -> None:
    """The shelf with 5,000 lots: listed and searched, as ratios to the bare endpoint."""
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(
            "insert into lot (kind, material_key, code, received_on, received, on_hand, note, used_up, demand_says,"
            " supplier_code, safety_note) select 'pigment', 'viridian', 'bench-' || n, date '2026-01-01', 200, 100, '',"
            " false, '', '', '' from generate_series(1, 5000) n"
        )
        connection.execute(
            "insert into lot_movement (lot_id, reason, change, at, note)"
            " select id, 'received', 200, now(), '' from lot where code like 'bench-%'"
        )
        connection.execute("vacuum analyze")
    with served(environment, port) as client:
        requests: dict[str, Callable[[], httpx.Response]] = {
            "bare": lambda: client.get("/api/health"),
            "list of 80": lambda: client.get("/api/materials/lots", params={"limit": 80}),
            "search": lambda: client.get("/api/materials/lots", params={"words": "bench-49", "limit": 80}),
        }
        print("\nstock of 5000 lots")
        print_table(timed(requests, rounds))


def _print_consistency(client: httpx.Client, cluster: Cluster, count: int, rounds: int) -> None:
    """The consistency of a recipe with so many batches, against the bare endpoint."""
    asked = {
        "pigments": [{"pigment_key": "bone-black", "parts": 1}],
        "oil_keys": ["linseed-refined"],
        "reduced_pvc": 0.86,
        "checks": [{"kind": "spread", "target": 45, "low": 42, "high": 48}],
    }
    answer = client.post("/api/recipes", json={"name": f"bench {uuid4()}", "recipe": asked}).raise_for_status()
    recipe = int(answer.json()["id"])
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(
            "update batch set recipe_id = %s, recipe_version = 1,"
            " results = jsonb_build_object('spread', 45 + (random() + random() + random() - 1.5) * 2, 'string', 14)"
            " where number <= %s",
            (recipe, count),
        )
        connection.execute("vacuum analyze batch")
    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "consistency": lambda: client.get(f"/api/recipes/{recipe}/consistency/spread"),
    }
    print(f"\na recipe with {count} batches")
    print_table(timed(requests, rounds))


@contextmanager
def served(environment: dict[str, str], port: int) -> Iterator[httpx.Client]:
    """A server of its own process on the bench's record, and a client of it."""
    server = subprocess.Popen(
        [sys.executable, "-m", "niddy", "start", "--no-demo"], env=environment, stdout=subprocess.DEVNULL
    )
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60) as client:
            _wait(client)
            yield client
    finally:
        server.terminate()
        server.wait(20)


def _print_demand() -> None:
    """The learned demand of 50 lots with 2,000 records, as a ratio to one numpy solve of that size."""
    import numpy as np

    from niddy.core.demand import LotRecords, Observation, learn

    luck = random.Random(3)
    lots = tuple(
        LotRecords(str(n), tuple(Observation(luck.uniform(40, 70), 0.05) for _ in range(40))) for n in range(50)
    )
    matrix = np.random.default_rng(3).normal(size=(2000, 51))
    seen = np.random.default_rng(4).normal(size=2000)

    def solve() -> None:
        np.linalg.solve(matrix.T @ matrix + np.eye(51), matrix.T @ seen)

    def best(call: Callable[[], object]) -> float:
        times = []
        for _ in range(30):
            begun = time.perf_counter()
            call()
            times.append((time.perf_counter() - begun) * 1000)
        return statistics.median(times)

    ours, theirs = best(lambda: learn(42, 68, lots)), best(solve)
    print(
        f"\nlearned demand, 50 lots and 2000 records: {ours:.2f} ms, one numpy solve of that size {theirs:.2f} ms,"
        f" ratio {ours / theirs:.2f}"
    )
