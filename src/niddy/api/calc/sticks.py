"""Paint sticks: a stick in figures, a pot corrected, what a base taught."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.api.calc.base import Asked, MassOrNone, Number, example, router
from niddy.core import sticks as core
from niddy.core.amounts import Density
from niddy.core.amounts import OilRatio as Ratio
from niddy.core.sticks import Offset, OilKind, Stick, StickCorrection

Dent = Annotated[float, Field(strict=True, ge=0.1, le=400, description="needle dent in 0.1 mm")]
_BASE = [
    {"share": 60, "density_g_per_ml": 0.93, "penetration_dmm": 25, "melting_c": 72},
    {"share": 25, "density_g_per_ml": 0.96, "penetration_dmm": 17, "melting_c": 63},
    {"share": 15, "density_g_per_ml": 0.98, "penetration_dmm": 1.5, "melting_c": 84},
]
_PIGMENT = {"density_g_per_ml": 2.5, "oil_absorption_g_per_100g": 52}


class StickPigment(Asked):
    """The pigment of a stick; oil absorption in the reference oil."""

    density_g_per_ml: Density
    oil_absorption_g_per_100g: Ratio

    def powder(self) -> core.Powder:
        return core.Powder(self.density_g_per_ml, self.oil_absorption_g_per_100g)


class StickBasePart(Asked):
    """One wax or resin of the base."""

    share: Annotated[float, Field(strict=True, ge=0, le=1e6)]
    density_g_per_ml: Density
    penetration_dmm: Dent
    melting_c: Annotated[float, Field(strict=True, ge=20, le=200)]

    def part(self) -> core.Part:
        return core.Part(self.share, self.density_g_per_ml, self.penetration_dmm, self.melting_c)


class StickOil(Asked):
    """The oil of a stick."""

    density_g_per_ml: Density
    drying: OilKind = OilKind.DRYING

    def oil(self) -> core.StickOil:
        return core.StickOil(self.density_g_per_ml, self.drying)


class StickMould(Asked):
    """So many moulds of one volume."""

    ml: Annotated[float, Field(strict=True, ge=0.1, le=5_000)]
    count: Annotated[int, Field(strict=True, ge=0, le=10_000)]


Base = Annotated[list[StickBasePart], Field(min_length=1, max_length=24)]


class StickAsked(Asked):
    """A stick by its oil share of the medium, or by the dent wanted: exactly one. No pigment: a blending stick."""

    pigment: StickPigment | None
    base: Base
    oil: StickOil
    reduced_pvc: Annotated[float, Field(strict=True, ge=0.05, le=1.15)] = core.DEFAULT_REDUCED_PVC
    oil_fraction: Annotated[float, Field(strict=True, ge=0, le=1)] | None = None
    penetration_dmm: Dent | None = None
    moulds: Annotated[list[StickMould], Field(min_length=1, max_length=50)]
    offset_ln: Annotated[float, Field(strict=True, ge=-3, le=3)] = 0.0
    hold_up_ml: Annotated[float, Field(strict=True, ge=0, le=1_000)] = core.HOLD_UP_ML
    loss: Annotated[float, Field(strict=True, ge=0, le=0.9)] = core.LOSS


@router.post("/stick")
def stick(
    asked: Annotated[
        StickAsked,
        example(
            "six sticks of bone black",
            pigment=_PIGMENT,
            base=_BASE,
            oil={"density_g_per_ml": 0.93},
            oil_fraction=0.6,
            moulds=[{"ml": 18, "count": 6}],
        ),
    ],
) -> Stick:
    """What to weigh, how hard it will be, how hot to melt and pour, and whether it dries; `limited_by` says why not."""
    return core.stick(
        asked.pigment.powder() if asked.pigment is not None else None,
        core.base_of([part.part() for part in asked.base]),
        asked.oil.oil(),
        [core.Mould(mould.ml, mould.count) for mould in asked.moulds],
        oil_fraction=asked.oil_fraction,
        penetration_dmm=asked.penetration_dmm,
        reduced_pvc=asked.reduced_pvc,
        offset_ln=asked.offset_ln,
        hold_up_ml=asked.hold_up_ml,
        loss=asked.loss,
    )


class StickCorrectionAsked(Asked):
    """What is in the pot, how deep a drop of it dents, and how deep it should."""

    pigment_g: MassOrNone
    base_g: MassOrNone
    oil_g: MassOrNone
    pigment: StickPigment | None
    base: Base
    oil: StickOil
    observed_dmm: Dent
    target_dmm: Dent


@router.post("/stick_correction")
def stick_correction(
    asked: Annotated[
        StickCorrectionAsked,
        example(
            "a pot that is too hard",
            pigment_g=60,
            base_g=20,
            oil_g=30,
            pigment=_PIGMENT,
            base=_BASE,
            oil={"density_g_per_ml": 0.93},
            observed_dmm=22,
            target_dmm=35,
        ),
    ],
) -> StickCorrection:
    """How far the pot is off what was predicted, and the oil or base that brings it to the dent wanted."""
    return core.correct(
        asked.pigment_g,
        asked.base_g,
        asked.oil_g,
        asked.pigment.powder() if asked.pigment is not None else None,
        core.base_of([part.part() for part in asked.base]),
        asked.oil.oil(),
        asked.observed_dmm,
        asked.target_dmm,
    )


class StickReading(Asked):
    """Ln of a dent observed over predicted, and its sd."""

    ln_ratio: Number
    sd: Annotated[float, Field(strict=True, ge=0.001, le=5)]


class StickOffsetAsked(Asked):
    """What was read of a base."""

    observations: Annotated[list[StickReading], Field(max_length=1_000)]


@router.post("/stick_offset")
def stick_offset(
    asked: Annotated[
        StickOffsetAsked,
        example("a needle and a feel", observations=[{"ln_ratio": 0.2, "sd": 0.12}, {"ln_ratio": 0.3, "sd": 0.35}]),
    ],
) -> Offset:
    """By how much a base dents otherwise than predicted, after its readings."""
    return core.learn_offset([core.DentRead(reading.ln_ratio, reading.sd) for reading in asked.observations])
