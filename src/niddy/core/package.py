"""A whole studio on its way out or in: what its tables are, and what coming in would do."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused


class Kind(StrEnum):
    """What a column holds, in the words of Table Schema."""

    INTEGER = "integer"
    NUMBER = "number"
    STRING = "string"
    BOOLEAN = "boolean"
    DATE = "date"
    DATETIME = "datetime"
    OBJECT = "object"
    ARRAY = "array"
    ANY = "any"


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its name, what it holds, whether it may be empty, and the table and column it points to, if any."""

    name: str
    kind: Kind
    needed: bool
    points_to: tuple[str, str] | None = None


@dataclass(frozen=True, slots=True)
class Shape:
    """A table: its name, what it is, its columns in order, and those that tell its rows apart."""

    name: str
    says: str
    columns: tuple[Column, ...]
    key: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Coming:
    """What would come into one table: rows that are new here, the same as here, or otherwise than here."""

    table: str
    says: str
    new: int
    same: int
    otherwise: int


class How(StrEnum):
    """How a studio comes in: what is new beside what is here, or in place of all that is here."""

    ADD = "add"
    REPLACE = "replace"


def ways(coming: Iterable[Coming], *, here_is_empty: bool) -> tuple[How, ...]:
    """How a studio may come in, the plainest first.

    Into an empty one it comes whole, in place of what little is there; beside records only where not one is otherwise.
    """
    coming = tuple(coming)
    if here_is_empty:
        return (How.REPLACE,)
    if any(one.otherwise for one in coming):
        return (How.REPLACE,)
    return (How.ADD, How.REPLACE) if any(one.new for one in coming) else (How.REPLACE,)


def known_revision(revision: object, known: Iterable[str]) -> str:
    """The revision of a package's tables. Raises Refused for one this program does not know."""
    if not isinstance(revision, str) or not revision:
        raise Refused("package", "it does not say what its tables are like", "a package made by Niddy")
    if revision not in set(known):
        raise Refused(
            "package", f"made by a newer Niddy (tables {revision[:20]})", "a package of this version or older"
        )
    return revision
