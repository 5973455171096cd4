"""The floors and rooms of the house: who may import whom, read from the source."""

import ast
import json
import re
import unittest
from collections.abc import Iterator
from pathlib import Path
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from niddy.api.app import create_app
from niddy.core.documents import Document
from niddy.core.words import Words
from niddy.db import Database
from niddy.registry import ROOMS, SHARED_TABLES, web_rooms
from niddy.settings import ROOT, Settings
from tests import mutate
from tests.bench import bands

SOURCE = ROOT / "src" / "niddy"
FLOORS = ("core", "db", "studio", "api")
MAY = {
    "core": {"core"},
    "reference": {"core"},
    "db": {"db", "core"},
    "studio": {"studio", "db", "core", "reference", "devices", "registry"},
    "devices": {"devices", "core"},
    "exchange": {"exchange", "studio", "core", "reference"},
    "demo": {"demo", "studio", "db", "core", "reference"},
    # The web floor hands the Database to the studio and shows shipped tables and open formats; tables are not its own.
    "api": {"api", "studio", "core", "db", "reference", "exchange", "devices", "settings", "registry"},
}
CORE_PACKAGES = {"numpy", "scipy", "coloraide", "molmass", "pydantic", "rapidfuzz", "pydantic_core", "niddy"}
NAMES = {room.name for room in ROOMS}
BESIDE = {
    "base",
    "cost",
    "due",
    "ending",
    "engine",
    "errors",
    "jobs",
    "labels",
    "late",
    "log",
    "numbering",
    "outputs",
    "paints",
    "photos",
    "recorder",
    "remembered",
    "sent",
    "swapped",
    "times",
    "undoing",
}
"""Modules of the studio and the record that serve several rooms, or are a part of one under a name of their own."""

TABLES_OF = {table: room.name for room in ROOMS for table in room.tables}
PARTS_OF = {"late": "slab", "paints": "mixing"}
LONGEST = 400
"""Lines of a module: beyond that it holds more than one idea."""


def modules(folder: str) -> list[Path]:
    return sorted(p for p in (SOURCE / folder).rglob("*.py") if "migrations" not in p.parts)


def room(file: Path, floor: str) -> str:
    """The room a module belongs to: its own name, or its package's."""
    return file.relative_to(SOURCE / floor).parts[0].removesuffix(".py")


def has(floor: str, name: str) -> bool:
    """Whether a floor has a room, as a module or a package."""
    return (SOURCE / floor / f"{name}.py").is_file() or (SOURCE / floor / name / "__init__.py").is_file()


def imports(file: Path) -> set[str]:
    """Dotted names a module imports: `from a.b import c` counts as a.b and a.b.c."""
    found = set()
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module} | {f"{node.module}.{alias.name}" for alias in node.names}
    return found


def parts(names: set[str]) -> set[tuple[str, ...]]:
    return {tuple(name.split(".")[1:]) for name in names if name.startswith("niddy.")}


class Floors(unittest.TestCase):
    def test_a_floor_imports_only_from_below(self) -> None:
        for floor, allowed in MAY.items():
            for file in modules(floor):
                for path in parts(imports(file)):
                    if path and path[0] != "__version__":
                        self.assertIn(path[0], allowed, f"{file.relative_to(ROOT)} imports niddy.{'.'.join(path)}")

    def test_the_core_is_pure(self) -> None:
        banned = {"os", "pathlib", "time", "socket", "subprocess", "logging", "requests", "sqlite3", "io"}
        stdlib = __import__("sys").stdlib_module_names
        for file in modules("core"):
            for name in imports(file):
                top = name.split(".")[0]
                self.assertTrue(top in CORE_PACKAGES or top in stdlib, f"{file.name} imports {name}")
                self.assertNotIn(top, banned, file.name)
            text = file.read_text()
            for clock in ("datetime.now", "date.today", "utcnow", "open("):
                self.assertNotIn(clock, text, file.name)

    def test_the_web_floor_never_touches_tables(self) -> None:
        for file in modules("api"):
            for path in parts(imports(file)):
                if path[:1] == ("db",):
                    self.assertTrue(path in {("db",), ("db", "Database")} or path[:2] == ("db", "engine"), path)


class Rooms(unittest.TestCase):
    def test_a_room_reaches_no_other_rooms_tables(self) -> None:
        for file in modules("studio"):
            for path in parts(imports(file)):
                if path[:1] == ("db",) and len(path) > 1 and path[1] in TABLES_OF:
                    name = room(file, "studio")
                    own = PARTS_OF.get(name, name)
                    self.assertEqual(TABLES_OF[path[1]], own, f"{file} reaches into the tables of {path[1]}")

    def test_tables_of_one_room_import_no_other_room(self) -> None:
        for file in modules("db"):
            for path in parts(imports(file)):
                if path[:1] == ("db",) and len(path) > 1:
                    self.assertIn(path[1], BESIDE | {room(file, "db"), "Base", "Database", "Id"}, file.name)

    def test_every_room_is_on_the_floors_it_says(self) -> None:
        for one in ROOMS:
            with self.subTest(one.name):
                self.assertEqual(has("api", one.name), one.web)
                if one.screens:
                    self.assertTrue((ROOT / "frontend/src/rooms" / one.name).is_dir(), f"no screens for {one.name}")
                    self.assertTrue(has("studio", one.name), f"no studio for {one.name}")
                for table in one.tables:
                    self.assertTrue((SOURCE / "db" / f"{table}.py").is_file(), table)

    def test_nothing_on_a_floor_is_no_room_s(self) -> None:
        kept = {room(file, "db") for file in modules("db")} - {"__init__", "engine", "base", *SHARED_TABLES}
        self.assertEqual(kept, set(TABLES_OF))
        served = {room(file, "api") for file in modules("api")}
        shared = {
            "__init__",
            "answers",
            "app",
            "context",
            "follow",
            "guard",
            "hub",
            "log",
            "pages",
            "policy",
            "problems",
            "router",
            "tries",
        }
        self.assertEqual(served - NAMES, shared)
        made = {room(file, "studio") for file in modules("studio")}
        self.assertEqual(made - NAMES - BESIDE, {"__init__"})
        screens = {folder.name for folder in (ROOT / "frontend/src/rooms").iterdir() if folder.is_dir()}
        self.assertEqual(screens, {one.name for one in ROOMS if one.screens})


class Habits(unittest.TestCase):
    def test_public_things_say_what_they_are(self) -> None:
        for floor in FLOORS:
            for file in modules(floor):
                tree = ast.parse(file.read_text())
                self.assertTrue(ast.get_docstring(tree), f"{file.relative_to(ROOT)} has no docstring")
                for node in tree.body:
                    if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef) and node.name[0] != "_":
                        self.assertTrue(ast.get_docstring(node), f"{file.name}: {node.name} has no docstring")

    def test_a_module_holds_one_idea(self) -> None:
        for file in [
            *SOURCE.rglob("*.py"),
            *(ROOT / "frontend/src").rglob("*.ts"),
            *(ROOT / "frontend/src").rglob("*.vue"),
        ]:
            if "migrations" not in file.parts and file.name != "schema.d.ts":
                self.assertLessEqual(len(file.read_text().splitlines()), LONGEST, file.relative_to(ROOT))

    def test_a_copy_for_breaking_the_rules_holds_all_that_tests_read(self) -> None:
        read = {
            name
            for floors in mutate.FLOORS.values()
            for floor in floors
            for file in (ROOT / "tests" / floor).glob("*.py")
            for name in re.findall(r"\bROOT / \"([^\"]+)\"", file.read_text())
        }
        self.assertTrue(read)
        self.assertLessEqual(read, {"src", "tests", *mutate.LINKED})

    def test_no_lock_file_records_an_address(self) -> None:
        for file in (*ROOT.glob("requirements*.txt"), ROOT / "frontend/package-lock.json"):
            text = file.read_text()
            self.assertNotIn('"resolved"', text, file.name)
            self.assertNotIn("index-url", text, file.name)


def loose(kind: Any, said: tuple[Any, ...] = ()) -> Iterator[Any]:
    """The places of a type where any text at all would be taken, also one the record cannot keep."""
    if get_origin(kind) is Annotated:
        bare, *more = get_args(kind)
        yield from loose(bare, (*said, *more))
    elif kind is str:
        whole = [one for outer in said for one in (outer, *getattr(outer, "metadata", ()))]
        if not any(one == get_args(Words)[1] or getattr(one, "pattern", None) for one in whole):
            yield kind
    elif get_origin(kind) is not Literal:
        for part in get_args(kind):
            yield from loose(part, said if get_origin(kind) in (Union, UnionType) else ())


def below(kind: type[Any]) -> Iterator[type[Any]]:
    for one in kind.__subclasses__():
        yield one
        yield from below(one)


class Text(unittest.TestCase):
    def test_every_text_that_is_sent_can_be_kept(self) -> None:
        self.assertTrue(list(web_rooms()))
        documents = set(below(Document))
        self.assertGreater(len(documents), 200)
        taken = [
            f"{one.__module__}.{one.__name__}.{name}"
            for one in documents
            for name, field in one.model_fields.items()
            if list(loose(field.annotation, tuple(field.metadata)))
        ]
        self.assertEqual(taken, [], "text that may hold what the record cannot keep: say Words")
        self.assertEqual(list(loose(list[str])), [str])


class Bands(unittest.TestCase):
    """A figure with a lower and an upper end says how sure it is: something has to hold it to that."""

    OPEN = 11
    """So many that nothing measures yet: this goes down, never up."""
    MADE = ("Figure", "Estimate", "Several", "Value", "Scale", "Curve")

    def test_whoever_states_a_band_is_held_to_it(self) -> None:
        app = create_app(Settings(), Database("postgresql+psycopg://nobody@127.0.0.1/none"))
        stated: set[str] = set()
        for name, schema in app.openapi()["components"]["schemas"].items():
            fields = schema.get("properties", {})
            for field, said in fields.items():
                if re.search("low", field) and field.replace("low", "high") in fields:
                    stated.add(re.sub(r"\.$", "", f"{name}." + re.sub(r"_?(band_)?low(_.*)?$", "", field)))
                if re.search(rf"schemas/({'|'.join(self.MADE)})\"", json.dumps(said)):
                    stated.add(f"{name}.{field}")
        known = dict(
            line.split(" ", 1)
            for line in (ROOT / "tests" / "bench" / "known_bands.txt").read_text().splitlines()
            if not line.startswith("#")
        )
        self.assertEqual(sorted(known), sorted(stated))
        benched = {f"in {row}" for row in bands.ROWS}
        self.assertEqual(set(known.values()) - benched, {"slab", "given", "kept", "exact", "open"})
        self.assertLessEqual(sum(how == "open" for how in known.values()), self.OPEN)
