"""Additives: ladders, and what was done and read on each of their rungs."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Ladder(Base):
    """A ladder as designed; `outcome` is what its fit says, kept in the transaction that changes a reading."""

    __tablename__ = "ladder"

    id: Mapped[Id]
    request_id: Mapped[UUID] = mapped_column(unique=True)
    name: Mapped[str]
    made_at: Mapped[datetime]
    recipe_id: Mapped[int | None] = mapped_column(ForeignKey("recipe.id"))
    design: Mapped[dict[str, Any]]
    outcome: Mapped[dict[str, Any] | None]
    retired: Mapped[bool] = mapped_column(default=False)


class LadderAct(Base):
    """A tick or a reading on one rung, as sent. Never changed: a later one of its kind takes its place."""

    __tablename__ = "ladder_act"
    __table_args__ = (Index("ix_ladder_act_ladder_id", "ladder_id"),)

    id: Mapped[UUID] = mapped_column(primary_key=True)
    ladder_id: Mapped[int] = mapped_column(ForeignKey("ladder.id"))
    seq: Mapped[int]
    rung: Mapped[int]
    kind: Mapped[str]
    value: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
