"""What a lot that is a cake of sludge can say of itself."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.sludge import colour_known
from niddy.db.materials import Lot


@dataclass(frozen=True, slots=True)
class CakePart:
    """What a cake is made of: a name and its share by weight."""

    name: str
    share: float


@dataclass(frozen=True, slots=True)
class CakeOf:
    """What a lot that is a cake can say of itself; `colour_known` by what was washed off."""

    can_number: int
    dish_number: int
    parts: tuple[CakePart, ...]
    unknown_share: float
    wet_enough: bool
    colour_known: bool


def cakes_among(session: Session, lot_ids: list[int]) -> frozenset[int]:
    """Those of some lots that are cakes of sludge."""
    rows = session.scalars(select(Lot).where(Lot.id.in_(lot_ids), Lot.kind == "pigment", Lot.prepared.is_not(None)))
    return frozenset(row.id for row in rows if cake_of_row(row) is not None)


def cake_of_row(row: Lot) -> CakeOf | None:
    """What a cake's row says of it; None where the lot is no cake."""
    if row.kind != "pigment" or not row.prepared or "dish" not in row.prepared:
        return None
    kept = row.prepared
    parts = tuple(CakePart(part["name"], part["share"]) for part in kept["parts"])
    unknown = kept["unknown_share"]
    return CakeOf(kept["can"], kept["dish"], parts, unknown, kept["wet_enough"], colour_known(unknown))
