"""The slab's figures with their workings: ratio, reduced PVC, how much paint there is."""

from __future__ import annotations

import math

from niddy.core import slab, spread
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.plan import ASBECK, Plan
from niddy.core.slab import Knowledge
from niddy.core.wetting import Body


def figures(known: Knowledge, plan: Plan) -> tuple[Figure | None, Figure | None, Figure | None]:
    """Ratio, reduced PVC and volume, or nothing before there is oil on powder."""
    paste, reading = known.paste, known.reading
    if reading is None or reading.oil_g_per_100g <= 0:
        return None, None, None
    facts = plan.facts
    measuring = math.hypot(paste.powder_sd_ln, paste.oil_sd_ln)
    sure = measuring == 0
    basis = Basis.MEASURED if sure else Basis.ASSUMED
    powder = Input("pigment in the paste", paste.pigment_g, "g", basis)
    oil = Input("oil in the paste", paste.oil_g, "g", basis)
    pigment_density = Input("pigment density", facts.pigment_density_g_per_ml, "g/ml", Basis.LIBRARY)
    oil_density = Input("oil density", facts.oil_density_g_per_ml, "g/ml", Basis.LIBRARY)
    where = _spread_says(known, plan)
    ratio = Figure.of(
        "Ratio",
        Estimate.lognormal(reading.oil_g_per_100g, measuring, basis),
        "g oil per 100 g",
        1,
        Working("100 x oil / pigment", (oil, powder), spread=where if measuring else ""),
    )
    absorption, sd_ln, looked = known.demand
    demand = Estimate.lognormal(absorption, sd_ln, plan.scale.basis if looked is Basis.LIBRARY else looked)
    added = tuple(
        Input(f"{added.what.name}, itself", added.grams, "g", Basis.MEASURED) for added in paste.additives.values()
    )

    reduced = Figure(
        "Reduced PVC",
        reading.reduced_pvc,
        "",
        2,
        demand.basis,
        Working(
            "PVC / CPVC, CPVC = 1 / (1 + OA x pigment density / (100 x oil density))",
            (
                Input("ratio now", reading.oil_g_per_100g, "g oil per 100 g", basis),
                Input("OA, oil absorption in this oil, as you see it", absorption, "g per 100 g", demand.basis),
                pigment_density,
                oil_density,
                *added,
            ),
            ASBECK,
            where,
        ),
        reading.reduced_low,
        reading.reduced_high,
    )
    volume = Figure(
        "Paint",
        reading.volume_ml,
        "ml",
        1,
        basis,
        Working(
            "pigment / pigment density + oil / oil density" + (" + additives / their densities" if added else ""),
            (powder, pigment_density, oil, oil_density, *added),
        ),
    )
    return ratio, reduced, volume


def _spread_says(known: Knowledge, plan: Plan) -> str:
    """Where the spread of the reduced PVC comes from, in ln of oil absorption as seen."""
    paste, facts, aim = known.paste, plan.facts, known.aim
    ratio = aim.ratio(facts.oil_absorption_g_per_100g)
    k = (ratio + aim.c) / facts.oil_absorption_g_per_100g
    counted = ratio / (aim.a * facts.oil_absorption_g_per_100g)
    return spread.says(
        (
            spread.of_powder(facts.demand_sd_ln**2, known=plan.scale.basis is not Basis.LIBRARY),
            spread.of_eye((k * facts.eye.bias_sd) ** 2),
            spread.of_spoon((counted * paste.powder_sd_ln) ** 2),
            spread.of_oil((counted * paste.oil_sd_ln) ** 2),
        )
    )


def body_now(known: Knowledge) -> Body | None:
    """The body now: what was seen of it, else what is known; of what looked dry last nothing soft is said."""
    if known.look is not None and known.look.body is not None:
        return known.look.body
    reading = known.reading
    if reading is None or (slab.dry(known.paste) and slab.looser(reading.body, known.wanted)):
        return None
    return reading.body


def body_says(known: Knowledge) -> str:
    """What the body rests on, in words."""
    reading = known.reading
    if reading is None or known.paste.oil_g <= 0:
        return ""
    if known.look is not None and known.look.body is not None:
        return f"{known.look.body}, as you saw it"
    if slab.dry(known.paste):
        return "still dry, as you saw it"
    if reading.stiffest is reading.softest:
        return f"{reading.body}, by all that is known of this lot"
    return f"{reading.body}; may be anything from {reading.stiffest} to {reading.softest}"
