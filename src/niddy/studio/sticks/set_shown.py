"""One colour of a set as it is shown: the figures a maker weighs or spoons by, what it needs, what it costs."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from niddy.core import sticks as core
from niddy.core import telling
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import BinderOil
from niddy.core.sticks import ColourPlan, Mould
from niddy.core.telling import Habit, Told
from niddy.studio.sticks.bases import BaseKnown
from niddy.studio.sticks.moulds import MouldKept


@dataclass(frozen=True, slots=True)
class StickSupply:
    """What a set needs of one material against what is left of it; None where no lot of it is kept."""

    source: str
    name: str
    code: str
    needed_g: float
    on_hand_g: float | None
    suffices: bool
    price: Decimal | None
    told: Told | None


@dataclass(frozen=True, slots=True)
class ColourShown:
    """One colour of a set: its plan, the figures a maker weighs by, and what it costs a stick.

    Each stands `told` in the maker's own measure for one without a scale; a blend's is what all of it takes.
    """

    plan: ColourPlan
    moulds: tuple[Mould, ...]
    pigment: Figure | None
    pigment_told: Told | None
    oil: Figure
    oil_told: Told | None
    base: Figure
    base_told: Told | None
    dent: Figure
    by_weight_pct: float
    cost_a_stick: Decimal | None
    remarks: tuple[str, ...]


def supply_of(
    source: str, name: str, code: str, grams: float, here: float | None, per_kg: dict[str, Decimal], told: Told | None
) -> StickSupply:
    """What is needed of a material, against what is there of it."""
    price = _cost(grams, per_kg.get(source))
    return StickSupply(source, name, code, grams, here, here is None or here >= grams, price, told)


def base_told(base: BaseKnown, grams: float, habit: Habit) -> Told | None:
    """The base as spoons of it grated."""
    return telling.powder(grams, core.GRATED * base.mix.density_g_per_ml, habit)


def _pigment_told(colour: ColourPlan, habit: Habit) -> Told | None:
    """The powder of a colour in spoons; of a blend each by its name, one after the other."""
    each = [
        (line.pigment.name, told)
        for line in colour.lines
        if (told := telling.powder(line.grams, line.pigment.loose_density_g_per_ml, habit)) is not None
    ]
    if len(each) < 2:
        return each[0][1] if each else None
    words = "; ".join(f"{told.words} of {name}" for name, told in each)
    first = each[0][1]
    return Told(first.unit, first.amount, words, sum(told.grams for _, told in each))


def _cost(grams: float, price_per_kg: Decimal | None) -> Decimal | None:
    return None if price_per_kg is None else Decimal(f"{grams / 1000:.6f}") * price_per_kg


def shown_of(
    colour: ColourPlan,
    base: BaseKnown,
    oil: BinderOil,
    moulds: tuple[tuple[MouldKept, int], ...],
    prices: dict[str, Decimal],
    base_price: Decimal | None,
    base_g: float,
    habit: Habit,
    *,
    crayon: bool,
) -> ColourShown:
    """A colour of a set with its figures, their workings, what it costs a stick and what is worth knowing."""
    made = colour.stick
    volume = (
        Input("moulds, with 2 ml that stays in the pot and 4 % lost", made.volume_ml, "ml", Basis.ASSUMED),
        Input("pigment volume", made.pvc, "of the stick"),
        Input("oil of the medium", made.oil_fraction),
    )
    pigment = None
    if colour.lines:
        demand = colour.lines[0].pigment
        pigment = _grams(
            "Pigment",
            made.pigment_g,
            "volume x PVC x density",
            (*volume, Input("oil absorption", demand.demand_g_per_100g, "g per 100 g", demand.demand_basis)),
        )
    spread = f"what the base may be off (sd {base.offset.sd_ln:.2f} of ln dent) and the oil absorption"
    dent = Figure.of(
        "Dent",
        Estimate(
            made.penetration_dmm,
            colour.dent_low_dmm,
            colour.dent_high_dmm,
            Basis.LEARNED if base.offset.offset_ln else Basis.ASSUMED,
        ),
        "0.1 mm",
        0,
        Working(
            "ln P = x ln 400 + (1 - x) sum w ln P + (2.5 CPVC / 1.6) ln(1 - reduced) + d",
            (
                Input("x, oil of the medium", made.oil_fraction),
                Input("CPVC", made.cpvc or 0.0),
                Input("reduced PVC", colour.reduced_pvc),
                Input("d of this base", base.offset.offset_ln, "ln"),
            ),
            "Krieger and Dougherty 1959; Haighton 1959; mixing assumed",
            spread,
        ),
    )
    remarks = []
    if made.dries is core.Dries.SLOWLY:
        remarks.append("It dries slowly: less than 35 in 100 of the medium is drying oil.")
    if made.dries is core.Dries.NOT:
        remarks.append(
            "It never dries: a crayon, and named so." if crayon else "It would never dry, so it is not paint."
        )
    if colour.sinks_mm > core.SINKS_FROM_MM:
        remarks.append(
            f"Its pigment sinks about {colour.sinks_mm:.1f} mm while it sets: stir to the last, pour cool, cast thin."
        )
    if made.melt_c >= core.HIGHEST_C:
        remarks.append("Its hardest part melts above 120 °C: it is not melted here. Leave it out of the base.")
    parts: list[Decimal | None] = [_each(line.pigment.source, line.grams, prices) for line in colour.lines]
    parts.append(_each(oil.source, made.oil_g, prices))
    parts.append(base_price / Decimal(str(base_g)) * Decimal(str(made.base_g)) if base_price and base_g else None)
    known_parts = [part for part in parts if part is not None]
    cost = sum(known_parts, Decimal(0)) / colour.sticks if len(known_parts) == len(parts) else None
    return ColourShown(
        colour,
        tuple(Mould(kept.ml, count) for kept, count in moulds),
        pigment,
        _pigment_told(colour, habit),
        _grams("Oil", made.oil_g, "medium x oil share", volume),
        telling.oil(made.oil_g, oil.density_g_per_ml, habit, telling.Rounding.NEAREST),
        _grams("Base", made.base_g, "medium less oil", volume),
        base_told(base, made.base_g, habit),
        dent,
        100 * made.pigment_fraction,
        cost.quantize(Decimal("0.01")) if cost is not None else None,
        tuple(remarks),
    )


def _each(source: str, grams: float, prices: dict[str, Decimal]) -> Decimal | None:
    return prices[source] * Decimal(str(grams)) if source in prices else None


def _grams(label: str, grams: float, formula: str, inputs: tuple[Input, ...]) -> Figure:
    return Figure.of(
        label,
        Estimate.exact(grams, Basis.ASSUMED),
        "g",
        1,
        Working(formula, inputs, "volumes add; hold-up and loss assumed"),
    )
