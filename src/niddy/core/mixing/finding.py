"""Finding a mixture for a wanted colour: which of the paints, and how much of each.

For each choice of paints the parts are guessed where the mixture's K - x S is least (x the wanted K/S), which is
linear; the choices that guess best are then searched by CIEDE2000 itself, all of them at once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from niddy.core.errors import Refused
from niddy.core.mixing.constants import Paint, outside
from niddy.core.mixing.seeing import Floats, Viewer, difference, xyz_of

MOST_PAINTS = 3
SEARCHED, KEPT_ON = 240, 48
"""So many choices of paints are searched at first, and so many of them to the end; a shelf of up to eleven paints has
no more than the first, and is searched whole."""

FIRST_ROUNDS, ROUNDS = 10, 60
GUESSING = 25
FIRST_STEP, LAST_STEP = 0.6, 0.002
UNSEEN = 0.5
SMALLEST_SHARE = 0.004
"""Less than this of a mixture nobody weighs at the bench."""


@dataclass(frozen=True, slots=True)
class Mixture:
    """A mixture: the place of each paint in the list and its share by mass, how far it is from what is wanted."""

    parts: tuple[tuple[int, float], ...]
    de00: float
    reflectance: tuple[float, ...]


def find(
    wanted: Sequence[float],
    paints: Sequence[Paint],
    viewer: Viewer,
    *,
    most: int = MOST_PAINTS,
    always: int | None = None,
    surface: bool = False,
    count: int = 5,
) -> tuple[Mixture, ...]:
    """The mixtures nearest to a wanted Lab, the nearest first, each of another choice of paints.

    `most`: so many of the paints at the most, besides `always`, the place of the white, which may go into any. Raises
    Refused where there is nothing to choose from.
    """
    if not paints:
        raise Refused("paints", "none", "one paint or more that is calibrated")
    if not 1 <= most <= MOST_PAINTS:
        raise Refused("most", f"{most} paints", f"1 to {MOST_PAINTS}")
    target = np.asarray(wanted, float)
    k, s = np.array([paint.k for paint in paints], float), np.array([paint.s for paint in paints], float)
    chosen = _choices(len(paints), most, always)
    guesses = _guessed(chosen, k, s, _reflectance_like(target, k, s, viewer, surface=surface), viewer)
    near = difference(viewer.lab(_mixed(guesses, chosen, k, s, surface=surface)), target)
    best = np.argsort(near, kind="stable")[:SEARCHED]
    chosen, guesses = chosen[best], guesses[best]
    shares, far = _searched(chosen, guesses, k, s, target, viewer, FIRST_ROUNDS, surface=surface)
    best = np.argsort(far, kind="stable")[: max(KEPT_ON, 4 * count)]
    chosen = chosen[best]
    shares, far = _searched(chosen, shares[best], k, s, target, viewer, ROUNDS, surface=surface)
    shares = np.where(shares < SMALLEST_SHARE, 0.0, shares)
    shares = shares / shares.sum(axis=1, keepdims=True)
    seen = _mixed(shares, chosen, k, s, surface=surface)
    far = difference(viewer.lab(seen), target)
    found: list[Mixture] = []
    known: set[frozenset[int]] = set()
    # Nobody sees half a unit: within it the mixture of fewer paints comes first.
    many = np.sum((chosen >= 0) & (shares > 0), axis=1)
    for n in np.lexsort((far, many, np.floor(far / UNSEEN))):
        parts = [
            (int(paint), float(share))
            for paint, share in zip(chosen[n], shares[n], strict=True)
            if paint >= 0 and share > 0
        ]
        names = frozenset(paint for paint, _ in parts)
        if names in known:
            continue
        known.add(names)
        ordered = sorted(parts, key=lambda part: -part[1])
        found.append(Mixture(tuple(ordered), float(far[n]), tuple(float(r) for r in seen[n])))
        if len(found) == count:
            break
    return tuple(found)


def _choices(paints: int, most: int, always: int | None) -> Floats:
    """Every choice as a row of places, filled up with -1."""
    others = [n for n in range(paints) if n != always]
    wide = most + (always is not None)
    rows = []
    for size in range(0 if always is not None else 1, most + 1):
        for some in combinations(others, size):
            row = [*some, *([always] if always is not None else [])]
            rows.append(row + [-1] * (wide - len(row)))
    return np.array(rows, int)


def _mixed(shares: Floats, chosen: Floats, k: Floats, s: Floats, *, surface: bool) -> Floats:
    """Reflectances (..., channels) of shares (choices, ..., places)."""
    there = (chosen >= 0)[..., None]
    of_k, of_s = np.where(there, k[chosen], 0.0), np.where(there, s[chosen], 0.0)
    between = (slice(None), *(None,) * (shares.ndim - 2))
    absorbed = np.sum(shares[..., None] * of_k[between], axis=-2)
    scattered = np.sum(shares[..., None] * of_s[between], axis=-2)
    x = absorbed / np.maximum(scattered, 1e-12)
    layer = 1 / (1 + x + np.sqrt(x * x + 2 * x))
    return outside(layer) if surface else layer


def _reflectance_like(target: Floats, k: Floats, s: Floats, viewer: Viewer, *, surface: bool) -> Floats:
    """Reflectances that look like the target: for three channels the only ones, for a spectrum the flattest near it."""
    xyz = xyz_of(target)
    channels = k.shape[1]
    flat = np.full(channels, xyz[1])
    like = viewer.shine + flat + np.linalg.pinv(viewer.weights) @ (xyz - viewer.weights @ flat)
    low = 0.0405 if surface else 0.002
    like = np.clip(like, low, 0.995)
    if surface:
        like = (like - 0.04) / (1 - 0.04 - 0.6 * (1 - like))
    return np.asarray(np.clip(like, 0.001, 0.995))


def _guessed(chosen: Floats, k: Floats, s: Floats, like: Floats, viewer: Viewer) -> Floats:
    """For each choice the shares where K - x S is least, weighed by what the eye makes of each channel."""
    x = (1 - like) ** 2 / (2 * like)
    # How much R moves with x, and the eye with R: what counts of a channel.
    moves = like / np.sqrt(x * x + 2 * x + 1e-9)
    counts = moves * np.sqrt(np.sum(viewer.weights**2, axis=0)) / np.cbrt(np.maximum(like, 0.01)) ** 2
    rows = (k - x * s) * counts
    there = chosen >= 0
    a = np.where(there[..., None], rows[chosen], 0.0)
    gram = a @ a.swapaxes(-1, -2)
    wide = chosen.shape[1]
    scale = np.maximum(np.trace(gram, axis1=-2, axis2=-1), 1e-12)[:, None, None]
    gram = gram + np.eye(wide) * scale * 1e-9 + np.where(there, 0.0, 1.0)[..., None] * np.eye(wide) * scale * 1e6
    shares = np.full(chosen.shape, 1.0) * there
    shares /= shares.sum(axis=1, keepdims=True)
    # Multiplicative steps keep shares above nothing; the sum is held to one.
    lipschitz = np.trace(gram * there[:, None, :] * there[:, :, None], axis1=-2, axis2=-1)[:, None]
    for _ in range(GUESSING):
        slope = np.einsum("cij,cj->ci", gram, shares)
        shares = shares * np.exp(-8 * slope / lipschitz) * there
        shares /= np.maximum(shares.sum(axis=1, keepdims=True), 1e-300)
    return np.asarray(shares)


def _searched(
    chosen: Floats, guesses: Floats, k: Floats, s: Floats, target: Floats, viewer: Viewer, rounds: int, *, surface: bool
) -> tuple[Floats, Floats]:
    """The shares nearest to the target by CIEDE2000: each choice walks on its own, in steps that shrink."""
    wide = chosen.shape[1]
    there = chosen >= 0
    logs = np.log(np.maximum(guesses, 1e-4))
    moves = np.concatenate([np.eye(wide), -np.eye(wide), np.zeros((1, wide))])
    pairs = [np.eye(wide)[i] - np.eye(wide)[j] for i in range(wide) for j in range(wide) if i != j]
    moves = np.concatenate([moves, np.array(pairs).reshape(-1, wide)])
    steps = np.full(len(chosen), FIRST_STEP)

    def far_of(at: Floats) -> tuple[Floats, Floats]:
        shares = np.exp(at - at.max(axis=-1, keepdims=True)) * there[:, None, :]
        shares = shares / shares.sum(axis=-1, keepdims=True)
        return shares, difference(viewer.lab(_mixed(shares, chosen, k, s, surface=surface)), target)

    every = np.arange(len(chosen))
    for _ in range(rounds):
        tried = np.clip(logs[:, None, :] + steps[:, None, None] * moves, -12, 12)
        _, far = far_of(tried)
        best = np.argmin(far, axis=1)
        logs = tried[every, best]
        logs = logs - logs.max(axis=-1, keepdims=True)
        # Where no step is nearer than staying, the next are half as long.
        stayed = far[every, best] >= far[:, 2 * wide] - 1e-12
        steps = np.where(stayed, steps / 2, steps)
        if np.all(steps < LAST_STEP):
            break
    shares, far = far_of(logs[:, None, :])
    return shares[:, 0], far[:, 0]
