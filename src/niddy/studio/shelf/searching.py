"""The shelf searched: what is where, what is due, what is at risk."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time

from sqlalchemy import ColumnExpressionArgument, Select, String, func, literal_column, or_, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core.due import Due
from niddy.core.names import words_of
from niddy.core.shelf import Outcome
from niddy.db.base import plain
from niddy.db.shelf import ShelfItem
from niddy.studio.shelf.items import HERE, ItemKind, ItemLine, item_line


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


_ORDERS = {
    "oldest": (ShelfItem.filled_on, ShelfItem.id),
    "newest": (ShelfItem.filled_on.desc(), ShelfItem.id.desc()),
    "colour": (ShelfItem.colour_order, ShelfItem.filled_on, ShelfItem.id),
    "due": (ShelfItem.next_inspection_on, ShelfItem.filled_on, ShelfItem.id),
    "name": (ShelfItem.name, ShelfItem.filled_on, ShelfItem.id),
    "place": (ShelfItem.place, ShelfItem.filled_on, ShelfItem.id),
}


AT_RISK = (
    Outcome.MATCH_FIRST,
    Outcome.REGRIND,
    Outcome.REGRIND_PRONE,
    Outcome.LIFT_SKIN,
    Outcome.DISCARD,
    Outcome.STIR_BACK,
)


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
    ShelfItem.id,
    ShelfItem.code,
    ShelfItem.kind,
    ShelfItem.name,
    ShelfItem.masstone_srgb,
    ShelfItem.batch_number,
    ShelfItem.topped_by,
    ShelfItem.container,
    ShelfItem.usable_ml,
    ShelfItem.volume_ml,
    ShelfItem.place,
    ShelfItem.filled_on,
    ShelfItem.use_by,
    ShelfItem.status,
    ShelfItem.next_inspection_on,
    ShelfItem.last_outcome,
    ShelfItem.unknown_hazard,
    ShelfItem.pot_number,
    ShelfItem.gross_g,
    ShelfItem.tare_g,
)


# Every place in use by one step of the index each, however many tubes stand there.
_PLACES = literal_column(
    "array(with recursive found as ("
    "(select place from shelf_item where here and place <> '' order by place limit 1) union all"
    " (select (select place from shelf_item where here and place > found.place order by place limit 1)"
    " from found where found.place is not null))"
    " select place from found where place is not null limit 200)",
    ARRAY(String),
)


def newest(session: Session, now: datetime, limit: int) -> tuple[ItemLine, ...]:
    """What was filled last and is here."""
    return _lines(session, now, Wanted(sort="newest", limit=limit))


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
    where += [plain(ShelfItem.searched).contains(word, autoescape=True) for word in words_of(wanted.words)]
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


WAITS_AT = time(9)
"""An inspection is for a day: the calendar has it in the morning."""


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """Inspections to come and last days, for the calendar: the next two hundred of each."""
    waiting = []
    for column, what, says in (
        (ShelfItem.next_inspection_on, "Look at", "Skin, oil on top, body and smell."),
        (ShelfItem.use_by, "Use by", "From this day on it may be spoilt: use it before, or throw it away."),
    ):
        rows = session.execute(
            select(ShelfItem.id, ShelfItem.code, ShelfItem.name, column.label("day"))
            .where(ShelfItem.here, column.is_not(None))
            .order_by(column, ShelfItem.id)
            .limit(200)
        )
        waiting += [
            Due(
                "shelf",
                f"{row.id}-{what[0].lower()}",
                what,
                f"{row.name}, {row.code}",
                says,
                datetime.combine(row.day, WAITS_AT, UTC),
                f"/shelf/{row.id}",
            )
            for row in rows
        ]
    return tuple(waiting)


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
