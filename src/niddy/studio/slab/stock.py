"""What an act draws from which lots, and gives back."""

from __future__ import annotations

from niddy.core.materials import BLEND
from niddy.core.plan import Plan
from niddy.core.slab import Event, Kind, Paste
from niddy.core.sources import lot_of
from niddy.studio import materials
from niddy.studio.materials import Move


def stock_moves(plan: Plan, event: Event, struck: Event | None, restored: Event | None = None) -> tuple[Move, ...]:
    """What an act draws from its lots, or what a strike-out gives back.

    What striking a strike-out puts back is drawn once more.
    """
    if event.kind is Kind.AMEND and struck is not None:
        # What was wrong goes back, what is right is drawn: both under the act that puts it right.
        assert struck.mass is not None and event.mass is not None
        back = (materials.given_back(*drawn) for drawn in _drawn(plan, struck.source, struck.mass.median))
        return (*back, *(materials.used(*drawn) for drawn in _drawn(plan, struck.source, event.mass.median)))
    moved = restored or (struck if event.kind is Kind.STRIKE else event)
    if moved is None or moved.kind not in (Kind.POWDER, Kind.OIL, Kind.ADDITIVE):
        return ()
    assert moved.mass is not None
    way = materials.used if moved is event or moved is restored else materials.given_back
    return tuple(way(*drawn) for drawn in _drawn(plan, moved.source, moved.mass.median))


def _drawn(plan: Plan, source: str, grams: float) -> list[tuple[int, float]]:
    """What an act draws from which lots; from a blend each oil's share."""
    if source == BLEND:
        shares: dict[int, float] = {}
        for part in plan.oil.parts:
            if part.lot_id is not None:
                shares[part.lot_id] = shares.get(part.lot_id, 0.0) + part.share
        return [(lot_id, grams * share) for lot_id, share in shares.items()]
    lot_id = lot_of(source)
    for line in plan.lines:
        if line.pigment.source == source:
            grams = line.pigment.wet_g(grams)
    return [(lot_id, grams)] if lot_id is not None else []


def bottle_moves(plan: Plan, before: Paste, paste: Paste) -> tuple[Move, ...]:
    """Oil told by the bottle's weight moves with every act that changes what the weighings come to."""
    change = paste.by_eye.used_g - before.by_eye.used_g
    source = paste.by_eye.source or before.by_eye.source
    if abs(change) < 1e-9:
        return ()
    way = materials.used if change > 0 else materials.given_back
    return tuple(way(*drawn) for drawn in _drawn(plan, source, abs(change)))
