"""Equations that balance: coefficients solved, or checked, atom by atom."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import gcd, lcm

from niddy.core.errors import Refused
from niddy.core.making.formula import Compound, compound

MOST_TERMS = 12
EITHER_SIDE = frozenset({"H2O", "CO2", "O2", "NH3", "N2", "H2"})
"""Water and gases: they come or go, and may be written on either side."""


@dataclass(frozen=True, slots=True)
class Term:
    """One compound of an equation as asked; `coefficient` None where it is to be solved."""

    formula: str
    coefficient: int | None = None


@dataclass(frozen=True, slots=True)
class Equation:
    """An equation that balances: what goes in and what comes out, each with its coefficient."""

    reactants: tuple[tuple[Compound, int], ...]
    products: tuple[tuple[Compound, int], ...]

    @property
    def coefficients(self) -> dict[str, int]:
        """Every coefficient by formula."""
        return {one.formula: n for one, n in (*self.reactants, *self.products)}

    @property
    def text(self) -> str:
        """As one writes it."""
        sides = (
            " + ".join(f"{n} {one.formula}" if n > 1 else one.formula for one, n in side)
            for side in (self.reactants, self.products)
        )
        return " -> ".join(sides)


def equation(reactants: Sequence[Term], products: Sequence[Term]) -> Equation:
    """An equation balanced. Raises Refused naming the formula, or the element that does not come out."""
    return _balanced(tuple(reactants), tuple(products))


@lru_cache(maxsize=256)
def _balanced(reactants: tuple[Term, ...], products: tuple[Term, ...]) -> Equation:
    for field, side in (("reactants", reactants), ("products", products)):
        if not side:
            raise Refused(field, "none", "at least one compound")
    if len(reactants) + len(products) > MOST_TERMS:
        raise Refused("products", f"{len(reactants) + len(products)} compounds in all", f"up to {MOST_TERMS}")
    fields = [*(f"reactants.{n}" for n in range(len(reactants))), *(f"products.{n}" for n in range(len(products)))]
    terms = [*reactants, *products]
    found = [compound(f"{field}.formula", term.formula) for field, term in zip(fields, terms, strict=True)]
    for n, one in enumerate(found):
        if one.formula in {other.formula for other in found[:n]}:
            raise Refused(f"{fields[n]}.formula", f"{one.formula} is there twice", "each compound once")
    given = [term.coefficient for term in terms]
    if all(n is None for n in given):
        numbers = _solved(found, len(reactants), fields)
    elif any(n is None for n in given):
        missing = next(field for field, n in zip(fields, given, strict=True) if n is None)
        raise Refused(f"{missing}.coefficient", "missing, where others have one", "all of them, or none")
    else:
        numbers = [n or 0 for n in given]
        for field, n in zip(fields, numbers, strict=True):
            if n < 1:
                raise Refused(f"{field}.coefficient", f"{n}", "a whole number from 1")
        _check(found, numbers, len(reactants))
    pairs = list(zip(found, numbers, strict=True))
    sides: tuple[list[tuple[Compound, int]], list[tuple[Compound, int]]] = ([], [])
    for n, (one, number) in enumerate(pairs):
        # Solved negative it stands on the other side; only water and gases may.
        sides[(n >= len(reactants)) ^ (number < 0)].append((one, abs(number)))
    return Equation(tuple(sides[0]), tuple(sides[1]))


def _check(found: Sequence[Compound], numbers: Sequence[int], reactants: int) -> None:
    for element in sorted({element for one in found for element in one.elements}):
        before = sum(n * one.of(element) for one, n in zip(found[:reactants], numbers[:reactants], strict=True))
        behind = sum(n * one.of(element) for one, n in zip(found[reactants:], numbers[reactants:], strict=True))
        if before != behind:
            raise Refused(
                "products",
                f"it does not balance: {element} {before} before, {behind} after",
                f"{abs(before - behind)} more {element} {'after' if before > behind else 'before'}",
            )


def _solved(found: Sequence[Compound], reactants: int, fields: Sequence[str]) -> list[int]:
    """The smallest whole numbers that balance it, exact. Raises Refused where there are none, or more than one way."""
    elements = sorted({element for one in found for element in one.elements})
    for element in elements:
        holders = [n for n, one in enumerate(found) if one.of(element)]
        if all(n < reactants for n in holders) or all(n >= reactants for n in holders):
            only = "before" if holders[0] < reactants else "after"
            if not any(found[n].formula in EITHER_SIDE for n in holders):
                there = "after" if only == "before" else "before"
                raise Refused(
                    "products" if only == "before" else "reactants",
                    f"it does not balance: {element} stands {only} the arrow alone",
                    f"something with {element} {there}",
                )
    rows = [
        [Fraction(one.of(element) * (1 if n < reactants else -1)) for n, one in enumerate(found)]
        for element in elements
    ]
    free, pivots = _reduced(rows, len(found))
    if not free:
        raise Refused(
            "products",
            f"it does not balance with any numbers: {', '.join(elements)} do not come out together",
            "every compound that takes part, water and gases too",
        )
    if len(free) > 1:
        raise Refused("reactants.0.coefficient", "it balances in more than one way", "the coefficients, all of them")
    values = [Fraction(0)] * len(found)
    values[free[0]] = Fraction(1)
    for row, column in pivots:
        values[column] = -rows[row][free[0]]
    scale = lcm(*(value.denominator for value in values))
    numbers = [int(value * scale) for value in values]
    numbers = [n // gcd(*numbers) for n in numbers]
    if sum(n < 0 for n, one in zip(numbers, found, strict=True) if one.formula not in EITHER_SIDE) > sum(
        n > 0 for n, one in zip(numbers, found, strict=True) if one.formula not in EITHER_SIDE
    ):
        numbers = [-n for n in numbers]
    for n, number in enumerate(numbers):
        if number == 0:
            raise Refused(f"{fields[n]}.formula", f"{found[n].formula} takes no part", "the equation without it")
        if number < 0 and found[n].formula not in EITHER_SIDE:
            raise Refused(f"{fields[n]}.formula", f"{found[n].formula} belongs on the other side", "it over there")
    return numbers


def _reduced(rows: list[list[Fraction]], width: int) -> tuple[list[int], list[tuple[int, int]]]:
    """Gauss and Jordan, in place: the free columns, and (row, column) of each pivot."""
    pivots: list[tuple[int, int]] = []
    at = 0
    for column in range(width):
        chosen = next((n for n in range(at, len(rows)) if rows[n][column]), None)
        if chosen is None:
            continue
        rows[at], rows[chosen] = rows[chosen], rows[at]
        pivot = rows[at][column]
        rows[at] = [value / pivot for value in rows[at]]
        for n, row in enumerate(rows):
            if n != at and row[column]:
                factor = row[column]
                rows[n] = [value - factor * of for value, of in zip(row, rows[at], strict=True)]
        pivots.append((at, column))
        at += 1
    taken = {column for _, column in pivots}
    return [column for column in range(width) if column not in taken], pivots
