"""The day's part of the bench: twelve jobs exactly, two hundred by search, and their gap to the best known."""

from __future__ import annotations

import time
from collections.abc import Callable

import httpx

from niddy.core.day import best_order
from tests.core.test_day import made_up

BEST_KNOWN = {50: 275.98, 100: 485.52, 200: 889.12}
"""The least cleaning found so far on the seeded days, in minutes."""


def at_the_door(client: httpx.Client, rounds: int) -> None:
    """Home and the day against the bare endpoint: opened again, and the first time after something was written."""
    from tests.bench.benching import print_table, timed

    named = {"home": "/api/home", "day": "/api/day"}
    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "home": lambda: client.get(named["home"]),
        "day": lambda: client.get(named["day"]),
    }
    print("\nhome and the day, opened again")
    print_table(timed(requests, rounds))
    lots = client.get("/api/materials/lots").json()
    lot = (lots["lots"] if isinstance(lots, dict) else lots)[0]
    took: dict[str, list[float]] = {name: [] for name in ("bare", *named)}
    for n in range(max(5, rounds // 10)):
        for name, path in {"bare": "/api/health", **named}.items():
            said = {"why": f"look {n}"}
            client.put(f"/api/materials/lots/{lot['id']}/suspect", json=said).raise_for_status()
            begun = time.perf_counter()
            client.get(path).raise_for_status()
            took[name].append(time.perf_counter() - begun)
    print("the first time after a change")
    base = sorted(took.pop("bare"))
    for name, found in took.items():
        print(f"  {name:6} {sorted(found)[len(found) // 2] / base[len(base) // 2]:5.1f} times the bare endpoint")


def days(client: httpx.Client, rounds: int) -> None:
    """A day of twelve jobs against the bare endpoint, and large ones with their gap to the best known."""
    from tests.bench.benching import print_table, timed

    body = {
        "jobs": [
            {
                "key": job.key,
                "minutes": job.minutes,
                "lightness": job.lightness,
                "staining": job.staining,
                "oil": job.oil,
                "hazard": job.hazard,
            }
            for job in made_up(12, 12)
        ]
    }
    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "day of 12": lambda: client.post("/api/calc/day", json=body),
    }
    print("\na day's order")
    print_table(timed(requests, rounds))
    for count, known in BEST_KNOWN.items():
        begun = time.perf_counter()
        found = best_order(made_up(count, count)).total_cleaning_min
        took = time.perf_counter() - begun
        print(
            f"{count} jobs: {found:.1f} min of cleaning, {100 * (found / known - 1):+.2f} % from the best known,"
            f" {took:.2f} s"
        )
