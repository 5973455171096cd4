"""What came out right in a batch, to be aimed at again."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from niddy.core.materials import DryPigment
from niddy.core.slab import Verdict, Way
from niddy.studio.batches.kept import batch


def right_ratio(session: Session, number: int, pigments: Sequence[DryPigment], oil_key: str) -> float | None:
    """The counted ratio of a batch that came out right, of these very lots (or powders without one) in this oil.

    None where it was another lot, powder or oil, held an additive, or did not come out right: then the demand as it is
    known today says more. Raises Missing.
    """
    kept = batch(session, number, 0)
    same = [line.pigment.source for line in kept.plan.lines] == [pigment.source for pigment in pigments]
    paste = kept.paste
    if not same or kept.plan.oil.key != oil_key or paste.additives or paste.way is Way.LEAVE:
        return None
    return paste.oil_g_per_100g if kept.verdict is Verdict.RIGHT and not paste.by_eye.reckoned_g else None
