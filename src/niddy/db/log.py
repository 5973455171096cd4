"""The log that every craft shares: jobs, the acts of each, and the pictures taken with them."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, Index, LargeBinary, UniqueConstraint, text
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id
from niddy.db.engine import MAKER_AT_WORK


class Job(Base):
    """One piece of work of a room: a batch, its checks, a rub-out, ladder, pot, can, dish, run, tube, practice.

    Rooms keep their own columns beside it.

    `number` is the room's own. `request_id` is made by the client, so that sending twice makes one job. `plan` is what
    was computed from what was `asked`, `state` the fold of its acts up to `last_seq`; each carries the version of its
    shape, so that an old one is upgraded, or folded anew.
    """

    __tablename__ = "job"
    __table_args__: tuple[Any, ...] = (
        CheckConstraint("status in ('open', 'finished', 'abandoned')", name="status"),
        CheckConstraint(
            "room in ('slab', 'rubout', 'additives', 'gels', 'shelf', 'checks', 'sticks', 'bases', 'cans', 'dishes', "
            "'runs', 'practice', 'charts')",
            name="room",
        ),
        CheckConstraint("least(last_seq, plan_version, state_version) >= 0", name="counts"),
        CheckConstraint("ended_at is null or status <> 'open'", name="ended"),
        UniqueConstraint("room", "request_id", name="uq_job_request_id"),
        UniqueConstraint("room", "number", name="uq_job_number"),
        Index("ix_job_room_started_at", "room", "started_at"),
        Index("ix_job_open", "room", "started_at", postgresql_where=text("status = 'open'")),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    room: Mapped[str]
    number: Mapped[int]
    request_id: Mapped[UUID]
    name: Mapped[str]
    status: Mapped[str]
    asked: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    plan: Mapped[dict[str, Any] | None]
    plan_version: Mapped[int] = mapped_column(default=0, server_default="0")
    state: Mapped[dict[str, Any] | None]
    state_version: Mapped[int] = mapped_column(default=0, server_default="0")
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    last_seq: Mapped[int] = mapped_column(default=0, server_default="0")
    maker_id: Mapped[int | None] = mapped_column(ForeignKey("maker.id"), server_default=text(MAKER_AT_WORK))

    __mapper_args__ = {"polymorphic_on": "room", "polymorphic_identity": "shelf"}


class Numbering(Base):
    """The last number a room gave to a job of its own: one after the other, whatever the database went through."""

    __tablename__ = "numbering"
    __table_args__ = (CheckConstraint("last >= 0", name="last"),)

    room: Mapped[str] = mapped_column(primary_key=True)
    last: Mapped[int]


class Act(Base):
    """One act as the client sent it (`payload`) and what the door made of it (`facts`). Never changed or deleted.

    `strikes` names the act it takes out of the fold; striking a strike brings its act back.
    """

    __tablename__ = "act"
    __table_args__ = (
        UniqueConstraint("job_id", "seq", name="uq_act_seq"),
        Index("ix_act_made_at", "made_at"),
        Index("ix_act_strikes", "strikes", postgresql_where=text("strikes is not null")),
        Index("ix_act_timed", "job_id", postgresql_where=text("kind in ('load_done', 'fineness')")),
        CheckConstraint("seq > 0", name="seq"),
    )

    id: Mapped[UUID] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"))
    seq: Mapped[int]
    kind: Mapped[str]
    payload: Mapped[dict[str, Any]]
    facts: Mapped[dict[str, Any]]
    strikes: Mapped[UUID | None] = mapped_column(ForeignKey("act.id"))
    made_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    maker_id: Mapped[int | None] = mapped_column(ForeignKey("maker.id"), server_default=text(MAKER_AT_WORK))


class Photo(Base):
    """A picture, scaled down; the act that took it has the same id."""

    __tablename__ = "photo"

    id: Mapped[UUID] = mapped_column(ForeignKey("act.id"), primary_key=True)
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)
    width: Mapped[int]
    height: Mapped[int]


class Output(Base):
    """So much of a lot (g, or pieces) or of a tube or jar (ml) that a job made, by which act where one says so."""

    __tablename__ = "output"
    __table_args__ = (
        CheckConstraint("num_nonnulls(lot_id, item_id) = 1", name="one"),
        CheckConstraint("amount >= 0", name="amount"),
    )

    id: Mapped[Id]
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), index=True)
    act_id: Mapped[UUID | None]
    lot_id: Mapped[int | None] = mapped_column(ForeignKey("lot.id"), index=True)
    item_id: Mapped[int | None] = mapped_column(ForeignKey("shelf_item.id"), index=True)
    amount: Mapped[float]
    at: Mapped[datetime]
