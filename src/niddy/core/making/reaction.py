"""A precipitation on paper: what limits it, what it may yield, what stays over, what to weigh for so much."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from niddy.core.errors import Refused, mass_g, within
from niddy.core.making.equation import Equation, Term, equation
from niddy.core.making.formula import Compound, compound, one_wanted


@dataclass(frozen=True, slots=True)
class Reagent:
    """What goes in: `mass_g` None where there is more than enough of it; `purity` the share of it that counts."""

    formula: str
    coefficient: int | None = None
    mass_g: float | None = None
    purity: float = 1.0


@dataclass(frozen=True, slots=True)
class LeftOver:
    """What stays over of a reagent, g as it was weighed."""

    formula: str
    g: float


@dataclass(frozen=True, slots=True)
class Reaction:
    """An equation with amounts: coefficients, what limits, theory in g, what stays over, the yield, what to weigh.

    `limiting` is None where nothing was weighed; `masses_g` is by formula, for the amount wanted.
    """

    equation: str
    coefficients: dict[str, int]
    limiting: str | None
    theoretical_g: float
    left: tuple[LeftOver, ...]
    yield_fraction: float | None
    masses_g: dict[str, float] | None


def reaction(
    reagents: Sequence[Reagent],
    products: Sequence[Term],
    wanted: str,
    *,
    obtained_g: float | None = None,
    wanted_g: float | None = None,
    expected_yield: float = 1.0,
) -> Reaction:
    """What an equation makes of what was weighed. Raises Refused naming the formula, element or amount."""
    balanced = equation([Term(one.formula, one.coefficient) for one in reagents], products)
    for n, one in enumerate(reagents):
        if one.mass_g is not None:
            mass_g(f"reactants.{n}.mass_g", one.mass_g)
        within(f"reactants.{n}.purity", one.purity, 0, 1, open_low=True)
    within("expected_yield", expected_yield, 0, 1.2, open_low=True)
    target, coefficient = _wanted(balanced, wanted)
    weighed = _weighed(balanced, reagents)
    extents = {one.formula: one.extent for one in weighed if one.mass_g is not None}
    per_extent = coefficient * target.molar_g
    if extents:
        limiting: str | None = min(extents, key=lambda formula: extents[formula])
        extent = extents[limiting or ""]
        theory = extent * per_extent
    elif wanted_g is not None:
        limiting, theory = None, mass_g("wanted_g", wanted_g) / expected_yield
        extent = theory / per_extent
    else:
        raise Refused("reactants.0.mass_g", "nothing is weighed", "the mass of one reagent, or how much is wanted")
    left = tuple(
        LeftOver(one.formula, max(0.0, one.mass_g - one.needed_g(extent)))
        for one in weighed
        if one.mass_g is not None and one.formula != limiting
    )
    return Reaction(
        balanced.text,
        balanced.coefficients,
        limiting,
        theory,
        left,
        mass_g("obtained_g", obtained_g, zero=True) / theory if obtained_g is not None else None,
        _masses(weighed, theory, per_extent, wanted_g, expected_yield) if wanted_g is not None else None,
    )


@dataclass(frozen=True, slots=True)
class _Weighed:
    """A reagent that takes part: what one turn of the equation takes of it, pure, and what was weighed."""

    formula: str
    per_extent_g: float
    mass_g: float | None
    purity: float

    @property
    def extent(self) -> float:
        """For how many turns of the equation it is enough."""
        return (self.mass_g or 0.0) * self.purity / self.per_extent_g

    def needed_g(self, extent: float) -> float:
        """g as it is weighed, for so many turns."""
        return extent * self.per_extent_g / self.purity


def _weighed(balanced: Equation, reagents: Sequence[Reagent]) -> list[_Weighed]:
    asked = {compound("formula", one.formula).formula: one for one in reagents}
    return [
        _Weighed(one.formula, n * one.molar_g, asked[one.formula].mass_g, asked[one.formula].purity)
        for one, n in balanced.reactants
        if one.formula in asked
    ]


def _wanted(balanced: Equation, wanted: str) -> tuple[Compound, int]:
    formula = one_wanted(wanted).formula
    for one, n in balanced.products:
        if one.formula == formula:
            return one, n
    made = ", ".join(one.formula for one, _ in balanced.products)
    raise Refused("wanted", f"{formula} does not come out of it", f"one of: {made}")


def _masses(
    weighed: Sequence[_Weighed], theory: float, per_extent: float, wanted_g: float, expected_yield: float
) -> dict[str, float]:
    """What to weigh for so much: all in the ratio that was weighed, or by the equation where nothing was."""
    needed = mass_g("wanted_g", wanted_g) / expected_yield
    held = {one.formula: one.mass_g * needed / theory for one in weighed if one.mass_g is not None}
    return held or {one.formula: one.needed_g(needed / per_extent) for one in weighed}
