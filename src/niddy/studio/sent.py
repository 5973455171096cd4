"""What a device says with an act: the job it means by a number, and what it said when it sent the same before."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.studio.errors import Conflict, Missing
from niddy.studio.times import CLOCK_SAID

_JOB = table_of(Job)


def same(one: Mapping[str, Any], other: Mapping[str, Any]) -> bool:
    """Whether two payloads say the same, whatever a device's clock said when they were sent."""
    return _as_sent(one) == _as_sent(other)


def _as_sent(payload: Mapping[str, Any]) -> dict[str, Any]:
    sent = {key: value for key, value in payload.items() if key != CLOCK_SAID}
    return sent | {"made_at": payload[CLOCK_SAID]} if CLOCK_SAID in payload else sent


def own_id(session: Session, job_id: int) -> UUID:
    """The id a job has for ever, whatever its number is: the one its beginning was asked under."""
    found: UUID = session.execute(select(_JOB.c.request_id).where(_JOB.c.id == job_id)).scalar_one()
    return found


def check_job(session: Session, job_of: Callable[[Session, int], int], number: int, meant: UUID | None) -> None:
    """Hold that a number is of the job that was meant: after an older backup another may have it. Raises Conflict."""
    if meant is None:
        return
    try:
        there = own_id(session, job_of(session, number))
    except Missing:
        there = None
    if there != meant:
        raise Conflict("job", f"what this was made for is not number {number} here", "the one it belongs to")
