"""Acts recorded as an address records them: the view after it."""

from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from niddy.studio import additives, making, recorder, shelf, sludge, sticks


def record_pot(session: Session, now: datetime, number: int, act: Any) -> sticks.PotView:
    """An act of a pot, and the pot after it."""
    return sticks.view_of(session, now, recorder.record(session, now, sticks.POTS, number, act))


def record_run(session: Session, now: datetime, number: int, act: Any) -> making.RunView:
    """An act of a run, and the run after it."""
    return making.run_view_of(session, now, recorder.record(session, now, making.RUNS, number, act))


def record_can(session: Session, now: datetime, number: int, act: Any) -> sludge.CanView:
    """An act of a can, and the can after it."""
    return sludge.can_view_of(session, now, recorder.record(session, now, sludge.CANS, number, act))


def record_dish(session: Session, now: datetime, number: int, act: Any) -> sludge.DishView:
    """An act of a dish, and the dish after it."""
    return sludge.dish_view_of(session, now, recorder.record(session, now, sludge.DISHES, number, act))


def record_item(session: Session, now: datetime, item_id: int, act: Any) -> shelf.ItemPage:
    """An act on a tube or jar, and its page after it."""
    return shelf.page_of(session, now, recorder.record(session, now, shelf.ITEMS, item_id, act))


def record_rung(session: Session, now: datetime, ladder_id: int, act: Any) -> additives.LadderPage:
    """An act on a rung, and the ladder after it."""
    return additives.page_of(session, now, recorder.record(session, now, additives.LADDERS, ladder_id, act))
