"""Recipes swapped between studios: one out as a file, one in with a look at it first."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.materials import Additive, Oil, Pigment
from niddy.db.recipes import Recipe
from niddy.studio import materials
from niddy.studio.recipes.asked import RecipeAsked
from niddy.studio.recipes.file import FORMAT, VERSION, MaterialSaid, RecipeFile
from niddy.studio.recipes.versions import make, recipe_row, version_of

_KINDS: dict[str, type[Pigment | Oil | Additive]] = {"pigment": Pigment, "oil": Oil, "additive": Additive}
_KNOWN = {"format", "version", "name", "recipe", "materials", "why"}
NOT_TAKEN = {"standard_batch": "its standard batch stays in the studio it came from"}
SMALL = 0.005
"""Values that differ by less than this share are the same."""


@dataclass(frozen=True, slots=True)
class MaterialSeen:
    """A material of a recipe that would come in: known here, the studio's own already, or new; and how it differs."""

    kind: str
    name: str
    state: str
    says: str


@dataclass(frozen=True, slots=True)
class Looked:
    """A recipe file before it is taken in: what comes, what is new, what collides, what is not understood."""

    name: str
    name_taken: bool
    why: str
    materials: tuple[MaterialSeen, ...]
    left_out: tuple[str, ...]
    not_understood: tuple[str, ...]


def as_file(session: Session, recipe_id: int) -> RecipeFile:
    """The newest version of a recipe as a file, with its materials; what came with it from elsewhere goes on with it.

    Raises Missing.
    """
    row = recipe_row(session, recipe_id)
    version = version_of(session, recipe_id, None)
    asked = version.asked
    keys = [
        *(("pigment", part.pigment_key) for part in asked.pigments), *(("oil", key) for key in asked.oil_keys),
        *(("additive", dose.additive_key) for dose in asked.additives),
    ]  # fmt: skip
    said = []
    for kind, key in keys:
        found = materials.material_of(session, kind, key)
        assert isinstance(found, Pigment | Oil | Additive)
        values = TypeAdapter(type(found)).dump_python(found, mode="json")
        said.append(MaterialSaid(kind=kind, key=key, name=found.name, values=values))  # type: ignore[arg-type]
    beyond = {key: value for key, value in (row.came_as or {}).items() if key not in _KNOWN}
    return RecipeFile(
        format=FORMAT, version=VERSION, name=row.name, recipe=asked.model_dump(mode="json"), materials=said,
        why=version.why, **beyond,
    )  # fmt: skip


def look(session: Session, file: RecipeFile) -> Looked:
    """What would come in with a file. Changes nothing. Raises Refused where it cannot be a recipe here."""
    _asked(file, {})
    seen = tuple(_seen(session, said)[0] for said in file.materials)
    document = file.model_dump()
    left = [says for field, says in NOT_TAKEN.items() if document["recipe"].get(field) is not None]
    if any(dose.get("ladder_id") for dose in document["recipe"].get("additives", []) if isinstance(dose, dict)):
        left.append("the ladders behind its doses stay in the studio they were made in")
    return Looked(
        file.name, _taken(session, file.name), file.why, seen, tuple(left),
        tuple(sorted(key for key in document if key not in _KNOWN)),
    )  # fmt: skip


def take_in(session: Session, now: datetime, file: RecipeFile, name: str) -> int:
    """Take a recipe in, with those of its materials that are not here yet; its id. All of it or nothing.

    What is not understood is kept with it, and goes out with it again. Raises Refused naming the field.
    """
    keys: dict[tuple[str, str], str] = {}
    for n, said in enumerate(file.materials):
        _, found = _seen(session, said)
        if isinstance(found, str):
            keys[said.kind, said.key] = found
            continue
        assert not isinstance(found, Additive)
        try:
            keys[said.kind, said.key] = materials.add_own(session, now, said.kind, found)
        except Refused as refused:
            raise refused.under(f"file.materials.{n}") from None
    asked = _asked(file, keys)
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
    )  # fmt: skip


def _seen(session: Session, said: MaterialSaid) -> tuple[MaterialSeen, str | Pigment | Oil | Additive]:
    """What a material is here: its key where it is known, else itself, to be added to the studio's own."""
    there = materials.material_of(session, said.kind, said.key)
    own = said.key.startswith(materials.OWN_PREFIX)
    if there is not None and not own:
        return MaterialSeen(said.kind, said.name, "known", "in the library"), said.key
    if there is not None and there.name == said.name:
        apart = _apart(asdict(there), said.values)
        says = f"yours is another in {', '.join(apart)}: yours counts" if apart else "the same as yours"
        return MaterialSeen(said.kind, said.name, "differs" if apart else "yours", says), said.key
    if said.kind == "additive":
        raise Refused("file", f"the additive '{said.name}' is not known here", "a recipe with additives of the library")
    try:
        made = TypeAdapter(_KINDS[said.kind]).validate_python({**said.values, "key": "", "name": said.name})
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        problem = f"its material '{said.name}' is damaged at {where}"
        raise Refused("file", problem, "a recipe saved by Niddy as a file") from None
    return MaterialSeen(said.kind, said.name, "new", "comes in as one of your own"), made


def _apart(mine: dict[str, Any], theirs: dict[str, Any]) -> list[str]:
    """The figures in which two materials of one name differ, in words."""
    found = []
    for name, value in mine.items():
        other = theirs.get(name)
        if isinstance(value, bool) or not isinstance(value, int | float) or not isinstance(other, int | float):
            continue
        if abs(value - other) > SMALL * max(abs(value), abs(other), 1e-9):
            found.append(name.replace("_g_per_100g", "").replace("_g_per_ml", "").replace("_", " "))
    return found
