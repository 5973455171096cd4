"""A painted square judged by eye beside its prediction: a weak reading of its colour."""

from __future__ import annotations

import math
from collections.abc import Collection
from enum import StrEnum

from niddy.core.errors import Refused

STEP = 7.0
"""What an eye means by "lighter" or "redder" when it says no more, in units of Lab (assumed)."""

SAME_OFF = 5.0
MOVED_OFF = 9.0
"""How far off such a word may be, nine times in ten, in dE00 (assumed): a screen is no sheet of paper."""


class Looks(StrEnum):
    """How a painted square looks beside its prediction; none of these says that it looks the same."""

    LIGHTER = "lighter"
    DARKER = "darker"
    REDDER = "redder"
    GREENER = "greener"
    YELLOWER = "yellower"
    BLUER = "bluer"
    STRONGER = "stronger"
    DULLER = "duller"


_STEPS = {
    Looks.LIGHTER: (1.0, 0.0, 0.0),
    Looks.DARKER: (-1.0, 0.0, 0.0),
    Looks.REDDER: (0.0, 1.0, 0.0),
    Looks.GREENER: (0.0, -1.0, 0.0),
    Looks.YELLOWER: (0.0, 0.0, 1.0),
    Looks.BLUER: (0.0, 0.0, -1.0),
}
_OPPOSITES = (
    (Looks.LIGHTER, Looks.DARKER),
    (Looks.REDDER, Looks.GREENER),
    (Looks.YELLOWER, Looks.BLUER),
    (Looks.STRONGER, Looks.DULLER),
)


def judged(predicted: tuple[float, float, float], looks: Collection[Looks]) -> tuple[tuple[float, float, float], float]:
    """The Lab that such words speak of, and how far off it may be (dE00, nine in ten). Raises Refused."""
    for one, other in _OPPOSITES:
        if one in looks and other in looks:
            raise Refused("looks", f"{one} and {other} at once", "one of the two")
    found = [at + STEP * sum(_STEPS.get(word, (0.0, 0.0, 0.0))[n] for word in looks) for n, at in enumerate(predicted)]
    chroma = math.hypot(found[1], found[2])
    purer = STEP * ((Looks.STRONGER in looks) - (Looks.DULLER in looks))
    if purer and chroma > 0:
        by = max(0.0, chroma + purer) / chroma
        found[1:] = [at * by for at in found[1:]]
    lightness = min(100.0, max(0.0, found[0]))
    return (lightness, found[1], found[2]), MOVED_OFF if looks else SAME_OFF
