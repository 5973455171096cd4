"""A cake: the oil that dried sludge takes, by what was washed into it, as wide as nobody knows."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core.errors import Refused, density_g_per_ml, oil_g_per_100g, within
from niddy.core.estimate import Z90, Basis, Estimate

UNKNOWN_LOW, UNKNOWN_HIGH, UNKNOWN_DENSITY = 15.0, 70.0, 3.5
"""What an unlogged washing is taken for (assumed)."""

WASHED_SD_LN = 0.25
"""Nobody knows what was really washed off (assumed)."""

OLD_OIL, OLD_OIL_LOW, OLD_OIL_HIGH = 0.07, 0.03, 0.15
"""Old oil that stays in a cake, as a share of its mass (assumed): it counts as binder."""

DRAINED, DRAINED_LOW, DRAINED_HIGH = 0.32, 0.25, 0.40
"""The same of sludge washed in oil, which drains and does not dry (assumed)."""

LEAST_OIL = 2.0
"""g per 100 g: below this a cake may need no oil at all, or dry chalk."""


@dataclass(frozen=True, slots=True)
class Washing:
    """Some of one pigment that was washed off: its weight (1 a little, 2 a brushful, 4 a palette's worth)."""

    weight: float
    oil_absorption_low: float
    oil_absorption_high: float
    density_g_per_ml: float


@dataclass(frozen=True, slots=True)
class Cake:
    """What a cake takes to putty, g oil per 100 g, and its density. `wet_enough` where the low end is at its floor."""

    oil_absorption: Estimate
    density_g_per_ml: float
    wet_enough: bool


def cake(washings: list[Washing], unknown_share: float = 0.0, *, drained: bool = False) -> Cake:
    """What a cake of some washings takes, a share of it unlogged; `drained` where they were washed off with oil.

    Raises Refused naming the washing.
    """
    within("unknown_share", unknown_share, 0, 1)
    for n, washing in enumerate(washings):
        within(f"washings.{n}.weight", washing.weight, 0, 1e6)
        oil_g_per_100g(f"washings.{n}.oil_absorption_low", washing.oil_absorption_low)
        oil_g_per_100g(f"washings.{n}.oil_absorption_high", washing.oil_absorption_high)
        density_g_per_ml(f"washings.{n}.density_g_per_ml", washing.density_g_per_ml)
        if washing.oil_absorption_high < washing.oil_absorption_low:
            raise Refused(
                f"washings.{n}.oil_absorption_high", "below the low end", f"from {washing.oil_absorption_low:g}"
            )
    logged = sum(washing.weight for washing in washings)
    if logged <= 0 and unknown_share < 1:
        raise Refused("washings", "nothing was washed", "at least one washing, or all of it unlogged")
    parts = [
        (washing.weight / logged * (1 - unknown_share), washing) for washing in washings if logged and washing.weight
    ]
    if unknown_share > 0:
        parts.append((unknown_share, Washing(1.0, UNKNOWN_LOW, UNKNOWN_HIGH, UNKNOWN_DENSITY)))
    absorbs = [share * math.sqrt(w.oil_absorption_low * w.oil_absorption_high) for share, w in parts]
    whole = sum(absorbs)
    sds = [
        part / whole * math.log(w.oil_absorption_high / w.oil_absorption_low) / (2 * Z90)
        for part, (_, w) in zip(absorbs, parts, strict=True)
    ]
    spread = math.exp(Z90 * math.hypot(WASHED_SD_LN, *sds))
    old, old_low, old_high = (DRAINED, DRAINED_LOW, DRAINED_HIGH) if drained else (OLD_OIL, OLD_OIL_LOW, OLD_OIL_HIGH)
    low = _to_putty(whole / spread, old_high)
    return Cake(
        Estimate(_to_putty(whole, old), low, _to_putty(whole * spread, old_low), Basis.ASSUMED),
        1 / sum(share / w.density_g_per_ml for share, w in parts),
        low <= LEAST_OIL,
    )


def _to_putty(absorbs: float, old_oil: float) -> float:
    return max(LEAST_OIL, (1 - old_oil) * absorbs - 100 * old_oil)
