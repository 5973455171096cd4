"""What the records taught of a lot's demand, kept with it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from niddy.core.demand import Demand
from niddy.db.materials import Lot


@dataclass(frozen=True, slots=True)
class TaughtDemand:
    """What the records of a pigment taught of a lot, or of a lot not seen yet, and the line that says so."""

    demand: Demand
    says: str


def set_demand(session: Session, lot_id: int, taught: TaughtDemand | None) -> None:
    """Keep what the records taught of a lot; None takes it back to the prior of its pigment."""
    row = session.get_one(Lot, lot_id)
    estimate = taught.demand.estimate if taught else None
    row.demand_g_per_100g = estimate.median if estimate else None
    row.demand_sd_ln = taught.demand.sd_ln if taught else None
    row.demand_basis = estimate.basis if estimate else None
    row.demand_says = taught.says if taught else ""
    row.demand_shared_sd_ln = taught.demand.shared_sd_ln if taught else 0.0
    row.demand_eye_covariance = taught.demand.eye_covariance if taught else 0.0
