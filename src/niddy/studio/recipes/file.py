"""A recipe as a file says it: what two studios swap. Its materials come along by name and values."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

FORMAT: Literal["niddy-recipe"] = "niddy-recipe"
VERSION = 1

Name = Annotated[str, Field(min_length=1, max_length=120)]


class MaterialSaid(BaseModel):
    """A material the recipe needs: its kind, its key in the studio it came from, and all that was known of it there."""

    model_config = ConfigDict(extra="allow", allow_inf_nan=False)
    kind: Literal["pigment", "oil", "additive"]
    key: Annotated[str, Field(min_length=1, max_length=80)]
    name: Name
    values: dict[str, Any] = {}


class RecipeFile(BaseModel):
    """A recipe in a file: its name, what it promises, and its materials. Fields beyond these are kept as they came."""

    model_config = ConfigDict(extra="allow", allow_inf_nan=False, title="A recipe of oil colour, to be swapped")
    format: Literal["niddy-recipe"]
    version: Annotated[int, Field(ge=1)]
    name: Name
    recipe: dict[str, Any]
    materials: Annotated[list[MaterialSaid], Field(max_length=40)]
    why: Annotated[str, Field(max_length=300)] = ""
