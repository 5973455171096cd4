"""Checks: what was measured on a batch, beside the acts that say so."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base


class Check(Base):
    """One reading as worked out (`facts`); the act of its id is as it was sent. One may be set aside, with a reason.

    `value` is what is charted, in the unit of its kind; `choice` what was picked of drawn choices.
    """

    __tablename__ = "batch_check"

    id: Mapped[UUID] = mapped_column(ForeignKey("act.id"), primary_key=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), index=True)
    kind: Mapped[str]
    value: Mapped[float | None]
    choice: Mapped[str | None]
    facts: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]
    set_aside: Mapped[str | None]
