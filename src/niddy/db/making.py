"""Making pigment: processes and their versions."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class MakingProcess(Base):
    """A process of making a pigment, under one name whatever its versions."""

    __tablename__ = "making_process"

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    note: Mapped[str] = mapped_column(default="", server_default="")
    added_at: Mapped[datetime]


class MakingProcessVersion(Base):
    """One version of a process: what goes in, its equation and steps as they were said; never changed."""

    __tablename__ = "making_process_version"
    __table_args__ = (
        UniqueConstraint("process_id", "version", name="uq_making_process_version_version"),
        CheckConstraint("version > 0", name="version"),
    )

    id: Mapped[Id]
    process_id: Mapped[int] = mapped_column(ForeignKey("making_process.id"))
    version: Mapped[int]
    said: Mapped[dict[str, Any]] = mapped_column(JSONB)
    why: Mapped[str] = mapped_column(default="", server_default="")
    made_at: Mapped[datetime]
