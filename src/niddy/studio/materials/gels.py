"""Gels made here, as lots of their own."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from niddy.db.materials import Lot
from niddy.studio.materials import made_here
from niddy.studio.materials.kept import GEL

GELS = "gels"
"""The room of the jobs that make gels."""


@dataclass(frozen=True, slots=True)
class NewGel:
    """A gel made here: what it is of and in, what was weighed in and came out (g), from which lots, and its code."""

    additive_key: str
    oil_key: str
    additive_g: float
    oil_g: float
    yield_g: float
    code: str
    use_by: date
    additive_lot_id: int | None = None
    oil_lot_id: int | None = None
    note: str = ""


def keep_gel(session: Session, now: datetime, new: NewGel) -> int:
    """Keep a gel as a lot and draw what went into it from its lots; the gel's id. Raises Refused, Missing."""
    code = made_here.check_code(new.code)
    lot = Lot(
        kind=GEL,
        material_key=new.additive_key,
        code=code,
        received_on=now.date(),
        received=new.yield_g,
        on_hand=new.yield_g,
        note=new.note,
        used_up=False,
        use_by=new.use_by,
        prepared={"oil_key": new.oil_key, "additive_g": new.additive_g, "oil_g": new.oil_g, "yield_g": new.yield_g},
    )
    portions = [
        made_here.Portion(new.additive_lot_id, "additive", new.additive_key, new.additive_g, "additive_lot_id"),
        made_here.Portion(new.oil_lot_id, "oil", new.oil_key, new.oil_g, "oil_lot_id"),
    ]
    return made_here.keep(session, now, lot, portions, GELS, f"gel {code}")
