"""./niddy test: linter, type checkers, front-end build, all unittest suites; the last line counts them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
import unittest
from dataclasses import dataclass
from pathlib import Path

from niddy.operations import frontend
from niddy.settings import ROOT

SUITES = (
    ("core, studio, api", ("core", "studio", "api", "test_house")),
    ("browser, operations", ("browser", "operations")),
)
"""The two halves that run side by side: one of them mostly computes, the other mostly waits for a browser."""


@dataclass
class Count:
    """What a run came to."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0

    def add(self, other: Count) -> None:
        self.passed += other.passed
        self.failed += other.failed
        self.skipped += other.skipped


def run(names: list[str]) -> int:
    """Everything, or only the named test modules; the exit code. The last line printed counts what ran."""
    count = Count()
    if not names:
        for title, command in _checks():
            count.add(_step(title, command))
    count.add(_front_end())
    for outcome in _suites(names):
        count.add(outcome)
    print(f"\n{count.passed} passed, {count.failed} failed, {count.skipped} skipped")
    return 1 if count.failed or not count.passed else 0


def _checks() -> list[tuple[str, list[str]]]:
    tools = Path(sys.executable).parent
    return [
        ("linter", [str(tools / "ruff"), "check", "--quiet", "--no-cache", "."]),
        ("formatter", [str(tools / "ruff"), "format", "--quiet", "--no-cache", "--check", "."]),
        ("types of Python", [str(tools / "mypy"), "--no-error-summary"]),
    ]


def _step(title: str, command: list[str]) -> Count:
    begun = time.monotonic()
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    if done.returncode:
        print(f"FAILED  {title}\n{done.stdout[-6000:]}{done.stderr[-2000:]}", flush=True)
        return Count(failed=1)
    print(f"ok      {title}  ({time.monotonic() - begun:.1f} s)", flush=True)
    return Count(passed=1)


def _front_end() -> Count:
    begun = time.monotonic()
    try:
        frontend.build(check_types=True)
    except frontend.BuildError as error:
        print(f"FAILED  front end\n{error}", flush=True)
        return Count(failed=1)
    print(f"ok      front end: types and build  ({time.monotonic() - begun:.1f} s)", flush=True)
    return Count(passed=1)


def _suites(names: list[str]) -> list[Count]:
    groups = [(", ".join(names), names)] if names else [(title, _modules(parts)) for title, parts in SUITES]
    running = []
    for title, modules in groups:
        report = Path(tempfile.mkstemp(prefix="niddy-report-", suffix=".json")[1])
        command = [sys.executable, "-m", "niddy.operations.testing", str(report), *modules]
        environment = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}", "PYTHONWARNINGS": "default"}
        process = subprocess.Popen(
            command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
        )
        running.append((title, report, process))
    outcomes = []
    for title, report, process in running:
        output, _ = process.communicate()
        print(f"\n--- {title}\n{output.rstrip()}", flush=True)
        try:
            outcomes.append(Count(**json.loads(report.read_text())))
        except ValueError:
            print(f"FAILED  {title}: the run ended without a report (exit code {process.returncode})")
            outcomes.append(Count(failed=1))
        report.unlink()
    return outcomes


def _modules(parts: tuple[str, ...]) -> list[str]:
    found = []
    for part in parts:
        at = ROOT / "tests" / part
        files = sorted(at.glob("test_*.py")) if at.is_dir() else [at.with_suffix(".py")]
        found += [".".join(file.relative_to(ROOT).with_suffix("").parts) for file in files]
    return found


def _report(report: Path, modules: list[str]) -> None:
    suite = unittest.defaultTestLoader.loadTestsFromNames(modules)
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=1, buffer=True).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    count = Count(max(0, result.testsRun - failed - skipped), failed, skipped)
    report.write_text(json.dumps(count.__dict__))


if __name__ == "__main__":
    _report(Path(sys.argv[1]), sys.argv[2:])
