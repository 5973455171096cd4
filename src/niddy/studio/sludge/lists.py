"""What stands in the room: cans, dishes, cakes in stock, what was saved; and all of it that waits for a day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Annotated

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.colour import undertone_of
from niddy.core.cost import CENT
from niddy.core.documents import Document
from niddy.core.due import Due
from niddy.core.log import Status
from niddy.core.sludge import Method, lean_of
from niddy.db.sludge import SludgeDish
from niddy.studio import materials, workshop
from niddy.studio.materials import LotKept
from niddy.studio.sludge.cakes import guess
from niddy.studio.sludge.cans import CanKept, cans
from niddy.studio.sludge.dishes import DishKept, several, still_open
from niddy.studio.sludge.enough import USUAL_TUBE_ML, Enough, There, enough_of, there_is
from niddy.studio.sludge.view import Ledger, Settled, ledger_of, settled

DISHES_SHOWN = 30
FORGOTTEN_AFTER = timedelta(days=120)
"""A can that cleared so long ago asks for nothing any more."""


@dataclass(frozen=True, slots=True)
class CanLine:
    """A can as the room shows it."""

    number: int
    name: str
    place: str
    solvent_name: str
    washings: int
    masstone_srgb: str
    leans: str
    level: float
    settled: Settled
    ledger: Ledger
    enough: Enough | None
    hazards: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class DishLine:
    """A dish as the room shows it."""

    number: int
    name: str
    place: str
    method: Method
    status: Status
    started_at: datetime
    ready_at: datetime | None
    now_g: float | None
    dry_g: float | None
    masstone_srgb: str


@dataclass(frozen=True, slots=True)
class CakeLine:
    """A cake in stock."""

    lot: LotKept
    undertone_srgb: str
    leans: str


@dataclass(frozen=True, slots=True)
class SavedMonth:
    """What a month brought back: solvent used again in ml, and dry cake in g."""

    month: str
    solvent_ml: float
    cake_g: float


@dataclass(frozen=True, slots=True)
class Saved:
    """What washing back saved so far: litres of solvent, grams of dry cake, paint it is enough for, and money.

    `money` counts what has a price: solvent on its can, paint at what a bought tube costs.
    """

    solvent_ml: float
    cake_g: float
    paint_ml: float
    solvent_money: Decimal | None
    paint_money: Decimal | None
    money: Decimal | None
    bought_tube_price: Decimal | None
    bought_tube_ml: float
    currency: str
    months: tuple[SavedMonth, ...]


@dataclass(frozen=True, slots=True)
class SludgeRoom:
    """Everything of the room."""

    cans: tuple[CanLine, ...]
    dishes: tuple[DishLine, ...]
    cakes: tuple[CakeLine, ...]
    saved: Saved


def room(session: Session, now: datetime) -> SludgeRoom:
    """The room as it stands."""
    held = cans(session, closed=True)
    rows = session.scalars(
        select(SludgeDish).order_by(SludgeDish.status != Status.OPEN, SludgeDish.number.desc()).limit(DISHES_SHOWN)
    ).all()
    kept = several(session, rows)
    return SludgeRoom(
        can_lines(session, now, [one for one in held if one.can.status is Status.OPEN], kept),
        tuple(_dish_line(one) for one in kept),
        cakes_of(session, held),
        saved(session, held),
    )


def at_home(session: Session, now: datetime) -> tuple[tuple[CanLine, ...], tuple[DishLine, ...]]:
    """What home tells: cans that were washed in, and the dishes that dry."""
    kept = still_open(session)
    lines = can_lines(session, now, [one for one in cans(session) if one.can.washings], kept)
    return lines, tuple(_dish_line(one) for one in kept)


def open_dishes(session: Session) -> tuple[DishLine, ...]:
    """The dishes that dry."""
    return tuple(_dish_line(one) for one in still_open(session) if one.status is Status.OPEN)


def can_lines(
    session: Session, now: datetime, held: Sequence[CanKept], kept: Sequence[DishKept]
) -> tuple[CanLine, ...]:
    """Cans as the room shows them; `kept` are the dishes, of which those open hold some of their sludge."""
    still = [one for one in kept if one.status is Status.OPEN]
    there = there_is(session, [one.number for one in held], still) if held else None
    currency = workshop.settings(session).currency if held else ""
    return tuple(_can_line(session, now, one, there, currency) for one in held)


def _can_line(session: Session, now: datetime, kept: CanKept, there: There | None, currency: str) -> CanLine:
    makeup = kept.can.makeup
    from_it = makeup.weight > 0
    made = guess(makeup, Method.EVAPORATE if kept.solvent.evaporates else Method.DRAIN) if from_it else None
    level = min(1.0, kept.can.held_ml / kept.holds_ml) if kept.holds_ml else 0.7
    return CanLine(
        kept.number,
        kept.name,
        kept.place,
        kept.solvent.name,
        kept.can.washings,
        made.masstone_srgb if made else "#8a8f88",
        made.leans if made else "",
        level,
        settled(kept, now),
        ledger_of(kept, currency),
        enough_of(session, now, kept, there=there) if from_it else None,
        makeup.hazards if from_it else (),
    )


def _dish_line(kept: DishKept) -> DishLine:
    dry = kept.forecast.dry_g.median if kept.forecast is not None else None
    now_g = kept.dish.weighed[-1].g if kept.dish.weighed else None
    return DishLine(
        kept.number,
        kept.name,
        kept.place,
        kept.method,
        kept.status,
        kept.started_at,
        kept.ready_at if kept.status is Status.OPEN else None,
        now_g,
        dry,
        kept.makeup.masstone_srgb,
    )


def cakes_of(session: Session, held: Sequence[CanKept]) -> tuple[CakeLine, ...]:
    """The cakes in stock of some cans, the newest first."""
    found = [
        CakeLine(lot, undertone_of(lot.masstone_srgb), _leans(lot))
        for lot in materials.lots_of(session, *(materials.cake_key(one.number) for one in held))
        if not lot.used_up and lot.masstone_srgb is not None
    ]
    return tuple(sorted(found, key=lambda line: line.lot.received_on, reverse=True))


def _leans(lot: materials.LotKept) -> str:
    """Which way a cake leans; nothing where most of it was never logged."""
    if lot.masstone_srgb is None or (lot.cake is not None and not lot.cake.colour_known):
        return ""
    return lean_of(lot.masstone_srgb)[0]


class TubePriceAsked(Document):
    """What a bought tube of such a colour costs; None takes it back."""

    bought_tube_price: Annotated[Decimal, Field(ge=0, le=100_000, decimal_places=4)] | None


def set_tube_price(session: Session, asked: TubePriceAsked) -> None:
    """Keep what a bought tube of a neutral costs."""
    workshop.set_bought_tube_price(session, asked.bought_tube_price)


_PAINT_ML_PER_G = 0.55
"""A gram of dry cake makes about so much paint (assumed): its own volume, and the oil's."""


def saved(session: Session, held: Sequence[CanKept]) -> Saved:
    """What was saved so far, by month and in all."""
    rows = session.execute(
        select(SludgeDish.dry_g, SludgeDish.ended_at).where(SludgeDish.dry_g > 0).order_by(SludgeDish.number)
    ).all()
    months: dict[str, list[float]] = {}
    for one in held:
        for month, ml in one.can.monthly.items():
            months.setdefault(month, [0.0, 0.0])[0] += ml
    cake = 0.0
    for dry_g, ended in rows:
        cake += dry_g or 0.0
        if ended is not None:
            months.setdefault(ended.strftime("%Y-%m"), [0.0, 0.0])[1] += dry_g or 0.0
    priced = [(one.price_per_l, one.can.recovered_ml) for one in held if one.price_per_l is not None]
    price = workshop.bought_tube_price(session)
    paint_ml = cake * _PAINT_ML_PER_G
    paint = (price * Decimal(f"{paint_ml / USUAL_TUBE_ML:.6f}")).quantize(CENT) if price is not None else None
    solvent = (
        sum((each * Decimal(f"{ml / 1000:.6f}") for each, ml in priced), Decimal(0)).quantize(CENT) if priced else None
    )
    known = [one for one in (solvent, paint) if one is not None]
    return Saved(
        sum(one.can.recovered_ml for one in held),
        cake,
        paint_ml,
        solvent,
        paint,
        sum(known, Decimal(0)) if known else None,
        price,
        USUAL_TUBE_ML,
        workshop.settings(session).currency,
        tuple(SavedMonth(month, *months[month]) for month in sorted(months)[-24:]),
    )


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Dishes that will be dry enough, and cans that will be clear enough to pour."""
    rows = session.scalars(
        select(SludgeDish).where(SludgeDish.status == Status.OPEN, SludgeDish.ready_at.is_not(None))
    ).all()
    found = [
        Due(
            "sludge",
            f"dish-{row.number}",
            "dry enough to tube",
            row.name,
            "weigh it, then take it into stock",
            row.ready_at,
            f"/sludge/dishes/{row.number}",
        )
        for row in rows
        if row.ready_at is not None
    ]
    for kept in cans(session):
        seen = settled(kept, now)
        if seen.clear_at is None or seen.clear_at < now - FORGOTTEN_AFTER or kept.can.held_ml <= 0:
            continue
        if kept.can.heights and kept.can.poured_off_ml >= 0 and not seen.ready:
            found.append(
                Due(
                    "sludge",
                    f"can-{kept.number}",
                    "clear enough to pour",
                    kept.name,
                    "pour the clear solvent off, to use it again",
                    seen.clear_at,
                    f"/sludge/cans/{kept.number}",
                )
            )
    return tuple(found)
