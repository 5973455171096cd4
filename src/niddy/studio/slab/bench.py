"""What stands round the paste: the muller, what the shelf still holds, ways back, whether the kit was checked."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy.orm import Session

from niddy.core import slab
from niddy.core.advice import Advice, planned_lines
from niddy.core.cautions import dangerous
from niddy.core.materials import STILL_WET
from niddy.core.plan import Plan, mull_minutes
from niddy.core.sizing import HANDLING_MIN_PER_LOAD
from niddy.core.slab import Status
from niddy.core.ways import LoadSize, WayBack, ways
from niddy.studio import materials
from niddy.studio.batches import BatchKept
from niddy.studio.slab.stirring import stabilisers


def must_be_ready(kept: BatchKept) -> bool:
    """Whether the kit has to be checked before powder: these materials can harm, and none is in yet."""
    asks = dangerous(tuple(caution.key for caution in kept.plan.cautions))
    return asks and not kept.paste.ready and kept.paste.pigment_g <= 0


def as_weighed(plan: Plan, advice: Advice) -> Advice:
    """Advice in what the scale shows: of a lot that is still wet, its liquid is weighed with it."""
    wet = next((w.pigment for w in plan.lines if w.pigment.source == advice.source and w.pigment.liquid_share), None)
    if wet is None or advice.grams is None:
        return advice
    grams = wet.wet_g(advice.grams)
    return replace(advice, grams=grams, reason=f"{advice.reason} {STILL_WET}")


def left_of_lots(session: Session, plan: Plan, read: dict[int, float] | None = None) -> dict[str, float]:
    """What is left of each lot of a plan, by source; `read` is what was read of lots already."""
    lots = {w.pigment.lot_id: w.pigment.source for w in plan.lines if w.pigment.lot_id is not None}
    if plan.oil.lot_id is not None:
        lots[plan.oil.lot_id] = plan.oil.source
    for line in plan.additives:
        if line.dosing.lot_id is not None:
            lots[line.dosing.lot_id] = line.dosing.source
    blended = {part.lot_id: part.share for part in plan.oil.parts if part.lot_id is not None}
    wanted = {*lots, *blended}
    left = read if read is not None and wanted <= read.keys() else materials.on_hand(session, sorted(wanted))
    by_source = {lots[lot_id]: grams for lot_id, grams in left.items() if lot_id in lots}
    if blended:
        by_source[plan.oil.source] = min(left[lot_id] / share for lot_id, share in blended.items())
    return by_source


def ways_back(session: Session, kept: BatchKept, left: dict[str, float] | None = None) -> tuple[WayBack, ...]:
    """The ways back that are open to the paste now."""
    plan = kept.plan
    known = slab.know(slab.supposed(kept.paste, plan.facts), plan.facts)
    if known.paste.status is not Status.OPEN or known.paste.asked:
        return ()
    load = None
    if plan.bench is not None and plan.load_volume is not None and not plan.facts.one_mass:
        minutes = mull_minutes(plan.facts.tau_min, plan.bench, plan.facts.dispersions)
        load = LoadSize(plan.load_volume.value, minutes + HANDLING_MIN_PER_LOAD)
    tube_ml = plan.tubes[0].usable_ml if plan.tubes else None
    on_hand = left_of_lots(session, plan) if left is None else left
    stiffeners = stabilisers(session, kept, known)
    return ways(known, planned_lines(plan), on_hand, load, tube_ml, stiffeners)
