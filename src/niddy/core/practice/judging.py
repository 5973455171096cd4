"""Judging only: forty pastes one after another, each named by its body."""

from __future__ import annotations

import random

from niddy.core.errors import Refused
from niddy.core.practice.begin import MOST_SEED

PASTES = 40
DRIEST, WETTEST = 1.09, 0.53
"""Between these the pastes lie."""


def pastes(seed: int) -> tuple[float, ...]:
    """The reduced PVC of each paste, spread evenly over the scale and shuffled; the same seed gives the same pastes."""
    if not 0 <= seed <= MOST_SEED:
        raise Refused("seed", f"{seed} is outside", f"a whole number from 0 to {MOST_SEED}")
    chance = random.Random(f"judging/{seed}")
    step = (DRIEST - WETTEST) / PASTES
    drawn = [WETTEST + step * (n + chance.random()) for n in range(PASTES)]
    chance.shuffle(drawn)
    return tuple(drawn)
