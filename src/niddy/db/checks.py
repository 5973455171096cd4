"""Checks: what was measured on a batch, and what was decided about it."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Check(Base):
    """One reading, as sent (`payload`) and as worked out (`facts`). Kept for good; one may be set aside, with a reason.

    `value` is what is charted, in the unit of its kind; `choice` what was picked of drawn choices.
    """

    __tablename__ = "batch_check"

    id: Mapped[UUID] = mapped_column(primary_key=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), index=True)
    kind: Mapped[str]
    value: Mapped[float | None]
    choice: Mapped[str | None]
    payload: Mapped[dict[str, Any]]
    facts: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]
    set_aside: Mapped[str | None]


class ReleaseDecision(Base):
    """What the maker decided about a batch, what was advised, and why they differ where they do."""

    __tablename__ = "release_decision"

    id: Mapped[Id]
    request_id: Mapped[UUID] = mapped_column(unique=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), index=True)
    release: Mapped[str]
    advised: Mapped[str]
    reason: Mapped[str]
    made_at: Mapped[datetime]
