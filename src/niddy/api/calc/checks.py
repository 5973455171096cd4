"""Spread, air, control."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, MassOrNone, Number, example, router
from niddy.core import checks as core_checks
from niddy.core import control as core_control
from niddy.core.amounts import Density
from niddy.core.amounts import Grams as Mass
from niddy.core.checks import Air, Component, Spread
from niddy.core.control import Signal
from niddy.core.errors import Refused


class SpreadAsked(Asked):
    """A squeezed drop: its diameter, or two at right angles."""

    diameter_mm: Number | None = None
    diameters_mm: Annotated[list[Number], Field(min_length=1, max_length=8)] | None = None
    volume_ml: Number = core_checks.SYRINGE_ML
    mass_kg: Number = core_checks.PLATES_KG
    plate_mm: Number | None = None


@router.post("/spread")
def spread(
    asked: Annotated[
        SpreadAsked, example("two diameters of half a millilitre", diameters_mm=[45, 47], volume_ml=0.5, mass_kg=0.65)
    ],
) -> Spread:
    """The mean diameter and the apparent yield stress of a spread test."""
    if (asked.diameter_mm is None) == (asked.diameters_mm is None):
        raise Refused("diameters_mm", "exactly one of the two is needed", "diameter_mm or diameters_mm")
    diameters = asked.diameters_mm if asked.diameters_mm is not None else [asked.diameter_mm or 0.0]
    try:
        return core_checks.spread(diameters, asked.volume_ml, asked.mass_kg, asked.plate_mm)
    except Refused as refusal:
        if asked.diameters_mm is None and refusal.field.startswith("diameters_mm"):
            raise Refused("diameter_mm", refusal.problem, refusal.accepted) from None
        raise


class ComponentAsked(Asked):
    """One part of a paint."""

    mass_g: Mass
    density_g_per_ml: Density


class AirAsked(Asked):
    """A syringe of paint weighed full and empty."""

    gross_g: Mass
    tare_g: MassOrNone
    volume_ml: Number
    components: Annotated[list[ComponentAsked], Field(min_length=1, max_length=24)]


@router.post("/air")
def air(
    asked: Annotated[
        AirAsked,
        example(
            "5 ml of bone black",
            gross_g=17.4,
            tare_g=10.2,
            volume_ml=5,
            components=[{"mass_g": 100, "density_g_per_ml": 2.5}, {"mass_g": 66.5, "density_g_per_ml": 0.93}],
        ),
    ],
) -> Air:
    """The density of a paint, what it would be without air, and the fraction of air."""
    parts = [Component(part.mass_g, part.density_g_per_ml) for part in asked.components]
    return core_checks.air(asked.gross_g, asked.tare_g, asked.volume_ml, parts)


class ControlAsked(Asked):
    """One check of a recipe's batches in order, with tolerances if it has any."""

    values: Annotated[list[Number], Field(min_length=1, max_length=10_000)]
    tolerance_low: Number | None = None
    tolerance_high: Number | None = None


class ControlAnswer(BaseModel):
    """Limits and signals; `cpk` only where there are tolerances."""

    mean: float
    moving_range_mean: float
    sigma: float
    lower: float
    upper: float
    moving_range_upper: float
    signals: list[Signal]
    cpk: float | None = None


@router.post("/control", response_model_exclude_none=True)
def control(
    asked: Annotated[
        ControlAsked, example("ten spreads in mm", values=[44.1, 45.0, 43.6, 44.8, 45.9, 44.4, 43.9, 45.2, 44.6, 44.9])
    ],
) -> ControlAnswer:
    """Individuals and moving range, with the rules that fire."""
    chart = core_control.control(asked.values, asked.tolerance_low, asked.tolerance_high)
    return ControlAnswer(
        mean=chart.mean,
        moving_range_mean=chart.moving_range_mean,
        sigma=chart.sigma,
        lower=chart.lower,
        upper=chart.upper,
        moving_range_upper=chart.moving_range_upper,
        signals=list(chart.signals),
        cpk=chart.cpk,
    )
