"""Gels made here, as lots of their own."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from uuid import uuid4

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.materials import Lot, LotMovement
from niddy.studio import log, outputs
from niddy.studio.errors import Missing
from niddy.studio.materials.kept import GEL
from niddy.studio.materials.moving import locked

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
    if not new.code.strip() or len(new.code) > 40:
        raise Refused(
            "code", "empty" if not new.code.strip() else "too long", "a code of your own, up to 40 characters"
        )
    price = Decimal(0)
    drawn: list[LotMovement] = []
    known = True
    for lot_id, kind, key, grams, field in (
        (new.additive_lot_id, "additive", new.additive_key, new.additive_g, "additive_lot_id"),
        (new.oil_lot_id, "oil", new.oil_key, new.oil_g, "oil_lot_id"),
    ):
        if lot_id is None:
            known = False
            continue
        try:
            row = locked(session, lot_id)
        except Missing:
            raise Missing(f"{kind} lot", lot_id, field) from None
        if row.kind != kind or row.material_key != key:
            raise Refused(field, f"lot {row.code} is not that {kind}", f"a lot of {key}")
        row.on_hand -= grams
        drawn.append(LotMovement(lot_id=lot_id, reason="used", change=-grams, at=now,
                                 note=f"into gel {new.code.strip()}"))  # fmt: skip
        known = known and row.price_per_unit is not None
        price += (row.price_per_unit or Decimal(0)) * Decimal(str(grams))
    lot = Lot(
        kind=GEL, material_key=new.additive_key, code=new.code.strip(), received_on=now.date(), received=new.yield_g,
        on_hand=new.yield_g, price_per_unit=price / Decimal(str(new.yield_g)) if known else None, note=new.note,
        used_up=False, use_by=new.use_by,
        prepared={
            "oil_key": new.oil_key, "additive_g": new.additive_g, "oil_g": new.oil_g, "yield_g": new.yield_g,
        },
    )  # fmt: skip
    try:
        with session.begin_nested():
            session.add(lot)
            session.flush()
    except IntegrityError:
        raise Refused("code", f"'{new.code.strip()}' is in use already", "a code no other lot has") from None
    # A gel is a job as any other: it drew on its lots and made one.
    job_id = log.whole(session, GELS, now, uuid4(), lot.id, lot.code)
    for move in drawn:
        move.job_id = job_id
    came = LotMovement(lot_id=lot.id, reason="received", change=new.yield_g, reading=new.yield_g, at=now)
    session.add_all([*drawn, came])
    outputs.note(session, job_id, now, new.yield_g, lot_id=lot.id)
    return lot.id
