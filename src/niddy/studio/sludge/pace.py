"""What this studio's own cans and dishes taught: how fast a dish dries, what a washing leaves."""

from __future__ import annotations

from statistics import median

from sqlalchemy import Double, cast, func, select
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.core.sludge import GRAMS_PER_WEIGHT, own_pace
from niddy.db.sludge import SludgeDish

_FROM_LAST = 20
_LEAST_CAKES = 3
_WITHIN = (0.05, 20.0)


def dish_pace(session: Session) -> tuple[float, float]:
    """Tau in h and the sd of its logarithm to begin a fit from: the studio's own once it has dishes enough."""
    if "dish_pace" not in session.info:
        taus = session.scalars(
            select(SludgeDish.tau_h)
            .where(SludgeDish.status == Status.FINISHED, SludgeDish.tau_h > 0)
            .order_by(SludgeDish.number.desc())
            .limit(_FROM_LAST)
        ).all()
        session.info["dish_pace"] = own_pace([tau for tau in taus if tau is not None])
    return session.info["dish_pace"]  # type: ignore[no-any-return]


def g_per_weight(session: Session) -> float:
    """Dry grams a washing of weight 1 leaves: assumed, or the median of the studio's cakes from the third on."""
    if "g_per_weight" not in session.info:
        weight = cast(func.jsonb_extract_path_text(SludgeDish.makeup, "weight"), Double)
        rows = session.scalars(
            select(SludgeDish.dry_g / weight)
            .where(SludgeDish.status == Status.FINISHED, SludgeDish.dry_g > 0, weight > 0)
            .order_by(SludgeDish.number.desc())
            .limit(_FROM_LAST)
        ).all()
        known = [float(one) for one in rows if one is not None]
        own = min(_WITHIN[1], max(_WITHIN[0], median(known))) if len(known) >= _LEAST_CAKES else GRAMS_PER_WEIGHT
        session.info["g_per_weight"] = own
    return session.info["g_per_weight"]  # type: ignore[no-any-return]
