"""What in a base stands in the way of a stick, and the change in the base that would lift it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from niddy.core.materials import BOUGHT, Wax
from niddy.core.sticks.casting import DRIES_SLOWLY, DRIES_THROUGH, OIL_FRACTION_HIGH, Limit, Stick
from niddy.core.sticks.materials import OIL_PENETRATION_DMM, BaseMix, OilKind, stiffening_ln

AIMED_SHARES_SOFT = (DRIES_THROUGH + 0.05, DRIES_SLOWLY + 0.02)
AIMED_SHARES_HARD = (OIL_FRACTION_HIGH - 0.10, OIL_FRACTION_HIGH - 0.02)
"""The oil share a lifted base should let a stick have: well inside of what casts and dries, else just so (assumed)."""

SENSIBLE = {"wax": 0.6, "resin": 0.15, BOUGHT: 0.0}
"""So large a share of one wax or resin a base still bears (assumed); with more it is another base."""


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
    hard = made.limited_by is Limit.BASE_TOO_HARD
    for share in AIMED_SHARES_HARD if hard else AIMED_SHARES_SOFT:
        oil_part = share * math.log(OIL_PENETRATION_DMM)
        wanted = math.log(dent_dmm) - stiffening_ln(made.cpvc, reduced) - offset_ln - oil_part
        found = _fewest(base, wanted / (1 - share), waxes)
        if found is not None:
            parts, wax = found
            return Lifting(
                f"{says} With {100 * parts:.0f} parts in 100 of {wax.name.lower()} in the base it would do.",
                wax.key,
                wax.name,
                100 * parts,
            )
    pigment = f" {'Less' if hard else 'More'} pigment helps too." if made.cpvc is not None else ""
    return Lifting(f"{says} No one wax brings it there: ask for another feel, or take another base.{pigment}")


def _fewest(base: BaseMix, ln_wanted: float, waxes: Sequence[Wax]) -> tuple[float, Wax] | None:
    """The wax that brings a base to a dent (ln) with the fewest parts, where one does within what is sensible."""
    found: tuple[float, Wax] | None = None
    for wax in waxes:
        apart = math.log(wax.penetration_dmm) - base.ln_penetration
        parts = (ln_wanted - base.ln_penetration) / apart if abs(apart) > 1e-9 else 0.0
        if 0 < parts <= SENSIBLE.get(wax.kind, 0.0) and (found is None or parts < found[0]):
            found = parts, wax
    return found
