"""A batch as it is kept: its plan, its paste, and the acts of its log."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import Boolean, Integer, bindparam, literal, literal_column, select
from sqlalchemy.orm import Session

from niddy.core.additives import InPaste
from niddy.core.estimate import Basis, Estimate
from niddy.core.mulling import EndedBy
from niddy.core.plan import Plan
from niddy.core.slab import Event, Gloss, Grit, Kind, Paste, SessionPhase, Stage, Status, StringLength, Verdict, Way
from niddy.core.wetting import Body
from niddy.db.batches import Batch, BatchEvent
from niddy.studio.errors import Conflict, Missing

PLAN = TypeAdapter(Plan)


PASTE = TypeAdapter(Paste)


_IN_PASTE = TypeAdapter(InPaste)


@dataclass(frozen=True, slots=True)
class Logged:
    """One act of a log: the core's event, what the client sent, what the door made of it, and whether it was struck."""

    event: Event
    payload: dict[str, Any]
    facts: dict[str, Any]
    struck: bool = False


@dataclass(frozen=True, slots=True)
class BatchKept:
    """A batch with its plan, its paste, and the last acts of its log in order; `earlier` stand before them."""

    number: int
    name: str
    status: Status
    verdict: Verdict | None
    masstone_srgb: str
    plan: Plan
    asked: dict[str, Any]
    started_at: datetime
    ended_at: datetime | None
    last_seq: int
    paste: Paste
    log: tuple[Logged, ...]
    earlier: int
    late_waiting: int = 0


@dataclass(frozen=True, slots=True)
class Made:
    """What of a batch its checks need: when it ended, its recipe, what is in it, what was found and decided."""

    kept: BatchKept
    recipe_id: int | None
    recipe_version: int | None
    results: dict[str, Any]
    release: str | None
    lot_ids: tuple[int, ...]


def exists(session: Session, number: int) -> bool:
    """Whether there is a batch of that number."""
    return session.scalar(select(Batch.number).where(Batch.number == number)) is not None


def made(session: Session, number: int) -> Made:
    """A batch for its checks, without its log. Raises Missing."""
    row = session.execute(_MADE, {"of_batch": number}).first()
    if row is None:
        raise Missing("batch", number)
    return Made(kept_row(row, ()), row.recipe_id, row.recipe_version, row.results, row.release, tuple(row.lot_ids))


def batch(session: Session, number: int, last: int | None = None) -> BatchKept:
    """A batch with its whole log, or only its `last` acts. Raises Missing."""
    row = session.execute(_BATCH, {"of_batch": number}).first()
    if row is None:
        raise Missing("batch", number)
    return kept_row(row, log(session, number, last) if last != 0 else ())


COLUMNS = (
    Batch.number,
    Batch.name,
    Batch.status,
    Batch.verdict,
    Batch.masstone_srgb,
    Batch.plan,
    Batch.started_at,
    Batch.ended_at,
    Batch.last_seq,
    Batch.paste,
    Batch.late_waiting,
)


_BATCH = select(*COLUMNS).where(Batch.number == bindparam("of_batch"))


_MADE = select(*COLUMNS, Batch.recipe_id, Batch.recipe_version, Batch.results, Batch.release, Batch.lot_ids).where(
    Batch.number == bindparam("of_batch")
)


_LOCK = (
    select(
        *COLUMNS,
        BatchEvent.id,
        BatchEvent.batch_number,
        BatchEvent.seq,
        BatchEvent.kind,
        BatchEvent.payload,
        BatchEvent.facts,
        BatchEvent.made_at,
        literal(False).label("struck"),
    )
    .select_from(Batch)
    .outerjoin(BatchEvent, BatchEvent.id == bindparam("event_id"))
    .where(Batch.number == bindparam("of_batch"))
    .with_for_update(of=Batch)
)


_EVENT = (
    BatchEvent.id,
    BatchEvent.batch_number,
    BatchEvent.seq,
    BatchEvent.kind,
    BatchEvent.payload,
    BatchEvent.facts,
    BatchEvent.made_at,
    # Spelled out, not bound: only so does the planner know that the partial index of strike-outs serves.
    literal_column(
        "exists (select 1 from batch_event strike where strike.kind = 'strike'"
        " and strike.payload ->> 'strikes' = batch_event.id::text)",
        type_=Boolean,
    ).label("struck"),
)


_LOG = (
    select(*_EVENT)
    .where(BatchEvent.batch_number == bindparam("of_batch"))
    .order_by(BatchEvent.seq.desc())
    .limit(bindparam("last", type_=Integer))
)


def lock(session: Session, number: int, event_id: UUID) -> tuple[BatchKept, Logged | None]:
    """A batch without its log, its row held until the transaction ends, and the act already logged under an id.

    Raises Missing, and Conflict where that act is another batch's.
    """
    found = session.execute(_LOCK, {"of_batch": number, "event_id": event_id}).first()
    if found is None:
        raise Missing("batch", number)
    known = found.id is not None
    if known and found.batch_number != number:
        raise Conflict("id", "this id belongs to an act of another batch", "a new id for another act")
    return kept_row(found, ()), _logged(found) if known else None


def hold(session: Session, number: int) -> None:
    """Hold a batch's row until the transaction ends: whoever fills from it or counts on it waits. Raises Missing."""
    if session.scalar(select(Batch.number).where(Batch.number == number).with_for_update()) is None:
        raise Missing("batch", number)


def log(session: Session, number: int, last: int | None = None) -> tuple[Logged, ...]:
    """The acts of a batch in order, or only the `last` of them."""
    rows = session.execute(_LOG, {"of_batch": number, "last": last}).all()
    return tuple(_logged(row) for row in reversed(rows))


_EARLIER = (
    select(*_EVENT)
    .where(BatchEvent.batch_number == bindparam("of_batch"), BatchEvent.seq < bindparam("before"))
    .order_by(BatchEvent.seq.desc())
    .limit(bindparam("last", type_=Integer))
)


def earlier(session: Session, number: int, before: int, last: int) -> BatchKept:
    """A batch with the `last` acts that stand before a place in its log. Raises Missing."""
    kept = batch(session, number, 0)
    rows = session.execute(_EARLIER, {"of_batch": number, "before": before, "last": last}).all()
    acts = tuple(_logged(row) for row in reversed(rows))
    paste = replace(kept.paste, struck=struck_among(acts))
    return replace(kept, log=acts, paste=paste, earlier=acts[0].event.seq - 1 if acts else 0)


def finishes(session: Session, number: int) -> tuple[Logged, ...]:
    """Every finish in a batch's log, in order."""
    wanted = select(*_EVENT).where(BatchEvent.batch_number == number, BatchEvent.kind == Kind.FINISH)
    return tuple(_logged(row) for row in session.execute(wanted.order_by(BatchEvent.seq)))


def act(session: Session, number: int, event_id: UUID) -> Logged | None:
    """One act of a batch, or None."""
    wanted = select(*_EVENT).where(BatchEvent.id == event_id, BatchEvent.batch_number == number)
    row = session.execute(wanted).first()
    return _logged(row) if row is not None else None


def struck_among(acts: Sequence[Logged]) -> frozenset[UUID]:
    """The ids of those acts that were struck out."""
    return frozenset(logged.event.id for logged in acts if logged.struck)


def _logged(row: Any) -> Logged:
    event = event_of(row.id, row.seq, row.kind, row.made_at, row.payload, row.facts)
    return Logged(event, row.payload, row.facts, row.struck)


def kept_row(row: Any, acts: tuple[Logged, ...]) -> BatchKept:
    """A batch from a row of `COLUMNS` and the acts that were read with it."""
    return BatchKept(
        row.number, row.name, Status(row.status), Verdict(row.verdict) if row.verdict else None, row.masstone_srgb,
        PLAN.validate_python(row.plan["plan"]), row.plan["asked"], row.started_at, row.ended_at, row.last_seq,
        replace(PASTE.validate_python(row.paste), struck=struck_among(acts)), acts, row.last_seq - len(acts),
        row.late_waiting,
    )  # fmt: skip


def event_of(
    event_id: UUID, seq: int, kind: str, made_at: datetime, payload: dict[str, Any], facts: dict[str, Any]
) -> Event:
    """The core's event from what the client sent and what the door made of it."""
    mass = facts.get("mass")
    return Event(
        id=event_id,
        seq=seq,
        kind=Kind(kind),
        made_at=made_at,
        source=payload.get("source") or "",
        mass=Estimate(mass["median"], mass["low"], mass["high"], Basis(mass["basis"])) if mass else None,
        said=facts.get("said", ""),
        strikes=UUID(payload["strikes"]) if payload.get("strikes") else None,
        stage=Stage(payload["stage"]) if payload.get("stage") else None,
        body=Body(payload["body"]) if payload.get("body") else None,
        grit=Grit(payload["grit"]) if payload.get("grit") else None,
        string=StringLength(payload["string"]) if payload.get("string") else None,
        gloss=Gloss(payload["gloss"]) if payload.get("gloss") else None,
        way=Way(payload["way"]) if payload.get("way") else None,
        target_reduced_pvc=facts.get("target_reduced_pvc"),
        text=payload.get("text") or "",
        verdict=Verdict(payload["verdict"]) if payload.get("verdict") else None,
        filled_ml=facts.get("filled_ml", 0.0),
        leftover_ml=payload.get("leftover_ml") or 0.0,
        phase=SessionPhase(payload["phase"]) if payload.get("phase") else None,
        load=payload.get("load"),
        of_loads=facts.get("of_loads", 1),
        minutes=payload.get("minutes"),
        fineness_um=payload.get("fineness_um"),
        target_fineness_um=facts.get("target_fineness_um"),
        ended_by=EndedBy(payload["ended_by"]) if payload.get("ended_by") else None,
        bottle_g=payload.get("bottle_g"),
        additive=_IN_PASTE.validate_python(facts["additive"]) if facts.get("additive") else None,
    )
