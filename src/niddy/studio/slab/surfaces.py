"""The slabs of the studio as they are now: clean, in use, or to be cleaned, and after what."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy.orm import Session

from niddy.core.cautions import kept_apart
from niddy.studio import batches, workshop

FORGOTTEN = timedelta(days=3)
"""A slab that nobody said was cleaned is taken for clean after so long (assumed)."""


class Surface(StrEnum):
    """What a slab is."""

    CLEAN = "clean"
    IN_USE = "in_use"
    TO_CLEAN = "to_clean"


@dataclass(frozen=True, slots=True)
class SlabNow:
    """One slab: clean, in use by a batch, or to be cleaned after one; `strict` where what is in it must not spread."""

    slab_id: int
    name: str
    surface: Surface
    batch: int | None = None
    batch_name: str = ""
    since: datetime | None = None
    strict: bool = False


def slabs_now(session: Session, now: datetime) -> tuple[SlabNow, ...]:
    """Every slab of the studio, as the last batches left it."""
    latest = batches.on_slabs(session)

    def surface(slab_id: int, name: str) -> SlabNow:
        on_it = [batch for batch in latest if batch.slab_id == slab_id]
        begun = next((batch for batch in on_it if batch.open and not batch.cleaned), None)
        last = begun or (on_it[0] if on_it else None)
        forgotten = last is not None and last.ended_at is not None and now - last.ended_at >= FORGOTTEN
        if last is None or last.cleaned or forgotten:
            return SlabNow(slab_id, name, Surface.CLEAN)
        what, since = (Surface.IN_USE, last.started_at) if last.open else (Surface.TO_CLEAN, last.ended_at)
        cautions = batches.cautions_now(batches.batch(session, last.number, 0))
        apart = kept_apart(tuple(caution.key for caution in cautions))
        return SlabNow(slab_id, name, what, last.number, last.name, since, bool(apart))

    return tuple(surface(slab_id, name) for slab_id, name in workshop.slab_names(session))


def surface_for(session: Session, now: datetime, number: int, slab_id: int | None) -> SlabNow | None:
    """What lies on the slab that a batch is planned for, if that is another batch's paint; None where it is clean."""
    for slab in slabs_now(session, now) if slab_id is not None else ():
        if slab.slab_id == slab_id and slab.surface is not Surface.CLEAN and slab.batch != number:
            return slab
    return None
