"""The practice slab: tries, kept apart from every record of the studio."""

from __future__ import annotations

from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, Integer
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.log import Job


class PracticeTry(Job):
    """One try at an exercise: a job whose plan is a simulated paste.

    `ahead_s` is how far its clock was moved on; `advised` whether Niddy's advice shows. `score` and `judgements` (each
    `[true reduced PVC, body said]`) are derived from its log when it ends.
    """

    __tablename__ = "practice_try"
    __table_args__ = (
        CheckConstraint("seed between 0 and 999999", name="seed"),
        CheckConstraint("ahead_s >= 0", name="ahead"),
        Index("ix_practice_try_maker", "maker", "exercise"),
    )

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    exercise: Mapped[str]
    seed: Mapped[int]
    maker: Mapped[str] = mapped_column(default="", server_default="")
    advised: Mapped[bool] = mapped_column(default=False, server_default="false")
    ahead_s: Mapped[float] = mapped_column(default=0.0, server_default="0")
    score: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    judgements: Mapped[list[Any]] = mapped_column(JSONB, default=list, server_default="[]")

    __mapper_args__ = {"polymorphic_identity": "practice"}
