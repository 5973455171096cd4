"""Paints in numbers, what was read of those that are no batch, and the charts they were painted on."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.base import Base, Id
from niddy.db.log import Job


class MixingPaint(Base):
    """A paint that is known by its colour: a batch, a tube or jar of the shelf, or one of neither, by its name.

    What was read of a batch are its checks; of the others `mixing_reading`. `strength_ln` is the logarithm of its
    strength as painted squares taught it, empty before any.
    """

    __tablename__ = "mixing_paint"
    __table_args__ = (
        CheckConstraint("num_nonnulls(batch_number, item_id) <= 1", name="of"),
        CheckConstraint("num_nonnulls(strength_ln, strength_sd) in (0, 2)", name="strength"),
        CheckConstraint("squares >= 0", name="squares"),
        CheckConstraint("tinting in ('none', 'low', 'medium', 'high')", name="tinting"),
    )

    id: Mapped[Id]
    name: Mapped[str]
    tinting: Mapped[str]
    swatch_srgb: Mapped[str]
    batch_number: Mapped[int | None] = mapped_column(ForeignKey("batch.number"), unique=True)
    item_id: Mapped[int | None] = mapped_column(ForeignKey("shelf_item.id"), unique=True)
    strength_ln: Mapped[float | None]
    strength_sd: Mapped[float | None]
    squares: Mapped[int] = mapped_column(default=0, server_default="0")
    retired: Mapped[bool] = mapped_column(default=False, server_default="false")
    added_at: Mapped[datetime]
    request_id: Mapped[UUID | None] = mapped_column(unique=True)


class MixingReading(Base):
    """A masstone or tint as read of a paint that is no batch. One may be set aside, with a reason.

    `facts` hold Lab, the spectrum where there is one, and what is said of it; a tint's `white_parts` to one of paint
    were of the white `white_id`.
    """

    __tablename__ = "mixing_reading"
    __table_args__ = (
        CheckConstraint("kind in ('masstone', 'tint')", name="kind"),
        CheckConstraint("white_parts between 0.05 and 1000", name="white_parts"),
        Index("ix_mixing_reading_paint_id", "paint_id", "made_at"),
    )

    id: Mapped[UUID] = mapped_column(primary_key=True)
    paint_id: Mapped[int] = mapped_column(ForeignKey("mixing_paint.id"))
    kind: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(JSONB)
    white_parts: Mapped[float | None]
    white_id: Mapped[int | None] = mapped_column(ForeignKey("mixing_paint.id"))
    made_at: Mapped[datetime]
    set_aside: Mapped[str | None]


class MixingChart(Job):
    """A chart of paints: its plan is the layout and the paints it was made for, its state what was read of it."""

    __tablename__ = "mixing_chart"

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)

    __mapper_args__ = {"polymorphic_identity": "charts"}
