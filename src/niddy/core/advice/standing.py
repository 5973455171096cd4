"""What stands round the paste, from the plan alone: its powders, its muller."""

from __future__ import annotations

from datetime import datetime

from niddy.core import mulling, slab
from niddy.core.advice.acts import Planned
from niddy.core.mulling import Muller, MullingNow
from niddy.core.plan import Plan, mull_minutes
from niddy.core.slab import Paste


def planned_lines(plan: Plan) -> tuple[Planned, ...]:
    """The powders of a plan as advice needs them."""
    return tuple(
        Planned(w.pigment.source, w.pigment.name, w.mass.value, w.share, w.pigment.loose_density_g_per_ml)
        for w in plan.lines
    )


def muller_of(plan: Plan) -> Muller:
    """The muller a plan was made for, and what a load of it takes."""
    tau_min, times = plan.facts.tau_min, plan.facts.dispersions
    minutes = mull_minutes(tau_min, plan.bench, times) if plan.bench else times * tau_min
    load_ml = plan.load_volume.value if plan.load_volume and not plan.facts.one_mass else None
    return Muller(load_ml, minutes, minutes / times)


def mulling_now(paste: Paste, plan: Plan, now: datetime) -> MullingNow:
    """The muller and its loads as they stand now."""
    volume_ml = slab.volume_ml(slab.supposed(paste, plan.facts), plan.facts)
    return mulling.now(paste.mulling, muller_of(plan), volume_ml, now)
