"""How long a start takes: processor seconds, seconds, and ratios to a bare interpreter and an empty application."""

from __future__ import annotations

import contextlib
import os
import resource
import signal
import statistics
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass

from niddy.operations.instance import Instance

ROUNDS = 3
PATIENCE_S = 120.0
TODAY = "2026-06-18"
EMPTY = "from fastapi import FastAPI\napp = FastAPI()\napp.get('/')(lambda: 0)\n"


@dataclass(frozen=True)
class Started:
    """Seconds till the page was there and till figures were, and the processor seconds of all its processes."""

    page_s: float
    figures_s: float
    cpu_s: float


def run() -> int:
    """Measure and print; the exit code."""
    bare = statistics.median(_cpu_of(lambda: _python("pass")) for _ in range(ROUNDS))
    empty = statistics.median(_cpu_of(lambda: _python(EMPTY)) for _ in range(ROUNDS))
    instance = Instance.furnished(TODAY, cold=True)
    try:
        found = [_started(instance) for _ in range(ROUNDS)]
    finally:
        instance.destroy()
    page, figures, cpu = (
        statistics.median(getattr(one, name) for one in found) for name in ("page_s", "figures_s", "cpu_s")
    )
    print("a start when set up (median of three, demo studio)")
    print(f"  python -c pass            {bare:6.2f} s of processor")
    print(f"  an empty FastAPI app      {empty:6.2f} s of processor, {empty / bare:6.1f} times python")
    print(f"  the page is there         {page:6.2f} s")
    print(f"  figures are there         {figures:6.2f} s")
    print(f"  all of it, and its end    {cpu:6.2f} s of processor, {cpu / empty:6.1f} times an empty app")
    return 0


def _started(instance: Instance) -> Started:
    spent, begun = _children_s(), time.monotonic()
    instance.begin()
    page_s = _answered(f"{instance.base}/", begun)
    figures_s = _answered(f"{instance.base}/api/home", begun)
    instance.kill(signal.SIGTERM)
    return Started(page_s, figures_s, _children_s() - spent)


def _answered(address: str, begun: float) -> float:
    while time.monotonic() - begun < PATIENCE_S:
        with (
            contextlib.suppress(OSError, urllib.error.URLError),
            urllib.request.urlopen(address, timeout=PATIENCE_S) as answer,
        ):
            answer.read()
            return time.monotonic() - begun
        time.sleep(0.02)
    raise TimeoutError(address)


def _python(code: str) -> None:
    subprocess.run([sys.executable, "-c", code], check=True, env={**os.environ})


def _cpu_of(work: Callable[[], None]) -> float:
    before = _children_s()
    work()
    return _children_s() - before


def _children_s() -> float:
    """Processor seconds of the processes that this one began and that ended."""
    used = resource.getrusage(resource.RUSAGE_CHILDREN)
    return used.ru_utime + used.ru_stime
