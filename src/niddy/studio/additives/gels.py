"""Gels planned and made."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import gels
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import MIN_MASS_G, Refused
from niddy.core.gels import GelPlan
from niddy.core.words import Words
from niddy.reference import library
from niddy.studio import materials
from niddy.studio.errors import Missing
from niddy.studio.materials import LotKept, NewGel


def plan_gel(session: Session, additive_key: str, grams: float, strength: float | None) -> GelPlan:
    """A gel on paper. Raises Refused, Missing."""
    additive = materials.additive_of(session, additive_key)
    if additive is None:
        raise Missing("additive", additive_key, "additive_key")
    return gels.plan(additive, grams, strength)


class GelAsked(Document):
    """A gel that was made: what was weighed in and out, in g, and the code on its jar."""

    additive_key: Key
    oil_key: Key
    additive_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=1_000)]
    oil_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=2_000)]
    yield_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=3_000)]
    code: Annotated[Words, Field(max_length=60)]
    additive_lot_id: RowId | None = None
    oil_lot_id: RowId | None = None
    note: Annotated[Words, Field(max_length=500)] = ""


def make_gel(session: Session, now: datetime, asked: GelAsked) -> LotKept:
    """Keep a gel as a lot: its strength is from what was weighed in. Raises Refused, Missing."""
    additive = materials.additive_of(session, asked.additive_key)
    if additive is None:
        raise Missing("additive", asked.additive_key, "additive_key")
    if not gels.can_gel(additive):
        raise Refused("additive_key", f"{additive.name} is not worked into warm oil", ", ".join(gels.HEATING))
    if asked.oil_key not in library().oils and not asked.oil_key.startswith(materials.OWN_PREFIX):
        raise Missing("oil", asked.oil_key, "oil_key")
    if gels.strength_of(asked.additive_g, asked.oil_g) > 0.5:
        raise Refused("additive_g", "more than half of it is additive", f"up to {asked.oil_g:g} g")
    gels.check_yield(asked.additive_g, asked.oil_g, asked.yield_g)
    lot_id = materials.keep_gel(
        session,
        now,
        NewGel(
            asked.additive_key,
            asked.oil_key,
            asked.additive_g,
            asked.oil_g,
            asked.yield_g,
            asked.code,
            now.date() + timedelta(days=gels.SHELF_LIFE_DAYS),
            asked.additive_lot_id,
            asked.oil_lot_id,
            asked.note,
        ),
    )
    return materials.lot(session, lot_id)
