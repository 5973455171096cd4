"""Tubes: which to fill from a batch, the filling run, and what it all costs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from niddy.core import cost as costs
from niddy.core import tubes as core
from niddy.core.cost import Cost, Item
from niddy.core.errors import MAX_VOLUME_ML, Refused
from niddy.core.slab import Status
from niddy.core.tubes import Filled
from niddy.studio import batches, materials, plan, shelf, workshop
from niddy.studio.batches import Search
from niddy.studio.plan import PlanAsked, Planned
from niddy.studio.shelf import ItemKind, ItemLine, NewItem
from niddy.studio.words import Words

RowId = Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
Money = Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=12, decimal_places=4)]
SPARE = 1.15
"""More than a batch made can be filled by so much: air and full marks stretch it (assumed)."""


WORTH_FILLING_ML = 3.0
"""Less than this left of a batch stays on the tools (assumed)."""


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


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
    """A batch being filled: what it made, what is left of it, which tubes to fill, and what is filled."""

    number: int
    name: str
    masstone_srgb: str
    recipe_id: int | None
    release: str | None
    needs_reason: bool
    density_g_per_ml: float
    to_fill_ml: float
    filled_ml: float
    left_ml: float
    kinds: tuple[KindNow, ...]
    leftover_ml: float
    items: tuple[ItemLine, ...]
    waiting: tuple[ItemLine, ...]
    jars: tuple[str, ...]
    steps: tuple[str, ...]


STEPS = (
    "Strip of paper inside the back end, so that the seal stays clean.",
    "Paint in from the back with a narrow knife, tap the cap on the table now and then: the air comes up.",
    "Stop at the mark: room is left for the folds. Pull the strip.",
    "Flatten the end, fold it over as often as this kind has it, crimp each fold.",
    "Wipe it, weigh it, label it; a dab of the paint on the label.",
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
    types = workshop.workshop(session).tube_types
    empties = materials.pieces(session, "tube")
    chosen = core.choose(left, [core.Kind(one.usable_ml, int(empties.get(one.name, 0))) for one in types])
    use = {one.usable_ml: one.count for one in chosen.use}
    kinds = []
    for one in types:
        target = core.target_fill_g(one.usable_ml, density)
        kinds.append(
            KindNow(
                one.id, one.name, one.usable_ml, one.headspace_mm, one.folds, one.tare_g,
                int(empties[one.name]) if one.name in empties else None, target,
                target + one.tare_g if one.tare_g is not None else None,
                use.pop(one.usable_ml, 0) if empties.get(one.name, 0) else 0,
            )
        )  # fmt: skip
    return Filling(
        number, kept.name, kept.masstone_srgb, made.recipe_id, made.release,
        made.recipe_id is not None and made.release not in batches.RELEASED, density, to_fill, taken, left,
        tuple(kinds), chosen.leftover_ml, items,
        shelf.waiting_of(session, made.recipe_id) if made.recipe_id is not None else (),
        tuple(materials.pieces(session, "jar")), STEPS,
    )  # fmt: skip


def to_fill(session: Session, now: datetime) -> tuple[ToFill, ...]:
    """Finished batches of the last weeks that still have paint to fill, the newest first."""
    waiting = []
    lines = batches.search(session, Search(status=Status.FINISHED, limit=40)).batches
    taken = shelf.taken_of(session, [line.number for line in lines])
    for line in lines:
        left = (line.filled_ml + line.leftover_ml or line.made_ml) - taken.get(line.number, 0.0)
        if left > WORTH_FILLING_ML and not line.discarded:
            waiting.append(ToFill(line.number, line.name, line.masstone_srgb, left, line.release))
    return tuple(waiting)


class FillAsked(_Document):
    """One tube or jar filled, with an id made by the client. A tube names its type; a jar what it is.

    With `gross_g` the weight says how full it is (`tare_g` where the type has none); else `volume_ml`, or the
    usable volume. `part` keeps the last tube waiting for the next batch of the recipe.
    """

    id: UUID
    tube_type_id: RowId | None = None
    jar: Annotated[Words, Field(max_length=80)] | None = None
    gross_g: Annotated[float, Field(strict=True, gt=0, le=20_000)] | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    volume_ml: Annotated[float, Field(strict=True, gt=0, le=MAX_VOLUME_ML)] | None = None
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
    seen = filling(session, now, number)
    known = shelf.by_request(session, asked.id)
    if known is not None:
        return None, known
    if seen.needs_reason and not asked.reason.strip():
        held = seen.release or "not decided on"
        raise Refused("reason", f"the batch is {held}", "why it is tubed as stock all the same")
    kind = next((one for one in seen.kinds if one.tube_type_id == asked.tube_type_id), None)
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
    if kind is not None and volume > kind.usable_ml * 1.2:
        raise Refused("volume_ml", f"{volume:.1f} ml is more than it takes", f"up to {kind.usable_ml * 1.2:.1f} ml")
    if asked.top_up_id is not None:
        waiting = next((one for one in seen.waiting if one.id == asked.top_up_id), None)
        if waiting is None:
            raise Refused("top_up_id", "it does not wait for this recipe", "a part-filled tube that does")
        if volume - waiting.volume_ml > seen.left_ml * SPARE:
            raise Refused("volume_ml", "more than is left of the batch", f"up to {seen.left_ml:.1f} ml more")
        shelf.top_up(session, now, asked.top_up_id, asked.id, number, volume)
        return weighed, asked.top_up_id
    if volume > seen.left_ml * SPARE + 0.5:
        raise Refused(
            "volume_ml", f"{volume:.1f} ml is more than the {seen.left_ml:.1f} ml left of the batch",
            f"up to {seen.left_ml * SPARE:.1f} ml",
        )  # fmt: skip
    made = batches.made(session, number)
    container = kind.name if kind is not None else (asked.jar or "").strip()
    field = "tube_type_id" if kind is not None else "jar"
    materials.take_piece(session, now, "tube" if kind is not None else "jar", container, number, field)
    item_id = shelf.put(
        session, now,
        NewItem(
            asked.id, ItemKind.TUBE if kind is not None else ItemKind.JAR, seen.name, seen.masstone_srgb, container,
            volume, now.date(), number, kind.usable_ml if kind is not None else None, seen.density_g_per_ml,
            asked.gross_g, tare, asked.place, asked.cover, asked.reason.strip(),
            batches.keeping(session, number).use_by, "waiting" if asked.part and kind is not None else "kept", False,
            tuple(sorted({h for w in made.kept.plan.lines for h in w.pigment.hazards if h != "none"})),
        ),
    )  # fmt: skip
    return weighed, item_id


# --- cost


class CostAsked(_Document):
    """What a batch costs: one that was made, or a plan (what-if on amount and lots), in the studio's currency."""

    batch_number: RowId | None = None
    plan: PlanAsked | None = None
    tube_type_id: RowId | None = None
    tubes: Annotated[int, Field(strict=True, ge=0, le=10_000)] | None = None
    label_price: Money | None = None
    hours: Annotated[Decimal, Field(ge=0, le=1_000)] = Decimal(0)
    wage_per_hour: Money | None = None
    bought_per_tube: Money | None = None
    tools: Money | None = None


@dataclass(frozen=True, slots=True)
class Costed:
    """A cost with the name of what was costed, the currency, and what the tube is that it is told for."""

    name: str
    currency: str
    volume_ml: Decimal
    tube_name: str
    tubes: int
    cost: Cost


def cost(session: Session, asked: CostAsked) -> Costed:
    """What a batch or plan costs by what its lots cost. Raises Refused, Missing."""
    if (asked.batch_number is None) == (asked.plan is None):
        raise Refused("batch_number", "exactly one of the two is needed", "batch_number of a batch, or a plan")
    used: dict[str, tuple[str, float]] = {}
    if asked.batch_number is not None:
        kept = batches.batch(session, asked.batch_number, 0)
        line = batches.line(session, asked.batch_number)
        name, volume, paste = kept.name, line.made_ml, kept.paste
        names = {w.pigment.source: w.pigment.name for w in kept.plan.lines} | {kept.plan.oil.source: kept.plan.oil.name}
        used |= {source: (names.get(source, source), g) for source, g in paste.pigments.items()}
        gel_oil = {source: g / a.what.additive_fraction - g for source, a in paste.additives.items() for g in [a.grams]}
        used |= {source: (names.get(source, source), g) for source, g in paste.oils.items() if source not in gel_oil}
        used |= {
            source: (one.what.name, one.grams / one.what.additive_fraction) for source, one in paste.additives.items()
        }
        tubes = asked.tubes if asked.tubes is not None else line.tubes_filled
        if kept.plan.oil.parts and kept.plan.oil.source in used:
            _, grams = used.pop(kept.plan.oil.source)
            used |= {part.source: (part.name, grams * part.share) for part in kept.plan.oil.parts}
        first = kept.plan.tubes[0].tube_type_id if kept.plan.tubes else None
    else:
        assert asked.plan is not None
        planned: Planned = plan.compute(session, asked.plan)
        told = planned.plan
        name, volume = told.name, told.volume.value
        used = {w.pigment.source: (w.pigment.name, w.mass.value) for w in told.lines}
        poured = told.oil_mass.value - sum(one.oil_in_gel_g for one in told.additives)
        if told.oil.parts:
            used |= {part.source: (part.name, poured * part.share) for part in told.oil.parts}
        else:
            used[told.oil.source] = (told.oil.name, poured)
        used |= {one.dosing.source: (one.name, one.weigh.value) for one in told.additives}
        tubes = asked.tubes if asked.tubes is not None else sum(one.count for one in told.tubes)
        first = told.tubes[0].tube_type_id if told.tubes else None
    if volume <= 0:
        raise Refused("batch_number", "there is no paint in it yet", "a batch with powder and oil in it")
    types = {one.id: one for one in workshop.workshop(session).tube_types}
    tube = types.get(asked.tube_type_id or first or 0) or next(iter(types.values()), None)
    prices = materials.prices(session, list(used))
    items = [
        Item(label, _fine(g / 1000), "kg", prices.get(source)) for source, (label, g) in used.items() if g > 0.0005
    ]
    if tubes and tube is not None:
        items.append(Item(tube.name, Decimal(tubes), "pieces", materials.piece_price(session, "tube", tube.name)))
        if asked.label_price is not None:
            items.append(Item("Labels", Decimal(tubes), "pieces", asked.label_price))
    tube_ml = _fine(tube.usable_ml) if tube is not None else None
    bought = None
    if asked.bought_per_tube is not None and tube_ml is not None:
        bought = asked.bought_per_tube / tube_ml
    return Costed(
        name, workshop.settings(session).currency, _fine(volume), tube.name if tube is not None else "", tubes,
        costs.cost(
            items, _fine(volume), tube_ml=tube_ml, hours=asked.hours, wage_per_hour=asked.wage_per_hour,
            bought_per_ml=bought, tools=asked.tools,
        ),
    )  # fmt: skip


def _fine(value: float) -> Decimal:
    return Decimal(f"{value:.5f}")
