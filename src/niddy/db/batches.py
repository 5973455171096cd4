"""Batches: one row each, and the immutable log of what happened to it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, Index, Integer, String, UniqueConstraint, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base


class Batch(Base):
    """A batch: the plan it was taken to the slab with, and a summary of its log kept for lists.

    `request_id` is made by the client, so that sending twice makes one batch. `paste` (the fold of the log
    up to `last_seq`) and the summary columns are derived from the log in the transaction that appends to it;
    `results` (the mean of each check) from the checks in the transaction that changes one. `tubes_filled` is what the
    finish said would be filled, `tubes_counted` what was, once filling began: where it is there, it alone counts.
    `lot_ids` are the lots of the plan and of what was stirred in beside it.
    """

    __tablename__ = "batch"
    __table_args__ = (
        CheckConstraint("status in ('open', 'finished', 'abandoned')", name="status"),
        CheckConstraint("verdict in ('stiff', 'right', 'soft')", name="verdict"),
        CheckConstraint(
            "least(pigment_g, oil_g, made_ml, filled_ml, leftover_ml, tubes_filled, last_seq) >= 0", name="amounts"
        ),
        Index("ix_batch_status_started_at", "status", "started_at"),
        Index("ix_batch_started_at", "started_at"),
        Index("ix_batch_recipe_id_started_at", "recipe_id", "started_at"),
        Index("ix_batch_pigment_keys", "pigment_keys", postgresql_using="gin"),
        Index("ix_batch_late_waiting", "number", postgresql_where=text("late_waiting > 0")),
        Index("ix_batch_lot_ids", "lot_ids", postgresql_using="gin"),
    )

    number: Mapped[int] = mapped_column(primary_key=True)
    request_id: Mapped[UUID] = mapped_column(unique=True)
    name: Mapped[str]
    masstone_srgb: Mapped[str]
    status: Mapped[str]
    verdict: Mapped[str | None]
    plan: Mapped[dict[str, Any]]
    pigment_keys: Mapped[list[str]] = mapped_column(ARRAY(String))
    lot_ids: Mapped[list[int]] = mapped_column(ARRAY(Integer))
    oil_name: Mapped[str]
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    last_seq: Mapped[int] = mapped_column(default=0)
    paste: Mapped[dict[str, Any]]
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


class BatchEvent(Base):
    """One act as the client sent it (`payload`) and what the door made of it (`facts`). Never changed or deleted."""

    __tablename__ = "batch_event"
    __table_args__ = (
        UniqueConstraint("batch_number", "seq", name="uq_batch_event_seq"),
        Index("ix_batch_event_strikes", text("(payload ->> 'strikes')"), postgresql_where=text("kind = 'strike'")),
    )

    id: Mapped[UUID] = mapped_column(primary_key=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"))
    seq: Mapped[int]
    kind: Mapped[str]
    payload: Mapped[dict[str, Any]]
    facts: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
