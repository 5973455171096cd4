"""Tubes and jars as they are kept and listed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from typing import Annotated, Any
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import ColumnExpressionArgument, String, and_, cast, func, or_, select
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.colour import undertone_of
from niddy.core.contents import Contents, scaled
from niddy.core.shelf import Outcome
from niddy.core.words import Words
from niddy.db.shelf import ItemUse, ShelfItem
from niddy.studio import batches, log
from niddy.studio.errors import Missing

Text = Annotated[Words, Field(max_length=500)]


HERE = ("kept", "waiting")


class ItemKind(StrEnum):
    """What holds the paint."""

    TUBE = "tube"
    JAR = "jar"
    STICK = "stick"


class Left(StrEnum):
    """How paint leaves the shelf."""

    GIVEN = "given"
    SOLD = "sold"
    USED_UP = "used_up"
    DISCARDED = "discarded"
    REGROUND = "reground"


@dataclass(frozen=True, slots=True)
class NewItem:
    """A tube, jar or stick to be put on the shelf. `made_by` is the job of the pot it was cast of."""

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
    label_says: str = ""
    contents: Contents = ()
    colour_read: bool = False
    pot_number: int | None = None
    made_by: int | None = None


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
    pot_number: int | None
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
    weight_g: float | None


@dataclass(frozen=True, slots=True)
class ItemEvent:
    """Something that happened to it, in words."""

    id: UUID
    kind: str
    at: datetime
    text: str


def item_line(row: Any, today: date) -> ItemLine:
    """A line of a row of the table, whole or of the columns of `_LINE`."""
    here = row.status in HERE
    due = here and row.next_inspection_on is not None and row.next_inspection_on <= today
    return ItemLine(
        row.id,
        row.code,
        ItemKind(row.kind),
        row.name,
        row.masstone_srgb,
        undertone_of(row.masstone_srgb),
        row.batch_number,
        row.topped_by,
        row.pot_number,
        row.container,
        row.usable_ml,
        row.volume_ml,
        min(1.0, row.volume_ml / (row.usable_ml or row.volume_ml)),
        row.place,
        row.filled_on,
        row.use_by,
        row.status,
        row.next_inspection_on,
        due,
        here and row.use_by is not None and row.use_by < today,
        Outcome(row.last_outcome) if row.last_outcome else None,
        core.SEEN[Outcome(row.last_outcome)] if row.last_outcome else "",
        row.unknown_hazard,
        row.gross_g - (row.tare_g or 0.0) if row.gross_g is not None else None,
    )


ROOM = "shelf"


def by_request(session: Session, request_id: UUID) -> int | None:
    """The id of what a request put on the shelf or topped up, or None."""
    job_id = log.by_request(session, ROOM, request_id) or log.job_of_act(session, request_id)
    return session.scalar(select(ShelfItem.id).where(ShelfItem.job_id == job_id)) if job_id is not None else None


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
    label_says: str = ""


def held(session: Session, ids: list[int]) -> tuple[Held, ...]:
    """Some tubes and jars with what is in them, in the order asked for. Raises Missing."""
    rows = {row.id: row for row in session.scalars(select(ShelfItem).where(ShelfItem.id.in_(ids)))}
    missing = [item_id for item_id in ids if item_id not in rows]
    if missing:
        raise Missing("tube or jar", missing[0])
    return tuple(
        Held(
            item_line(rows[item_id], rows[item_id].filled_on),
            contents_of_row(session, rows[item_id]),
            tuple(rows[item_id].hazards),
            rows[item_id].label_says,
        )
        for item_id in ids
    )


@dataclass(frozen=True, slots=True)
class Used:
    """Paint of a tube or jar that went into a job."""

    item_id: int
    code: str
    job_id: int


def used_in(session: Session, job_ids: list[int]) -> tuple[Used, ...]:
    """The tubes and jars whose paint went into some jobs."""
    return _uses(session, ItemUse.job_id.in_(job_ids))


def used_from(session: Session, item_ids: list[int]) -> tuple[Used, ...]:
    """The jobs that the paint of some tubes and jars went into."""
    return _uses(session, ItemUse.item_id.in_(item_ids))


def _uses(session: Session, where: ColumnExpressionArgument[bool]) -> tuple[Used, ...]:
    rows = session.execute(
        select(ItemUse.item_id, ShelfItem.code, ItemUse.job_id)
        .join(ShelfItem, ShelfItem.id == ItemUse.item_id)
        .where(where)
        .order_by(ItemUse.at, ItemUse.item_id)
    )
    return tuple(Used(item_id, code, job_id) for item_id, code, job_id in rows)


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
    missing = [item_id for item_id in ids if item_id not in rows]
    if missing:
        raise Missing("tube or jar", missing[0])
    return tuple(item_line(rows[item_id], rows[item_id].filled_on) for item_id in ids)


def of_pot(session: Session, number: int) -> tuple[ItemLine, ...]:
    """The sticks that were cast of a pot."""
    rows = session.scalars(select(ShelfItem).where(ShelfItem.pot_number == number).order_by(ShelfItem.id))
    return tuple(item_line(row, row.filled_on) for row in rows)


@dataclass(frozen=True, slots=True)
class Here:
    """What is on the shelf: the batches of tubes and jars that are here, and those of no known batch by their ids."""

    batches: frozenset[int]
    items: frozenset[int]


def here(session: Session) -> Here:
    """What is on the shelf."""
    rows = session.execute(select(ShelfItem.id, ShelfItem.batch_number).where(ShelfItem.here)).all()
    return Here(
        frozenset(row.batch_number for row in rows if row.batch_number is not None),
        frozenset(row.id for row in rows if row.batch_number is None),
    )


@dataclass(frozen=True, slots=True)
class HazardsIn:
    """Hazard keys of all that was ever known to be in tubes and jars, by batch and by their own ids.

    `unknown` are jars nobody can name; `densities` in g/ml where they are known.
    """

    of_batches: dict[int, tuple[str, ...]]
    of_items: dict[int, tuple[str, ...]]
    densities: dict[int, float]
    unknown: frozenset[int]


def hazards_in(session: Session, batches: list[int], items: list[int]) -> HazardsIn:
    """The hazards in the tubes and jars of some batches that are here, and in some jars."""
    rows = session.execute(
        select(
            ShelfItem.id,
            ShelfItem.batch_number,
            ShelfItem.hazards,
            ShelfItem.unknown_hazard,
            ShelfItem.density_g_per_ml,
        ).where(or_(and_(ShelfItem.here, ShelfItem.batch_number.in_(batches)), ShelfItem.id.in_(items)))
    ).all()
    of_batches: dict[int, set[str]] = {}
    for row in rows:
        if row.batch_number is not None:
            of_batches.setdefault(row.batch_number, set()).update(row.hazards)
    return HazardsIn(
        {number: tuple(sorted(keys)) for number, keys in of_batches.items()},
        {row.id: tuple(row.hazards) for row in rows},
        {row.id: row.density_g_per_ml for row in rows if row.density_g_per_ml is not None},
        frozenset(row.id for row in rows if row.unknown_hazard),
    )


def here_stamp(session: Session, batches: list[int], items: list[int]) -> str:
    """Which of some batches and jars are on the shelf, and what is in them, folded."""
    rows = session.execute(
        select(
            ShelfItem.batch_number,
            func.min(ShelfItem.id),
            func.sum(func.hashtext(cast(ShelfItem.hazards, String) + cast(ShelfItem.unknown_hazard, String))),
        )
        .where(ShelfItem.here, or_(ShelfItem.batch_number.in_(batches), ShelfItem.id.in_(items)))
        .group_by(ShelfItem.batch_number)
        .order_by(ShelfItem.batch_number)
    )
    return ",".join(f"{row[0] or row[1]}.{row[2]}" for row in rows)
