"""What two studios swap as a file: its shape, and the materials that come along by name and values."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.materials import Additive, Oil, Pigment, Wax
from niddy.core.words import Words
from niddy.studio import materials

VERSION = 1
Name = Annotated[Words, Field(min_length=1, max_length=120)]
_KINDS: dict[str, type[Pigment | Oil | Additive | Wax]] = {
    "pigment": Pigment,
    "oil": Oil,
    "additive": Additive,
    "wax": Wax,
}
_COMMON = {"format", "version", "name", "materials", "why"}
SMALL = 0.005
"""Values that differ by less than this share are the same."""


class MaterialSaid(BaseModel):
    """A material that is needed: its kind, its key in the studio it came from, and all that was known of it there."""

    model_config = ConfigDict(extra="allow", allow_inf_nan=False)
    kind: Literal["pigment", "oil", "additive", "wax"]
    key: Annotated[Words, Field(min_length=1, max_length=80)]
    name: Name
    values: dict[str, Any] = {}


class SwapFile(BaseModel):
    """What every file has: its form, a name, its materials. Fields beyond these are kept as they came."""

    model_config = ConfigDict(extra="allow", allow_inf_nan=False)
    version: Annotated[int, Field(ge=1)]
    name: Name
    materials: Annotated[list[MaterialSaid], Field(max_length=40)] = []
    why: Annotated[Words, Field(max_length=300)] = ""


class RecipeFile(SwapFile):
    """A recipe in a file: what it promises."""

    model_config = ConfigDict(title="A recipe of oil colour, to be swapped")
    format: Literal["niddy-recipe"]
    recipe: dict[str, Any]


class BaseFile(SwapFile):
    """A base of waxes for paint sticks in a file."""

    model_config = ConfigDict(title="A base for paint sticks, to be swapped")
    format: Literal["niddy-base"]
    base: dict[str, Any]


class ProcessFile(SwapFile):
    """A process of making pigment in a file."""

    model_config = ConfigDict(title="A process of making pigment, to be swapped")
    format: Literal["niddy-process"]
    process: dict[str, Any]


@dataclass(frozen=True, slots=True)
class MaterialSeen:
    """A material that would come in: known here, the studio's own already, or new; and how it differs."""

    kind: str
    name: str
    state: str
    says: str


@dataclass(frozen=True, slots=True)
class Looked:
    """A file before it is taken in: what comes, what is new, what collides, what is not understood."""

    kind: str
    name: str
    name_taken: bool
    why: str
    materials: tuple[MaterialSeen, ...]
    left_out: tuple[str, ...]
    not_understood: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CardLine:
    """A line of a printed card: what, and how much of it."""

    what: str
    much: str = ""


@dataclass(frozen=True, slots=True)
class Card:
    """What stands on a printed card in words; its codes hold the same as a file."""

    kind: str
    title: str
    under: str
    lines: tuple[CardLine, ...]


def beyond(came_as: dict[str, Any] | None, own: str) -> dict[str, Any]:
    """The fields of a file that came that nobody here understands; they go out with it again."""
    return {key: value for key, value in (came_as or {}).items() if key not in _COMMON | {own}}


def said_of(session: Session, keys: Iterable[tuple[str, str]]) -> list[MaterialSaid]:
    """Materials as a file says them."""
    said = []
    for kind, key in keys:
        found = materials.material_of(session, kind, key)
        assert isinstance(found, Pigment | Oil | Additive | Wax)
        values = TypeAdapter(type(found)).dump_python(found, mode="json")
        said.append(MaterialSaid(kind=kind, key=key, name=found.name, values=values))  # type: ignore[arg-type]
    return said


def seen(session: Session, said: MaterialSaid) -> MaterialSeen:
    """What a material of a file is here. Raises Refused where it cannot come in."""
    return _seen(session, said)[0]


def arrived(session: Session, now: datetime, file: SwapFile) -> dict[tuple[str, str], str]:
    """Keep the materials of a file that are not here yet; the key each has here. Raises Refused naming the field."""
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
    return keys


def _seen(session: Session, said: MaterialSaid) -> tuple[MaterialSeen, str | Pigment | Oil | Additive | Wax]:
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
        raise Refused("file", f"the additive '{said.name}' is not known here", "one with additives of the library")
    try:
        made = TypeAdapter(_KINDS[said.kind]).validate_python({**said.values, "key": "", "name": said.name})
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        raise Refused("file", f"its material '{said.name}' is damaged at {where}", "a file saved by Niddy") from None
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
