"""Processes forked from one that has read Niddy's packages: for whoever begins many of them.

What a command does is the same as by `python -m niddy`; only the seconds of reading packages are spent once.
"""

from __future__ import annotations

import atexit
import multiprocessing
import os
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

_FORKS = multiprocessing.get_context("forkserver")
_FORKS.set_forkserver_preload(["niddy.operations.preloaded"])


class Forked:
    """A process that does some work, with as much of `subprocess.Popen` as is asked of one.

    What it prints goes to the end of files. One that is `kept` does not end with the process that began it, and may
    begin others.
    """

    def __init__(
        self,
        work: Callable[..., None],
        given: tuple[Any, ...],
        environment: dict[str, str],
        out: Path,
        err: Path,
        *,
        kept: bool = False,
    ) -> None:
        told = (work, given, environment, str(out), str(err))
        self._process = _FORKS.Process(target=_become, args=told, daemon=not kept)
        self._process.start()
        assert self._process.pid is not None
        self.pid = self._process.pid

    def poll(self) -> int | None:
        """Its exit code, or None while it runs."""
        return self._process.exitcode

    def wait(self, timeout: float | None = None) -> int:
        """Its exit code, once it ended. Raises subprocess.TimeoutExpired."""
        self._process.join(timeout)
        if self._process.exitcode is None:
            raise subprocess.TimeoutExpired("niddy", timeout or 0.0)
        return self._process.exitcode

    def send_signal(self, how: signal.Signals) -> None:
        """Send it a signal, if it still runs."""
        if self.poll() is None:
            os.kill(self.pid, how)

    def kill(self) -> None:
        """Kill it."""
        self.send_signal(signal.SIGKILL)


def command(arguments: tuple[str, ...], environment: dict[str, str], out: Path, err: Path) -> Forked:
    """A command of Niddy's, begun."""
    return Forked(_command, (arguments,), environment, out, err)


def _command(arguments: tuple[str, ...]) -> None:
    from niddy.__main__ import main

    sys.argv = ["niddy", *arguments]
    main()


def _become(work: Callable[..., None], given: tuple[Any, ...], environment: dict[str, str], out: str, err: str) -> None:
    os.environ.clear()
    os.environ.update(environment)
    for name, number in ((out, 1), (err, 2)):
        file = os.open(name, os.O_WRONLY | os.O_CREAT | os.O_APPEND)
        os.dup2(file, number)
        os.close(file)
    try:
        work(*given)
    finally:
        # A process of its own would do so; a forked one only when told.
        atexit._run_exitfuncs()
