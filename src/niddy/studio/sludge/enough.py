"""Enough for a tube: what there is of sludge, wet and dry, and when there will be as much as a tube takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.materials import REFERENCE_OIL_DENSITY_G_PER_ML
from niddy.core.sludge import Method
from niddy.studio import materials, workshop
from niddy.studio.sludge import dishes
from niddy.studio.sludge.cakes import guess
from niddy.studio.sludge.cans import CanKept
from niddy.studio.sludge.dishes import DishKept
from niddy.studio.sludge.pace import g_per_weight

USUAL_TUBE_ML = 40.0
LEAST_TUBE_ML = 15.0


@dataclass(frozen=True, slots=True)
class Enough:
    """When there is enough of a can's sludge for some tubes: g of dry cake wanted and had, and the days to the rest.

    `days` is None while `weeks_missing` weeks of washings are, or nothing was washed in of late.
    """

    tube_type_id: int | None
    tube_name: str
    tube_ml: float
    count: int
    want_g: float
    have: Estimate
    days: Estimate | None
    weeks_missing: int
    on: date | None
    earliest: date | None
    latest: date | None
    says: str


@dataclass(frozen=True, slots=True)
class There:
    """What there is of each can's sludge outside it, by the can's number, read at once: dishes that dry, and cakes."""

    drying: dict[int, list[Estimate]]
    in_stock: dict[int, list[Estimate]]
    usual_tube: tuple[str, float]

    def of(self, can_number: int) -> list[Estimate]:
        """What came of one can."""
        return [*self.drying.get(can_number, []), *self.in_stock.get(can_number, [])]


def there_is(session: Session, can_numbers: Sequence[int], open_dishes: Sequence[DishKept] | None = None) -> There:
    """What there is of some cans' sludge, in dishes and in stock; `open_dishes` where they were read already."""
    if open_dishes is None:
        open_dishes = dishes.still_open(session, can_numbers)
    drying: dict[int, list[Estimate]] = {}
    for kept in open_dishes:
        if kept.forecast is not None:
            drying.setdefault(kept.can_number, []).append(kept.forecast.dry_g)
    stock: dict[int, list[Estimate]] = {}
    for lot in materials.lots_of(session, *map(materials.cake_key, can_numbers)):
        if lot.cake is not None and not lot.used_up and lot.on_hand > 0:
            dry = Estimate.exact(lot.on_hand * (1 - (lot.liquid_share or 0.0)), Basis.MEASURED)
            stock.setdefault(lot.cake.can_number, []).append(dry)
    return There(drying, stock, _tube(session, None))


def enough_of(
    session: Session,
    now: datetime,
    kept: CanKept,
    tube_type_id: int | None = None,
    count: int = 1,
    there: There | None = None,
) -> Enough:
    """When a can's sludge is enough for so many tubes of a type. Raises Missing."""
    there = there or there_is(session, [kept.number])
    name, ml = there.usual_tube if tube_type_id is None else _tube(session, tube_type_id)
    leaves = g_per_weight(session)
    state = kept.can
    made = guess(state.makeup, Method.EVAPORATE if kept.solvent.evaporates else Method.DRAIN)
    per_100g_ml = 100 / made.density_g_per_ml + made.oil_absorption.median / REFERENCE_OIL_DENSITY_G_PER_ML
    want = count * ml * 100 / per_100g_ml
    in_can = Estimate.plus_minus(state.solids_g(leaves), 0.6, Basis.ASSUMED)
    have = _sum([in_can, *there.of(kept.number)])
    weekly = [weight * leaves for weight in weeks_of(state.weekly, now.date())]
    missing = max(0, core.LEAST_WEEKS - len(weekly))
    days = None
    if have.median >= want:
        days = Estimate.exact(0.0, Basis.ASSUMED)
    elif not missing:
        try:
            days = core.forecast(weekly, have.median, want)
        except Refused:
            days = None
    return Enough(
        tube_type_id,
        name,
        ml,
        count,
        want,
        have,
        days,
        missing if days is None else 0,
        *_dates(now.date(), days),
        _says(count, name, days, missing, now.date()),
    )


def _tube(session: Session, tube_type_id: int | None) -> tuple[str, float]:
    if tube_type_id is not None:
        found = workshop.tubes(session, [(tube_type_id, 1)])[0]
        return found.name, found.usable_ml
    usual = workshop.smallest_tube(session, LEAST_TUBE_ML)
    return (usual.name, usual.usable_ml) if usual is not None else (f"{USUAL_TUBE_ML:g} ml tube", USUAL_TUBE_ML)


def _sum(parts: Sequence[Estimate]) -> Estimate:
    median = sum(part.median for part in parts)
    half = sum(part.half_width**2 for part in parts) ** 0.5
    return Estimate(median, max(0.0, median - half), median + half, Basis.ASSUMED)


def weeks_of(weekly: dict[str, float], today: date) -> list[float]:
    """What was washed in each week since the first that is kept, this one left out: it is not over."""
    if not weekly:
        return []
    week, this = date.fromisoformat(min(weekly)), date.fromisoformat(core.week_of(today))
    found = []
    while week < this:
        found.append(weekly.get(week.isoformat(), 0.0))
        week += timedelta(days=7)
    return found[-core.WEEKS_KEPT :]


def _dates(today: date, days: Estimate | None) -> tuple[date | None, date | None, date | None]:
    if days is None:
        return None, None, None
    far = 3650
    on, low, high = (today + timedelta(days=round(min(far, one))) for one in (days.median, days.low, days.high))
    return on, low, high


def _says(count: int, tube: str, days: Estimate | None, missing: int, today: date) -> str:
    what = f"a {tube}" if count == 1 else f"{count} of {tube}"
    if days is None:
        if missing:
            return f"Enough for {what}: known after {missing} more week{'s' if missing > 1 else ''} of washings."
        return f"Not enough for {what}, and nothing was washed in of late."
    if days.median <= 0:
        return f"There is enough for {what} now, by what was logged."
    on = today + timedelta(days=round(min(3650, days.median)))
    return f"Enough for {what} about {on:%-d %B %Y}."
