"""The day: its hours, the jobs put on it, and how long cleaning took."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, Index
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Day(Base):
    """One day's hours in minutes since midnight, its breaks (`[from, to]` each), and at how many slabs one works.

    `order` is the order of its slab jobs where somebody chose it, by their keys; None where it is the best one.
    """

    __tablename__ = "day"
    __table_args__ = (
        CheckConstraint("start_min >= 0 and end_min > start_min and end_min <= 1440", name="hours"),
        CheckConstraint("slabs between 1 and 4", name="slabs"),
    )

    on_date: Mapped[date] = mapped_column(primary_key=True)
    start_min: Mapped[int]
    end_min: Mapped[int]
    breaks: Mapped[list[Any]] = mapped_column(JSONB, default=list, server_default="[]")
    slabs: Mapped[int] = mapped_column(default=1, server_default="1")
    order: Mapped[list[str] | None] = mapped_column(JSONB)


class DayJob(Base):
    """A job put on a day: a kept plan, a recipe again, tubes to fill, what is begun in a craft, something new.

    `ref` is its number in its room, `minutes` what somebody said it takes; `facts` are what was known of it then.
    """

    __tablename__ = "day_job"
    __table_args__ = (
        CheckConstraint(
            "kind in ('plan', 'recipe', 'cake', 'fill', 'sticks', 'run', 'can', 'dish', 'chart', 'new')", name="kind"
        ),
        CheckConstraint("minutes between 1 and 1440", name="minutes"),
        Index("ix_day_job_on_date", "on_date"),
    )

    id: Mapped[UUID] = mapped_column(primary_key=True)
    on_date: Mapped[date]
    kind: Mapped[str]
    ref: Mapped[int]
    name: Mapped[str]
    minutes: Mapped[float | None]
    put_at: Mapped[datetime]
    facts: Mapped[dict[str, Any]] = mapped_column(JSONB, default=dict, server_default="{}")


class SlabCleaning(Base):
    """One cleaning of a slab that was noted: its minutes, those assumed, and how much the colour before it stains."""

    __tablename__ = "slab_cleaning"
    __table_args__ = (
        CheckConstraint("minutes > 0 and minutes <= 240", name="minutes"),
        CheckConstraint("expected_min > 0", name="expected"),
        CheckConstraint("staining between 0 and 3", name="staining"),
    )

    id: Mapped[Id]
    act_id: Mapped[UUID] = mapped_column(unique=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), unique=True)
    minutes: Mapped[float]
    expected_min: Mapped[float]
    staining: Mapped[int]
    at: Mapped[datetime]
