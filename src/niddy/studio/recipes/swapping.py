"""Recipes swapped between studios: one out as a file, one in with a look at it first."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.recipes import Recipe
from niddy.studio import materials
from niddy.studio.recipes.asked import RecipeAsked
from niddy.studio.recipes.versions import make, recipe_row, version_of
from niddy.studio.swapped import VERSION, Card, CardLine, Looked, RecipeFile, arrived, beyond, said_of, seen

NOT_TAKEN = {"standard_batch": "its standard batch stays in the studio it came from"}


def as_file(session: Session, recipe_id: int) -> RecipeFile:
    """The newest version of a recipe as a file, with its materials; what came with it from elsewhere goes on with it.

    Raises Missing.
    """
    row = recipe_row(session, recipe_id)
    version = version_of(session, recipe_id, None)
    asked = version.asked
    keys = [
        *(("pigment", part.pigment_key) for part in asked.pigments),
        *(("oil", key) for key in asked.oil_keys),
        *(("additive", dose.additive_key) for dose in asked.additives),
    ]
    return RecipeFile(
        format="niddy-recipe",
        version=VERSION,
        name=row.name,
        recipe=asked.model_dump(mode="json"),
        materials=said_of(session, keys),
        why=version.why,
        **beyond(row.came_as, "recipe"),
    )


def look(session: Session, file: RecipeFile) -> Looked:
    """What would come in with a file. Changes nothing. Raises Refused where it cannot be a recipe here."""
    _asked(file, {})
    document = file.model_dump()
    left = [says for field, says in NOT_TAKEN.items() if document["recipe"].get(field) is not None]
    if any(dose.get("ladder_id") for dose in document["recipe"].get("additives", []) if isinstance(dose, dict)):
        left.append("the ladders behind its doses stay in the studio they were made in")
    return Looked(
        "recipe",
        file.name,
        _taken(session, file.name),
        file.why,
        tuple(seen(session, said) for said in file.materials),
        tuple(left),
        tuple(sorted(beyond(document, "recipe"))),
    )


def take_in(session: Session, now: datetime, file: RecipeFile, name: str) -> int:
    """Take a recipe in, with those of its materials that are not here yet; its id. All of it or nothing.

    What is not understood is kept with it, and goes out with it again. Raises Refused naming the field.
    """
    asked = _asked(file, arrived(session, now, file))
    recipe_id = make(session, now, name, asked)
    recipe_row(session, recipe_id).came_as = file.model_dump(mode="json")
    session.flush()
    return recipe_id


def _taken(session: Session, name: str) -> bool:
    return session.scalar(select(Recipe.id).where(Recipe.name == name.strip())) is not None


def _asked(file: RecipeFile, keys: dict[tuple[str, str], str]) -> RecipeAsked:
    """The recipe by the keys its materials have here, without what belongs to the studio it came from."""
    document: dict[str, Any] = {key: value for key, value in file.recipe.items() if key not in NOT_TAKEN}
    try:
        asked = RecipeAsked.model_validate(document)
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        raise Refused("file", f"its recipe is damaged at {where}", "a recipe saved by Niddy as a file") from None

    def here(kind: str, key: str) -> str:
        return keys.get((kind, key), key)

    return asked.model_copy(
        update={
            "pigments": [
                part.model_copy(update={"pigment_key": here("pigment", part.pigment_key)}) for part in asked.pigments
            ],
            "oil_keys": [here("oil", key) for key in asked.oil_keys],
            "additives": [
                dose.model_copy(update={"additive_key": here("additive", dose.additive_key), "ladder_id": None})
                for dose in asked.additives
            ],
        }
    )


def card(session: Session, recipe_id: int) -> Card:
    """What stands on a recipe's card. Raises Missing."""
    row, version = recipe_row(session, recipe_id), version_of(session, recipe_id, None)
    asked = version.asked
    whole = sum(part.parts for part in asked.pigments)

    def name(kind: str, key: str) -> str:
        found = materials.material_of(session, kind, key)
        return found.name if found is not None else key

    lines = [
        CardLine(name("pigment", part.pigment_key), f"{100 * part.parts / whole:.1f} % of the powder by weight")
        for part in asked.pigments
    ]
    lines.append(CardLine("in " + " or ".join(name("oil", key) for key in asked.oil_keys)))
    lines += [
        CardLine(name("additive", dose.additive_key), f"{dose.dose_pct:g} % of the paint by weight")
        for dose in asked.additives
    ]
    lines.append(CardLine("Body", f"reduced PVC {asked.reduced_pvc:.2f}"))
    lines += [CardLine(f"Check: {one.kind}", _range(one.low, one.high)) for one in asked.checks if one.low is not None]
    why = f": {version.why}" if version.why else ""
    return Card("Recipe", row.name, f"version {version.version}{why}", tuple(lines))


def _range(low: float | None, high: float | None) -> str:
    return f"{low:g} to {high:g}" if high is not None else f"from {low:g}"
