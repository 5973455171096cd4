"""Tubes and jars as they are kept and listed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from typing import Annotated, Any
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import ColumnExpressionArgument, Select, String, func, literal_column, or_, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.colour import undertone_of
from niddy.core.contents import Contents, scaled
from niddy.core.shelf import Outcome
from niddy.db.shelf import ItemUse, ShelfEvent, ShelfItem
from niddy.studio import batches
from niddy.studio.errors import Missing
from niddy.studio.words import Words

Text = Annotated[Words, Field(max_length=500)]


HERE = ("kept", "waiting")


SORTS = ("oldest", "newest", "colour", "due", "name", "place")


class ItemKind(StrEnum):
    """What holds the paint."""

    TUBE = "tube"
    JAR = "jar"


class Left(StrEnum):
    """How paint leaves the shelf."""

    GIVEN = "given"
    SOLD = "sold"
    USED_UP = "used_up"
    DISCARDED = "discarded"
    REGROUND = "reground"


@dataclass(frozen=True, slots=True)
class NewItem:
    """A tube or jar to be put on the shelf."""

    request_id: UUID
    kind: ItemKind
    name: str
    masstone_srgb: str
    container: str
    volume_ml: float
    filled_on: date
    batch_number: int | None = None
    usable_ml: float | None = None
    density_g_per_ml: float | None = None
    gross_g: float | None = None
    tare_g: float | None = None
    place: str = ""
    cover: str = ""
    note: str = ""
    use_by: date | None = None
    status: str = "kept"
    unknown_hazard: bool = False
    hazards: tuple[str, ...] = ()
    contents: Contents = ()


@dataclass(frozen=True, slots=True)
class ItemLine:
    """A tube or jar as lists show it; `full` is how much of what it takes is in it, at most 1.

    `last_seen` is what its last inspection came to, in a few words.
    """

    id: int
    code: str
    kind: ItemKind
    name: str
    masstone_srgb: str
    undertone_srgb: str
    batch_number: int | None
    topped_by: int | None
    container: str
    usable_ml: float | None
    volume_ml: float
    full: float
    place: str
    filled_on: date
    use_by: date | None
    status: str
    next_inspection_on: date | None
    due: bool
    past_use_by: bool
    last_outcome: Outcome | None
    last_seen: str
    unknown_hazard: bool


@dataclass(frozen=True, slots=True)
class ItemEvent:
    """Something that happened to it, in words."""

    id: UUID
    kind: str
    at: datetime
    text: str


@dataclass(frozen=True, slots=True)
class Page:
    """A part of the shelf, how much there is in all, the places in use, and how many are due."""

    items: tuple[ItemLine, ...]
    total: int
    places: tuple[str, ...]
    due: int


@dataclass(frozen=True, slots=True)
class Wanted:
    """What to look for on the shelf; everything given must hold. `gone` shows what left as well."""

    words: str = ""
    place: str | None = None
    kind: ItemKind | None = None
    batch_number: int | None = None
    only_due: bool = False
    at_risk: bool = False
    gone: bool = False
    sort: str = "oldest"
    offset: int = 0
    limit: int = 100


def log_event(
    session: Session, item_id: int, event_id: UUID, kind: str, value: dict[str, Any], at: datetime, now: datetime
) -> None:
    """Write what happened to a tube or jar into its log."""
    last = session.scalar(select(func.max(ShelfEvent.seq)).where(ShelfEvent.item_id == item_id)) or 0
    session.add(ShelfEvent(id=event_id, item_id=item_id, seq=last + 1, kind=kind, value=value, at=at, recorded_at=now))
    session.flush()


def item_line(row: Any, today: date) -> ItemLine:
    """A line of a row of the table, whole or of the columns of `_LINE`."""
    here = row.status in HERE
    due = here and row.next_inspection_on is not None and row.next_inspection_on <= today
    return ItemLine(
        row.id, row.code, ItemKind(row.kind), row.name, row.masstone_srgb, undertone_of(row.masstone_srgb),
        row.batch_number, row.topped_by,
        row.container, row.usable_ml, row.volume_ml, min(1.0, row.volume_ml / (row.usable_ml or row.volume_ml)),
        row.place, row.filled_on, row.use_by, row.status,
        row.next_inspection_on, due, here and row.use_by is not None and row.use_by < today,
        Outcome(row.last_outcome) if row.last_outcome else None,
        core.SEEN[Outcome(row.last_outcome)] if row.last_outcome else "", row.unknown_hazard,
    )  # fmt: skip


_ORDERS = {
    "oldest": (ShelfItem.filled_on, ShelfItem.id),
    "newest": (ShelfItem.filled_on.desc(), ShelfItem.id.desc()),
    "colour": (ShelfItem.colour_order, ShelfItem.filled_on),
    "due": (ShelfItem.next_inspection_on, ShelfItem.filled_on),
    "name": (ShelfItem.name, ShelfItem.filled_on),
    "place": (ShelfItem.place, ShelfItem.filled_on),
}


AT_RISK = (Outcome.REGRIND, Outcome.REGRIND_PRONE, Outcome.LIFT_SKIN, Outcome.DISCARD, Outcome.STIR_BACK)


def search(session: Session, now: datetime, wanted: Wanted) -> Page:
    """A part of the shelf, as asked."""
    where = _conditions(now.date(), wanted)
    counts = session.execute(
        select(
            select(func.count()).select_from(ShelfItem).where(*where).scalar_subquery(),
            _due(now.date()).scalar_subquery(),
            _PLACES,
        )
    ).one()
    return Page(_lines(session, now, wanted), counts[0], tuple(counts[2]), counts[1])


_LINE = (
    ShelfItem.id, ShelfItem.code, ShelfItem.kind, ShelfItem.name, ShelfItem.masstone_srgb, ShelfItem.batch_number,
    ShelfItem.topped_by, ShelfItem.container, ShelfItem.usable_ml, ShelfItem.volume_ml, ShelfItem.place,
    ShelfItem.filled_on, ShelfItem.use_by, ShelfItem.status, ShelfItem.next_inspection_on, ShelfItem.last_outcome,
    ShelfItem.unknown_hazard,
)  # fmt: skip


# Every place in use by one step of the index each, however many tubes stand there.
_PLACES = literal_column(
    "array(with recursive found as ("
    "(select place from shelf_item where here and place <> '' order by place limit 1) union all"
    " (select (select place from shelf_item where here and place > found.place order by place limit 1)"
    " from found where found.place is not null))"
    " select place from found where place is not null limit 200)",
    ARRAY(String),
)


def _lines(session: Session, now: datetime, wanted: Wanted) -> tuple[ItemLine, ...]:
    rows = session.execute(
        select(*_LINE)
        .where(*_conditions(now.date(), wanted))
        .order_by(*_ORDERS[wanted.sort])
        .offset(wanted.offset)
        .limit(wanted.limit)
    )
    return tuple(item_line(row, now.date()) for row in rows)


def _conditions(today: date, wanted: Wanted) -> list[ColumnExpressionArgument[bool]]:
    where: list[ColumnExpressionArgument[bool]] = []
    if not wanted.gone:
        where.append(ShelfItem.here)
    if wanted.place is not None:
        where.append(ShelfItem.place == wanted.place)
    if wanted.kind is not None:
        where.append(ShelfItem.kind == wanted.kind)
    if wanted.batch_number is not None:
        where.append(or_(ShelfItem.batch_number == wanted.batch_number, ShelfItem.topped_by == wanted.batch_number))
    if wanted.only_due:
        where.append(ShelfItem.next_inspection_on <= today)
    if wanted.at_risk:
        where.append(or_(ShelfItem.last_outcome.in_(AT_RISK), ShelfItem.use_by < today))
    where += [ShelfItem.searched.contains(word, autoescape=True) for word in wanted.words.lower().split()]
    return where


def _due(today: date) -> Select[int]:
    return select(func.count()).select_from(ShelfItem).where(ShelfItem.here, ShelfItem.next_inspection_on <= today)


def due_count(session: Session, now: datetime) -> int:
    """How many are due for inspection."""
    return session.scalar(_due(now.date())) or 0


def at_risk(session: Session, now: datetime) -> tuple[ItemLine, ...]:
    """What separated, skinned, spoiled or is past its use-by, the oldest first."""
    return _lines(session, now, Wanted(at_risk=True, limit=6))


def due(session: Session, now: datetime) -> tuple[ItemLine, ...]:
    """What is due for inspection, the longest waiting first."""
    return _lines(session, now, Wanted(only_due=True, sort="due", limit=6))


def by_code(session: Session, code: str) -> int | None:
    """The id of a tube or jar by its code, or of the first one here of a batch by its number; None where none is."""
    text = code.strip().lstrip("#")
    found = session.scalar(select(ShelfItem.id).where(func.upper(ShelfItem.code) == text.upper()))
    if found is None and text.isdecimal() and len(text) < 10:
        found = session.scalar(
            select(ShelfItem.id)
            .where(ShelfItem.batch_number == int(text), ShelfItem.status.in_(HERE))
            .order_by(ShelfItem.id)
            .limit(1)
        )
    return found


def by_request(session: Session, request_id: UUID) -> int | None:
    """The id of what a request put on the shelf or topped up, or None."""
    found = session.scalar(select(ShelfItem.id).where(ShelfItem.request_id == request_id))
    if found is None:
        found = session.scalar(select(ShelfEvent.item_id).where(ShelfEvent.id == request_id))
    return found


def item_row(session: Session, item_id: int, *, lock: bool = False) -> ShelfItem:
    """The row of a tube or jar, held where `lock`. Raises Missing."""
    row = session.get(ShelfItem, item_id, with_for_update=lock or None, populate_existing=lock)
    if row is None:
        raise Missing("tube or jar", item_id)
    return row


CONTENTS: TypeAdapter[Contents] = TypeAdapter(Contents)
"""How contents are kept."""


def contents_of_row(session: Session, row: ShelfItem) -> Contents:
    """What is in a tube or jar; of one filled before contents were kept, its share of its batch."""
    if row.contents:
        return CONTENTS.validate_python(row.contents)
    if row.batch_number is None:
        return ()
    kept, line = batches.several(session, [row.batch_number])[row.batch_number]
    return scaled(batches.contents_of(kept), row.volume_ml / max(line.made_ml, row.volume_ml))


@dataclass(frozen=True, slots=True)
class Held:
    """A tube or jar with what is in it, and every hazard key that was ever known of it."""

    line: ItemLine
    contents: Contents
    hazards: tuple[str, ...]


def held(session: Session, ids: list[int]) -> tuple[Held, ...]:
    """Some tubes and jars with what is in them, in the order asked for. Raises Missing."""
    rows = {row.id: row for row in session.scalars(select(ShelfItem).where(ShelfItem.id.in_(ids)))}
    missing = [one for one in ids if one not in rows]
    if missing:
        raise Missing("tube or jar", missing[0])
    return tuple(
        Held(item_line(rows[one], rows[one].filled_on), contents_of_row(session, rows[one]), tuple(rows[one].hazards))
        for one in ids
    )


@dataclass(frozen=True, slots=True)
class Used:
    """Paint of a tube or jar that went into a batch."""

    item_id: int
    code: str
    batch_number: int


def used_in(session: Session, batch_numbers: list[int]) -> tuple[Used, ...]:
    """The tubes and jars whose paint went into some batches."""
    return _uses(session, ItemUse.batch_number.in_(batch_numbers))


def used_from(session: Session, item_ids: list[int]) -> tuple[Used, ...]:
    """The batches that the paint of some tubes and jars went into."""
    return _uses(session, ItemUse.item_id.in_(item_ids))


def _uses(session: Session, where: ColumnExpressionArgument[bool]) -> tuple[Used, ...]:
    rows = session.execute(
        select(ItemUse.item_id, ShelfItem.code, ItemUse.batch_number)
        .join(ShelfItem, ShelfItem.id == ItemUse.item_id)
        .where(where)
        .order_by(ItemUse.at, ItemUse.item_id)
    )
    return tuple(Used(item_id, code, number) for item_id, code, number in rows)


def of_batches(session: Session, numbers: list[int]) -> tuple[ItemLine, ...]:
    """Every tube and jar, here or gone, that holds or held paint of some batches."""
    rows = session.scalars(
        select(ShelfItem)
        .where(or_(ShelfItem.batch_number.in_(numbers), ShelfItem.topped_by.in_(numbers)))
        .order_by(ShelfItem.filled_on, ShelfItem.id)
    )
    return tuple(item_line(row, row.filled_on) for row in rows)


@dataclass(frozen=True, slots=True)
class Whereabouts:
    """A tube or jar and, where it left, to whom or why."""

    line: ItemLine
    why: str


def whereabouts(session: Session, ids: list[int]) -> tuple[Whereabouts, ...]:
    """Where some tubes and jars are, or how they left."""
    rows = session.scalars(select(ShelfItem).where(ShelfItem.id.in_(ids)))
    return tuple(Whereabouts(item_line(row, row.filled_on), row.why) for row in rows)


def lines_of(session: Session, ids: list[int]) -> tuple[ItemLine, ...]:
    """Some tubes and jars, in the order asked for. Raises Missing."""
    rows = {row.id: row for row in session.scalars(select(ShelfItem).where(ShelfItem.id.in_(ids)))}
    missing = [one for one in ids if one not in rows]
    if missing:
        raise Missing("tube or jar", missing[0])
    return tuple(item_line(rows[one], rows[one].filled_on) for one in ids)
