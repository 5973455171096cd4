"""Planning a stick or a set: what is asked, what to weigh of each colour, one melt and one shopping list for all."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core import telling
from niddy.core.cautions import Caution, cautions_for
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import BinderOil, DryPigment
from niddy.core.sources import of_lot
from niddy.core.sticks import ColourPlan, ColourWish, Loading, Mould, OilKind, PigmentWay, StickOil
from niddy.core.telling import Habit, Told
from niddy.db.sticks import StickRecipe
from niddy.reference import library
from niddy.studio import materials, rubout, workshop
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked, Block
from niddy.studio.sticks.asked import ColourAsked, PigmentAsked, SetAsked
from niddy.studio.sticks.bases import BaseKnown, known
from niddy.studio.sticks.moulds import MouldKept, every_mould

POT_FILLED = 0.75
"""A pot is filled so far at most, so that it can be stirred (assumed)."""

SLOW_DAYS, NEVER_DAYS = 7.5, 60.0
"""An oil that is touch-dry later than this on the average counts as semi-drying, much later as not drying (assumed)."""


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


@dataclass(frozen=True, slots=True)
class SetPlanned:
    """A set planned. `order` is in which to cast its colours; `waxes` what to melt where the base is melted fresh."""

    base_name: str
    base_version: int
    base_offset_ln: float
    base_offset_sd_ln: float
    oil: BinderOil
    oil_drying: OilKind
    way: PigmentWay
    block: Block | None
    colours: tuple[ColourShown, ...]
    order: tuple[int, ...]
    sticks: int
    base_g: float
    oil_g: float
    pigment_g: float
    waxes: tuple[StickSupply, ...]
    supplies: tuple[StickSupply, ...]
    melt_c: float
    water_bath: bool
    cost: Decimal | None
    cost_missing: tuple[str, ...]
    cautions: tuple[Caution, ...]


@dataclass(frozen=True, slots=True)
class Computed:
    """A set as computed, with what it was computed from, for the pots that are made of it."""

    planned: SetPlanned
    base: BaseKnown
    oil: StickOil
    moulds: tuple[tuple[tuple[MouldKept, int], ...], ...]


def oil_kind(oil: BinderOil) -> OilKind:
    """Whether an oil dries, by the days it takes to be dry to the touch."""
    if oil.touch_dry_days_low is None or oil.touch_dry_days_high is None:
        return OilKind.DRYING
    mean = (oil.touch_dry_days_low + oil.touch_dry_days_high) / 2
    return OilKind.NON if mean > NEVER_DAYS else OilKind.SEMI if mean > SLOW_DAYS else OilKind.DRYING


def compute(session: Session, asked: SetAsked) -> Computed:
    """A set for what is asked. Raises Refused or Missing naming the field."""
    base = known(session, asked.base_id, asked.base_version)
    block = None
    if asked.block_lot_id is not None:
        block = materials.block(session, asked.block_lot_id, "block_lot_id")
        if block.version_id != base.version_id:
            raise Refused("block_lot_id", f"block {block.code} is of another base", "a block of this base")
    if asked.oil_lot_id is None and asked.oil_key is None:
        raise Refused("oil_key", "no drying oil in it", "linseed, walnut or another drying oil")
    named = {colour.recipe_id for colour in asked.colours if colour.recipe_id is not None}
    kept = set(session.scalars(select(StickRecipe.id).where(StickRecipe.id.in_(named)))) if named else set()
    for n, colour in enumerate(asked.colours):
        if colour.recipe_id is not None and colour.recipe_id not in kept:
            raise Missing("recipe of a stick", colour.recipe_id, f"colours.{n}.recipe_id")
    flat = [(n, m, part) for n, colour in enumerate(asked.colours) for m, part in enumerate(colour.pigments)]
    for n, m, part in flat:
        if part.lot_id is None and part.pigment_key is None:
            raise Refused(f"colours.{n}.pigments.{m}", "no pigment named", "a lot, or one of the library")
    keys = {part.pigment_key for _, _, part in flat if part.pigment_key}
    try:
        gathered = materials.gather(
            session,
            [Asked(part.lot_id, part.pigment_key) for _, _, part in flat],
            Asked(asked.oil_lot_id, asked.oil_key),
            rubout.untested(session, keys).demand if keys else None,
        )
    except Missing as missing:
        missing.field = _renamed(missing.field, flat)
        raise
    for (n, m, _), pigment in zip(flat, gathered.pigments, strict=True):
        if pigment.liquid_share:
            raise Refused(
                f"colours.{n}.pigments.{m}",
                f"{pigment.name} is still wet with solvent",
                "a dry lot: no solvent into hot wax, its vapour catches fire",
            )
    oil, on_hand = gathered.oil, gathered.on_hand_g
    lines: list[list[tuple[DryPigment, float]]] = [[] for _ in asked.colours]
    for (n, _, part), pigment in zip(flat, gathered.pigments, strict=True):
        lines[n].append((pigment, part.parts))
    binder = StickOil(oil.density_g_per_ml, oil_kind(oil))
    waxes = tuple(library().waxes.values())
    held = moulds_of(session, asked.colours)
    found: list[ColourPlan] = []
    for n, (colour, line, moulds) in enumerate(zip(asked.colours, lines, held, strict=True)):
        wish = ColourWish(
            colour.name.strip() or _named(line),
            tuple(line),
            tuple(Mould(kept.ml, count) for kept, count in moulds),
            colour.school,
            colour.share or _usual(colour.school),
            colour.dent_dmm,
            colour.oil_fraction,
        )
        try:
            found.append(core.plan_colour(wish, base.mix, binder, base.offset.offset_ln, base.offset.sd_ln, waxes))
        except Refused as refused:
            raise refused.under(f"colours.{n}") from None
        if asked.pot_ml is not None and found[-1].stick.volume_ml > asked.pot_ml * POT_FILLED:
            raise Refused(
                "pot_ml",
                f"{found[-1].name} wants {found[-1].stick.volume_ml:.0f} ml melted, more than can be stirred",
                f"a pot of {found[-1].stick.volume_ml / POT_FILLED:.0f} ml or more, or fewer sticks at once",
            )
    planned = _planned(session, asked, base, oil, binder, block, found, held, on_hand)
    return Computed(planned, base, binder, tuple(held))


def _renamed(field: str, flat: list[tuple[int, int, PigmentAsked]]) -> str:
    """A field of the shelf's refusal as this room asked for it."""
    head, _, rest = field.partition(".")
    if head == "lines":
        place, _, name = rest.partition(".")
        n, m, _ = flat[int(place)]
        return f"colours.{n}.pigments.{m}.{name}"
    return rest if rest.startswith("oil_") else f"oil_{rest}" if head == "oil" and rest else field


def moulds_of(session: Session, colours: list[ColourAsked]) -> list[tuple[tuple[MouldKept, int], ...]]:
    """The moulds of each colour with their counts. Raises Missing naming the field."""
    kept = {one.id: one for one in every_mould(session)}
    for n, colour in enumerate(colours):
        for m, wanted in enumerate(colour.moulds):
            if wanted.mould_id not in kept:
                raise Missing("mould", wanted.mould_id, f"colours.{n}.moulds.{m}.mould_id")
    return [tuple((kept[wanted.mould_id], wanted.count) for wanted in colour.moulds) for colour in colours]


def _named(line: list[tuple[DryPigment, float]]) -> str:
    return " and ".join(pigment.name for pigment, _ in line) if line else "Blending stick"


def _usual(school: Loading) -> float:
    return core.DEFAULT_REDUCED_PVC if school is Loading.VOLUME else core.WEIGHT_SCHOOL


def _planned(
    session: Session,
    asked: SetAsked,
    base: BaseKnown,
    oil: BinderOil,
    binder: StickOil,
    block: Block | None,
    colours: list[ColourPlan],
    moulds: list[tuple[tuple[MouldKept, int], ...]],
    on_hand: dict[int, float],
) -> SetPlanned:
    habit = workshop.habit(session)
    base_g = sum(colour.stick.base_g for colour in colours)
    oil_g = sum(colour.stick.oil_g for colour in colours)
    whole = sum(share for _, share in base.waxes)
    needed: dict[str, tuple[str, str, int | None, float]] = {}
    for colour in colours:
        for line in colour.lines:
            pigment = line.pigment
            _, _, _, before = needed.get(pigment.source, ("", "", None, 0.0))
            needed[pigment.source] = (pigment.name, pigment.lot_code, pigment.lot_id, before + line.grams)
    needed[oil.source] = (oil.name, oil.lot_code, oil.lot_id, oil_g)
    of_block = of_lot(block.lot_id, "") if block is not None else ""
    wax_sources = {wax.key: of_lot(None, wax.key) for wax, _ in base.waxes}
    per_kg = materials.known_prices(session, [*needed, *wax_sources.values(), *([of_block] if block else [])])
    loose = {line.pigment.source: line.pigment.loose_density_g_per_ml for one in colours for line in one.lines}
    supplies = [
        _supply(
            source,
            name,
            code,
            grams,
            on_hand.get(lot_id) if lot_id is not None else None,
            per_kg,
            telling.powder(grams, loose[source], habit)
            if source in loose
            else telling.oil(grams, oil.density_g_per_ml, habit, telling.Rounding.NEAREST),
        )
        for source, (name, code, lot_id, grams) in needed.items()
    ]
    in_stock = materials.lots(session, materials.WAX)
    waxes = []
    for wax, share in base.waxes:
        kept = [lot for lot in in_stock if lot.material_key == wax.key]
        here = sum(lot.on_hand for lot in kept) if kept else None
        code = kept[0].code if kept else ""
        grams = base_g * share / whole
        grated = telling.powder(grams, core.GRATED * wax.density_g_per_ml, habit)
        waxes.append(_supply(wax_sources[wax.key], wax.name, code, grams, here, per_kg, grated))
    if block is not None:
        supplies.append(
            _supply(
                of_block,
                f"Block of {base.name}",
                block.code,
                base_g,
                block.on_hand_g,
                per_kg,
                _base_told(base, base_g, habit),
            )
        )
    else:
        supplies += waxes
    missing = tuple(supply.name for supply in supplies if supply.price is None)
    cost = sum((supply.price for supply in supplies if supply.price is not None), Decimal(0))
    prices = {s.source: s.price / Decimal(str(s.needed_g)) for s in supplies if s.price and s.needed_g}
    of_base = waxes if block is None else supplies[-1:]
    costs = [supply.price for supply in of_base if supply.price is not None]
    base_price = sum(costs, Decimal(0)) if len(costs) == len(of_base) else None
    shown = tuple(
        _shown(colour, base, binder, oil, held, prices, base_price, base_g, habit, crayon=asked.crayon)
        for colour, held in zip(colours, moulds, strict=True)
    )
    hazards = [(line.pigment.name, line.pigment.hazards) for colour in colours for line in colour.lines]
    hazards += [(wax.name, wax.hazards) for wax, _ in base.waxes] + [(oil.name, oil.hazards)]
    melt = min(core.HIGHEST_C, base.mix.melt_c)
    return SetPlanned(
        base.name,
        base.version,
        base.offset.offset_ln,
        base.offset.sd_ln,
        oil,
        binder.kind,
        asked.way,
        block,
        shown,
        core.casting_order(colours),
        sum(colour.sticks for colour in colours),
        base_g,
        oil_g,
        sum(colour.stick.pigment_g for colour in colours),
        tuple(waxes),
        tuple(supplies),
        melt,
        base.mix.melt_c <= core.WATER_BATH_C,
        cost.quantize(Decimal("0.01")) if len(missing) < len(supplies) else None,
        missing,
        cautions_for(hazards),
    )


def _supply(
    source: str, name: str, code: str, grams: float, here: float | None, per_kg: dict[str, Decimal], told: Told | None
) -> StickSupply:
    price = _cost(grams, per_kg.get(source))
    return StickSupply(source, name, code, grams, here, here is None or here >= grams, price, told)


def _base_told(base: BaseKnown, grams: float, habit: Habit) -> Told | None:
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


def _shown(
    colour: ColourPlan,
    base: BaseKnown,
    binder: StickOil,
    oil: BinderOil,
    moulds: tuple[tuple[MouldKept, int], ...],
    prices: dict[str, Decimal],
    base_price: Decimal | None,
    base_g: float,
    habit: Habit,
    *,
    crayon: bool,
) -> ColourShown:
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
        remarks.append("It never dries: a crayon, and named so." if crayon else "It would never dry: it is no paint.")
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
        _base_told(base, made.base_g, habit),
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
