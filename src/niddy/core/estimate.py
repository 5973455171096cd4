"""Estimates: a quantity a person may doubt travels with its spread and where it comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from statistics import NormalDist

Z90 = 1.6448536
"""Half-width of the central 90 % of a normal distribution, in standard deviations."""


class Basis(StrEnum):
    """Where a figure comes from."""

    LIBRARY = "library"
    ENTERED = "entered"
    MEASURED = "measured"
    LEARNED = "learned"
    ASSUMED = "assumed"


@dataclass(frozen=True, slots=True)
class Estimate:
    """A median with its central 90 % (`low` to `high`) and its basis; all in one unit, named by the field."""

    median: float
    low: float
    high: float
    basis: Basis

    @classmethod
    def exact(cls, value: float, basis: Basis) -> Estimate:
        """A value without a spread worth showing."""
        return cls(value, value, value, basis)

    @classmethod
    def lognormal(cls, median: float, sd_ln: float, basis: Basis) -> Estimate:
        """Median and central 90 % of a quantity whose logarithm is normal with sd `sd_ln`."""
        factor = math.exp(Z90 * sd_ln)
        return cls(median, median / factor, median * factor, basis)

    @classmethod
    def plus_minus(cls, median: float, fraction: float, basis: Basis) -> Estimate:
        """Median with an even 90 % half-width of `fraction` of it."""
        return cls(median, median * (1 - fraction), median * (1 + fraction), basis)

    @property
    def half_width(self) -> float:
        """Half of the 90 % interval, in the unit of the estimate."""
        return (self.high - self.low) / 2


_BASIS_FROM_SUREST = (Basis.MEASURED, Basis.LEARNED, Basis.ENTERED, Basis.LIBRARY, Basis.ASSUMED)


def weakest(*bases: Basis) -> Basis:
    """The basis of a figure made from several: the least sure of theirs."""
    return max(bases, key=_BASIS_FROM_SUREST.index)


def total(parts: list[Estimate]) -> Estimate:
    """Sum of independent estimates: medians add up, half-widths in quadrature; the weakest basis."""
    if not parts:
        return Estimate.exact(0.0, Basis.MEASURED)
    median = sum(part.median for part in parts)
    half = math.sqrt(sum(part.half_width**2 for part in parts))
    return Estimate(median, median - half, median + half, weakest(*(part.basis for part in parts)))


def normal_quantile(q: float) -> float:
    """Standard normal quantile of `q`, 0 < q < 1."""
    return NormalDist().inv_cdf(q)
