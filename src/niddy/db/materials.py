"""Materials: lots of pigment and oil in the studio, and every gram that came or went."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, Index, Numeric, String, UniqueConstraint
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Lot(Base):
    """A tin, bag, bottle or box: one material, received once, with values of its own where known.

    Amounts are g, for tubes and jars pieces; the price is per kg or per piece. A gel is a lot too: `prepared`
    says what was weighed into it.

    `on_hand` is the sum of the lot's movements, kept in the same transaction that writes one. The demand
    columns are what the records of the pigment taught (in the reference oil); empty before any record. What of a wet
    lot is liquid that will leave is `liquid_share` of its mass. `purity` is a raw material's, as a share;
    `suspect` says why a lot is not to be trusted, and is empty where it is.
    """

    __tablename__ = "lot"
    __table_args__ = (
        CheckConstraint(
            "kind in ('pigment', 'oil', 'additive', 'gel', 'tube', 'jar', 'wax', 'base', 'raw')", name="kind"
        ),
        CheckConstraint("price_per_unit >= 0", name="price"),
        CheckConstraint("received between 0.001 and 100000", name="received"),
        CheckConstraint("density_g_per_ml between 0.01 and 25", name="density"),
        CheckConstraint("loose_density_g_per_ml between 0.01 and 25", name="loose_density"),
        CheckConstraint("drop_g between 0.0005 and 1", name="drop"),
        CheckConstraint("liquid_share between 0 and 0.95", name="liquid"),
        CheckConstraint("purity > 0 and purity <= 1", name="purity"),
        CheckConstraint("received_on between '1900-01-01' and '2199-12-31'", name="received_on"),
    )

    id: Mapped[Id]
    kind: Mapped[str]
    material_key: Mapped[str] = mapped_column(index=True)
    code: Mapped[str] = mapped_column(unique=True)
    received_on: Mapped[date]
    received: Mapped[float]
    on_hand: Mapped[float]
    price_per_unit: Mapped[Decimal | None] = mapped_column(Numeric(12, 4))
    note: Mapped[str] = mapped_column(default="")
    density_g_per_ml: Mapped[float | None]
    loose_density_g_per_ml: Mapped[float | None]
    drop_g: Mapped[float | None]
    used_up: Mapped[bool] = mapped_column(default=False)
    supplier_code: Mapped[str] = mapped_column(default="")
    opened_on: Mapped[date | None]
    safety_note: Mapped[str] = mapped_column(default="")
    hazards: Mapped[list[str] | None] = mapped_column(ARRAY(String))
    demand_g_per_100g: Mapped[float | None]
    demand_sd_ln: Mapped[float | None]
    demand_basis: Mapped[str | None]
    demand_says: Mapped[str] = mapped_column(default="")
    demand_shared_sd_ln: Mapped[float] = mapped_column(default=0.0, server_default="0")
    demand_eye_covariance: Mapped[float] = mapped_column(default=0.0, server_default="0")
    prepared: Mapped[dict[str, Any] | None]
    use_by: Mapped[date | None]
    liquid_share: Mapped[float | None]
    liquid_density_g_per_ml: Mapped[float | None]
    purity: Mapped[float | None]
    suspect: Mapped[str] = mapped_column(default="", server_default="")


class LotMovement(Base):
    """An amount (g, or pieces) into (+) or out of (-) a lot: received, used by a job, given back, weighed in again.

    Once for each act, lot and reason.
    """

    __tablename__ = "lot_movement"
    __table_args__ = (
        UniqueConstraint("act_id", "lot_id", "reason", name="uq_lot_movement_act"),
        Index("ix_lot_movement_lot_id", "lot_id"),
        CheckConstraint("reason in ('received', 'used', 'struck_out', 'weighed_in')", name="reason"),
    )

    id: Mapped[Id]
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"))
    reason: Mapped[str]
    change: Mapped[float]
    reading: Mapped[float | None]
    act_id: Mapped[UUID | None]
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"), index=True)
    at: Mapped[datetime]
    note: Mapped[str] = mapped_column(default="")


class OwnMaterial(Base):
    """A material of the studio's own beside the library: `values` are the fields of the core's type."""

    __tablename__ = "own_material"

    key: Mapped[str] = mapped_column(primary_key=True)
    kind: Mapped[str]
    values: Mapped[dict[str, Any]] = mapped_column(JSONB)
    added_at: Mapped[datetime]
