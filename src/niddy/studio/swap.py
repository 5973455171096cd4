"""What studios swap: recipes, bases and processes, out as a file or a card, in with a look first."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import assert_never

from sqlalchemy.orm import Session

from niddy.studio.making import swapping as processes
from niddy.studio.recipes import swapping as recipes
from niddy.studio.sticks import swapping as bases
from niddy.studio.swapped import BaseFile, Card, Looked, ProcessFile, RecipeFile

File = RecipeFile | BaseFile | ProcessFile


class SwapKind(StrEnum):
    """What can be swapped."""

    RECIPE = "recipe"
    BASE = "base"
    PROCESS = "process"


FILES: dict[SwapKind, type[File]] = {
    SwapKind.RECIPE: RecipeFile,
    SwapKind.BASE: BaseFile,
    SwapKind.PROCESS: ProcessFile,
}
_OF = {SwapKind.RECIPE: recipes, SwapKind.BASE: bases, SwapKind.PROCESS: processes}


@dataclass(frozen=True, slots=True)
class Swapped:
    """What came in: its kind, its id here, and the page that shows it."""

    kind: SwapKind
    id: int
    page: str


_PAGES = {SwapKind.RECIPE: "/recipes/{id}", SwapKind.BASE: "/sticks/bases/{id}", SwapKind.PROCESS: "/making/{id}"}


def as_file(session: Session, kind: SwapKind, kept_id: int) -> File:
    """The newest version of something as a file. Raises Missing."""
    file: File = _OF[kind].as_file(session, kept_id)
    return file


def card(session: Session, kind: SwapKind, kept_id: int) -> Card:
    """What stands on its card. Raises Missing."""
    made: Card = _OF[kind].card(session, kept_id)
    return made


def look(session: Session, file: File) -> Looked:
    """What would come in with a file. Changes nothing. Raises Refused."""
    match file:
        case RecipeFile():
            return recipes.look(session, file)
        case BaseFile():
            return bases.look(session, file)
        case ProcessFile():
            return processes.look(session, file)
        case _ as never:
            assert_never(never)


def take_in(session: Session, now: datetime, file: File, name: str) -> Swapped:
    """Take a file in under a name; all of it or nothing. Raises Refused naming the field."""
    match file:
        case RecipeFile():
            kind, made = SwapKind.RECIPE, recipes.take_in(session, now, file, name)
        case BaseFile():
            kind, made = SwapKind.BASE, bases.take_in(session, now, file, name)
        case ProcessFile():
            kind, made = SwapKind.PROCESS, processes.take_in(session, now, file, name)
        case _ as never:
            assert_never(never)
    return Swapped(kind, made, _PAGES[kind].format(id=made))
