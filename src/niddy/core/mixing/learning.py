"""What painted squares teach: how strong each paint is beside the others, against what its readings say."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from niddy.core.mixing.predicting import Palette
from niddy.core.mixing.seeing import Floats, difference

SQUARE_SD = 1.5
"""Lab units a painted square scatters by, weighed and mixed by hand on a chart (assumed)."""

LEAST_SD = 0.02
FURTHEST = 2.5
"""A strength's logarithm is looked for within so much either way."""

FOLDS = 5
ENOUGH = 10
"""With so many squares or more it is also told how squares are predicted that nothing was learned from."""


@dataclass(frozen=True, slots=True)
class Learned:
    """The logarithm of each paint's strength and its sd, and the median difference (dE00) before and after.

    `held_out` is the median over squares predicted from the other squares; None with too few.
    """

    strength: tuple[float, ...]
    sd: tuple[float, ...]
    squares: tuple[int, ...]
    before: float
    after: float
    held_out: float | None


def learn(by: Palette, weights: Floats, read: Floats, off: Floats, *, hold_out: bool = True) -> Learned:
    """Learn strengths from squares: weights (squares by paints), their Lab as read, and how far off readings may be.

    `by` is as the readings say, with no strength learned. A paint whose strength is sure (sd 0, the white) is held.
    Without `hold_out` it is not told how squares are predicted that nothing was learned from, which takes longest.
    """
    weights = np.asarray(weights, float)
    read = np.asarray(read, float)
    told = (weights > 0).sum(axis=1) > 1
    plain = difference(by.lab(weights, np.zeros(len(by.strength))), read)
    found, sd = _fitted(by, weights[told], read[told], off[told])
    after = difference(by.lab(weights, found), read)
    held = None
    count = int(told.sum())
    if hold_out and count >= ENOUGH:
        far = plain.copy()
        fold = np.arange(count) % FOLDS
        at = np.flatnonzero(told)
        for n in range(FOLDS):
            others, here = at[fold != n], at[fold == n]
            without, _ = _fitted(by, weights[others], read[others], off[others])
            far[here] = difference(by.lab(weights[here], without), read[here])
        held = float(np.median(far))
    return Learned(
        tuple(float(at) for at in found),
        tuple(float(at) for at in sd),
        tuple(int(n) for n in (weights[told] > 0).sum(axis=0)),
        float(np.median(plain)) if len(plain) else 0.0,
        float(np.median(after)) if len(after) else 0.0,
        held,
    )


def _fitted(by: Palette, weights: Floats, read: Floats, off: Floats) -> tuple[Floats, Floats]:
    """Strengths nearest to what was read and to what was thought before, and their sd."""
    free = np.flatnonzero((by.strength_sd > 0) & (weights > 0).any(axis=0))
    strength, sd = np.zeros(len(by.strength)), by.strength_sd.copy()
    if not len(free):
        return strength, sd
    chroma = np.hypot(read[:, 1], read[:, 2])
    # As CIEDE2000 weighs them: a step in a strong colour is seen less.
    scale = np.stack([np.ones(len(read)), 1 + 0.045 * chroma, 1 + 0.045 * chroma], axis=1)
    sure = np.sqrt(
        SQUARE_SD**2 + (off / 1.645) ** 2 + (np.max(np.where(weights > 0, by.model_off, 0), axis=1) / 1.645) ** 2
    )
    scale = scale * sure[:, None]

    def spread(at: Floats) -> Floats:
        every = np.zeros(len(by.strength))
        every[free] = at
        return every

    def apart(at: Floats) -> Floats:
        fit = (by.lab(weights, spread(at)) - read) / scale
        return np.concatenate([fit.ravel(), at / by.strength_sd[free]])

    def slopes(at: Floats) -> Floats:
        moves = by.slopes(weights, spread(at))[:, :, free] / scale[:, :, None]
        return np.concatenate([moves.reshape(-1, len(free)), np.diag(1 / by.strength_sd[free])])

    fit = least_squares(apart, np.zeros(len(free)), slopes, bounds=(-FURTHEST, FURTHEST), loss="soft_l1", max_nfev=40)
    strength[free] = fit.x
    curved = np.linalg.pinv(slopes(fit.x).T @ slopes(fit.x))
    sd[free] = np.clip(np.sqrt(np.maximum(np.diag(curved), 0)), LEAST_SD, by.strength_sd[free])
    return strength, sd
