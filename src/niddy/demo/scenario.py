"""A small made-up studio by an estuary, preparing a set of nine colours. All dates are relative to today."""

from __future__ import annotations

from datetime import datetime, timedelta
from decimal import Decimal

from sqlalchemy.orm import Session

from niddy.db import Database
from niddy.demo.additives import gels_and_ladders
from niddy.demo.day import a_full_day
from niddy.demo.making import processes
from niddy.demo.materials import OILS, OTHERS, PIGMENTS, furnish_more
from niddy.demo.mixing import colours_in_numbers
from niddy.demo.practice import practised
from niddy.demo.recipes import sienna_recipe
from niddy.demo.rubout import demand_records
from niddy.demo.session import BY_DAY
from niddy.demo.shelf import shelf_of_years
from niddy.demo.slab import recent_batches
from niddy.demo.sludge import sludge_of_a_year
from niddy.demo.sticks import sticks_of_two_bases
from niddy.studio import batches, materials, plan, workshop
from niddy.studio.batches import Search


def load_if_empty(database: Database, now: datetime) -> bool:
    """Load the demo where no lot and no batch was ever recorded; whether it was loaded."""
    with database.session() as session:
        if materials.lots(session, with_used_up=True, limit=1) or batches.search(session, Search(limit=1)).batches:
            return False
        load(session, now)
        return True


def load(session: Session, now: datetime) -> None:
    """Load the demo studio."""
    workshop.furnish(session)
    furnish_more(session)
    lots = {}
    for key, code, ago, grams, price, loose in PIGMENTS:
        day = now - timedelta(days=ago)
        lots[key] = materials.receive(
            session, day,
            materials.NewLot("pigment", key, code, day.date(), grams, Decimal(price), loose_density_g_per_ml=loose),
        )  # fmt: skip
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
