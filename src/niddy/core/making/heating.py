"""Heating one compound into another: how far it has gone, by its weight.

conversion = (before - after) / (before (1 - n M_to / M_from))
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from niddy.core.errors import Refused, mass_g, within
from niddy.core.making.formula import Compound, compound

_COMES_AND_GOES = frozenset({"H", "C", "N", "O", "S", "Cl", "F"})
"""Elements that may leave as a gas or come out of the air: the rest stays in the crucible."""


@dataclass(frozen=True, slots=True)
class Heated:
    """What it weighs once all has turned, g, and how much of it has; below 0 or above 1 something else happened."""

    expected_after_g: float
    conversion: float


def heating(
    before_g: float, after_g: float, from_formula: str, to_formula: str, to_per_from: float | None = None
) -> Heated:
    """How far one compound has turned into another; `to_per_from` from what stays where it is left out.

    Raises Refused naming the formula or the amount.
    """
    mass_g("before_g", before_g)
    mass_g("after_g", after_g)
    source, target = compound("from_formula", from_formula), compound("to_formula", to_formula)
    ratio = per_from(source, target) if to_per_from is None else within("to_per_from", to_per_from, 0.01, 100)
    expected = before_g * ratio * target.molar_g / source.molar_g
    if abs(expected - before_g) < 1e-9 * before_g:
        raise Refused("to_formula", "it weighs the same before and after", "a compound of another weight")
    return Heated(expected, (before_g - after_g) / (before_g - expected))


def turned(start: str, steps: Iterable[tuple[str, str]]) -> tuple[str, float]:
    """What a compound has become after some heatings, each from one formula to another, and what 1 g of it weighs then.

    A heating of something else than what is there changes nothing of it. Raises Refused naming the formula.
    """
    there, factor = compound("wanted", start), 1.0
    for from_formula, to_formula in steps:
        source, target = compound("from_formula", from_formula), compound("to_formula", to_formula)
        if source.formula == there.formula:
            factor *= per_from(source, target) * target.molar_g / source.molar_g
            there = target
    return there.formula, factor


def per_from(source: Compound, target: Compound) -> float:
    """How much of the target one of the source makes, by the elements that stay. Raises Refused."""
    stay = {element for element in source.elements & target.elements if element not in _COMES_AND_GOES}
    ratios = {source.of(element) / target.of(element) for element in stay}
    if len(ratios) != 1:
        problem = "nothing of it stays" if not ratios else "its elements do not agree on how many it makes"
        raise Refused("to_per_from", problem, "how many of the one come of the other")
    return ratios.pop()
