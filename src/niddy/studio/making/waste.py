"""The waste book: every litre that left a run, what it may hold, where it stands or went."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.cautions import held_word
from niddy.core.making import RunActFacts
from niddy.core.making.wasting import WasteHandedOver, WasteOut, WasteWay
from niddy.db.log import Act
from niddy.db.making import PigmentRun
from niddy.studio.making.facts import waste_holds
from niddy.studio.making.runs import RunKept, several

MOST = 500


@dataclass(frozen=True, slots=True)
class WasteEntry:
    """One entry of the waste book."""

    id: UUID
    run_number: int
    run_name: str
    at: datetime
    ml: float
    holds: tuple[str, ...]
    way: WasteWay
    where: str
    handed_over_at: datetime | None
    handed_to: str


@dataclass(frozen=True, slots=True)
class WasteSeen:
    """The liquid of one run: what went in, what is in the book, what is still to be booked; what it may hold."""

    in_ml: float
    booked_ml: float
    open_ml: float
    holds: tuple[str, ...]
    may_drain: bool
    entries: tuple[WasteEntry, ...]


@dataclass(frozen=True, slots=True)
class WasteBook:
    """All that left, the newest first, and what of it is kept here."""

    entries: tuple[WasteEntry, ...]
    kept_ml: float
    handed_ml: float


def waste_of(kept: RunKept) -> WasteSeen:
    """The waste of one run: its water comes out again, but for what the cake still holds."""
    in_ml = sum(one.water_g for one in kept.plan.weigh if kept.run.added.get(one.key)) + sum(kept.run.washes)
    holds = waste_holds(kept)
    entries = entries_of(kept)
    booked = sum(one.ml for one in entries)
    held = kept.retained_ml if not kept.run.weighed and kept.run.yield_g is None else 0.0
    open_ml = max(0.0, in_ml - booked - held)
    return WasteSeen(
        in_ml,
        booked,
        open_ml if open_ml > 0.03 * max(in_ml, 1.0) else 0.0,
        tuple(map(held_word, holds)),
        not holds,
        entries,
    )


def entries_of(kept: RunKept) -> tuple[WasteEntry, ...]:
    """What of a run is in the book, the newest first."""
    over = {act.of: act for act, _ in kept.acts_of(WasteHandedOver)}
    return tuple(_entry(kept, act, facts, over.get(act.id)) for act, facts in reversed(kept.acts_of(WasteOut)))


def _entry(kept: RunKept, act: WasteOut, facts: RunActFacts, over: WasteHandedOver | None) -> WasteEntry:
    way = WasteWay.HANDED_OVER if over is not None else act.way
    at = over.made_at if over is not None else act.made_at if way is WasteWay.HANDED_OVER else None
    return WasteEntry(
        act.id,
        kept.number,
        kept.name,
        act.made_at,
        act.ml,
        tuple(map(held_word, facts.holds)),
        way,
        act.text,
        at,
        over.text if over is not None else "",
    )


def book(session: Session) -> WasteBook:
    """The waste book of every run."""
    rows = session.scalars(
        select(PigmentRun)
        .where(PigmentRun.job_id.in_(select(Act.job_id).where(Act.kind == "waste")))
        .order_by(PigmentRun.number.desc())
    ).all()
    found = [entry for kept in several(session, rows) for entry in entries_of(kept)]
    found.sort(key=lambda one: one.at, reverse=True)
    return WasteBook(
        tuple(found[:MOST]),
        sum(one.ml for one in found if one.way is WasteWay.KEPT),
        sum(one.ml for one in found if one.way is WasteWay.HANDED_OVER),
    )
