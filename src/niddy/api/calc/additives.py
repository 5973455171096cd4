"""Doses and ladders."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, Number, example, router
from niddy.core import additives as core_additives
from niddy.core import ladder as core_ladder
from niddy.core.additives import DoseBasis
from niddy.core.amounts import Grams as Mass
from niddy.core.errors import Refused
from niddy.core.ladder import Design, Fit, Ingredient, Measured, RungRead, Target


class AdditiveAsked(Asked):
    """A dose of an additive, dry or from a gel of a strength (mass fraction)."""

    dose_pct: Number
    basis: DoseBasis
    pigment_g: Mass
    oil_g: Mass
    gel_strength: Number | None = None


class AdditiveAnswer(BaseModel):
    """What to weigh; the gel's figures only where one is used."""

    additive_g: float
    gel_g: float | None = None
    oil_in_gel_g: float | None = None
    oil_to_pour_g: float


@router.post("/additive", response_model_exclude_none=True)
def additive(
    asked: Annotated[
        AdditiveAsked,
        example(
            "1.5 % of the oil from a 10 % gel", dose_pct=1.5, basis="oil", pigment_g=112, oil_g=74.4, gel_strength=0.1
        ),
    ],
) -> AdditiveAnswer:
    """What to weigh of an additive, and what is left of the oil to pour."""
    dosed = core_additives.dose(asked.dose_pct, asked.basis, asked.pigment_g, asked.oil_g, asked.gel_strength)
    return AdditiveAnswer(
        additive_g=dosed.additive_g,
        gel_g=dosed.gel_g,
        oil_in_gel_g=dosed.oil_in_gel_g,
        oil_to_pour_g=dosed.oil_to_pour_g,
    )


class LadderReading(Asked):
    """What was measured on one rung; a measure left out was not checked."""

    dose_pct: Number
    yield_pa: Number | None = None
    string_mm: Number | None = None
    bleed_mm: Number | None = None


class LadderTarget(Asked):
    """What a measure has to be, in its unit: at least, at most, or both."""

    what: Measured
    at_least: Number | None = None
    at_most: Number | None = None


class LadderDesignAsked(Asked):
    """Rungs of one mother paste that all end at `oil_g_per_100g`; `doses` left out are even steps from 0."""

    top_dose_pct: Number
    basis: DoseBasis
    oil_g_per_100g: Number
    paste_per_rung_g: Number = 5.0
    rungs: Annotated[int, Field(strict=True)] = 6
    doses: Annotated[list[Number], Field(max_length=40)] | None = None
    gel_strength: Number | None = None


class LadderCalc(Asked):
    """A ladder to design, or readings to fit, or both."""

    design: LadderDesignAsked | None = None
    readings: Annotated[list[LadderReading], Field(max_length=40)] | None = None
    targets: Annotated[list[LadderTarget], Field(max_length=3)] = []


class LadderAnswer(BaseModel):
    """The rungs on paper, the fitted lines, and the least dose; each only where it was asked for."""

    design: Design | None = None
    fit: Fit | None = None


@router.post("/ladder", response_model_exclude_none=True)
def ladder(
    asked: Annotated[
        LadderCalc,
        example(
            "four rungs of stearate from a 10 % gel, and what their halos say",
            design={"top_dose_pct": 3.0, "basis": "oil", "oil_g_per_100g": 60.0, "rungs": 4, "gel_strength": 0.1},
            readings=[
                {"dose_pct": 0.0, "bleed_mm": 4.1},
                {"dose_pct": 1.0, "bleed_mm": 2.9},
                {"dose_pct": 2.0, "bleed_mm": 2.1},
                {"dose_pct": 3.0, "bleed_mm": 0.9},
            ],
            targets=[{"what": "bleed_mm", "at_most": 2.5}],
        ),
    ],
) -> LadderAnswer:
    """Design a ladder, and find the least dose that meets every target, with its 90 % band."""
    if asked.design is None and asked.readings is None:
        raise Refused("design", "neither of the two", "design, readings, or both")
    made = fitted = None
    if asked.design is not None:
        made = _ladder_design(asked.design)
    if asked.readings is not None:
        read = [
            RungRead(reading.dose_pct, reading.yield_pa, reading.string_mm, reading.bleed_mm)
            for reading in asked.readings
        ]
        fitted = core_ladder.fit(
            read, [Target(target.what, target.at_least, target.at_most) for target in asked.targets]
        )
    return LadderAnswer(design=made, fit=fitted)


def _ladder_design(asked: LadderDesignAsked) -> Design:
    part = Ingredient("additive", asked.top_dose_pct, asked.basis, 100.0, asked.gel_strength)
    try:
        doses = asked.doses or core_ladder.even_doses(asked.rungs, asked.top_dose_pct)
        paste = core_ladder.mother(asked.oil_g_per_100g, asked.paste_per_rung_g, [part], max(doses))
        return core_ladder.design(paste, [part], doses)
    except Refused as refusal:
        field = refusal.field.removeprefix("additives.0.")
        raise Refused(f"design.{field}", refusal.problem, refusal.accepted) from None
