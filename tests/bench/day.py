"""The day's part of the bench: twelve jobs exactly, two hundred by search, and their gap to the best known."""

from __future__ import annotations

import random
import time
from collections.abc import Callable

import httpx

from niddy.core.day import Job, best_order

OILS = ("linseed", "walnut", "poppy")
BEST_KNOWN = {50: 275.98, 100: 485.52, 200: 889.12}
"""The least cleaning found so far on the seeded days, in minutes."""


def made_up(seed: int, count: int) -> list[Job]:
    """A seeded day of so many jobs."""
    chance = random.Random(seed)
    return [
        Job(
            f"j{n}",
            chance.choice((20.0, 45.0, 90.0)),
            chance.choice((25.0, 40.0, 55.0, 70.0, 92.0)),
            chance.randrange(4),
            chance.choice(OILS),
            chance.random() < 0.2,
        )
        for n in range(count)
    ]


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
