"""Grams of an amount as it was measured."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, Number, example, router
from niddy.core import measures as core_measures
from niddy.core.amounts import Density
from niddy.core.estimate import Estimate
from niddy.core.measures import Fill, Unit


class MeasureAsked(Asked):
    """An amount as measured."""

    amount: Number | None = None
    unit: Unit
    density_g_per_ml: Density | None = None
    loose_density_g_per_ml: Density | None = None
    loose_density_measured: Annotated[bool, Field(strict=True)] = False
    drop_g: Number | None = None
    drop_measured: Annotated[bool, Field(strict=True)] = False
    before_g: Number | None = None
    after_g: Number | None = None
    fill: Fill = Fill.LEVEL
    by_marks: Annotated[bool, Field(strict=True)] = False
    holds_ml: Annotated[float, Field(strict=True, gt=0, le=1_000, description="of a measure of one's own")] | None = (
        None
    )
    holds_spread: Annotated[float, Field(strict=True, ge=0, le=2)] = 1.0


class MeasureAnswer(BaseModel):
    """The mass with its spread and basis."""

    mass_g: Estimate


@router.post("/measure")
def measure(
    asked: Annotated[
        MeasureAsked, example("2 level teaspoons", amount=2, unit="teaspoon", loose_density_g_per_ml=0.55)
    ],
) -> MeasureAnswer:
    """Grams of an amount measured in g, ml, level spoons, drops, or by weighing a bottle back."""
    own = None
    if asked.holds_ml is not None and asked.unit in core_measures.OWN_UNITS:
        own = replace(core_measures.UNITS[asked.unit], ml=asked.holds_ml, spread=asked.holds_spread)
    mass = core_measures.to_grams(
        core_measures.Measure(asked.unit, asked.amount, asked.before_g, asked.after_g, asked.fill, own),
        density=asked.density_g_per_ml,
        loose_density=asked.loose_density_g_per_ml,
        loose_density_measured=asked.loose_density_measured,
        drop_g=asked.drop_g,
        drop_measured=asked.drop_measured,
        by_marks=asked.by_marks,
    )
    return MeasureAnswer(mass_g=mass)
