"""A whole Niddy in a process of its own, on a home of its own: for tests, the bench and the attack."""

from __future__ import annotations

import atexit
import contextlib
import os
import shutil
import signal
import ssl
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from functools import cache
from pathlib import Path

from niddy.operations import forking
from niddy.operations.cluster import Cluster
from niddy.operations.errors import OperationError
from niddy.operations.forking import Forked
from niddy.operations.ports import free_port
from niddy.settings import ROOT

NOWHERE = Path(os.devnull)

DEMOS: dict[str, Path] = {}
"""Backups of the demo by its day, where one was made before: that is restored, and not acted out once more."""


def wait_for(base: str, seconds: float = 150) -> None:
    """Wait until a server answers. Raises OperationError where it does not."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        with (
            contextlib.suppress(OSError, urllib.error.URLError),
            urllib.request.urlopen(f"{base}/api/health", timeout=2, context=ssl._create_unverified_context()),  # noqa: S310, S323
        ):
            return
        time.sleep(0.05)
    raise OperationError(f"{base} does not answer")


Begun = subprocess.Popen[bytes] | Forked


class Instance:
    """A Niddy as `./niddy start` runs it; `cold` where each command is to read its packages itself, as there."""

    def __init__(self, *, cold: bool = False, **environment: str) -> None:
        self.cold = cold
        self.home = Path(tempfile.mkdtemp(prefix="niddy-home-"))
        self.home.chmod(0o755)
        self.port = free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        self.environment = {
            **os.environ,
            "PYTHONPATH": str(ROOT / "src"),
            "NIDDY_HOME": str(self.home),
            "NIDDY_PORT": str(self.port),
            **environment,
        }
        self.process: Begun | None = None

    @classmethod
    def furnished(cls, today: str, *, cold: bool = False) -> Instance:
        """One with the demo of a day already in it: copied from one that was made, started once and stopped."""
        made, like = cls(cold=cold, NIDDY_TODAY=today), _demo_of(today)
        shutil.rmtree(made.home)
        for ours, theirs in {made.home: like.home, made.cluster.folder: like.cluster.folder}.items():
            if not ours.exists():
                # With its owner, who is not always the one that asks.
                subprocess.run(["cp", "-a", str(theirs), str(ours)], check=True)
        return made

    @property
    def cluster(self) -> Cluster:
        """Its database."""
        return Cluster(self.home)

    def command(self, *arguments: str, out: Path = NOWHERE, err: Path = NOWHERE) -> Begun:
        """One command of this instance, begun; what it prints goes to the end of files."""
        if not self.cold:
            return forking.command(arguments, self.environment, out, err)
        with out.open("a") as printed, err.open("a") as said:
            return subprocess.Popen(
                [sys.executable, "-m", "niddy", *arguments],
                env=self.environment,
                stdin=subprocess.DEVNULL,
                stdout=printed,
                stderr=said,
            )

    def run(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        """One command of this instance, to its end."""
        with tempfile.NamedTemporaryFile("r") as out, tempfile.NamedTemporaryFile("r") as err:
            begun = self.command(*arguments, out=Path(out.name), err=Path(err.name))
            code = begun.wait(timeout=180)
            return subprocess.CompletedProcess(arguments, code, out.read(), err.read())

    def begin(self, *arguments: str) -> None:
        """Start without waiting; what it prints goes into a file of its home."""
        printed = self.home / "printed"
        self.process = self.command("start", *arguments, out=printed, err=printed)

    def start(self, *arguments: str) -> None:
        """Start and wait until it serves."""
        self.begin(*arguments)
        wait_for(self.base)

    def printed(self) -> str:
        """All that it printed so far."""
        return (self.home / "printed").read_text()

    def kill(self, how: signal.Signals = signal.SIGKILL) -> str:
        """Send a signal and wait for the end; what was printed so far."""
        assert self.process is not None
        self.process.send_signal(how)
        self.process.wait(timeout=90)
        self.process = None
        return self.printed()

    def stop(self) -> None:
        """Stop it by its own command."""
        self.run("stop")
        if self.process is not None:
            self.process.wait(timeout=60)
            self.process = None

    def kill_database(self) -> None:
        """Kill the database's server, if it runs."""
        server = self.cluster.postmaster()
        if server is not None:
            server.tell(signal.SIGKILL)

    def destroy(self) -> None:
        """Stop whatever still runs and remove the home."""
        if self.process is not None:
            self.kill()
        self.cluster.destroy()
        shutil.rmtree(self.home, ignore_errors=True)


@cache
def _demo_of(today: str) -> Instance:
    """An instance with the demo of a day, stopped; it is removed with this process."""
    made = Instance(NIDDY_TODAY=today)
    atexit.register(made.destroy)
    if today in DEMOS:
        done = made.run("restore", str(DEMOS[today]))
        if done.returncode:
            raise OperationError(f"the demo of {today} was not restored: {done.stderr}")
    else:
        made.start()
        made.stop()
    return made
