"""What this studio's own cans and dishes taught: how fast a dish dries, what a washing leaves."""

from __future__ import annotations

from statistics import median

from sqlalchemy import Double, case, cast, func, select
from sqlalchemy.orm import Session

from niddy.core.log import Status
from niddy.core.sludge import GRAMS_PER_WEIGHT, own_pace
from niddy.db.sludge import SludgeDish

_FROM_LAST = 20
_LEAST_CAKES = 3
_WITHIN = (0.05, 20.0)


def dish_pace(session: Session) -> tuple[float, float]:
    """Tau in h and the sd of its logarithm to begin a fit from: the studio's own once it has dishes enough."""
    return own_pace([tau for tau, _ in _taught(session) if tau])


def g_per_weight(session: Session) -> float:
    """Dry grams a washing of weight 1 leaves: assumed, or the median of the studio's cakes from the third on."""
    known = [left for _, left in _taught(session) if left]
    if len(known) < _LEAST_CAKES:
        return GRAMS_PER_WEIGHT
    return min(_WITHIN[1], max(_WITHIN[0], median(known)))


def _taught(session: Session) -> list[tuple[float | None, float | None]]:
    """Tau and grams per weight of the last dishes that are done with, read once in a session."""
    if "dishes_taught" not in session.info:
        weight = cast(func.jsonb_extract_path_text(SludgeDish.makeup, "weight"), Double)
        left = case((weight > 0, SludgeDish.dry_g / weight), else_=None)
        rows = session.execute(
            select(SludgeDish.tau_h, left)
            .where(SludgeDish.status == Status.FINISHED)
            .order_by(SludgeDish.number.desc())
            .limit(_FROM_LAST)
        )
        session.info["dishes_taught"] = [(tau, left) for tau, left in rows]
    return session.info["dishes_taught"]  # type: ignore[no-any-return]
