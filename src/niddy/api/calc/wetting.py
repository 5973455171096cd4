"""Where a paste stands, and how to pour towards it."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, Reduced, example, router
from niddy.core import pours as core_pours
from niddy.core import wetting as core_wetting
from niddy.core.amounts import Density
from niddy.core.amounts import Grams as Mass
from niddy.core.amounts import OilRatio as Ratio
from niddy.core.errors import MAX_OIL_G_PER_100G, MIN_PARTS
from niddy.core.wetting import Wetting


class PigmentPart(Asked):
    """A dry pigment of a blend; oil absorption in the reference oil."""

    parts: Annotated[float, Field(strict=True, ge=MIN_PARTS, le=1_000_000)]
    density_g_per_ml: Density
    oil_absorption_g_per_100g: Ratio


class WettingAsked(Asked):
    """A blend in an oil, at a ratio or at a reduced PVC: exactly one of the two."""

    pigments: Annotated[list[PigmentPart], Field(min_length=1, max_length=50)]
    oil_density_g_per_ml: Density
    oil_g_per_100g: Annotated[float, Field(strict=True, ge=0, le=MAX_OIL_G_PER_100G)] | None = None
    reduced_pvc: Reduced | None = None


@router.post("/wetting")
def wetting(
    asked: Annotated[
        WettingAsked,
        example(
            "bone black at 0.86",
            pigments=[{"parts": 1, "density_g_per_ml": 2.5, "oil_absorption_g_per_100g": 52}],
            oil_density_g_per_ml=0.930,
            reduced_pvc=0.86,
        ),
    ],
) -> Wetting:
    """Where a paste stands between dry powder and running oil. The oil absorption answered is in the oil asked for."""
    return core_wetting.wetting(
        [core_wetting.Part(p.parts, p.density_g_per_ml, p.oil_absorption_g_per_100g) for p in asked.pigments],
        asked.oil_density_g_per_ml,
        asked.oil_g_per_100g,
        asked.reduced_pvc,
    )


class DemandAsked(Asked):
    """Oil absorption in the oil to be used: median, and sd of its logarithm."""

    median: Ratio
    sd_ln: Annotated[float, Field(strict=True, ge=0, le=2)]


class PoursAsked(Asked):
    """What the ladder of pours is computed from; the two sds are those of measuring, of the logarithm of a mass."""

    pigment_g: Mass
    demand: DemandAsked
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density
    reduced_pvc: Reduced
    smallest_step_g: Annotated[float, Field(strict=True, ge=0, le=100)] = core_pours.SMALLEST_STEP_G
    pigment_sd_ln: Annotated[float, Field(strict=True, ge=0, le=2)] = 0.0
    oil_sd_ln: Annotated[float, Field(strict=True, ge=0, le=2)] = 0.0


class PoursAnswer(BaseModel):
    """The rungs in order, and the oil expected."""

    pours: list[core_pours.Pour]
    expected_g: float


@router.post("/pours")
def pours(
    asked: Annotated[
        PoursAsked,
        example(
            "100 g bone black, two rub-outs",
            pigment_g=100,
            demand={"median": 53.477, "sd_ln": 0.0346},
            pigment_density_g_per_ml=2.5,
            oil_density_g_per_ml=0.930,
            reduced_pvc=0.86,
        ),
    ],
) -> PoursAnswer:
    """A first pour that is safe to make, then smaller ones, to the 90 % quantile of the demand."""
    steps = core_pours.ladder(
        asked.pigment_g,
        asked.demand.median,
        asked.demand.sd_ln,
        asked.pigment_density_g_per_ml,
        asked.oil_density_g_per_ml,
        asked.reduced_pvc,
        asked.smallest_step_g,
        pigment_sd_ln=asked.pigment_sd_ln,
        oil_sd_ln=asked.oil_sd_ln,
    )
    return PoursAnswer(pours=list(steps.pours), expected_g=steps.expected_g)
