"""The same spoon again: what batches of a lot that were measured with spoons teach of the next one so."""

from __future__ import annotations

import math

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import demand
from niddy.core.estimate import Z90, Estimate
from niddy.core.materials import DryPigment
from niddy.core.measures import SPOON_SPREAD, SPOON_SPREAD_MEASURED
from niddy.db.rubout import DemandRecord


def spooned(session: Session, pigment: DryPigment, drop_g: float) -> demand.Spooned | None:
    """What batches of a lot that were measured with spoons teach of the next one so; None where there were none.

    A spoon that was weighed since counts otherwise in grams, and the same in spoons; of another drop nothing is known.
    """
    if pigment.lot_id is None:
        return None
    rows = session.scalars(
        select(DemandRecord)
        .where(
            DemandRecord.lot_id == pigment.lot_id,
            DemandRecord.kind == "verdict",
            DemandRecord.spooned_g_per_ml.is_not(None),
            DemandRecord.drop_g.between(drop_g / SAME_DROP, drop_g * SAME_DROP),
            DemandRecord.set_aside.is_(None),
            ~DemandRecord.void,
        )
        .order_by(DemandRecord.at.desc(), DemandRecord.id.desc())
        .limit(MOST_SPOONED)
    ).all()
    sd_ln = pigment.demand_sd_ln
    known = demand.Demand(Estimate.lognormal(pigment.demand_g_per_100g, sd_ln, pigment.demand_basis), sd_ln)
    spread = SPOON_SPREAD_MEASURED if pigment.loose_density_measured else SPOON_SPREAD
    return demand.spooned(
        known,
        math.hypot(math.log1p(spread) / Z90, demand.DRIPPED_SD_LN),
        [
            demand.Observation(
                row.oil_absorption_g_per_100g * (row.spooned_g_per_ml or 0.0) / pigment.loose_density_g_per_ml,
                math.sqrt(max(0.0, row.sd_ln**2 - row.measuring_sd_ln**2)),
            )
            for row in rows
        ],
    )


SAME_DROP = 1.01
"""A drop that is taken for more or less than so many times as before is another drop."""

MOST_SPOONED = 10
"""Of so many batches the last are asked what the same spoon counts: spoons are lost and bought."""
