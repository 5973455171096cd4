"""Jobs and their logs, for every craft: begun once, held while written, each act kept once and never changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from pydantic_core import from_json
from sqlalchemy import (
    CTE,
    Boolean,
    ColumnElement,
    Integer,
    Row,
    String,
    Text,
    Update,
    bindparam,
    case,
    cast,
    func,
    insert,
    literal,
    literal_column,
    select,
    update,
)
from sqlalchemy.dialects.postgresql import JSONB, aggregate_order_by
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.engine import notified
from niddy.db.log import Act, Job
from niddy.studio.errors import Conflict
from niddy.studio.sent import same
from niddy.studio.undoing import undone_by

_JOB = table_of(Job)

STRIKE = "strike"
"""The kind of an act that strikes out another, in every room."""


@dataclass(frozen=True, slots=True)
class Entry:
    """One act as logged: what the client sent, what the door made of it, and whether it was struck out."""

    id: UUID
    seq: int
    kind: str
    payload: dict[str, Any]
    facts: dict[str, Any]
    strikes: UUID | None
    made_at: datetime
    struck: bool = False


def find(session: Session, room: str, number: int) -> int | None:
    """The id of a room's job by its number, or None."""
    return session.scalar(select(_JOB.c.id).where(_JOB.c.room == room, _JOB.c.number == number))


def by_request(session: Session, room: str, request_id: UUID) -> int | None:
    """The id of the job a request began in a room, or None."""
    return session.scalar(select(_JOB.c.id).where(_JOB.c.room == room, _JOB.c.request_id == request_id))


def hold(session: Session, job_id: int) -> int:
    """Hold a job's row until the transaction ends: whoever logs in it waits. The place of its last act."""
    held = session.execute(select(_JOB.c.last_seq).where(_JOB.c.id == job_id).with_for_update())
    return int(held.scalar_one())


def hold_of(session: Session, room: str, number: int) -> int | None:
    """Hold a room's job by its number, as `hold` does; its id, or None where there is none.

    What is read in the statement that waits may be from before the wait: whatever else is wanted of the job is read
    in a statement after this one.
    """
    held = select(_JOB.c.id).where(_JOB.c.room == room, _JOB.c.number == number).with_for_update()
    return session.scalar(held)


# Spelled out, not bound: only so does the planner know that the partial index of strike-outs serves. A strike that
# was itself struck strikes nothing.
STRUCK = literal_column(
    "exists (select 1 from act strike where strike.strikes = act.id and strike.strikes is not null"
    " and not exists (select 1 from act back where back.strikes = strike.id))",
    type_=Boolean,
).label("struck")
OF_ACT = (Act.id, Act.job_id, Act.seq, Act.kind, Act.payload, Act.facts, Act.strikes, Act.made_at)
"""The columns an `Entry` is read from, but for whether it was struck out."""

_LOG = (
    select(*OF_ACT, STRUCK)
    .where(Act.job_id == bindparam("of_job"), Act.seq < func.coalesce(bindparam("before", type_=Integer), 2**31 - 1))
    .order_by(Act.seq.desc())
    .limit(bindparam("last", type_=Integer))
)


def recent(job_id: ColumnElement[Any], last: ColumnElement[int]) -> ColumnElement[Any]:
    """An expression for the last acts of a job, in a statement that reads or writes more beside; see `entries_in`."""
    some = (
        select(*_OF_ACT, STRUCK).where(_ACT.job_id == job_id).order_by(_ACT.seq.desc()).limit(last).subquery("some").c
    )
    return select(_in_order(some, some.struck)).scalar_subquery()


_ACT = table_of(Act).c
_OF_ACT = (_ACT.id, _ACT.seq, _ACT.kind, _ACT.payload, _ACT.facts, _ACT.strikes, _ACT.made_at)


def _in_order(act: Any, struck: ColumnElement[bool]) -> ColumnElement[Any]:
    one = func.json_build_array(act.id, act.seq, act.kind, act.payload, act.facts, act.strikes, act.made_at, struck)
    return func.json_agg(aggregate_order_by(one, act.seq))


_AS_TEXT = (
    select(_ACT.job_id, cast(_in_order(_ACT, STRUCK), Text))
    .where(_ACT.job_id.in_(bindparam("jobs", expanding=True)))
    .group_by(_ACT.job_id)
)


def as_text(session: Session, job_ids: list[int]) -> dict[int, str]:
    """The logs of some jobs as text, for `from_text`. While one stays the same, so does all that follows of it."""
    found = dict.fromkeys(job_ids, "")
    found.update((row[0], row[1]) for row in session.execute(_AS_TEXT, {"jobs": job_ids}))
    return found


def from_text(text: str) -> tuple[Entry, ...]:
    """The acts of a log as `as_text` has it, in order."""
    return entries_in(from_json(text) if text else None)


def added(before: str, text: str) -> tuple[Entry, ...] | None:
    """The acts at the end of a log that came since it was `before`; None where anything in that changed."""
    whole = before.removesuffix("]")
    more = text.removeprefix(whole)
    if not whole or more == text or not more.startswith(","):
        return None
    return from_text(f"[{more[1:]}")


def entries_in(found: list[list[Any]] | None) -> tuple[Entry, ...]:
    """The acts that `recent` found, in order."""
    return tuple(
        Entry(
            UUID(act_id),
            seq,
            kind,
            payload,
            facts,
            UUID(strikes) if strikes else None,
            datetime.fromisoformat(made_at),
            struck,
        )
        for act_id, seq, kind, payload, facts, strikes, made_at, struck in found or ()
    )


def entry_of(row: Any) -> Entry:
    """An entry from a row of `OF_ACT` with `struck`."""
    return Entry(row.id, row.seq, row.kind, row.payload, row.facts, row.strikes, row.made_at, row.struck)


def entries(session: Session, job_id: int, last: int | None = None, before: int | None = None) -> tuple[Entry, ...]:
    """The acts of a job in order; only the `last` of them, or of those that stand before a place."""
    rows = session.execute(_LOG, {"of_job": job_id, "last": last, "before": before}).all()
    return tuple(entry_of(row) for row in reversed(rows))


def of_kind(session: Session, job_id: int, kind: str) -> tuple[Entry, ...]:
    """The acts of one kind of a job, in order."""
    wanted = select(*OF_ACT, STRUCK).where(Act.job_id == job_id, Act.kind == kind).order_by(Act.seq)
    return tuple(entry_of(row) for row in session.execute(wanted))


def several(session: Session, job_ids: list[int]) -> dict[int, list[Entry]]:
    """The acts of some jobs, each in order."""
    found: dict[int, list[Entry]] = {job_id: [] for job_id in job_ids}
    for row in session.execute(select(*OF_ACT, STRUCK).where(Act.job_id.in_(job_ids)).order_by(Act.seq)):
        found[row.job_id].append(entry_of(row))
    return found


def act(session: Session, job_id: int, act_id: UUID) -> Entry | None:
    """One act of a job, or None."""
    row = session.execute(select(*OF_ACT, STRUCK).where(Act.id == act_id, Act.job_id == job_id)).first()
    return entry_of(row) if row is not None else None


def job_of_act(session: Session, act_id: UUID) -> int | None:
    """The job an act was logged in, or None."""
    return session.scalar(select(Act.job_id).where(Act.id == act_id))


def known(session: Session, job_id: int, act_id: UUID, kind: str, payload: Mapping[str, Any]) -> bool:
    """Whether an act was logged before, just so; asked once the job is held. Conflict where its id is another act's."""
    row = session.execute(select(*OF_ACT).where(Act.id == act_id)).first()
    if row is None:
        return False
    if (row.job_id, row.kind) != (job_id, kind) or not same(row.payload, payload):
        raise taken()
    return True


def taken() -> Conflict:
    """The refusal of an act under an id that another act has."""
    return Conflict("id", "this id belongs to another act already", "a new id for another act")


# The statement of the busiest path is built once a room: an act is logged in one round trip with what follows from it.
def appending(*also: CTE, telling: tuple[ColumnElement[Any], ...] = ()) -> Update:
    """A statement that writes an act into a job's log and tells other windows.

    `also` is what else follows in the room, `telling` what it reads beside: of the log what was there before the act.
    """
    # No name bound here is a column's: those of a table that `also` updates would be set by it.
    written = (
        insert(Act)
        .values(
            id=bindparam("act_id"),
            job_id=bindparam("of_job"),
            seq=bindparam("act_seq"),
            kind=bindparam("act_kind"),
            payload=bindparam("act_payload"),
            facts=bindparam("act_facts"),
            strikes=bindparam("act_strikes"),
            made_at=bindparam("act_made_at"),
            recorded_at=bindparam("act_recorded_at"),
        )
        .cte("written")
    )
    status = bindparam("new_status", type_=String)
    statement = (
        update(_JOB)
        .where(_JOB.c.id == bindparam("of_job"))
        .values(
            last_seq=bindparam("act_seq"),
            status=func.coalesce(status, _JOB.c.status),
            state=func.coalesce(bindparam("new_state", type_=JSONB(none_as_null=True)), _JOB.c.state),
            ended_at=case(
                (func.coalesce(status, _JOB.c.status) == Status.OPEN, None),
                else_=func.coalesce(_JOB.c.ended_at, bindparam("act_made_at")),
            ),
        )
        .add_cte(written, *also)
        .returning(notified(cast(bindparam("of_job"), String)), *telling)
    )
    return statement


_APPEND = appending()


@dataclass(frozen=True, slots=True)
class New:
    """An act to be logged."""

    id: UUID
    kind: str
    made_at: datetime
    payload: dict[str, Any]
    facts: dict[str, Any]
    strikes: UUID | None = None


def append(
    session: Session, now: datetime, job_id: int, new: New, seq: int, *, status: Status | None = None, state: Any = None
) -> Entry:
    """Write an act as `seq` into the log of a job that is held, with the status and state where these change."""
    write(session, now, job_id, new, seq, statement=_APPEND, status=status, state=state)
    return Entry(new.id, seq, new.kind, new.payload, new.facts, new.strikes, new.made_at)


def write(
    session: Session,
    now: datetime,
    job_id: int,
    new: New,
    seq: int,
    *,
    statement: Update,
    status: Status | None = None,
    state: Any = None,
    **also: Any,
) -> Row[Any]:
    """As `append`, by one of `appending`'s statements: `also` is what it binds, the row what it tells."""
    written = session.execute(
        statement,
        {
            "act_id": new.id,
            "of_job": job_id,
            "act_seq": seq,
            "act_kind": new.kind,
            "act_payload": new.payload,
            "act_facts": new.facts,
            "act_strikes": new.strikes,
            "act_made_at": new.made_at,
            "act_recorded_at": now,
            "new_status": status,
            "new_state": state,
            **also,
        },
        execution_options={"synchronize_session": False},
    )
    row: Row[Any] = written.one()
    return row


def log(session: Session, now: datetime, job_id: int, new: New, *, status: Status | None = None) -> Entry:
    """Hold a job and write an act into its log, after its last."""
    return append(session, now, job_id, new, hold(session, job_id) + 1, status=status)


def strike(session: Session, now: datetime, job_id: int, new: New) -> Entry:
    """Log a strike-out of an act of the same job, by the rule of `undone_by`. Raises Refused."""
    undone_by(entries(session, job_id), new.strikes)
    return log(session, now, job_id, new)


def note_end(session: Session, now: datetime, job_id: int, status: Status) -> None:
    """A job that ended, or was taken up again, without an act of its own that says so."""
    ended = None if status is Status.OPEN else now
    session.execute(update(_JOB).where(_JOB.c.id == job_id).values(status=status, ended_at=ended))


def tell(session: Session, job_id: int) -> None:
    """Tell every open window of a job to look again, once this transaction commits."""
    session.execute(select(notified(literal(str(job_id)))))
