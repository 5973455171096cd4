"""A tube or jar read, inspected, acted on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from enum import StrEnum
from typing import Annotated
from uuid import UUID, uuid5

from pydantic import AwareDatetime, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.cautions import beware, cautions_for
from niddy.core.colorimetry import difference, lab_of_srgb
from niddy.core.errors import Refused
from niddy.core.shelf import Inspected, Outcome, Suspect
from niddy.db.shelf import ShelfEvent, ShelfItem
from niddy.studio import batches
from niddy.studio.amounts import Millilitres
from niddy.studio.documents import Document
from niddy.studio.errors import Conflict
from niddy.studio.shelf.inspecting import InspectAsked, inspected_of, keep_look
from niddy.studio.shelf.items import (
    CONTENTS,
    HERE,
    ItemEvent,
    ItemLine,
    Left,
    Text,
    contents_of_row,
    item_line,
    item_row,
    log_event,
)
from niddy.studio.times import act_time
from niddy.studio.words import Words


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


def page(session: Session, now: datetime, item_id: int) -> ItemPage:
    """A tube or jar to be read. Raises Missing."""
    row = item_row(session, item_id)
    events = session.scalars(select(ShelfEvent).where(ShelfEvent.item_id == item_id).order_by(ShelfEvent.seq)).all()
    inspections = [event for event in events if event.kind == "inspected"]
    inspected = None
    if inspections:
        asked = InspectAsked.model_validate(inspections[-1].value["asked"])
        inspected = inspected_of(asked)
    recipe_id = batches.made(session, row.batch_number).recipe_id if row.batch_number is not None else None
    hazards = tuple(caution.title for caution in cautions_for([(row.name, tuple(row.hazards))]))
    return ItemPage(
        item_line(row, now.date()), row.density_g_per_ml, row.gross_g, row.tare_g, row.cover, row.note, row.why,
        hazards, beware(tuple(row.hazards)), inspected,
        tuple(ItemEvent(e.id, e.kind, e.at, e.value["text"]) for e in events),
        _likely(session, row) if row.unknown_hazard and row.status in HERE else (), recipe_id,
        row.batch_number is not None and row.status in HERE,
    )  # fmt: skip


def inspect(session: Session, now: datetime, item_id: int, asked: InspectAsked) -> ItemPage:
    """Log an inspection: its verdict, the next one's day; bad separation marks the recipe. Raises Refused, Missing."""
    keep_look(session, now, item_id, asked)
    return page(session, now, item_id)


class ItemAct(StrEnum):
    """What can be done with a tube or jar besides looking."""

    MOVE = "move"
    NOTE = "note"
    STIR_BACK = "stir_back"
    LIFT_SKIN = "lift_skin"
    LEAVE = "leave"
    BACK = "back"


class ItemActAsked(Document):
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
    row = item_row(session, item_id, lock=True)
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
    log_event(session, item_id, asked.id, asked.kind, {"text": text}, asked.made_at, now)
    return page(session, now, item_id)


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
    row = item_row(session, item_id, lock=True)
    if row.batch_number is not None and not row.unknown_hazard:
        raise Refused("batch_number", f"it is of batch {row.batch_number}", "a jar nobody could name")
    made = batches.made(session, number)
    row.batch_number, row.name, row.unknown_hazard = number, made.kept.name, False
    row.contents = CONTENTS.dump_python(contents_of_row(session, row), mode="json")
    row.hazards = sorted({*row.hazards, *batches.hazard_keys_of(made.kept)})
    value = {"text": f"taken to be of batch {number}, by colour and weight"}
    log_event(session, item_id, uuid5(row.request_id, f"settle-{number}-{now.isoformat()}"), "settle", value, now, now)
    return page(session, now, item_id)
