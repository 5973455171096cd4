"""Making pigment: processes and their versions, and runs of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Integer,
    UniqueConstraint,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.base import Base, Id
from niddy.db.log import Job


class MakingProcess(Base):
    """A process of making a pigment, under one name whatever its versions."""

    __tablename__ = "making_process"

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    note: Mapped[str] = mapped_column(default="", server_default="")
    added_at: Mapped[datetime]
    came_as: Mapped[dict[str, Any] | None]


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


class PigmentRun(Job):
    """One run of a version of a process; the figures follow from its log.

    `changed` is the one thing this run does otherwise than those before it, `light_due_at` when its light test is
    looked at next.
    """

    __tablename__ = "pigment_run"
    __table_args__ = (
        ForeignKeyConstraint(
            ["process_id", "version"],
            ["making_process_version.process_id", "making_process_version.version"],
            name="fk_pigment_run_version",
        ),
        CheckConstraint("yield_g >= 0", name="yield"),
        Index("ix_pigment_run_process_id", "process_id"),
        Index("ix_pigment_run_light_due_at", "light_due_at", postgresql_where=text("light_due_at is not null")),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    process_id: Mapped[int]
    version: Mapped[int]
    changed: Mapped[str] = mapped_column(default="", server_default="")
    yield_g: Mapped[float | None]
    light_due_at: Mapped[datetime | None]

    __mapper_args__ = {"polymorphic_identity": "runs"}
