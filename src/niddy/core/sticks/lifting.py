"""What in a base stands in the way of a stick, and the change in the base that would lift it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from niddy.core.materials import Wax
from niddy.core.sticks.casting import DRIES_THROUGH, OIL_FRACTION_HIGH, Limit, Stick
from niddy.core.sticks.materials import OIL_PENETRATION_DMM, BaseMix, OilKind, stiffening_ln

AIMED_SHARE_SOFT = DRIES_THROUGH + 0.05
AIMED_SHARE_HARD = OIL_FRACTION_HIGH - 0.10
"""The oil share a lifted base should let a stick have: a little inside of what casts and dries (assumed)."""


@dataclass(frozen=True, slots=True)
class Lifting:
    """What is in the way, in a maker's words; and so many parts in 100 of which wax lift it, where one does."""

    says: str
    wax_key: str = ""
    wax_name: str = ""
    parts_in_100: float | None = None


_SAYS = {
    Limit.BASE_TOO_SOFT: "This base is too soft for it: hardly any oil would fit.",
    Limit.BASE_TOO_HARD: "This base is too hard for it: it would be nearly all oil.",
    Limit.WOULD_NOT_DRY: "Too little drying oil: it would never dry through.",
}


def lifting(
    made: Stick, base: BaseMix, oil: OilKind, dent_dmm: float, reduced: float, offset_ln: float, waxes: Sequence[Wax]
) -> Lifting | None:
    """What limits a stick, and the wax of `waxes` that lifts it with the fewest parts; None where nothing does."""
    if made.limited_by is None:
        return None
    says = _SAYS[made.limited_by]
    if made.limited_by is Limit.WOULD_NOT_DRY and oil is not OilKind.DRYING:
        return Lifting(f"{says} With a drying oil (linseed, walnut) it would.")
    share = AIMED_SHARE_HARD if made.limited_by is Limit.BASE_TOO_HARD else AIMED_SHARE_SOFT
    wanted = math.log(dent_dmm) - stiffening_ln(made.cpvc, reduced) - offset_ln - share * math.log(OIL_PENETRATION_DMM)
    ln_base = wanted / (1 - share)
    found: tuple[float, Wax] | None = None
    for wax in waxes:
        ln_wax = math.log(wax.penetration_dmm)
        if abs(ln_wax - base.ln_penetration) < 1e-9:
            continue
        parts = (ln_base - base.ln_penetration) / (ln_wax - base.ln_penetration)
        if 0 < parts <= 1 and (found is None or parts < found[0]):
            found = parts, wax
    if found is None:
        return Lifting(f"{says} No wax of the library brings it there: ask for another feel.")
    parts, wax = found
    return Lifting(
        f"{says} With {100 * parts:.0f} parts in 100 of {wax.name.lower()} in the base it would do.",
        wax.key, wax.name, 100 * parts,
    )  # fmt: skip
