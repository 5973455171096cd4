"""What may be stirred into a paste beside its plan."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core import gels
from niddy.core.additives import InPaste, beside_the_plan, extends_as
from niddy.core.errors import Refused
from niddy.core.slab import Knowledge, Standing
from niddy.core.sources import of_lot, source
from niddy.reference import library
from niddy.studio import additives, materials, recipes
from niddy.studio.batches import BatchKept
from niddy.studio.materials import GEL, Asked
from niddy.studio.plan import PlanAsked


def beside(session: Session, kept: BatchKept, names: list[str]) -> tuple[InPaste, ...]:
    """Additives that the plan did not have, by the names the log would give them. Raises Refused, Missing."""
    asked = [(Asked(named.lot_id, named.key or None), 0.0) for named in map(source, names)]
    stirred = materials.dosings(session, asked, additives.taught(session), "source")
    if stirred.extenders:
        raise Refused("source", "an extender is weighed in with the dry powder", "a plan with it")
    ratio = kept.plan.ratio.value / 100
    return tuple(beside_the_plan(dosing, ratio, trial=kept.plan.trial) for dosing in stirred.dosings)


def stabilisers(session: Session, kept: BatchKept, known: Knowledge) -> tuple[InPaste, ...]:
    """What may stiffen a paste that came out too loose, the plan's own first, then the shelf's; none for a purist.

    A recipe says whether it holds with additives; without one the maker does, by taking the way or another.
    """
    plan, paste = kept.plan, kept.paste
    asked = PlanAsked.model_validate(kept.asked)
    allowed = recipes.holds_with_additives(session, asked.recipe_id, asked.recipe_version)
    if allowed is False or paste.oil_g_per_100g is None:
        return ()
    if known.oil_only or (known.standing is not Standing.WETTER and paste.oil_g_per_100g <= known.ratio_wanted):
        return ()
    today = (kept.log[-1].event.made_at if kept.log else kept.started_at).date()
    lots = [
        lot
        for kind in (GEL, "additive")
        for lot in materials.lots(session, kind=kind)
        if lot.on_hand > 0 and (lot.use_by is None or lot.use_by >= today)
    ]
    names = [of_lot(lot.id, "") for lot in lots if lot.kind == GEL or _stirred_in_cold(lot.material_key)]
    kept_here = {lot.material_key for lot in lots}
    names += [of_lot(None, key) for key in library().additives if _stirred_in_cold(key) and key not in kept_here]
    planned = [what for what in plan.facts.additives if what.source not in paste.left_out]
    of_plan = {what.source for what in planned}
    others = beside(session, kept, [name for name in names if name not in of_plan])
    return tuple(what for what in (*planned, *others) if what.ln_stress > 0)


def _stirred_in_cold(key: str) -> bool:
    """Whether an additive goes into paste as it is and stiffens it: not what is melted into oil, nor dry powder."""
    additive = library().additives.get(key)
    if additive is None or additive.stiffening_per_pct <= 0:
        return False
    return not gels.can_gel(additive) and extends_as(additive) is None
