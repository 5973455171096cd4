"""What lots and pieces cost."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import and_, false, or_, select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.sources import lot_of
from niddy.db.materials import Lot
from niddy.studio.materials.kept import MADE_HERE, PIECE_KINDS

DEAREST = 1_000_000


@dataclass(frozen=True, slots=True)
class LotPrice:
    """A lot and what a kg of it costs; None where nobody knows."""

    lot_id: int
    code: str
    price_per_unit: Decimal | None


def price_per_unit(kind: str, price: Decimal, received: float) -> Decimal:
    """What a kg (or a piece of tubes and jars) costs, where so many g (or pieces) came in for one price.

    Raises Refused.
    """
    each, unit = (1, "a piece") if kind in PIECE_KINDS else (1000, "a kg")
    found = (price * each / Decimal(str(received))).quantize(Decimal("0.0001"))
    if found > DEAREST:
        raise Refused("price", f"{found:.0f} {unit}", f"a price that makes at most {DEAREST} {unit}")
    return found


def lot_prices(session: Session, source: str) -> tuple[LotPrice, ...]:
    """The lots of a material with their prices, by the name a log counts one of them (or the material) by.

    Those used up are left out, but for the lot asked by. The oldest comes first.
    """
    own = lot_of(source)
    if own is not None:
        lot = session.get(Lot, own)
        if lot is None:
            return ()
        # Two gels of one additive are of different strengths, two blocks of one base cost what their waxes did.
        same = false() if lot.kind in MADE_HERE else and_(Lot.kind == lot.kind, Lot.material_key == lot.material_key)
        where = or_(Lot.id == lot.id, and_(same, Lot.used_up.is_(False)))
    else:
        key = source.removeprefix("library-")
        where = and_(
            Lot.kind.in_(("pigment", "oil", "additive", "wax")), Lot.material_key == key, Lot.used_up.is_(False)
        )
    rows = session.execute(select(Lot.id, Lot.code, Lot.price_per_unit).where(where).order_by(Lot.received_on, Lot.id))
    return tuple(LotPrice(row.id, row.code, row.price_per_unit) for row in rows)


def piece_price(session: Session, kind: str, name: str) -> Decimal | None:
    """What one piece cost in the newest lot that says so."""
    return session.scalar(
        select(Lot.price_per_unit)
        .where(Lot.kind == kind, Lot.material_key == name, Lot.price_per_unit.is_not(None))
        .order_by(Lot.received_on.desc(), Lot.id.desc())
        .limit(1)
    )


def known_prices(session: Session, sources: Iterable[str]) -> dict[str, Decimal]:
    """What a kg of each source costs, in one query: of a lot its own price, of an entry of the library the newest's."""
    wanted = list(dict.fromkeys(sources))
    lot_ids = [lot_id for lot_id in map(lot_of, wanted) if lot_id is not None]
    keys = [source.removeprefix("library-") for source in wanted if lot_of(source) is None]
    rows = session.execute(
        select(Lot.id, Lot.material_key, Lot.price_per_unit)
        .where(Lot.price_per_unit.is_not(None), or_(Lot.id.in_(lot_ids), Lot.material_key.in_(keys)))
        .order_by(Lot.received_on, Lot.id)
    )
    found: dict[str, Decimal] = {}
    for row in rows:
        found[f"lot-{row.id}"] = row.price_per_unit
        found[f"library-{row.material_key}"] = row.price_per_unit
    return {source: found[source] for source in wanted if source in found}
