"""Every sentence that a maker may be told, by the screen or room it comes from: to be read aloud, and checked."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from niddy.settings import ROOT

FLOORS = ("core", "studio", "exchange")
SCREENS = ROOT / "frontend" / "src"
_TEXT = re.compile(r">([^<>]+)<")
_SLOT = re.compile(r"\{\{.*?\}\}", re.DOTALL)
_WORDS = re.compile(r"[A-Za-z]{2,}.* .*[A-Za-z]{2,}")


@dataclass(frozen=True, slots=True)
class Told:
    """Something said: where it stands, and its words; what is filled in stands as {}."""

    where: str
    words: str


def told() -> tuple[Told, ...]:
    """All of it, of the rules and of the screens, in the order of the house."""
    found = [*_of_python(), *_of_screens()]
    return tuple(dict.fromkeys(found))


def _of_python() -> Iterator[Told]:
    for floor in FLOORS:
        for path in sorted((ROOT / "src" / "niddy" / floor).rglob("*.py")):
            tree = ast.parse(path.read_text())
            silent = _silent(tree)
            where = str(path.relative_to(ROOT / "src" / "niddy").with_suffix(""))
            for node in ast.walk(tree):
                words = "" if id(node) in silent else _said(node)
                if _WORDS.search(words):
                    yield Told(where, words)


def _silent(tree: ast.AST) -> set[int]:
    """What is no sentence of its own: docstrings, and the pieces of a longer one."""
    found = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            found.add(id(node.value))
        if isinstance(node, ast.JoinedStr):
            found.update(id(part) for part in ast.walk(node) if part is not node)
    return found


def _said(node: ast.AST) -> str:
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        return node.value
    if isinstance(node, ast.JoinedStr):
        return "".join(str(part.value) if isinstance(part, ast.Constant) else "{}" for part in node.values)
    return ""


def _of_screens() -> Iterator[Told]:
    for path in sorted(SCREENS.rglob("*.vue")):
        where = str(path.relative_to(SCREENS).with_suffix(""))
        template = _template(path)
        for text in _TEXT.findall(_SLOT.sub("{}", template)):
            words = " ".join(text.split())
            if _WORDS.search(words):
                yield Told(where, words)


def _template(path: Path) -> str:
    _, _, template = path.read_text().partition("<template>")
    return template


def show() -> None:
    """Print them, each once with where it stands."""
    for one in told():
        print(f"{one.where}\t{one.words}")
