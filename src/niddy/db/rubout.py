"""Rub-outs: tests, and the records from which oil demand is learned."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer, UniqueConstraint, false
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.base import Base, Id
from niddy.db.log import Job


class Rubout(Job):
    """One test: a weighed pigment of a lot in an oil. Its acts are oil added, and strike-outs of such."""

    __tablename__ = "rubout"
    __table_args__ = (CheckConstraint("pigment_g between 0.001 and 20000", name="pigment"),)

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    lot_id: Mapped[int] = mapped_column(ForeignKey("lot.id"), index=True)
    pigment_key: Mapped[str]
    pigment_g: Mapped[float]
    oil: Mapped[dict[str, Any]]
    temperature_c: Mapped[float | None]
    reason: Mapped[str] = mapped_column(default="")
    result_g_per_100g: Mapped[float | None]

    __mapper_args__ = {"polymorphic_identity": "rubout"}


class DemandRecord(Base):
    """One record of a lot's oil absorption in the reference oil: a rub-out's result or a batch's verdict.

    Set aside with a reason it no longer counts, but it is kept; far off, it is held back until it is `confirmed`. A
    verdict whose finish was struck out is void. `eye_k` is by how much the maker's bias is in it, `measuring_sd_ln`
    what counting left open. `spooned_g_per_ml` and `drop_g` are what a ml of its spoons and a drop were taken for then.
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
    eye_k: Mapped[float] = mapped_column(default=0.0, server_default="0")
    measuring_sd_ln: Mapped[float] = mapped_column(default=0.0, server_default="0")
    spooned_g_per_ml: Mapped[float | None]
    drop_g: Mapped[float | None]
    confirmed: Mapped[bool] = mapped_column(default=False, server_default=false())
    void: Mapped[bool] = mapped_column(default=False)


class PigmentDemand(Base):
    """A pigment's prior where the studio entered one, and the demand learned for a lot not seen yet.

    `eye_precision` and `eye_weighted` are what its records say of the maker's bias by themselves.
    """

    __tablename__ = "pigment_demand"

    pigment_key: Mapped[str] = mapped_column(primary_key=True)
    entered_low: Mapped[float | None]
    entered_high: Mapped[float | None]
    entered_from: Mapped[str] = mapped_column(default="")
    unseen_g_per_100g: Mapped[float]
    unseen_sd_ln: Mapped[float]
    unseen_shared_sd_ln: Mapped[float] = mapped_column(default=0.0, server_default="0")
    unseen_eye_covariance: Mapped[float] = mapped_column(default=0.0, server_default="0")
    eye_precision: Mapped[float] = mapped_column(default=0.0, server_default="0")
    eye_weighted: Mapped[float] = mapped_column(default=0.0, server_default="0")
    basis: Mapped[str]
    says: Mapped[str]
