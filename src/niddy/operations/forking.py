"""Commands in processes forked from one that has read Niddy's packages: for whoever begins many, one after the other.

What a command does is the same as by `python -m niddy`; only the seconds of reading packages are spent once.
"""

from __future__ import annotations

import multiprocessing
import os
import signal
import subprocess
import sys
from pathlib import Path

_FORKS = multiprocessing.get_context("forkserver")
_FORKS.set_forkserver_preload(["niddy.operations.preloaded"])


class Forked:
    """A command that was begun, with as much of `subprocess.Popen` as is asked of one."""

    def __init__(self, arguments: tuple[str, ...], environment: dict[str, str], out: Path, err: Path) -> None:
        self._process = _FORKS.Process(target=_become, args=(arguments, environment, str(out), str(err)), daemon=True)
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


def _become(arguments: tuple[str, ...], environment: dict[str, str], out: str, err: str) -> None:
    from niddy.__main__ import main

    os.environ.clear()
    os.environ.update(environment)
    for name, number in ((out, 1), (err, 2)):
        file = os.open(name, os.O_WRONLY | os.O_CREAT | os.O_APPEND)
        os.dup2(file, number)
        os.close(file)
    sys.argv = ["niddy", *arguments]
    main()
