"""What a chart's view was made from, in a few letters: as long as it stays, so does the view."""

from __future__ import annotations

from sqlalchemy import String, cast, func, select
from sqlalchemy.orm import Session

from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.mixing import MixingPaint, MixingReading
from niddy.studio import checks, shelf, workshop
from niddy.studio.errors import Missing
from niddy.studio.mixing.charts import ROOM

_JOB, _PAINT, _READING = table_of(Job), table_of(MixingPaint), table_of(MixingReading)


def stamp_of_chart(session: Session, number: int) -> str:
    """What a chart stands on, folded: its log, its paints and what was read of them, the white. Raises Missing."""
    job = session.execute(
        select(_JOB.c.last_seq, _JOB.c.status, func.md5(cast(_JOB.c.state, String)).label("state"), _JOB.c.plan).where(
            _JOB.c.room == ROOM, _JOB.c.number == number
        )
    ).first()
    if job is None:
        raise Missing("chart", number)
    ids = {paint["id"] for paint in job.plan["paints"]}
    white = job.plan["white"]["id"] if job.plan["white"] is not None else None
    own = session.execute(
        select(
            func.count(),
            func.sum(func.hashtext(cast(_READING.c.id, String) + func.coalesce(_READING.c.set_aside, ""))),
            func.array_agg(_READING.c.white_id.distinct()),
        )
    ).one()
    whites = {white, workshop.white_of_tints(session), *(own[2] or ())} - {None}
    paints = session.execute(
        select(_PAINT.c.id, _PAINT.c.batch_number, _PAINT.c.item_id, func.md5(cast(_PAINT.table_valued(), String)))
        .where(_PAINT.c.id.in_(ids | whites))
        .order_by(_PAINT.c.id)
    ).all()
    batches = {row.batch_number for row in paints if row.batch_number is not None}
    read = checks.colours_stamp(session, sorted(batches))
    parts = [
        job.last_seq,
        job.status,
        job.state,
        own[0],
        own[1],
        workshop.white_of_tints(session),
        workshop.shine_of_readings(session),
        *(row[3] for row in paints),
        read.stamp,
        shelf.here_stamp(session, sorted(batches), [row.item_id for row in paints if row.item_id is not None]),
    ]
    further = read.whites - whites - ids
    if further:
        more = select(_PAINT.c.batch_number).where(_PAINT.c.id.in_(further), _PAINT.c.batch_number.is_not(None))
        parts.append(checks.colours_stamp(session, sorted(session.scalars(more))).stamp)
    return "/".join(str(part) for part in parts)
