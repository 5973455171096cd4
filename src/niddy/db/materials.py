"""Materials: lots of pigment and oil in the studio, and every gram that came or went."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from uuid import UUID

from sqlalchemy import ForeignKey, Index, Numeric, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Lot(Base):
    """A tin, bag or bottle: one material of the library, received once, with values of its own where known.

    `on_hand_g` is the sum of the lot's movements, kept in the same transaction that writes one. The demand
    columns are what the records of the pigment taught (in the reference oil); empty before any record.
    """

    __tablename__ = "lot"

    id: Mapped[Id]
    kind: Mapped[str]
    material_key: Mapped[str] = mapped_column(index=True)
    code: Mapped[str] = mapped_column(unique=True)
    received_on: Mapped[date]
    on_hand_g: Mapped[float] = mapped_column(default=0.0)
    price_per_kg: Mapped[Decimal | None] = mapped_column(Numeric(12, 2))
    note: Mapped[str] = mapped_column(default="")
    density_g_per_ml: Mapped[float | None]
    loose_density_g_per_ml: Mapped[float | None]
    drop_g: Mapped[float | None]
    used_up: Mapped[bool] = mapped_column(default=False)
    demand_g_per_100g: Mapped[float | None]
    demand_sd_ln: Mapped[float | None]
    demand_basis: Mapped[str | None]
    demand_says: Mapped[str] = mapped_column(default="")


class LotMovement(Base):
    """Grams into (+) or out of (-) a lot: received, used by an act at a slab, given back, or weighed in again."""

    __tablename__ = "lot_movement"
    __table_args__ = (
        UniqueConstraint("event_id", "reason", name="uq_lot_movement_event"),
        Index("ix_lot_movement_lot_id", "lot_id"),
    )

    id: Mapped[Id]
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"))
    reason: Mapped[str]
    change_g: Mapped[float]
    reading_g: Mapped[float | None]
    event_id: Mapped[UUID | None]
    batch_number: Mapped[int | None]
    at: Mapped[datetime]
    note: Mapped[str] = mapped_column(default="")
