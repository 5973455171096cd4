"""Blocks of base for sticks, melted here, as lots of their own."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused, mass_g
from niddy.db.materials import Lot
from niddy.studio.errors import Missing
from niddy.studio.materials import made_here
from niddy.studio.materials.kept import BASE, WAX

BASES = "bases"
"""The room of the jobs that melt bases."""

LOST = 0.2
"""So much of what was weighed in may stay in the pot; more is a slip of the pen."""


@dataclass(frozen=True, slots=True)
class WaxIn:
    """Grams of one wax that went into a block, of which lot, if of any."""

    wax_key: str
    grams: float
    lot_id: int | None = None


@dataclass(frozen=True, slots=True)
class NewBlock:
    """A block of a version of a base: what it is called, what was weighed in and came out (g), and its code."""

    version_id: int
    name: str
    density_g_per_ml: float
    hazards: tuple[str, ...]
    waxes: tuple[WaxIn, ...]
    yield_g: float
    code: str
    note: str = ""


def block_key(version_id: int) -> str:
    """The key under which stock keeps the blocks of one version of a base."""
    return f"base-{version_id}"


def keep_block(session: Session, now: datetime, request_id: UUID, new: NewBlock) -> int:
    """Keep a block as a lot and draw the waxes from theirs; its id. The same request again makes no second one.

    Raises Refused, Missing.
    """
    code = made_here.check_code(new.code)
    for n, wax in enumerate(new.waxes):
        mass_g(f"waxes.{n}.grams", wax.grams)
    weighed = sum(wax.grams for wax in new.waxes)
    if not weighed * (1 - LOST) <= new.yield_g <= weighed * 1.005:
        raise Refused(
            "yield_g", f"{new.yield_g:g} g out of {weighed:g} g", f"from {weighed * (1 - LOST):.1f} to {weighed:.1f} g"
        )
    lot = Lot(
        kind=BASE,
        material_key=block_key(new.version_id),
        code=code,
        received_on=now.date(),
        received=new.yield_g,
        on_hand=new.yield_g,
        note=new.note,
        used_up=False,
        hazards=list(new.hazards),
        prepared={
            "name": new.name,
            "version_id": new.version_id,
            "density_g_per_ml": new.density_g_per_ml,
            "waxes": [{"wax_key": wax.wax_key, "grams": wax.grams, "lot_id": wax.lot_id} for wax in new.waxes],
        },
    )
    portions = [
        made_here.Portion(wax.lot_id, WAX, wax.wax_key, wax.grams, f"waxes.{n}.lot_id")
        for n, wax in enumerate(new.waxes)
    ]
    return made_here.keep(session, now, lot, portions, BASES, f"block {code}", request_id)


@dataclass(frozen=True, slots=True)
class Block:
    """A block in stock, of which version of a base it is, and what is left of it."""

    lot_id: int
    code: str
    version_id: int
    on_hand_g: float
    hazards: tuple[str, ...]


def blocks(session: Session, version_ids: list[int] | None = None) -> tuple[Block, ...]:
    """The blocks in stock, of some versions or of all, the oldest first."""
    wanted = select(Lot).where(Lot.kind == BASE, ~Lot.used_up).order_by(Lot.received_on, Lot.id)
    if version_ids is not None:
        wanted = wanted.where(Lot.material_key.in_([block_key(version_id) for version_id in version_ids]))
    return tuple(_block(row) for row in session.scalars(wanted))


def block(session: Session, lot_id: int, field: str = "lot_id") -> Block:
    """One block. Raises Missing."""
    row = session.get(Lot, lot_id)
    if row is None or row.kind != BASE:
        raise Missing("block of base", lot_id, field)
    return _block(row)


def _block(row: Lot) -> Block:
    assert row.prepared is not None
    return Block(row.id, row.code, int(row.prepared["version_id"]), row.on_hand, tuple(row.hazards or ()))
