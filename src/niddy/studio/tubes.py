"""Tubes: which to fill from a batch, and the filling run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import tubes as core
from niddy.core.amounts import Grams, Millilitres
from niddy.core.cautions import beware
from niddy.core.contents import Contents, scaled
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.filling import WAYS, WayToFill
from niddy.core.slab import Status
from niddy.core.tubes import Filled
from niddy.core.words import Words
from niddy.studio import batches, materials, shelf, workshop
from niddy.studio.batches import BatchLine
from niddy.studio.shelf import ItemKind, ItemLine, NewItem

SPARE = 1.15
"""More than a batch made can be filled by so much: air and full marks stretch it (assumed)."""


WORTH_FILLING_ML = 3.0
"""Less than this left of a batch stays on the tools (assumed)."""


@dataclass(frozen=True, slots=True)
class KindNow:
    """One kind of tube: empties by the book (None where none are kept), target weights, how many to fill."""

    tube_type_id: int
    name: str
    usable_ml: float
    headspace_mm: float | None
    folds: int | None
    tare_g: float | None
    empties: int | None
    target_fill_g: float
    target_gross_g: float | None
    suggested: int


@dataclass(frozen=True, slots=True)
class Filling:
    """A batch being filled: what it made, what is left of it, which tubes to fill, and what is filled.

    `spoils`: it has a day to be used by, so that nothing of it waits for another batch.
    """

    number: int
    name: str
    masstone_srgb: str
    undertone_srgb: str
    recipe_id: int | None
    release: str | None
    needs_reason: bool
    density_g_per_ml: float
    air: float
    to_fill_ml: float
    filled_ml: float
    left_ml: float
    kinds: tuple[KindNow, ...]
    leftover_ml: float
    items: tuple[ItemLine, ...]
    waiting: tuple[ItemLine, ...]
    jars: tuple[str, ...]
    beware: tuple[str, ...]
    ways: tuple[WayToFill, ...]
    spoils: bool


@dataclass(frozen=True, slots=True)
class Empties:
    """A tube type with its measures, and how many empties there are by the book; None where none are kept in stock."""

    tube_type_id: int
    name: str
    usable_ml: float
    diameter_mm: float | None
    length_mm: float | None
    headspace_mm: float | None
    folds: int | None
    tare_g: float | None
    empties: int | None


def empties(session: Session) -> tuple[Empties, ...]:
    """The tube types in use and their empties."""
    kept = materials.pieces(session, "tube")
    return tuple(
        Empties(
            kind.id,
            kind.name,
            kind.usable_ml,
            kind.diameter_mm,
            kind.length_mm,
            kind.headspace_mm,
            kind.folds,
            kind.tare_g,
            int(kept[kind.name]) if kind.name in kept else None,
        )
        for kind in workshop.workshop(session).tube_types
    )


@dataclass(frozen=True, slots=True)
class ToFill:
    """A finished batch with paint still to fill."""

    number: int
    name: str
    masstone_srgb: str
    left_ml: float
    release: str | None


def filling(session: Session, now: datetime, number: int) -> Filling:
    """A batch and its tubes. Raises Refused for one that is not finished, Missing."""
    made = batches.made(session, number)
    kept = made.kept
    if kept.status is not Status.FINISHED:
        raise Refused("number", f"the batch is {kept.status}", "a finished batch")
    line = batches.line(session, number)
    density = kept.paste.total_g / line.made_ml if line.made_ml > 0 else 1.0
    to_fill = line.filled_ml + line.leftover_ml or line.made_ml
    items, taken = shelf.filled_from(session, number)
    left = max(0.0, to_fill - taken)
    types = empties(session)
    # A studio that keeps no empties in its stock has them all the same.
    plenty = 0 if any(kind.empties is not None for kind in types) else core.MAX_COUNT
    chosen = core.choose(
        left, [core.Kind(kind.usable_ml, plenty if kind.empties is None else max(0, kind.empties)) for kind in types]
    )
    kinds = []
    for kind, suggested in zip(types, chosen.counts, strict=True):
        target = core.target_fill_g(kind.usable_ml, density)
        kinds.append(
            KindNow(
                kind.tube_type_id,
                kind.name,
                kind.usable_ml,
                kind.headspace_mm,
                kind.folds,
                kind.tare_g,
                kind.empties,
                target,
                target + kind.tare_g if kind.tare_g is not None else None,
                suggested,
            )
        )
    return Filling(
        number,
        kept.name,
        kept.masstone_srgb,
        kept.plan.undertone_srgb,
        made.recipe_id,
        made.release,
        made.recipe_id is not None and made.release not in batches.RELEASED,
        density,
        core.AIR,
        to_fill,
        taken,
        left,
        tuple(kinds),
        chosen.leftover_ml,
        items,
        shelf.waiting_of(session, made.recipe_id) if made.recipe_id is not None else (),
        tuple(materials.pieces(session, "jar")),
        beware(batches.hazard_keys_of(kept)),
        WAYS,
        batches.keeping(session, number).use_by is not None,
    )


LOOKED_AT = 40
"""So many of the last finished batches are looked at for paint still to fill."""


def to_fill(session: Session, lines: tuple[BatchLine, ...] | None = None) -> tuple[ToFill, ...]:
    """Finished batches of the last weeks that still have paint to fill, the newest first.

    `lines` are the finished batches where the caller has them already.
    """
    waiting = []
    lines = batches.latest_finished(session, LOOKED_AT) if lines is None else lines
    taken = shelf.taken_of(session, [line.number for line in lines])
    for line in lines:
        left = (line.filled_ml + line.leftover_ml or line.made_ml) - taken.get(line.number, 0.0)
        if left > WORTH_FILLING_ML and not line.discarded:
            waiting.append(ToFill(line.number, line.name, line.masstone_srgb, left, line.release))
    return tuple(waiting)


class FillAsked(Document):
    """One tube or jar filled, with an id made by the client. A tube names its type; a jar what it is.

    With `gross_g` the weight says how full it is (`tare_g` where the type has none); else `volume_ml`, or the
    usable volume. `part` keeps the last tube waiting for the next batch of the recipe.
    """

    id: UUID
    tube_type_id: RowId | None = None
    jar: Annotated[Words, Field(max_length=80)] | None = None
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    volume_ml: Millilitres | None = None
    part: bool = False
    cover: Annotated[str, Field(pattern="^(|oil|film)$")] = ""
    place: Annotated[Words, Field(max_length=80)] = ""
    reason: Annotated[Words, Field(max_length=300)] = ""
    top_up_id: RowId | None = None


@dataclass(frozen=True, slots=True)
class Done:
    """The filling after one more tube, and what its weight says."""

    filling: Filling
    weighed: Filled | None
    item_id: int


def fill(session: Session, now: datetime, number: int, asked: FillAsked) -> Done:
    """Log one filled tube or jar. Sent again it changes nothing. Raises Refused, Missing."""
    weighed, item_id = keep(session, now, number, asked)
    return Done(filling(session, now, number), weighed, item_id)


def keep(session: Session, now: datetime, number: int, asked: FillAsked) -> tuple[Filled | None, int]:
    """Log one filled tube or jar, as `fill` does; what its weight says, and its id."""
    batches.hold(session, number)
    known = shelf.by_request(session, asked.id)
    if known is not None:
        return None, known
    seen = filling(session, now, number)
    if seen.needs_reason and not asked.reason.strip():
        held = seen.release or "not released yet"
        raise Refused("reason", f"the batch is {held}", "why it is tubed as stock all the same")
    kind = next((line for line in seen.kinds if line.tube_type_id == asked.tube_type_id), None)
    if asked.part and seen.spoils:
        raise Refused("part", "this paint spoils", "a full tube, or a jar kept cold and used by its day")
    if asked.tube_type_id is not None and kind is None:
        raise Refused("tube_type_id", "no such kind of tube", "a tube type of the workshop")
    if kind is None and not (asked.jar or "").strip():
        raise Refused("tube_type_id", "neither tube nor jar", "a tube type, or what jar it is")
    weighed = None
    tare = asked.tare_g if asked.tare_g is not None else kind.tare_g if kind is not None else None
    if asked.gross_g is not None:
        if tare is None:
            raise Refused("tare_g", "missing", "what it weighs empty, in g")
        usable = kind.usable_ml if kind is not None else (asked.gross_g - tare) / seen.density_g_per_ml
        weighed = core.weigh(asked.gross_g, tare, max(usable, 0.01), seen.density_g_per_ml)
        volume = weighed.volume_ml
    elif asked.volume_ml is not None:
        volume = asked.volume_ml
    elif kind is not None and not asked.part:
        volume = kind.usable_ml
    else:
        raise Refused("volume_ml", "missing", "how much is in it, in ml, or its gross weight")
    if weighed is None and kind is not None:
        weighed = core.by_volume(volume, kind.usable_ml, seen.density_g_per_ml)
    if kind is not None and volume > kind.usable_ml * 1.2:
        raise Refused("volume_ml", f"{volume:.1f} ml is more than it takes", f"up to {kind.usable_ml * 1.2:.1f} ml")
    if asked.top_up_id is not None:
        waiting = next((line for line in seen.waiting if line.id == asked.top_up_id), None)
        if waiting is None:
            raise Refused("top_up_id", "it does not wait for this recipe", "a part-filled tube that does")
        if kind is None or waiting.container != kind.name:
            raise Refused("top_up_id", f"it is a {waiting.container}", "a waiting tube of the kind that is filled")
        if volume - waiting.volume_ml > seen.left_ml * SPARE:
            raise Refused("volume_ml", "more than is left of the batch", f"up to {seen.left_ml:.1f} ml more")
        shelf.top_up(session, now, asked.top_up_id, asked.id, number, volume, _paint(session, number))
        return weighed, asked.top_up_id
    if volume > seen.left_ml * SPARE + 0.5:
        raise Refused(
            "volume_ml",
            f"{volume:.1f} ml is more than the {seen.left_ml:.1f} ml left of the batch",
            f"up to {seen.left_ml * SPARE:.1f} ml",
        )
    container = kind.name if kind is not None else (asked.jar or "").strip()
    field = "tube_type_id" if kind is not None else "jar"
    job_id = batches.job_of(session, number)
    materials.take_piece(session, now, "tube" if kind is not None else "jar", container, job_id, field)
    item_id = shelf.put(
        session,
        now,
        NewItem(
            asked.id,
            ItemKind.TUBE if kind is not None else ItemKind.JAR,
            seen.name,
            seen.masstone_srgb,
            container,
            volume,
            now.date(),
            number,
            kind.usable_ml if kind is not None else None,
            seen.density_g_per_ml,
            asked.gross_g,
            tare,
            asked.place,
            asked.cover,
            asked.reason.strip(),
            batches.keeping(session, number).use_by,
            "waiting" if asked.part and kind is not None else "kept",
            False,
            contents=scaled(_paint(session, number), volume),
        ),
    )
    return weighed, item_id


def _paint(session: Session, number: int) -> Contents:
    """What is in 1 ml of the paint of a batch."""
    kept, line = batches.several(session, [number])[number]
    return scaled(batches.contents_of(kept), 1 / line.made_ml)
