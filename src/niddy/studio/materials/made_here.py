"""Lots that are made here of other lots, whatever the craft: what they draw, what they cost, the job that made them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from uuid import NAMESPACE_OID, UUID, uuid5

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.materials import Lot, LotMovement
from niddy.studio import jobs, log, outputs
from niddy.studio.errors import Missing
from niddy.studio.materials.moving import locked


@dataclass(frozen=True, slots=True)
class Portion:
    """Grams of one material that goes into a lot made here: of which lot, if of any, and the field that names it."""

    lot_id: int | None
    kind: str
    key: str
    grams: float
    field: str


def check_code(code: str) -> str:
    """A code for a lot, bare of blanks. Raises Refused."""
    if not code.strip() or len(code) > 40:
        problem = "empty" if not code.strip() else "too long"
        raise Refused("code", problem, "a code of your own, up to 40 characters")
    return code.strip()


def keep(
    session: Session,
    now: datetime,
    lot: Lot,
    portions: list[Portion],
    room: str,
    into: str,
    request_id: UUID | None = None,
) -> int:
    """Keep a lot made here, draw what went into it from its lots, and note the job; its id.

    Its price follows from theirs, where all are known. The same `request_id` again makes nothing new.
    Raises Refused, Missing.
    """
    if request_id is not None:
        job_id = log.by_request(session, room, request_id)
        made = outputs.of_jobs(session, [job_id]) if job_id is not None else ()
        if made and made[0].lot_id is not None:
            return made[0].lot_id
    price, known = Decimal(0), True
    drawn: list[LotMovement] = []
    for portion in portions:
        if portion.lot_id is None:
            known = False
            continue
        try:
            row = locked(session, portion.lot_id)
        except Missing:
            raise Missing(f"{portion.kind} lot", portion.lot_id, portion.field) from None
        if row.kind != portion.kind or row.material_key != portion.key:
            raise Refused(portion.field, f"lot {row.code} is not that {portion.kind}", f"a lot of {portion.key}")
        row.on_hand -= portion.grams
        drawn.append(
            LotMovement(lot_id=portion.lot_id, reason="used", change=-portion.grams, at=now, note=f"into {into}")
        )
        known = known and row.price_per_unit is not None
        price += (row.price_per_unit or Decimal(0)) * Decimal(str(portion.grams))
    lot.price_per_unit = price / Decimal(str(lot.received)) if known else None
    if session.scalar(select(Lot.id).where(Lot.code == lot.code)) is not None:
        raise _in_use(lot.code)
    try:
        with session.begin_nested():
            session.add(lot)
            session.flush()
    except IntegrityError:
        raise _in_use(lot.code) from None
    # What makes a lot is a job as any other: it drew on its lots and made one.
    job_id = jobs.keep_whole_job(
        session, room, now, request_id or uuid5(NAMESPACE_OID, f"{room}/{lot.id}"), lot.id, lot.code
    )
    for move in drawn:
        move.job_id = job_id
    came = LotMovement(lot_id=lot.id, reason="received", change=lot.received, reading=lot.received, at=now)
    session.add_all([*drawn, came])
    outputs.note(session, job_id, now, lot.received, lot_id=lot.id)
    return lot.id


def _in_use(code: str) -> Refused:
    return Refused("code", f"'{code}' is in use already", "a code no other lot has")
