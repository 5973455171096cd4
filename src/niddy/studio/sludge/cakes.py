"""From the dish into stock: what a cake is taken for, and the question whether it should become paint at all."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.cautions import title_of
from niddy.core.errors import Refused
from niddy.core.estimate import Estimate
from niddy.core.materials import CAKE_FAMILY, Dispersing, Particle, Pigment
from niddy.core.measures import to_grams
from niddy.core.sludge import Cake, DishFacts, Makeup, Method
from niddy.core.sludge.dish_acts import ToStock
from niddy.studio import materials, workshop
from niddy.studio.materials import CakePart, NewCake

if TYPE_CHECKING:
    from niddy.studio.sludge.dishes import DishKept

DRY_ENOUGH = core.TUBING_RESIDUAL
FINE_MESH_UM = 60.0
LOOSE_SHARE = 0.35
"""A loose cake is so much of its density (assumed, until a spoon of it is weighed)."""


@dataclass(frozen=True, slots=True)
class CakeGuess:
    """What a cake of a dish or can would be: oil it takes, density, colour, hazards, and whether to ask first."""

    oil_absorption: Estimate
    density_g_per_ml: float
    wet_enough: bool
    masstone_srgb: str
    leans: str
    colour_known: bool
    parts: tuple[CakePart, ...]
    unknown_share: float
    hazards: tuple[str, ...]
    asked_first: tuple[str, ...]


def guess(makeup: Makeup, method: Method) -> CakeGuess:
    """What a cake of some sludge would be."""
    made: Cake = core.cake_of(makeup, oily=method is Method.DRAIN)
    weight = makeup.weight or 1.0
    parts = sorted(
        (CakePart(one.name, one.weight / weight) for one in makeup.washed.values()), key=lambda part: -part.share
    )
    colour = makeup.masstone_srgb
    return CakeGuess(
        made.oil_absorption,
        made.density_g_per_ml,
        made.wet_enough,
        colour,
        core.lean_of(colour)[0],
        makeup.colour_known,
        tuple(parts),
        makeup.unknown_share,
        makeup.hazards,
        tuple(title_of(key) for key in core.asked_first(makeup)),
    )


def into_stock(session: Session, now: datetime, kept: DishKept, act: ToStock) -> DishFacts:
    """Keep a dish's cake as a lot of pigment; the facts of the act. Raises Refused."""
    made = guess(kept.makeup, kept.method)
    if made.asked_first and not act.anyway:
        raise Refused(
            "anyway",
            f"should this become paint at all? {'; '.join(made.asked_first)}",
            "keep it for licensed disposal; or yes, for your own use, with its cautions on every label",
        )
    last = kept.dish.weighed[-1].g if kept.dish.weighed else None
    g = _grams(session, act, made)
    if last is not None and g > last * 1.02 + 1:
        field = "g" if act.g is not None else "measure"
        raise Refused(field, f"{g:.4g} g out of a dish that held {last:.1f} g", f"up to {last:.1f} g")
    liquid = core.liquid_now(kept.dish, kept.forecast)
    left = liquid.median if liquid is not None else None
    dry = core.dry_enough(kept.dish, kept.forecast)
    evaporates = kept.solvent.evaporates
    judged = kept.dish.judged is not None
    if evaporates and not act.wet and not dry and left is not None and (judged or left > DRY_ENOUGH):
        raise Refused(
            "wet",
            f"about {100 * left:.0f} in 100 of it are still {kept.solvent.name.lower()}",
            "no smell and dry paper"
            if judged
            else f"{100 * DRY_ENOUGH:.0f} in 100 or less: let it dry on, or take it as wet sludge",
        )
    share = 0.0
    if act.wet and evaporates:
        share = min(0.9, left if left is not None else (core.SQUEEZED_LOW + core.SQUEEZED_HIGH) / 2)
    hazards = made.hazards
    if share > 0:
        hazards = tuple(sorted({*hazards, *kept.solvent.hazards}))
    name = kept.name.replace("Sludge of", "Cake of", 1)
    lot_id = materials.keep_cake(
        session,
        now,
        kept.job_id,
        act.id,
        NewCake(
            kept.can_number,
            kept.number,
            pigment_of(kept, made, name),
            act.code,
            g,
            share,
            kept.solvent.density_g_per_ml,
            hazards,
            made.parts,
            made.unknown_share,
            made.wet_enough,
        ),
    )
    return DishFacts(g, lot_id, share, g * (1 - share))


def _grams(session: Session, act: ToStock, made: CakeGuess) -> float:
    """What goes into stock, in g: weighed, or by spoons of a loose cake. Raises Refused under `measure`."""
    if act.g is not None or act.measure is None:
        return act.g or 0.0
    try:
        parts = act.measure.measures(workshop.own_of(session, act.measure))
        loose = LOOSE_SHARE * made.density_g_per_ml
        return sum(to_grams(part, loose_density=loose).median for part in parts)
    except Refused as refusal:
        raise refusal.under("measure") from None


def pigment_of(kept: DishKept, made: CakeGuess, name: str) -> Pigment:
    """A cake as the pigment it is from now on. Its range is as wide as the estimate, about its middle."""
    estimate = made.oil_absorption
    low, high = estimate.low or estimate.median, estimate.high or estimate.median
    half = math.sqrt(max(1.1, high / low))
    washed = kept.makeup.washed.values()
    strongest = max(washed, key=lambda one: one.weight).tinting if washed else "medium"
    fine = kept.dish.strained_um is not None and kept.dish.strained_um <= FINE_MESH_UM
    return Pigment(
        key="",
        name=name,
        ci_name="",
        family=CAKE_FAMILY,
        density_g_per_ml=made.density_g_per_ml,
        oil_absorption_low=max(0.1, estimate.median / half),
        oil_absorption_high=min(900.0, estimate.median * half),
        loose_density_g_per_ml=LOOSE_SHARE * made.density_g_per_ml,
        particle=Particle.MEDIUM if fine else Particle.COARSE,
        opacity="semi",
        tinting=strongest,
        staining=1,
        lightfast_class="",
        drying="medium",
        hazards=made.hazards,
        masstone_srgb=made.masstone_srgb,
        dispersing=Dispersing.MEDIUM,
    )
