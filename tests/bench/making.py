"""The making room's part of the bench: a run with its log, a process with its runs, the room beside them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import httpx

RUNS, READINGS = 12, 40


def runs(client: httpx.Client, rounds: int) -> None:
    """Open a run of some eighty acts and a process with twelve of them, against the bare endpoint."""
    from tests.bench.benching import print_table, timed

    process = _process(client)
    number = [_run(client, process) for _ in range(RUNS)][-1]

    def act() -> httpx.Response:
        return client.post(f"/api/making/runs/{number}/acts", json=_said(0.0, "ph", ph=7.1))

    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "run": lambda: client.get(f"/api/making/runs/{number}"),
        "one reading": act,
        "process": lambda: client.get(f"/api/making/processes/{process}"),
        "room of making": lambda: client.get("/api/making"),
    }
    print(f"\na process with {RUNS} runs of {2 * READINGS} acts")
    print_table(timed(requests, rounds))


def _said(hours_ago: float, kind: str, **what: Any) -> dict[str, Any]:
    at = datetime.now(UTC) - timedelta(hours=hours_ago)
    return {"id": str(uuid4()), "made_at": at.isoformat(), "kind": kind, **what}


def _process(client: httpx.Client) -> int:
    asked = {
        "name": f"Bench {uuid4().hex[:6]}",
        "products": ["Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"],
        "wanted": "Cu2(OH)2CO3",
        "ingredients": [
            {"name": "Salt", "parts_g": 50.0, "formula": "CuSO4.5H2O", "solution_pct": 10.0},
            {"name": "Soda", "parts_g": 25.0, "formula": "Na2CO3", "solution_pct": 10.0},
        ],
        "steps": [{"kind": "acidity", "says": "pH", "ph_low": 6.5, "ph_high": 8.5}, {"kind": "dry", "says": "Dry"}],
    }
    return int(client.post("/api/making/processes", json=asked).raise_for_status().json()["id"])


def _run(client: httpx.Client, process: int) -> int:
    begun = client.post(f"/api/making/processes/{process}/runs", json={"request_id": str(uuid4())})
    number = int(begun.raise_for_status().json()["number"])
    for n in range(READINGS):
        hours = 200.0 - 4 * n
        grams = 20 + 40 * 0.9**n
        for body in (_said(hours, "ph", ph=6.8 + 0.02 * n), _said(hours - 1, "weighed", g=grams)):
            client.post(f"/api/making/runs/{number}/acts", json=body).raise_for_status()
    return number
