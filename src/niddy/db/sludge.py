"""Sludge: brush-washing cans, dishes of it that dry, and what each dish came from."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer, Numeric
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.base import Base, Id
from niddy.db.log import Job


class WashCan(Job):
    """A can that brushes are washed in: a job that stays open for years. Its `state` is the fold of its log.

    `price_per_l` is what a bought litre of its solvent costs.
    """

    __tablename__ = "wash_can"
    __table_args__ = (
        CheckConstraint("tare_g between 0 and 20000", name="tare"),
        CheckConstraint("holds_ml between 1 and 20000", name="holds"),
        CheckConstraint("price_per_l >= 0", name="price"),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    solvent_key: Mapped[str]
    place: Mapped[str] = mapped_column(default="", server_default="")
    tare_g: Mapped[float | None]
    holds_ml: Mapped[float | None]
    price_per_l: Mapped[Decimal | None] = mapped_column(Numeric(12, 4))

    __mapper_args__ = {"polymorphic_identity": "cans"}


class SludgeDish(Job):
    """A dish of sludge out of a can. `makeup` is what was in it when it was taken; the figures follow from its log."""

    __tablename__ = "sludge_dish"
    __table_args__ = (
        CheckConstraint("method in ('squeeze', 'evaporate', 'drain')", name="method"),
        CheckConstraint("least(tare_g, tau_h, dry_g) >= 0", name="amounts"),
        Index("ix_sludge_dish_can_number", "can_number"),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    can_number: Mapped[int] = mapped_column(ForeignKey("wash_can.number"))
    method: Mapped[str]
    solvent_key: Mapped[str]
    place: Mapped[str] = mapped_column(default="", server_default="")
    tare_g: Mapped[float] = mapped_column(default=0.0, server_default="0")
    makeup: Mapped[dict[str, Any]] = mapped_column(JSONB)
    ready_at: Mapped[datetime | None]
    tau_h: Mapped[float | None]
    dry_g: Mapped[float | None]

    __mapper_args__ = {"polymorphic_identity": "dishes"}


class SludgeSource(Base):
    """Something a dish came from: paint of a tube or jar, a lot of powder, or a batch itself."""

    __tablename__ = "sludge_source"
    __table_args__ = (
        CheckConstraint("num_nonnulls(lot_id, item_id, of_job_id) = 1", name="one"),
        Index("ix_sludge_source_job_id", "job_id"),
        Index("ix_sludge_source_lot_id", "lot_id"),
        Index("ix_sludge_source_item_id", "item_id"),
        Index("ix_sludge_source_of_job_id", "of_job_id"),
    )

    id: Mapped[Id]
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    lot_id: Mapped[int | None] = mapped_column(ForeignKey("lot.id"))
    item_id: Mapped[int | None] = mapped_column(ForeignKey("shelf_item.id"))
    of_job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
