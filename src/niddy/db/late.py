"""Acts that came late to a batch."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base


class LateAct(Base):
    """An act that came from a device when its batch was over already: kept as sent until somebody decides on it.

    `decision` is empty while it waits, then `taken` (it is in the log under its own id) or `left`.
    """

    __tablename__ = "late_act"
    __table_args__ = (CheckConstraint("decision in ('', 'taken', 'left')", name="decision"),)

    id: Mapped[UUID] = mapped_column(primary_key=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), index=True)
    kind: Mapped[str]
    payload: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]
    came_at: Mapped[datetime]
    decision: Mapped[str] = mapped_column(default="")
    decided_at: Mapped[datetime | None]
    words: Mapped[str] = mapped_column(default="")
