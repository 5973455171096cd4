"""Which tubes, how full, what an inspection comes to, what it costs."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, Money, Number, example, router
from niddy.core import cost as core_cost
from niddy.core import shelf as core_shelf
from niddy.core import tubes as core_tubes
from niddy.core.cost import Cost, Item
from niddy.core.errors import Refused
from niddy.core.shelf import Inspected, KeptBody, Skin, Smell
from niddy.core.tubes import AIR, Filled
from niddy.core.words import Words


class TubeStock(Asked):
    """Empties of one usable volume."""

    usable_ml: Number
    count: Annotated[int, Field(strict=True)]


class TubesAsked(Asked):
    """A volume of paint and the empties there are."""

    volume_ml: Number
    stock: Annotated[list[TubeStock], Field(max_length=100)]


class TubesUse(BaseModel):
    """So many tubes of one usable volume."""

    usable_ml: float
    count: int


class TubesAnswer(BaseModel):
    """Which tubes to fill, what they take, and what is left for a jar or the next batch."""

    use: list[TubesUse]
    filled_ml: float
    leftover_ml: float


@router.post("/tubes")
def tubes(
    asked: Annotated[
        TubesAsked,
        example(
            "131 ml into three 40s, two 20s and a 60",
            volume_ml=131,
            stock=[{"usable_ml": 40, "count": 3}, {"usable_ml": 20, "count": 2}, {"usable_ml": 60, "count": 1}],
        ),
    ],
) -> TubesAnswer:
    """The full tubes that take the most; on a tie the fewest, then the larger ones."""
    chosen = core_tubes.choose(
        asked.volume_ml, [core_tubes.Kind(stocked.usable_ml, stocked.count) for stocked in asked.stock]
    )
    use = [TubesUse(usable_ml=used.usable_ml, count=used.count) for used in chosen.use]
    return TubesAnswer(use=use, filled_ml=chosen.filled_ml, leftover_ml=chosen.leftover_ml)


class FillCalc(Asked):
    """A filled tube: its gross weight and what it weighs empty, or how much is in it; exactly one of the two."""

    usable_ml: Number
    density_g_per_ml: Number
    gross_g: Number | None = None
    tare_g: Number | None = None
    volume_ml: Number | None = None
    air: Number = AIR


@router.post("/fill")
def fill(
    asked: Annotated[
        FillCalc,
        example("a 40 ml tube of bone black on the scale", usable_ml=40, density_g_per_ml=1.48, gross_g=61, tare_g=9.2),
    ],
) -> Filled:
    """Whether a filled tube is full to its mark, short, airy or over."""
    if (asked.gross_g is None) == (asked.volume_ml is None):
        raise Refused("gross_g", "exactly one of the two is needed", "gross_g with tare_g, or volume_ml")
    if asked.volume_ml is not None:
        return core_tubes.by_volume(asked.volume_ml, asked.usable_ml, asked.density_g_per_ml, asked.air)
    if asked.tare_g is None:
        raise Refused("tare_g", "missing", "what the tube weighs empty, in g")
    assert asked.gross_g is not None
    return core_tubes.weigh(asked.gross_g, asked.tare_g, asked.usable_ml, asked.density_g_per_ml, asked.air)


class InspectionCalc(Asked):
    """What was seen of a kept paint: the oil on top over the height of the filling, the rest by eye and nose."""

    layer_mm: Number
    fill_height_mm: Number
    skin: Skin = Skin.NONE
    body: KeptBody = KeptBody.AS_FILLED
    smell: Smell = Smell.OIL
    label_readable: bool = True


@router.post("/inspection")
def inspection(
    asked: Annotated[
        InspectionCalc, example("8 mm of oil on 80 mm of paint", layer_mm=8, fill_height_mm=80, skin="none")
    ],
) -> Inspected:
    """What an inspection of a kept paint comes to, why, and what to do."""
    return core_shelf.inspect(
        asked.layer_mm, asked.fill_height_mm, asked.skin, asked.body, asked.smell, label_readable=asked.label_readable
    )


class CostItem(Asked):
    """Something used up; without a price it is named as missing."""

    name: Annotated[Words, Field(max_length=200)]
    amount: Money
    unit: Annotated[Words, Field(max_length=20)] = "kg"
    price_per_unit: Money | None = None


class CostCalc(Asked):
    """What went into a batch and what it is to be compared with. Money is decimal, sent as text."""

    items: Annotated[list[CostItem], Field(max_length=200)]
    volume_ml: Money
    tube_ml: Money | None = None
    hours: Money = Decimal(0)
    wage_per_hour: Money | None = None
    bought_per_ml: Money | None = None
    tools: Money | None = None


@router.post("/cost")
def cost(
    asked: Annotated[
        CostCalc,
        example(
            "a batch of 131 ml against a bought price",
            items=[
                {"name": "Bone black", "amount": "0.112", "price_per_unit": "14.50"},
                {"name": "Linseed oil", "amount": "0.0744", "price_per_unit": "17.50"},
                {"name": "40 ml tube", "amount": "3", "unit": "pieces", "price_per_unit": "0.41"},
            ],
            volume_ml="131",
            tube_ml="40",
            bought_per_ml="0.22",
            tools="180",
        ),
    ],
) -> Cost:
    """What a batch, a ml and a tube cost; the saving against a bought price, and when tools are paid back."""
    return core_cost.cost(
        [Item(item.name, item.amount, item.unit, item.price_per_unit) for item in asked.items],
        asked.volume_ml,
        tube_ml=asked.tube_ml,
        hours=asked.hours,
        wage_per_hour=asked.wage_per_hour,
        bought_per_ml=asked.bought_per_ml,
        tools=asked.tools,
    )
