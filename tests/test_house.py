"""The floors and rooms of the house: who may import whom, read from the source."""

import ast
import unittest
from pathlib import Path

from niddy.settings import ROOT

SOURCE = ROOT / "src" / "niddy"
FLOORS = ("core", "db", "studio", "api")
MAY = {
    "core": {"core"},
    "reference": {"core"},
    "db": {"db", "core"},
    "studio": {"studio", "db", "core", "reference", "devices"},
    "devices": {"devices", "core"},
    "exchange": {"exchange", "studio", "core", "reference"},
    "demo": {"demo", "studio", "db", "core", "reference"},
    # The web floor hands the Database to the studio and shows shipped tables and open formats; tables are not its own.
    "api": {"api", "studio", "core", "db", "reference", "exchange", "devices", "settings"},
}
CORE_PACKAGES = {"numpy", "scipy", "coloraide", "niddy"}
NOT_ROOMS = {"__init__", "base", "engine", "errors", "answers", "app", "calc", "context", "follow", "problems", "home"}
# Not places of work: a device that serves several of them.
NOT_ROOMS |= {"balance", "guard", "amounts", "times", "words", "late", "documents"}
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
                if path[:1] == ("db",) and len(path) > 1 and path[1] not in NOT_ROOMS | {"Database"}:
                    self.assertEqual(path[1], room(file, "studio"), f"{file} reaches into the tables of {path[1]}")

    def test_tables_of_one_room_import_no_other_room(self) -> None:
        for file in modules("db"):
            for path in parts(imports(file)):
                if path[:1] == ("db",) and len(path) > 1:
                    self.assertIn(path[1], NOT_ROOMS | {room(file, "db"), "Base", "Database", "Id"}, file.name)

    def test_every_room_of_the_web_floor_has_its_studio_and_its_screens(self) -> None:
        for file in modules("api"):
            name = room(file, "api")
            if name not in NOT_ROOMS:
                self.assertTrue(has("studio", name), f"no studio for {name}")
                self.assertTrue((ROOT / "frontend/src/rooms" / name).is_dir(), f"no screens for {name}")

    def test_tables_belong_to_a_room_of_the_studio(self) -> None:
        for file in modules("db"):
            if room(file, "db") not in NOT_ROOMS:
                self.assertTrue(has("studio", room(file, "db")), file.stem)


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

    def test_no_lock_file_records_an_address(self) -> None:
        for file in (*ROOT.glob("requirements*.txt"), ROOT / "frontend/package-lock.json"):
            text = file.read_text()
            self.assertNotIn('"resolved"', text, file.name)
            self.assertNotIn("index-url", text, file.name)
