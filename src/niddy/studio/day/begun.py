"""What was begun in the crafts and waits for no moment: it can go on today, whenever there is time."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core.due import Due
from niddy.core.log import Status
from niddy.studio import making, rubout, sludge, sticks

SHOWN = 12


def begun(session: Session, now: datetime, since: datetime, elsewhere: set[str]) -> tuple[Due, ...]:
    """Pots, runs, dishes and rub-outs that are open, as of `since`; those left out whose page stands there already."""
    found = [one for one in _all(session, now, since) if one.page not in elsewhere]
    return tuple(found[:SHOWN])


def _all(session: Session, now: datetime, since: datetime) -> Iterator[Due]:
    for pot in sticks.open_pots(session):
        name, page = f"{pot.name}, pot {pot.number}", f"/sticks/{pot.number}"
        yield Due("pots", str(pot.number), "open pot", name, "the pot is begun", since, page)
    for run in making.at_home(session, now):
        if run.status is Status.OPEN and run.ready_at is None:
            name, page = f"{run.name}, run {run.number}", f"/making/runs/{run.number}"
            yield Due("runs", str(run.number), "under way", name, run.says, since, page)
    for dish in sludge.open_dishes(session):
        if dish.ready_at is None:
            name, page = f"{dish.name}, dish {dish.number}", f"/sludge/dishes/{dish.number}"
            yield Due("dishes", str(dish.number), "to weigh", name, "so that Niddy knows when it is dry", since, page)
    for test in rubout.still_open(session, SHOWN):
        name = f"{test.pigment_name}, lot {test.lot_code}"
        yield Due("rubouts", str(test.id), "rub-out under way", name, "", since, f"/rub-out/{test.id}")
