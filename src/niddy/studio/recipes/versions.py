"""Recipes made, changed and followed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.recipes import Recipe, RecipeVersion
from niddy.studio import batches, plan
from niddy.studio.errors import Missing
from niddy.studio.plan import PlanAsked, Planned
from niddy.studio.recipes.asked import RecipeAsked, Stance, Version, check_asked


def make(session: Session, now: datetime, name: str, asked: RecipeAsked, from_batch: int | None = None) -> int:
    """Make a recipe; its id. `from_batch` becomes its first batch and, where none is named, its standard.

    Raises Refused.
    """
    if from_batch is not None and asked.standard_batch is None:
        asked = asked.model_copy(update={"standard_batch": from_batch})
    check_asked(session, asked)
    name = name.strip()
    if not name:
        raise Refused("name", "empty", "a name for the recipe")
    row = Recipe(name=name, made_at=now, retired=False, frozen_on=None)
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{name}' is taken", "a name no other recipe has") from None
    session.add(
        RecipeVersion(
            recipe_id=row.id, version=1, made_at=now, why="first version", document=asked.model_dump(mode="json")
        )
    )
    session.flush()
    if from_batch is not None:
        batches.made(session, from_batch)
        batches.put_under(session, from_batch, row.id, 1)
    return row.id


def change(session: Session, now: datetime, recipe_id: int, asked: RecipeAsked, why: str) -> int:
    """Make a new version; its number. Old batches keep theirs. Raises Refused, Missing."""
    recipe_row(session, recipe_id, lock=True)
    check_asked(session, asked)
    last = version_of(session, recipe_id, None)
    if last.asked == asked:
        raise Refused("why", "nothing is different from the version before", "a change")
    if not why.strip():
        raise Refused("why", "empty", "why this version differs from the one before")
    session.add(
        RecipeVersion(
            recipe_id=recipe_id,
            version=last.version + 1,
            made_at=now,
            why=why.strip(),
            document=asked.model_dump(mode="json"),
        )
    )
    session.flush()
    return last.version + 1


def check_stance(session: Session, recipe_id: int | None, version: int | None, field: str) -> None:
    """Refuse an additive in a batch of a recipe that is pigment and oil only. Raises Refused, Missing."""
    if holds_with_additives(session, recipe_id, version) is False:
        raise Refused(
            field, "this recipe is pigment and oil only", "nothing else, or a plan that does not follow the recipe"
        )


def holds_with_additives(session: Session, recipe_id: int | None, version: int | None) -> bool | None:
    """Whether a recipe holds with additives; None where no recipe is followed. Raises Missing."""
    if recipe_id is None:
        return None
    return version_of(session, recipe_id, version).asked.stance is Stance.ADDITIVES


def planned(session: Session, asked: PlanAsked) -> Planned:
    """The plan for what is asked, held to the stance of the recipe it follows. Raises Refused, Missing."""
    if asked.additives:
        check_stance(session, asked.recipe_id, asked.recipe_version, "additives")
    return plan.compute(session, asked)


def recipe_row(session: Session, recipe_id: int, *, lock: bool = False) -> Recipe:
    """The row of a recipe. Raises Missing."""
    row = session.get(Recipe, recipe_id, with_for_update=lock or None)
    if row is None:
        raise Missing("recipe", recipe_id)
    return row


def followed(session: Session, asked: PlanAsked, pigment_keys: list[str], oil_keys: list[str]) -> PlanAsked:
    """A plan that says it follows a recipe, with the version it follows. Raises Refused where it does not, Missing."""
    if asked.recipe_id is None:
        return asked
    version = version_of(session, asked.recipe_id, asked.recipe_version)
    recipe = version.asked
    if sorted(pigment_keys) != sorted(part.pigment_key for part in recipe.pigments):
        raise Refused("recipe_id", "these are not the recipe's pigments", "its pigments, or a plan without the recipe")
    if asked.additives:
        check_stance(session, asked.recipe_id, version.version, "additives")
    if not set(oil_keys) <= set(recipe.oil_keys):
        raise Refused(
            "recipe_id", "the recipe is not made in this oil", "one of its oils, or a plan without the recipe"
        )
    return asked.model_copy(update={"recipe_version": version.version})


def version_of(session: Session, recipe_id: int, version: int | None) -> Version:
    """A version of a recipe, or its newest. Raises Missing."""
    wanted = select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id)
    if version is not None:
        wanted = wanted.where(RecipeVersion.version == version)
    row = session.scalar(wanted.order_by(RecipeVersion.version.desc()).limit(1))
    if row is None:
        raise Missing("recipe", f"{recipe_id}" if version is None else f"{recipe_id}, version {version}")
    return version_row(row)


def version_row(row: RecipeVersion) -> Version:
    """A version from its row."""
    return Version(row.version, row.made_at, row.why, RecipeAsked.model_validate(row.document))


@dataclass(frozen=True, slots=True)
class Newest:
    """A recipe by its newest version, and what its control limits are frozen on."""

    name: str
    frozen_on: tuple[int, ...]
    version: Version


def newest(session: Session, recipe_id: int) -> Newest:
    """A recipe as it stands, in one question. Raises Missing."""
    row = session.execute(
        select(Recipe.name, Recipe.frozen_on, RecipeVersion)
        .join(RecipeVersion, RecipeVersion.recipe_id == Recipe.id)
        .where(Recipe.id == recipe_id)
        .order_by(RecipeVersion.version.desc())
        .limit(1)
    ).first()
    if row is None:
        raise Missing("recipe", recipe_id)
    return Newest(row.name, tuple((row.frozen_on or {}).get("batches", ())), version_row(row.RecipeVersion))


def name_of(session: Session, recipe_id: int) -> str:
    """The name of a recipe. Raises Missing."""
    return recipe_row(session, recipe_id).name


def frozen_on(session: Session, recipe_id: int) -> tuple[int, ...]:
    """The batches a recipe's control limits are frozen on; none where they follow all of them."""
    return tuple((recipe_row(session, recipe_id).frozen_on or {}).get("batches", ()))


def freeze(session: Session, recipe_id: int, numbers: list[int]) -> None:
    """Freeze the control limits on these batches, or let them follow all again with none. Raises Refused, Missing."""
    row = recipe_row(session, recipe_id, lock=True)
    known = {batch.number for batch in batches.of_recipe(session, recipe_id)}
    strange = [number for number in numbers if number not in known]
    if strange:
        raise Refused("batches", f"batch {strange[0]} is not of this recipe", "batches of this recipe")
    if numbers and len(set(numbers)) < 2:
        raise Refused("batches", "one batch has no range", "two batches or more, or none")
    row.frozen_on = {"batches": sorted(set(numbers))} if numbers else None
    session.flush()


def note_bleeds(session: Session, now: datetime, recipe_id: int) -> None:
    """Mark a recipe as prone to bleed, from the first time it is seen. Raises Missing."""
    row = recipe_row(session, recipe_id, lock=True)
    row.bleeds_since = row.bleeds_since or now
    session.flush()


def retire(session: Session, recipe_id: int) -> None:
    """Put a recipe out of use; its batches keep it. Raises Missing."""
    recipe_row(session, recipe_id).retired = True
    session.flush()
