"""Batches: one row each beside its job."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer, String, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.log import Job


class Batch(Job):
    """A batch: a job at the slab, and a summary of its log kept for lists.

    Its `plan` is the core's, its `state` the paste. The summary columns are derived from the log in the transaction
    that appends to it; `results` (the mean of each check) from the checks in the transaction that changes one.
    `tubes_filled` is what the finish said would be filled, `tubes_counted` what was, once filling began: where it is
    there, it alone counts.
    `lot_ids` are the lots of the plan and of what was stirred in beside it. `planned_min` is the plan's minutes at the
    slab before the studio's own pace counts, tidying left out; None where it was planned before they were told apart.
    """

    __tablename__ = "batch"
    __table_args__ = (
        CheckConstraint("verdict in ('stiff', 'right', 'soft')", name="verdict"),
        CheckConstraint("planned_min >= 0", name="planned_min"),
        CheckConstraint("least(pigment_g, oil_g, made_ml, filled_ml, leftover_ml, tubes_filled) >= 0", name="amounts"),
        Index("ix_batch_recipe_id", "recipe_id"),
        Index("ix_batch_pigment_keys", "pigment_keys", postgresql_using="gin"),
        Index("ix_batch_late_waiting", "number", postgresql_where=text("late_waiting > 0")),
        Index("ix_batch_lot_ids", "lot_ids", postgresql_using="gin"),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    masstone_srgb: Mapped[str]
    verdict: Mapped[str | None]
    pigment_keys: Mapped[list[str]] = mapped_column(ARRAY(String))
    lot_ids: Mapped[list[int]] = mapped_column(ARRAY(Integer))
    planned_min: Mapped[float | None]
    oil_name: Mapped[str]
    pigment_g: Mapped[float] = mapped_column(default=0.0)
    oil_g: Mapped[float] = mapped_column(default=0.0)
    made_ml: Mapped[float] = mapped_column(default=0.0)
    filled_ml: Mapped[float] = mapped_column(default=0.0)
    leftover_ml: Mapped[float] = mapped_column(default=0.0)
    tubes_filled: Mapped[int] = mapped_column(default=0)
    tubes_counted: Mapped[int | None]
    recipe_id: Mapped[int | None] = mapped_column(ForeignKey("recipe.id"))
    recipe_version: Mapped[int | None]
    results: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    release: Mapped[str | None]
    use_by: Mapped[date | None]
    late_waiting: Mapped[int] = mapped_column(default=0, server_default="0")
    discarded_at: Mapped[datetime | None]
    discarded_why: Mapped[str | None]

    __mapper_args__ = {"polymorphic_identity": "slab"}
