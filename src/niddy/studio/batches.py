"""Batches: the record. Opening one, appending to its log, finding it again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import (
    Boolean,
    Double,
    Integer,
    String,
    bindparam,
    case,
    func,
    literal,
    literal_column,
    or_,
    select,
    text,
    update,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from niddy.core import sizing
from niddy.core.additives import InPaste
from niddy.core.cautions import Caution, cautions_for, in_paint
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.mulling import EndedBy, Mulling, dispersing_minutes_per_load
from niddy.core.plan import Facts, Plan
from niddy.core.slab import (
    Added,
    Event,
    Gloss,
    Grit,
    Kind,
    Paste,
    SessionPhase,
    Stage,
    Status,
    StringLength,
    Verdict,
    Way,
)
from niddy.core.verdicts import Release
from niddy.core.wetting import Body
from niddy.db.batches import Batch, BatchEvent
from niddy.db.engine import notified
from niddy.studio.errors import Conflict, Missing

_PLAN = TypeAdapter(Plan)
_PASTE = TypeAdapter(Paste)
_FACTS = TypeAdapter(Facts)
_MULLING = TypeAdapter(Mulling)
_IN_PASTE = TypeAdapter(InPaste)
_ADDED = TypeAdapter(dict[str, Added])
_LOSS_FROM_LAST = 20
RELEASED = (Release.RELEASE, Release.WATCH)
"""What makes a batch one to be like."""


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


def hazards_of(kept: BatchKept) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What the finished paint of a batch holds that hurts: each material's name and the hazard keys it keeps."""
    held = [
        *((w.pigment.name, w.pigment.hazards) for w in kept.plan.lines), (kept.plan.oil.name, kept.plan.oil.hazards),
        *stirred_in(kept.paste), *_brought_along(kept.plan),
    ]  # fmt: skip
    return tuple((name, in_paint(hazards)) for name, hazards in held)


def stirred_in(paste: Paste) -> list[tuple[str, tuple[str, ...]]]:
    """The additives that are in a paste, planned or not, with their hazard keys."""
    return [(one.what.name, one.what.hazards) for one in paste.additives.values() if one.grams > 0]


def _brought_along(plan: Plan) -> list[tuple[str, tuple[str, ...]]]:
    return [(plan.old_paint.name, plan.old_paint.hazards)] if plan.old_paint is not None else []


def cautions_now(kept: BatchKept) -> tuple[Caution, ...]:
    """The cautions of a batch at the slab: the plan's, and those of what was stirred in beside it."""
    beside = [(name, hazards) for name, hazards in stirred_in(kept.paste)]
    told = {caution.key for caution in kept.plan.cautions}
    return (*kept.plan.cautions, *(one for one in cautions_for(beside) if one.key not in told))


def hazard_keys_of(kept: BatchKept) -> tuple[str, ...]:
    """The same as keys alone, each once."""
    return tuple(sorted({key for _, keys in hazards_of(kept) for key in keys}))


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


@dataclass(frozen=True, slots=True)
class OfRecipe:
    """A batch as its recipe's charts need it. `results` holds the mean of each check by kind, or what was picked."""

    number: int
    name: str
    started_at: datetime
    ended_at: datetime | None
    status: Status
    verdict: Verdict | None
    release: str | None
    version: int
    lot_ids: tuple[int, ...]
    pigment_g: float
    oil_g: float
    facts: Facts
    results: dict[str, Any]
    additives: dict[str, Added]

    @property
    def oil_g_per_100g(self) -> float | None:
        return 100 * self.oil_g / self.pigment_g if self.pigment_g > 0 else None


def of_recipe(session: Session, recipe_id: int) -> tuple[OfRecipe, ...]:
    """The batches of a recipe, oldest first, given up ones left out."""
    rows = session.execute(
        select(
            Batch.number, Batch.name, Batch.started_at, Batch.ended_at, Batch.status, Batch.verdict, Batch.release,
            Batch.recipe_version, Batch.lot_ids, Batch.pigment_g, Batch.oil_g, Batch.plan["plan"]["facts"],
            Batch.results, Batch.paste["additives"].label("additives"),
        )
        .where(Batch.recipe_id == recipe_id, Batch.status != Status.ABANDONED)
        .order_by(Batch.started_at, Batch.number)
    )  # fmt: skip
    return tuple(
        OfRecipe(
            number, name, started, ended, Status(status), Verdict(verdict) if verdict else None, release, version or 1,
            tuple(lots), pigment_g, oil_g, _FACTS.validate_python(facts), results,
            _ADDED.validate_python(additives) if additives else {},
        )
        for number, name, started, ended, status, verdict, release, version, lots, pigment_g, oil_g, facts, results,
            additives
        in rows
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class CountedBatches:
    """How many batches a recipe has, and its last: when, its colour, and what was decided about it."""

    count: int
    last_at: datetime
    masstone_srgb: str
    last_release: str | None


def counted_by_recipe(session: Session) -> dict[int, CountedBatches]:
    """The batches of every recipe counted, given up ones left out."""
    last = func.row_number().over(partition_by=Batch.recipe_id, order_by=Batch.started_at.desc()).label("place")
    counted = func.count().over(partition_by=Batch.recipe_id).label("counted")
    inner = (
        select(Batch.recipe_id, Batch.started_at, Batch.masstone_srgb, Batch.release, last, counted)
        .where(Batch.recipe_id.is_not(None), Batch.status != Status.ABANDONED)
        .subquery()
    )
    rows = session.execute(select(inner).where(inner.c.place == 1))
    return {row.recipe_id: CountedBatches(row.counted, row.started_at, row.masstone_srgb, row.release) for row in rows}


@dataclass(frozen=True, slots=True)
class Series:
    """One check over a recipe's batches, as lists of one length, oldest first."""

    numbers: list[int]
    versions: list[int]
    lots: list[str]
    values: list[float]


def series(session: Session, recipe_id: int, kind: str) -> Series:
    """The batches of a recipe that have a figure for one check; lots as a text that tells sets of them apart."""
    rows = (
        select(
            Batch.number,
            func.coalesce(Batch.recipe_version, 1).label("version"),
            func.array_to_string(Batch.lot_ids, "+").label("lots"),
            Batch.results[kind].label("value"),
        )
        .where(Batch.recipe_id == recipe_id, Batch.status != Status.ABANDONED)
        .order_by(Batch.started_at, Batch.number)
        .subquery()
    )
    # One row of arrays: a row a batch would take longer to unpack than all the rest.
    row = session.execute(
        select(
            func.array_agg(rows.c.number), func.array_agg(rows.c.version),
            func.array_agg(rows.c.lots), func.array_agg(rows.c.value.cast(Double)),
        ).where(func.jsonb_typeof(rows.c.value) == "number")
    ).one()  # fmt: skip
    return Series(*(list(column or ()) for column in row))


def started(session: Session, numbers: list[int]) -> dict[int, datetime]:
    """When some batches were begun."""
    rows = session.execute(select(Batch.number, Batch.started_at).where(Batch.number.in_(numbers)))
    return {row.number: row.started_at for row in rows}


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
    return Made(_kept(row, ()), row.recipe_id, row.recipe_version, row.results, row.release, tuple(row.lot_ids))


def note_results(session: Session, number: int, results: dict[str, Any]) -> None:
    """Keep the means of a batch's checks beside it; other windows hear of it."""
    session.execute(update(Batch).where(Batch.number == number).values(results=results))
    session.execute(select(notified(literal(str(number)))))


def note_release(session: Session, number: int, release: str | None) -> None:
    """Keep what was decided about a batch beside it; nothing once it is taken up again."""
    session.execute(update(Batch).where(Batch.number == number).values(release=release))
    session.execute(select(notified(literal(str(number)))))


def note_use_by(session: Session, number: int, use_by: date | None) -> None:
    """Keep the last day a batch may be used; nothing where nothing in it spoils."""
    session.execute(update(Batch).where(Batch.number == number).values(use_by=use_by))


@dataclass(frozen=True, slots=True)
class Keeping:
    """How long a batch may be kept, and when and why it was thrown away."""

    use_by: date | None
    discarded_at: datetime | None
    discarded_why: str | None


def keeping(session: Session, number: int) -> Keeping:
    """The use-by of a batch, and whether it was discarded. Raises Missing."""
    row = session.execute(
        select(Batch.use_by, Batch.discarded_at, Batch.discarded_why).where(Batch.number == number)
    ).first()
    if row is None:
        raise Missing("batch", number)
    return Keeping(row.use_by, row.discarded_at, row.discarded_why)


def discard(session: Session, now: datetime, number: int, why: str) -> None:
    """Note that what is left of a finished batch was thrown away. Raises Refused, Missing."""
    row = session.get(Batch, number, with_for_update=True)
    if row is None:
        raise Missing("batch", number)
    if row.status != Status.FINISHED:
        raise Refused("number", f"this batch is {row.status}", "a finished batch")
    if row.discarded_at is not None:
        raise Refused("number", "it was discarded already", "a batch that is still kept")
    if not why.strip():
        raise Refused("why", "empty", "why it is thrown away")
    row.discarded_at, row.discarded_why = now, why.strip()
    session.flush()


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


def put_under(session: Session, number: int, recipe_id: int, version: int) -> None:
    """Say which recipe a batch was made by, where it was made before the recipe was."""
    session.execute(
        update(Batch).where(Batch.number == number).values(recipe_id=recipe_id, recipe_version=version)
    )  # fmt: skip


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
            Batch.number, Batch.name, Batch.masstone_srgb, Batch.ended_at, Batch.recipe_id, Batch.recipe_version,
            Batch.release,
        )
        .where(Batch.status == Status.FINISHED, Batch.recipe_id.is_not(None), Batch.ended_at >= since)
        .order_by(Batch.ended_at.desc())
        .limit(200)
    )  # fmt: skip
    return tuple(
        Finished(row.number, row.name, row.masstone_srgb, row.ended_at or since, row.recipe_id, row.recipe_version,
                 row.release)
        for row in rows
    )  # fmt: skip


def open_batch(session: Session, now: datetime, request_id: UUID, plan: Plan, asked: dict[str, Any]) -> int:
    """Open a batch from a plan; its number. Asking twice with one `request_id` opens one batch.

    Raises Conflict where that id opened a batch from something else.
    """
    sources = [line.pigment for line in plan.lines]
    bottles = [part.lot_id for part in plan.oil.parts] or [plan.oil.lot_id]
    stirred = [line.dosing.lot_id for line in plan.additives]
    lot_ids = [lot_id for lot_id in (*(m.lot_id for m in sources), *bottles, *stirred) if lot_id is not None]
    stored = {"plan": _PLAN.dump_python(plan, mode="json"), "asked": asked}
    number = session.scalar(
        insert(Batch)
        .values(
            request_id=request_id, name=plan.name, masstone_srgb=plan.masstone_srgb, status=Status.OPEN,
            plan=stored, paste=_PASTE.dump_python(Paste(), mode="json"),
            pigment_keys=sorted({line.pigment.key for line in plan.lines if line.extends_pct is None}),
            lot_ids=sorted(set(lot_ids)),
            oil_name=plan.oil.name, started_at=now, last_seq=0, pigment_g=0.0, oil_g=0.0, made_ml=0.0,
            filled_ml=0.0, leftover_ml=0.0, tubes_filled=0, results={},
            recipe_id=asked.get("recipe_id"), recipe_version=asked.get("recipe_version"),
        )
        .on_conflict_do_nothing(index_elements=[Batch.request_id])
        .returning(Batch.number)
    )  # fmt: skip
    if number is not None:
        return int(number)
    earlier = session.execute(select(Batch.number, Batch.plan).where(Batch.request_id == request_id)).one()
    if earlier.plan["asked"] != asked:
        raise Conflict("request_id", "this id opened another batch already", "a new id for another batch")
    return int(earlier.number)


def batch(session: Session, number: int, last: int | None = None) -> BatchKept:
    """A batch with its whole log, or only its `last` acts. Raises Missing."""
    row = session.execute(_BATCH, {"of_batch": number}).first()
    if row is None:
        raise Missing("batch", number)
    return _kept(row, log(session, number, last) if last != 0 else ())


_COLUMNS = (
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
_BATCH = select(*_COLUMNS).where(Batch.number == bindparam("of_batch"))
_MADE = select(*_COLUMNS, Batch.recipe_id, Batch.recipe_version, Batch.results, Batch.release, Batch.lot_ids).where(
    Batch.number == bindparam("of_batch")
)
_LOCK = (
    select(
        *_COLUMNS,
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
    return _kept(found, ()), _logged(found) if known else None


def hold(session: Session, number: int) -> None:
    """Hold a batch's row until the transaction ends: whoever fills from it or counts on it waits. Raises Missing."""
    if session.scalar(select(Batch.number).where(Batch.number == number).with_for_update()) is None:
        raise Missing("batch", number)


def note_tubes(session: Session, number: int, tubes: int) -> None:
    """How many tubes were really filled from a batch: from the first on, this is the count."""
    session.execute(update(Batch).where(Batch.number == number).values(tubes_counted=tubes))


@dataclass(frozen=True, slots=True)
class LateBatch:
    """A batch with acts that came late and wait for a decision."""

    number: int
    name: str
    acts: int


def note_late(session: Session, number: int, acts: int) -> None:
    """How many acts of a batch came late and wait."""
    session.execute(update(Batch).where(Batch.number == number).values(late_waiting=acts))


def with_late(session: Session) -> tuple[LateBatch, ...]:
    """The batches with acts that wait for a decision."""
    rows = session.execute(
        select(Batch.number, Batch.name, Batch.late_waiting)
        .where(Batch.late_waiting > 0)
        .order_by(Batch.number)
        .limit(20)
    )
    return tuple(LateBatch(row.number, row.name, row.late_waiting) for row in rows)


def note_lot(session: Session, number: int, lot_id: int) -> None:
    """A lot that went into a batch beside its plan is one of its lots."""
    session.execute(
        update(Batch)
        .where(Batch.number == number, ~Batch.lot_ids.contains([lot_id]))
        .values(lot_ids=func.array_append(Batch.lot_ids, lot_id))
    )


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


def _kept(row: Any, acts: tuple[Logged, ...]) -> BatchKept:
    return BatchKept(
        row.number, row.name, Status(row.status), Verdict(row.verdict) if row.verdict else None, row.masstone_srgb,
        _PLAN.validate_python(row.plan["plan"]), row.plan["asked"], row.started_at, row.ended_at, row.last_seq,
        replace(_PASTE.validate_python(row.paste), struck=struck_among(acts)), acts, row.last_seq - len(acts),
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


# Statements of the busiest path are built once: an act is logged in one round trip with what follows from it.
_WRITTEN = (
    insert(BatchEvent)
    .values(
        id=bindparam("id"), batch_number=bindparam("of_batch"), seq=bindparam("seq"), kind=bindparam("kind"),
        payload=bindparam("payload"), facts=bindparam("facts"), made_at=bindparam("made_at"),
        recorded_at=bindparam("recorded_at"),
    )
    .cte("written")
)  # fmt: skip
_APPEND = (
    update(Batch)
    .where(Batch.number == bindparam("of_batch"))
    .values(
        last_seq=bindparam("seq"), paste=bindparam("new_paste"), status=bindparam("new_status"),
        verdict=bindparam("new_verdict"), pigment_g=bindparam("new_pigment_g"), oil_g=bindparam("new_oil_g"),
        made_ml=bindparam("new_made_ml"), filled_ml=bindparam("new_filled_ml"),
        leftover_ml=bindparam("new_leftover_ml"), tubes_filled=bindparam("new_tubes"),
        ended_at=case(
            (bindparam("over", type_=Boolean), func.coalesce(Batch.ended_at, bindparam("made_at"))), else_=None
        ),
    )
    .add_cte(_WRITTEN)
    .returning(notified(bindparam("said_to", type_=String)))
)  # fmt: skip


def append(
    session: Session,
    now: datetime,
    number: int,
    logged: Logged,
    paste: Paste,
    made_ml: float,
    filled: Filled,
) -> None:
    """Write an act into the log of a locked batch, with the paste and the summary that follow from the whole log."""
    event = logged.event
    session.execute(
        _APPEND,
        {
            "id": event.id, "of_batch": number, "seq": event.seq, "kind": event.kind, "payload": logged.payload,
            "facts": logged.facts, "made_at": event.made_at, "recorded_at": now, "said_to": str(number),
            "new_paste": _PASTE.dump_python(paste, mode="json", exclude={"struck"}), "new_status": paste.status,
            "new_verdict": paste.verdict, "new_pigment_g": paste.pigment_g, "new_oil_g": paste.oil_g,
            "new_made_ml": made_ml, "over": paste.status is not Status.OPEN, "new_filled_ml": filled.tubes_ml,
            "new_leftover_ml": filled.leftover_ml, "new_tubes": filled.tubes,
        },
        execution_options={"synchronize_session": False},
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Filled:
    """What a finished batch went into."""

    tubes_ml: float = 0.0
    leftover_ml: float = 0.0
    tubes: int = 0


_LINE = (
    Batch.number, Batch.name, Batch.status, Batch.verdict, Batch.masstone_srgb, Batch.oil_name, Batch.started_at,
    Batch.ended_at, Batch.pigment_g, Batch.oil_g, Batch.made_ml, Batch.filled_ml, Batch.leftover_ml,
    func.coalesce(Batch.tubes_counted, Batch.tubes_filled).label("tubes_filled"),
    Batch.use_by, Batch.discarded_at, Batch.release,
)  # fmt: skip


def search(session: Session, wanted: Search) -> Found:
    """Batches that match, newest first, one page."""
    query = select(*_LINE).order_by(Batch.started_at.desc(), Batch.number.desc())
    for word in wanted.words.split():
        like = Batch.name.ilike(f"%{word.replace('%', '')}%")
        number = word.lstrip("#").isdecimal() and len(word) < 10
        query = query.where(or_(like, Batch.number == int(word.lstrip("#"))) if number else like)
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
    kept = {row.number: _kept(row, ()) for row in session.execute(select(*_COLUMNS).where(Batch.number.in_(numbers)))}
    lines = {row.number: _line(row) for row in session.execute(select(*_LINE).where(Batch.number.in_(numbers)))}
    return {number: (kept[number], lines[number]) for number in kept}


def _midnight(day: date) -> datetime:
    return datetime.combine(day, time(), tzinfo=UTC)


def _line(row: Any) -> BatchLine:
    ratio = 100 * row.oil_g / row.pigment_g if row.pigment_g > 0 else None
    return BatchLine(
        row.number, row.name, Status(row.status), Verdict(row.verdict) if row.verdict else None, row.masstone_srgb,
        row.oil_name, row.started_at, row.ended_at, row.pigment_g, row.oil_g, ratio, row.made_ml, row.filled_ml,
        row.leftover_ml, row.tubes_filled, row.use_by, row.discarded_at is not None,
        row.release,
    )  # fmt: skip


def learned_loss(session: Session) -> sizing.LossLearned:
    """Hold-up and loss from the last finished batches that filled something."""
    rows: Sequence[Any] = session.execute(
        select(Batch.made_ml, Batch.filled_ml, Batch.leftover_ml)
        .where(Batch.status == Status.FINISHED, Batch.filled_ml > 0)
        .order_by(Batch.started_at.desc())
        .limit(_LOSS_FROM_LAST)
    ).all()
    return sizing.learn_loss([sizing.Made(row.made_ml, row.filled_ml + row.leftover_ml) for row in rows])


@dataclass(frozen=True, slots=True)
class LastRight:
    """The last batch the maker found right: its ratio, and minutes a load where time was kept."""

    oil_g_per_100g: float
    minutes_per_load: float | None


def last_right(session: Session, pigment_keys: list[str], recipe_id: int | None = None) -> LastRight | None:
    """The recipe's last released batch; without one, the last of exactly these pigments the maker found right."""
    found = select(Batch.oil_g, Batch.pigment_g, Batch.paste["mulling"].label("mulling")).where(Batch.pigment_g > 0)
    found = found.order_by(Batch.started_at.desc()).limit(1)
    row = None
    if recipe_id is not None:
        row = session.execute(found.where(Batch.recipe_id == recipe_id, Batch.release.in_(RELEASED))).first()
    if row is None:
        row = session.execute(found.where(Batch.pigment_keys == pigment_keys, Batch.verdict == Verdict.RIGHT)).first()
    if row is None:
        return None
    mulling = _MULLING.validate_python(row.mulling) if row.mulling else Mulling()
    return LastRight(100 * row.oil_g / row.pigment_g, dispersing_minutes_per_load(mulling))


def alive(session: Session) -> int:
    """The cheapest question a database can answer."""
    return int(session.scalar(text("select 1")) or 0)
