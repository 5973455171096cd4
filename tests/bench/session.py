"""The session's part of the bench: a log of 100,000 acts, and an act on its way to every open screen."""

from __future__ import annotations

import json
import statistics
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import httpx
import psycopg
from pydantic import TypeAdapter

from niddy.core import slab
from niddy.core.slab import Paste
from niddy.operations.cluster import Cluster
from niddy.studio.batches import event_of

ACTS = 100_000
SESSIONS = 20
SENT = 60
BEGAN = datetime(2026, 1, 5, 8, tzinfo=UTC)
_KINDS = ("look", "mull", "scrape", "pause", "note", "oil")


def long_log(client: httpx.Client, cluster: Cluster, asked: dict[str, object], rounds: int) -> None:
    """Open one batch with 100,000 acts, against the bare endpoint."""
    from tests.bench.benching import print_table, timed

    number = _opened(client, asked)
    _fill(cluster, number, asked)

    def note() -> httpx.Response:
        body = {"id": str(uuid4()), "kind": "note", "text": "still here", "made_at": datetime.now(UTC).isoformat()}
        return client.post(f"/api/slab/{number}/acts", json=body)

    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "slab view": lambda: client.get(f"/api/slab/{number}"),
        "one act": note,
        "batch page": lambda: client.get(f"/api/batches/{number}"),
        "earlier acts": lambda: client.get(f"/api/batches/{number}/log", params={"before": ACTS // 2}),
    }
    print(f"\none batch with {ACTS} acts")
    print_table(timed(requests, rounds))


def _opened(client: httpx.Client, asked: dict[str, object]) -> int:
    body = {"request_id": str(uuid4()), "plan": asked}
    return int(client.post("/api/plan/take-to-slab", json=body).raise_for_status().json()["number"])


def _fill(cluster: Cluster, number: int, asked: dict[str, Any]) -> None:
    """Bulk inserts of a session that never ends, every fiftieth act a strike-out, and the paste it folds to."""
    powder, oil = asked["lines"][0]["lot_id"], asked["oil"]["lot_id"]
    with psycopg.connect(cluster.url().replace("+psycopg", "")) as connection:
        job_id = connection.execute("select job_id from batch where number = %s", (number,)).fetchall()[0][0]
    rows: list[tuple[object, ...]] = []
    events = []
    poured = None
    for seq in range(1, ACTS + 1):
        kind = "powder" if seq == 1 else _KINDS[seq % len(_KINDS)]
        event_id, at = uuid4(), BEGAN + timedelta(seconds=20 * seq)
        payload: dict[str, Any] = {"id": str(event_id), "made_at": at.isoformat()}
        facts: dict[str, Any] = {}
        if poured is not None and seq % 50 == 0:
            kind, payload["strikes"], poured = "strike", str(poured), None
        if kind == "look":
            payload |= {"stage": "coarse_paste"}
        elif kind == "note":
            payload |= {"text": "on and on"}
        elif kind in ("powder", "oil"):
            grams = 100.0 if kind == "powder" else 0.004
            payload |= {"source": f"lot-{powder if kind == 'powder' else oil}", "measure": {"amount": grams}}
            facts = {"mass": {"median": grams, "low": grams, "high": grams, "basis": "measured"}, "said": ""}
            poured = event_id if kind == "oil" else None
        payload["kind"] = kind
        events.append(event_of(event_id, seq, kind, at, payload, facts))
        strikes = payload.get("strikes")
        rows.append((event_id, job_id, seq, kind, json.dumps(payload), json.dumps(facts), strikes, at, at))
        if seq % 10_000 == 0:
            print(f"\rfilling: {seq} of {ACTS} acts", end="", flush=True)
    print()
    paste = TypeAdapter(Paste).dump_json(slab.fold(events)).decode()
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        with connection.transaction(), connection.cursor() as cursor:
            with cursor.copy(
                "copy act (id, job_id, seq, kind, payload, facts, strikes, made_at, recorded_at) from stdin"
            ) as copy:
                for row in rows:
                    copy.write_row(row)
            cursor.execute("update job set last_seq = %s, state = %s where id = %s", (ACTS, paste, job_id))
        connection.execute("vacuum analyze")


def to_both_screens(client: httpx.Client, asked: dict[str, object]) -> None:
    """From sending an act to each of two screens of its batch being told, with 20 sessions open."""
    numbers = [_opened(client, asked) for _ in range(SESSIONS // 2)]
    heard: dict[tuple[int, int], list[float]] = {(n, screen): [] for n in numbers for screen in (0, 1)}
    ready = threading.Barrier(SESSIONS + 1)
    ending = threading.Event()

    def follow(number: int, screen: int) -> None:
        with (
            httpx.Client(base_url=client.base_url, timeout=60) as own,
            own.stream("GET", f"/api/slab/{number}/follow") as stream,
        ):
            for line in stream.iter_lines():
                if line == "event: ready":
                    ready.wait(30)
                elif line == "event: grew":
                    heard[number, screen].append(time.perf_counter())
                if ending.is_set():
                    return

    threads = [threading.Thread(target=follow, args=key, daemon=True) for key in heard]
    for thread in threads:
        thread.start()
    ready.wait(30)
    spent: list[float] = []
    for n in range(SENT):
        number = numbers[n % len(numbers)]
        before = {screen: len(heard[number, screen]) for screen in (0, 1)}
        begun = time.perf_counter()
        body = {"id": str(uuid4()), "kind": "note", "text": "look", "made_at": datetime.now(UTC).isoformat()}
        client.post(f"/api/slab/{number}/acts", json=body).raise_for_status()
        until = begun + 5
        while time.perf_counter() < until and any(len(heard[number, s]) <= before[s] for s in (0, 1)):
            time.sleep(0.001)
        spent.append((max(heard[number, s][-1] for s in (0, 1)) - begun) * 1000)
    ending.set()
    for number in numbers:
        body = {"id": str(uuid4()), "kind": "note", "text": "over", "made_at": datetime.now(UTC).isoformat()}
        client.post(f"/api/slab/{number}/acts", json=body)
    for thread in threads:
        thread.join(5)
    p95 = statistics.quantiles(spent, n=20)[18]
    print(
        f"\nan act to both screens of its batch, {SESSIONS} sessions open: p50 {statistics.median(spent):.0f} ms,"
        f" p95 {p95:.0f} ms (aim: 150)"
    )
