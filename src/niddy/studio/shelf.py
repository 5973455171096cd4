"""The shelf: every tube and jar that holds paint, its inspections and ways to save it, and jars nobody can name."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum
from typing import Annotated, Any
from uuid import UUID, uuid5

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy import (
    ColumnExpressionArgument,
    Integer,
    Select,
    String,
    cast,
    func,
    literal_column,
    or_,
    select,
    union_all,
)
from sqlalchemy.dialects.postgresql import ARRAY, insert
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.cautions import beware, cautions_for
from niddy.core.colorimetry import difference, lab_of_srgb
from niddy.core.colour import undertone_of
from niddy.core.errors import Refused, volume_ml, within
from niddy.core.plan import Plan
from niddy.core.shelf import Inspected, Outcome, Skin, Smell, Suspect
from niddy.core.shelf import KeptBody as Body
from niddy.core.slab import Kind
from niddy.db.shelf import ShelfEvent, ShelfItem
from niddy.studio import batches, recipes, slab
from niddy.studio.amounts import Grams, Millilitres
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import LineAsked, OilAsked, OldPaintAsked, PlanAsked
from niddy.studio.slab import Act, AmountAsked
from niddy.studio.times import act_time
from niddy.studio.words import Words

RowId = Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
Text = Annotated[Words, Field(max_length=500)]
HERE = ("kept", "waiting")
SORTS = ("oldest", "newest", "colour", "due", "name", "place")


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


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
class LikelyBatch:
    """How likely a found jar is of a batch, with its name and colour to compare; `number` None is none of them."""

    number: int | None
    name: str
    masstone_srgb: str
    likely: float
    says: str


@dataclass(frozen=True, slots=True)
class ItemPage:
    """A tube or jar to be read: hazards in words, the last inspection and how to save it, its log, its likely batch."""

    line: ItemLine
    density_g_per_ml: float | None
    gross_g: float | None
    tare_g: float | None
    cover: str
    note: str
    why: str
    hazards: tuple[str, ...]
    beware: tuple[str, ...]
    inspected: Inspected | None
    events: tuple[ItemEvent, ...]
    likely: tuple[LikelyBatch, ...]
    recipe_id: int | None
    can_regrind: bool


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


def put(session: Session, now: datetime, new: NewItem) -> int:
    """Put a tube or jar on the shelf; its id. The same `request_id` again gives the same one. Raises Refused."""
    volume_ml("volume_ml", new.volume_ml)
    if new.filled_on > now.date():
        raise Refused("filled_on", f"{new.filled_on} is still to come", f"up to {now.date()}")
    # A batch's codes are counted under the batch's own lock; those of found jars under one of their own.
    if new.batch_number is not None:
        batches.hold(session, new.batch_number)
    else:
        session.execute(select(func.pg_advisory_xact_lock(_FOUND_CODES)))
    prefix = str(new.batch_number) if new.batch_number is not None else "F"
    taken = session.scalar(_last_code(prefix)) or 0
    found = session.scalar(
        insert(ShelfItem)
        .values(
            request_id=new.request_id, code=f"{prefix}-{taken + 1}", kind=new.kind, name=new.name,
            masstone_srgb=new.masstone_srgb, colour_order=_colour_order(new.masstone_srgb),
            batch_number=new.batch_number, container=new.container,
            usable_ml=new.usable_ml, volume_ml=new.volume_ml, drawn_ml=new.volume_ml, topped_ml=0.0,
            density_g_per_ml=new.density_g_per_ml,
            gross_g=new.gross_g, tare_g=new.tare_g, place=new.place.strip(), cover=new.cover, note=new.note,
            filled_on=new.filled_on, use_by=new.use_by, status=new.status, why="", hazards=list(new.hazards),
            unknown_hazard=new.unknown_hazard,
            next_inspection_on=core.after_months(new.filled_on, core.next_interval_months([])),
        )
        .on_conflict_do_nothing(index_elements=[ShelfItem.request_id])
        .returning(ShelfItem.id)
    )  # fmt: skip
    if found is None:
        return int(session.scalars(select(ShelfItem.id).where(ShelfItem.request_id == new.request_id)).one())
    if new.batch_number is not None:
        _note_tubes(session, new.batch_number)
    what = "found" if new.batch_number is None else "waits to be topped up" if new.status == "waiting" else "filled"
    _log(session, int(found), uuid5(new.request_id, "put"), "put", {"text": what}, now, now)
    return int(found)


def _note_tubes(session: Session, number: int) -> None:
    tubes = select(func.count()).where(ShelfItem.batch_number == number, ShelfItem.kind == ItemKind.TUBE)
    batches.note_tubes(session, number, session.scalar(tubes) or 0)


_FOUND_CODES = 0x6E6A6172


def _last_code(prefix: str) -> Select[int]:
    number = cast(func.split_part(ShelfItem.code, "-", 2), Integer)
    return select(func.max(number)).where(ShelfItem.code.op("~")(f"^{prefix}-[0-9]+$"))


def _colour_order(srgb: str) -> float:
    """Greys by lightness first, then round the hues."""
    lab = lab_of_srgb(srgb)
    chroma = (lab.a**2 + lab.b**2) ** 0.5
    if chroma < 8:
        return lab.L / 1000
    return 1 + math.degrees(math.atan2(lab.b, lab.a)) % 360


def _log(
    session: Session, item_id: int, event_id: UUID, kind: str, value: dict[str, Any], at: datetime, now: datetime
) -> None:
    last = session.scalar(select(func.max(ShelfEvent.seq)).where(ShelfEvent.item_id == item_id)) or 0
    session.add(ShelfEvent(id=event_id, item_id=item_id, seq=last + 1, kind=kind, value=value, at=at, recorded_at=now))
    session.flush()


def _line(row: Any, today: date) -> ItemLine:
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
    return tuple(_line(row, now.date()) for row in rows)


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


def _row(session: Session, item_id: int, *, lock: bool = False) -> ShelfItem:
    row = session.get(ShelfItem, item_id, with_for_update=lock or None, populate_existing=lock)
    if row is None:
        raise Missing("tube or jar", item_id)
    return row


def page(session: Session, now: datetime, item_id: int) -> ItemPage:
    """A tube or jar to be read. Raises Missing."""
    row = _row(session, item_id)
    events = session.scalars(select(ShelfEvent).where(ShelfEvent.item_id == item_id).order_by(ShelfEvent.seq)).all()
    inspections = [event for event in events if event.kind == "inspected"]
    inspected = None
    if inspections:
        asked = InspectAsked.model_validate(inspections[-1].value["asked"])
        inspected = _inspected(asked)
    recipe_id = batches.made(session, row.batch_number).recipe_id if row.batch_number is not None else None
    hazards = tuple(caution.title for caution in cautions_for([(row.name, tuple(row.hazards))]))
    return ItemPage(
        _line(row, now.date()), row.density_g_per_ml, row.gross_g, row.tare_g, row.cover, row.note, row.why,
        hazards, beware(tuple(row.hazards)), inspected,
        tuple(ItemEvent(e.id, e.kind, e.at, e.value["text"]) for e in events),
        _likely(session, row) if row.unknown_hazard and row.status in HERE else (), recipe_id,
        row.batch_number is not None and row.status in HERE,
    )  # fmt: skip


# --- inspection


class InspectAsked(_Document):
    """An inspection with an id made by the client: the oil layer over the height of the filling, the rest by eye."""

    id: UUID
    made_on: date
    layer_mm: Annotated[float, Field(strict=True, ge=0, le=500)]
    fill_height_mm: Annotated[float, Field(strict=True, ge=0.1, le=500)]
    skin: Skin = Skin.NONE
    body: Body = Body.AS_FILLED
    smell: Smell = Smell.OIL
    label_readable: bool = True
    note: Text = ""


def _inspected(asked: InspectAsked) -> Inspected:
    return core.inspect(
        asked.layer_mm, asked.fill_height_mm, asked.skin, asked.body, asked.smell, label_readable=asked.label_readable
    )


def inspect(session: Session, now: datetime, item_id: int, asked: InspectAsked) -> ItemPage:
    """Log an inspection: its verdict, the next one's day; bad separation marks the recipe. Raises Refused, Missing."""
    keep_look(session, now, item_id, asked)
    return page(session, now, item_id)


def keep_look(session: Session, now: datetime, item_id: int, asked: InspectAsked) -> None:
    """Log an inspection, as `inspect` does, without the page."""
    row = _row(session, item_id, lock=True)
    known = session.get(ShelfEvent, asked.id)
    if known is not None:
        if known.item_id != item_id or known.value.get("asked") != asked.model_dump(mode="json"):
            raise Conflict("id", "this id belongs to another act already", "a new id")
        return
    if row.status not in HERE:
        raise Refused("id", f"it is {row.status.replace('_', ' ')}", "a tube or jar that is here")
    if not row.filled_on <= asked.made_on <= now.date():
        raise Refused("made_on", f"{asked.made_on} cannot be", f"from its filling, {row.filled_on}, to {now.date()}")
    told = _inspected(asked)
    text = f"inspected: {told.title.lower()}. {told.why}" + (f" {asked.note.strip()}" if asked.note.strip() else "")
    value = {"text": text, "asked": asked.model_dump(mode="json"), "separated": told.separated,
             "outcome": told.outcome}  # fmt: skip
    _log(session, item_id, asked.id, "inspected", value, now, now)
    history = [
        bool(event.value["separated"])
        for event in session.scalars(
            select(ShelfEvent)
            .where(ShelfEvent.item_id == item_id, ShelfEvent.kind == "inspected")
            .order_by(ShelfEvent.seq)
        )
    ]
    row.last_outcome = told.outcome
    row.next_inspection_on = core.after_months(asked.made_on, core.next_interval_months(history))
    row.unknown_hazard = row.unknown_hazard or told.unknown_hazard
    if told.prone and row.batch_number is not None:
        recipe_id = batches.made(session, row.batch_number).recipe_id
        if recipe_id is not None:
            recipes.note_bleeds(session, now, recipe_id)
    session.flush()


# --- what is done with it


class ItemAct(StrEnum):
    """What can be done with a tube or jar besides looking."""

    MOVE = "move"
    NOTE = "note"
    STIR_BACK = "stir_back"
    LIFT_SKIN = "lift_skin"
    LEAVE = "leave"
    BACK = "back"


class ItemActAsked(_Document):
    """One act with an id made by the client: `move` names a `place`, `leave` says `how` and, discarding, `text`.

    `lift_skin` has the volume that is left after it; `back` puts what left by mistake back on the shelf.
    """

    id: UUID
    kind: ItemAct
    made_at: AwareDatetime
    place: Annotated[Words, Field(max_length=80)] | None = None
    how: Left | None = None
    text: Text = ""
    volume_ml: Millilitres | None = None


def act(session: Session, now: datetime, item_id: int, asked: ItemActAsked) -> ItemPage:
    """Log what was done with a tube or jar. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    row = _row(session, item_id, lock=True)
    known = session.get(ShelfEvent, asked.id)
    if known is not None:
        if known.item_id != item_id or known.kind != asked.kind:
            raise Conflict("id", "this id belongs to another act already", "a new id")
        return page(session, now, item_id)
    act_time("made_at", asked.made_at, now, since=datetime.combine(row.filled_on, time(), UTC) - timedelta(days=1))
    here = row.status in HERE
    if not here and asked.kind not in (ItemAct.BACK, ItemAct.NOTE):
        raise Refused("kind", f"it is {row.status.replace('_', ' ')}", "back, or a note")
    said = asked.text.strip()
    match asked.kind:
        case ItemAct.MOVE:
            if not (asked.place or "").strip():
                raise Refused("place", "empty", "where it stands now")
            row.place = (asked.place or "").strip()
            text = f"moved to {row.place}"
        case ItemAct.NOTE:
            if not said:
                raise Refused("text", "empty", "a few words")
            text = f"note: {said}"
        case ItemAct.STIR_BACK:
            text, row.last_outcome = "oil stirred back", Outcome.GOOD
        case ItemAct.LIFT_SKIN:
            if asked.volume_ml is not None:
                if asked.volume_ml > row.volume_ml:
                    raise Refused("volume_ml", "more than there was", f"up to {row.volume_ml:.1f} ml")
                row.volume_ml = asked.volume_ml
            text, row.last_outcome = f"skin lifted, strained, refilled: {row.volume_ml:.1f} ml", Outcome.GOOD
        case ItemAct.LEAVE:
            if asked.how is None or asked.how is Left.REGROUND:
                raise Refused("how", "missing", "given, sold, used_up or discarded")
            if asked.how is Left.DISCARDED and not said:
                raise Refused("text", "empty", "why it is discarded")
            row.status, row.why = asked.how, said
            text = asked.how.replace("_", " ") + (f": {said}" if said else "")
        case ItemAct.BACK:
            if here:
                raise Refused("kind", "it is here already", "an act on it")
            row.status, row.why, text = "kept", "", "back on the shelf"
    _log(session, item_id, asked.id, asked.kind, {"text": text}, asked.made_at, now)
    return page(session, now, item_id)


@dataclass(frozen=True, slots=True)
class Reground:
    """The batch that an old paint became."""

    number: int


def regrind(session: Session, now: datetime, item_id: int, request_id: UUID) -> Reground:
    """Put an old paint back on the slab: a batch whose powder and oil are in already, at its known ratio.

    Nothing is drawn from stock: it was when the paint was made. Raises Refused, Missing.
    """
    row = _row(session, item_id, lock=True)
    known = session.get(ShelfEvent, uuid5(request_id, "regrind"))
    if known is not None:
        return Reground(int(known.value["batch"]))
    if row.batch_number is None:
        raise Refused("id", "nobody knows what is in it", "a jar matched with its batch first")
    if row.status not in HERE:
        raise Refused("id", f"it is {row.status.replace('_', ' ')}", "a tube or jar that is here")
    kept = batches.batch(session, row.batch_number, 0)
    paste, plan = kept.paste, kept.plan
    density = row.density_g_per_ml or paste.total_g / max(0.01, batches.line(session, row.batch_number).made_ml)
    share = row.volume_ml * density / paste.total_g
    number = slab.take_to_slab(session, now, uuid5(request_id, "batch"), _as_old_paint(row, plan, kept.asked, share))
    source = {w.pigment.source: f"library-{w.pigment.key}" for w in plan.lines}

    def said(kind: Kind, name: str, **what: object) -> None:
        told = {"id": uuid5(request_id, name), "kind": kind, "made_at": now, **what}
        slab.record(session, now, number, Act.model_validate(told))

    said(Kind.READY, "ready")
    for n, (lot, grams) in enumerate(paste.pigments.items()):
        said(Kind.POWDER, f"powder-{n}", source=source[lot], measure=AmountAsked(amount=max(0.01, grams * share)))
    said(Kind.OIL, "oil", source=f"library-{plan.oil.parts[0].key if plan.oil.parts else plan.oil.key}",
         measure=AmountAsked(amount=max(0.01, paste.oil_g * share)))  # fmt: skip
    for n, one in enumerate(paste.additives.values()):
        keeps = (row.use_by - now.date()).days if row.use_by is not None and one.use_by is not None else None
        slab.stirred_in_already(session, now, number, uuid5(request_id, f"additive-{n}"), one.what,
                                one.grams * share, keeps)  # fmt: skip
    said(Kind.NOTE, "note", text=f"old paint {row.code} of batch {row.batch_number}, ground again")
    row.status, row.why = Left.REGROUND, f"became batch {number}"
    value = {"text": f"ground again: became batch {number}", "batch": number}
    _log(session, item_id, uuid5(request_id, "regrind"), "regrind", value, now, now)
    return Reground(number)


def _as_old_paint(row: ShelfItem, plan: Plan, asked: dict[str, Any], share: float) -> PlanAsked:
    """A plan of the library's entries for what an old paint holds, so that no tin is drawn on twice.

    Its hazards are those of the tube or jar, which may be more than the library says.
    """
    was = PlanAsked.model_validate(asked)
    grams = {w.pigment.key: w.mass.value for w in plan.lines}
    return PlanAsked(
        lines=[LineAsked(pigment_key=key, parts=max(0.01, g)) for key, g in grams.items()],
        oil=OilAsked(oil_key=plan.oil.parts[0].key if plan.oil.parts else plan.oil.key),
        reduced_pvc=was.reduced_pvc, pigment_g=max(0.1, sum(grams.values()) * share),
        slab_id=was.slab_id, muller_id=was.muller_id, trial=was.trial,
        old_paint=OldPaintAsked(name=f"Old paint {row.code}", hazards=list(row.hazards)),
    )  # fmt: skip


# --- found jars


class FoundAsked(_Document):
    """A jar nobody can name: what it looks like, what it weighs if that is known, and where it stands."""

    id: UUID
    kind: ItemKind = ItemKind.JAR
    container: Annotated[Words, Field(min_length=1, max_length=80)] = "jar"
    srgb: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
    volume_ml: Millilitres
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    place: Annotated[Words, Field(max_length=80)] = ""
    note: Text = ""


def find(session: Session, now: datetime, asked: FoundAsked) -> int:
    """Put a found jar on the shelf, an unknown hazard until it is matched; its id. Raises Refused."""
    density = None
    if asked.gross_g is not None:
        if asked.tare_g is None:
            raise Refused("tare_g", "missing", "what the empty jar weighs, in g")
        if asked.gross_g <= asked.tare_g:
            raise Refused("gross_g", f"not above the tare of {asked.tare_g:g} g", f"more than {asked.tare_g:g} g")
        density = (asked.gross_g - asked.tare_g) / asked.volume_ml
        within("gross_g", density, 0.7, 8, "g/ml of paint")
    return put(
        session, now,
        NewItem(asked.id, asked.kind, "Unknown paint", asked.srgb.lower(), asked.container, asked.volume_ml,
                now.date(), density_g_per_ml=density, gross_g=asked.gross_g, tare_g=asked.tare_g, place=asked.place,
                note=asked.note, unknown_hazard=True),
    )  # fmt: skip


WORTH_TELLING = 0.005
FIRST = 3


def _likely(session: Session, row: ShelfItem) -> tuple[LikelyBatch, ...]:
    lab = lab_of_srgb(row.masstone_srgb)
    known = batches.colours(session)
    # Batches of one recipe share a colour: each is compared once.
    off = {srgb: difference(lab, lab_of_srgb(srgb)) for srgb in {one.masstone_srgb for one in known}}
    suspects = [Suspect(one.number, off[one.masstone_srgb], one.density_g_per_ml) for one in known]
    named = {one.number: one for one in known}
    told = []
    for n, one in enumerate(core.match(row.density_g_per_ml, suspects)):
        batch = named.get(one.number) if one.number is not None else None
        if batch is None or one.likely >= WORTH_TELLING or n < FIRST:
            told.append(
                LikelyBatch(
                    one.number, batch.name if batch else "", batch.masstone_srgb if batch else "", one.likely, one.says
                )
            )
    return tuple(told)


def settle(session: Session, now: datetime, item_id: int, number: int) -> ItemPage:
    """Say which batch a found jar is of. Raises Refused, Missing."""
    row = _row(session, item_id, lock=True)
    if row.batch_number is not None and not row.unknown_hazard:
        raise Refused("batch_number", f"it is of batch {row.batch_number}", "a jar nobody could name")
    made = batches.made(session, number)
    row.batch_number, row.name, row.unknown_hazard = number, made.kept.name, False
    row.hazards = sorted({*row.hazards, *batches.hazard_keys_of(made.kept)})
    value = {"text": f"taken to be of batch {number}, by colour and weight"}
    _log(session, item_id, uuid5(row.request_id, f"settle-{number}-{now.isoformat()}"), "settle", value, now, now)
    return page(session, now, item_id)


def waiting_of(session: Session, recipe_id: int) -> tuple[ItemLine, ...]:
    """Part-filled tubes that wait for the next batch of a recipe."""
    numbers = [one.number for one in batches.of_recipe(session, recipe_id)]
    rows = session.scalars(select(ShelfItem).where(ShelfItem.status == "waiting", ShelfItem.batch_number.in_(numbers)))
    return tuple(_line(row, row.filled_on) for row in rows)


def top_up(
    session: Session,
    now: datetime,
    item_id: int,
    event_id: UUID,
    number: int,
    volume_ml: float,
    hazards: tuple[str, ...],
) -> None:
    """Fill a waiting tube up with paint of the next batch, which brings its `hazards`; both numbers are kept.

    Raises Refused, Missing.
    """
    row = _row(session, item_id, lock=True)
    if row.status != "waiting":
        raise Refused("item_id", "it does not wait", "a part-filled tube")
    most = (row.usable_ml or volume_ml) * 1.05
    if volume_ml <= row.volume_ml or volume_ml > most:
        raise Refused("volume_ml", f"{volume_ml:g} ml is no filling up", f"above {row.volume_ml:.1f} to {most:.1f} ml")
    taken = volume_ml - row.volume_ml
    row.volume_ml, row.topped_by, row.status, row.topped_ml = volume_ml, number, "kept", taken
    row.hazards = sorted({*row.hazards, *hazards})
    value = {"text": f"topped up with {taken:.1f} ml of batch {number}", "taken_ml": taken}
    _log(session, item_id, event_id, "topped_up", value, now, now)


def filled_from(session: Session, number: int) -> tuple[tuple[ItemLine, ...], float]:
    """What was filled from a batch, and how much of its paint that took in ml, top-ups counted where they went."""
    rows = session.scalars(
        select(ShelfItem)
        .where(or_(ShelfItem.batch_number == number, ShelfItem.topped_by == number))
        .order_by(ShelfItem.id)
    ).all()
    taken = sum(
        (row.drawn_ml if row.batch_number == number else 0.0) + (row.topped_ml if row.topped_by == number else 0.0)
        for row in rows
    )
    return tuple(_line(row, row.filled_on) for row in rows), taken


def taken_of(session: Session, numbers: list[int]) -> dict[int, float]:
    """How much of the paint of some batches is in tubes and jars, in ml."""
    own = select(ShelfItem.batch_number.label("number"), ShelfItem.drawn_ml.label("ml"))
    added = select(ShelfItem.topped_by, ShelfItem.topped_ml)
    each = union_all(
        own.where(ShelfItem.batch_number.in_(numbers)), added.where(ShelfItem.topped_by.in_(numbers))
    ).subquery()
    taken = session.execute(select(each.c.number, func.sum(each.c.ml)).group_by(each.c.number))
    return {number: float(ml) for number, ml in taken}


def lines_of(session: Session, ids: list[int]) -> tuple[ItemLine, ...]:
    """Some tubes and jars, in the order asked for. Raises Missing."""
    rows = {row.id: row for row in session.scalars(select(ShelfItem).where(ShelfItem.id.in_(ids)))}
    missing = [one for one in ids if one not in rows]
    if missing:
        raise Missing("tube or jar", missing[0])
    return tuple(_line(rows[one], rows[one].filled_on) for one in ids)
