"""Cost: what a batch, a tube and a millilitre cost, against a bought price; money is decimal."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from niddy.core.errors import Refused

CENT = Decimal("0.01")
FINE = Decimal("0.0001")
MOST = Decimal(10_000_000)


@dataclass(frozen=True, slots=True)
class Item:
    """Something used up: how much of it, in which unit, and what one unit costs, or None where nobody knows."""

    name: str
    amount: Decimal
    unit: str
    price_per_unit: Decimal | None


@dataclass(frozen=True, slots=True)
class CostLine:
    """One line of a cost; None where its price is not known."""

    name: str
    amount: Decimal
    unit: str
    price_per_unit: Decimal | None
    cost: Decimal | None


@dataclass(frozen=True, slots=True)
class Against:
    """Making against buying: saved for each ml and on the batch, and the tubes of a size that pay back the tools."""

    bought_per_ml: Decimal
    saving_per_ml: Decimal
    saving: Decimal
    pays_back_ml: Decimal | None
    pays_back_tubes: int | None
    says: str


@dataclass(frozen=True, slots=True)
class Cost:
    """What a batch costs in all, for a ml, and for a tube of a size where one is named."""

    lines: tuple[CostLine, ...]
    total: Decimal
    per_ml: Decimal
    per_tube: Decimal | None
    missing: tuple[str, ...]
    against: Against | None


def money(value: Decimal) -> Decimal:
    """To the cent, half a cent upwards."""
    return value.quantize(CENT, ROUND_HALF_UP)


def cost(
    items: list[Item],
    volume_ml: Decimal,
    *,
    tube_ml: Decimal | None = None,
    hours: Decimal = Decimal(0),
    wage_per_hour: Decimal | None = None,
    bought_per_ml: Decimal | None = None,
    tools: Decimal | None = None,
) -> Cost:
    """Add up what a batch costs. What has no price is named and left out. Raises Refused naming the field."""
    _positive("volume_ml", volume_ml)
    if tube_ml is not None:
        _positive("tube_ml", tube_ml)
    for field, value in (
        ("hours", hours),
        ("wage_per_hour", wage_per_hour),
        ("bought_per_ml", bought_per_ml),
        ("tools", tools),
    ):
        if value is not None:
            _sum(field, value)
    if not items:
        raise Refused("items", "nothing was used", "at least one material")
    lines = []
    for n, item in enumerate(items):
        _sum(f"items.{n}.amount", item.amount)
        if item.price_per_unit is not None:
            _sum(f"items.{n}.price_per_unit", item.price_per_unit)
        price = item.price_per_unit
        lines.append(
            CostLine(item.name, item.amount, item.unit, price, None if price is None else money(item.amount * price))
        )
    if wage_per_hour is not None and hours > 0:
        lines.append(CostLine("Work", hours, "h", wage_per_hour, money(hours * wage_per_hour)))
    total = sum((line.cost for line in lines if line.cost is not None), Decimal(0))
    per_ml = (total / volume_ml).quantize(FINE, ROUND_HALF_UP)
    per_tube = money(total / volume_ml * tube_ml) if tube_ml is not None else None
    against = None
    if bought_per_ml is not None:
        against = _against(total, volume_ml, bought_per_ml, tools, tube_ml)
    return Cost(
        tuple(lines), money(total), per_ml, per_tube, tuple(line.name for line in lines if line.cost is None), against
    )


@dataclass(frozen=True, slots=True)
class Several:
    """Several batches together: all money over all millilitres, the cheapest and the dearest for each ml."""

    per_ml: Decimal
    low: Decimal
    high: Decimal
    per_tube: Decimal | None


def of_several(batches: list[tuple[Decimal, Decimal]], tube_ml: Decimal | None = None) -> Several:
    """What batches of (money, ml) come to for each ml, and for a tube of a size. Raises Refused."""
    if not batches:
        raise Refused("batches", "none", "at least one batch")
    for n, (total, volume_ml) in enumerate(batches):
        _sum(f"batches.{n}.total", total)
        _positive(f"batches.{n}.volume_ml", volume_ml)
    each = [total / volume_ml for total, volume_ml in batches]
    mean = sum((total for total, _ in batches), Decimal(0)) / sum((ml for _, ml in batches), Decimal(0))
    per_ml, low, high = ((value.quantize(FINE, ROUND_HALF_UP)) for value in (mean, min(each), max(each)))
    return Several(per_ml, low, high, money(mean * tube_ml) if tube_ml is not None else None)


def _against(
    total: Decimal, volume_ml: Decimal, bought_per_ml: Decimal, tools: Decimal | None, tube_ml: Decimal | None
) -> Against:
    saving_per_ml = bought_per_ml - total / volume_ml
    saving = saving_per_ml * volume_ml
    back_ml = tubes = None
    if tools is not None and saving_per_ml > 0:
        back_ml = (tools / saving_per_ml).quantize(CENT, ROUND_HALF_UP)
        if tube_ml is not None:
            tubes = math.ceil(tools / saving_per_ml / tube_ml)
    if saving_per_ml <= 0:
        says = "Making costs more than buying, at these prices."
    elif back_ml is None:
        says = f"Making saves {money(saving)} on this batch."
    else:
        says = f"The tools are paid back after {back_ml:.0f} ml" + (f", {tubes} tubes." if tubes is not None else ".")
    return Against(bought_per_ml, saving_per_ml.quantize(FINE, ROUND_HALF_UP), money(saving), back_ml, tubes, says)


def _positive(field: str, value: Decimal) -> None:
    if not value.is_finite() or value <= 0 or value > MOST:
        raise Refused(field, f"{value} is outside", f"above 0 and up to {MOST}")


def _sum(field: str, value: Decimal) -> None:
    if not value.is_finite() or value < 0 or value > MOST:
        raise Refused(field, f"{value} is outside", f"from 0 to {MOST}")
