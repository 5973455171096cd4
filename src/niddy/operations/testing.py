"""./niddy test: linter, type checkers, front-end build, all unittest suites; the last line counts them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from niddy.operations import frontend
from niddy.operations.forking import Forked
from niddy.settings import ROOT

AT_ONCE = 3
"""So many suites run side by side: one more than two cores, since each waits now and then for another program."""

SCREEN_PARTS = 6
"""So many processes drive a browser, one after the other: with fewer, the last of them is alone for long."""

NEED_THE_BUILD = ("tests.api.test_guard",)
"""What of the web floor looks at the built pages as well."""


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


class _Shared:
    """One cluster with the demo loaded, for every suite that wants databases; made at its first asking."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._keeper: subprocess.Popen[str] | None = None
        self._home = ""

    def home(self) -> str:
        """Where it lives; empty where it could not be made, so that each suite makes its own and says why."""
        with self._lock:
            if self._keeper is None:
                command = [sys.executable, "-m", "tests.support"]
                self._keeper = subprocess.Popen(
                    command, cwd=ROOT, env=_environment(), stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
                )
                assert self._keeper.stdout is not None
                self._home = self._keeper.stdout.readline().strip()
            return self._home

    def close(self) -> None:
        """Destroy it."""
        with self._lock:
            if self._keeper is not None:
                self._keeper.communicate()


Job = Callable[[], Count]


def run(names: list[str]) -> int:
    """Everything, or only the named test modules; the exit code. The last line printed counts what ran."""
    built, shared = threading.Event(), _Shared()
    jobs: list[Job] = [partial(_front_end, built)]
    if names:
        jobs.append(partial(_suite, ", ".join(names), names, built))
    else:
        screens, web = _modules("browser"), _modules("api")
        # Made while the core is tested, which needs none.
        threading.Thread(target=shared.home).start()
        # Each is begun once one before it is done: screens wait for the build, the rest goes on meanwhile.
        jobs += [
            partial(_suite, "core, house", [*_modules("core"), "tests.test_house"]),
            *(partial(_step, title, command) for title, command in _checks()),
            partial(_suite, "studio", _modules("studio"), None, shared),
            partial(_suite, "api", [name for name in web if name not in NEED_THE_BUILD], None, shared),
            partial(_suite, "operations", [*NEED_THE_BUILD, *_modules("operations")], built, shared),
            # The longest first; what mostly waits, as for a balance, not last and alone.
            *(
                partial(_suite, f"browser, {n + 1} of {SCREEN_PARTS}", screens[part::SCREEN_PARTS], built, shared)
                for n, part in enumerate((SCREEN_PARTS - 1, *range(SCREEN_PARTS - 1)))
            ),
        ]
    count = Count()
    try:
        with ThreadPoolExecutor(AT_ONCE) as pool:
            for outcome in pool.map(lambda job: job(), jobs):
                count.add(outcome)
    finally:
        shared.close()
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


def _front_end(built: threading.Event) -> Count:
    begun = time.monotonic()
    try:
        frontend.build(check_types=True)
    except frontend.BuildError as error:
        print(f"FAILED  front end\n{error}", flush=True)
        return Count(failed=1)
    finally:
        built.set()
    print(f"ok      front end: types and build  ({time.monotonic() - begun:.1f} s)", flush=True)
    return Count(passed=1)


def _environment() -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}", "PYTHONWARNINGS": "default"}


def _suite(
    title: str, modules: list[str], after: threading.Event | None = None, shared: _Shared | None = None
) -> Count:
    """One unittest run in a process of its own, `after` the front end is built where it needs that."""
    if after is not None:
        after.wait()
    with tempfile.TemporaryDirectory(prefix="niddy-suite-") as folder:
        report, printed = Path(folder) / "report.json", Path(folder) / "printed"
        environment = {**_environment(), **({"NIDDY_TEST_CLUSTER": shared.home()} if shared is not None else {})}
        code = Forked(_report, (report, modules), environment, printed, printed, kept=True).wait()
        print(f"\n--- {title}\n{printed.read_text(errors='replace').strip()}", flush=True)
        try:
            return Count(**json.loads(report.read_text()))
        except (OSError, ValueError):
            print(f"FAILED  {title}: the run ended without a report (exit code {code})")
            return Count(failed=1)


def _modules(part: str) -> list[str]:
    files = sorted((ROOT / "tests" / part).glob("test_*.py"))
    return [".".join(file.relative_to(ROOT).with_suffix("").parts) for file in files]


SLOWEST = 12
"""So many of the slowest tests and classes of a suite are named, so that one sees where the minutes go."""


class _Timed(unittest.TextTestResult):
    """A result that knows how long each test took, and what went by between two of them for setting up a class."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.took: dict[str, float] = {}
        self.last = time.monotonic()

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        set_up = f"{type(test).__module__}.{type(test).__qualname__} (set up)"
        self.took[set_up] = self.took.get(set_up, 0.0) + time.monotonic() - self.last
        self.last = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        super().stopTest(test)
        self.took[test.id()] = time.monotonic() - self.last
        self.last = time.monotonic()


def _run(names: list[str]) -> unittest.TestResult:
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    runner = unittest.TextTestRunner(stream=sys.stdout, verbosity=1, buffer=True, resultclass=_Timed)
    result = runner.run(suite)
    assert isinstance(result, _Timed)
    longest = sorted(result.took.items(), key=lambda one: -one[1])[:SLOWEST]
    print("longest: " + ", ".join(f"{name.removeprefix('tests.')} {took:.0f} s" for name, took in longest))
    return result


def _report(report: Path, modules: list[str]) -> None:
    sys.path.insert(0, str(ROOT))
    result = _run(modules)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    count = Count(max(0, result.testsRun - failed - skipped), failed, skipped)
    report.write_text(json.dumps(count.__dict__))
