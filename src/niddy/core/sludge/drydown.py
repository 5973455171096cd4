"""A dish that dries: its dry weight before it is dry, and when what is left in it is little enough.

    m(t) = m_dry + (m_0 - m_dry) exp(-t / tau)

Cakes of sludge and of pigment made here dry alike.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from niddy.core.errors import MAX_MASS_G, Refused, within
from niddy.core.estimate import Z90, Basis, Estimate

TAU_H, TAU_SD_LN = 30.0, 0.9
"""What dishes are taken for before any weighing: the time in which two thirds of what leaves has left (assumed)."""

DRY_SHARE, DRY_SHARE_SD = 0.55, 0.25
"""The dry weight as a share of the first weighing, before any other (assumed)."""

LEAST_ERROR_G, ERROR_SHARE = 0.1, 0.003
"""What a weighing may be off: the larger of the two (assumed)."""

TUBING_RESIDUAL = 0.03
"""So little solvent, as a share of the whole, may be tubed (assumed)."""

CONSTANT_WITHIN = 0.005
A_DAY_H = 24.0
LEAST_READINGS = 3
RISE = 0.02
"""A weighing so much above the one before is no drying: something was added."""

_POINTS = 161
_ROUNDS = 3

Grid = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Weighing:
    """One weighing of a dish: hours from the start, g."""

    hours: float
    g: float


@dataclass(frozen=True, slots=True)
class DryDown:
    """What weighings say: dry weight in g, tau in h, what is left now, hours from the start to the target.

    `constant` is whether two weighings a day apart agree; `residual_now` a share of the last weighing.
    """

    dry_g: Estimate
    tau_h: Estimate
    residual_now: float
    hours_to_target: Estimate
    constant: bool


def mass_at(hours: float, start_g: float, dry_g: float, tau_h: float) -> float:
    """What a dish weighs after so many hours."""
    return dry_g + (start_g - dry_g) * math.exp(-hours / tau_h)


def hours_to(residual: float, start_g: float, dry_g: float, tau_h: float) -> float:
    """Hours from the start until what is left is a share of the whole; 0 where it is less from the start."""
    ratio = (start_g - dry_g) * (1 - residual) / (residual * dry_g)
    return tau_h * math.log(ratio) if ratio > 1 else 0.0


def drydown(
    readings: list[Weighing],
    tare_g: float = 0.0,
    target_residual: float = TUBING_RESIDUAL,
    *,
    tau_h: float = TAU_H,
    tau_sd_ln: float = TAU_SD_LN,
) -> DryDown:
    """Fit a dish's weighings with weak priors; `tau_h` and its sd are the studio's own once it has dishes enough.

    The posterior is summed over a grid of dry share and tau that closes in on where it is; the start follows from
    each pair exactly, since the weight is linear in it. Raises Refused naming the reading.
    """
    within("target_residual", target_residual, 0.0001, 0.9)
    return _down(tuple(readings), tare_g, target_residual, tau_h, tau_sd_ln)


@lru_cache(maxsize=512)
def _down(
    readings: tuple[Weighing, ...], tare_g: float, target_residual: float, tau_h: float, tau_sd_ln: float
) -> DryDown:
    """Fitted once: a dish is looked at far more often than it is weighed."""
    fit = _fitted(readings, tare_g, tau_h, tau_sd_ln)
    left = np.maximum(fit.start - fit.dry, 1e-9)
    ratio = left * (1 - target_residual) / (target_residual * fit.dry)
    to_target = np.where(ratio > 1, fit.tau * np.log(np.maximum(ratio, 1.0)), 0.0)
    dry_g = _estimate(fit.dry, fit.weight)
    return DryDown(
        dry_g,
        _estimate(fit.tau, fit.weight),
        max(0.0, (fit.grams[-1] - dry_g.median) / fit.grams[-1]),
        _estimate(to_target, fit.weight),
        _constant(fit.hours, fit.grams),
    )


@dataclass(frozen=True, slots=True)
class Curve:
    """What a dish weighs over the hours, with the band nine in ten lie in, all in g."""

    hours: tuple[float, ...]
    low_g: tuple[float, ...]
    median_g: tuple[float, ...]
    high_g: tuple[float, ...]


def curve(
    readings: list[Weighing], until_h: float, points: int = 40, *, tau_h: float = TAU_H, tau_sd_ln: float = TAU_SD_LN
) -> Curve:
    """The fitted curve and its band, from the first weighing to so many hours. Raises Refused naming the reading."""
    return _curve(tuple(readings), until_h, points, tau_h, tau_sd_ln)


@lru_cache(maxsize=256)
def _curve(readings: tuple[Weighing, ...], until_h: float, points: int, tau_h: float, tau_sd_ln: float) -> Curve:
    """Drawn once: it is looked at far more often than anything is weighed."""
    fit = _fitted(readings, 0.0, tau_h, tau_sd_ln)
    hours = tuple(float(hour) for hour in np.linspace(0.0, until_h, points))
    found = [_estimate(fit.dry + (fit.start - fit.dry) * np.exp(-hour / fit.tau), fit.weight) for hour in hours]
    return Curve(
        hours,
        tuple(one.low or 0.0 for one in found),
        tuple(one.median for one in found),
        tuple(one.high or 0.0 for one in found),
    )


@dataclass(frozen=True, slots=True)
class _Fit:
    """The posterior over a grid: dry weight, tau and start of each pair, and its weight."""

    dry: Grid
    tau: Grid
    start: Grid
    weight: Grid
    hours: Grid
    grams: Grid


def _fitted(readings: Sequence[Weighing], tare_g: float, tau_h: float, tau_sd_ln: float) -> _Fit:
    if len(readings) < LEAST_READINGS:
        raise Refused("readings", f"{len(readings)} of them", f"{LEAST_READINGS} weighings or more")
    within("tare_g", tare_g, 0, MAX_MASS_G, "g")
    hours, grams = _checked(readings, tare_g)
    error = np.maximum(LEAST_ERROR_G, ERROR_SHARE * grams)
    first = grams[0]
    shares, taus = (1e-4, 1 - 1e-4), (math.log(tau_h) - 5 * tau_sd_ln, math.log(tau_h) + 5 * tau_sd_ln)
    for _ in range(_ROUNDS):
        share_axis = np.linspace(*shares, _POINTS)
        tau_axis = np.linspace(*taus, _POINTS)
        weight, start = _posterior(share_axis, tau_axis, hours, grams, error, first, tau_h, tau_sd_ln)
        shares, taus = _closer(share_axis, weight.sum(axis=1)), _closer(tau_axis, weight.sum(axis=0))
    dry = first * share_axis[:, None] + 0 * tau_axis[None, :]
    tau = np.exp(tau_axis)[None, :] + 0 * share_axis[:, None]
    return _Fit(dry, tau, start, weight, hours, grams)


def _checked(readings: Sequence[Weighing], tare_g: float) -> tuple[Grid, Grid]:
    for n, reading in enumerate(readings):
        within(f"readings.{n}.hours", reading.hours, 0, 100_000, "h")
        within(f"readings.{n}.g", reading.g, 0, MAX_MASS_G, "g")
        if reading.g <= tare_g:
            raise Refused(f"readings.{n}.g", f"no more than the tare of {tare_g:g} g", f"above {tare_g:g} g")
        if n and reading.hours <= readings[n - 1].hours:
            raise Refused(f"readings.{n}.hours", "not after the one before", f"more than {readings[n - 1].hours:g} h")
        if n and reading.g - tare_g > (readings[n - 1].g - tare_g) * (1 + RISE) + LEAST_ERROR_G:
            raise Refused(
                f"readings.{n}.g", "heavier than the one before: was something added?", "the weighings since then alone"
            )
    return (
        np.array([reading.hours - readings[0].hours for reading in readings]),
        np.array([reading.g - tare_g for reading in readings]),
    )


def _posterior(
    share_axis: Grid, tau_axis: Grid, hours: Grid, grams: Grid, error: Grid, first: float, tau_h: float, sd_ln: float
) -> tuple[Grid, Grid]:
    """The weight of each pair of dry share and ln tau, and the start that fits it best."""
    fall = np.exp(-hours[None, :] / np.exp(tau_axis)[:, None])
    dry = first * share_axis
    precise = 1 / error**2
    # m = dry (1 - fall) + start fall: for each pair the start is a weighted mean, whose own spread is summed out.
    over = np.einsum("th,h->t", fall**2, precise)
    measured = np.einsum("th,h->t", fall, precise * grams)
    by_dry = np.einsum("th,h->t", fall * (1 - fall), precise)
    start = (measured[None, :] - dry[:, None] * by_dry[None, :]) / over[None, :]
    model = dry[:, None, None] * (1 - fall)[None, :, :] + start[:, :, None] * fall[None, :, :]
    off = np.einsum("sth,h->st", (model - grams) ** 2, precise)
    log = -0.5 * (off + ((tau_axis - math.log(tau_h)) / sd_ln)[None, :] ** 2)
    log -= 0.5 * (((share_axis - DRY_SHARE) / DRY_SHARE_SD)[:, None] ** 2 + np.log(over)[None, :])
    weight = np.exp(log - log.max())
    return weight / weight.sum(), start


def _closer(axis: Grid, mass: Grid) -> tuple[float, float]:
    """Where nearly all of the mass is, with a step to spare on either side."""
    there = np.flatnonzero(mass > mass.max() * 1e-7)
    return float(axis[max(0, there[0] - 1)]), float(axis[min(len(axis) - 1, there[-1] + 1)])


def _estimate(values: Grid, weight: Grid) -> Estimate:
    order = np.argsort(values, axis=None)
    sorted_, mass = values.ravel()[order], weight.ravel()[order]
    # Half of a point's own mass lies below it: without that a coarse axis would shift every quantile by half a step.
    below = np.cumsum(mass) - mass / 2
    low, median, high = (float(np.interp(q, below, sorted_)) for q in (_TAIL, 0.5, 1 - _TAIL))
    return Estimate(median, low, high, Basis.MEASURED)


_TAIL = 0.5 * math.erfc(Z90 / math.sqrt(2))


def _constant(hours: Grid, grams: Grid) -> bool:
    """Whether the last weighing and one at least a day before it agree."""
    before = grams[hours <= hours[-1] - A_DAY_H]
    return bool(len(before)) and abs(grams[-1] / before[-1] - 1) <= CONSTANT_WITHIN
