"""Recipes of sticks: what to make again with whatever lots are there, and how alike its pots came out by dent."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core import control
from niddy.core.contents import Role
from niddy.core.control import Control
from niddy.core.documents import Document, Key
from niddy.core.errors import Refused
from niddy.core.sources import lot_of, source
from niddy.core.sticks import Loading
from niddy.core.words import Words
from niddy.db.log import Job
from niddy.db.sticks import StickBase, StickBaseVersion, StickPot, StickRecipe
from niddy.studio import materials
from niddy.studio.errors import Missing
from niddy.studio.sticks.asked import Dent
from niddy.studio.sticks.kept import pot, row_of


class RecipePart(Document):
    """One pigment of a recipe by its key, whatever the lot, and its parts."""

    pigment_key: Key
    parts: Annotated[float, Field(strict=True, ge=0.001, le=1e6)]


class RecipeColour(Document):
    """What a stick of the recipe is: its pigments, by which school, how much of them."""

    pigments: Annotated[list[RecipePart], Field(max_length=8)]
    school: Loading = Loading.VOLUME
    share: Annotated[float, Field(strict=True, ge=0.01, le=1.15)] | None = None


class StickRecipeAsked(Document):
    """A recipe of a pot that was cast: its name, and the dent it should have where that is another."""

    name: Annotated[Words, Field(max_length=80)]
    dent_dmm: Dent | None = None


@dataclass(frozen=True, slots=True)
class StickRecipeLine:
    """A recipe as lists show it."""

    id: int
    name: str
    base_id: int
    base_name: str
    oil_key: str
    target_dmm: float
    pots: int
    masstone_srgb: str | None


@dataclass(frozen=True, slots=True)
class Point:
    """One pot of a recipe on its chart."""

    number: int
    dent_dmm: float
    at: datetime
    verdict: str | None
    base_version: int


@dataclass(frozen=True, slots=True)
class StickRecipePage:
    """A recipe, what to ask of a plan to make it again, and its pots in order; `control` once there are two dents."""

    line: StickRecipeLine
    colour: RecipeColour
    pigments: tuple[str, ...]
    points: tuple[Point, ...]
    control: Control | None
    says: str


def keep_recipe(session: Session, now: datetime, number: int, asked: StickRecipeAsked) -> int:
    """Make a recipe of a pot; its id. Raises Refused, Missing."""
    kept = pot(session, number)
    keys = {}
    for material in kept.planned.materials:
        if material.role is Role.PIGMENT:
            lot_id = lot_of(material.source)
            key = materials.lot(session, lot_id).material_key if lot_id is not None else source(material.source).key
            grams = kept.pot.pigments[material.source].grams if material.source in kept.pot.pigments else 0.0
            keys[key] = grams or kept.planned.plan.pigment_g[material.source]
    oil_source = next(iter(kept.planned.plan.oil_g))
    oil_lot = lot_of(oil_source)
    oil_key = materials.lot(session, oil_lot).material_key if oil_lot is not None else source(oil_source).key
    colour = RecipeColour(
        pigments=[RecipePart(pigment_key=key, parts=grams) for key, grams in keys.items()],
        share=round(kept.planned.reduced_pvc, 4) if keys else None,
    )
    row = StickRecipe(
        name=asked.name.strip(),
        colour=colour.model_dump(mode="json"),
        base_id=kept.planned.base_id,
        oil_key=oil_key,
        target_dmm=asked.dent_dmm or kept.planned.plan.target_dmm,
        made_at=now,
    )
    if not row.name:
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{asked.name.strip()}' is kept already", "a name of its own") from None
    row_of(session, number).recipe_id = row.id
    session.flush()
    return row.id


def recipes(session: Session) -> tuple[StickRecipeLine, ...]:
    """The recipes of sticks by name."""
    rows = session.scalars(select(StickRecipe).order_by(StickRecipe.name)).all()
    return tuple(_line(session, row) for row in rows)


def _line(session: Session, row: StickRecipe) -> StickRecipeLine:
    base = session.get_one(StickBase, row.base_id)
    made = select(func.count(), func.max(StickPot.masstone_srgb)).where(StickPot.recipe_id == row.id)
    pots, colour = session.execute(made).one()
    return StickRecipeLine(row.id, row.name, base.id, base.name, row.oil_key, row.target_dmm, pots, colour)


def recipe(session: Session, recipe_id: int) -> StickRecipePage:
    """One recipe with the chart of its pots. Raises Missing."""
    row = session.get(StickRecipe, recipe_id)
    if row is None:
        raise Missing("recipe of a stick", recipe_id)
    colour = RecipeColour.model_validate(row.colour)
    whole = sum(part.parts for part in colour.pigments)
    names = []
    for part in colour.pigments:
        pigment = materials.pigment_of(session, part.pigment_key)
        names.append(f"{100 * part.parts / whole:.0f} {pigment.name if pigment else part.pigment_key}")
    rows = session.execute(
        select(StickPot, StickBaseVersion.version)
        .join(StickBaseVersion, StickBaseVersion.id == StickPot.base_version_id)
        .where(StickPot.recipe_id == recipe_id, StickPot.dent_dmm.is_not(None), Job.status == "finished")
        .order_by(StickPot.started_at, StickPot.number)
    )
    points = tuple(
        Point(one.number, one.dent_dmm or 0.0, one.started_at, one.verdict, version) for one, version in rows
    )
    limits = control.control([math.log(point.dent_dmm) for point in points]) if len(points) > 1 else None
    if limits is None:
        says = "Two pots with a dent draw the first limits."
    elif limits.signals:
        words = control.RULE_WORDS[limits.signals[-1].rule]
        says = f"Pot {points[limits.signals[-1].at].number} is out of the ordinary: {words}."
    else:
        says = "Nothing is out of the ordinary."
    return StickRecipePage(_line(session, row), colour, tuple(names), points, limits, says)
