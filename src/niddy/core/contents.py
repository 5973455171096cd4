"""What is in a paste, a tube, a jar: it travels with the gram, whatever was planned and wherever it came from."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from niddy.core.cautions import in_paint


class Role(StrEnum):
    """What a material is in a paint. `old_paint` says what an old paint was known to hold besides its parts."""

    PIGMENT = "pigment"
    EXTENDER = "extender"
    OIL = "oil"
    WAX = "wax"
    ADDITIVE = "additive"
    OLD_PAINT = "old_paint"


OIL_OF_A_GEL = "oil of a gel"
"""What the oil that a gel brings is called: which it is, the gel's own lot says."""


@dataclass(frozen=True, slots=True)
class Content:
    """Some grams of one material: where it came from, what it is there, and the hazard keys it brings."""

    source: str
    role: Role
    name: str
    grams: float
    density_g_per_ml: float | None = None
    hazards: tuple[str, ...] = ()
    ci_name: str = ""


Contents = tuple[Content, ...]


UNKNOWN_PARTS = "unknown-parts"
"""The hazard key of what nobody can say the whole of."""


def not_fully_known(contents: Contents) -> bool:
    """Whether a part of it is of an old paint, or of sludge, that nobody logged."""
    return any(item.role is Role.OLD_PAINT or UNKNOWN_PARTS in item.hazards for item in contents)


def scaled(contents: Contents, factor: float) -> Contents:
    """A part of something, or so many times as much."""
    return tuple(replace(content, grams=content.grams * factor) for content in contents)


def joined(*several: Contents) -> Contents:
    """Several put together: the same material from the same source becomes one, with the hazards of both."""
    found: dict[tuple[str, Role, str], Content] = {}
    for item in (content for contents in several for content in contents):
        key = (item.source, item.role, item.name)
        there = found.get(key)
        if there is None:
            found[key] = item
        else:
            hazards = tuple(dict.fromkeys((*there.hazards, *item.hazards)))
            found[key] = replace(there, grams=there.grams + item.grams, hazards=hazards)
    return tuple(found.values())


def grams_of(contents: Iterable[Content]) -> float:
    """The mass of it all in g."""
    return sum(content.grams for content in contents)


def hazards_of(contents: Iterable[Content]) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What a finished paint keeps of the hazards of each material in it, by the material's name."""
    return tuple((content.name, in_paint(content.hazards)) for content in contents)


def hazard_keys(contents: Iterable[Content]) -> tuple[str, ...]:
    """The same as keys alone, each once, in order of the alphabet."""
    return tuple(sorted({key for _, keys in hazards_of(contents) for key in keys}))
