"""Every gram and piece that comes and goes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, Select, bindparam, func, insert, literal_column, select, update
from sqlalchemy.orm import Session

from niddy.core.errors import Refused, mass_g, within
from niddy.db.base import table_of
from niddy.db.materials import Lot, LotMovement
from niddy.studio.errors import Missing
from niddy.studio.materials.kept import MAX_PIECES, PIECE_KINDS


def weigh_in(session: Session, now: datetime, lot_id: int, reading: float, note: str = "") -> None:
    """Correct what is left of a lot by weighing it; 0 means it is used up. Raises Refused, Missing."""
    lot = locked(session, lot_id)
    if lot.kind in PIECE_KINDS:
        within("reading", reading, 0, MAX_PIECES, "pieces")
    else:
        mass_g("reading", reading, zero=True)
    session.add(
        LotMovement(
            lot_id=lot_id, reason="weighed_in", change=reading - lot.on_hand, reading=reading, at=now, note=note
        )
    )
    lot.on_hand = reading
    lot.used_up = reading == 0
    session.flush()


@dataclass(frozen=True, slots=True)
class Move:
    """An amount into a lot, or out of it where it is below zero, and why."""

    lot_id: int
    reason: str
    change: float


def used(lot_id: int, grams: float) -> Move:
    """An act draws grams from a lot. What the shelf says may go below zero: the tin knows better than the book."""
    return Move(lot_id, "used", -grams)


def given_back(lot_id: int, grams: float) -> Move:
    """A use is undone whose act was struck out."""
    return Move(lot_id, "struck_out", grams)


@dataclass(frozen=True, slots=True)
class LotDraw:
    """Grams that an act draws from a lot, and gives back when it is undone."""

    lot_id: int
    grams: float

    def take(self, session: Session, now: datetime, act_id: UUID, job_id: int) -> None:
        """Draw them, by an act in a job."""
        move(session, now, used(self.lot_id, self.grams), act_id, job_id)

    def give_back(self, session: Session, now: datetime, act_id: UUID, job_id: int, taken_by: UUID) -> None:
        """Give back what an act drew, by the act that undoes it."""
        move(session, now, given_back(self.lot_id, self.grams), act_id, job_id)


# Built once, since every pour goes through it: the movement and the sum it changes, in one round trip.
_LOT = table_of(Lot)
_SUM = update(_LOT).where(_LOT.c.id == bindparam("of_lot")).values(on_hand=_LOT.c.on_hand + bindparam("move_change"))
_MOVED = (
    insert(table_of(LotMovement))
    .values(
        lot_id=bindparam("of_lot"),
        reason=bindparam("move_reason"),
        change=bindparam("move_change"),
        act_id=bindparam("act_id"),
        job_id=bindparam("of_job"),
        at=bindparam("act_recorded_at"),
        note=literal_column("''"),
    )
    .cte("moved")
)
_MOVE = _SUM.add_cte(_MOVED)

MOVING = (_MOVED, _SUM.cte("summed"))
"""The same for a statement that writes an act too: it binds what `moving` says."""


def moving(one: Move) -> dict[str, Any]:
    """What a statement with `MOVING` binds beside the act, its job and the time."""
    return {"of_lot": one.lot_id, "move_reason": one.reason, "move_change": one.change}


_ON_HAND = select(Lot.id, Lot.on_hand).where(Lot.id.in_(bindparam("lot_ids", expanding=True)))


def move(session: Session, now: datetime, one: Move, act_id: UUID, job_id: int) -> None:
    """Move an amount into or out of a lot, once for each act, lot and reason."""
    session.execute(_MOVE, {**moving(one), "act_id": act_id, "of_job": job_id, "act_recorded_at": now})


def locked(session: Session, lot_id: int) -> Lot:
    """The row of a lot, held until the transaction ends. Raises Missing."""
    lot = session.get(Lot, lot_id, with_for_update=True)
    if lot is None:
        raise Missing("lot", lot_id)
    return lot


def on_hand(session: Session, lot_ids: list[int]) -> dict[int, float]:
    """What is left of some lots, in g."""
    rows = session.execute(_ON_HAND, {"lot_ids": lot_ids})
    return {row.id: row.on_hand for row in rows}


def left_of(lot_ids: Select[Any]) -> ColumnElement[Any]:
    """An expression for what is left of some lots, for a statement that reads more beside; see `left_in`."""
    return (
        select(func.json_object_agg(Lot.id, Lot.on_hand)).where(Lot.id.in_(lot_ids)).correlate(None).scalar_subquery()
    )


def left_in(found: dict[str, float] | None) -> dict[int, float]:
    """What `left_of` found, in g by lot."""
    return {int(lot_id): grams for lot_id, grams in (found or {}).items()}


def weighed_once(session: Session, lot_ids: list[int]) -> dict[int, tuple[float | None, float | None]]:
    """Loose density (g/ml) and drop (g) of some lots, where a level spoon or twenty drops of them were weighed."""
    rows = session.execute(select(Lot.id, Lot.loose_density_g_per_ml, Lot.drop_g).where(Lot.id.in_(lot_ids)))
    return {row.id: (row.loose_density_g_per_ml, row.drop_g) for row in rows}


def pieces(session: Session, kind: str) -> dict[str, float]:
    """Empties by what they are called, of every kind that is or was kept in stock."""
    rows = session.execute(
        select(Lot.material_key, func.sum(Lot.on_hand)).where(Lot.kind == kind).group_by(Lot.material_key)
    )
    return {name: float(count) for name, count in rows}


def take_piece(session: Session, now: datetime, kind: str, name: str, job_id: int, field: str) -> None:
    """Take one empty of the oldest lot that has any; nothing where that kind is not kept in stock.

    Raises Refused where it is kept, and none is left.
    """
    rows = session.scalars(
        select(Lot)
        .where(Lot.kind == kind, Lot.material_key == name)
        .order_by(Lot.received_on, Lot.id)
        .with_for_update()
    ).all()
    if not rows:
        return
    lot = next((row for row in rows if row.on_hand >= 1), None)
    if lot is None:
        raise Refused(field, f"no empty {name} is left by the book", "another kind, or a count of what is really there")
    lot.on_hand -= 1
    session.add(LotMovement(lot_id=lot.id, reason="used", change=-1, job_id=job_id, at=now, note="filled"))
    session.flush()
