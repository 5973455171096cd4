"""Processes known by their id and the moment they began: an id alone may by now be another's."""

from __future__ import annotations

import os
import signal
import time
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True, slots=True)
class Known:
    """A process as it was met: its id, and when it began in the kernel's own ticks."""

    pid: int
    began: int

    @classmethod
    def of(cls, pid: int) -> Known | None:
        """The process with that id now, or None where there is none."""
        began = _began(pid)
        return cls(pid, began) if began is not None else None

    def alive(self) -> bool:
        """Whether it is that very process that still runs."""
        return _began(self.pid) == self.began

    def tell(self, how: signal.Signals) -> None:
        """Send it a signal, if it is still there."""
        if self.alive():
            try:
                os.kill(self.pid, how)
            except ProcessLookupError:
                return

    def gone_within(self, seconds: float) -> bool:
        """Wait for it to end; whether it did."""
        until = time.monotonic() + seconds
        while self.alive():
            if time.monotonic() > until:
                return False
            time.sleep(0.05)
        return True


def _began(pid: int) -> int | None:
    try:
        stat = Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return None
    # The name stands in brackets and may hold anything; what follows the last bracket is numbers.
    fields = stat.rpartition(")")[2].split()
    return None if fields[0] == "Z" else int(fields[19])


def runs(pid: int, *words: str) -> bool:
    """Whether the command line of a process holds all of these words."""
    try:
        running = Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace").split("\0")
    except OSError:
        return False
    return all(any(word in part for part in running) for word in words)
