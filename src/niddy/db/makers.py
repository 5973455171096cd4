"""Makers, what proves them, where they are signed in, codes for phones, and who changed what."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, Index, text
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Maker(Base):
    """Somebody of the studio. Who left stays on what they made."""

    __tablename__ = "maker"
    __table_args__ = (
        CheckConstraint("role in ('owner', 'maker', 'looker')", name="role"),
        Index("uq_maker_name_key", "name_key", unique=True, postgresql_where=text("gone_at is null")),
    )

    id: Mapped[Id]
    name: Mapped[str]
    name_key: Mapped[str]
    initials: Mapped[str]
    role: Mapped[str]
    added_at: Mapped[datetime]
    gone_at: Mapped[datetime | None]


class Credential(Base):
    """What proves a maker: hashes alone (Argon2id). Never leaves the studio but in a backup."""

    __tablename__ = "maker_credential"
    __table_args__ = (CheckConstraint("pin_wrong >= 0", name="pin_wrong"),)

    maker_id: Mapped[int] = mapped_column(ForeignKey("maker.id", ondelete="cascade"), primary_key=True)
    password_hash: Mapped[str]
    pin_hash: Mapped[str | None]
    pin_wrong: Mapped[int] = mapped_column(default=0, server_default="0")


class SignIn(Base):
    """A device where a maker is signed in, known by the hash of what its cookie holds; `shared` by several makers.

    `proved_at` is when whoever came by PIN gave the password besides.
    """

    __tablename__ = "maker_session"
    __table_args__ = (CheckConstraint("by in ('password', 'phone', 'pin')", name="by"),)

    id: Mapped[Id]
    token_hash: Mapped[str] = mapped_column(unique=True)
    maker_id: Mapped[int] = mapped_column(ForeignKey("maker.id", ondelete="cascade"), index=True)
    by: Mapped[str]
    device: Mapped[str]
    shared: Mapped[bool]
    began_at: Mapped[datetime]
    seen_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    proved_at: Mapped[datetime | None]


class KnownDevice(Base):
    """A device on which a maker signed in once, by the hash of what it holds: it need not wait for others' tries."""

    __tablename__ = "maker_device"

    token_hash: Mapped[str] = mapped_column(primary_key=True)
    maker_id: Mapped[int] = mapped_column(ForeignKey("maker.id", ondelete="cascade"), primary_key=True)
    seen_at: Mapped[datetime]


class Pairing(Base):
    """A code that signs a phone in, once."""

    __tablename__ = "maker_pairing"

    token_hash: Mapped[str] = mapped_column(primary_key=True)
    maker_id: Mapped[int] = mapped_column(ForeignKey("maker.id", ondelete="cascade"), index=True)
    made_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class Change(Base):
    """A change that is no act of a log: who made it, when, to what, in words."""

    __tablename__ = "maker_change"
    __table_args__ = (Index("ix_maker_change_at", "at"),)

    id: Mapped[Id]
    maker_id: Mapped[int] = mapped_column(ForeignKey("maker.id"), index=True)
    at: Mapped[datetime]
    what: Mapped[str]
    address: Mapped[str]
