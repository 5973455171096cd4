"""A mixture said for the bench: whole parts, what each paint does in it, and a grey from two."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import gcd

import numpy as np

from niddy.core.mixing.predicting import Palette, expected_off
from niddy.core.mixing.seeing import Floats, difference

FEW_PARTS = 40
MORE_PARTS = (50, 60, 70, 80, 100, 120, 140, 170, 200, 250, 300, 400, 500, 700)
"""Whole parts up to the first are tried one by one; a speck of a strong paint wants more of the others."""

PAINT_G_PER_ML = 1.7
"""What a millilitre of oil paint weighs where nobody knows (assumed): from 1.2 of a lake to 4 of a lead paint."""

SAME, OF_OFF = 0.35, 0.2
"""dE00 that parts may be rounded by, and as a share of what the mixture may be off anyway: fewer parts are worth it."""

MORE = 1.1
_DOES = ((0, "lighter", "darker"), (1, "redder", "greener"), (2, "yellower", "bluer"))
SEEN = 0.1
"""A change smaller than this, for a tenth more of a paint, is none (Lab units)."""


@dataclass(frozen=True, slots=True)
class Part:
    """A paint's part of a mixture: its place, its share by mass, whole parts, and what more of it does.

    Parts are by mass, or by volume where densities were given.
    """

    place: int
    share: float
    parts: int
    does: str


@dataclass(frozen=True, slots=True)
class Said:
    """A mixture by whole parts: what it looks like, how far that is from what was wanted, and how far off it may be."""

    parts: tuple[Part, ...]
    lab: tuple[float, float, float]
    de00: float
    off: float


def said(
    by: Palette, shares: Sequence[tuple[int, float]], wanted: Floats, density: Sequence[float] | None = None
) -> Said:
    """A mixture in the fewest whole parts that look the same, with what each of its paints does.

    `shares` are by mass; with the `density` of each paint of the palette, in g/ml, parts are by volume.
    """
    places = [place for place, _ in shares]
    exact = np.array([share for _, share in shares], float)
    weights = np.zeros((1, len(by.strength)))
    weights[0, places] = exact
    looks = by.lab(weights)[0]
    apart = max(SAME, float(expected_off(by, weights, looks[None])[0]) * OF_OFF)
    heavy = np.ones(len(places)) if density is None else np.array([density[place] for place in places], float)
    whole = _whole(by, places, exact / heavy, heavy, looks, apart)
    weights[0, places] = whole * heavy
    seen = by.lab(weights)
    sure = float(expected_off(by, weights, seen)[0])
    total = float(np.sum(whole * heavy))
    parts = tuple(
        Part(place, float(much * grams) / total, much, _does(by, weights, place, seen[0]))
        for place, much, grams in zip(places, whole, heavy, strict=True)
    )
    lab = (float(seen[0, 0]), float(seen[0, 1]), float(seen[0, 2]))
    return Said(parts, lab, float(difference(seen[0], np.asarray(wanted, float))), sure)


def _whole(by: Palette, places: list[int], exact: Floats, heavy: Floats, looks: Floats, apart: float) -> list[int]:
    """The fewest whole parts, each of so many grams, whose mixture looks as the exact one does."""
    best: tuple[float, list[int]] | None = None
    for total in (*range(len(places), FEW_PARTS + 1), *MORE_PARTS):
        parts = _rounded(exact, total)
        weights = np.zeros((1, len(by.strength)))
        weights[0, places] = parts * heavy
        far = float(difference(by.lab(weights)[0], looks))
        if best is None or far < best[0]:
            best = (far, parts)
        if far <= apart:
            break
    assert best is not None
    shared = gcd(*best[1])
    return [part // shared for part in best[1]]


def _rounded(exact: Floats, total: int) -> list[int]:
    """Whole parts, at least one of each, that sum to a total: the largest remainders are rounded up."""
    wanted = exact / exact.sum() * total
    parts = np.maximum(1, np.floor(wanted)).astype(int)
    while parts.sum() < total:
        parts[int(np.argmax(wanted - parts))] += 1
    while parts.sum() > total and parts.max() > 1:
        over = np.where(parts > 1, parts - wanted, -np.inf)
        parts[int(np.argmax(over))] -= 1
    return [int(part) for part in parts]


def _does(by: Palette, weights: Floats, place: int, seen: Floats) -> str:
    """What more of a paint does to a mixture, in words, the strongest first; empty for a paint alone."""
    if np.count_nonzero(weights[0]) < 2:
        return ""
    more = weights.copy()
    more[0, place] *= MORE
    change = by.lab(more)[0] - seen
    told = sorted(((abs(change[axis]), up if change[axis] > 0 else down) for axis, up, down in _DOES), reverse=True)
    strongest = told[0][0]
    words = [word for much, word in told if much >= max(SEEN, strongest / 3)][:2]
    return f"more makes it {' and '.join(words)}" if words else "more of it is hardly seen"


def grey_of(by: Palette, one: int, other: int) -> tuple[tuple[int, float], ...]:
    """The shares of two paints whose mixture is the most neutral."""
    low, high = -7.0, 7.0
    best = 0.0
    for _ in range(4):
        tried = np.linspace(low, high, 41)
        weights = np.zeros((len(tried), len(by.strength)))
        weights[:, one], weights[:, other] = np.exp(tried), 1.0
        lab = by.lab(weights)
        best = float(tried[int(np.argmin(np.hypot(lab[:, 1], lab[:, 2])))])
        step = (high - low) / 40
        low, high = best - step, best + step
    share = float(np.exp(best) / (1 + np.exp(best)))
    return ((one, share), (other, 1 - share))
