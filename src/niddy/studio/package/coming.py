"""A studio as it comes in: loaded beside, brought to today's tables, held against what is here, then all or nothing."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol
from uuid import UUID

import psycopg
from psycopg import sql
from sqlalchemy import Connection, Float, Integer, Numeric, create_engine, text
from sqlalchemy.exc import DBAPIError, IntegrityError
from sqlalchemy.orm import Session

from niddy.core import package as core
from niddy.core.errors import Refused
from niddy.core.package import Coming, How, ways
from niddy.db import Database, migrations
from niddy.studio import workshop
from niddy.studio.errors import Conflict
from niddy.studio.package import reading
from niddy.studio.package.leaving import KEPT_BACK, PICTURE, STAYS, driver, shapes, tables

PREFIX = "coming_"
FURNITURE = frozenset({"slab", "muller", "tube_type", "studio_settings", "alembic_version", "maker", "maker_change"})
"""Tables that an empty studio has rows in as well."""


class Source(Protocol):
    """A package that was opened: what it says of itself, and its tables and pictures."""

    revision: str

    def columns(self, table: str) -> tuple[str, ...] | None:
        """The columns of a table in the order of its rows, or None where the package has none of it."""

    def pieces(self, table: str) -> Iterator[bytes]:
        """A table as CSV with a header, in pieces. Raises Refused where it is not what the package says."""

    def pictures(self) -> Iterator[tuple[UUID, bytes]]:
        """The pictures, one at a time. Raises Refused."""


@dataclass(frozen=True, slots=True)
class Look:
    """What would come in, table by table, whether nothing is recorded here yet, and how it may come."""

    tables: tuple[Coming, ...]
    here_is_empty: bool
    ways: tuple[How, ...]


def known_revision(given: object) -> str:
    """The revision of a package's tables. Raises Refused for one this program does not know."""
    return core.known_revision(given, migrations.revisions())


def look(database: Database, source: Source) -> Look:
    """What would come in; changes nothing. Raises Refused."""
    with _beside(database, source) as schema, database.engine.connect() as connection:
        return _look(connection, schema)


def take_in(database: Database, source: Source, how: How, now: datetime) -> Look:
    """Take a package in, all of it or nothing; what came in. Raises Refused, Conflict where it cannot come that way."""
    with _beside(database, source) as schema:
        _read_through(database, schema, now)
        return _come_in(database, schema, how)


def _read_through(database: Database, schema: str, now: datetime) -> None:
    """Hold what would come in against the models of its rooms. Raises Refused."""
    engine = create_engine(_url_of(database, schema))
    try:
        with Session(engine) as session:
            reading.check(session, now)
            session.rollback()
    finally:
        engine.dispose()


def _come_in(database: Database, schema: str, how: How) -> Look:
    with database.engine.begin() as connection:
        # Whoever writes meanwhile would be lost between the look and what follows.
        names = ", ".join(f'"{table.name}"' for table in tables())
        connection.execute(text(f"lock table {names} in share row exclusive mode"))
        seen = _look(connection, schema)
        if how not in seen.ways:
            raise Conflict("how", "records here say otherwise than the package", "in place of all that is here")
        if how is How.REPLACE:
            _replace(connection, schema)
        else:
            _add(connection, schema)
        _number_on(connection)
        return seen


def lay_down(database: Database, source: Source) -> None:
    """Lay a package of this program's own tables down where nothing is recorded: as it is, looked at by nobody.

    Makers stay. Raises Refused for one of other tables.
    """
    if source.revision != migrations.revisions()[0]:
        raise Refused("package", f"made by tables of revision {source.revision}", "one made anew")
    with database.engine.begin() as connection:
        secret = connection.execute(text("select calendar_secret from studio_settings")).scalar()
        going = ", ".join(f'"{table.name}"' for table in tables() if table.name not in ("maker", "maker_change"))
        connection.execute(text(f"truncate {going}"))
        # Named by its schema: what was made checkable at the end is put back as it was.
        turned = _load(connection, "public", source, leave=frozenset({"maker", "maker_change"}))
        for table, constraint in turned:
            connection.execute(text(f'alter table {table} alter constraint "{constraint}" not deferrable'))
        connection.execute(text("update studio_settings set calendar_secret = :secret"), {"secret": secret})
        _number_on(connection)


def clear_leftovers(database: Database) -> None:
    """Remove what an import that was cut off left beside."""
    with database.engine.begin() as connection:
        for name in connection.execute(
            text("select nspname from pg_namespace where nspname like :prefix"),
            {"prefix": PREFIX.replace("_", r"\_") + "%"},
        ).scalars():
            connection.execute(text(f'drop schema "{name}" cascade'))


def _url_of(database: Database, schema: str) -> str:
    return f"{database.url}{'&' if '?' in database.url else '?'}options=-csearch_path%3D{schema}"


@contextmanager
def _beside(database: Database, source: Source) -> Iterator[str]:
    """The name of a schema that holds the package in today's tables, gone at the end."""
    schema = PREFIX + secrets.token_hex(8)
    with database.engine.begin() as connection:
        connection.execute(text(f"create schema {schema}"))
    try:
        _fill(_url_of(database, schema), schema, source)
        yield schema
    finally:
        with database.engine.begin() as connection:
            connection.execute(text(f"drop schema if exists {schema} cascade"))


def _fill(url: str, schema: str, source: Source) -> None:
    """Make the tables a package was made from, load it, and bring it to today's. Raises Refused."""
    engine = create_engine(url)
    try:
        migrations.upgrade(url, source.revision)
        with engine.begin() as connection:
            _load(connection, schema, source)
        migrations.upgrade(url)
        with engine.connect() as connection:
            _check_numbers(connection, schema)
        with Session(engine) as session, session.begin():
            # A package of some tables alone has none of what every studio begins with.
            workshop.furnish(session)
    except (psycopg.Error, DBAPIError) as error:
        what = getattr(error, "orig", None) or error
        if isinstance(what, psycopg.OperationalError):
            raise
        why = f"its records do not hold together ({str(what).splitlines()[0][:160]})"
        raise Refused("package", why, "a package as Niddy wrote it") from error
    finally:
        engine.dispose()


HIGHEST_ID = 1_000_000_000
"""No studio has so many of anything; beyond it numbers would run out."""


def _check_numbers(connection: Connection, schema: str) -> None:
    """Hold that every number is one: neither NaN nor infinite, and no id near the end of all ids. Raises Refused."""
    for table in tables():
        floats = [column.name for column in table.columns if isinstance(column.type, Float | Numeric)]
        ids = [column.name for column in table.columns if isinstance(column.type, Integer)]
        odd = [
            *(f"""\"{name}\" in ('NaN', 'Infinity', '-Infinity')""" for name in floats),
            *(f'abs("{name}"::bigint) > {HIGHEST_ID}' for name in ids),
        ]
        if not odd:
            continue
        found = text(f'select exists (select 1 from {schema}."{table.name}" where {" or ".join(odd)})')
        if connection.execute(found).scalar_one():
            raise Refused(
                "package",
                f"a number in {table.name} could never have been recorded",
                f"finite numbers, and ids up to {HIGHEST_ID}",
            )


def _load(
    connection: Connection, schema: str, source: Source, leave: frozenset[str] = frozenset()
) -> list[tuple[str, str]]:
    """Load every table of a package but some; what points to what is looked at once all is there.

    The constraints that were made to wait for that, by their tables.
    """
    found = connection.execute(
        text(
            "select conrelid::regclass::text, conname from pg_constraint where contype = 'f' and not condeferrable"
            " and connamespace = (select oid from pg_namespace where nspname = :schema)"
        ),
        {"schema": schema},
    ).all()
    for table, constraint in found:
        connection.execute(text(f'alter table {table} alter constraint "{constraint}" deferrable initially deferred'))
    there = connection.execute(
        text("select table_name from information_schema.tables where table_schema = :schema"), {"schema": schema}
    ).scalars()
    for table in sorted(set(there) - {"alembic_version"} - STAYS - leave):
        _load_table(connection, schema, source, table)
    connection.execute(text("set constraints all immediate"))
    return [(str(table), str(constraint)) for table, constraint in found]


def _load_table(connection: Connection, schema: str, source: Source, table: str) -> None:
    columns = source.columns(table)
    if columns is None:
        return
    kept = {
        row.column_name: row
        for row in connection.execute(
            text(
                "select column_name, is_nullable, data_type from information_schema.columns"
                " where table_schema = :schema and table_name = :table and is_generated = 'NEVER'"
            ),
            {"schema": schema, "table": table},
        )
    }
    renamed = [PICTURE[1] if (table, column) == (PICTURE[0], "file") else column for column in columns]
    strange = sorted(set(renamed) - set(kept)) + sorted(set(kept) - set(renamed))
    if strange or len(set(renamed)) != len(renamed):
        raise Refused(
            "package",
            f"the columns of {table} are not what they should be: {', '.join(strange)[:100]}",
            "a package as Niddy wrote it",
        )
    into, others = table, ""
    if table == PICTURE[0]:
        # The pictures themselves come as files: what is said of them waits for them.
        into = "described_photo"
        others = ", ".join(f'"{name}"' for name in renamed if name != PICTURE[1])
        connection.execute(
            text(f"create temporary table {into} on commit drop as select {others}, ''::text as jpeg from photo")
        )
    # A text that may not be nothing is empty where its field is: spreadsheets drop the quotes.
    empty = [name for name in renamed if kept[name].is_nullable == "NO" and kept[name].data_type == "character varying"]
    names, forced = sql.SQL(", ").join(map(sql.Identifier, renamed)), sql.SQL(", ").join(map(sql.Identifier, empty))
    option = sql.SQL(", force_not_null ({})").format(forced) if empty else sql.SQL("")
    copying = sql.SQL("copy {} ({}) from stdin (format csv, header{})")
    statement = copying.format(sql.Identifier(into), names, option)
    with driver(connection).cursor() as cursor, cursor.copy(statement) as copy:
        for piece in source.pieces(table):
            copy.write(piece)
    if table == PICTURE[0]:
        _load_pictures(connection, source, others)


def _load_pictures(connection: Connection, source: Source, others: str) -> None:
    into = text(f"insert into photo ({others}, jpeg) select {others}, :jpeg from described_photo where id = :id")
    for picture_id, jpeg in source.pictures():
        connection.execute(into, {"jpeg": jpeg, "id": picture_id})
    missing = connection.execute(text("select count(*) from described_photo where id not in (select id from photo)"))
    if missing.scalar_one():
        raise Refused("package", "pictures are missing that it says it has", "a package as Niddy wrote it")


def _columns(table: str) -> list[str]:
    shape = next(shape for shape in shapes() if shape.name == table)
    return [PICTURE[1] if (table, column.name) == (PICTURE[0], "file") else column.name for column in shape.columns]


def _look(connection: Connection, schema: str) -> Look:
    found, empty = [], True
    for shape in shapes():
        names = [name for name in _columns(shape.name) if (shape.name, name) not in KEPT_BACK]
        on = " and ".join(f'c."{name}" = h."{name}"' for name in shape.key)
        differs = " or ".join(f'c."{name}" is distinct from h."{name}"' for name in names)
        key = shape.key[0]
        row = connection.execute(
            text(
                f'select count(*) filter (where h."{key}" is null) as new,'
                f' count(*) filter (where h."{key}" is not null and ({differs})) as otherwise, count(*) as every'
                f' from {schema}."{shape.name}" c left join public."{shape.name}" h on {on}'
            )
        ).one()
        found.append(Coming(shape.name, shape.says, row.new, row.every - row.new - row.otherwise, row.otherwise))
        if shape.name not in FURNITURE:
            here = connection.execute(text(f'select exists (select 1 from public."{shape.name}")')).scalar_one()
            empty = empty and not here
    coming = tuple(found)
    return Look(coming, empty, ways(coming, here_is_empty=empty))


def _replace(connection: Connection, schema: str) -> None:
    """Everything here makes way, but for who signs in: makers of this studio stay, with passwords and devices."""
    _as_makers_here(connection, schema)
    connection.execute(
        text("create temporary table kept_secret on commit drop as select calendar_secret from public.studio_settings")
    )
    # Makers point to nothing, and what points to them goes or stays with them.
    going = [table.name for table in tables() if table.name != "maker"]
    connection.execute(text("truncate " + ", ".join(f'public."{name}"' for name in going)))
    _insert(connection, schema, "maker", "where not exists (select 1 from public.maker h where h.id = c.id)")
    for shape in shapes():
        if shape.name != "maker":
            _insert(connection, schema, shape.name, "")
    connection.execute(
        text("update public.studio_settings set calendar_secret = (select calendar_secret from kept_secret)")
    )


def _as_makers_here(connection: Connection, schema: str) -> None:
    """Let the package's makers be those of this studio, by name; who is not here gets an id nobody has."""
    # Who left comes before who is here under the same name.
    there = connection.execute(text("select name_key, id from public.maker order by gone_at is null, id")).all()
    here = {row.name_key: row.id for row in there}
    coming = connection.execute(text(f"select id, name_key from {schema}.maker order by id")).all()
    taken = set(here.values())
    free = 1 + max([0, *taken, *(row.id for row in coming)])
    moved: dict[int, int] = {}
    for row in coming:
        moved[row.id] = here.get(row.name_key) or (free if row.id in taken else row.id)
        free += moved[row.id] == free
    if not moved:
        return
    connection.execute(text("create temporary table moved (old integer, new integer) on commit drop"))
    connection.execute(
        text("insert into moved (old, new) values (:old, :new)"), [{"old": a, "new": b} for a, b in moved.items()]
    )
    pointing = [
        (table.name, column.name)
        for table in tables()
        for column in table.columns
        for key in column.foreign_keys
        if key.column.table.name == "maker"
    ]
    connection.execute(text("set constraints all deferred"))
    for table, column in (*pointing, ("maker", "id")):
        # By a detour, so that two who change places meet nobody on the way.
        for sign in ("-", ""):
            value, old = (f"{sign}moved.new", "moved.old") if sign else ("moved.new", "-moved.new")
            connection.execute(
                text(f'update {schema}."{table}" t set "{column}" = {value} from moved where t."{column}" = {old}')
            )
    connection.execute(text("set constraints all immediate"))


def _add(connection: Connection, schema: str) -> None:
    for shape in shapes():
        on = " and ".join(f'h."{name}" = c."{name}"' for name in shape.key)
        _insert(connection, schema, shape.name, f'where not exists (select 1 from public."{shape.name}" h where {on})')


def _insert(connection: Connection, schema: str, table: str, where: str) -> None:
    names = ", ".join(f'"{name}"' for name in _columns(table))
    try:
        connection.execute(
            text(f'insert into public."{table}" ({names}) select {names} from {schema}."{table}" c {where}')
        )
    except IntegrityError as error:
        why = str(error.orig).splitlines()[0]
        raise Conflict(
            "how", f"it does not fit beside what is here ({why[:140]})", "in place of all that is here"
        ) from error


def _number_on(connection: Connection) -> None:
    """Every sequence and every room's counter goes on after the highest number that is used: computed, never taken."""
    for table in tables():
        for column in table.primary_key.columns:
            at = {"table": f'public."{table.name}"', "column": column.name}
            owned = connection.execute(text("select pg_get_serial_sequence(:table, :column)"), at).scalar_one()
            if owned is not None:
                used = f'select max("{column.name}") as used from public."{table.name}"'
                on = f"select setval('{owned}', greatest((select last_value from {owned}), used)) from ({used}) there"
                connection.execute(text(f"{on} where used is not null"))
    connection.execute(
        text(
            "insert into public.numbering (room, last) select room, max(number) from public.job group by room"
            " on conflict (room) do update set last = greatest(numbering.last, excluded.last)"
        )
    )
