"""Which batches lay on which slab last, and whether it was cleaned of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Integer, bindparam, cast, func, select
from sqlalchemy.orm import Session

from niddy.core.slab import Status
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Job

LOOKED_AT = 40
"""So many of the last batches say what lies on which slab."""


@dataclass(frozen=True, slots=True)
class OnSlab:
    """A batch whose powder was on a slab."""

    number: int
    name: str
    slab_id: int | None
    open: bool
    cleaned: bool
    started_at: datetime
    ended_at: datetime | None


_BATCH, _JOB = (table_of(model).c for model in (Batch, Job))
_LATEST = (
    select(
        _BATCH.number,
        _JOB.name,
        _JOB.status,
        _JOB.started_at,
        _JOB.ended_at,
        cast(_JOB.plan["bench"]["slab_id"].astext, Integer).label("slab_id"),
        func.coalesce(_JOB.state["cleaned"].astext, "false").label("cleaned"),
    )
    .where(_JOB.id == _BATCH.job_id, _BATCH.pigment_g > 0)
    .order_by(_BATCH.number.desc())
    .limit(bindparam("last", type_=Integer))
)


def on_slabs(session: Session) -> tuple[OnSlab, ...]:
    """The last batches whose powder was on a slab, the newest first."""
    return tuple(
        OnSlab(
            number=row.number,
            name=row.name,
            slab_id=row.slab_id,
            open=row.status == Status.OPEN,
            cleaned=row.cleaned == "true",
            started_at=row.started_at,
            ended_at=row.ended_at,
        )
        for row in session.execute(_LATEST, {"last": LOOKED_AT})
    )
