"""What mixtures of paints in numbers look like, many at once, and how far off each may be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from niddy.core.estimate import Z90
from niddy.core.mixing.constants import K1, K2, outside
from niddy.core.mixing.paints import InNumbers, Shine
from niddy.core.mixing.seeing import Floats, Viewer, difference

HAND_OFF = 1.5
"""dE00 that weighing and mixing a little of it by hand scatters, nine times in ten (assumed)."""

STEP = 0.1
"""How far a strength's logarithm is moved to see what it does."""


@dataclass(frozen=True, slots=True, eq=False)
class Palette:
    """Paints in numbers as arrays (paints by channels), the logarithm of each one's learned strength and its sd.

    `viewer` sees mixtures as the studio's readings are taken.
    """

    k: Floats
    s: Floats
    strength: Floats
    strength_sd: Floats
    off: Floats
    model_off: Floats
    told_off: Floats
    viewer: Viewer
    surface: bool

    def reflectance(self, weights: Floats, strength: Floats | None = None) -> Floats:
        """Reflectances (mixtures by channels) of weights (mixtures by paints), by mass; the shine is on them."""
        by_strength = weights * np.exp(self.strength if strength is None else strength)
        x = (by_strength @ self.k) / (by_strength @ self.s)
        layer = 1 / (1 + x + np.sqrt(x * x + 2 * x))
        return outside(layer) if self.surface else layer

    def slopes(self, weights: Floats, strength: Floats) -> Floats:
        """How Lab moves with each paint's strength's logarithm (mixtures by 3 by paints)."""
        by_strength = weights * np.exp(strength)
        scattered = by_strength @ self.s
        x = (by_strength @ self.k) / scattered
        root = np.sqrt(x * x + 2 * x)
        layer = 1 / (1 + x + root)
        # R moves with x by -R / root, and what is seen of it with the surface's share.
        moves = -layer / np.maximum(root, 1e-9)
        if self.surface:
            moves = moves * (1 - K1) * (1 - K2) / (1 - K2 * layer) ** 2
        seen = outside(layer) if self.surface else layer
        by_x = self.viewer.slopes(seen) * (moves / scattered)[:, None, :]
        # x of a mixture moves with a paint's share of it by (k - x s).
        return np.asarray(
            (np.einsum("mcb,pb->mcp", by_x, self.k) - np.einsum("mcb,mb,pb->mcp", by_x, x, self.s))
            * by_strength[:, None, :]
        )

    def lab(self, weights: Floats, strength: Floats | None = None) -> Floats:
        """Lab (mixtures by 3) of weights (mixtures by paints)."""
        return self.viewer.lab(self.reflectance(weights, strength))


def palette(
    paints: Sequence[InNumbers], viewer: Viewer, shine: Shine, learned: Sequence[tuple[float, float] | None] = ()
) -> Palette:
    """Paints as a palette. `learned`: the logarithm of each one's strength and its sd where squares taught it."""
    taught = list(learned) or [None] * len(paints)
    return Palette(
        np.array([one.paint.k for one in paints], float),
        np.array([one.paint.s for one in paints], float),
        np.array([at[0] if at else 0.0 for at in taught], float),
        np.array([at[1] if at else one.strength_sd for at, one in zip(taught, paints, strict=True)], float),
        np.array([one.off for one in paints], float),
        np.array([one.model_off for one in paints], float),
        np.array([one.told_off for one in paints], float),
        viewer,
        shine is not Shine.OFF,
    )


def weights_of(mixtures: Sequence[Sequence[tuple[int, float]]], paints: int) -> Floats:
    """Weights (mixtures by paints) of mixtures by parts; -1 is the last of the paints."""
    found = np.zeros((len(mixtures), paints))
    for n, parts in enumerate(mixtures):
        for place, much in parts:
            found[n, place] += much
    return found


def expected_off(by: Palette, weights: Floats, seen: Floats) -> Floats:
    """How far off each mixture may be: dE00, nine times in ten.

    From its paints' own colours by their shares of its light, from their strengths beside one another, and from what
    mixing by numbers is off anyway; a paint alone is off by its reading only.
    """
    there = weights > 0
    mixed = there.sum(axis=1) > 1
    shares = weights / weights.sum(axis=1, keepdims=True)
    # What scatters most is seen most: a little of a strong paint counts by what it does, below.
    own = np.sqrt(np.sum((np.sqrt(shares) * by.off) ** 2 * there, axis=1))
    # Every paint is moved a little, each in all the mixtures it is in.
    moved = np.zeros(len(weights))
    for place in np.flatnonzero(there.any(axis=0)):
        if by.strength_sd[place] <= 0:
            continue
        rows = np.flatnonzero(there[:, place] & mixed)
        strength = by.strength.copy()
        strength[place] += STEP
        far = difference(by.lab(weights[rows], strength), seen[rows])
        moved[rows] += (Z90 * by.strength_sd[place] * far / STEP) ** 2
    model = np.hypot(np.max(np.where(there, by.told_off, 0.0), axis=1), HAND_OFF) * mixed
    return np.asarray(np.sqrt(own**2 + moved + model**2))
