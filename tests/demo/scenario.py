"""A small made-up studio by an estuary, preparing a set of nine colours. All dates are relative to today."""

from __future__ import annotations

from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.studio import batches, materials, plan, workshop
from tests.demo.additives import gels_and_ladders
from tests.demo.day import a_full_day
from tests.demo.making import processes
from tests.demo.materials import OILS, OTHERS, PIGMENTS, furnish_more
from tests.demo.mixing import colours_in_numbers
from tests.demo.practice import practised
from tests.demo.recipes import sienna_recipe
from tests.demo.rubout import demand_records
from tests.demo.session import BY_DAY
from tests.demo.shelf import shelf_of_years
from tests.demo.slab import recent_batches
from tests.demo.sludge import sludge_of_a_year
from tests.demo.sticks import sticks_of_two_bases


def load(session: Session, now: datetime) -> None:
    """Load the demo studio."""
    workshop.furnish(session)
    furnish_more(session)
    lots = {}
    for key, code, ago, grams, price, loose in PIGMENTS:
        day = now - timedelta(days=ago)
        lots[key] = materials.receive(
            session,
            day,
            materials.NewLot("pigment", key, code, day.date(), grams, Decimal(price), loose_density_g_per_ml=loose),
        )
    for key, code, ago, grams, price, drop in OILS:
        day = now - timedelta(days=ago)
        new = materials.NewLot(
            "oil", key, code, day.date(), grams, Decimal(price), drop_g=drop, supplier_code="H", opened_on=day.date()
        )
        lots[key] = materials.receive(session, day, new)
    for kind, key, code, ago, amount, price in OTHERS:
        day = now - timedelta(days=ago)
        materials.receive(session, day, materials.NewLot(kind, key, code, day.date(), amount, Decimal(price)))
    recent_batches(session, now, lots)
    demand_records(session, now)
    recipe_id = sienna_recipe(session, now)
    gels_and_ladders(session, now, lots, recipe_id)
    shelf_of_years(session, now)
    sticks_of_two_bases(session, now, lots)
    sludge_of_a_year(session, now, lots)
    processes(session, now)
    batches.number_next(session, len(BY_DAY) + 1)
    a_full_day(session, now, tuple(kept.id for kept in reversed(plan.saved(session))), recipe_id)
    practised(session, now)
    colours_in_numbers(session, now)
