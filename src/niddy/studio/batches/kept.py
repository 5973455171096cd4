"""A batch as it is kept: its plan, its paste, and the acts of its log."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from pydantic_core import from_json
from sqlalchemy import Integer, Text, bindparam, cast, func, literal, select
from sqlalchemy.orm import Session

from niddy.core import slab
from niddy.core.additives import InPaste
from niddy.core.documents import Step, upgraded
from niddy.core.estimate import Basis, Estimate
from niddy.core.measures import Family, Unit, family
from niddy.core.mulling import EndedBy
from niddy.core.plan import Plan
from niddy.core.slab import (
    DoubtAnswer,
    Event,
    Gloss,
    Grit,
    Kind,
    Paste,
    Question,
    SessionPhase,
    Stage,
    Status,
    StringLength,
    Verdict,
    Way,
)
from niddy.core.wetting import Body
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Act, Job
from niddy.studio import log as logs
from niddy.studio import materials
from niddy.studio.batches.upgrades import aimed_at_the_body, with_what_is_known_now
from niddy.studio.errors import Conflict, Missing

ROOM = "slab"
"""Where batches are jobs."""

PLAN = TypeAdapter(Plan)
PLAN_VERSION = 3
PLAN_STEPS: dict[int, Step] = {1: with_what_is_known_now, 2: aimed_at_the_body}
"""How a plan of one version, kept as JSON, becomes one of the next."""

PASTE = TypeAdapter(Paste)
PASTE_VERSION = 4
"""A paste kept in another version is folded anew from its log."""

_IN_PASTE = TypeAdapter(InPaste)
_QUESTION = TypeAdapter(Question)


@dataclass(frozen=True, slots=True)
class Logged:
    """One act of a log: the core's event, what the client sent, what the door made of it, and whether it was struck."""

    event: Event
    payload: dict[str, Any]
    facts: dict[str, Any]
    struck: bool = False


@dataclass(frozen=True, slots=True)
class BatchKept:
    """A batch with its plan, its paste, and the last acts of its log in order; `earlier` stand before them.

    `left` is what its lots hold, in g by lot, where that was read with it.
    """

    number: int
    job_id: int
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
    left: dict[int, float] | None = None


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
    return session.scalar(select(_batch.number).where(_batch.number == number)) is not None


_batch = table_of(Batch).c


def job_of(session: Session, number: int) -> int:
    """The job that a batch is. Raises Missing."""
    found = session.scalar(select(_batch.job_id).where(_batch.number == number))
    if found is None:
        raise Missing("batch", number)
    return int(found)


def jobs_of(session: Session, numbers: list[int]) -> dict[int, int]:
    """The numbers of some batches by the jobs they are."""
    rows = session.execute(select(_batch.job_id, _batch.number).where(_batch.number.in_(numbers)))
    return {row.job_id: row.number for row in rows}


def made(session: Session, number: int) -> Made:
    """A batch for its checks, without its log. Raises Missing."""
    row = session.execute(_MADE, {"of_batch": number}).first()
    if row is None:
        raise Missing("batch", number)
    kept = kept_row(session, row, ())
    return Made(kept, row.recipe_id, row.recipe_version, row.results, row.release, tuple(row.lot_ids))


def batch(session: Session, number: int, last: int | None = None) -> BatchKept:
    """A batch with its whole log, or only its `last` acts. Raises Missing."""
    row = session.execute(_BATCH, {"of_batch": number}).first()
    if row is None:
        raise Missing("batch", number)
    return kept_row(session, row, log(session, row.job_id, last) if last != 0 else ())


def with_lots(session: Session, number: int, last: int) -> BatchKept:
    """A batch with the `last` acts of its log and what its lots hold, in one statement. Raises Missing."""
    row = session.execute(_WITH_LOTS, {"of_batch": number, "last": last}).first()
    if row is None:
        raise Missing("batch", number)
    acts = tuple(logged_of(entry) for entry in logs.entries_in(row.recent))
    return replace(kept_row(session, row, acts), left=materials.left_in(row.left))


COLUMNS = (
    Batch.number,
    Batch.job_id,
    Batch.name,
    Batch.status,
    Batch.verdict,
    Batch.masstone_srgb,
    Batch.asked,
    cast(Batch.plan, Text).label("plan"),
    Batch.plan_version,
    Batch.state,
    Batch.state_version,
    Batch.started_at,
    Batch.ended_at,
    Batch.last_seq,
    Batch.late_waiting,
)
_BATCH = select(*COLUMNS).where(Batch.number == bindparam("of_batch"))
_WITH_LOTS = select(
    *COLUMNS,
    logs.recent(
        select(_batch.job_id).where(_batch.number == bindparam("of_batch")).scalar_subquery(),
        bindparam("last", type_=Integer),
    ).label("recent"),
    materials.left_of(select(func.unnest(_batch.lot_ids)).where(_batch.number == bindparam("of_batch"))).label("left"),
).where(Batch.number == bindparam("of_batch"))
_MADE = select(*COLUMNS, Batch.recipe_id, Batch.recipe_version, Batch.results, Batch.release, Batch.lot_ids).where(
    Batch.number == bindparam("of_batch")
)
_job = table_of(Job).alias("seen").c
_LOCK = (
    select(
        *COLUMNS,
        Act.id.label("act_id"),
        Act.job_id.label("act_job_id"),
        Act.seq,
        Act.kind,
        Act.payload,
        Act.facts,
        Act.strikes,
        Act.made_at,
        literal(False).label("struck"),
        # As it was when the statement began, while `last_seq` is as it is once the row is held.
        select(_job.last_seq).where(_job.id == Batch.job_id).scalar_subquery().label("seen_seq"),
    )
    .outerjoin(Act, Act.id == bindparam("event_id"))
    .where(Batch.number == bindparam("of_batch"))
    .with_for_update(of=table_of(Job))
)


def lock(session: Session, number: int, event_id: UUID) -> tuple[BatchKept, Logged | None]:
    """A batch without its log, its row held until the transaction ends, and the act already logged under an id.

    Raises Missing, and Conflict where that act is another batch's.
    """
    # Nothing of a batch waits in the session to be written: the way around it is the shorter one.
    found = session.connection().execute(_LOCK, {"of_batch": number, "event_id": event_id}).first()
    if found is not None and found.seen_seq != found.last_seq:
        # It waited for somebody who logged meanwhile: what it read beside the row is from before. Now the row is held.
        found = session.connection().execute(_LOCK, {"of_batch": number, "event_id": event_id}).first()
    if found is None:
        raise Missing("batch", number)
    kept = kept_row(session, found, ())
    if found.act_id is None:
        return kept, None
    if found.act_job_id != found.job_id:
        raise Conflict("id", "this id belongs to an act of another batch", "a new id for another act")
    return kept, Logged(
        event_of(event_id, found.seq, found.kind, found.made_at, found.payload, found.facts), found.payload, found.facts
    )


def hold(session: Session, number: int) -> None:
    """Hold a batch's row until the transaction ends: whoever fills from it or counts on it waits. Raises Missing."""
    logs.hold(session, job_of(session, number))


def log(session: Session, job_id: int, last: int | None = None) -> tuple[Logged, ...]:
    """The acts of a batch in order, or only the `last` of them."""
    return tuple(logged_of(entry) for entry in logs.entries(session, job_id, last))


def earlier(session: Session, number: int, before: int, last: int) -> BatchKept:
    """A batch with the `last` acts that stand before a place in its log. Raises Missing."""
    kept = batch(session, number, 0)
    acts = tuple(logged_of(entry) for entry in logs.entries(session, kept.job_id, last, before))
    paste = replace(kept.paste, struck=struck_among(acts))
    return replace(kept, log=acts, paste=paste, earlier=acts[0].event.seq - 1 if acts else 0)


def finishes(session: Session, job_id: int) -> tuple[Logged, ...]:
    """Every finish in a batch's log, in order."""
    return tuple(logged_of(entry) for entry in logs.of_kind(session, job_id, Kind.FINISH))


def act(session: Session, job_id: int, event_id: UUID) -> Logged | None:
    """One act of a batch, or None."""
    found = logs.act(session, job_id, event_id)
    return logged_of(found) if found is not None else None


def struck_among(acts: Sequence[Logged]) -> frozenset[UUID]:
    """The ids of those acts that were struck out."""
    return frozenset(logged.event.id for logged in acts if logged.struck)


EVENTS_KEPT = 2_000
_events: dict[UUID, Logged] = {}


def logged_of(entry: logs.Entry) -> Logged:
    """An entry of a batch's log, with the core's event: the same one as before for an act that was read before."""
    seen = _events.get(entry.id)
    known = (entry.seq, entry.kind, entry.made_at, entry.payload, entry.facts)
    if seen is None or (seen.event.seq, seen.event.kind, seen.event.made_at, seen.payload, seen.facts) != known:
        event = event_of(entry.id, entry.seq, entry.kind, entry.made_at, entry.payload, entry.facts)
        seen = Logged(event, entry.payload, entry.facts)
        if len(_events) >= EVENTS_KEPT:
            _events.clear()
        _events[entry.id] = seen
    return replace(seen, struck=True) if entry.struck else seen


@lru_cache(maxsize=64)
def plan_in(plan: str, version: int) -> Plan:
    """A plan kept as JSON, upgraded where that was in an earlier shape. Who is at work asks for the same one often."""
    return PLAN.validate_python(upgraded(from_json(plan), version, PLAN_VERSION, PLAN_STEPS))


def paste_of(session: Session, row: Any) -> Paste:
    """The paste of a row with `job_id`, `state` and `state_version`; folded anew where its shape is another today."""
    if row.state_version == PASTE_VERSION:
        return PASTE.validate_python(row.state)
    return slab.fold([logged.event for logged in log(session, row.job_id)])


def freshen(session: Session) -> int:
    """Fold anew every paste kept in an earlier shape, so that lists can read it as it is today; how many that were."""
    rows = session.scalars(select(Batch).where(Batch.state_version != PASTE_VERSION)).all()
    for row in rows:
        row.state = PASTE.dump_python(paste_of(session, row), mode="json", exclude={"struck"})
        row.state_version = PASTE_VERSION
    session.flush()
    return len(rows)


def kept_row(session: Session, row: Any, acts: tuple[Logged, ...]) -> BatchKept:
    """A batch from a row of `COLUMNS` and the acts that were read with it."""
    return BatchKept(
        row.number,
        row.job_id,
        row.name,
        Status(row.status),
        Verdict(row.verdict) if row.verdict else None,
        row.masstone_srgb,
        plan_in(row.plan, row.plan_version),
        row.asked,
        row.started_at,
        row.ended_at,
        row.last_seq,
        replace(paste_of(session, row), struck=struck_among(acts)),
        acts,
        row.last_seq - len(acts),
        row.late_waiting,
    )


def _estimate(kept: dict[str, Any]) -> Estimate:
    return Estimate(kept["median"], kept["low"], kept["high"], Basis(kept["basis"]))


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
        mass=_estimate(mass) if mass else None,
        reckoned=_estimate(facts["reckoned"]) if facts.get("reckoned") else None,
        said=facts.get("said", ""),
        strikes=UUID(payload["strikes"]) if payload.get("strikes") else None,
        amends=UUID(payload["amends"]) if payload.get("amends") else None,
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
        leftover_ml=facts.get("leftover_ml") or payload.get("leftover_ml") or 0.0,
        phase=SessionPhase(payload["phase"]) if payload.get("phase") else None,
        load=facts.get("load") if kind == Kind.MULL else payload.get("load"),
        of_loads=facts.get("of_loads", 1),
        minutes=payload.get("minutes"),
        fineness_um=payload.get("fineness_um"),
        target_fineness_um=facts.get("target_fineness_um"),
        ended_by=EndedBy(payload["ended_by"]) if payload.get("ended_by") else None,
        bottle_g=payload.get("bottle_g"),
        family=family(Unit(payload["measure"].get("unit", Unit.GRAM))) if payload.get("measure") else Family.SCALE,
        answer=DoubtAnswer(payload["answer"]) if payload.get("answer") else None,
        widened_sd_ln=facts.get("widened_sd_ln", 0.0),
        asked=_QUESTION.validate_python(facts["asked"]) if facts.get("asked") else None,
        about=UUID(payload["about"]) if payload.get("about") else None,
        portions=facts.get("portions") or {},
        additive=_IN_PASTE.validate_python(facts["additive"]) if facts.get("additive") else None,
    )
