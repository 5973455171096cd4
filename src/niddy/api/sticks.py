"""Sticks: bases and their blocks, moulds, sets, the pot, recipes."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Query, Response
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.materials import Wax
from niddy.studio import materials
from niddy.studio import sticks as studio
from niddy.studio.materials import LotKept
from niddy.studio.sticks import (
    BaseAsked,
    BaseLine,
    BasePage,
    BaseShown,
    BlockAsked,
    BoughtAsked,
    DentZone,
    MouldAsked,
    MouldKept,
    PotLine,
    PotView,
    SetAsked,
    SetPlanned,
    StickRecipeAsked,
    StickRecipeLine,
    StickRecipePage,
    VersionAsked,
)

router = Router(prefix="/api/sticks", tags=["sticks"], responses=REFUSALS)


class Room(BaseModel):
    """What stands in the room."""

    pots: tuple[PotLine, ...]
    bases: tuple[BaseLine, ...]
    recipes: tuple[StickRecipeLine, ...]
    moulds: tuple[MouldKept, ...]
    scale: tuple[DentZone, ...]


@router.get("")
def room(db: Db, now: Now) -> Room:
    """The pots, bases, recipes and moulds, and the dent scale."""
    with db.session() as session:
        return Room(
            pots=studio.pots(session, now),
            bases=studio.bases(session),
            recipes=studio.recipes(session),
            moulds=studio.moulds(session),
            scale=studio.dent_scale(),
        )


# --- bases


@router.post("/bases/preview")
@policy.looks()
def preview(db: Db, asked: VersionAsked) -> BaseShown:
    """What a base of these parts would be."""
    with db.session() as session:
        return studio.preview(session, asked)


@router.post("/bases", status_code=201)
@policy.works("Added a base")
def add_base(db: Db, now: Now, asked: BaseAsked) -> BasePage:
    """Keep a new base."""
    with db.session() as session:
        return studio.page(session, studio.add(session, now, asked))


@router.post("/bases/bought", status_code=201)
@policy.works("Added a bought base")
def add_bought(db: Db, now: Now, asked: BoughtAsked) -> BasePage:
    """Keep a base that was bought ready-made."""
    with db.session() as session:
        return studio.page(session, studio.add_bought(session, now, asked))


@router.get("/bases/beside")
def beside(
    db: Db, of: Annotated[list[str], Query(max_length=12, description="ID, or ID.VERSION")]
) -> tuple[BaseShown, ...]:
    """Two to six bases side by side."""
    wanted = []
    for n, name in enumerate(of):
        base, _, version = name.partition(".")
        if not base.isdecimal() or (version and not version.isdecimal()) or len(name) > 18:
            raise Refused(f"of.{n}", f"'{name[:20]}' names no base", "the number of a base, or 3.2 for its version 2")
        wanted.append((min(int(base), 2**31 - 1), min(int(version), 2**31 - 1) if version else None))
    with db.session() as session:
        return studio.beside(session, wanted)


@router.get("/bases/{base_id}")
def base(db: Db, base_id: RowId, version: RowId | None = None) -> BasePage:
    """One base, its latest version where none is named."""
    with db.session() as session:
        return studio.page(session, base_id, version)


@router.post("/bases/{base_id}/versions", status_code=201)
@policy.works("Made a new version of a base")
def add_version(db: Db, now: Now, base_id: RowId, asked: VersionAsked) -> BasePage:
    """Keep a further version of a base."""
    with db.session() as session:
        return studio.page(session, base_id, studio.add_version(session, now, base_id, asked))


@router.post("/bases/{base_id}/blocks", status_code=201)
@policy.works("Melted a block of a base")
def melt_block(db: Db, now: Now, base_id: RowId, asked: BlockAsked, version: RowId | None = None) -> LotKept:
    """Keep a block that was melted of a base as a lot in stock."""
    with db.session() as session:
        return materials.lot(session, studio.melt_block(session, now, base_id, version, asked))


@router.get("/waxes")
def waxes(db: Db) -> tuple[Wax, ...]:
    """Waxes and resins: the studio's own, then those of the library (approximate)."""
    with db.session() as session:
        return materials.waxes(session)


# --- moulds


@router.post("/moulds", status_code=201)
@policy.works("Added a mould")
def add_mould(db: Db, asked: MouldAsked) -> tuple[MouldKept, ...]:
    """Keep a mould; all of them after."""
    with db.session() as session:
        studio.add_mould(session, asked)
        return studio.moulds(session)


@router.delete("/moulds/{mould_id}")
@policy.works("Put a mould out of use")
def retire_mould(db: Db, mould_id: RowId) -> tuple[MouldKept, ...]:
    """Take a mould out of use; those left."""
    with db.session() as session:
        studio.retire_mould(session, mould_id)
        return studio.moulds(session)


# --- sets


@router.post("/plan", response_model=SetPlanned)
@policy.looks()
def plan(db: Db, asked: SetAsked) -> Response:
    """A stick or a set: what to weigh, how hard it will be, what limits it, what to shop for, what to cast first."""
    with db.session() as session:
        planned = studio.compute(session, asked).planned
    return answer(planned)


class TakeToPots(Document):
    """A set to cast. `request_id` is the client's: sent twice it begins its pots once."""

    request_id: UUID
    set: SetAsked


class PotsBegun(BaseModel):
    """The numbers of the pots, in the order of casting."""

    numbers: tuple[int, ...]


@router.post("/pots", status_code=201)
@policy.works("Began a pot")
def take_to_pots(db: Db, now: Now, asked: TakeToPots) -> PotsBegun:
    """Begin a pot for each colour of a set."""
    with db.session() as session:
        return PotsBegun(numbers=studio.take_to_pots(session, now, asked.request_id, asked.set))


# --- recipes


@router.get("/recipes/{recipe_id}")
def recipe(db: Db, recipe_id: RowId) -> StickRecipePage:
    """A recipe of a stick, and how alike its pots came out."""
    with db.session() as session:
        return studio.recipe(session, recipe_id)


class RecipeKept(BaseModel):
    """The id of a recipe."""

    id: int


@router.post("/{number}/recipe", status_code=201)
@policy.works("Made a recipe of a pot")
def keep_recipe(db: Db, now: Now, number: RowId, asked: StickRecipeAsked) -> RecipeKept:
    """Make a recipe of a pot."""
    with db.session() as session:
        return RecipeKept(id=studio.keep_recipe(session, now, number, asked))


# --- the pot


@router.get("/{number}", response_model=PotView)
def view(db: Db, now: Now, number: RowId) -> Response:
    """A pot as it is."""
    with db.session() as session:
        seen = studio.view(session, now, number)
    return answer(seen)


add_room(router, studio.POTS, PotView, studio.view_of)
