"""Recipes: versions, consistency, the body map, the same again."""

from __future__ import annotations

from typing import Annotated

from fastapi import Response
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.checks import CheckKind
from niddy.core.words import Words
from niddy.studio import checks
from niddy.studio import recipes as studio
from niddy.studio.checks import BodyMap, Consistency
from niddy.studio.recipes import Again, AgainAsked, RecipeAsked, RecipeLine, RecipePage, Suggested

router = Router(prefix="/api/recipes", tags=["recipes"], responses=REFUSALS)


class RecipeMade(BaseModel):
    """The number of a recipe made."""

    id: int


class RecipeNew(BaseModel):
    """A new recipe; `from_batch` becomes its first batch."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[Words, Field(min_length=1, max_length=120)]
    recipe: RecipeAsked
    from_batch: RowId | None = None


class RecipeChange(BaseModel):
    """A new version, and why."""

    model_config = ConfigDict(extra="forbid")
    recipe: RecipeAsked
    why: Annotated[Words, Field(max_length=300)]


class FreezeAsked(BaseModel):
    """The batches whose ranges set the limits; none lets all of them."""

    model_config = ConfigDict(extra="forbid")
    batches: Annotated[list[RowId], Field(max_length=500)]


@router.get("")
def recipes(db: Db) -> tuple[RecipeLine, ...]:
    """The recipes in use."""
    with db.session() as session:
        return studio.lines(session)


@router.post("", status_code=201)
@policy.works("Made a recipe")
def make(db: Db, now: Now, asked: RecipeNew) -> RecipeMade:
    """Make a recipe."""
    with db.session() as session:
        return RecipeMade(id=studio.make(session, now, asked.name, asked.recipe, asked.from_batch))


@router.get("/from-batch/{number}")
def from_batch(db: Db, number: RowId) -> Suggested:
    """What recipe a batch would make."""
    with db.session() as session:
        return studio.from_batch(session, number)


@router.get("/{recipe_id}")
def page(db: Db, recipe_id: RowId) -> RecipePage:
    """A recipe with its versions and last batches."""
    with db.session() as session:
        return studio.page(session, recipe_id)


@router.post("/{recipe_id}/versions", status_code=201)
@policy.works("Made a new version of a recipe")
def change(db: Db, now: Now, recipe_id: RowId, asked: RecipeChange) -> RecipePage:
    """Make a new version; old batches keep theirs."""
    with db.session() as session:
        studio.change(session, now, recipe_id, asked.recipe, asked.why)
        return studio.page(session, recipe_id)


@router.delete("/{recipe_id}")
@policy.works("Put a recipe out of use")
def retire(db: Db, recipe_id: RowId) -> tuple[RecipeLine, ...]:
    """Put a recipe out of use; its batches keep it."""
    with db.session() as session:
        studio.retire(session, recipe_id)
        return studio.lines(session)


@router.put("/{recipe_id}/frozen", response_model=RecipePage)
@policy.works("Chose the batches a recipe is held against")
def freeze(db: Db, recipe_id: RowId, asked: FreezeAsked) -> RecipePage:
    """Freeze the control limits on chosen batches, or let them follow all."""
    with db.session() as session:
        studio.freeze(session, recipe_id, asked.batches)
        return studio.page(session, recipe_id)


@router.get("/{recipe_id}/consistency/{kind}", response_model=Consistency)
def consistency(db: Db, recipe_id: RowId, kind: CheckKind) -> Response:
    """How even the recipe's batches are in one check."""
    with db.session() as session:
        judged = checks.consistency(session, recipe_id, kind)
    return answer(judged)


@router.get("/{recipe_id}/body-map", response_model=BodyMap)
def body_map(db: Db, recipe_id: RowId) -> Response:
    """The recipe's batches between long and short, loose and stiff."""
    with db.session() as session:
        found = checks.body_map(session, recipe_id)
    return answer(found)


@router.post("/{recipe_id}/again")
@policy.looks()
def again(db: Db, recipe_id: RowId, asked: AgainAsked) -> Again:
    """The same again from these lots, this oil and this amount: what to plan, and what is different."""
    with db.session() as session:
        return studio.again(session, recipe_id, asked)
