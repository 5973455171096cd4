"""The sludge's part of the bench: a can with a ledger of 10,000 washings, and the room beside it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import httpx
import psycopg

from niddy.operations.cluster import Cluster

WASHINGS = 10_000


def ledger(client: httpx.Client, cluster: Cluster, rounds: int) -> None:
    """Open a can with 10,000 washings, against the bare endpoint."""
    from tests.bench.benching import print_table, timed

    number = _can(client)
    _fill(cluster, number)

    def act() -> httpx.Response:
        paints = [{"source": "library-red-ochre", "much": "little"}]
        body = {"id": str(uuid4()), "kind": "washing", "paints": paints, "made_at": datetime.now(UTC).isoformat()}
        return client.post(f"/api/sludge/cans/{number}/acts", json=body)

    act().raise_for_status()
    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "can": lambda: client.get(f"/api/sludge/cans/{number}"),
        "one washing": act,
        "room of sludge": lambda: client.get("/api/sludge"),
    }
    print(f"\none can with {WASHINGS} washings")
    print_table(timed(requests, rounds))


def _can(client: httpx.Client) -> int:
    asked = {
        "request_id": str(uuid4()),
        "name": "Bench can",
        "solvent_key": "white-spirit",
        "solvent_ml": 800.0,
        "unlogged": "little",
    }
    number = int(client.post("/api/sludge/cans", json=asked).raise_for_status().json()["number"])
    paints = [{"source": f"library-{key}", "much": "brushful"} for key in ("red-ochre", "burnt-umber", "lamp-black")]
    body = {"id": str(uuid4()), "kind": "washing", "paints": paints, "made_at": datetime.now(UTC).isoformat()}
    client.post(f"/api/sludge/cans/{number}/acts", json=body).raise_for_status()
    return number


def _fill(cluster: Cluster, number: int) -> None:
    """The last washing again and again, each minutes after the one before; the next act folds them all, once."""
    begun = datetime.now(UTC) - timedelta(days=900)
    with psycopg.connect(cluster.url().replace("+psycopg", ""), autocommit=True) as connection:
        ((job_id, last),) = connection.execute(
            "select id, last_seq from job where room = 'cans' and number = %s", (number,)
        ).fetchall()
        connection.execute(
            "insert into act (id, job_id, seq, kind, payload, facts, made_at, recorded_at)"
            " select gen_random_uuid(), job_id, seq + n, kind, payload, facts, %s + n * interval '2 hours', recorded_at"
            " from act, generate_series(1, %s) n where job_id = %s and seq = %s",
            (begun, WASHINGS, job_id, last),
        )
        connection.execute(
            "update job set last_seq = last_seq + %s, state_version = 0 where id = %s", (WASHINGS, job_id)
        )
        connection.execute("vacuum analyze act")
