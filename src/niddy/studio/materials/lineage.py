"""Which lots went into which batches and gels: read from the movements, not from any plan."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import Integer, Select, func, select
from sqlalchemy.orm import Session

from niddy.db.materials import Lot, LotMovement
from niddy.studio.materials.kept import GEL, kept_of

LEAST_G = 0.0005
"""Less than this drawn in all is a pour that was struck out again."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """Grams of a lot that went into a batch, what was given back counted off."""

    lot_id: int
    batch_number: int
    grams: float


@dataclass(frozen=True, slots=True)
class IntoGel:
    """A lot that went into a gel."""

    lot_id: int
    gel_id: int
    grams: float | None


@dataclass(frozen=True, slots=True)
class LotNamed:
    """A lot as lineage names it."""

    id: int
    code: str
    name: str
    kind: str
    day: date


def drawn(
    session: Session, *, lot_ids: list[int] | None = None, batch_numbers: list[int] | None = None
) -> tuple[Drawn, ...]:
    """What went from some lots into batches, or into some batches from lots."""
    total = func.sum(-LotMovement.change)
    wanted: Select[int, int | None, float] = (
        select(LotMovement.lot_id, LotMovement.batch_number, total)
        .join(Lot, Lot.id == LotMovement.lot_id)
        .where(LotMovement.batch_number.is_not(None), Lot.kind.in_(("pigment", "oil", "additive", GEL)))
        .group_by(LotMovement.lot_id, LotMovement.batch_number)
        .having(total > LEAST_G)
        .order_by(LotMovement.batch_number, LotMovement.lot_id)
    )
    if lot_ids is not None:
        wanted = wanted.where(LotMovement.lot_id.in_(lot_ids))
    if batch_numbers is not None:
        wanted = wanted.where(LotMovement.batch_number.in_(batch_numbers))
    return tuple(Drawn(lot, number, float(grams)) for lot, number, grams in session.execute(wanted) if number)


def into_gels(
    session: Session, *, lot_ids: list[int] | None = None, gel_ids: list[int] | None = None
) -> tuple[IntoGel, ...]:
    """The gels that some lots went into, or the lots that went into some gels."""
    found = []
    for part, amount in (("additive_lot_id", "additive_g"), ("oil_lot_id", "oil_g")):
        lot = Lot.prepared[part].astext.cast(Integer)
        wanted = select(lot, Lot.id, Lot.prepared[amount].astext).where(Lot.kind == GEL, lot.is_not(None))
        if lot_ids is not None:
            wanted = wanted.where(lot.in_(lot_ids))
        if gel_ids is not None:
            wanted = wanted.where(Lot.id.in_(gel_ids))
        found += [
            IntoGel(lot_id, gel_id, float(grams) if grams is not None else None)
            for lot_id, gel_id, grams in session.execute(wanted.order_by(Lot.id))
        ]
    return tuple(found)


def lots_named(session: Session, ids: list[int]) -> tuple[LotNamed, ...]:
    """Some lots by their ids, used up or not."""
    rows = session.scalars(select(Lot).where(Lot.id.in_(ids)))
    return tuple(LotNamed(row.id, row.code, kept_of(session, row).name, row.kind, row.received_on) for row in rows)
