"""How much to make, and how to bring a batch back."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.api.calc.base import Asked, MassOrNone, example, router
from niddy.core import correction as core_correction
from niddy.core import sizing as core_sizing
from niddy.core.amounts import Density, FilmMillimetres, SquareCentimetres, TubeMillilitres
from niddy.core.amounts import Grams as Mass
from niddy.core.amounts import OilRatio as Ratio
from niddy.core.correction import Correction
from niddy.core.sizing import Sizing


class SizeTubes(Asked):
    """So many tubes of one usable volume."""

    usable_ml: TubeMillilitres
    count: Annotated[int, Field(strict=True, ge=0, le=10_000)]


class SizeAsked(Asked):
    """A batch from the tubes wanted or from the pigment on hand: exactly one of the two."""

    tubes: Annotated[list[SizeTubes], Field(min_length=1, max_length=50)] | None = None
    pigment_g: Mass | None = None
    oil_g_per_100g: Ratio
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density
    hold_up_ml: Annotated[float, Field(strict=True, ge=0, le=1_000)] = core_sizing.HOLD_UP_ML
    loss: Annotated[float, Field(strict=True, ge=0, le=0.9)] = core_sizing.LOSS
    slab_area_cm2: SquareCentimetres | None = None
    film_mm: FilmMillimetres | None = None
    usable_fraction: Annotated[float, Field(strict=True, ge=0.01, le=1)] = core_sizing.USABLE_FRACTION


@router.post("/size")
def size(
    asked: Annotated[
        SizeAsked,
        example(
            "three 40 ml tubes of bone black",
            tubes=[{"usable_ml": 40, "count": 3}],
            oil_g_per_100g=66.521,
            pigment_density_g_per_ml=2.5,
            oil_density_g_per_ml=0.930,
            slab_area_cm2=900,
            film_mm=0.3,
        ),
    ],
) -> Sizing:
    """Paint, powder, oil and loads of a batch. `load_ml` is what one load may hold; null without a slab."""
    tubes = None
    if asked.tubes is not None:
        tubes = [core_sizing.TubesWanted(tube.usable_ml, tube.count) for tube in asked.tubes]
    return core_sizing.size(
        asked.oil_g_per_100g,
        asked.pigment_density_g_per_ml,
        asked.oil_density_g_per_ml,
        tubes,
        asked.pigment_g,
        asked.hold_up_ml,
        asked.loss,
        asked.slab_area_cm2,
        asked.film_mm,
        asked.usable_fraction,
    )


class CorrectionAsked(Asked):
    """What is in the paste, and the ratio wanted; oil absorption in this oil."""

    pigment_g: Mass
    oil_g: MassOrNone
    target_oil_g_per_100g: Ratio
    pigment_on_hand_g: MassOrNone | None = None
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density
    oil_absorption_g_per_100g: Ratio


@router.post("/correction")
def correction(
    asked: Annotated[
        CorrectionAsked,
        example(
            "too loose by a little",
            pigment_g=80,
            oil_g=60,
            target_oil_g_per_100g=68.6,
            pigment_density_g_per_ml=2.5,
            oil_density_g_per_ml=0.930,
            oil_absorption_g_per_100g=52,
        ),
    ],
) -> Correction:
    """What brings a paste to its target, and where it stands before and after."""
    return core_correction.correct(
        asked.pigment_g,
        asked.oil_g,
        asked.target_oil_g_per_100g,
        asked.pigment_density_g_per_ml,
        asked.oil_density_g_per_ml,
        asked.oil_absorption_g_per_100g,
        asked.pigment_on_hand_g,
    )
