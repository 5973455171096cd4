"""Which jobs drew on which lots: read from the movements, not from any plan."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from niddy.db.materials import Lot, LotMovement
from niddy.studio.materials.kept import PIECE_KINDS, kept_of

LEAST_G = 0.0005
"""Less than this drawn in all is a pour that was struck out again."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """Grams of a lot that a job drew, what was given back counted off."""

    lot_id: int
    job_id: int
    grams: float


@dataclass(frozen=True, slots=True)
class LotNamed:
    """A lot as lineage names it."""

    id: int
    code: str
    name: str
    kind: str
    day: date


def drawn(session: Session, *, lot_ids: list[int] | None = None, job_ids: list[int] | None = None) -> tuple[Drawn, ...]:
    """What jobs drew from some lots, or some jobs from lots; empty tubes and jars left out."""
    total = func.sum(-LotMovement.change)
    wanted: Select[int, int | None, float] = (
        select(LotMovement.lot_id, LotMovement.job_id, total)
        .join(Lot, Lot.id == LotMovement.lot_id)
        .where(LotMovement.job_id.is_not(None), Lot.kind.not_in(PIECE_KINDS))
        .group_by(LotMovement.lot_id, LotMovement.job_id)
        .having(total > LEAST_G)
        .order_by(LotMovement.job_id, LotMovement.lot_id)
    )
    if lot_ids is not None:
        wanted = wanted.where(LotMovement.lot_id.in_(lot_ids))
    if job_ids is not None:
        wanted = wanted.where(LotMovement.job_id.in_(job_ids))
    return tuple(Drawn(lot, job, float(grams)) for lot, job, grams in session.execute(wanted) if job)


def lots_named(session: Session, ids: list[int]) -> tuple[LotNamed, ...]:
    """Some lots by their ids, used up or not."""
    rows = session.scalars(select(Lot).where(Lot.id.in_(ids)))
    return tuple(LotNamed(row.id, row.code, kept_of(session, row).name, row.kind, row.received_on) for row in rows)
