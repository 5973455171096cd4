"""A ladder for a recipe, and its answer as a new version."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind, spread
from niddy.core.ladder import Measured
from niddy.studio import additives, plan
from niddy.studio.additives import TargetAsked
from niddy.studio.recipes.asked import RecipeDose, Stance, plan_of
from niddy.studio.recipes.versions import change, name_of, version_of


@dataclass(frozen=True, slots=True)
class LadderStart:
    """What a recipe gives a ladder: its ratio in g oil per 100 g of powder, and targets from its checks."""

    name: str
    recipe_id: int
    oil_g_per_100g: float
    targets: tuple[TargetAsked, ...]
    additives: tuple[RecipeDose, ...]


def ladder_start(session: Session, recipe_id: int) -> LadderStart:
    """Where a ladder for a recipe starts. Raises Missing."""
    version = version_of(session, recipe_id, None)
    recipe = version.asked
    bare = recipe.model_copy(update={"additives": []})
    ratio = plan.compute(session, plan_of(bare, pigment_g=100.0)).plan.ratio.value
    targets = []
    for wanted in recipe.checks:
        low, high = wanted.low, wanted.high
        if wanted.kind is CheckKind.SPREAD and (low or high):
            # The wider it spreads, the less it yields: the ends change places.
            targets.append(TargetAsked(what=Measured.YIELD, at_least=_stress(high), at_most=_stress(low)))
        elif wanted.kind is CheckKind.STRING and (low or high):
            targets.append(TargetAsked(what=Measured.STRING, at_least=low or None, at_most=high))
        elif wanted.kind is CheckKind.BLEED and (high is not None or wanted.target is not None):
            targets.append(TargetAsked(what=Measured.BLEED, at_most=high if high is not None else wanted.target))
    return LadderStart(name_of(session, recipe_id), recipe_id, round(ratio, 1), tuple(targets), tuple(recipe.additives))


def _stress(diameter_mm: float | None) -> float | None:
    return round(spread([diameter_mm]).yield_stress_pa, 1) if diameter_mm else None


def take_ladder(session: Session, now: datetime, recipe_id: int, ladder_id: int) -> int:
    """Put what a ladder found into a recipe as a new version, the ladder its evidence; the version. Raises Refused."""
    found = additives.found(session, ladder_id)
    last = version_of(session, recipe_id, None).asked
    keys = {key for key, _ in found.doses}
    doses = [additive for additive in last.additives if additive.additive_key not in keys]
    doses += [RecipeDose(additive_key=key, dose_pct=pct, ladder_id=ladder_id) for key, pct in found.doses]
    asked = last.model_copy(update={"additives": doses, "stance": Stance.ADDITIVES})
    return change(session, now, recipe_id, asked, found.says)
