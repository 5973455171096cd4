"""When there will be enough sludge for a tube."""

from __future__ import annotations

import math
from statistics import fmean, stdev

from niddy.core.errors import MAX_MASS_G, Refused, within
from niddy.core.estimate import Z90, Basis, Estimate

LEAST_WEEKS = 4
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
    either_way = Z90 * stdev(weekly_g) / math.sqrt(len(weekly_g))
    days = 7 * rest / mean
    slow = 7 * rest / (mean - either_way) if mean > either_way else math.inf
    return Estimate(days, 7 * rest / (mean + either_way), min(slow, SLOWEST * days), Basis.LEARNED)
