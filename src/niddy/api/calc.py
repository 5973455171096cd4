"""Calculators: the rules of the job without a record, with fixed fields."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Body
from pydantic import BaseModel, ConfigDict, Field

from niddy.api.problems import REFUSALS
from niddy.core import additives as core_additives
from niddy.core import checks as core_checks
from niddy.core import control as core_control
from niddy.core import correction as core_correction
from niddy.core import cost as core_cost
from niddy.core import demand as core_demand
from niddy.core import ladder as core_ladder
from niddy.core import measures as core_measures
from niddy.core import pours as core_pours
from niddy.core import rebuild as core_rebuild
from niddy.core import shelf as core_shelf
from niddy.core import sizing as core_sizing
from niddy.core import tubes as core_tubes
from niddy.core import wetting as core_wetting
from niddy.core.additives import DoseBasis
from niddy.core.checks import Air, Component, Spread
from niddy.core.control import Signal
from niddy.core.correction import Correction
from niddy.core.cost import Cost, Item
from niddy.core.errors import MAX_MASS_G, MAX_OIL_G_PER_100G, MIN_PARTS, Refused
from niddy.core.estimate import Estimate
from niddy.core.ladder import Design, Fit, Ingredient, Measured, RungRead, Target
from niddy.core.measures import Unit
from niddy.core.rebuild import Rebuilt, Wets
from niddy.core.shelf import Inspected, KeptBody, Skin, Smell
from niddy.core.sizing import Sizing
from niddy.core.tubes import AIR, Filled
from niddy.core.wetting import Wetting
from niddy.studio.amounts import Density, FilmMillimetres, SquareCentimetres, TubeMillilitres
from niddy.studio.amounts import Grams as Mass
from niddy.studio.amounts import OilRatio as Ratio

router = APIRouter(prefix="/api/calc", tags=["calculators"], responses=REFUSALS)

MassOrNone = Annotated[float, Field(strict=True, ge=0, le=MAX_MASS_G)]
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
def measure(
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
    )
    return PoursAnswer(pours=list(steps.pours), expected_g=steps.expected_g)


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
    observations: Annotated[list[RecordAsked], Field(max_length=400)]


class LearnAsked(Asked):
    """The range to begin from and the records of each lot, all in the reference oil."""

    range_low: Ratio
    range_high: Ratio
    lots: Annotated[list[LotAsked], Field(max_length=200)]


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
def demand(
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


class OldWets(Asked):
    """The blend and oil a recipe was made with, and the ratio it had."""

    oil_g_per_100g: Ratio
    oil_absorption_g_per_100g: Ratio
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density


class NewWets(Asked):
    """The blend and oil it is to be made with now; oil absorption in that oil."""

    oil_absorption_g_per_100g: Ratio
    pigment_density_g_per_ml: Density
    oil_density_g_per_ml: Density


class RebuildAsked(Asked):
    """A recipe carried to another lot or oil."""

    old: OldWets
    new: NewWets


@router.post("/rebuild")
def rebuild(
    asked: Annotated[
        RebuildAsked,
        example(
            "another lot in another oil",
            old={
                "oil_g_per_100g": 66.0,
                "oil_absorption_g_per_100g": 52,
                "pigment_density_g_per_ml": 2.5,
                "oil_density_g_per_ml": 0.930,
            },
            new={"oil_absorption_g_per_100g": 57.626, "pigment_density_g_per_ml": 2.5, "oil_density_g_per_ml": 0.924},
        ),
    ],
) -> Rebuilt:
    """The ratio that keeps the reduced PVC with another lot or oil."""
    old, new = asked.old, asked.new
    return core_rebuild.rebuild(
        old.oil_g_per_100g,
        Wets(old.oil_absorption_g_per_100g, old.pigment_density_g_per_ml, old.oil_density_g_per_ml),
        Wets(new.oil_absorption_g_per_100g, new.pigment_density_g_per_ml, new.oil_density_g_per_ml),
    )


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
        ControlAsked,
        example("ten spreads in mm", values=[44.1, 45.0, 43.6, 44.8, 45.9, 44.4, 43.9, 45.2, 44.6, 44.9]),
    ],
) -> ControlAnswer:
    """Individuals and moving range, with the rules that fire."""
    told = core_control.control(asked.values, asked.tolerance_low, asked.tolerance_high)
    return ControlAnswer(
        mean=told.mean, moving_range_mean=told.moving_range_mean, sigma=told.sigma, lower=told.lower,
        upper=told.upper, moving_range_upper=told.moving_range_upper, signals=list(told.signals), cpk=told.cpk,
    )  # fmt: skip


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
    told = core_additives.dose(asked.dose_pct, asked.basis, asked.pigment_g, asked.oil_g, asked.gel_strength)
    return AdditiveAnswer(
        additive_g=told.additive_g, gel_g=told.gel_g, oil_in_gel_g=told.oil_in_gel_g, oil_to_pour_g=told.oil_to_pour_g
    )


class TubeStock(Asked):
    """Empties of one usable volume."""

    usable_ml: Number
    count: Annotated[int, Field(strict=True)]


class TubesAsked(Asked):
    """A volume of paint and the empties there are."""

    volume_ml: Number
    stock: Annotated[list[TubeStock], Field(max_length=100)]


class TubesUse(BaseModel):
    """So many tubes of one usable volume."""

    usable_ml: float
    count: int


class TubesAnswer(BaseModel):
    """Which tubes to fill, what they take, and what is left for a jar or the next batch."""

    use: list[TubesUse]
    filled_ml: float
    leftover_ml: float


@router.post("/tubes")
def tubes(
    asked: Annotated[
        TubesAsked,
        example(
            "131 ml into three 40s, two 20s and a 60",
            volume_ml=131,
            stock=[{"usable_ml": 40, "count": 3}, {"usable_ml": 20, "count": 2}, {"usable_ml": 60, "count": 1}],
        ),
    ],
) -> TubesAnswer:
    """The full tubes that take the most; on a tie the fewest, then the larger ones."""
    told = core_tubes.choose(asked.volume_ml, [core_tubes.Kind(one.usable_ml, one.count) for one in asked.stock])
    use = [TubesUse(usable_ml=one.usable_ml, count=one.count) for one in told.use]
    return TubesAnswer(use=use, filled_ml=told.filled_ml, leftover_ml=told.leftover_ml)


class FillCalc(Asked):
    """A filled tube: its gross weight and what it weighs empty, or how much is in it; exactly one of the two."""

    usable_ml: Number
    density_g_per_ml: Number
    gross_g: Number | None = None
    tare_g: Number | None = None
    volume_ml: Number | None = None
    air: Number = AIR


@router.post("/fill")
def fill(
    asked: Annotated[
        FillCalc,
        example("a 40 ml tube of bone black on the scale", usable_ml=40, density_g_per_ml=1.48, gross_g=61, tare_g=9.2),
    ],
) -> Filled:
    """Whether a filled tube is full to its mark, short, airy or over."""
    if (asked.gross_g is None) == (asked.volume_ml is None):
        raise Refused("gross_g", "exactly one of the two is needed", "gross_g with tare_g, or volume_ml")
    if asked.volume_ml is not None:
        return core_tubes.by_volume(asked.volume_ml, asked.usable_ml, asked.density_g_per_ml, asked.air)
    if asked.tare_g is None:
        raise Refused("tare_g", "missing", "what the tube weighs empty, in g")
    assert asked.gross_g is not None
    return core_tubes.weigh(asked.gross_g, asked.tare_g, asked.usable_ml, asked.density_g_per_ml, asked.air)


class InspectionCalc(Asked):
    """What was seen of a kept paint: the oil on top over the height of the filling, the rest by eye and nose."""

    layer_mm: Number
    fill_height_mm: Number
    skin: Skin = Skin.NONE
    body: KeptBody = KeptBody.AS_FILLED
    smell: Smell = Smell.OIL
    label_readable: bool = True


@router.post("/inspection")
def inspection(
    asked: Annotated[
        InspectionCalc, example("8 mm of oil on 80 mm of paint", layer_mm=8, fill_height_mm=80, skin="none")
    ],
) -> Inspected:
    """What an inspection of a kept paint comes to, why, and what to do."""
    return core_shelf.inspect(
        asked.layer_mm, asked.fill_height_mm, asked.skin, asked.body, asked.smell, label_readable=asked.label_readable
    )


Money = Annotated[Decimal, Field(max_digits=14, decimal_places=6)]


class CostItem(Asked):
    """Something used up; without a price it is named as missing."""

    name: Annotated[str, Field(max_length=200)]
    amount: Money
    unit: Annotated[str, Field(max_length=20)] = "kg"
    price_per_unit: Money | None = None


class CostCalc(Asked):
    """What went into a batch and what it is to be compared with. Money is decimal, sent as text."""

    items: Annotated[list[CostItem], Field(max_length=200)]
    volume_ml: Money
    tube_ml: Money | None = None
    hours: Money = Decimal(0)
    wage_per_hour: Money | None = None
    bought_per_ml: Money | None = None
    tools: Money | None = None


@router.post("/cost")
def cost(
    asked: Annotated[
        CostCalc,
        example(
            "a batch of 131 ml against a bought price",
            items=[
                {"name": "Bone black", "amount": "0.112", "price_per_unit": "14.50"},
                {"name": "Linseed oil", "amount": "0.0744", "price_per_unit": "17.50"},
                {"name": "40 ml tube", "amount": "3", "unit": "pieces", "price_per_unit": "0.41"},
            ],
            volume_ml="131",
            tube_ml="40",
            bought_per_ml="0.22",
            tools="180",
        ),
    ],
) -> Cost:
    """What a batch, a ml and a tube cost; the saving against a bought price, and when tools are paid back."""
    return core_cost.cost(
        [Item(one.name, one.amount, one.unit, one.price_per_unit) for one in asked.items], asked.volume_ml,
        tube_ml=asked.tube_ml, hours=asked.hours, wage_per_hour=asked.wage_per_hour,
        bought_per_ml=asked.bought_per_ml, tools=asked.tools,
    )  # fmt: skip


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
            design={
                "top_dose_pct": 3.0,
                "basis": "oil",
                "oil_g_per_100g": 60.0,
                "rungs": 4,
                "gel_strength": 0.1,
            },
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
        read = [RungRead(one.dose_pct, one.yield_pa, one.string_mm, one.bleed_mm) for one in asked.readings]
        fitted = core_ladder.fit(read, [Target(one.what, one.at_least, one.at_most) for one in asked.targets])
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
