"""./niddy mutate: break the rules one at a time and see whether a test notices."""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

from niddy.operations.errors import OperationError
from niddy.settings import ROOT

FLOORS = {"core": ("core", "studio"), "studio": ("studio", "api")}
"""Which folders of tests are asked about a mutant of a floor, in turn."""
LINKED = ("pyproject.toml", "frontend", "docs")
"""What their tests read beside code and tests."""
AT_MOST_S = 400
NAMED = ROOT / "tests" / "mutants.txt"

_COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE,
    ast.LtE: ast.Gt,
    ast.Gt: ast.LtE,
    ast.GtE: ast.Lt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
}
_COUNTED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
_SWAPPED = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True, slots=True)
class Mutant:
    """One change of one place: the file below src/niddy, its line, what it said, what it says now, the new file."""

    file: str
    line: int
    before: str
    after: str
    source: str

    @property
    def floor(self) -> str:
        return self.file.split("/")[0]


def mutants(file: str, source: str) -> list[Mutant]:
    """Every mutant of a module. Only what computes is changed: no words, no types, nothing within a string."""
    raw = source.encode()
    starts = [0]
    for line in raw.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    found = []
    for node, changed in _changes(ast.parse(source)):
        assert node.end_lineno is not None and node.end_col_offset is not None
        begin, end = starts[node.lineno - 1] + node.col_offset, starts[node.end_lineno - 1] + node.end_col_offset
        after = f"({ast.unparse(changed)})"
        whole = raw[:begin] + after.encode() + raw[end:]
        found.append(Mutant(file, node.lineno, raw[begin:end].decode(), after, whole.decode()))
    return found


def _changes(node: ast.AST) -> Iterator[tuple[ast.expr, ast.expr]]:
    if isinstance(node, ast.JoinedStr):
        return
    if isinstance(node, ast.expr):
        changed = _changed(node)
        if changed is not None:
            yield node, changed
    for name, value in ast.iter_fields(node):
        if name in ("annotation", "returns", "decorator_list", "type_params", "op", "ops"):
            continue
        if name == "slice" and isinstance(value, (ast.Name, ast.BinOp)) and isinstance(node, ast.Subscript):
            continue  # dict[str, X | None] outside of an annotation
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.AST):
                yield from _changes(child)


def _changed(node: ast.expr) -> ast.expr | None:
    new = copy.deepcopy(node)
    match new:
        case ast.Compare(ops=[op]) if type(op) in _COMPARED:
            new.ops = [_COMPARED[type(op)]()]
        case ast.BinOp(op=op) if type(op) in _COUNTED and not (_is_words(new.left) or _is_words(new.right)):
            new.op = _COUNTED[type(op)]()
        case ast.BoolOp(op=op):
            new.op = ast.Or() if isinstance(op, ast.And) else ast.And()
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            return operand
        case ast.Call(func=ast.Name(id=name) as called) if name in _SWAPPED:
            called.id = _SWAPPED[name]
        case ast.Constant(value=bool(value)):
            new.value = not value
        case ast.Constant(value=int(value)):
            new.value = value + 1
        case ast.Constant(value=float(value)):
            new.value = value * 1.5 or 1.0
        case _:
            return None
    return new


def _is_words(node: ast.expr) -> bool:
    return isinstance(node, ast.JoinedStr) or (isinstance(node, ast.Constant) and isinstance(node.value, str))


def named() -> list[Mutant]:
    """The mutants kept by hand: a block of three lines each, the file, what it says, what it shall say.

    Raises OperationError where one no longer fits the code, so that the list stays true.
    """
    found = []
    for block in NAMED.read_text().strip().split("\n\n"):
        lines = [line for line in block.splitlines() if not line.startswith("#")]
        if not lines:
            continue
        file, before, after = lines
        source = (ROOT / "src" / "niddy" / file).read_text()
        if source.count(before) != 1:
            raise OperationError(f"{NAMED.name}: {source.count(before)} places in {file} say: {before}")
        line = source[: source.index(before)].count("\n") + 1
        found.append(Mutant(file, line, before, after, source.replace(before, after)))
    return found


def sampled(floors: tuple[str, ...], of: int, seed: int) -> list[Mutant]:
    """As many of each floor, by chance that the seed decides."""
    luck = random.Random(seed)
    chosen = []
    for floor in floors:
        everything = [
            mutant
            for path in sorted((ROOT / "src" / "niddy" / floor).rglob("*.py"))
            for mutant in mutants(str(path.relative_to(ROOT / "src" / "niddy")), path.read_text())
        ]
        chosen += luck.sample(everything, min(of // len(floors), len(everything)))
    return chosen


def run(chosen: list[Mutant], workers: int = 2) -> int:
    """Ask the tests about each; prints the survivors and, last, killed of all by floor. 0 where none survived."""
    with tempfile.TemporaryDirectory(prefix="niddy-mutate-") as folder:
        homes: SimpleQueue[Path] = SimpleQueue()
        for n in range(workers):
            home = Path(folder) / str(n)
            for name in ("src", "tests"):
                shutil.copytree(ROOT / name, home / name, ignore=shutil.ignore_patterns("__pycache__"))
            for name in LINKED:
                (home / name).symlink_to(ROOT / name)
            homes.put(home)
        cluster = subprocess.Popen(
            [sys.executable, "-m", "tests.support"],
            cwd=ROOT,
            env=_environment(ROOT),
            text=True,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        )
        assert cluster.stdout is not None
        shared = cluster.stdout.readline().strip()

        for floor in dict.fromkeys(mutant.floor for mutant in chosen):
            for tests in FLOORS[floor]:
                if _fails(home, tests, Mutant(f"{floor}/", 0, "", "", ""), shared):
                    raise OperationError(f"the tests of {tests} fail before anything is changed")

        def ask(mutant: Mutant) -> bool:
            home = homes.get()
            try:
                return _noticed(home, mutant, shared)
            finally:
                homes.put(home)

        killed, of = Counter[str](), Counter[str]()
        try:
            with ThreadPoolExecutor(workers) as pool:
                for mutant, noticed in zip(chosen, pool.map(ask, chosen), strict=True):
                    of[mutant.floor] += 1
                    killed[mutant.floor] += noticed
                    if not noticed:
                        where = f"{mutant.file}:{mutant.line}"
                        print(f"survived  {where}  {_short(mutant.before)}  ->  {_short(mutant.after)}", flush=True)
        finally:
            cluster.communicate()
    for floor, number in of.items():
        print(f"{floor}: {killed[floor]} of {number} killed ({100 * killed[floor] / number:.0f} %)")
    print(f"{killed.total()} killed, {of.total() - killed.total()} survived")
    return 0 if killed == of else 1


def _short(code: str) -> str:
    line = " ".join(code.split())
    return line if len(line) <= 60 else f"{line[:57]}..."


def _environment(home: Path, shared: str = "") -> dict[str, str]:
    return {
        **os.environ,
        "PYTHONPATH": f"{home / 'src'}{os.pathsep}{home}",
        "PYTHONDONTWRITEBYTECODE": "1",
        "PYTHONWARNINGS": "ignore",
        "NIDDY_TEST_CLUSTER": shared,
    }


def _noticed(home: Path, mutant: Mutant, shared: str) -> bool:
    file = home / "src" / "niddy" / mutant.file
    sound = file.read_text()
    file.write_text(mutant.source)
    try:
        return any(_fails(home, floor, mutant, shared) for floor in FLOORS[mutant.floor])
    finally:
        file.write_text(sound)


def _fails(home: Path, floor: str, mutant: Mutant, shared: str) -> bool:
    """Whether a floor's tests fail, those of the mutant's own room first; what never ends has failed too."""
    room = (*Path(mutant.file).parts, "")[1].removesuffix(".py")
    modules = sorted(
        (f"tests.{floor}.{path.stem}" for path in (ROOT / "tests" / floor).glob("test_*.py")),
        key=lambda name: (not name.endswith(f"test_{room}"), name),
    )
    command = [sys.executable, "-m", "unittest", "-f", "-q", *modules]
    try:
        done = subprocess.run(command, cwd=home, env=_environment(home, shared), capture_output=True, timeout=AT_MOST_S)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0
