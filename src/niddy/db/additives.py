"""Additives: ladders."""

from __future__ import annotations

from sqlalchemy import BigInteger, ForeignKey, Integer
from sqlalchemy.orm import Mapped, column_property, mapped_column

from niddy.db.log import Job


class Ladder(Job):
    """A ladder. Its `plan` is the design, its `state` what the fit of its readings says.

    Its acts are ticks and readings on one rung each: a later one of its kind takes an earlier one's place. Put away,
    it is abandoned.
    """

    __tablename__ = "ladder"

    number: Mapped[int] = column_property(mapped_column("number", Integer, primary_key=True), Job.number)
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    recipe_id: Mapped[int | None] = mapped_column(ForeignKey("recipe.id"))

    __mapper_args__ = {"polymorphic_identity": "additives"}
