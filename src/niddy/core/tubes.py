"""Tubes: what a tube takes, which tubes to fill, and whether a filled one is as it should be."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import reduce

import numpy as np

from niddy.core.errors import MAX_VOLUME_ML, MIN_TUBE_ML, MIN_VOLUME_ML, Refused, density_g_per_ml, mass_g, within

AIR = 0.02
"""Air that a well tapped tube still holds (assumed)."""

FILL_SLACK = 0.03
"""Within this of its target weight a tube is full (assumed)."""

MAX_KINDS = 24
MAX_COUNT = 10_000
MAX_CELLS = 3_000_000
_PER_ML = (1_000, 100, 10)
_FEW, _NEVER_SMALL, _NEVER = 5_000, 60_000, 1_000_000_000


def usable_ml(diameter_mm: float, length_mm: float, headspace_mm: float) -> float:
    """Volume of a tube to its mark: pi/4 d^2 (L - headspace)/1000. Raises Refused."""
    within("diameter_mm", diameter_mm, 1, 200, "mm")
    within("length_mm", length_mm, 1, 500, "mm")
    within("headspace_mm", headspace_mm, 0, 500, "mm")
    if headspace_mm >= length_mm:
        raise Refused(
            "headspace_mm",
            f"{headspace_mm:g} mm leaves nothing of a {length_mm:g} mm tube",
            f"less than {length_mm:g} mm",
        )
    return math.pi / 4 * diameter_mm**2 * (length_mm - headspace_mm) / 1000


def target_fill_g(usable: float, paint_density: float, air: float = AIR) -> float:
    """Paint in g that fills a tube to its mark with so much air in it. Raises Refused."""
    within("usable_ml", usable, MIN_TUBE_ML, MAX_VOLUME_ML, "ml")
    density_g_per_ml("density_g_per_ml", paint_density)
    within("air", air, 0, 0.5)
    return usable * paint_density * (1 - air)


@dataclass(frozen=True, slots=True)
class Kind:
    """Empties of one usable volume."""

    usable_ml: float
    count: int


@dataclass(frozen=True, slots=True)
class Choice:
    """Which tubes to fill, in the order of the stock, what they take, and what is left for a jar or next time.

    `use` leaves out the kinds that stay empty; `counts` has one number for every kind of the stock.
    """

    use: tuple[Kind, ...]
    counts: tuple[int, ...]
    filled_ml: float
    leftover_ml: float


def choose(volume_ml: float, stock: list[Kind]) -> Choice:
    """The full tubes that take the most of a volume; on a tie the fewest, then the larger ones. Exact.

    A knapsack by its sums: the fewest tubes for every sum of volumes, kind by kind from small to large, so that
    going back from the largest kind takes as many of it as the optimum allows. Volumes count to 0.001 ml, in a
    stock and volume too large for that to 0.01 or 0.1 ml. Raises Refused.
    """
    within("volume_ml", volume_ml, 0, MAX_VOLUME_ML, "ml")
    if len(stock) > MAX_KINDS:
        raise Refused("stock", f"{len(stock)} kinds", f"up to {MAX_KINDS} kinds")
    for n, kind in enumerate(stock):
        within(f"stock.{n}.usable_ml", kind.usable_ml, MIN_TUBE_ML, MAX_VOLUME_ML, "ml")
        within(f"stock.{n}.count", kind.count, 0, MAX_COUNT)
    taken = [0] * len(stock)
    for per_ml in _PER_ML:
        fits = sorted(
            (math.ceil(kind.usable_ml * per_ml - 1e-6), min(kind.count, int(volume_ml / kind.usable_ml + 1e-9)), n)
            for n, kind in enumerate(stock)
            if kind.count > 0
        )
        fits = [fit for fit in fits if fit[1] > 0]
        if not fits:
            break
        # Sums are multiples of what all sizes share: common sizes make a short table.
        share = reduce(math.gcd, (size for size, _, _ in fits))
        top = min(int(volume_ml * per_ml + 1e-6), sum(size * count for size, count, _ in fits)) // share
        if top <= MAX_CELLS or per_ml == _PER_ML[-1]:
            for n, count in _fewest([(size // share, count, n) for size, count, n in fits], top).items():
                taken[n] = count
            break
    use = tuple(Kind(kind.usable_ml, count) for kind, count in zip(stock, taken, strict=True) if count)
    filled = sum(used.usable_ml * used.count for used in use)
    return Choice(use, tuple(taken), filled, max(0.0, volume_ml - filled))


def _fewest(sizes: list[tuple[int, int, int]], top: int) -> dict[int, int]:
    """Counts by place in the stock: the highest sum up to `top`, then the fewest tubes, then the larger ones."""
    # The fewest tubes for every sum; a small type, since going over this table is all the time it takes.
    small = sum(count for _, count, _ in sizes) < _FEW
    fewest = np.full(top + 1, _NEVER_SMALL if small else _NEVER, dtype=np.uint16 if small else np.int32)
    never = fewest[0].item()
    fewest[0] = 0
    stages = [fewest]
    for size, count, _ in sizes:
        fewest = fewest.copy()
        # A count in parts of 1, 2, 4, ... and a rest reaches every number up to it.
        left, part = count, 1
        while left > 0:
            lot = min(part, left)
            by = size * lot
            if by <= top:
                np.minimum(fewest[by:], np.add(fewest[: top + 1 - by], lot, dtype=fewest.dtype), out=fewest[by:])
            left, part = left - lot, part * 2
        stages.append(fewest)
    at = int(np.flatnonzero(stages[-1] < never)[-1])
    taken: dict[int, int] = {}
    for stage in range(len(sizes), 0, -1):
        size, count, n = sizes[stage - 1]
        for many in range(min(count, at // size), -1, -1):
            if stages[stage - 1][at - many * size] + many == stages[stage][at] < never:
                taken[n] = many
                at -= many * size
                break
    return taken


class Fill(StrEnum):
    """How a filled tube is."""

    EMPTY = "empty"
    PART = "part"
    FULL = "full"
    AIRY = "airy"
    OVER = "over"


@dataclass(frozen=True, slots=True)
class Filled:
    """A filled tube: the paint in it in g and ml (without air), how full that is, and what it says.

    `of_target` is 1 when it holds its target weight; `of_usable` counts the paint alone, which a little air helps
    to fill the tube.
    """

    net_g: float
    volume_ml: float
    of_usable: float
    of_target: float
    fill: Fill
    says: str


def weigh(gross_g: float, tare_g: float, usable: float, paint_density: float, air: float = AIR) -> Filled:
    """What a filled tube's weight says. Raises Refused for a gross weight below the tare."""
    mass_g("gross_g", gross_g)
    mass_g("tare_g", tare_g, zero=True)
    if gross_g <= tare_g:
        raise Refused("gross_g", f"not above the empty tube's {tare_g:g} g", f"more than {tare_g:g} g")
    return _judged(gross_g - tare_g, usable, paint_density, air)


def by_volume(volume_ml: float, usable: float, paint_density: float, air: float = AIR) -> Filled:
    """What a filled tube's volume, read off or guessed, says. Raises Refused."""
    within("volume_ml", volume_ml, MIN_VOLUME_ML, MAX_VOLUME_ML, "ml")
    return _judged(volume_ml * paint_density, usable, paint_density, air)


def _judged(net: float, usable: float, paint_density: float, air: float) -> Filled:
    target = target_fill_g(usable, paint_density, air)
    volume = net / paint_density
    share = net / target
    if volume > usable * (1 + FILL_SLACK):
        fill = Fill.OVER
        says = f"{net - target:.1f} g too much: it is above the mark, and the seal will not stay clean."
    elif share >= 1 - FILL_SLACK:
        fill, says = Fill.FULL, "Full to its mark."
    elif share >= 0.9:
        fill = Fill.AIRY
        says = f"{target - net:.1f} g short: if it looks full, there is air in it. Tap it out, then top it up."
    else:
        fill, says = Fill.PART, f"{target - net:.1f} g short of its mark."
    return Filled(net, volume, volume / usable, share, fill, says)
