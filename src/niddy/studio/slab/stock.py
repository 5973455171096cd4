"""What an act draws from which lots, and gives back."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.materials import BLEND
from niddy.core.plan import Plan
from niddy.core.slab import Event, Kind, Paste
from niddy.core.sources import lot_of
from niddy.studio import materials


def move_stock(session: Session, now: datetime, number: int, plan: Plan, event: Event, struck: Event | None) -> None:
    """Draw what an act puts in from its lots, or give back what a strike-out takes out again."""
    moved = struck if event.kind is Kind.STRIKE else event
    if moved is None or moved.kind not in (Kind.POWDER, Kind.OIL, Kind.ADDITIVE):
        return
    assert moved.mass is not None
    move = materials.use if moved is event else materials.give_back
    for lot_id, grams, event_id in _drawn(plan, moved.source, moved.mass.median, event.id):
        move(session, now, lot_id, grams, event_id, number)


def _drawn(plan: Plan, source: str, grams: float, event_id: UUID) -> list[tuple[int, float, UUID]]:
    """What an act draws from which lots; from a blend each oil's share, under an id of its own."""
    if source == BLEND:
        return [
            (part.lot_id, grams * part.share, uuid5(event_id, part.source))
            for part in plan.oil.parts
            if part.lot_id is not None
        ]
    lot_id = lot_of(source)
    return [(lot_id, grams, event_id)] if lot_id is not None else []


def move_bottle(
    session: Session, now: datetime, number: int, plan: Plan, event: Event, before: Paste, paste: Paste
) -> None:
    """Oil told by the bottle's weight moves with every act that changes what the weighings come to."""
    change = paste.by_eye.used_g - before.by_eye.used_g
    source = paste.by_eye.source or before.by_eye.source
    if abs(change) < 1e-9:
        return
    move = materials.use if change > 0 else materials.give_back
    for lot_id, grams, event_id in _drawn(plan, source, abs(change), event.id):
        move(session, now, lot_id, grams, event_id, number)
