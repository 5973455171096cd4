"""Starting and stopping one instance: lock, database, migrations, demo, web server; all of it cleanly."""

from __future__ import annotations

import fcntl
import json
import os
import signal
import socket
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from niddy.operations.cluster import Cluster
from niddy.settings import Settings


def address(port: int) -> str:
    """Where an instance is found."""
    return f"http://127.0.0.1:{port}"


def running_instance(settings: Settings) -> str | None:
    """The address of the instance that runs on this home, if one does."""
    if _try_lock(settings.home) is not None:
        return None
    told = _told(settings.home)
    return address(told["port"]) if told else address(settings.port)


def _told(home: Path) -> dict[str, int] | None:
    try:
        told: dict[str, int] = json.loads((home / "run.json").read_text())
    except (OSError, ValueError):
        return None
    return told


def _try_lock(home: Path) -> int | None:
    """A held lock on the home as a file descriptor, or None where another process holds it. Closing releases it."""
    home.mkdir(parents=True, exist_ok=True)
    descriptor = os.open(home / "lock", os.O_RDWR | os.O_CREAT, 0o600)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(descriptor)
        return None
    return descriptor


@contextmanager
def database_url(settings: Settings) -> Iterator[str]:
    """The database: the one named in the environment, or our own cluster, stopped at the end."""
    if settings.database_url:
        yield settings.database_url
        return
    cluster = Cluster(settings.home)
    try:
        yield cluster.ensure()
    finally:
        cluster.stop()


def start(settings: Settings, *, demo: bool = True) -> int:
    """Serve until Ctrl-C or SIGTERM; the exit code."""
    lock = _try_lock(settings.home)
    if lock is None:
        told = _told(settings.home)
        if told and _answers(told["port"]):
            print(f"Niddy runs already: {address(told['port'])}")
        else:
            print("Niddy is starting in another window already.")
        return 0
    if not _port_free(settings.port):
        print(
            f"niddy: port {settings.port} is taken by another program; choose one with NIDDY_PORT",
            file=sys.stderr,
        )
        return 1
    # Ctrl-C during set-up must unwind like Ctrl-C while serving.
    signal.signal(signal.SIGTERM, _interrupt)
    try:
        with database_url(settings) as url:
            prepare(settings, url, demo=demo)
            (settings.home / "run.json").write_text(json.dumps({"pid": os.getpid(), "port": settings.port}))
            _serve(settings, url)
    except KeyboardInterrupt:
        pass
    finally:
        (settings.home / "run.json").unlink(missing_ok=True)
        os.close(lock)
    return 0


def _interrupt(*_: object) -> None:
    raise KeyboardInterrupt


def prepare(settings: Settings, url: str, *, demo: bool) -> None:
    """Migrations, the first furniture, and the demo where nothing was ever recorded."""
    from niddy import demo as scenario
    from niddy.db import Database, migrations
    from niddy.studio import workshop

    migrations.upgrade(url)
    database = Database(url)
    try:
        with database.session() as session:
            workshop.furnish(session)
        if demo:
            scenario.load_if_empty(database, settings.now())
    finally:
        database.dispose()


def _serve(settings: Settings, url: str) -> None:
    import uvicorn

    from niddy.api import create_app
    from niddy.db import Database

    database = Database(url)

    class Server(uvicorn.Server):
        async def startup(self, sockets: list[socket.socket] | None = None) -> None:
            await super().startup(sockets)
            there = f", on the network at {settings.origin}" if settings.origin else ""
            print(f"Niddy is ready: {address(settings.port)}{there}   (Ctrl-C stops it)", flush=True)

    config = uvicorn.Config(
        create_app(settings, database), host="0.0.0.0" if settings.address else "127.0.0.1", port=settings.port,
        log_level="warning",
        access_log=False, timeout_graceful_shutdown=2,
    )  # fmt: skip
    try:
        Server(config).run()
    finally:
        database.dispose()


def stop(settings: Settings) -> int:
    """Stop the instance of this home, or what a crash left of it; the exit code."""
    told = _told(settings.home)
    lock = _try_lock(settings.home)
    if lock is None and told:
        os.kill(told["pid"], signal.SIGTERM)
        for _ in range(300):
            lock = _try_lock(settings.home)
            if lock is not None:
                break
            time.sleep(0.1)
        else:
            print("niddy: it does not stop; look at its window", file=sys.stderr)
            return 1
        print("Niddy is stopped.")
    elif lock is None:
        print("niddy: it is just starting; stop it in its own window with Ctrl-C", file=sys.stderr)
        return 1
    else:
        print("Niddy was not running.")
    if not settings.database_url:
        Cluster(settings.home).stop()
    os.close(lock)
    return 0


def _answers(port: int) -> bool:
    try:
        with urllib.request.urlopen(f"{address(port)}/api/health", timeout=3) as answer:
            return bool(json.load(answer).get("product") == "Niddy")
    except (OSError, ValueError):
        return False


def _port_free(port: int) -> bool:
    with closing(socket.socket()) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True
