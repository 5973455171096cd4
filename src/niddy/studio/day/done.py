"""What was done on a day, as the logs say it: nobody ticks anything off."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core.log import said_of
from niddy.db.log import Act, Job

SHOWN = 12
PAGES = {
    "slab": "/batches/{n}",
    "checks": "/checks/{n}",
    "rubout": "/rub-out/{n}",
    "sticks": "/sticks/{n}",
    "cans": "/sludge/cans/{n}",
    "dishes": "/sludge/dishes/{n}",
    "runs": "/making/runs/{n}",
    "shelf": "/shelf/{n}",
    "additives": "/additives/ladders/{n}",
}


@dataclass(frozen=True, slots=True)
class DoneLine:
    """Something that was worked on, or ended: in which room, as what, when last, by how many acts."""

    room: str
    number: int
    name: str
    what: str
    says: str
    acts: int
    last_min: float
    page: str


def done_on(session: Session, midnight: datetime, utc_offset_min: int) -> tuple[DoneLine, ...]:
    """What was worked on that day, the last first. Practice is no work."""
    rows = session.execute(
        select(
            Job.room,
            Job.number,
            Job.name,
            Job.status,
            Job.ended_at,
            func.count(Act.id).label("acts"),
            func.max(Act.made_at).label("last"),
        )
        .join(Act, Act.job_id == Job.id)
        .where(Act.made_at >= midnight, Act.made_at < midnight + timedelta(days=1), Job.room != "practice")
        .group_by(Job.id)
        .order_by(func.max(Act.made_at).desc())
        .limit(SHOWN)
    )
    found = []
    for row in rows:
        ended = row.ended_at is not None and midnight <= row.ended_at < midnight + timedelta(days=1)
        acts = f"{row.acts} {'act' if row.acts == 1 else 'acts'}"
        found.append(
            DoneLine(
                row.room,
                row.number,
                row.name,
                said_of(row.room, row.number),
                f"{row.status}, {acts}" if ended else acts,
                row.acts,
                (row.last - midnight).total_seconds() / 60,
                PAGES.get(row.room, "").format(n=row.number),
            )
        )
    return tuple(found)
