"""The shelf: every tube, jar and stick of paint. What happened to each is the log of its job."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import BigInteger, CheckConstraint, Computed, ForeignKey, Index, String, text
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class ShelfItem(Base):
    """A tube, jar or stick. Its job is open while it is here; a found one has neither `batch_number` nor `pot_number`.

    `status` is kept, waiting (part-filled), or how it left.

    What it took of which batch is an output of that batch: fixed then, while `volume_ml` changes with what becomes of
    the paint.

    `contents` is what was filled in, gram by gram; `hazards` the keys of all that was ever known to be in it.

    `next_inspection_on` and `last_outcome` follow from its inspections, in the transaction that logs one; `here` and
    `searched` (its words in small letters) from its own row.
    """

    __tablename__ = "shelf_item"
    __table_args__ = (
        Index("ix_shelf_item_filled_on", "filled_on", "id", postgresql_where=text("here")),
        Index("ix_shelf_item_colour_order", "colour_order", "filled_on", postgresql_where=text("here")),
        Index("ix_shelf_item_next_inspection_on", "next_inspection_on", "filled_on", postgresql_where=text("here")),
        Index("ix_shelf_item_name", "name", "filled_on", postgresql_where=text("here")),
        Index("ix_shelf_item_place", "place", "filled_on", postgresql_where=text("here")),
        Index("ix_shelf_item_batch_number", "batch_number"),
        Index("ix_shelf_item_pot_number", "pot_number"),
        CheckConstraint("kind in ('tube', 'jar', 'stick')", name="kind"),
        CheckConstraint("cover in ('', 'oil', 'film')", name="cover"),
        CheckConstraint(
            "status in ('kept', 'waiting', 'given', 'sold', 'used_up', 'discarded', 'reground')", name="status"
        ),
        CheckConstraint("volume_ml between 0.01 and 20000", name="volume"),
        CheckConstraint("filled_on between '1900-01-01' and '2199-12-31'", name="filled_on"),
    )

    id: Mapped[Id]
    job_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("job.id"), unique=True)
    code: Mapped[str] = mapped_column(unique=True)
    kind: Mapped[str]
    name: Mapped[str]
    masstone_srgb: Mapped[str]
    colour_order: Mapped[float]
    batch_number: Mapped[int | None] = mapped_column(ForeignKey("batch.number"))
    topped_by: Mapped[int | None] = mapped_column(ForeignKey("batch.number"))
    pot_number: Mapped[int | None] = mapped_column(ForeignKey("stick_pot.number"))
    container: Mapped[str]
    usable_ml: Mapped[float | None]
    volume_ml: Mapped[float]
    density_g_per_ml: Mapped[float | None]
    gross_g: Mapped[float | None]
    tare_g: Mapped[float | None]
    place: Mapped[str] = mapped_column(default="")
    cover: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(default="")
    label_says: Mapped[str] = mapped_column(default="", server_default="")
    filled_on: Mapped[date]
    use_by: Mapped[date | None]
    status: Mapped[str]
    why: Mapped[str] = mapped_column(default="")
    unknown_hazard: Mapped[bool] = mapped_column(default=False)
    colour_read: Mapped[bool] = mapped_column(default=False, server_default="false")
    of_no_batch: Mapped[bool] = mapped_column(default=False, server_default="false")
    hazards: Mapped[list[str]] = mapped_column(ARRAY(String))
    contents: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, default=list, server_default="[]")
    next_inspection_on: Mapped[date | None]
    last_outcome: Mapped[str | None]
    here: Mapped[bool] = mapped_column(Computed("status in ('kept', 'waiting')", persisted=True))
    searched: Mapped[str] = mapped_column(
        Computed("lower(name || ' ' || code || ' ' || place || ' ' || container)", persisted=True)
    )


class ItemUse(Base):
    """Paint of a tube or jar that went into another job: once for each of its acts."""

    __tablename__ = "item_use"

    act_id: Mapped[UUID] = mapped_column(primary_key=True)
    item_id: Mapped[int] = mapped_column(ForeignKey("shelf_item.id"), index=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), index=True)
    volume_ml: Mapped[float]
    at: Mapped[datetime]
