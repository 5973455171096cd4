"""When there will be enough sludge for a tube."""

from __future__ import annotations

import math
from statistics import fmean

from scipy.special import stdtrit

from niddy.core.errors import MAX_MASS_G, Refused, within
from niddy.core.estimate import Basis, Estimate

LEAST_WEEKS = 4
UNEVEN, UNEVEN_COUNTS = 0.6, 4
"""Weeks lie apart by so much of their mean, worth so many weeks seen (assumed)."""

SLOWEST = 10.0
"""The slow end of a forecast is cut at so many times its middle."""


def forecast(weekly_g: list[float], have_g: float, want_g: float) -> Estimate:
    """Days until there is as much as is wanted, by what came in each week. Raises Refused."""
    if len(weekly_g) < LEAST_WEEKS:
        raise Refused("weekly_g", f"{len(weekly_g)} weeks", f"{LEAST_WEEKS} weeks or more")
    for n, grams in enumerate(weekly_g):
        within(f"weekly_g.{n}", grams, 0, MAX_MASS_G, "g")
    within("have_g", have_g, 0, MAX_MASS_G, "g")
    within("want_g", want_g, 0, MAX_MASS_G, "g")
    rest = max(0.0, want_g - have_g)
    if rest == 0:
        return Estimate.exact(0.0, Basis.MEASURED)
    mean = fmean(weekly_g)
    if mean <= 0:
        raise Refused("weekly_g", "nothing came in these weeks", "at least one week with some")
    n, weeks = len(weekly_g), rest / mean
    squares = UNEVEN_COUNTS * (UNEVEN * mean) ** 2 + sum((grams - mean) ** 2 for grams in weekly_g)
    apart = float(stdtrit(n + 3, 0.95)) * math.sqrt(squares / (n + 3))

    def reached(sign: int) -> float:
        """The weeks after which the upper or lower limit of what came in reaches what is wanted."""
        low, high = 0.0, SLOWEST * weeks
        for _ in range(60):
            k = (low + high) / 2
            there = k * mean + sign * apart * math.sqrt(k + k**2 / n) >= rest
            low, high = (low, k) if there else (k, high)
        return high

    return Estimate(7 * weeks, 7 * reached(1), 7 * reached(-1), Basis.LEARNED)
