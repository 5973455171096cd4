"""Cleaning as a studio really does it: factors on the assumed minutes, of the studio and of each staining class."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

STAININGS = 4
"""Classes of staining, 0 to 3."""

PRIOR_WEIGHT = 4.0
"""So many cleanings the assumed minutes count for, and a class against its studio."""

MOST_FACTOR = 10.0
"""A cleaning that took more than this many times what was assumed, or less than that part of it, counts as so much."""


@dataclass(frozen=True, slots=True)
class Pace:
    """How long this studio cleans against what is assumed, after colours of each staining class."""

    by_staining: tuple[float, ...] = (1.0,) * STAININGS
    cleanings: int = 0

    def of(self, staining: int) -> float:
        """The factor after a colour of this class."""
        return self.by_staining[max(0, min(STAININGS - 1, staining))]


USUAL = Pace()
"""As assumed."""


@dataclass(frozen=True, slots=True)
class Cleaned:
    """One cleaning that was noted: its minutes, those that were assumed, and how much the colour before it stains."""

    minutes: float
    expected_min: float
    staining: int


def pace_of(noted: Sequence[Cleaned]) -> Pace:
    """The studio's pace from its own cleanings: the mean of ln(minutes / assumed), drawn to nothing being different.

    A class of staining differs from its studio likewise, as far as its own cleanings say so.
    """
    limit = math.log(MOST_FACTOR)
    logs = [
        (one.staining, max(-limit, min(limit, math.log(max(one.minutes, 0.1) / max(one.expected_min, 0.1)))))
        for one in noted
    ]
    studio = _drawn([value for _, value in logs])
    factors = tuple(
        math.exp(studio + _drawn([value - studio for staining, value in logs if staining == of]))
        for of in range(STAININGS)
    )
    return Pace(factors, len(logs))


def _drawn(values: list[float]) -> float:
    return math.fsum(values) / (len(values) + PRIOR_WEIGHT)
