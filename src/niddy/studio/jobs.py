"""Jobs of every craft: begun once under a number of their own, or kept whole, or beside those of another room."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import NAMESPACE_OID, UUID, uuid5

from sqlalchemy import insert, select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.studio import log
from niddy.studio.errors import Conflict
from niddy.studio.numbering import next_number, number_next

_JOB = table_of(Job)


@dataclass(frozen=True, slots=True)
class Begun:
    """A job by its id and its room's number, and whether this request began it or found it begun."""

    job_id: int
    number: int
    anew: bool


def any_begun(session: Session, without: Collection[str]) -> bool:
    """Whether a job was ever begun, in any room but some."""
    return session.scalar(select(_JOB.c.id).where(_JOB.c.room.not_in(without)).limit(1)) is not None


def begin_job(
    session: Session,
    room: str,
    now: datetime,
    request_id: UUID,
    name: str,
    asked: dict[str, Any] | None = None,
    *,
    plan: Any = None,
    plan_version: int = 0,
    state: Any = None,
    state_version: int = 0,
) -> Begun:
    """Begin a job under the room's next number. The same `request_id` again gives the same job.

    Raises Conflict where it began something else.
    """
    earlier = _begun_before(session, room, request_id, asked)
    if earlier is not None:
        return earlier
    number = next_number(session, room)
    job_id = session.scalar(
        insert_once(_JOB)
        .values(
            room=room,
            number=number,
            request_id=request_id,
            name=name,
            status=Status.OPEN,
            asked=asked or {},
            plan=plan,
            plan_version=plan_version,
            state=state,
            state_version=state_version,
            started_at=now,
            last_seq=0,
        )
        .on_conflict_do_nothing(constraint="uq_job_request_id")
        .returning(_JOB.c.id)
    )
    if job_id is not None:
        return Begun(job_id, number, anew=True)
    # The same request at the same moment was first; the number is held and given back.
    number_next(session, room, number)
    earlier = _begun_before(session, room, request_id, asked)
    assert earlier is not None
    return earlier


def _begun_before(session: Session, room: str, request_id: UUID, asked: dict[str, Any] | None) -> Begun | None:
    job = _JOB.c
    found = session.execute(
        select(job.id, job.number, job.asked).where(job.room == room, job.request_id == request_id)
    ).first()
    if found is None:
        return None
    if found.asked != (asked or {}):
        raise Conflict("request_id", "this id began something else already", "a new id for another")
    return Begun(found.id, found.number, anew=False)


def keep_whole_job(session: Session, room: str, now: datetime, request_id: UUID, number: int, name: str) -> int:
    """A job that is begun and done at once, under a number it has already; its id."""
    done = insert(_JOB).values(
        room=room,
        number=number,
        request_id=request_id,
        name=name,
        status=Status.FINISHED,
        asked={},
        started_at=now,
        ended_at=now,
        last_seq=0,
    )
    return int(session.execute(done.returning(_JOB.c.id)).scalar_one())


def job_beside(session: Session, room: str, now: datetime, number: int, name: str) -> int:
    """The job a room keeps under the number of another's, begun where there is none yet; its id."""
    found = log.find(session, room, number)
    if found is not None:
        return found
    made = (
        insert_once(_JOB)
        .values(
            room=room,
            number=number,
            request_id=uuid5(NAMESPACE_OID, f"{room}/{number}"),
            name=name,
            status=Status.OPEN,
            asked={},
            started_at=now,
            last_seq=0,
        )
        .on_conflict_do_nothing(constraint="uq_job_number")
    )
    session.execute(made)
    begun = log.find(session, room, number)
    assert begun is not None
    return begun
