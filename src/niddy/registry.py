"""The rooms of the house, each under one name on every floor. Adding a room adds its folders and one line here."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from importlib import import_module
from types import ModuleType


@dataclass(frozen=True, slots=True)
class Room:
    """A room: its name on every floor, whether it keeps tables, has an address of its own, and has screens.

    `due` says that its studio has a `waits(session, now)`: what of it waits for a date. `tables` are the modules of
    the record floor that are this room's; a room may keep what it is about in more than one.
    """

    name: str
    tables: tuple[str, ...] = ()
    web: bool = True
    screens: bool = True
    due: bool = False


ROOMS = (
    Room("home"),
    Room("materials", ("materials",)),
    Room("rubout", ("rubout",)),
    Room("plan", ("plan",)),
    Room("slab", ("late",)),
    Room("balance", screens=False),
    Room("thermometer", screens=False),
    Room("ph_meter", screens=False),
    Room("checks", ("checks",), due=True),
    Room("recipes", ("recipes",)),
    Room("additives", ("additives",), due=True),
    Room("tubes"),
    Room("shelf", ("shelf",), due=True),
    Room("sticks", ("sticks",), due=True),
    Room("sludge", ("sludge",), due=True),
    Room("making", ("making",), due=True),
    Room("day", ("day",)),
    Room("practice", ("practice",)),
    Room("mixing", ("mixing",)),
    Room("makers", ("makers",)),
    Room("swap"),
    Room("package"),
    Room("lineage"),
    Room("batches", ("batches",), due=True),
    Room("workshop", ("workshop",)),
    Room("calc", screens=False),
)
"""In the order of the work, which is the order of their addresses in the API's description."""


def web_rooms() -> Iterator[ModuleType]:
    """The web floor's module of each room that has one."""
    for room in ROOMS:
        if room.web:
            yield import_module(f"niddy.api.{room.name}")


def due_rooms() -> Iterator[ModuleType]:
    """The studio's module of each room where something waits for a date."""
    for room in ROOMS:
        if room.due:
            yield import_module(f"niddy.studio.{room.name}")


SHARED_TABLES = ("log",)
"""Modules of the record floor that every craft shares."""


def load_tables() -> None:
    """Make every room's tables known to the record's metadata."""
    for shared in SHARED_TABLES:
        import_module(f"niddy.db.{shared}")
    for room in ROOMS:
        for name in room.tables:
            import_module(f"niddy.db.{name}")
