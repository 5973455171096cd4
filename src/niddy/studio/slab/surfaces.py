"""The slabs of the studio as they are now: clean, in use, or to be cleaned, and after what."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy import Integer, bindparam, cast, func, select, type_coerce
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from niddy.core.cautions import Level
from niddy.core.slab import Status
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Job
from niddy.db.workshop import Slab

LOOKED_AT = 40
"""So many of the last batches say what lies on which slab."""

FORGOTTEN = timedelta(days=3)
"""A slab that nobody said was cleaned is taken for clean after so long (assumed)."""


class Surface(StrEnum):
    """What a slab is."""

    CLEAN = "clean"
    IN_USE = "in_use"
    TO_CLEAN = "to_clean"


@dataclass(frozen=True, slots=True)
class SlabNow:
    """One slab: clean, in use by a batch, or to be cleaned after one; `strict` where its powders must not spread."""

    slab_id: int
    name: str
    surface: Surface
    batch: int | None = None
    batch_name: str = ""
    since: datetime | None = None
    strict: bool = False


_BATCH, _JOB, _SLAB = (table_of(model).c for model in (Batch, Job, Slab))
_STRICT = type_coerce([{"level": Level.STRICT.value}], JSONB)
_LATEST = (
    select(
        _BATCH.number, _JOB.name, _JOB.status, _JOB.started_at, _JOB.ended_at,
        cast(_JOB.plan["bench"]["slab_id"].astext, Integer).label("slab_id"),
        func.coalesce(_JOB.state["cleaned"].astext, "false").label("cleaned"),
        _JOB.plan["cautions"].cast(JSONB).op("@>")(_STRICT).label("strict"),
    )
    .where(_JOB.id == _BATCH.job_id, _BATCH.pigment_g > 0)
    .order_by(_BATCH.number.desc())
    .limit(bindparam("last", type_=Integer))
)  # fmt: skip


def slabs_now(session: Session, now: datetime) -> tuple[SlabNow, ...]:
    """Every slab of the studio that is in use, as the last batches left it."""
    slabs = session.execute(select(_SLAB.id, _SLAB.name).where(~_SLAB.retired).order_by(_SLAB.id)).all()
    latest = session.execute(_LATEST, {"last": LOOKED_AT}).all()
    found = []
    for slab in slabs:
        on_it = [row for row in latest if row.slab_id == slab.id]
        open_ = next((row for row in on_it if row.status == Status.OPEN and row.cleaned != "true"), None)
        last = open_ or (on_it[0] if on_it else None)
        if last is None:
            found.append(SlabNow(slab.id, slab.name, Surface.CLEAN))
        elif open_ is not None:
            found.append(
                SlabNow(slab.id, slab.name, Surface.IN_USE, last.number, last.name, last.started_at, last.strict)
            )
        else:
            dirty = last.cleaned != "true" and last.ended_at is not None and now - last.ended_at < FORGOTTEN
            surface = Surface.TO_CLEAN if dirty else Surface.CLEAN
            found.append(SlabNow(slab.id, slab.name, surface, last.number, last.name, last.ended_at, last.strict))
    return tuple(found)


def surface_for(session: Session, now: datetime, number: int, slab_id: int | None) -> SlabNow | None:
    """What lies on the slab that a batch is planned for, if that is another batch's paint; None where it is clean."""
    for slab in slabs_now(session, now) if slab_id is not None else ():
        if slab.slab_id == slab_id and slab.surface is not Surface.CLEAN and slab.batch != number:
            return slab
    return None
