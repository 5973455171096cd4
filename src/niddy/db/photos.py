"""Photos: pictures of the paste."""

from __future__ import annotations

from uuid import UUID

from sqlalchemy import ForeignKey, LargeBinary
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base


class BatchPhoto(Base):
    """A picture of the paste, scaled down; the act that took it has the same id."""

    __tablename__ = "batch_photo"

    id: Mapped[UUID] = mapped_column(ForeignKey("batch_event.id"), primary_key=True)
    batch_number: Mapped[int] = mapped_column(ForeignKey("batch.number"), index=True)
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)
    width: Mapped[int]
    height: Mapped[int]
