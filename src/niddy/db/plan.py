"""Plans kept for later."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy.orm import Mapped

from niddy.db.base import Base, Id


class SavedPlan(Base):
    """A plan under a name: what was asked, computed anew whenever it is opened."""

    __tablename__ = "saved_plan"

    id: Mapped[Id]
    name: Mapped[str]
    wish: Mapped[dict[str, Any]]
    saved_at: Mapped[datetime]
