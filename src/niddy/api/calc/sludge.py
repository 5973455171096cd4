"""Sludge: a dish that dries, what a cake takes, when there is enough."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.api.calc.base import Asked, MassOrNone, example, router
from niddy.core import sludge as core
from niddy.core.amounts import Density
from niddy.core.amounts import OilRatio as Ratio
from niddy.core.estimate import Estimate
from niddy.core.sludge import Cake, DryDown, Settling


class DishReading(Asked):
    """One weighing of a dish."""

    hours: Annotated[float, Field(strict=True, ge=0, le=100_000)]
    g: MassOrNone


class DryDownAsked(Asked):
    """Weighings of a dish, in order; the dish's own weight; what may be left in it, as a share."""

    readings: Annotated[list[DishReading], Field(max_length=1_000)]
    tare_g: MassOrNone = 0.0
    target_residual: Annotated[float, Field(strict=True, ge=0.0001, le=0.9)] = core.TUBING_RESIDUAL


_READINGS = [{"hours": 0, "g": 180}, {"hours": 6, "g": 165.99}, {"hours": 24, "g": 139.02}, {"hours": 48, "g": 122.73}]


@router.post("/drydown")
def drydown(asked: Annotated[DryDownAsked, example("a dish after two days", readings=_READINGS)]) -> DryDown:
    """The dry weight before it is dry, and the hours from the start until it may be tubed."""
    readings = [core.Weighing(reading.hours, reading.g) for reading in asked.readings]
    return core.drydown(readings, asked.tare_g, asked.target_residual)


class HeightRead(Asked):
    """Clear liquid over sediment in a can, so many hours after it was stirred up."""

    hours: Annotated[float, Field(strict=True, ge=0, le=100_000)]
    clear_mm: Annotated[float, Field(strict=True, ge=0, le=2_000)]
    total_mm: Annotated[float, Field(strict=True, gt=0, le=2_000)]


class SettlingAsked(Asked):
    """Heights read of a can, and how long it has stood."""

    heights: Annotated[list[HeightRead], Field(max_length=1_000)]
    now_h: Annotated[float, Field(strict=True, ge=0, le=100_000)] = 0.0


_HEIGHTS = [
    {"hours": 8, "clear_mm": 20, "total_mm": 100},
    {"hours": 20, "clear_mm": 39, "total_mm": 100},
    {"hours": 44, "clear_mm": 55, "total_mm": 100},
]


@router.post("/settling")
def settling(asked: Annotated[SettlingAsked, example("a can after two days", heights=_HEIGHTS)]) -> Settling:
    """How far a can has cleared and will clear, and when that is enough to pour it."""
    for n, one in enumerate(asked.heights):
        core.check_height(one.clear_mm, one.total_mm, f"heights.{n}.clear_mm")
    return core.settling([core.Height(one.hours, one.clear_mm, one.total_mm) for one in asked.heights], asked.now_h)


class CakeWashing(Asked):
    """Some of one pigment that was washed off: 1 a little, 2 a brushful, 4 a palette's worth."""

    weight: Annotated[float, Field(strict=True, ge=0, le=1e6)]
    oil_absorption_low: Ratio
    oil_absorption_high: Ratio
    density_g_per_ml: Density

    def washing(self) -> core.Washing:
        return core.Washing(self.weight, self.oil_absorption_low, self.oil_absorption_high, self.density_g_per_ml)


class CakeAsked(Asked):
    """What was washed into a cake, and the share that nobody logged."""

    washings: Annotated[list[CakeWashing], Field(max_length=10_000)]
    unknown_share: Annotated[float, Field(strict=True, ge=0, le=1)] = 0.0


@router.post("/cake")
def cake(
    asked: Annotated[
        CakeAsked,
        example(
            "three colours",
            washings=[
                {"weight": 2, "oil_absorption_low": 18, "oil_absorption_high": 26, "density_g_per_ml": 4.1},
                {"weight": 1, "oil_absorption_low": 42, "oil_absorption_high": 68, "density_g_per_ml": 2.5},
                {"weight": 1, "oil_absorption_low": 28, "oil_absorption_high": 38, "density_g_per_ml": 3.9},
            ],
        ),
    ],
) -> Cake:
    """The oil a cake takes to putty, g per 100 g, and its density."""
    return core.cake([washing.washing() for washing in asked.washings], asked.unknown_share)


class ForecastAsked(Asked):
    """What came in each week, what is there and what is wanted, in g."""

    weekly_g: Annotated[list[MassOrNone], Field(max_length=1_000)]
    have_g: MassOrNone
    want_g: MassOrNone


class Forecast(Asked):
    """Days until there is enough."""

    days: Estimate


@router.post("/forecast")
def forecast(
    asked: Annotated[ForecastAsked, example("four weeks", weekly_g=[3.0, 5.0, 4.0, 4.0], have_g=20, want_g=60)],
) -> Forecast:
    """When there will be enough for a tube."""
    return Forecast(days=core.forecast(asked.weekly_g, asked.have_g, asked.want_g))
