"""A whole studio as one zip that is read without Niddy: a Data Package of CSV tables, with every column explained."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import IO, Any
from uuid import UUID

from sqlalchemy import Connection

from niddy.core.errors import Refused
from niddy.core.package import Kind, Shape
from niddy.studio import package as studio

NAME = "niddy-studio"
DESCRIPTOR, README = "datapackage.json", "README.txt"
LARGEST_BYTES = 8_000_000_000
MOST_RATIO = 300
"""Records shrink to a twentieth; what grows beyond this when opened is a bomb."""

ENCRYPTED = 0x1
"""The flag of a file in a zip that only a password opens."""

LARGEST_DESCRIPTOR, LARGEST_PICTURE = 8_000_000, 30_000_000
PIECE = 256 * 1024
ACCEPTED = "a package as Niddy wrote it: a zip with a datapackage.json"


@cache
def words() -> dict[str, str]:
    """What each column says, by its name."""
    text = (files("niddy.exchange") / "package_columns.csv").read_text("utf-8")
    return {row["column"]: row["says"] for row in csv.DictReader(io.StringIO(text))}


def write(connection: Connection, to: IO[bytes], now: datetime, version: str) -> int:
    """Write the studio seen through a snapshot as a package; the rows in it."""
    every, resources = 0, []
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        for shape in studio.shapes():
            path, digest, size = f"data/{shape.name}.csv", hashlib.sha256(), 0
            with archive.open(_entry(path, now), "w", force_zip64=True) as file:
                for piece in studio.rows(connection, shape):
                    file.write(piece)
                    digest.update(piece)
                    size += len(piece)
            count = studio.row_count(connection, shape)
            every += count
            resources.append(_resource(shape, path, size, digest.hexdigest(), count))
        for picture_id, jpeg in studio.pictures(connection):
            entry = _entry(f"pictures/{picture_id}.jpg", now)
            entry.compress_type = zipfile.ZIP_STORED
            archive.writestr(entry, jpeg)
        described = {
            "name": NAME,
            "title": "A studio's records",
            "profile": "data-package",
            "created": now.isoformat(),
            "niddy": {"version": version, "revision": studio.revision(connection), "rows": every},
            "resources": resources,
        }
        _well_formed(described)
        # Last of all: a package cut off has none, and is none.
        archive.writestr(_entry(README, now), _READ_ME)
        archive.writestr(_entry(DESCRIPTOR, now), json.dumps(described, indent=1))
    return every


def _entry(path: str, now: datetime) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(path, now.timetuple()[:6])
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


def _resource(shape: Shape, path: str, size: int, digest: str, count: int) -> dict[str, Any]:
    fields = [
        {
            "name": column.name,
            "type": str(column.kind),
            "description": words()[column.name],
            **({"format": "any"} if column.kind is Kind.DATETIME else {}),
            **({"trueValues": ["t"], "falseValues": ["f"]} if column.kind is Kind.BOOLEAN else {}),
            **({"constraints": {"required": True}} if column.needed and column.kind is not Kind.STRING else {}),
        }
        for column in shape.columns
    ]
    pointing = [(column, column.points_to) for column in shape.columns if column.points_to is not None]
    schema: dict[str, Any] = {"fields": fields, "primaryKey": list(shape.key), "missingValues": [""]}
    if pointing:
        schema["foreignKeys"] = [
            {
                "fields": [column.name],
                "reference": {"resource": "" if to[0] == shape.name else to[0], "fields": [to[1]]},
            }
            for column, to in pointing
        ]
    return {
        "name": shape.name,
        "path": path,
        "description": shape.says,
        "profile": "tabular-data-resource",
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "bytes": size,
        "hash": f"sha256:{digest}",
        "rows": count,
        "schema": schema,
    }


_READ_ME = """A studio's records, as a Data Package (https://specs.frictionlessdata.io/data-package/).

data/*.csv      one table each: UTF-8, a comma between fields, the first line names the columns
pictures/*.jpg  the pictures; photo.csv says which is which by its id
datapackage.json  what every table and column is, with units, and which column points to which table

A field without quotes and nothing in it is nothing; "" is a text that is empty. Times are in UTC. t and f are true and
false. Lists stand in braces. Columns said to be JSON hold JSON.

Passwords, PINs and signed-in devices are not in here. Everything else is: keep it where you keep your records.
Colour figures, oil demands and hazards of materials are approximate and general; follow each material's safety data
sheet.
"""


class Opened:
    """A package that was opened: what it says of itself, its tables and pictures, and files in it nobody knows."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self._entries = {entry.filename: entry for entry in archive.infolist() if not entry.is_dir()}
        self._check_names()
        described = self._described()
        about = described.get("niddy")
        if not isinstance(about, dict) or described.get("name") != NAME:
            raise Refused("package", "a Data Package, but not of a studio", ACCEPTED)
        self.revision = studio.known_revision(about.get("revision"))
        self.made = str(described.get("created", ""))[:40]
        described = _ours(described)
        _well_formed(described)
        self._resources = {str(one["name"]): one for one in described["resources"]}
        known = {DESCRIPTOR, README, *(str(one["path"]) for one in self._resources.values())}
        self._pictures = {name: entry for name, entry in self._entries.items() if _picture_id(name) is not None}
        self.unknown = tuple(sorted(set(self._entries) - known - set(self._pictures)))[:50]

    def _check_names(self) -> None:
        if any(entry.flag_bits & ENCRYPTED for entry in self._entries.values()):
            raise Refused("package", "it is locked with a password", "the zip as Niddy wrote it, without one")
        for name, entry in self._entries.items():
            if name.startswith(("/", "\\")) or "\\" in name or ":" in name or ".." in Path(name).parts:
                raise Refused("package", f"a file in it climbs out of its folder: {name[:80]}", ACCEPTED)
            if entry.file_size > MOST_RATIO * max(entry.compress_size, 1_000):
                raise Refused("package", f"{name[:80]} grows beyond all measure when opened", ACCEPTED)
        if sum(entry.file_size for entry in self._entries.values()) > LARGEST_BYTES:
            raise Refused("package", "it is too large once opened", f"at most {LARGEST_BYTES // 10**9} GB")

    def _described(self) -> dict[str, Any]:
        entry = self._entries.get(DESCRIPTOR)
        if entry is None:
            raise Refused("package", "it has no datapackage.json: another zip, or one cut off", ACCEPTED)
        if entry.file_size > LARGEST_DESCRIPTOR:
            raise Refused("package", "its datapackage.json is too large", ACCEPTED)
        try:
            read = json.loads(self._archive.read(entry), parse_constant=_no_number)
        except (ValueError, RecursionError, RuntimeError, NotImplementedError, zipfile.BadZipFile, OSError, EOFError):
            raise Refused("package", "its datapackage.json cannot be read", ACCEPTED) from None
        if not isinstance(read, dict):
            raise Refused("package", "its datapackage.json says nothing", ACCEPTED)
        return read

    def columns(self, table: str) -> tuple[str, ...] | None:
        """The columns of a table, or None where the package has none of it."""
        found = self._resources.get(table)
        if found is None:
            return None
        return tuple(str(field["name"]) for field in found["schema"]["fields"])

    def pieces(self, table: str) -> Iterator[bytes]:
        """A table as CSV, held against its length and hash. Raises Refused."""
        said = self._resources[table]
        entry = self._entries.get(str(said["path"]))
        if entry is None:
            raise Refused("package", f"{said['path']} is missing", ACCEPTED)
        digest = hashlib.sha256()
        first = True
        for piece in self._read(entry):
            digest.update(piece)
            if first:
                self._check_header(table, piece)
                first = False
            yield piece
        if said.get("hash") != f"sha256:{digest.hexdigest()}":
            raise Refused("package", f"{said['path']} was changed or cut off since it was written", ACCEPTED)

    def _check_header(self, table: str, piece: bytes) -> None:
        header = next(csv.reader([piece.split(b"\n", 1)[0].decode("utf-8", "replace")]), [])
        if tuple(header) != self.columns(table):
            raise Refused("package", f"the first line of {table}.csv names other columns", ACCEPTED)

    def pictures(self) -> Iterator[tuple[UUID, bytes]]:
        """The pictures, one at a time. Raises Refused."""
        for name, entry in self._pictures.items():
            picture_id = _picture_id(name)
            assert picture_id is not None
            if entry.file_size > LARGEST_PICTURE:
                raise Refused("package", f"{name} is too large", f"pictures of {LARGEST_PICTURE // 10**6} MB at most")
            read = b"".join(self._read(entry))
            if not read.startswith(b"\xff\xd8\xff"):
                raise Refused("package", f"{name} is not a picture", ACCEPTED)
            yield picture_id, read

    def _read(self, entry: zipfile.ZipInfo) -> Iterator[bytes]:
        taken = 0
        try:
            with self._archive.open(entry) as file:
                while piece := file.read(PIECE):
                    taken += len(piece)
                    if taken > entry.file_size:
                        raise Refused("package", f"{entry.filename} is longer than it says", ACCEPTED)
                    yield piece
        except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, RuntimeError) as error:
            raise Refused("package", f"{entry.filename} is damaged or cut off", ACCEPTED) from error


def _picture_id(name: str) -> UUID | None:
    path = Path(name)
    if path.parent != Path("pictures") or path.suffix != ".jpg":
        return None
    try:
        return UUID(path.stem)
    except ValueError:
        return None


@contextmanager
def opened(file: Path) -> Iterator[Opened]:
    """A package, opened to be looked at or taken in. Raises Refused for what is none."""
    try:
        archive = zipfile.ZipFile(file)
    except (zipfile.BadZipFile, OSError, ValueError):
        raise Refused("package", "not a zip file, or one cut short", ACCEPTED) from None
    with archive:
        yield Opened(archive)


def _no_number(said: str) -> float:
    """NaN and infinity, which JSON has no words for. Raises ValueError."""
    raise ValueError(said)


_OF_A_RESOURCE = ("name", "path", "description", "format", "mediatype", "encoding", "bytes", "hash", "rows")


def _ours(described: dict[str, Any]) -> dict[str, Any]:
    """What of a descriptor is read: nothing that names an address or a file elsewhere is handed on to be fetched.

    Raises Refused where a table is not described in it.
    """
    resources = described.get("resources")
    if not isinstance(resources, list):
        raise Refused("package", "its datapackage.json names no tables", ACCEPTED)
    return {
        "name": NAME,
        "title": "A studio's records",
        "profile": "data-package",
        "resources": [_our_resource(one) for one in resources],
    }


def _our_resource(one: object) -> dict[str, Any]:
    schema = one.get("schema") if isinstance(one, dict) else None
    fields = schema.get("fields") if isinstance(schema, dict) else None
    if not isinstance(one, dict) or not isinstance(fields, list) or not fields:
        name = str(one.get("name", ""))[:40] if isinstance(one, dict) else "one of its tables"
        raise Refused("package", f"the columns of {name} are not said in it", ACCEPTED)
    if not all(isinstance(field, dict) and isinstance(field.get("name"), str) for field in fields):
        raise Refused("package", f"the columns of {str(one.get('name', ''))[:40]} have no names", ACCEPTED)
    kept = {key: one[key] for key in _OF_A_RESOURCE if isinstance(one.get(key), str | int)}
    named = [{"name": field["name"], "type": str(field.get("type", "any"))} for field in fields]
    return {**kept, "profile": "tabular-data-resource", "schema": {"fields": named, "missingValues": [""]}}


def _well_formed(described: dict[str, Any]) -> None:
    """Raise Refused where it is no Data Package of tables, or its tables lie elsewhere than in it."""
    # Nearly a second to load: only who takes a studio out or in waits for it.
    from frictionless import FrictionlessException, Package

    try:
        Package.from_descriptor(described)
    except FrictionlessException as error:
        why = next(iter(str(error).splitlines()), "")[:160]
        raise Refused("package", f"its datapackage.json is none ({why})", ACCEPTED) from None
    for one in described["resources"]:
        path = one.get("path")
        if not isinstance(path, str) or not path.startswith("data/") or not one.get("schema", {}).get("fields"):
            raise Refused("package", f"the table {str(one.get('name'))[:40]} is not in it", ACCEPTED)
