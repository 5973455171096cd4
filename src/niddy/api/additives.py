"""Additives: choices, gels, ladders, body by intent."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.gels import GelPlan, strength_of
from niddy.core.intent import Route
from niddy.core.ladder import Design
from niddy.core.words import Words
from niddy.studio import additives as studio
from niddy.studio import recipes
from niddy.studio.additives import Choice, GelAsked, IntentAsked, LadderAsked, LadderLine, LadderPage, TargetAsked
from niddy.studio.materials import LotKept
from niddy.studio.recipes import LadderStart

router = Router(prefix="/api/additives", tags=["additives"], responses=REFUSALS)


class LadderNew(BaseModel):
    """A ladder to begin. `request_id` is the client's: sent twice it begins one ladder."""

    model_config = ConfigDict(extra="forbid")
    request_id: UUID
    ladder: LadderAsked


class LadderBegun(BaseModel):
    """The number of a ladder."""

    id: int


class TargetsAsked(BaseModel):
    """What the ladder is asked for."""

    model_config = ConfigDict(extra="forbid")
    targets: Annotated[list[TargetAsked], Field(max_length=3)]


class LadderInto(BaseModel):
    """The recipe that is to take a ladder's answer."""

    model_config = ConfigDict(extra="forbid")
    recipe_id: RowId


class VersionMade(BaseModel):
    """The version of a recipe that was made."""

    recipe_id: int
    version: int


@router.get("")
def choices(db: Db, now: Now) -> tuple[Choice, ...]:
    """Every additive, with the studio's own lots and gels of it and what its ladders told."""
    with db.session() as session:
        return studio.choices(session, now)


@router.get("/gels/plan")
def plan_gel(
    db: Db,
    additive_key: Annotated[Words, Query(max_length=80)],
    grams: Annotated[float, Query(description="g that should come out")],
    strength: Annotated[float | None, Query(description="mass fraction of additive; the usual one if left out")] = None,
) -> GelPlan:
    """A gel on paper: weighings and steps."""
    with db.session() as session:
        return studio.plan_gel(session, additive_key, grams, strength)


@router.get("/gels/strength")
def gel_strength(
    additive_g: Annotated[float, Query(description="g weighed in")], oil_g: Annotated[float, Query(description="g")]
) -> float:
    """The strength of a gel by what was weighed in: a mass fraction of additive."""
    return strength_of(additive_g, oil_g)


@router.post("/gels", status_code=201)
@policy.works("Made a gel")
def make_gel(db: Db, now: Now, asked: GelAsked) -> LotKept:
    """Keep a gel that was made; what went into it is drawn from its lots."""
    with db.session() as session:
        return studio.make_gel(session, now, asked)


@router.post("/intent")
@policy.looks()
def intent(db: Db, asked: IntentAsked) -> tuple[Route, ...]:
    """Three ways to the paint wanted, one for each school."""
    with db.session() as session:
        return studio.routes(session, asked)


@router.get("/ladders")
def ladders(db: Db, now: Now) -> tuple[LadderLine, ...]:
    """The ladders, newest first."""
    with db.session() as session:
        return studio.lines(session, now)


@router.post("/ladders/design")
@policy.looks()
def design(db: Db, asked: LadderAsked) -> Design:
    """A ladder on paper; nothing is kept."""
    with db.session() as session:
        return studio.design(session, asked)


@router.get("/ladders/start/{recipe_id}")
def start(db: Db, recipe_id: RowId) -> LadderStart:
    """Where a ladder for a recipe starts: its ratio, and targets from its checks."""
    with db.session() as session:
        return recipes.ladder_start(session, recipe_id)


@router.post("/ladders", status_code=201)
@policy.works("Began a ladder")
def begin(db: Db, now: Now, asked: LadderNew) -> LadderBegun:
    """Begin a ladder."""
    with db.session() as session:
        return LadderBegun(id=studio.begin(session, now, asked.request_id, asked.ladder))


@router.get("/ladders/{ladder_id}")
def page(db: Db, now: Now, ladder_id: RowId) -> LadderPage:
    """A ladder to be run and read."""
    with db.session() as session:
        return studio.page(session, now, ladder_id)


add_room(router, studio.LADDERS, LadderPage, studio.page_of, path="/ladders/{number}")


@router.put("/ladders/{ladder_id}/targets")
@policy.works("Changed what a ladder is for")
def retarget(db: Db, now: Now, ladder_id: RowId, asked: TargetsAsked) -> LadderPage:
    """Change what the ladder is asked for."""
    with db.session() as session:
        return studio.retarget(session, now, ladder_id, asked.targets)


@router.delete("/ladders/{ladder_id}")
@policy.works("Put a ladder away")
def retire(db: Db, now: Now, ladder_id: RowId) -> tuple[LadderLine, ...]:
    """Put a ladder away; its readings are kept."""
    with db.session() as session:
        studio.retire(session, now, ladder_id)
        return studio.lines(session, now)


@router.post("/ladders/{ladder_id}/into-recipe", status_code=201)
@policy.works("Put a ladder's dose into a recipe")
def into_recipe(db: Db, now: Now, ladder_id: RowId, asked: LadderInto) -> VersionMade:
    """Put what a ladder found into a recipe as a new version."""
    with db.session() as session:
        version = recipes.take_ladder(session, now, asked.recipe_id, ladder_id)
        return VersionMade(recipe_id=asked.recipe_id, version=version)
