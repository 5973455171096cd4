"""A tube or jar read, inspected, acted on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.cautions import beware, cautions_for, title_of
from niddy.core.colorimetry import difference, lab_of_srgb
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.shelf import Inspected, Outcome, Suspect
from niddy.core.sludge import ASKED_FIRST
from niddy.core.sources import lot_of
from niddy.db.shelf import ShelfItem
from niddy.studio import batches, checks, log, materials, outputs, paints
from niddy.studio.recorder import LogRoom
from niddy.studio.shelf.acts import (
    ITEM_ACTS,
    Back,
    ItemAct,
    ItemFacts,
    ItemNote,
    ItemPicture,
    Leave,
    LiftSkin,
    Move,
    OfNoBatch,
    StirBack,
)
from niddy.studio.shelf.inspecting import LOOKED, Looked, inspected_of, keep_look
from niddy.studio.shelf.items import (
    CONTENTS,
    HERE,
    ROOM,
    ItemEvent,
    ItemKind,
    ItemLine,
    Left,
    contents_of_row,
    item_line,
    item_row,
)


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
    label_says: str
    why: str
    hazards: tuple[str, ...]
    beware: tuple[str, ...]
    inspected: Inspected | None
    events: tuple[ItemEvent, ...]
    likely: tuple[LikelyBatch, ...]
    colour_read: bool
    recipe_id: int | None
    can_regrind: bool


@dataclass(frozen=True, slots=True)
class ItemKept:
    """A tube or jar while an act on it is recorded: its row, which the act changes."""

    session: Session
    row: ShelfItem
    last_seq: int

    @property
    def job_id(self) -> int:
        """The job that it is."""
        return self.row.job_id

    @property
    def status(self) -> Status:
        """Whether it is still here."""
        return Status.OPEN if self.row.status in HERE else Status.FINISHED


def page(session: Session, now: datetime, item_id: int) -> ItemPage:
    """A tube or jar to be read. Raises Missing."""
    row = item_row(session, item_id)
    events = log.entries(session, row.job_id)
    inspections = [event for event in events if event.kind == "inspected"]
    inspected = None
    if inspections:
        inspected = inspected_of(LOOKED.validate_python(inspections[-1].payload))
    recipe_id = batches.made(session, row.batch_number).recipe_id if row.batch_number is not None else None
    hazards = tuple(caution.title for caution in cautions_for([(row.name, tuple(row.hazards))]))
    return ItemPage(
        item_line(row, now.date()),
        row.density_g_per_ml,
        row.gross_g,
        row.tare_g,
        row.cover,
        row.note,
        row.label_says,
        row.why,
        hazards,
        beware(tuple(row.hazards)),
        inspected,
        tuple(ItemEvent(e.id, e.kind, e.made_at, e.facts["text"]) for e in events),
        _likely(session, row) if row.unknown_hazard and row.status in HERE and not row.of_no_batch else (),
        row.colour_read,
        recipe_id,
        row.batch_number is not None and row.status in HERE,
    )


def inspect(session: Session, now: datetime, item_id: int, asked: Looked) -> ItemPage:
    """Log an inspection: its verdict, the next one's day; bad separation marks the recipe. Raises Refused, Missing."""
    keep_look(session, now, item_id, asked)
    return page(session, now, item_id)


def _held(session: Session, item_id: int) -> ItemKept:
    row = item_row(session, item_id)
    return ItemKept(session, row, log.hold(session, row.job_id))


def _earliest(kept: ItemKept) -> datetime:
    return datetime.combine(kept.row.filled_on, time(), UTC) - timedelta(days=1)


def _check(kept: ItemKept, act: ItemAct) -> None:
    row = kept.row
    if row.status not in HERE and not isinstance(act, Back | ItemNote | ItemPicture):
        raise Refused("kind", f"it is {row.status.replace('_', ' ')}", "back, or a note")
    if isinstance(act, Leave) and act.how in (Left.SOLD, Left.GIVEN) and not act.anyway:
        _ask_of_sludge(kept.session, row)


def _facts(session: Session, now: datetime, kept: ItemKept, act: ItemAct) -> ItemFacts:
    """Do what an act says; what was done in words. Raises Refused."""
    return ItemFacts(_done(kept.row, act))


def _follow(session: Session, now: datetime, kept: ItemKept, act: ItemAct) -> ItemKept:
    session.flush()
    return kept


ITEMS: LogRoom[ItemKept, ItemAct, ItemFacts] = LogRoom(
    ROOM,
    "tube or jar",
    ITEM_ACTS,
    job=_held,
    grown=lambda session, kept, entry: kept,
    words=lambda kept, logged: logged.facts.text,
    check=_check,
    facts=_facts,
    since=_earliest,
    # Its row is held before its job: whoever draws from a tube holds them in that order.
    first=lambda session, item_id: item_row(session, item_id, lock=True),
    follow=_follow,
)


def page_of(session: Session, now: datetime, kept: ItemKept) -> ItemPage:
    """The page of a tube or jar that was acted on."""
    return page(session, now, kept.row.id)


def _ask_of_sludge(session: Session, row: ShelfItem) -> None:
    """Paint of sludge that holds what one asks about first goes to others only with open eyes. Raises Refused."""
    contents = contents_of_row(session, row)
    lots = [lot_of(content.source) for content in contents]
    cakes = materials.cakes_among(session, [lot for lot in lots if lot is not None])
    found = {key for content in contents if lot_of(content.source) in cakes for key in content.hazards}
    asked = sorted(title_of(key) for key in found & ASKED_FIRST)
    if asked:
        raise Refused(
            "anyway",
            f"it is made of brush-washing sludge: {'; '.join(asked)}",
            "keep it for your own use; or yes, to someone who knows, with that on its label",
        )


def _done(row: ShelfItem, asked: ItemAct) -> str:
    """Change a tube or jar as an act says; what was done in words. Raises Refused."""
    said = asked.text.strip()
    match asked:
        case Move():
            if not asked.place.strip():
                raise Refused("place", "empty", "where it stands now")
            row.place = asked.place.strip()
            return f"moved to {row.place}"
        case ItemNote():
            if not said:
                raise Refused("text", "empty", "a few words")
            return f"note: {said}"
        case StirBack():
            row.last_outcome = Outcome.GOOD
            return "oil stirred back"
        case LiftSkin():
            if asked.volume_ml is not None:
                if asked.volume_ml > row.volume_ml:
                    raise Refused("volume_ml", "more than there was", f"up to {row.volume_ml:.1f} ml")
                row.volume_ml = asked.volume_ml
            row.last_outcome = Outcome.GOOD
            if row.kind == ItemKind.STICK:
                return "skin peeled"
            return f"skin lifted, strained, refilled: {row.volume_ml:.1f} ml"
        case Leave():
            if asked.how is Left.REGROUND:
                raise Refused("how", "it is ground again on the slab", "given, sold, used_up or discarded")
            if asked.how is Left.DISCARDED and not said:
                raise Refused("text", "empty", "why it is discarded")
            row.status, row.why = asked.how, said
            return asked.how.replace("_", " ") + (f": {said}" if said else "")
        case Back():
            if row.status in HERE:
                raise Refused("kind", "it is here already", "an act on it")
            row.status, row.why = "kept", ""
            return "back on the shelf"
        case OfNoBatch():
            if row.batch_number is not None:
                raise Refused("kind", f"it is of batch {row.batch_number}", "a found jar")
            row.of_no_batch = True
            return "of none of the batches here"
        case _:
            return "picture"


WORTH_TELLING = 0.005


FIRST = 3


def _likely(session: Session, row: ShelfItem) -> tuple[LikelyBatch, ...]:
    read = paints.read_of_item(session, row.id)
    lab = read or lab_of_srgb(row.masstone_srgb)
    known = batches.colours(session)
    # Batches of one recipe share a swatch: each is compared once. What was read of both says more than swatches.
    off = {srgb: difference(lab, lab_of_srgb(srgb)) for srgb in {coloured.masstone_srgb for coloured in known}}
    of_batch = checks.masstones(session) if read is not None else {}
    suspects = [
        Suspect(
            coloured.number,
            difference(lab, of_batch[coloured.number]) if coloured.number in of_batch else off[coloured.masstone_srgb],
            coloured.density_g_per_ml,
        )
        for coloured in known
    ]
    named = {coloured.number: coloured for coloured in known}
    candidates = []
    for n, candidate in enumerate(core.match(row.density_g_per_ml, suspects)):
        batch = named.get(candidate.number) if candidate.number is not None else None
        if batch is None or candidate.likely >= WORTH_TELLING or n < FIRST:
            candidates.append(
                LikelyBatch(
                    candidate.number,
                    batch.name if batch else "",
                    batch.masstone_srgb if batch else "",
                    candidate.likely,
                    candidate.says,
                )
            )
    return tuple(candidates)


_SETTLED = UUID("5e771ed0-0000-5000-8000-000000000000")


def settle(session: Session, now: datetime, item_id: int, number: int) -> ItemPage:
    """Say which batch a found jar is of. Raises Refused, Missing."""
    row = item_row(session, item_id, lock=True)
    if row.batch_number is not None and not row.unknown_hazard:
        raise Refused("batch_number", f"it is of batch {row.batch_number}", "a jar nobody could name")
    made = batches.made(session, number)
    row.batch_number, row.name, row.unknown_hazard = number, made.kept.name, False
    row.contents = CONTENTS.dump_python(contents_of_row(session, row), mode="json")
    row.hazards = sorted({*row.hazards, *batches.hazard_keys_of(made.kept)})
    outputs.note(session, made.kept.job_id, now, row.volume_ml, item_id=item_id)
    facts = {"text": f"taken to be of batch {number}, by colour and weight"}
    act_id = uuid5(_SETTLED, f"{item_id}-{number}-{now.isoformat()}")
    log.log(session, now, row.job_id, log.New(act_id, "settle", now, {"batch_number": number}, facts))
    session.flush()
    return page(session, now, item_id)
