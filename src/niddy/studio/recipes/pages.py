"""Recipes as lists and pages show them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from niddy.core.checks import CHOICES, COLOURS, UNITS, CheckKind
from niddy.core.mulling import dispersing_minutes_per_load
from niddy.core.slab import Status
from niddy.db.recipes import Recipe, RecipeVersion
from niddy.studio import batches, plan
from niddy.studio.recipes.asked import PartAsked, RecipeAsked, RecipeDose, Stance, Version, WantedAsked, plan_of
from niddy.studio.recipes.versions import frozen_on, recipe_row, version_row


@dataclass(frozen=True, slots=True)
class RecipeLine:
    """A recipe as a list shows it."""

    id: int
    name: str
    version: int
    batches: int
    masstone_srgb: str
    last_at: datetime | None
    last_release: str | None
    reduced_pvc: float


@dataclass(frozen=True, slots=True)
class BatchOfRecipe:
    """A batch on its recipe's page."""

    number: int
    started_at: datetime
    status: Status
    release: str | None
    version: int
    oil_g_per_100g: float | None
    results: dict[str, float | str]


@dataclass(frozen=True, slots=True)
class RecipePage:
    """A recipe with all its versions, newest first, and its last batches, newest first."""

    id: int
    name: str
    versions: tuple[Version, ...]
    batches: tuple[BatchOfRecipe, ...]
    batch_count: int
    frozen_on: tuple[int, ...]
    bleeds_since: datetime | None
    units: dict[CheckKind, str]
    choices: dict[CheckKind, tuple[str, ...]]


def lines(session: Session) -> tuple[RecipeLine, ...]:
    """The recipes in use, by name."""
    newest = (
        select(RecipeVersion.recipe_id, func.max(RecipeVersion.version).label("version"))
        .group_by(RecipeVersion.recipe_id)
        .subquery()
    )
    rows = session.execute(
        select(Recipe, RecipeVersion)
        .join(newest, newest.c.recipe_id == Recipe.id)
        .join(RecipeVersion, (RecipeVersion.recipe_id == Recipe.id) & (RecipeVersion.version == newest.c.version))
        .where(~Recipe.retired)
        .order_by(Recipe.name)
    ).all()
    counted = batches.counted_by_recipe(session)
    shown = []
    for recipe, row in rows:
        version = version_row(row)
        made = counted.get(recipe.id)
        colour = (
            made.masstone_srgb
            if made
            else plan.compute(session, plan_of(version.asked, pigment_g=100.0)).plan.masstone_srgb
        )
        shown.append(
            RecipeLine(
                recipe.id,
                recipe.name,
                version.version,
                made.count if made else 0,
                colour,
                made.last_at if made else None,
                made.last_release if made else None,
                version.asked.reduced_pvc,
            )
        )
    return tuple(shown)


PAGE_BATCHES = 60


def page(session: Session, recipe_id: int) -> RecipePage:
    """A recipe to be read. Raises Missing."""
    row = recipe_row(session, recipe_id)
    rows = session.scalars(
        select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id).order_by(RecipeVersion.version.desc())
    )
    made = batches.of_recipe(session, recipe_id)
    return RecipePage(
        row.id,
        row.name,
        tuple(version_row(version) for version in rows),
        tuple(
            BatchOfRecipe(b.number, b.started_at, b.status, b.release, b.version, b.oil_g_per_100g, b.results)
            for b in reversed(made[-PAGE_BATCHES:])
        ),
        len(made),
        frozen_on(session, recipe_id),
        row.bleeds_since,
        dict(UNITS),
        dict(CHOICES),
    )


@dataclass(frozen=True, slots=True)
class Suggested:
    """A recipe as a good batch suggests it, and a name for it."""

    name: str
    recipe: RecipeAsked


TOLERANCE: dict[CheckKind, float] = {CheckKind.SPREAD: 3.0, CheckKind.STRING: 5.0}
"""How far from the batch it is made from a new recipe lets these be, in mm (assumed)."""

COLOUR_WITHIN = 2.5
"""dE00 from the standard's colour that a new recipe lets a batch be (assumed)."""


def from_batch(session: Session, number: int) -> Suggested:
    """What recipe a batch would make: its blend, its target, its minutes, and its checks as targets. Raises Missing."""
    made = batches.made(session, number)
    kept = made.kept
    wanted = []
    for kind in CheckKind:
        found = made.results.get(kind)
        if found is not None and kind in COLOURS:
            # A colour that was read is the standard others are held against.
            wanted.append(WantedAsked(kind=kind, high=COLOUR_WITHIN))
        elif isinstance(found, str) and kind is not CheckKind.DRYING:
            wanted.append(WantedAsked(kind=kind, choice=found))
        elif isinstance(found, (int, float)) and kind in TOLERANCE:
            by = TOLERANCE[kind]
            low, high = max(0.0, round(found - by, 1)), round(found + by, 1)
            wanted.append(WantedAsked(kind=kind, target=round(float(found), 1), low=low, high=high))
    if not any(promise.kind is CheckKind.SPREAD for promise in wanted):
        wanted.insert(0, WantedAsked(kind=CheckKind.SPREAD))
    minutes = dispersing_minutes_per_load(kept.paste.mulling)
    facts = kept.plan.facts
    target = kept.paste.target_reduced_pvc or facts.target_reduced_pvc
    parts = kept.plan.oil.parts
    doses = [
        RecipeDose(additive_key=line.dosing.additive.key, dose_pct=round(line.dosing.dose_pct, 3))
        for line in kept.plan.additives
        if line.dosing.source in kept.paste.additives
    ] + [
        RecipeDose(additive_key=f"{w.pigment.key}-extender", dose_pct=round(w.extends_pct, 3))
        for w in kept.plan.lines
        if w.extends_pct is not None
    ]
    main = [w for w in kept.plan.lines if w.extends_pct is None]
    whole = sum(w.share for w in main)
    return Suggested(
        kept.name,
        RecipeAsked(
            pigments=[PartAsked(pigment_key=w.pigment.key, parts=round(100 * w.share / whole, 2)) for w in main],
            oil_keys=[part.key for part in parts] or [kept.plan.oil.key],
            oil_parts=[round(100 * part.share, 2) for part in parts] or None,
            stance=Stance.ADDITIVES if doses else Stance.PIGMENT_AND_OIL,
            additives=doses,
            reduced_pvc=round(min(1.15, max(0.5, target)), 4),
            minutes_per_load=round(minutes, 1) if minutes else None,
            fineness_um=facts.target_fineness_um,
            checks=wanted,
            standard_batch=number,
        ),
    )
