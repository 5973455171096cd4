"""A dish that dries: its dry weight before it is dry, and when what is left in it is little enough.

It may fall as an exponential, hold some back for long, or dry at a constant rate until it falls: `core/falling.py`
sums over all of these. Cakes of sludge and of pigment made here dry alike.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from niddy.core.errors import MAX_MASS_G, Refused, within
from niddy.core.estimate import Estimate
from niddy.core.falling import Fallen, Grid, Pace, Shape, fallen
from niddy.core.sludge.signs import Judged, likelihood

TAU_H, TAU_SD_LN = 30.0, 0.9
"""What dishes are taken for before any weighing: the time in which two thirds of what leaves has left (assumed)."""

DRY_SHARE, DRY_SHARE_SD_LN = 0.45, 0.6
"""The dry weight as a share of the first weighing, before any other, and the sd of its logarithm (assumed)."""

LEAST_ERROR_G, ERROR_SHARE, LEFT_ERROR_SHARE = 0.1, 0.003, 0.006
"""What a weighing may be off: the larger of the two, and what no curve says of what has left (assumed)."""

TUBING_RESIDUAL = 0.03
"""So little solvent, as a share of the whole, may be tubed (assumed)."""

SURE = 0.9
"""It is dry enough where it is so in nine cases of ten."""

CONSTANT_WITHIN = 0.005
A_DAY_H = 24.0
LEAST_READINGS = 3
RISE = 0.02
"""A weighing so much above the one before is no drying: something was added."""

_WITHIN_SD = 3.5
_SOONEST_H, _LATEST = 6.0, 28
"""Another weighing is proposed no sooner than six hours on, and within a week."""


@dataclass(frozen=True, slots=True)
class Weighing:
    """One weighing of a dish: hours from the start, g."""

    hours: float
    g: float


@dataclass(frozen=True, slots=True)
class DryDown:
    """What weighings say: dry weight in g, tau in h, what is left now, hours from the start to the target.

    `tau_h` is of the exponential part; `shape` says how likely each way of falling is, `enough` how likely it is that
    no more is left than the target by the last weighing or look, `weigh_again_h` when one more weighing would tell
    most, from the start. `constant` is whether two weighings a day apart agree.
    """

    dry_g: Estimate
    tau_h: Estimate
    residual_now: float
    hours_to_target: Estimate
    constant: bool
    residual: Estimate
    enough: float
    weigh_again_h: float
    shape: Mapping[Shape, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Sign:
    """How dry a dish was judged to be, so many hours from its first weighing."""

    hours: float
    judged: Judged


def mass_at(hours: float, start_g: float, dry_g: float, tau_h: float) -> float:
    """What a dish weighs after so many hours, where it dries as an exponential."""
    return dry_g + (start_g - dry_g) * math.exp(-hours / tau_h)


def drydown(
    readings: list[Weighing],
    tare_g: float = 0.0,
    target_residual: float = TUBING_RESIDUAL,
    *,
    tau_h: float = TAU_H,
    tau_sd_ln: float = TAU_SD_LN,
    sign: Sign | None = None,
) -> DryDown:
    """What a dish's weighings say, and what was smelled and felt of it since, as a weaker reading of the same fall.

    `tau_h` and its sd are the studio's own once it has dishes enough. Raises Refused naming the reading.
    """
    within("target_residual", target_residual, 0.0001, 0.9)
    return _down(tuple(readings), tare_g, target_residual, tau_h, tau_sd_ln, sign)


@lru_cache(maxsize=512)
def _down(
    readings: tuple[Weighing, ...],
    tare_g: float,
    target_residual: float,
    tau_h: float,
    tau_sd_ln: float,
    sign: Sign | None,
) -> DryDown:
    """Worked out once: a dish is looked at far more often than it is weighed."""
    hours, grams = _checked(readings, tare_g)
    fit = _fitted(hours, grams, tau_h, tau_sd_ln)
    last = float(hours[-1])
    fit = _with_sign(fit, sign)
    last = max(last, sign.hours if sign is not None else 0.0)
    to_target = fit.until(target_residual * fit.end / ((1 - target_residual) * np.maximum(fit.fall, 1e-9)))
    left = 1 - fit.end / fit.at(last)
    residual = fit.estimate(np.clip(left, 0, 1))
    later = (last + _SOONEST_H * np.arange(1, _LATEST + 1)).astype(np.float64)
    again = fit.read_next(np.log(to_target + 1), later, _error(fit.at(0.0).max() * np.ones_like(later)))
    return DryDown(
        fit.estimate(fit.end),
        fit.estimate(fit.settles()),
        residual.median,
        fit.estimate(to_target),
        _constant(hours, grams),
        residual,
        fit.likely(left <= target_residual),
        again,
        fit.families(),
    )


@dataclass(frozen=True, slots=True)
class Curve:
    """What a dish weighs over the hours, with the band nine in ten lie in, all in g."""

    hours: tuple[float, ...]
    low_g: tuple[float, ...]
    median_g: tuple[float, ...]
    high_g: tuple[float, ...]


def curve(
    readings: list[Weighing],
    until_h: float,
    points: int = 40,
    *,
    tau_h: float = TAU_H,
    tau_sd_ln: float = TAU_SD_LN,
    sign: Sign | None = None,
) -> Curve:
    """The fitted curve and its band, from the first weighing to so many hours. Raises Refused naming the reading."""
    return _curve(tuple(readings), until_h, points, tau_h, tau_sd_ln, sign)


@lru_cache(maxsize=256)
def _curve(
    readings: tuple[Weighing, ...], until_h: float, points: int, tau_h: float, tau_sd_ln: float, sign: Sign | None
) -> Curve:
    """Drawn once: it is looked at far more often than anything is weighed."""
    fit = _with_sign(_fitted(*_checked(readings, 0.0), tau_h, tau_sd_ln), sign)
    hours = tuple(float(hour) for hour in np.linspace(0.0, until_h, points))
    found = [fit.estimate(fit.at(hour)) for hour in hours]
    return Curve(
        hours, tuple(one.low for one in found), tuple(one.median for one in found), tuple(one.high for one in found)
    )


def _error(grams: Grid) -> Grid:
    return np.maximum(LEAST_ERROR_G, ERROR_SHARE * grams)


def _fitted(hours: Grid, grams: Grid, tau_h: float, tau_sd_ln: float) -> Fallen:
    error = np.hypot(_error(grams), LEFT_ERROR_SHARE * (grams[0] - grams))
    far = math.exp(_WITHIN_SD * tau_sd_ln)
    pace = Pace(tau_h, tau_sd_ln, tau_h / far, tau_h * far)
    return fallen(hours, grams, error, pace, DRY_SHARE, DRY_SHARE_SD_LN)


def _with_sign(fit: Fallen, sign: Sign | None) -> Fallen:
    """The fit with what a nose, paper and knife say of what is left at that hour."""
    if sign is None or sign.hours <= 0:
        return fit
    left = np.clip(1 - fit.end / fit.at(sign.hours), 1e-4, 1 - 1e-4)
    weight = fit.weight * likelihood(sign.judged, left)
    return replace(fit, weight=weight / weight.sum())


def _checked(readings: Sequence[Weighing], tare_g: float) -> tuple[Grid, Grid]:
    if len(readings) < LEAST_READINGS:
        raise Refused("readings", f"{len(readings)} of them", f"{LEAST_READINGS} weighings or more")
    within("tare_g", tare_g, 0, MAX_MASS_G, "g")
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


def _constant(hours: Grid, grams: Grid) -> bool:
    """Whether the last weighing and one at least a day before it agree."""
    before = grams[hours <= hours[-1] - A_DAY_H]
    return bool(len(before)) and bool(abs(grams[-1] / before[-1] - 1) <= CONSTANT_WITHIN)
