"""Cost: what a batch or a plan costs by what its lots cost, and what if more were made, or of other lots."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import cost as core
from niddy.core.cost import Cost, Item, Several
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.sources import lot_of
from niddy.core.words import Words
from niddy.studio import batches, materials, plan, recipes, workshop
from niddy.studio.batches import BatchKept, BatchLine
from niddy.studio.materials import LotPrice
from niddy.studio.plan import PlanAsked

Money = Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=12, decimal_places=4)]
LEAST_G = 0.0005


class Reckoning(Document):
    """What a cost is reckoned with besides the materials, in the studio's currency; `hours` are for each batch."""

    tube_type_id: RowId | None = None
    label_price: Money | None = None
    hours: Annotated[Decimal, Field(ge=0, le=1_000)] = Decimal(0)
    wage_per_hour: Money | None = None
    bought_per_tube: Money | None = None
    tools: Money | None = None


class CostAsked(Reckoning):
    """What a batch costs: one that was made, or a plan.

    What if: `times` as much of everything, and `instead` another lot's price, by the source of a line. Amounts stay
    those of the batch or plan; another lot may want more oil, which only a plan with that lot knows.
    """

    batch_number: RowId | None = None
    plan: PlanAsked | None = None
    times: Annotated[float, Field(strict=True, ge=0.001, le=1_000)] = 1.0
    instead: Annotated[dict[Annotated[Words, Field(max_length=80)], RowId], Field(max_length=60)] = {}
    tubes: Annotated[int, Field(strict=True, ge=0, le=10_000)] | None = None


@dataclass(frozen=True, slots=True)
class LotChoice:
    """A material line of a cost and the lots it could be of; `lot_id` is the one it is reckoned with."""

    line: int
    source: str
    lot_id: int | None
    lots: tuple[LotPrice, ...]


@dataclass(frozen=True, slots=True)
class Costed:
    """A cost with the name of what was costed, the currency, what the tube is that it is told for, and other lots."""

    name: str
    currency: str
    volume_ml: Decimal
    tube_name: str
    tubes: int
    cost: Cost
    choices: tuple[LotChoice, ...]


@dataclass(frozen=True, slots=True)
class _Used:
    """What goes into a batch or plan: grams by source with their names, ml it makes, tubes, and of which type."""

    name: str
    volume_ml: float
    grams: dict[str, tuple[str, float]]
    tubes: int
    tube_type_id: int | None


class _Shop:
    """What things cost in this studio, each asked for once however many batches are reckoned."""

    def __init__(self, session: Session) -> None:
        self._session = session
        kept = workshop.workshop(session)
        self.currency = kept.settings.currency
        self.tube_types = {kind.id: kind for kind in kept.tube_types}
        self._lots: dict[str, tuple[LotPrice, ...]] = {}
        self._pieces: dict[str, Decimal | None] = {}

    def lots(self, source: str) -> tuple[LotPrice, ...]:
        """The lots of a source's material with their prices."""
        if source not in self._lots:
            self._lots[source] = materials.lot_prices(self._session, source)
        return self._lots[source]

    def tube_price(self, name: str) -> Decimal | None:
        """What an empty tube costs, or None where that is not known."""
        if name not in self._pieces:
            self._pieces[name] = materials.piece_price(self._session, "tube", name)
        return self._pieces[name]


def _of_batch(kept: BatchKept, line: BatchLine) -> _Used:
    paste, oil = kept.paste, kept.plan.oil
    names = {w.pigment.source: w.pigment.name for w in kept.plan.lines} | {oil.source: oil.name}
    stirred = {source: a.grams / a.what.additive_fraction for source, a in paste.additives.items()}
    # A gel's oil stands among the oils too: it is paid for with the gel.
    as_it_was = {w.pigment.source: w.pigment.wet_g for w in kept.plan.lines}
    used = {
        source: (names.get(source, source), as_it_was[source](g) if source in as_it_was else g)
        for source, g in paste.pigments.items()
    }
    used |= {source: (names.get(source, source), g) for source, g in paste.oils.items() if source not in stirred}
    used |= {source: (paste.additives[source].what.name, g) for source, g in stirred.items()}
    if oil.parts and oil.source in used:
        _, grams = used.pop(oil.source)
        used |= {part.source: (part.name, grams * part.share) for part in oil.parts}
    first = kept.plan.tubes[0].tube_type_id if kept.plan.tubes else None
    return _Used(kept.name, line.made_ml, used, line.tubes_filled, first)


def _of_plan(session: Session, asked: PlanAsked) -> _Used:
    planned = plan.compute(session, asked).plan
    used = {w.pigment.source: (w.pigment.name, w.pigment.wet_g(w.mass.value)) for w in planned.lines}
    poured = planned.oil_mass.value - sum(line.oil_in_gel_g for line in planned.additives)
    if planned.oil.parts:
        used |= {part.source: (part.name, poured * part.share) for part in planned.oil.parts}
    else:
        used[planned.oil.source] = (planned.oil.name, poured)
    used |= {line.dosing.source: (line.name, line.weigh.value) for line in planned.additives}
    first = planned.tubes[0].tube_type_id if planned.tubes else None
    return _Used(planned.name, planned.volume.value, used, sum(line.count for line in planned.tubes), first)


def cost(session: Session, asked: CostAsked) -> Costed:
    """What a batch or plan costs by what its lots cost. Raises Refused, Missing."""
    if asked.batch_number is not None and asked.plan is None:
        number = asked.batch_number
        used = _of_batch(batches.batch(session, number, 0), batches.line(session, number))
    elif asked.plan is not None and asked.batch_number is None:
        used = _of_plan(session, asked.plan)
    else:
        raise Refused("batch_number", "exactly one of the two is needed", "batch_number of a batch, or a plan")
    return _reckoned(_Shop(session), used, asked)


def _reckoned(shop: _Shop, used: _Used, asked: CostAsked) -> Costed:
    if used.volume_ml <= 0:
        raise Refused("batch_number", "there is no paint in it yet", "a batch with powder and oil in it")
    volume = _fine(used.volume_ml * asked.times)
    grams = {source: (name, g * asked.times) for source, (name, g) in used.grams.items() if g > LEAST_G}
    tubes = asked.tubes if asked.tubes is not None else int(used.tubes * asked.times + 1e-9)
    types = shop.tube_types
    tube = types.get(asked.tube_type_id or used.tube_type_id or 0) or next(iter(types.values()), None)
    choices: list[LotChoice] = []
    items: list[Item] = []
    for source, (name, g) in grams.items():
        choice = _choice(shop, len(items), source, asked.instead.get(source))
        price = next((lot.price_per_unit for lot in choice.lots if lot.lot_id == choice.lot_id), None)
        items.append(Item(name, _fine(g / 1000), "kg", price))
        choices.append(choice)
    if tubes and tube is not None:
        items.append(Item(tube.name, Decimal(tubes), "pieces", shop.tube_price(tube.name)))
        if asked.label_price is not None:
            items.append(Item("Labels", Decimal(tubes), "pieces", asked.label_price))
    tube_ml = _fine(tube.usable_ml) if tube is not None else None
    bought = None
    if asked.bought_per_tube is not None and tube_ml is not None:
        bought = asked.bought_per_tube / tube_ml
    return Costed(
        used.name,
        shop.currency,
        volume,
        tube.name if tube is not None else "",
        tubes,
        core.cost(
            items,
            volume,
            tube_ml=tube_ml,
            hours=asked.hours,
            wage_per_hour=asked.wage_per_hour,
            bought_per_ml=bought,
            tools=asked.tools,
        ),
        tuple(choices),
    )


LATEST = 24
"""So many batches of a recipe are reckoned, the newest."""


@dataclass(frozen=True, slots=True)
class BatchCost:
    """One batch of a recipe: when it was finished, what it made, what it cost, and how many prices are not known."""

    number: int
    ended_on: date
    volume_ml: Decimal
    total: Decimal
    per_ml: Decimal
    missing: int


@dataclass(frozen=True, slots=True)
class RecipeCost:
    """A recipe by its latest batches, the newest first, and all of them together."""

    name: str
    currency: str
    tube_name: str
    together: Several
    batches: tuple[BatchCost, ...]


def of_recipe(session: Session, recipe_id: int, asked: Reckoning) -> RecipeCost:
    """What the latest finished batches of a recipe cost. Raises Refused where it has none, Missing."""
    finished = [
        batch for batch in batches.of_recipe(session, recipe_id) if batch.ended_at is not None and batch.oil_g > 0
    ]
    if not finished:
        name = recipes.name_of(session, recipe_id)
        raise Refused("recipe_id", f"no batch of {name} is finished", "a recipe with a finished batch")
    costs, lines = [], []
    shop = _Shop(session)
    latest = list(reversed(finished[-LATEST:]))
    made = batches.several(session, [batch.number for batch in latest])
    for batch in latest:
        costed = _reckoned(
            shop, _of_batch(*made[batch.number]), CostAsked(batch_number=batch.number, **asked.model_dump())
        )
        costs.append(costed)
        assert batch.ended_at is not None
        lines.append(
            BatchCost(
                batch.number,
                batch.ended_at.date(),
                costed.volume_ml,
                costed.cost.total,
                costed.cost.per_ml,
                len(costed.cost.missing),
            )
        )
    tube = next((t for t in shop.tube_types.values() if t.name == costs[0].tube_name), None)
    together = core.of_several(
        [(batch.total, batch.volume_ml) for batch in lines], _fine(tube.usable_ml) if tube is not None else None
    )
    return RecipeCost(
        recipes.name_of(session, recipe_id), costs[0].currency, costs[0].tube_name, together, tuple(lines)
    )


def _choice(shop: _Shop, line: int, source: str, instead: int | None) -> LotChoice:
    lots = shop.lots(source)
    own = lot_of(source)
    if instead is not None and instead not in {lot.lot_id for lot in lots}:
        raise Refused(f"instead.{source}", f"lot {instead} is not of this material", "a lot of the same material")
    return LotChoice(line, source, instead or own, lots)


def _fine(value: float) -> Decimal:
    return Decimal(f"{value:.5f}")
