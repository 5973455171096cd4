"""What falls due as errands of a day: how long each takes, and many of a kind as one; minutes of what is put on it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from niddy.core.due import Due

MINUTES: dict[str, float] = {
    "checks": 6.0,
    "shelf": 2.0,
    "sticks": 8.0,
    "sludge": 5.0,
    "making": 8.0,
    "additives": 4.0,
    "batches": 3.0,
    "pots": 50.0,
    "runs": 15.0,
    "dishes": 4.0,
    "rubouts": 12.0,
}
"""Minutes of one thing that is due in a room (assumed)."""

USUAL_MIN = 5.0
TOGETHER_FROM = 3
"""So many of one kind are one errand."""

POT_MIN = MINUTES["pots"]
"""A pot of sticks from the melt to the moulds (assumed)."""

CAKE_MIN = 60.0
"""To grind a cake, where nothing is planned yet (assumed)."""

FILL_MIN, FILL_EACH_MIN, FILL_ML = 6.0, 1.5, 30.0
"""Filling: to begin and tidy, and for each tube of about so much (assumed)."""

LEAST_LEFT_MIN = 10.0
"""What goes on takes so long still, however long it took already (assumed)."""

LOST_AFTER_MIN = 600.0
"""A batch begun longer ago was left lying: all its minutes are taken for still to come."""

PAGES = {"shelf": "/shelf?show=due&sort=due", "checks": "/checks", "batches": "/batches"}
MANY = {"shelf": "tubes and jars", "checks": "batches", "batches": "batches"}


def as_errands(waits: Iterable[Due]) -> tuple[Due, ...]:
    """What is due with the minutes it takes; many of one room and kind as one, from when the first of them can be."""
    kinds: dict[tuple[str, str], list[Due]] = {}
    for wait in waits:
        each_min = MINUTES.get(wait.room, USUAL_MIN)
        kinds.setdefault((wait.room, wait.what), []).append(replace(wait, takes_min=each_min))
    found: list[Due] = []
    for (room, what), some in kinds.items():
        if len(some) < TOGETHER_FROM or room not in PAGES:
            found += some
            continue
        first = min(some, key=lambda wait: wait.at)
        together = sum(wait.takes_min or 0.0 for wait in some)
        key = what.lower().replace(" ", "-")
        found.append(replace(first, key=key, name=f"{len(some)} {MANY[room]}", page=PAGES[room], takes_min=together))
    return tuple(found)


def fill_min(left_ml: float) -> float:
    """Minutes to fill so much paint into tubes (assumed)."""
    return FILL_MIN + FILL_EACH_MIN * max(1, round(left_ml / FILL_ML))


def left_min(minutes: float, ran_min: float) -> float:
    """What is left of a job that was begun so many minutes ago."""
    return max(LEAST_LEFT_MIN, minutes - ran_min) if 0 <= ran_min <= LOST_AFTER_MIN else minutes
