"""A studio that would come in, read as its rooms read it: acts by their models, and every job and page opened once."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.log import said_of
from niddy.studio import additives, home, making, materials, mixing, recipes, rubout, shelf, slab, sludge, sticks
from niddy.studio.batches import batch
from niddy.studio.errors import Missing

ACTS: dict[str, Callable[[dict[str, Any]], Any]] = {
    "slab": slab.act_of,
    "practice": slab.act_of,
    "sticks": sticks.POTS.acts.act_of,
    "cans": sludge.CANS.acts.act_of,
    "dishes": sludge.DISHES.acts.act_of,
    "runs": making.RUNS.acts.act_of,
    "charts": mixing.CHARTS.acts.act_of,
    "additives": additives.LADDERS.acts.act_of,
    "shelf": shelf.ITEMS.acts.act_of,
}
"""Rooms whose acts come from devices, and how each is read."""

OF_THE_DOOR = {
    "shelf": frozenset({"put", "drawn", "inspected", "photo", "topped_up", "settle", "regrind"}),
    "practice": frozenset({"judge"}),
}
"""Acts that a room logs by itself, which are no act of a device."""

JOBS: dict[str, Callable[[Session, datetime, int], object]] = {
    "slab": lambda session, now, number: (batch(session, number), slab.view(session, now, number)),
    "sticks": sticks.view,
    "cans": sludge.can,
    "dishes": sludge.dish,
    "runs": making.run,
    "charts": mixing.view,
    "additives": additives.page,
    "shelf": lambda session, _, number: shelf.contents_of_row(session, shelf.item_row(session, number)),
    "rubout": lambda session, _, number: rubout.test(session, number),
}
"""How a room opens one of its jobs."""

PAGES: dict[str, tuple[str, Callable[[Session, datetime, int], object]]] = {
    "recipe": ("id", lambda session, _, key: recipes.page(session, key)),
    "stick_base": ("id", lambda session, _, key: sticks.page(session, key)),
    "making_process": ("id", lambda session, _, key: making.page(session, key)),
    "lot": ("id", lambda session, _, key: materials.lot(session, key)),
}
"""What else is opened by its id."""


def check(session: Session, now: datetime) -> None:
    """Read everything once, as whoever opens it would. Raises Refused for the first that cannot be read."""
    session.execute(text("set local idle_in_transaction_session_timeout to 0"))
    _acts(session)
    jobs = session.execute(text("select room, number from job order by id")).all()
    for room, number in jobs:
        if room in JOBS:
            _opened(session, said_of(room, number) or f"number {number}", JOBS[room], now, number)
    for table, (key, opens) in PAGES.items():
        for one in session.execute(text(f'select "{key}" from "{table}" order by 1')).scalars().all():
            _opened(session, f"{table.replace('_', ' ')} {one}", opens, now, one)
    _opened(session, "what waits", lambda session, now, _: home.home(session, now), now, 0)


def _acts(session: Session) -> None:
    every = text(
        "select job.room, job.number, act.id, act.kind, act.payload, act.facts, act.strikes, act.made_at"
        " from act join job on job.id = act.job_id order by act.job_id, act.seq"
    )
    for row in session.execute(every.execution_options(yield_per=1_000)):
        what = f"an act of {said_of(row.room, row.number) or row.room}"
        if not isinstance(row.payload, dict) or not isinstance(row.facts, dict):
            raise _refused(what, "its words are not fields")
        read = ACTS.get(row.room)
        if read is None or row.kind in OF_THE_DOOR.get(row.room, ()):
            continue
        said = {**row.payload, "id": row.id, "kind": row.kind, "made_at": row.made_at}
        if row.strikes is not None and row.room != "additives":
            said["strikes"] = row.strikes
        try:
            read(said)
        except (ValidationError, Refused) as error:
            raise _refused(what, f"'{row.kind}' says what it cannot") from error


def _opened(
    session: Session, what: str, opens: Callable[[Session, datetime, int], object], now: datetime, number: int
) -> None:
    try:
        opens(session, now, number)
    except DBAPIError:
        raise
    except Missing as error:
        raise _refused(what, f"{error.what} {error.key} is missing") from error
    except Exception as error:
        # Whatever it stumbles over, whoever opened it later would as well.
        raise _refused(what, f"it cannot be read ({type(error).__name__})") from error
    finally:
        session.expunge_all()


def _refused(what: str, problem: str) -> Refused:
    return Refused("package", f"{what}: {problem}", "a package as Niddy wrote it")
