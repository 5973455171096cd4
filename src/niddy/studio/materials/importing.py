"""A shelf brought in from a file."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import datetime

from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused, within
from niddy.core.estimate import Basis
from niddy.db.materials import Lot, LotMovement
from niddy.studio.materials.kept import MAX_PIECES, LotKept, Value, kept_of
from niddy.studio.materials.moving import weigh_in
from niddy.studio.materials.receiving import LotChange, NewLot, change, check_new


@dataclass(frozen=True, slots=True)
class RowDone:
    """What a row of an import does: `receive`, `change`, `nothing`, or `refused` with the field, problem, accepted."""

    code: str
    does: str
    refused: tuple[tuple[str, str, str], ...] = ()


def known_lots(session: Session, codes: list[str]) -> dict[str, LotKept]:
    """The lots that carry some codes."""
    rows = session.scalars(select(Lot).where(Lot.code.in_(codes)))
    return {row.code: kept_of(session, row) for row in rows}


def import_lots(
    session: Session, now: datetime, rows: list[tuple[NewLot, float | None]], *, write: bool
) -> list[RowDone]:
    """What each row (a lot, and what is on hand if told) does; with `write` it is done, in the caller's transaction.

    A row whose code is known changes that lot; its amount is then a weighing in.
    """
    known = known_lots(session, [new.code for new, _ in rows])
    done: list[RowDone] = []
    fresh: list[tuple[NewLot, float | None]] = []
    for new, on_hand in rows:
        try:
            check_new(session, now, new)
            if on_hand is not None:
                within("on_hand", on_hand, 0, MAX_PIECES)
        except Refused as refusal:
            done.append(RowDone(new.code, "refused", ((refusal.field, refusal.problem, refusal.accepted),)))
            continue
        lot = known.get(new.code)
        if lot is None:
            done.append(RowDone(new.code, "receive"))
            fresh.append((new, on_hand))
            continue
        if (lot.kind, lot.material_key) != (new.kind, new.material_key):
            problem = ("material", f"'{new.code}' is {lot.name} here", "the same material, or another code")
            done.append(RowDone(new.code, "refused", (problem,)))
            continue
        wanted = LotChange(**{field.name: getattr(new, field.name) for field in fields(LotChange)})
        differs = wanted != _said(lot)
        weighed = on_hand is not None and abs(on_hand - lot.on_hand) > 0.005
        done.append(RowDone(new.code, "change" if differs or weighed else "nothing"))
        if write and differs:
            change(session, now, lot.id, wanted)
        if write and weighed and on_hand is not None:
            weigh_in(session, now, lot.id, on_hand, "from a file")
    if write and fresh:
        _receive_many(session, now, fresh)
    return done


def _said(lot: LotKept) -> LotChange:
    def own(value: Value | None) -> float | None:
        return value.value if value is not None and value.basis in (Basis.ENTERED, Basis.MEASURED) else None

    return LotChange(
        lot.code,
        lot.price_per_unit,
        lot.note,
        own(lot.density),
        own(lot.loose_density),
        own(lot.drop),
        lot.supplier_code,
        lot.opened_on,
        lot.safety_note,
        lot.hazards if lot.hazards_own else None,
        lot.purity.value / 100 if lot.purity is not None else None,
    )


def _receive_many(session: Session, now: datetime, fresh: list[tuple[NewLot, float | None]]) -> None:
    values = []
    for new, on_hand in fresh:
        given = {field.name: getattr(new, field.name) for field in fields(new)}
        given |= {"hazards": list(new.hazards) if new.hazards is not None else None, "demand_says": ""}
        left = new.received if on_hand is None else on_hand
        values.append({**given, "on_hand": left, "used_up": left == 0})
    ids = {code: lot_id for lot_id, code in session.execute(insert(Lot).returning(Lot.id, Lot.code), values)}
    moves = []
    for new, on_hand in fresh:
        common = {"lot_id": ids[new.code], "at": now, "note": "from a file"}
        moves.append({**common, "reason": "received", "change": new.received, "reading": new.received})
        if on_hand is not None and on_hand != new.received:
            moves.append({**common, "reason": "weighed_in", "change": on_hand - new.received, "reading": on_hand})
    session.execute(insert(LotMovement), moves)
