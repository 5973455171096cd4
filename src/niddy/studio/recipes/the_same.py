"""The same again, with whatever lots are there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Grams
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.plan import Facts
from niddy.core.rebuild import Wets, rebuild
from niddy.core.telling import Measuring
from niddy.core.words import Words
from niddy.studio import batches, plan
from niddy.studio.batches import OfRecipe
from niddy.studio.errors import Missing
from niddy.studio.plan import AdditiveAsked, LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.recipes.asked import RecipeAsked, oil_of
from niddy.studio.recipes.versions import version_of


class AgainAsked(Document):
    """The same again: how much, and of which lots where they are known. An empty lot means the library's figure."""

    version: RowId | None = None
    pigment_lots: Annotated[list[RowId | None], Field(max_length=12)] = []
    oil_lot_id: RowId | None = None
    oil_key: Annotated[Words, Field(max_length=80)] | None = None
    tubes: Annotated[list[TubesAsked], Field(max_length=24)] | None = None
    pigment_g: Grams | None = None
    slab_id: RowId | None = None
    muller_id: RowId | None = None


@dataclass(frozen=True, slots=True)
class Changed:
    """One thing that is different this time, and why it changes what is poured."""

    what: str
    before: str
    after: str
    why: str


@dataclass(frozen=True, slots=True)
class Again:
    """The same paint again: what to ask of the plan, its ratio, and what is different from the batch it follows."""

    plan: PlanAsked
    reduced_pvc: float
    oil_g_per_100g: float
    low: float
    high: float
    like: int | None
    like_oil_g_per_100g: float | None
    rebuilt_oil_g_per_100g: float | None
    changes: tuple[Changed, ...]


def again(session: Session, recipe_id: int, asked: AgainAsked) -> Again:
    """Carry a recipe to these lots, this oil and this amount: the body is kept, not the ratio.

    Raises Refused, Missing.
    """
    version = version_of(session, recipe_id, asked.version)
    recipe = version.asked
    if asked.pigment_lots and len(asked.pigment_lots) != len(recipe.pigments):
        raise Refused(
            "pigment_lots", f"{len(asked.pigment_lots)} lots", f"{len(recipe.pigments)}, one a pigment, or none"
        )
    if (asked.tubes is None) == (asked.pigment_g is None):
        raise Refused("tubes", "exactly one of the two is needed", "either tubes or pigment_g")
    lots = asked.pigment_lots or [None] * len(recipe.pigments)
    lines = [
        LineAsked(lot_id=lot, pigment_key=None if lot else part.pigment_key, parts=part.parts)
        for part, lot in zip(recipe.pigments, lots, strict=True)
    ]
    oil = oil_of(recipe)
    if asked.oil_lot_id or asked.oil_key:
        oil = OilAsked(lot_id=asked.oil_lot_id, oil_key=None if asked.oil_lot_id else asked.oil_key)
    wish = PlanAsked(
        lines=lines,
        oil=oil,
        reduced_pvc=recipe.reduced_pvc,
        tubes=asked.tubes,
        pigment_g=asked.pigment_g,
        slab_id=asked.slab_id,
        muller_id=asked.muller_id,
        target_fineness_um=recipe.fineness_um,
        recipe_id=recipe_id,
        recipe_version=version.version,
        additives=[AdditiveAsked(additive_key=d.additive_key, dose_pct=d.dose_pct) for d in recipe.additives],
    )
    planned = plan.compute(session, wish).plan
    for n, (weigh, part) in enumerate(zip(planned.lines, recipe.pigments, strict=False)):
        if weigh.pigment.key != part.pigment_key:
            raise Refused(f"pigment_lots.{n}", f"that lot is {weigh.pigment.name}", f"a lot of {part.pigment_key}")
    like = _like(session, recipe_id, recipe)
    new = _wets(planned.facts)
    rebuilt = None
    changes: list[Changed] = []
    if like is not None and like.oil_g_per_100g is not None:
        rebuilt = rebuild(like.oil_g_per_100g, _wets(_as_known_now(session, like)), new).oil_g_per_100g
        changes = _changes(session, like, planned.facts, [w.pigment.lot_id for w in planned.lines], planned.oil.lot_id)
    scale = planned.scale
    return Again(
        wish,
        recipe.reduced_pvc,
        planned.ratio.value,
        scale.band_low_oil_g_per_100g,
        scale.band_high_oil_g_per_100g,
        like.number if like else None,
        like.oil_g_per_100g if like else None,
        rebuilt,
        tuple(changes),
    )


def _like(session: Session, recipe_id: int, recipe: RecipeAsked) -> OfRecipe | None:
    """The batch to be like: the last released one, else the standard."""
    made = batches.of_recipe(session, recipe_id)
    released = [b for b in made if b.release in batches.RELEASED]
    if released:
        return released[-1]
    standard = [b for b in made if b.number == recipe.standard_batch]
    return standard[-1] if standard else None


def _as_known_now(session: Session, like: OfRecipe) -> Facts:
    """What a batch was made of, with the demand of its lots as it is known today: the same lot asks for the same."""
    asked = PlanAsked.model_validate(batches.batch(session, like.number, 0).asked)
    exactly = {"tubes": None, "pigment_g": like.pigment_g, "measuring": Measuring.SCALE}
    try:
        return plan.compute(session, asked.model_copy(update=exactly)).plan.facts
    except (Refused, Missing):
        return like.facts


def _wets(facts: Facts) -> Wets:
    return Wets(facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)


def _changes(
    session: Session, like: OfRecipe, now: Facts, lots: list[int | None], oil_lot: int | None
) -> list[Changed]:
    changes = []
    then = like.facts
    new_lots = [lot for lot in (*lots, oil_lot) if lot is not None and lot not in like.lot_ids]
    absorbed, absorbs = then.oil_absorption_g_per_100g, now.oil_absorption_g_per_100g
    if abs(absorbs / absorbed - 1) > 0.005:
        takes = "more" if absorbs > absorbed else "less"
        source = "another lot or oil" if new_lots else "what was learned since"
        changes.append(
            Changed(
                "oil absorption in this oil",
                f"{absorbed:.1f} g per 100 g",
                f"{absorbs:.1f} g per 100 g",
                f"By {source} it takes {takes} oil to the same body.",
            )
        )
    if abs(now.oil_density_g_per_ml - then.oil_density_g_per_ml) > 0.0005:
        changes.append(
            Changed(
                "density of the oil",
                f"{then.oil_density_g_per_ml:.3f} g/ml",
                f"{now.oil_density_g_per_ml:.3f} g/ml",
                "Oil wets by volume: the same body is another weight of it.",
            )
        )
    if abs(now.target_reduced_pvc - then.target_reduced_pvc) > 0.0005:
        changes.append(
            Changed(
                "target, reduced PVC",
                f"{then.target_reduced_pvc:.3f}",
                f"{now.target_reduced_pvc:.3f}",
                "This version of the recipe aims at another body.",
            )
        )
    return changes
