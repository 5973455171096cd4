"""Sludge: cans and their ledgers, dishes that dry, cakes and their colour, what was saved."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request, Response
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.answers import A_PDF, LabelHeight, LabelWidth, answer, one_label
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.materials import Solvent
from niddy.core.sludge import Steering
from niddy.reference import library
from niddy.studio import labels
from niddy.studio import sludge as studio
from niddy.studio.sludge import (
    CanAsked,
    CanChange,
    CanView,
    DishAsked,
    DishView,
    Enough,
    Saved,
    SludgeRoom,
    SteerAsked,
    TubePriceAsked,
)

router = Router(prefix="/api/sludge", tags=["sludge"], responses=REFUSALS)


class Begun(BaseModel):
    """The number of what was begun."""

    number: int


@router.get("", response_model=SludgeRoom)
def room(db: Db, now: Now) -> Response:
    """Cans, dishes, cakes in stock, and what was saved."""
    with db.session() as session:
        seen = studio.room(session, now)
    return answer(seen)


@router.get("/solvents")
def solvents() -> tuple[Solvent, ...]:
    """The solvents of the library (approximate)."""
    return tuple(library().solvents.values())


@router.put("/tube-price")
@policy.works("Said what a bought tube costs")
def set_tube_price(db: Db, now: Now, asked: TubePriceAsked) -> Saved:
    """Keep what a bought tube of a neutral costs; what was saved, by that."""
    with db.session() as session:
        studio.set_tube_price(session, asked)
        return studio.room(session, now).saved


@router.post("/cakes/{lot_id}/steer")
@policy.looks()
def steer(db: Db, now: Now, lot_id: RowId, asked: SteerAsked) -> Steering:
    """Which of the studio's own paints brings a cake's colour to what is wanted; a guess."""
    with db.session() as session:
        return studio.steer(session, now, lot_id, asked)


# --- dishes


@router.post("/dishes", status_code=201)
@policy.works("Took sludge into a dish")
def begin_dish(db: Db, now: Now, asked: DishAsked) -> Begun:
    """Take sludge out of a can into a dish."""
    with db.session() as session:
        return Begun(number=studio.begin_dish(session, now, asked))


@router.get("/dishes/{number}", response_model=DishView)
def dish(db: Db, now: Now, number: RowId) -> Response:
    """A dish as it is."""
    with db.session() as session:
        seen = studio.dish(session, now, number)
    return answer(seen)


add_room(router, studio.DISHES, DishView, studio.dish_view_of, path="/dishes/{number}")


# --- cans


@router.post("/cans", status_code=201)
@policy.works("Began a washing can")
def begin_can(db: Db, now: Now, asked: CanAsked) -> Begun:
    """Begin a can."""
    with db.session() as session:
        return Begun(number=studio.begin_can(session, now, asked))


@router.put("/cans/{number}", response_model=CanView)
@policy.works("Changed a washing can")
def change_can(db: Db, now: Now, number: RowId, asked: CanChange) -> Response:
    """Set a can's name, place, tare, size and price."""
    with db.session() as session:
        seen = studio.change_can(session, now, number, asked)
    return answer(seen)


@router.get("/cans/{number}", response_model=CanView)
def can(db: Db, now: Now, number: RowId) -> Response:
    """A can as it is."""
    with db.session() as session:
        seen = studio.can(session, now, number)
    return answer(seen)


@router.get("/cans/{number}/enough")
def can_enough(
    db: Db, now: Now, number: RowId, tube_type_id: RowId | None = None, count: Annotated[int, Query(ge=1, le=100)] = 1
) -> Enough:
    """When a can's sludge is enough for so many tubes of a type."""
    with db.session() as session:
        return studio.can_enough(session, now, number, tube_type_id, count)


@router.get("/cans/{number}/label.pdf", response_class=Response, responses=A_PDF)
def label(
    db: Db, request: Request, number: RowId, width_mm: LabelWidth = 70.0, height_mm: LabelHeight = 50.0
) -> Response:
    """A can's own label, whose code opens the can on a phone."""
    with db.session() as session:
        found = labels.of_can(session, number)
    return one_label(request, found, width_mm, height_mm)


add_room(router, studio.CANS, CanView, studio.can_view_of, path="/cans/{number}")
