"""The batches of a recipe."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Double, func, select, update
from sqlalchemy.orm import Session

from niddy.core.plan import Facts
from niddy.core.slab import Added, Status, Verdict
from niddy.core.verdicts import Release
from niddy.db.base import table_of
from niddy.db.batches import Batch

_FACTS = TypeAdapter(Facts)


_ADDED = TypeAdapter(dict[str, Added])


RELEASED = (Release.RELEASE, Release.WATCH)
"""What makes a batch one to be like."""


@dataclass(frozen=True, slots=True)
class OfRecipe:
    """A batch as its recipe's charts need it. `results` holds the mean of each check by kind, or what was picked."""

    number: int
    name: str
    started_at: datetime
    ended_at: datetime | None
    status: Status
    verdict: Verdict | None
    release: str | None
    version: int
    lot_ids: tuple[int, ...]
    pigment_g: float
    oil_g: float
    facts: Facts
    results: dict[str, Any]
    additives: dict[str, Added]

    @property
    def oil_g_per_100g(self) -> float | None:
        return 100 * self.oil_g / self.pigment_g if self.pigment_g > 0 else None


def of_recipe(session: Session, recipe_id: int) -> tuple[OfRecipe, ...]:
    """The batches of a recipe, oldest first, given up ones left out."""
    rows = session.execute(
        select(
            Batch.number,
            Batch.name,
            Batch.started_at,
            Batch.ended_at,
            Batch.status,
            Batch.verdict,
            Batch.release,
            Batch.recipe_version,
            Batch.lot_ids,
            Batch.pigment_g,
            Batch.oil_g,
            Batch.plan["facts"].label("facts"),
            Batch.results,
            Batch.state["additives"].label("additives"),
        )
        .where(Batch.recipe_id == recipe_id, Batch.status != Status.ABANDONED)
        .order_by(Batch.started_at, Batch.number)
    )
    return tuple(
        OfRecipe(
            row.number,
            row.name,
            row.started_at,
            row.ended_at,
            Status(row.status),
            Verdict(row.verdict) if row.verdict else None,
            row.release,
            row.recipe_version or 1,
            tuple(row.lot_ids),
            row.pigment_g,
            row.oil_g,
            _FACTS.validate_python(row.facts),
            row.results,
            _ADDED.validate_python(row.additives) if row.additives else {},
        )
        for row in rows
    )


@dataclass(frozen=True, slots=True)
class CountedBatches:
    """How many batches a recipe has, and its last: when, its colour, and what was decided about it."""

    count: int
    last_at: datetime
    masstone_srgb: str
    last_release: str | None


def counted_by_recipe(session: Session) -> dict[int, CountedBatches]:
    """The batches of every recipe counted, given up ones left out."""
    last = func.row_number().over(partition_by=Batch.recipe_id, order_by=Batch.started_at.desc()).label("place")
    counted = func.count().over(partition_by=Batch.recipe_id).label("counted")
    inner = (
        select(Batch.recipe_id, Batch.started_at, Batch.masstone_srgb, Batch.release, last, counted)
        .where(Batch.recipe_id.is_not(None), Batch.status != Status.ABANDONED)
        .subquery()
    )
    rows = session.execute(select(inner).where(inner.c.place == 1))
    return {row.recipe_id: CountedBatches(row.counted, row.started_at, row.masstone_srgb, row.release) for row in rows}


@dataclass(frozen=True, slots=True)
class Series:
    """One check over a recipe's batches, as lists of one length, oldest first."""

    numbers: list[int]
    versions: list[int]
    lots: list[str]
    values: list[float]


def series(session: Session, recipe_id: int, kind: str) -> Series:
    """The batches of a recipe that have a figure for one check; lots as a text that tells sets of them apart."""
    rows = (
        select(
            Batch.number,
            func.coalesce(Batch.recipe_version, 1).label("version"),
            func.array_to_string(Batch.lot_ids, "+").label("lots"),
            Batch.results[kind].label("value"),
        )
        .where(Batch.recipe_id == recipe_id, Batch.status != Status.ABANDONED)
        .order_by(Batch.started_at, Batch.number)
        .subquery()
    )
    # One row of arrays: a row a batch would take longer to unpack than all the rest.
    row = session.execute(
        select(
            func.array_agg(rows.c.number),
            func.array_agg(rows.c.version),
            func.array_agg(rows.c.lots),
            func.array_agg(rows.c.value.cast(Double)),
        ).where(func.jsonb_typeof(rows.c.value) == "number")
    ).one()
    return Series(*(list(column or ()) for column in row))


def days_to_dry(session: Session, recipe_id: int) -> tuple[float, ...]:
    """Days to touch-dry by the finger tests of a recipe's batches."""
    rows = session.scalars(
        select(Batch.results["drying"].cast(Double)).where(
            Batch.recipe_id == recipe_id, func.jsonb_typeof(Batch.results["drying"]) == "number"
        )
    )
    return tuple(days for days in rows if days is not None and days > 0)


def put_under(session: Session, number: int, recipe_id: int, version: int) -> None:
    """Say which recipe a batch was made by, where it was made before the recipe was."""
    batch = table_of(Batch)
    session.execute(update(batch).where(batch.c.number == number).values(recipe_id=recipe_id, recipe_version=version))
