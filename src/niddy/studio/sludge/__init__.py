"""Sludge: washing cans, dishes that dry, cakes into stock, steering their colour, what it saved."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core.sludge import Steering
from niddy.studio.sludge import cans as _cans
from niddy.studio.sludge import dish_view as _dish_view
from niddy.studio.sludge import dishes as _dishes
from niddy.studio.sludge import view as _view
from niddy.studio.sludge.cakes import CakeGuess
from niddy.studio.sludge.cans import CANS, CanAsked, CanChange, CanKept, cans, freshen
from niddy.studio.sludge.dish_view import DishView
from niddy.studio.sludge.dish_view import view_of as dish_view_of
from niddy.studio.sludge.dishes import DISHES, DishAsked
from niddy.studio.sludge.enough import Enough, enough_of
from niddy.studio.sludge.lineage import DishNamed, Source, came_from, dishes_named, went_in
from niddy.studio.sludge.lists import (
    CakeLine,
    CanLine,
    DishLine,
    Saved,
    SludgeRoom,
    TubePriceAsked,
    at_home,
    open_dishes,
    room,
    saved,
    set_tube_price,
    waits,
)
from niddy.studio.sludge.steering import SteerAsked, steer
from niddy.studio.sludge.view import CanView, Offered, offered
from niddy.studio.sludge.view import view_of as can_view_of


def begin_can(session: Session, now: datetime, asked: CanAsked) -> int:
    """Begin a can; its number. Raises Refused, Missing, Conflict."""
    return _cans.begin(session, now, asked)


def change_can(session: Session, now: datetime, number: int, asked: CanChange) -> CanView:
    """Set a can's own values; the can after. Raises Refused, Missing."""
    _cans.change(session, number, asked)
    return _view.view(session, now, number)


def can(session: Session, now: datetime, number: int) -> CanView:
    """A can as it is. Raises Missing."""
    return _view.view(session, now, number)


def can_enough(session: Session, now: datetime, number: int, tube_type_id: int | None, count: int) -> Enough:
    """When a can's sludge is enough for so many tubes. Raises Missing."""
    return enough_of(session, now, _cans.can(session, number), tube_type_id, count)


def can_kept(session: Session, number: int) -> CanKept:
    """A can as it is kept. Raises Missing."""
    return _cans.can(session, number)


def begin_dish(session: Session, now: datetime, asked: DishAsked) -> int:
    """Take sludge out of a can into a dish; the dish's number. Raises Refused, Conflict, Missing."""
    return _dishes.begin(session, now, asked)


def dish(session: Session, now: datetime, number: int) -> DishView:
    """A dish as it is. Raises Missing."""
    return _dish_view.view(session, now, number)


__all__ = [
    "CANS",
    "DISHES",
    "CakeGuess",
    "CakeLine",
    "CanAsked",
    "CanChange",
    "CanKept",
    "CanLine",
    "CanView",
    "DishAsked",
    "DishLine",
    "DishNamed",
    "DishView",
    "Enough",
    "Offered",
    "Saved",
    "SludgeRoom",
    "Source",
    "SteerAsked",
    "Steering",
    "TubePriceAsked",
    "at_home",
    "begin_can",
    "begin_dish",
    "came_from",
    "can",
    "can_enough",
    "can_kept",
    "can_view_of",
    "cans",
    "change_can",
    "dish",
    "dish_view_of",
    "dishes_named",
    "freshen",
    "offered",
    "open_dishes",
    "room",
    "saved",
    "set_tube_price",
    "steer",
    "waits",
    "went_in",
]
