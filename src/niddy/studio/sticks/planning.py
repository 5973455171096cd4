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
from niddy.core.materials import BinderOil, DryPigment
from niddy.core.sources import of_lot
from niddy.core.sticks import ColourPlan, ColourWish, Loading, Mould, OilKind, PigmentWay, StickOil
from niddy.db.sticks import StickRecipe
from niddy.reference import library
from niddy.studio import materials, rubout, workshop
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked, Block
from niddy.studio.sticks.asked import ColourAsked, PigmentAsked, SetAsked
from niddy.studio.sticks.bases import BaseKnown, known
from niddy.studio.sticks.moulds import MouldKept, every_mould
from niddy.studio.sticks.set_shown import ColourShown, StickSupply, base_told, shown_of, supply_of

POT_FILLED = 0.75
"""A pot is filled so far at most, so that it can be stirred (assumed)."""

SLOW_DAYS, NEVER_DAYS = 7.5, 60.0
"""An oil that is touch-dry later than this on the average counts as semi-drying, much later as not drying (assumed)."""


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
        supply_of(
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
        waxes.append(supply_of(wax_sources[wax.key], wax.name, code, grams, here, per_kg, grated))
    if block is not None:
        supplies.append(
            supply_of(
                of_block,
                f"Block of {base.name}",
                block.code,
                base_g,
                block.on_hand_g,
                per_kg,
                base_told(base, base_g, habit),
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
        shown_of(colour, base, oil, held, prices, base_price, base_g, habit, crayon=asked.crayon)
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
