"""Batches as lists show them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any

from sqlalchemy import func, or_, select, text
from sqlalchemy.orm import Session

from niddy.core.due import Due
from niddy.core.names import words_of
from niddy.core.slab import Status, Verdict
from niddy.db.base import plain
from niddy.db.batches import Batch
from niddy.studio.batches.kept import COLUMNS, ROOM, BatchKept, kept_row
from niddy.studio.errors import Missing


@dataclass(frozen=True, slots=True)
class BatchLine:
    """A batch as lists show it."""

    number: int
    name: str
    status: Status
    verdict: Verdict | None
    masstone_srgb: str
    oil_name: str
    started_at: datetime
    ended_at: datetime | None
    pigment_g: float
    oil_g: float
    oil_g_per_100g: float | None
    made_ml: float
    filled_ml: float
    leftover_ml: float
    tubes_filled: int
    use_by: date | None
    discarded: bool
    release: str | None


@dataclass(frozen=True, slots=True)
class Search:
    """What to look for among the batches; everything given must hold. Dates are days of the start, both included."""

    words: str = ""
    pigment_key: str | None = None
    lot_id: int | None = None
    status: Status | None = None
    verdict: Verdict | None = None
    since: date | None = None
    until: date | None = None
    offset: int = 0
    limit: int = 50


@dataclass(frozen=True, slots=True)
class Found:
    """One page of a search, and whether there is more."""

    batches: tuple[BatchLine, ...]
    more: bool


def started(session: Session, numbers: list[int]) -> dict[int, datetime]:
    """When some batches were begun."""
    rows = session.execute(select(Batch.number, Batch.started_at).where(Batch.number.in_(numbers)))
    return {row.number: row.started_at for row in rows}


def pigments_of(session: Session, numbers: list[int]) -> dict[int, tuple[str, ...]]:
    """The keys of the pigments in some batches."""
    rows = session.execute(select(Batch.number, Batch.pigment_keys).where(Batch.number.in_(numbers)))
    return {row.number: tuple(row.pigment_keys) for row in rows}


@dataclass(frozen=True, slots=True)
class Coloured:
    """A finished batch by what an unlabelled jar can be known by."""

    number: int
    name: str
    masstone_srgb: str
    density_g_per_ml: float | None


def colours(session: Session) -> tuple[Coloured, ...]:
    """Name, colour, and weight for each ml of every finished batch, the newest first."""
    rows = session.execute(
        select(Batch.number, Batch.name, Batch.masstone_srgb, Batch.pigment_g + Batch.oil_g, Batch.made_ml)
        .where(Batch.status == Status.FINISHED, Batch.made_ml > 0)
        .order_by(Batch.number.desc())
        .limit(5_000)
    )
    return tuple(Coloured(number, name, srgb, grams / ml if ml else None) for number, name, srgb, grams, ml in rows)


def latest_finished(session: Session, limit: int) -> tuple[BatchLine, ...]:
    """The finished batches begun last, the newest first."""
    return search(session, Search(status=Status.FINISHED, limit=limit)).batches


def past_use_by(session: Session, today: date) -> tuple[BatchLine, ...]:
    """Finished batches whose last day has passed and that nobody has thrown away, the longest past first."""
    rows = session.execute(
        select(*_LINE)
        .where(Batch.use_by < today, Batch.status == Status.FINISHED, Batch.discarded_at.is_(None))
        .order_by(Batch.use_by)
        .limit(50)
    )
    return tuple(_line(row) for row in rows)


def waits(session: Session, now: datetime) -> tuple[Due, ...]:
    """The last days of batches that spoil, for the calendar."""
    rows = session.execute(
        select(Batch.number, Batch.name, Batch.use_by)
        .where(Batch.use_by.is_not(None), Batch.status == Status.FINISHED, Batch.discarded_at.is_(None))
        .order_by(Batch.use_by)
        .limit(200)
    )
    says = "Something in it spoils: use it before, or throw it away."
    return tuple(
        Due(
            "batches",
            str(row.number),
            "Use by",
            f"{row.name}, batch {row.number}",
            says,
            _midnight(row.use_by),
            f"/batches/{row.number}",
        )
        for row in rows
    )


@dataclass(frozen=True, slots=True)
class Finished:
    """A finished batch that its checks may still wait for."""

    number: int
    name: str
    masstone_srgb: str
    ended_at: datetime
    recipe_id: int | None
    recipe_version: int | None
    release: str | None


def finished_since(session: Session, since: datetime) -> tuple[Finished, ...]:
    """Batches of recipes finished since a moment, the latest first."""
    rows = session.execute(
        select(
            Batch.number,
            Batch.name,
            Batch.masstone_srgb,
            Batch.ended_at,
            Batch.recipe_id,
            Batch.recipe_version,
            Batch.release,
        )
        .where(Batch.status == Status.FINISHED, Batch.recipe_id.is_not(None), Batch.ended_at >= since)
        .order_by(Batch.ended_at.desc())
        .limit(200)
    )
    return tuple(
        Finished(
            row.number,
            row.name,
            row.masstone_srgb,
            row.ended_at or since,
            row.recipe_id,
            row.recipe_version,
            row.release,
        )
        for row in rows
    )


@dataclass(frozen=True, slots=True)
class LateBatch:
    """A batch with acts that came late and wait for a decision."""

    number: int
    name: str
    acts: int


def with_late(session: Session) -> tuple[LateBatch, ...]:
    """The batches with acts that wait for a decision."""
    rows = session.execute(
        select(Batch.number, Batch.name, Batch.late_waiting)
        .where(Batch.late_waiting > 0)
        .order_by(Batch.number)
        .limit(20)
    )
    return tuple(LateBatch(row.number, row.name, row.late_waiting) for row in rows)


_LINE = (
    Batch.number,
    Batch.name,
    Batch.status,
    Batch.verdict,
    Batch.masstone_srgb,
    Batch.oil_name,
    Batch.started_at,
    Batch.ended_at,
    Batch.pigment_g,
    Batch.oil_g,
    Batch.made_ml,
    Batch.filled_ml,
    Batch.leftover_ml,
    func.coalesce(Batch.tubes_counted, Batch.tubes_filled).label("tubes_filled"),
    Batch.use_by,
    Batch.discarded_at,
    Batch.release,
)


def search(session: Session, wanted: Search) -> Found:
    """Batches that match, newest first, one page."""
    # The room, so that its index by day serves: the newest that match are found without looking at all.
    query = select(*_LINE).where(Batch.room == ROOM).order_by(Batch.started_at.desc(), Batch.number.desc())
    for word in words_of(wanted.words):
        like = plain(Batch.name).contains(word, autoescape=True)
        number = word.isdecimal() and len(word) < 10
        query = query.where(or_(like, Batch.number == int(word)) if number else like)
    if wanted.pigment_key:
        query = query.where(Batch.pigment_keys.contains([wanted.pigment_key]))
    if wanted.lot_id is not None:
        query = query.where(Batch.lot_ids.contains([wanted.lot_id]))
    if wanted.status is not None:
        query = query.where(Batch.status == wanted.status)
    if wanted.verdict is not None:
        query = query.where(Batch.verdict == wanted.verdict)
    if wanted.since is not None:
        query = query.where(Batch.started_at >= _midnight(wanted.since))
    if wanted.until is not None:
        query = query.where(Batch.started_at < _midnight(wanted.until) + timedelta(days=1))
    rows = session.execute(query.offset(wanted.offset).limit(wanted.limit + 1)).all()
    return Found(tuple(_line(row) for row in rows[: wanted.limit]), len(rows) > wanted.limit)


def line(session: Session, number: int) -> BatchLine:
    """One batch as lists show it. Raises Missing."""
    row = session.execute(select(*_LINE).where(Batch.number == number)).first()
    if row is None:
        raise Missing("batch", number)
    return _line(row)


def several(session: Session, numbers: list[int]) -> dict[int, tuple[BatchKept, BatchLine]]:
    """Some batches without their logs, each with its line, by number; those not kept are left out."""
    rows = session.execute(select(*COLUMNS).where(Batch.number.in_(numbers)))
    kept = {row.number: kept_row(session, row, ()) for row in rows}
    lines = {row.number: _line(row) for row in session.execute(select(*_LINE).where(Batch.number.in_(numbers)))}
    return {number: (kept[number], lines[number]) for number in kept}


def _midnight(day: date) -> datetime:
    return datetime.combine(day, time(), tzinfo=UTC)


def _line(row: Any) -> BatchLine:
    ratio = 100 * row.oil_g / row.pigment_g if row.pigment_g > 0 else None
    return BatchLine(
        row.number,
        row.name,
        Status(row.status),
        Verdict(row.verdict) if row.verdict else None,
        row.masstone_srgb,
        row.oil_name,
        row.started_at,
        row.ended_at,
        row.pigment_g,
        row.oil_g,
        ratio,
        row.made_ml,
        row.filled_ml,
        row.leftover_ml,
        row.tubes_filled,
        row.use_by,
        row.discarded_at is not None,
        row.release,
    )


def alive(session: Session) -> int:
    """The cheapest question a database can answer."""
    return int(session.scalar(text("select 1")) or 0)
