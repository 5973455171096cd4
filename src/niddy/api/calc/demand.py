"""What records teach of a pigment, and a recipe for another lot."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from niddy.api.calc.base import Asked, example, router
from niddy.core import demand as core_demand
from niddy.core import rebuild as core_rebuild
from niddy.core.amounts import Density
from niddy.core.amounts import OilRatio as Ratio
from niddy.core.estimate import Estimate
from niddy.core.rebuild import Rebuilt, Wets
from niddy.core.words import Words


class RecordAsked(Asked):
    """One record of a lot: oil absorption in the reference oil, and the sd of its logarithm."""

    oil_absorption_g_per_100g: Ratio
    sd: Annotated[float, Field(strict=True, ge=0.001, le=2)]


class LotAsked(Asked):
    """A lot under a key of the caller's, with its records."""

    key: Annotated[Words, Field(min_length=1, max_length=80)]
    observations: Annotated[list[RecordAsked], Field(max_length=400)]


class LearnAsked(Asked):
    """The range to begin from and the records of each lot, all in the reference oil.

    `rub_out_sd` is the studio's own noise of a weighed rub-out, which takes the place of the assumed 0.05 in every
    record that has it; `lot_sd` is how its lots of one pigment differ. Both as sd of the logarithm.
    """

    range_low: Ratio
    range_high: Ratio
    lots: Annotated[list[LotAsked], Field(max_length=200)]
    rub_out_sd: Annotated[float, Field(strict=True, ge=0.005, le=1)] = core_demand.WEIGHED_SD_LN
    lot_sd: Annotated[float, Field(strict=True, ge=0.005, le=1)] = core_demand.LOT_SD_LN


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
                tuple(
                    core_demand.Observation(
                        r.oil_absorption_g_per_100g, core_demand.with_own_noise(r.sd, asked.rub_out_sd)
                    )
                    for r in lot.observations
                ),
            )
            for lot in asked.lots
        ),
        lot_sd=asked.lot_sd,
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
