"""Recipes: the promise of what a paint should be like, in versions."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Recipe(Base):
    """A recipe by name; `frozen_on` are the batches its control limits are frozen on, if they are.

    `came_as` is the file it was taken in from, where it came from another studio.
    """

    __tablename__ = "recipe"

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    made_at: Mapped[datetime]
    retired: Mapped[bool] = mapped_column(default=False)
    frozen_on: Mapped[dict[str, Any] | None]
    bleeds_since: Mapped[datetime | None]
    came_as: Mapped[dict[str, Any] | None]


class RecipeVersion(Base):
    """One version of a recipe: never changed once made, so that old batches keep theirs."""

    __tablename__ = "recipe_version"
    __table_args__ = (UniqueConstraint("recipe_id", "version", name="uq_recipe_version"),)

    id: Mapped[Id]
    recipe_id: Mapped[int] = mapped_column(ForeignKey("recipe.id"))
    version: Mapped[int]
    made_at: Mapped[datetime]
    why: Mapped[str]
    document: Mapped[dict[str, Any]]
