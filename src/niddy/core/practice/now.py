"""What a slab screen shows besides where the paste on it is a practice."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from niddy.core.mulling import Due, minutes_in_load
from niddy.core.pours import EXCESS_REDUCED_PVC
from niddy.core.practice.begin import Begun
from niddy.core.practice.exercises import Exercise
from niddy.core.practice.hidden import Moment, reduced, unmulled
from niddy.core.practice.score import Compared, Score
from niddy.core.practice.seen import Seen, seen_at

STREAM_G_PER_S = 1.4
"""How fast oil runs out of the practice bottle while it is tilted (assumed)."""


@dataclass(frozen=True, slots=True)
class PracticeNow:
    """A practice as its slab shows it: the exercise, what is seen under the knife, and its score once it is over.

    `advised` says whether Niddy's advice shows; `stream_g_per_s` is how fast the practice bottle pours.
    """

    exercise: Exercise
    name: str
    goes_wrong: str
    task: str
    known: str
    seed: int
    maker: str
    advised: bool
    seen: Seen | None
    powder_price: float
    stream_g_per_s: float
    drop_g: float
    score: Score | None
    compared: tuple[Compared, ...]
    lot_says: str


def under_the_knife(last: Moment | None, begun: Begun, now: datetime) -> Seen | None:
    """What the paste shows at a moment; None while there is no oil on powder."""
    if last is None or last.pigment_g <= 0 or last.oil_g <= 0:
        return None
    mulling = last.paste.mulling
    more = unmulled(last.paste, begun.hidden, minutes_in_load(mulling, now))
    share = 0.0 if mulling.due is Due.REWORK else more / EXCESS_REDUCED_PVC
    return seen_at(reduced(last.pigment_g, last.oil_g, begun.plan.facts, begun.hidden) + more, share)
