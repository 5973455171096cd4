"""Sticks: bases and their versions, moulds, sets, pots, recipes, and what dents taught of a base."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer, UniqueConstraint
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.base import Base, Id
from niddy.db.log import Job


class StickBase(Base):
    """A base of waxes and resins, under one name whatever its versions."""

    __tablename__ = "stick_base"

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    note: Mapped[str] = mapped_column(default="", server_default="")
    added_at: Mapped[datetime]
    came_as: Mapped[dict[str, Any] | None]


class StickBaseVersion(Base):
    """One version of a base: `parts` are wax keys with shares, never changed."""

    __tablename__ = "stick_base_version"
    __table_args__ = (
        UniqueConstraint("base_id", "version", name="uq_stick_base_version_version"),
        CheckConstraint("version > 0", name="version"),
    )

    id: Mapped[Id]
    base_id: Mapped[int] = mapped_column(ForeignKey("stick_base.id"))
    version: Mapped[int]
    parts: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    why: Mapped[str] = mapped_column(default="", server_default="")
    made_at: Mapped[datetime]


class StickMould(Base):
    """A mould and what it holds."""

    __tablename__ = "stick_mould"
    __table_args__ = (CheckConstraint("ml between 0.1 and 5000", name="ml"),)

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    ml: Mapped[float]
    retired: Mapped[bool] = mapped_column(default=False, server_default="false")


class StickRecipe(Base):
    """A stick to be made again: `colour` is what was asked of it, `target_dmm` what it should dent."""

    __tablename__ = "stick_recipe"
    __table_args__ = (CheckConstraint("target_dmm between 0.1 and 400", name="target"),)

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    colour: Mapped[dict[str, Any]]
    base_id: Mapped[int] = mapped_column(ForeignKey("stick_base.id"))
    oil_key: Mapped[str]
    target_dmm: Mapped[float]
    made_at: Mapped[datetime]


class StickSet(Base):
    """Colours that were planned together; the request that made it, so that sending twice makes one."""

    __tablename__ = "stick_set"

    id: Mapped[Id]
    request_id: Mapped[UUID] = mapped_column(unique=True)
    name: Mapped[str]
    asked: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]


class StickPot(Job):
    """A pot: a job that makes sticks of one colour. Its summary columns follow from its log, as those of a batch."""

    __tablename__ = "stick_pot"
    __table_args__ = (
        CheckConstraint("verdict in ('too_hard', 'right', 'too_soft', 'crumbles')", name="verdict"),
        CheckConstraint("least(target_dmm, dent_dmm, sticks, sticks_g) >= 0", name="amounts"),
        Index("ix_stick_pot_set_id", "set_id"),
        Index("ix_stick_pot_recipe_id", "recipe_id"),
        Index("ix_stick_pot_base_version_id", "base_version_id"),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    set_id: Mapped[int | None] = mapped_column(ForeignKey("stick_set.id"))
    base_version_id: Mapped[int] = mapped_column(ForeignKey("stick_base_version.id"))
    recipe_id: Mapped[int | None] = mapped_column(ForeignKey("stick_recipe.id"))
    masstone_srgb: Mapped[str]
    target_dmm: Mapped[float]
    dent_dmm: Mapped[float | None]
    verdict: Mapped[str | None]
    sticks: Mapped[int] = mapped_column(default=0, server_default="0")
    sticks_g: Mapped[float | None]
    lot_ids: Mapped[list[int]] = mapped_column(ARRAY(Integer), default=list, server_default="{}")

    __mapper_args__ = {"polymorphic_identity": "sticks"}


class StickReading(Base):
    """What one dent of a pot, or of its sticks, taught of its base: ln of observed over predicted."""

    __tablename__ = "stick_reading"
    __table_args__ = (
        CheckConstraint("by in ('needle', 'feel')", name="by"),
        Index("ix_stick_reading_base_version_id", "base_version_id"),
        Index("ix_stick_reading_job_id", "job_id"),
    )

    act_id: Mapped[UUID] = mapped_column(ForeignKey("act.id"), primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    base_version_id: Mapped[int] = mapped_column(ForeignKey("stick_base_version.id"))
    ln_ratio: Mapped[float]
    by: Mapped[str]
    at: Mapped[datetime]
