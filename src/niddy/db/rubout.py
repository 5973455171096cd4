"""Rub-outs: tests, their steps, and the records from which oil demand is learned."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Rubout(Base):
    """One test: a weighed pigment of a lot in an oil. `status` is open, done or aborted."""

    __tablename__ = "rubout"
    __table_args__ = (
        CheckConstraint("status in ('open', 'done', 'aborted')", name="status"),
        CheckConstraint("pigment_g between 0.001 and 20000", name="pigment"),
    )

    id: Mapped[Id]
    request_id: Mapped[UUID] = mapped_column(unique=True)
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"), index=True)
    pigment_key: Mapped[str]
    pigment_g: Mapped[float]
    oil: Mapped[dict[str, Any]]
    temperature_c: Mapped[float | None]
    begun_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    status: Mapped[str]
    reason: Mapped[str] = mapped_column(default="")
    result_g_per_100g: Mapped[float | None]


class RuboutStep(Base):
    """Oil added once, or an undo of an earlier step (`undoes`). Never changed."""

    __tablename__ = "rubout_step"
    __table_args__ = (UniqueConstraint("rubout_id", "seq", name="uq_rubout_step_seq"),)

    id: Mapped[UUID] = mapped_column(primary_key=True)
    rubout_id: Mapped[int] = mapped_column(ForeignKey("rubout.id"))
    seq: Mapped[int]
    measure: Mapped[dict[str, Any] | None]
    mass: Mapped[dict[str, Any] | None]
    undoes: Mapped[UUID | None]
    at: Mapped[datetime]


class DemandRecord(Base):
    """One record of a lot's oil absorption in the reference oil: a rub-out's result or a batch's verdict.

    Set aside with a reason it no longer counts, but it is kept. A verdict whose finish was struck out is void.
    """

    __tablename__ = "demand_record"
    __table_args__ = (
        UniqueConstraint("kind", "ref", name="uq_demand_record_ref"),
        Index("ix_demand_record_pigment_key", "pigment_key"),
    )

    id: Mapped[Id]
    pigment_key: Mapped[str]
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"))
    kind: Mapped[str]
    ref: Mapped[int]
    says: Mapped[str]
    oil_absorption_g_per_100g: Mapped[float]
    sd_ln: Mapped[float]
    at: Mapped[datetime]
    set_aside: Mapped[str | None]
    void: Mapped[bool] = mapped_column(default=False)


class PigmentDemand(Base):
    """A pigment's prior where the studio entered one, and the demand learned for a lot not seen yet."""

    __tablename__ = "pigment_demand"

    pigment_key: Mapped[str] = mapped_column(primary_key=True)
    entered_low: Mapped[float | None]
    entered_high: Mapped[float | None]
    entered_from: Mapped[str] = mapped_column(default="")
    unseen_g_per_100g: Mapped[float]
    unseen_sd_ln: Mapped[float]
    basis: Mapped[str]
    says: Mapped[str]
