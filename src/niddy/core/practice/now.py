"""What a slab screen shows besides where the paste on it is a practice."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime

from niddy.core.evidence import ZONE_REDUCED
from niddy.core.practice.begin import Begun
from niddy.core.practice.exercises import Exercise
from niddy.core.practice.hidden import Moment, looks_like
from niddy.core.practice.score import OWN_SPREAD, Compared, Score
from niddy.core.practice.seen import Seen, seen_at
from niddy.core.slab import Kind, Stage
from niddy.core.wetting import body_at

STREAM_G_PER_S = 1.4
"""How fast oil runs out of the practice bottle while it is tilted (assumed)."""


@dataclass(frozen=True, slots=True)
class PracticeNow:
    """A practice as its slab shows it: the exercise, what is seen under the knife, and its score once it is over.

    `advised` says whether Niddy's advice shows; `answer` is what is said to a look that named something else than the
    paste shows; `stream_g_per_s` is how fast the practice bottle pours.
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
    answer: str = ""


def under_the_knife(last: Moment | None, begun: Begun, now: datetime) -> Seen | None:
    """What the paste shows at a moment; None while there is no oil on powder."""
    looks = looks_like(last, begun.plan.facts, begun.hidden, now) if last is not None else None
    return seen_at(looks.reduced, looks.undispersed, looks.slippery) if looks is not None else None


def answered(last: Moment | None, begun: Begun) -> str:
    """What is said to a look that named another body or stage than the paste shows; nothing where it fits."""
    if last is None or last.event.kind is not Kind.LOOK:
        return ""
    looks = looks_like(last, begun.plan.facts, begun.hidden, last.event.made_at)
    if looks is None:
        return ""
    seen = seen_at(looks.reduced, looks.undispersed, looks.slippery)
    said, body = last.event.body, body_at(looks.reduced)
    told = f"{seen.says[0][0].lower()}{seen.says[0][1:].rstrip('.')}."
    if last.event.stage is not seen.stage and Stage.EVEN_PASTE in (last.event.stage, seen.stage):
        name = str(last.event.stage or "").replace("_", " ")
        return f"You said {name}; it is {seen.stage.replace('_', ' ')}: {told}"
    if seen.stage is not Stage.EVEN_PASTE or said is None or said is body:
        return ""
    near = min(abs(looks.reduced - edge) for edge in ZONE_REDUCED[said] if math.isfinite(edge))
    return f"You said {said}; it reads {body}: {told}" if near > OWN_SPREAD else ""
