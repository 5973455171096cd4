"""Calculators: the rules of the job without a record, with fixed fields."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Body
from pydantic import BaseModel, ConfigDict, Field

from niddy.api.problems import REFUSALS
from niddy.core import correction as core_correction
from niddy.core import demand as core_demand
from niddy.core import measures as core_measures
from niddy.core import pours as core_pours
from niddy.core import sizing as core_sizing
from niddy.core import wetting as core_wetting
from niddy.core.correction import Correction
from niddy.core.errors import MAX_DENSITY_G_PER_ML, MAX_MASS_G, MAX_OIL_G_PER_100G, MAX_VOLUME_ML
from niddy.core.estimate import Estimate
from niddy.core.measures import Unit
from niddy.core.sizing import Sizing
from niddy.core.wetting import Wetting

router = APIRouter(prefix="/api/calc", tags=["calculators"], responses=REFUSALS)

Mass = Annotated[float, Field(strict=True, gt=0, le=MAX_MASS_G)]
MassOrNone = Annotated[float, Field(strict=True, ge=0, le=MAX_MASS_G)]
Density = Annotated[float, Field(strict=True, gt=0, le=MAX_DENSITY_G_PER_ML)]
Ratio = Annotated[float, Field(strict=True, gt=0, le=MAX_OIL_G_PER_100G)]
Reduced = Annotated[float, Field(strict=True, ge=0.5, le=1.15)]
Number = Annotated[float, Field(strict=True)]


class Asked(BaseModel):
    """A calculator's request: no field but those named, no NaN, no infinity."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


def example(summary: str, **value: Any) -> Any:
    """A body parameter with one worked example for the API's page."""
    return Body(openapi_examples={"worked": {"summary": summary, "value": value}})


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


class MeasureAnswer(BaseModel):
    """The mass with its spread and basis."""

    mass_g: Estimate


@router.post("/measure")
async def measure(
    asked: Annotated[
        MeasureAsked,
        example("2 level teaspoons", amount=2, unit="teaspoon", loose_density_g_per_ml=0.55),
    ],
) -> MeasureAnswer:
    """Grams of an amount measured in g, ml, level spoons, drops, or by weighing a bottle back."""
    mass = core_measures.to_grams(
        core_measures.Measure(asked.unit, asked.amount, asked.before_g, asked.after_g),
        density=asked.density_g_per_ml,
        loose_density=asked.loose_density_g_per_ml,
        loose_density_measured=asked.loose_density_measured,
        drop_g=asked.drop_g,
        drop_measured=asked.drop_measured,
    )
    return MeasureAnswer(mass_g=mass)


class PigmentPart(Asked):
    """A dry pigment of a blend; oil absorption in the reference oil."""

    parts: Annotated[float, Field(strict=True, gt=0, le=1_000_000)]
    density_g_per_ml: Density
    oil_absorption_g_per_100g: Ratio


class WettingAsked(Asked):
    """A blend in an oil, at a ratio or at a reduced PVC: exactly one of the two."""

    pigments: Annotated[list[PigmentPart], Field(min_length=1, max_length=50)]
    oil_density_g_per_ml: Density
    oil_g_per_100g: Annotated[float, Field(strict=True, ge=0, le=MAX_OIL_G_PER_100G)] | None = None
    reduced_pvc: Reduced | None = None


@router.post("/wetting")
async def wetting(
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
    """What the ladder of pours is computed from."""

    pigment_g: Mass
    demand: DemandAsked
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density
    reduced_pvc: Reduced
    smallest_step_g: Annotated[float, Field(strict=True, ge=0, le=100)] = core_pours.SMALLEST_STEP_G


class PoursAnswer(BaseModel):
    """The rungs in order, and the oil expected."""

    pours: list[core_pours.Pour]
    expected_g: float


@router.post("/pours")
async def pours(
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
    )
    return PoursAnswer(pours=list(steps.pours), expected_g=steps.expected_g)


class SizeTubes(Asked):
    """So many tubes of one usable volume."""

    usable_ml: Annotated[float, Field(strict=True, gt=0, le=MAX_VOLUME_ML)]
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
    slab_area_cm2: Annotated[float, Field(strict=True, gt=0, le=100_000)] | None = None
    film_mm: Annotated[float, Field(strict=True, gt=0, le=20)] | None = None
    usable_fraction: Annotated[float, Field(strict=True, gt=0, le=1)] = core_sizing.USABLE_FRACTION


@router.post("/size")
async def size(
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
        asked.oil_g_per_100g, asked.pigment_density_g_per_ml, asked.oil_density_g_per_ml, tubes, asked.pigment_g,
        asked.hold_up_ml, asked.loss, asked.slab_area_cm2, asked.film_mm, asked.usable_fraction,
    )  # fmt: skip


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
async def correction(
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
        asked.pigment_g, asked.oil_g, asked.target_oil_g_per_100g, asked.pigment_density_g_per_ml,
        asked.oil_density_g_per_ml, asked.oil_absorption_g_per_100g, asked.pigment_on_hand_g,
    )  # fmt: skip


class RecordAsked(Asked):
    """One record of a lot: oil absorption in the reference oil, and the sd of its logarithm."""

    oil_absorption_g_per_100g: Ratio
    sd: Annotated[float, Field(strict=True, ge=0.001, le=2)]


class LotAsked(Asked):
    """A lot under a key of the caller's, with its records."""

    key: Annotated[str, Field(min_length=1, max_length=80)]
    observations: Annotated[list[RecordAsked], Field(max_length=5_000)]


class LearnAsked(Asked):
    """The range to begin from and the records of each lot, all in the reference oil."""

    range_low: Ratio
    range_high: Ratio
    lots: Annotated[list[LotAsked], Field(max_length=500)]


class LotAnswer(BaseModel):
    """The demand of one lot."""

    key: str
    estimate: Estimate
    sd_ln: float


class UnseenAnswer(BaseModel):
    """The demand of a lot nobody has seen."""

    estimate: Estimate
    sd_ln: float


class LearnAnswer(BaseModel):
    """The demand of every lot asked for, and of an unseen one."""

    lots: list[LotAnswer]
    unseen_lot: UnseenAnswer


@router.post("/demand")
async def demand(
    asked: Annotated[
        LearnAsked,
        example(
            "bone black: one lot tested twice, one not at all",
            range_low=42,
            range_high=68,
            lots=[
                {
                    "key": "A",
                    "observations": [
                        {"oil_absorption_g_per_100g": 52, "sd": 0.05},
                        {"oil_absorption_g_per_100g": 55, "sd": 0.05},
                    ],
                },
                {"key": "B", "observations": []},
            ],
        ),
    ],
) -> LearnAnswer:
    """The oil demand learned from a range and from records, lot by lot."""
    learned = core_demand.learn(
        asked.range_low,
        asked.range_high,
        tuple(
            core_demand.LotRecords(
                lot.key,
                tuple(core_demand.Observation(r.oil_absorption_g_per_100g, r.sd) for r in lot.observations),
            )
            for lot in asked.lots
        ),
    )
    return LearnAnswer(
        lots=[LotAnswer(key=key, estimate=d.estimate, sd_ln=d.sd_ln) for key, d in learned.lots.items()],
        unseen_lot=UnseenAnswer(estimate=learned.unseen_lot.estimate, sd_ln=learned.unseen_lot.sd_ln),
    )
