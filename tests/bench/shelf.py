"""The shelf, the choice of tubes and labels measured, as ratios in one run."""

from __future__ import annotations

import time
from collections.abc import Callable

import httpx
import psycopg

from niddy.operations.cluster import Cluster

ITEMS = 20_000
LABELS = 300

Timed = Callable[[dict[str, Callable[[], httpx.Response]]], None]


def shelf(client: httpx.Client, cluster: Cluster, plan: dict[str, object], show: Timed) -> None:
    """A shelf of 20,000 items listed, filtered and sorted; 12 kinds of 100 tubes; 300 labels with their progress."""
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(
            "insert into job (room, number, request_id, name, status, started_at)"
            " select 'shelf', 1000 + n, gen_random_uuid(), 'bench-' || n, 'open', now()"
            " from generate_series(1, %s) n",
            (ITEMS,),
        )
        connection.execute(
            "insert into shelf_item (id, job_id, code, kind, name, masstone_srgb, colour_order, container, volume_ml,"
            " usable_ml, place, cover, note, filled_on, status, why, unknown_hazard, hazards, next_inspection_on)"
            " select job.number, job.id, 'bench-' || n, 'tube', 'Bone black ' || n %% 50, '#1f1c1a', n %% 360,"
            " '40 ml tube', 40, 40, 'Drawer ' || n %% 40, '', '', date '2022-01-01' + n %% 1600, 'kept', '', false,"
            " '{}', date '2026-01-01' + n %% 400 from generate_series(1, %s) n"
            " join job on job.room = 'shelf' and job.name = 'bench-' || n",
            (ITEMS,),
        )
        connection.execute("vacuum analyze shelf_item")
    stock = [{"usable_ml": 5 + 7.5 * n, "count": 100} for n in range(12)]
    print(f"\na shelf of {ITEMS} tubes")
    show(
        {
            "bare": lambda: client.get("/api/health"),
            "list": lambda: client.get("/api/shelf"),
            "filtered": lambda: client.get("/api/shelf", params={"place": "Drawer 7", "words": "black 7"}),
            "by colour": lambda: client.get("/api/shelf", params={"sort": "colour"}),
            "due first": lambda: client.get("/api/shelf", params={"only_due": True, "sort": "due"}),
        }
    )
    print("\nchoosing among 12 kinds of 100 tubes for 4 l, against a plan")
    show(
        {
            "bare": lambda: client.get("/api/health"),
            "plan": lambda: client.post("/api/plan", json=plan),
            "tubes": lambda: client.post("/api/calc/tubes", json={"volume_ml": 4_000, "stock": stock}),
        }
    )
    ids = [item["id"] for item in client.get("/api/shelf", params={"limit": LABELS}).json()["items"]]
    begun, first, lines = time.perf_counter(), 0.0, 0
    with client.stream("POST", "/api/tubes/labels/stream", json={"items": ids}, timeout=60) as answer:
        for _ in answer.iter_lines():
            first = first or time.perf_counter() - begun
            lines += 1
    took = time.perf_counter() - begun
    print(f"\n{LABELS} labels: {took:.1f} s, {lines} lines of progress, the first after {first:.2f} s")
