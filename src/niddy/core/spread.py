"""Where a figure's spread comes from, in a maker's words, and what would narrow it most."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

MOSTLY = 0.6
"""From so much of the variance on a spread comes mostly from one part."""


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a spread: its variance, what it is from, and what would narrow it."""

    variance: float
    source: str
    narrow: str


def says(parts: Iterable[Part]) -> str:
    """The largest part or two of a spread, and what would narrow it most; empty where nothing spreads."""
    ranked = sorted((part for part in parts if part.variance > 1e-9), key=lambda part: -part.variance)
    if not ranked:
        return ""
    whole = sum(part.variance for part in ranked)
    first = ranked[0]
    if first.variance >= MOSTLY * whole or len(ranked) == 1:
        where = f"The spread is mostly from {first.source}."
    else:
        where = f"The spread is from {first.source} and {ranked[1].source}."
    return f"{where} To narrow it most: {first.narrow}."


def of_powder(variance: float, *, known: bool) -> Part:
    """What is not known of the powder's own oil demand."""
    if known:
        return Part(variance, "what your records leave open of this lot", "one more rub-out of this lot")
    return Part(variance, "the library's range for this pigment", "one rub-out of this lot, by weight")


def of_eye(variance: float) -> Part:
    """What is not known of how the maker judges."""
    return Part(variance, "your eye, which is not known yet", "a rub-out by weight and a batch of the same lot")


def of_spoon(variance: float) -> Part:
    """What a spoon leaves open of the powder."""
    return Part(variance, "the spoon", "weigh one level spoon of this powder")


def of_oil(variance: float) -> Part:
    """What drops or marks leave open of the oil."""
    return Part(variance, "the drops or marks the oil is counted by", "weigh 20 drops of this bottle")
