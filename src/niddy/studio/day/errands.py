"""What falls due as errands of a day: how long each takes, and many of a kind as one."""

from __future__ import annotations

from niddy.core.due import Due

MINUTES: dict[str, float] = {
    "checks": 6.0, "shelf": 2.0, "sticks": 8.0, "sludge": 5.0, "making": 8.0, "additives": 4.0, "batches": 3.0,
    "pots": 50.0, "runs": 15.0, "dishes": 4.0, "rubouts": 12.0,
}  # fmt: skip
"""Minutes of one thing that is due in a room (assumed)."""

USUAL_MIN = 5.0
TOGETHER_FROM = 3
"""So many of one kind are one errand."""

PAGES = {"shelf": "/shelf?show=due&sort=due", "checks": "/checks", "batches": "/batches"}
MANY = {"shelf": "tubes and jars", "checks": "batches", "batches": "batches"}
_COUNTED = "#"


def grouped(waits: list[Due]) -> tuple[Due, ...]:
    """Many of one room and kind as one, at the moment from which the first of them can be done."""
    kinds: dict[tuple[str, str], list[Due]] = {}
    for wait in waits:
        kinds.setdefault((wait.room, wait.what), []).append(wait)
    found: list[Due] = []
    for (room, what), some in kinds.items():
        if len(some) < TOGETHER_FROM or room not in PAGES:
            found += some
            continue
        first = min(some, key=lambda wait: wait.at)
        key = f"{what.lower().replace(' ', '-')}{_COUNTED}{len(some)}"
        found.append(Due(room, key, what, f"{len(some)} {MANY[room]}", first.says, first.at, PAGES[room]))
    return tuple(found)


def minutes_of(wait: Due) -> float:
    """How long something that is due takes (assumed)."""
    _, counted, many = wait.key.partition(_COUNTED)
    return MINUTES.get(wait.room, USUAL_MIN) * (int(many) if counted else 1)
