"""Starting and stopping one instance: lock, database, migrations, demo, web server; all of it cleanly."""

from __future__ import annotations

import json
import os
import signal
import socket
import ssl
import sys
import threading
import time
import urllib.request
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, contextmanager
from dataclasses import dataclass
from http.client import HTTPException
from pathlib import Path
from typing import TYPE_CHECKING

from niddy.operations import backup, certificate, frontend, keeping
from niddy.operations.cluster import Cluster, ClusterError, NotInstalled
from niddy.operations.errors import OperationError
from niddy.operations.keeper import Keeper
from niddy.operations.keeping import Backups
from niddy.operations.lock import try_lock
from niddy.operations.process import Known
from niddy.settings import Settings

if TYPE_CHECKING:
    from niddy.db import Database
    from niddy.operations.door import Door

PATIENCE_S = 45
"""So long a start waits for a database that went away in the middle of it."""

LAST_REQUESTS_S = 10.0
"""So long requests that are being answered are given to end when an instance is asked to."""

ASK_SECONDS = 30
"""So long an instance is given to end when it is asked to, before its process is killed."""


def address(port: int, scheme: str = "http") -> str:
    """Where an instance is found."""
    return f"{scheme}://127.0.0.1:{port}"


@dataclass(frozen=True, slots=True)
class Running:
    """What an instance says of itself while it starts and runs: its process and its port."""

    process: Known
    port: int

    def tell(self, home: Path) -> None:
        """Write it down, whole or not at all."""
        beside = home / "run.json.new"
        beside.write_text(json.dumps({"pid": self.process.pid, "began": self.process.began, "port": self.port}))
        beside.rename(home / "run.json")

    @classmethod
    def noted(cls, home: Path) -> Running | None:
        """What was written down last, or None."""
        try:
            kept = json.loads((home / "run.json").read_text())
            return cls(Known(int(kept["pid"]), int(kept["began"])), int(kept["port"]))
        except (OSError, ValueError, KeyError, TypeError):
            return None


@contextmanager
def database_url(settings: Settings) -> Iterator[str]:
    """The database: the one named in the environment, or our own cluster, looked after and stopped at the end."""
    if settings.database_url:
        yield settings.database_url
        return
    cluster = Cluster(settings.home)
    try:
        url = cluster.ensure()
        with Keeper(cluster):
            yield url
    finally:
        said = cluster.stop()
        if said not in ("", "stopped"):
            print(f"The database was {said}; what was acknowledged is safe.", flush=True)


def start(settings: Settings, *, demo: bool = True) -> int:
    """Serve until Ctrl-C or SIGTERM; the exit code."""
    lock = try_lock(settings.home)
    if lock is None:
        running = Running.noted(settings.home)
        if running and answers(running.port):
            print(f"Niddy runs already: {address(running.port, settings.scheme)}")
        else:
            print("Niddy is starting in another window already.")
        return 0
    if not _port_free(settings.port):
        print(
            f"niddy: port {settings.port} is taken by another program, or not ours to open; choose one with NIDDY_PORT",
            file=sys.stderr,
        )
        return 1
    wanting = certificate.missing(settings)
    if wanting:
        print(f"niddy: {wanting}", file=sys.stderr)
        os.close(lock)
        return 1
    # Ctrl-C during set-up must unwind like Ctrl-C while serving.
    signal.signal(signal.SIGTERM, _interrupt)
    here = Known.of(os.getpid())
    assert here is not None
    try:
        Running(here, settings.port).tell(settings.home)
        backup.clear_half_written(settings.home)
        # The page is there while all behind it is made ready, and the pages are built beside the database.
        with _door(settings) as door, ThreadPoolExecutor(1) as beside:
            pages = beside.submit(frontend.build)
            with database_url(settings) as url:
                _patiently(lambda: _before_upgrade(settings, url))
                _patiently(lambda: prepare(settings, url, demo=demo))
                pages.result()
                with _backups(settings) as backups:
                    _serve(settings, url, backups, door)
    except KeyboardInterrupt:
        pass
    finally:
        (settings.home / "run.json").unlink(missing_ok=True)
        os.close(lock)
    return 0


def _interrupt(*_: object) -> None:
    raise KeyboardInterrupt


def _patiently(work: Callable[[], None]) -> None:
    """Do a part of the start; a database that dies meanwhile is brought back by its keeper, and it is done again."""
    from sqlalchemy.exc import OperationalError

    until = time.monotonic() + PATIENCE_S
    while True:
        try:
            return work()
        except OperationalError as error:
            if time.monotonic() > until:
                why = str(error.orig).strip().splitlines()[0] if str(error.orig).strip() else "it does not answer"
                raise ClusterError(f"the database cannot be used: {why}") from None
            time.sleep(1)


def prepare(settings: Settings, url: str, *, demo: bool) -> None:
    """Migrations, the first furniture, and the demo where nothing was ever recorded."""
    from niddy import demo as scenario
    from niddy.db import Database, migrations
    from niddy.studio import batches, package, workshop

    migrations.upgrade(url)
    database = Database(url)
    try:
        with database.session() as session:
            workshop.furnish(session)
            batches.freshen(session)
        package.clear_leftovers(database)
        if demo:
            scenario.load_if_empty(database, settings.now())
    finally:
        database.dispose()


@contextmanager
def _backups(settings: Settings) -> Iterator[Backups | None]:
    """Backups by themselves, of a cluster of our own; a database of somebody else's has its own tools."""
    if settings.database_url:
        yield None
        return
    with Backups(Cluster(settings.home), settings.home, settings.now) as backups:
        yield backups


def _before_upgrade(settings: Settings, url: str) -> None:
    """Back up the records before their tables change shape. Raises ClusterError where that cannot be done."""
    from niddy.db import migrations

    if settings.database_url:
        return
    at = migrations.current(url)
    known = migrations.revisions()
    if at is None or at not in known or at == known[0]:
        return
    file = keeping.before_upgrade(Cluster(settings.home), settings.home, settings.now())
    print(f"niddy: backed up before the upgrade: {file}", flush=True)


@contextmanager
def _door(settings: Settings) -> Iterator[Door]:
    """A web server in a thread of its own, which gives the page from the start; it has ended at the end."""
    import uvicorn

    from niddy.operations.door import Door

    own, secret = certificate.files(settings), settings.scheme == "https"
    door = Door(settings.hosts)
    config = uvicorn.Config(
        door,
        host="0.0.0.0" if settings.address else "127.0.0.1",  # noqa: S104
        port=settings.port,
        log_level="warning",
        access_log=False,
        lifespan="on",
        timeout_graceful_shutdown=2,
        ssl_certfile=own.certificate if secret else None,
        ssl_keyfile=own.key if secret else None,
    )
    server = uvicorn.Server(config)
    serving = threading.Thread(target=server.run, name="web", daemon=True)

    def end() -> None:
        server.should_exit = True
        serving.join(ASK_SECONDS)

    door.end, door.stands = end, serving.is_alive
    serving.start()
    try:
        while not server.started and serving.is_alive():
            time.sleep(0.01)
        if not server.started:
            raise OperationError(f"nothing can be served on port {settings.port}; choose another with NIDDY_PORT")
        yield door
    finally:
        end()


def _serve(settings: Settings, url: str, backups: Backups | None, door: Door) -> None:
    """Open the door to the rooms, and wait until somebody asks for the end; what is being answered then ends first."""
    from niddy.api.app import create_app
    from niddy.db import Database

    database = Database(url)
    asked = 0

    def ask(*_: object) -> None:
        nonlocal asked
        asked += 1

    try:
        _say_who_may(settings, database)
        app = create_app(settings, database, backups=backups)
        leaving = app.state.leaving
        for ending in (signal.SIGTERM, signal.SIGINT):
            signal.signal(ending, ask)
        door.open_to(app)
        there = f", on the network at {settings.origin}" if settings.origin else ""
        print(f"Niddy is ready: {address(settings.port, settings.scheme)}{there}   (Ctrl-C stops it)", flush=True)
        while not asked and door.stands():
            time.sleep(0.1)
        leaving.begin()
        until = time.monotonic() + LAST_REQUESTS_S
        # Asked again, it ends at once.
        while asked == 1 and time.monotonic() < until and not leaving.wait(0.1):
            pass
        door.end()
    finally:
        database.dispose()


def _say_who_may(settings: Settings, database: Database) -> None:
    """Say what is to be done at this terminal before anybody can sign in on the network."""
    from niddy.studio import makers

    if settings.address is None:
        return
    with database.session() as session:
        if not makers.owner_exists(session):
            print('On the network people sign in, and there is no owner yet: ./niddy owner "your name"', flush=True)
    if settings.scheme == "http":
        print("Plain http: whoever is on your network can read along; ./niddy certificate ends that.", flush=True)


def stop(settings: Settings) -> int:
    """Stop the instance of this home, starting or running, or what a crash left of it; the exit code."""
    said = []
    lock = try_lock(settings.home)
    if lock is None:
        running = _noted_soon(settings.home)
        if running is None or not running.process.alive():
            print(
                "niddy: another command works on this folder (a backup or a restore); try again when it is done",
                file=sys.stderr,
            )
            return 1
        said.append(_end(running.process))
        lock = _lock_soon(settings.home)
        if lock is None:
            print("niddy: it does not stop; look at its window", file=sys.stderr)
            return 1
    else:
        said.append("Niddy was not running.")
    left = "" if settings.database_url else _stop_cluster(settings.home)
    if left:
        said.append(f"Its database was still up and is {left}.")
    (settings.home / "run.json").unlink(missing_ok=True)
    print(" ".join(said))
    os.close(lock)
    return 0


def _stop_cluster(home: Path) -> str:
    try:
        return Cluster(home).stop()
    except NotInstalled:
        # Without its programs no server of ours can run.
        return ""


def _noted_soon(home: Path) -> Running | None:
    """What the instance that holds the lock says of itself; it does so in its first moments."""
    for _ in range(20):
        running = Running.noted(home)
        if running is not None and running.process.alive():
            return running
        time.sleep(0.1)
    return None


def _lock_soon(home: Path) -> int | None:
    for _ in range(50):
        lock = try_lock(home)
        if lock is not None:
            return lock
        time.sleep(0.1)
    return None


def _end(process: Known) -> str:
    process.tell(signal.SIGTERM)
    if process.gone_within(ASK_SECONDS):
        return "Niddy is stopped."
    process.tell(signal.SIGKILL)
    process.gone_within(5)
    return "Niddy did not stop when asked and was killed; what was acknowledged is safe."


def answers(port: int) -> bool:
    """Whether Niddy answers on a port of this machine."""
    try:
        return _is_niddy(address(port))
    except (OSError, ValueError, HTTPException):
        pass
    try:
        return _is_niddy(address(port, "https"))
    except (OSError, ValueError, HTTPException):
        return False


def _is_niddy(at: str) -> bool:
    # Of this machine it is only asked whether it is there: by which certificate does not matter.
    with urllib.request.urlopen(f"{at}/api/health", timeout=3, context=ssl._create_unverified_context()) as answer:  # noqa: S310, S323
        return bool(json.load(answer).get("product") == "Niddy")


def _port_free(port: int) -> bool:
    with closing(socket.socket()) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True
