"""What is advised: a kind of act, how much of what, and why."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class NextAct(StrEnum):
    """What kind of thing to do next."""

    READY = "ready"
    POWDER = "powder"
    ADDITIVE = "additive"
    POUR = "pour"
    BOTTLE = "bottle"
    DRAW_OIL = "draw_oil"
    MULL = "mull"
    MULL_ON = "mull_on"
    LOAD_DONE = "load_done"
    GATHER = "gather"
    LOOK = "look"
    TOO_LOOSE = "too_loose"
    DOUBT = "doubt"
    RIGHT = "right"
    REST = "rest"
    OVER = "over"


@dataclass(frozen=True, slots=True)
class Planned:
    """One powder of the plan: its source, name, grams to weigh, share of the blend, and how loose it lies."""

    source: str
    name: str
    grams: float
    share: float
    loose_density_g_per_ml: float = 1.0


@dataclass(frozen=True, slots=True)
class Advice:
    """What to do next: the act, how much of which source, one line, and why."""

    act: NextAct
    line: str
    reason: str
    grams: float | None = None
    source: str = ""
