"""Figures with their working: what a screen shows and what it opens when asked how it was got."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.estimate import Basis, Estimate


@dataclass(frozen=True, slots=True)
class Input:
    """One input of a working: its name in the formula, value, unit and, where it has one, its basis."""

    name: str
    value: float | str
    unit: str = ""
    basis: Basis | None = None


@dataclass(frozen=True, slots=True)
class Working:
    """How a figure was got: the formula in words and letters, its inputs, its source, where its spread comes from."""

    formula: str
    inputs: tuple[Input, ...]
    source: str = ""
    spread: str = ""


@dataclass(frozen=True, slots=True)
class Figure:
    """A computed figure as shown: value, spread where it has one, unit, honest digits, basis, working."""

    label: str
    value: float
    unit: str
    digits: int
    basis: Basis
    working: Working
    low: float | None = None
    high: float | None = None

    @classmethod
    def of(cls, label: str, estimate: Estimate, unit: str, digits: int, working: Working) -> Figure:
        """A figure from an estimate; the spread is left out where there is none."""
        spread = estimate.high > estimate.low
        return cls(
            label,
            estimate.median,
            unit,
            digits,
            estimate.basis,
            working,
            estimate.low if spread else None,
            estimate.high if spread else None,
        )
