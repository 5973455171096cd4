"""Attacks by files: a backup that would run commands, packages that would break or fetch, notes empty or garbled."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from threading import Thread
from typing import Any

import httpx

from niddy.operations.backup import write as write_backup
from niddy.operations.instance import Instance

_COPY = re.compile(rb"COPY public\.(\w+) \([^)]*\) FROM stdin;\n")


def crafted_backups(instance: Instance) -> tuple[int, list[str]]:
    """A command in place of the statement of one table after another: none is run, and nothing changes."""
    kept, marker = instance.home / "kept.backup", Path("/tmp") / f"niddy-ran-{instance.port}"
    write_backup(instance.cluster, kept)
    content, tries, harm = kept.read_bytes(), 0, []
    before = _lots(instance)
    instance.stop()
    run = f"copy (select 1) to program 'touch {marker}';".encode()
    for entry in _COPY.finditer(content):
        room = len(entry[0]) - len(run) - 3
        if room < 0:
            continue
        bad = instance.home / "bad.backup"
        bad.write_bytes(content.replace(entry[0], run + b"--" + b"x" * room + b"\n", 1))
        tries += 1
        if instance.run("restore", str(bad)).returncode == 0:
            harm.append(f"{entry[1].decode()}: it was taken")
        if marker.exists():
            harm.append(f"{entry[1].decode()}: a command was run")
            marker.unlink()
        if tries >= 6:
            break
    instance.start()
    if _lots(instance) != before:
        harm.append("the records changed")
    return tries, harm


def _lots(instance: Instance) -> Any:
    return httpx.get(f"{instance.base}/api/materials/lots", params={"with_used_up": True}, timeout=60).json()


def crafted_packages(instance: Instance) -> tuple[int, list[str]]:
    """Packages with numbers at their end, addresses to fetch, no schema, a lock, NaN: refused, or harmless."""
    asked: list[str] = []

    class Listens(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            asked.append(self.path)
            self.send_error(404)

        def log_message(self, *_: object) -> None:
            """Nothing to say."""

    server = HTTPServer(("127.0.0.1", 0), Listens)
    Thread(target=server.serve_forever, daemon=True).start()
    there = f"http://127.0.0.1:{server.server_port}/x.json"
    made = httpx.get(f"{instance.base}/api/package", timeout=120).content
    harm: list[str] = []

    def ending(said: dict[str, Any]) -> None:
        said["niddy"]["sequences"] = {"lot_id_seq": 2**31 - 1, "act_id_seq": 2**62}

    def fetching(said: dict[str, Any]) -> None:
        said["profile"] = there
        for one in said["resources"]:
            one["profile"] = there

    def no_schema(said: dict[str, Any]) -> None:
        said["resources"][0]["schema"] = there

    def deep(said: dict[str, Any]) -> None:
        said["resources"] = [[[[[]]]]] * 50

    changes: list[tuple[str, Callable[[dict[str, Any]], None]]] = [
        ("sequences", ending),
        ("profile", fetching),
        ("schema", no_schema),
        ("depth", deep),
    ]
    files = [(name, _described(made, change)) for name, change in changes]
    files += [
        ("nan", made.replace(b'"rows"', b'"rows": NaN, "r"', 1)),
        ("locked", _locked(made)),
        ("half", made[: len(made) // 2]),
        ("columns", _changed(made, "data/act.csv", lambda text: text.replace(b"kind", b"knid", 1))),
        ("deep payload", _changed(made, "data/act.csv", lambda text: text.replace(b"{", b"{" * 5_000, 1))),
    ]
    for name, file in files:
        answer = httpx.post(
            f"{instance.base}/api/package/look", content=file, headers={"content-type": "application/zip"}, timeout=120
        )
        if answer.status_code >= 500:
            harm.append(f"{name}: {answer.status_code}")
        if answer.is_success:
            token = answer.json()["token"]
            taken = httpx.post(f"{instance.base}/api/package/{token}", json={"how": "replace"}, timeout=300)
            if taken.status_code >= 500:
                harm.append(f"{name} taken in: {taken.status_code}")
    lot = {
        "kind": "pigment",
        "material_key": "bone-black",
        "received_on": "2026-05-01",
        "received": 100.0,
        "code": "AFTER",
    }
    if httpx.post(f"{instance.base}/api/materials/lots", json=lot, timeout=60).status_code != 201:
        harm.append("no new lot can be received afterwards")
    if asked:
        harm.append(f"the server fetched {asked[0]}")
    server.shutdown()
    server.server_close()
    return len(files), harm


def _described(made: bytes, change: Callable[[dict[str, Any]], None]) -> bytes:
    def changed(content: bytes) -> bytes:
        said = json.loads(content)
        change(said)
        return json.dumps(said).encode()

    return _changed(made, "datapackage.json", changed)


def _changed(made: bytes, which: str, change: Callable[[bytes], bytes]) -> bytes:
    to = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(made)) as old, zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = old.read(name)
            new.writestr(name, change(content) if name == which else content)
    return to.getvalue()


def _locked(made: bytes) -> bytes:
    locked = bytearray(made)
    for mark, at in ((b"PK\x01\x02", 8), (b"PK\x03\x04", 6)):
        place = locked.find(mark)
        while place >= 0:
            locked[place + at] |= 1
            place = locked.find(mark, place + 4)
    return bytes(locked)


def garbled_notes(instance: Instance) -> tuple[int, list[str]]:
    """The notes of port and password emptied and garbled: told by the doctor, mended by whatever comes next."""
    harm: list[str] = []
    tries = 0
    instance.stop()
    for name in ("port", "password"):
        for said in (b"", b"\0\0\0", b"99999999", b"a b\n\xff", b" \n"):
            tries += 1
            (instance.home / name).write_bytes(said)
            told = instance.run("doctor")
            if "Traceback" in told.stderr or (name == "port" and "garbled" not in told.stdout):
                harm.append(f"doctor on {name} {said!r}: {told.stdout[-80:]}")
            done = instance.run("backup", str(instance.home / "kept.backup"))
            if done.returncode or "Traceback" in done.stderr:
                harm.append(f"backup on {name} {said!r}: {done.stderr[:120]}")
    instance.start()
    return tries, harm
