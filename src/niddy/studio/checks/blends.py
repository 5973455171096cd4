"""What is known now of a blend in its oil, and how spread answers it in a recipe."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core import checks
from niddy.core.checks import CheckKind, Slope
from niddy.core.errors import Refused
from niddy.core.plan import Facts
from niddy.core.slab import binder_g
from niddy.core.wetting import reduced_at
from niddy.studio import batches
from niddy.studio import plan as plans
from niddy.studio.batches import Made, OfRecipe
from niddy.studio.errors import Missing
from niddy.studio.plan import PlanAsked

SLOPE_FROM = 60


Known = dict[tuple[int, ...], Facts]
"""What is known now of blends in their oils, by the lots they are of: reckoned once for all batches of the same."""


def own_slope(session: Session, made: tuple[OfRecipe, ...], known: Known | None = None) -> Slope:
    """How spread answers reduced PVC in this recipe, from its last batches, with the demand of lots as known now."""
    points = []
    known = {} if known is None else known
    for batch in made[-SLOPE_FROM:]:
        diameter = batch.results.get(CheckKind.SPREAD)
        if isinstance(diameter, (int, float)) and batch.oil_g_per_100g:
            if batch.lot_ids not in known:
                facts_now(session, batches.made(session, batch.number), known)
            points.append((_reduced(batch, known[batch.lot_ids]), float(diameter)))
    return checks.slope(points)


def facts_now(session: Session, made: Made, known: Known) -> Facts:
    """The blend of a batch in its oil, with what was learned of its lots since it was planned."""
    if made.lot_ids and made.lot_ids in known:
        return known[made.lot_ids]
    try:
        facts = plans.compute(session, PlanAsked.model_validate(made.kept.asked)).plan.facts
    except (Refused, Missing):
        # A slab or tube type of then may be out of use; the plan's own figures stand.
        facts = made.kept.plan.facts
    known[made.lot_ids] = facts
    return facts


def _reduced(batch: OfRecipe, facts: Facts) -> float:
    bound = (
        100 * binder_g(batch.oil_g, batch.additives.values(), facts) / batch.pigment_g if batch.pigment_g > 0 else 0.0
    )
    return reduced_at(
        bound, facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
