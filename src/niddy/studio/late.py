"""Acts that came late: from a device that was away while another finished the batch. Kept until decided on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.slab import Kind
from niddy.db.late import LateAct
from niddy.studio import batches, sent
from niddy.studio.errors import Conflict, Missing

OF_THE_PASTE = frozenset(
    {
        Kind.POWDER,
        Kind.OIL,
        Kind.ADDITIVE,
        Kind.LEAVE_OUT,
        Kind.BY_EYE,
        Kind.BOTTLE,
        Kind.SAMPLE,
        Kind.DRAW_OIL,
        Kind.LOOK,
        Kind.FINENESS,
        Kind.STRIKE,
        Kind.AMEND,
    }
)
"""What changes or says something of the paste: only that can still be taken into the record of a finished batch."""


@dataclass(frozen=True, slots=True)
class CameLate:
    """An act that waits for a decision: as the device sent it, when it was made and when it came."""

    id: UUID
    kind: Kind
    source: str
    payload: dict[str, Any]
    made_at: datetime
    came_at: datetime
    can_take: bool


def keep(
    session: Session, now: datetime, number: int, act_id: UUID, kind: Kind, payload: dict[str, Any], made_at: datetime
) -> None:
    """Keep an act that came late. The same act again changes nothing. Raises Conflict for another one's id."""
    known = session.get(LateAct, act_id)
    if known is not None:
        if known.batch_number != number or not sent.same(known.payload, payload):
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return
    session.add(
        LateAct(
            id=act_id,
            batch_number=number,
            kind=kind,
            payload=payload,
            made_at=made_at,
            came_at=now,
            decision="",
            words="",
        )
    )
    session.flush()
    _count(session, number)


def waiting(session: Session, number: int) -> tuple[CameLate, ...]:
    """The acts of a batch that came late and wait, in the order they were made."""
    rows = session.scalars(
        select(LateAct)
        .where(LateAct.batch_number == number, LateAct.decision == "")
        .order_by(LateAct.made_at, LateAct.came_at)
    )
    return tuple(_kept(row) for row in rows)


def decide(session: Session, now: datetime, number: int, act_id: UUID, *, take_in: bool, words: str) -> CameLate | None:
    """Decide on an act that came late; None where the same was decided before. Leaving it needs a few words.

    Raises Missing, Refused, and Conflict where it was decided otherwise.
    """
    row = session.get(LateAct, act_id, with_for_update=True)
    if row is None or row.batch_number != number:
        raise Missing("act that came late", str(act_id))
    decision = "taken" if take_in else "left"
    if row.decision:
        if row.decision != decision:
            raise Conflict("take_in", f"it was {row.decision} already", "another act")
        return None
    act = _kept(row)
    if take_in and not act.can_take:
        raise Refused("take_in", "it says nothing of what is in the paste", "leaving it out, with a few words")
    if not take_in and not words.strip():
        raise Refused("words", "empty", "a few words: why it is left out")
    row.decision, row.decided_at, row.words = decision, now, words.strip()
    session.flush()
    _count(session, number)
    return act


def _count(session: Session, number: int) -> None:
    waits = select(func.count()).where(LateAct.batch_number == number, LateAct.decision == "")
    batches.note_late(session, number, session.scalar(waits) or 0)


def _kept(row: LateAct) -> CameLate:
    kind = Kind(row.kind)
    return CameLate(
        row.id, kind, row.payload.get("source") or "", row.payload, row.made_at, row.came_at, kind in OF_THE_PASTE
    )
