"""Jobs of every craft on a day: what is begun in a room goes on, or something new is begun; the log ticks it off."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.log import Act, Job


@dataclass(frozen=True, slots=True)
class Craft:
    """A craft in which a job that is begun can be put on a day: minutes of one sitting (assumed), its page."""

    room: str
    minutes: float
    what: str
    says: str
    page: str


CRAFTS = {
    "run": Craft("runs", 15.0, "go on with", "a run under way", "/making/runs/{ref}"),
    "can": Craft("cans", 8.0, "wash into, or pour off", "a can of brush washings", "/sludge/cans/{ref}"),
    "dish": Craft("dishes", 4.0, "see to", "a dish that dries", "/sludge/dishes/{ref}"),
    "chart": Craft("charts", 60.0, "paint", "a chart of mixtures", "/mixing/charts/{ref}"),
}
"""By the kind of the day's job."""


@dataclass(frozen=True, slots=True)
class New:
    """Something to be begun that day, before there is anything of it."""

    name: str
    rooms: tuple[str, ...]
    minutes: float
    page: str


NEW = {
    1: New("Grind a batch", ("slab",), 60.0, "/plan"),
    2: New("Make sticks", ("sticks",), 50.0, "/sticks/plan"),
    3: New("Make pigment", ("runs",), 40.0, "/making"),
    4: New("Wash brushes, or pour off", ("cans",), 8.0, "/sludge"),
    5: New("Sludge into a dish", ("dishes",), 5.0, "/sludge"),
    6: New("Paint a chart", ("charts",), 60.0, "/mixing/charts/new"),
    7: New("Rub out a powder", ("rubout",), 15.0, "/rub-out"),
}
"""What a day can be given from an empty studio, by its `ref`."""

_JOB, _ACT = table_of(Job), table_of(Act)


@dataclass(frozen=True, slots=True)
class Begun:
    """A job of a craft that is begun."""

    kind: str
    number: int
    name: str


def begun_in(session: Session, kind: str, limit: int) -> Iterator[Begun]:
    """The jobs of a craft that are open, the newest first."""
    rows = session.execute(
        select(_JOB.c.number, _JOB.c.name)
        .where(_JOB.c.room == CRAFTS[kind].room, _JOB.c.status == Status.OPEN)
        .order_by(_JOB.c.number.desc())
        .limit(limit)
    )
    for row in rows:
        yield Begun(kind, row.number, f"{row.name}, {kind} {row.number}" if row.name else f"{kind} {row.number}")


def one_of(session: Session, kind: str, number: int) -> Begun | None:
    """A job of a craft that is open; None where there is none such."""
    return next((one for one in begun_in(session, kind, 1_000) if one.number == number), None)


def worked(session: Session, midnight: datetime, rooms: Iterable[str]) -> dict[tuple[str, int], datetime]:
    """When the jobs of some rooms were last worked on that day; nothing of those that were not."""
    wanted = set(rooms)
    if not wanted:
        return {}
    rows = session.execute(
        select(_JOB.c.room, _JOB.c.number, func.max(_ACT.c.made_at).label("last"))
        .join(_ACT, _ACT.c.job_id == _JOB.c.id)
        .where(_JOB.c.room.in_(wanted), _ACT.c.made_at >= midnight, _ACT.c.made_at < midnight + timedelta(days=1))
        .group_by(_JOB.c.room, _JOB.c.number)
    )
    return {(row.room, row.number): row.last for row in rows}


def done_at(kind: str, ref: int, put_at: datetime, seen: dict[tuple[str, int], datetime]) -> datetime | None:
    """When a craft's job was worked on since it was put on; None where it was not."""
    if kind == "new":
        last = [at for (room, _), at in seen.items() if room in NEW[ref].rooms and at >= put_at]
        return max(last, default=None)
    at = seen.get((CRAFTS[kind].room, ref))
    return at if at is not None and at >= put_at else None
