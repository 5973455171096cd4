"""A lot in place of an ingredient as it was written: another hydrate or purity of the same salt weighs otherwise."""

from __future__ import annotations

from niddy.core.errors import Refused, within
from niddy.core.making.formula import Compound, compound

WATER = "H2O"


def grams_per_gram(formula: str, purity: float, lot_formula: str, lot_purity: float) -> float:
    """g of a lot for each g of an ingredient as written; 1 where either has no formula, but for the purity.

    Raises Refused naming `lot_formula` where it is another salt.
    """
    within("purity", purity, 0, 1, open_low=True)
    within("lot_purity", lot_purity, 0, 1, open_low=True)
    if not formula or not lot_formula:
        return purity / lot_purity
    written, held = compound("formula", formula), compound("lot_formula", lot_formula)
    if _dry(written) != _dry(held):
        raise Refused("lot_formula", f"{held.formula} is another salt than {written.formula}", f"a lot of {formula}")
    return held.molar_g / written.molar_g * purity / lot_purity


def _dry(one: Compound) -> tuple[tuple[str, int], ...]:
    """What of a compound is no water of its hydrate: its atoms without as much water as stands after a point."""
    bare = ".".join(part for part in one.formula.split(".") if not part.endswith(WATER))
    return compound("formula", bare).atoms if bare else one.atoms
