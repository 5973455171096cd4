"""The wetting scale and the pour ladder as the slab shows them."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import slab, telling, wetting
from niddy.core.advice import Advice, NextAct
from niddy.core.estimate import Basis, Estimate
from niddy.core.plan import Plan, Scale, shifted
from niddy.core.slab import Knowledge
from niddy.core.telling import Told


@dataclass(frozen=True, slots=True)
class RungNow:
    """One rung of the ladder: done as it was poured (its g None while nobody knows), next, or to come."""

    cumulative_g: float
    step_g: float | None
    state: str
    told: Told | None = None


def scale_shown(known: Knowledge, plan: Plan) -> Scale:
    """The wetting scale of a batch, with the target as its lot and the eye have it."""
    facts = plan.facts
    absorption, sd_ln, looked = known.demand
    demand = Estimate.lognormal(absorption, sd_ln, plan.scale.basis if looked is Basis.LIBRARY else looked)

    def ratio(oil_absorption: float) -> float:
        return max(0.0, known.ratio_for(oil_absorption))

    seen = "" if looked is Basis.LIBRARY else "; and what your eye said at this slab"
    return Scale(
        shifted(
            wetting.scale_zones(
                absorption,
                facts.pigment_density_g_per_ml,
                facts.oil_density_g_per_ml,
                known.stiffened + known.stiffening_to_come,
            ),
            slab.displaced_g_per_100g(known.paste, facts),
        ),
        known.target,
        ratio(demand.median),
        ratio(demand.low),
        ratio(demand.high),
        demand.basis,
        plan.scale.says + seen,
    )


def rungs_shown(known: Knowledge, plan: Plan, advice: Advice) -> tuple[RungNow, ...]:
    """The pours as they were made, one rung each; above them those that are still open. Next is what is advised."""
    paste = known.paste
    if paste.pigment_g <= 0 and not paste.pours and paste.asked:
        return ()
    if paste.pigment_g <= 0 and not paste.pours:
        return tuple(RungNow(r.cumulative_g, r.step_g, "to_come", r.told) for r in plan.rungs)
    rungs, poured_g = [], paste.oil_g - paste.poured_g if paste.oil_g > paste.poured_g else 0.0
    for made in paste.pours:
        poured_g += made.grams or 0.0
        rungs.append(RungNow(poured_g, made.grams, "done"))
    # Shown as all the oil there will be: a gel's own is on its way, and what was taken out is not in it.
    base_g = poured_g + slab.gel_oil_to_come_g(paste, plan.facts) - paste.oil_g
    if advice.act is NextAct.POUR and advice.grams is not None and not _is_first(advice, known):
        # The oil of a stiff batch beside the paste stands on no rung of the ladder.
        told = telling.oil(advice.grams, plan.oil.density_g_per_ml, plan.facts.habit, there_g=paste.oil_g)
        return (*rungs, RungNow(base_g + advice.grams, advice.grams, "next", told))
    for n, pour in enumerate(known.rungs):
        state = "next" if n == 0 and advice.act is NextAct.POUR and _is_first(advice, known) else "to_come"
        there_g = base_g + pour.cumulative_g - pour.step_g
        told = telling.oil(pour.step_g, plan.oil.density_g_per_ml, plan.facts.habit, there_g=max(0.0, there_g))
        rungs.append(RungNow(base_g + pour.cumulative_g, pour.step_g, state, told))
    return tuple(rungs)


def _is_first(advice: Advice, known: Knowledge) -> bool:
    return bool(known.rungs) and advice.grams == known.rungs[0].step_g
