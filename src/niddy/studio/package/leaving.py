"""A studio as it leaves: every table but what proves who somebody is."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from uuid import UUID

import psycopg
from psycopg import sql
from sqlalchemy import ARRAY, Boolean, Connection, Date, DateTime, Integer, LargeBinary, Numeric, Table, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.types import Float

from niddy import registry
from niddy.core.package import Column, Kind, Shape
from niddy.db import Base

STAYS = frozenset({"maker_credential", "maker_session", "maker_pairing", "maker_device"})
"""Tables that never leave: passwords, PINs and devices that are signed in."""

DERIVED = frozenset({"numbering"})
"""Tables that follow from the others."""

KEPT_BACK = {("studio_settings", "calendar_secret")}
"""Columns that leave empty."""

PICTURE = ("photo", "jpeg")
"""The column that leaves as files."""


def tables() -> list[Table]:
    """The tables that leave, each after those it points to."""
    registry.load_tables()
    return [table for table in Base.metadata.sorted_tables if table.name not in STAYS | DERIVED]


def shapes() -> tuple[Shape, ...]:
    """What the tables that leave are."""
    says = {mapper.local_table.name: mapper.class_.__doc__ or "" for mapper in Base.registry.mappers}  # type: ignore[attr-defined]
    return tuple(
        Shape(
            table.name,
            " ".join(says.get(table.name, "").split("\n\n")[0].split()),
            # What is computed from other columns is computed again.
            tuple(_column(column) for column in table.columns if column.computed is None),
            tuple(column.name for column in table.primary_key.columns),
        )
        for table in tables()
    )


def _column(column: Any) -> Column:
    points = next(iter(column.foreign_keys), None)
    to = (points.column.table.name, points.column.name) if points is not None else None
    name = "file" if (column.table.name, column.name) == PICTURE else column.name
    return Column(name, _kind(column.type), not column.nullable and name != "file", to)


def _kind(kind: Any) -> Kind:
    for known, said in (
        (Boolean, Kind.BOOLEAN),
        (Integer, Kind.INTEGER),
        (DateTime, Kind.DATETIME),
        (Date, Kind.DATE),
        (JSONB, Kind.ANY),
        (Float, Kind.NUMBER),
        (Numeric, Kind.NUMBER),
        (ARRAY, Kind.STRING),
        (LargeBinary, Kind.STRING),
    ):
        if isinstance(kind, known):
            return said
    return Kind.STRING


def driver(connection: Connection) -> psycopg.Connection[Any]:
    """The driver's own connection, for COPY."""
    found = connection.connection.driver_connection
    assert isinstance(found, psycopg.Connection)
    return found


def rows(connection: Connection, shape: Shape) -> Iterator[bytes]:
    """A table as CSV with a header, in pieces; an empty text stands in quotes, so that nothing is not taken for it."""
    columns = [
        sql.SQL("'pictures/' || id || '.jpg' as file")
        if (shape.name, column.name) == (PICTURE[0], "file")
        else sql.SQL("null as {}").format(sql.Identifier(column.name))
        if (shape.name, column.name) in KEPT_BACK
        else sql.Identifier(column.name)
        for column in shape.columns
    ]
    statement = sql.SQL("copy (select {} from {} order by {}) to stdout (format csv, header)").format(
        sql.SQL(", ").join(columns),
        sql.Identifier(shape.name),
        sql.SQL(", ").join(sql.Identifier(name) for name in shape.key),
    )
    with driver(connection).cursor() as cursor, cursor.copy(statement) as copy:
        for piece in copy:
            yield bytes(piece)


def row_count(connection: Connection, shape: Shape) -> int:
    """How many rows a table has."""
    return int(connection.execute(text(f'select count(*) from "{shape.name}"')).scalar_one())


def pictures(connection: Connection) -> Iterator[tuple[UUID, bytes]]:
    """Every picture, one at a time."""
    one = text("select jpeg from photo where id = :id")
    for picture_id in connection.execute(text("select id from photo order by id")).scalars().all():
        yield picture_id, connection.execute(one, {"id": picture_id}).scalar_one()


def revision(connection: Connection) -> str:
    """The revision of the tables."""
    return str(connection.execute(text("select version_num from alembic_version")).scalar_one())
