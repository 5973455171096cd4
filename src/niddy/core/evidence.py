"""What the log, the scale and the eye say together: oil demand as this maker sees it, on a grid.

A body by eye says that the reduced PVC seen lies between its zone's limits. What is seen is the truth and a bias of
the maker's own, the same in all their looks. With c = 100 rho_o / rho_p a look depends on one figure alone,
OA_seen = OA + bias (r + c), since reduced PVC = (OA_seen + c) / (r + c). Oil absorption is in the oil at hand, in g for
each 100 g as counted: an error in counting the powder or the oil is in it too.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from niddy.core import pours
from niddy.core.wetting import BODY_LOWEST_REDUCED, Body, body_at

EYE_SD = 0.04
"""Blur of one look, in reduced PVC (assumed; a maker's own once it is known)."""

EYE_BIAS_SD = 0.03
"""Sd of a maker's bias in reduced PVC, before anything is known of it (assumed)."""

DOUBT_SDS = 2.5
"""Beyond so many sd looks and log contradict each other: their sum, over the root of how many are independent."""

UNSETTLED_SD = 0.08
"""Blur of a look at paste into which new oil is not worked yet: it looks wetter than it is (assumed)."""

STAGE_SD = 0.06
"""Blur of a stage short of even paste, in reduced PVC, for paste folded in (assumed)."""

DUST_FROM, CRUMBS_FROM, CURDS_FROM, CURDS_TO = 1.15, 0.98, 0.88, 1.10
"""What dust, crumbs and curds say of reduced PVC with its excess (assumed)."""

LEAST_ABSORPTION = 3.0
"""No powder takes less oil than this, in g for each 100 g: a look that needs less contradicts the log."""

_POINTS = 401
_REACH_SDS = 6.0
_LEAST_SD = 0.004

_EDGES = (math.inf, *(lowest for _, lowest in BODY_LOWEST_REDUCED), -math.inf)
ZONE_REDUCED: dict[Body, tuple[float, float]] = {
    body: (low, high) for body, low, high in zip(Body, _EDGES[1:], _EDGES, strict=False)
}
"""Limits of reduced PVC between which each body lies."""


@dataclass(frozen=True, slots=True)
class Eye:
    """A maker's eye: bias in reduced PVC with its sd, and its covariance with ln OA of the powder at hand.

    One that was `practised` is known before: looks are corrected by `look_bias` and blurred by `look_sd`, and `bias` is
    what may be left; `demand_shift_ln` is what that knowledge changes in ln OA of the powder.
    """

    bias: float = 0.0
    bias_sd: float = EYE_BIAS_SD
    covariance: float = 0.0
    look_bias: float = 0.0
    look_sd: float = EYE_SD
    practised: bool = False
    demand_shift_ln: float = 0.0

    @property
    def says(self) -> str:
        """What is done with an eye that practice knows, in words; empty for any other."""
        if not self.practised:
            return ""
        lean = f"{abs(self.look_bias):.2f} {'too stiff' if self.look_bias > 0 else 'too soft'}"
        seen = f"sees {lean}" if abs(self.look_bias) >= 0.005 else "leans neither way"
        return f"Your eye from practice {seen}, give or take {self.look_sd:.2f}: looks are corrected by it."


UNKNOWN_EYE = Eye()


def practised(eye: Eye, bias: float, bias_sd: float, sd: float) -> Eye:
    """An eye as its batches taught it, once practice knows its bias (with the sd of that) and the spread of a look.

    What the batches said (their posterior with the prior divided out) and practice are put together; what is left
    beyond the correction is small, and what it changes in the demand learned follows by the covariance.
    """
    precision = 1 / eye.bias_sd**2 - 1 / EYE_BIAS_SD**2 + 1 / bias_sd**2
    mean = (eye.bias / eye.bias_sd**2 + bias / bias_sd**2) / precision
    shrunk = 1 / (precision * eye.bias_sd**2)
    shift = eye.covariance / eye.bias_sd**2 * (mean - eye.bias)
    return Eye(mean - bias, math.sqrt(1 / precision), eye.covariance * shrunk, bias, sd, True, shift)


@dataclass(frozen=True, slots=True)
class Aim:
    """What is aimed at: a ratio r = a OA + b at the target, and c = 100 rho_o / rho_p."""

    reduced: float
    c: float

    @property
    def a(self) -> float:
        return 1 / self.reduced

    @property
    def b(self) -> float:
        return self.c * (1 / self.reduced - 1)

    def ratio(self, absorption: float) -> float:
        """The ratio at the target for an oil absorption."""
        return self.a * absorption + self.b


@dataclass(frozen=True, slots=True)
class LookAt:
    """One look that counts: the ratio it was made at (all binder as oil), and what was seen there.

    What was seen lies between `low` and `high` in reduced PVC with `excess` on it, blurred by `sd`. `answered`: it was
    asked about and believed.
    """

    ratio: float
    low: float
    high: float
    excess: float = 0.0
    sd: float = EYE_SD
    answered: bool = False

    @staticmethod
    def of_body(ratio: float, body: Body, excess: float = 0.0, sd: float = EYE_SD, *, answered: bool = False) -> LookAt:
        """A body that was named."""
        return LookAt(ratio, *ZONE_REDUCED[body], excess, sd, answered)


@dataclass(frozen=True, slots=True)
class Gap:
    """A look against what was expected before it: in sd (above 0 stiffer), and the body that was expected.

    `impossible` where no powder could look so at that ratio; `answered` where it was asked about and believed.
    """

    sds: float
    expected: Body
    impossible: bool
    answered: bool = False


@dataclass(frozen=True, slots=True)
class Prior:
    """ln OA as seen and counted, before any look."""

    mean: float
    sd: float


@dataclass(frozen=True)
class Belief:
    """Oil absorption as seen, after the looks: a grid over ln OA with its weights, and how each look agreed."""

    prior: Prior
    ln_absorption: NDArray[np.float64]
    weights: NDArray[np.float64]
    gaps: tuple[Gap, ...]

    @property
    def looked(self) -> bool:
        """Whether any look counted."""
        return any(not gap.impossible for gap in self.gaps)

    @property
    def mean(self) -> float:
        return float(self.weights @ self.ln_absorption)

    @property
    def sd(self) -> float:
        return math.sqrt(max(0.0, float(self.weights @ (self.ln_absorption - self.mean) ** 2)))

    def quantile(self, share: float) -> float:
        """Oil absorption below which it lies with a probability of `share`."""
        if not self.looked:
            return math.exp(self.prior.mean + self.prior.sd * float(ndtri(share)))
        reached = np.cumsum(self.weights) - self.weights / 2
        return float(np.exp(np.interp(share, reached, self.ln_absorption)))

    @property
    def doubt_sds(self) -> float:
        """How far looks and log are apart, in sd over all independent looks; infinite where one is impossible."""
        asked = [gap for gap in self.gaps if not gap.answered]
        if any(gap.impossible for gap in asked):
            return math.inf
        return sum(gap.sds for gap in asked) / math.sqrt(len(asked)) if asked else 0.0

    @property
    def in_doubt(self) -> bool:
        """Whether the looks contradict the log."""
        return abs(self.doubt_sds) > DOUBT_SDS


def prior(
    absorption: float, sd_ln: float, aim: Aim, eye: Eye, *, pigment_sd_ln: float = 0.0, oil_sd_ln: float = 0.0
) -> Prior:
    """ln OA as this maker will see it and as it is counted, from the powder's own ln OA."""
    ratio = aim.ratio(absorption)
    k = (ratio + aim.c) / absorption
    counted = ratio / (aim.a * absorption)
    variance = sd_ln**2 + 2 * k * eye.covariance + (k * eye.bias_sd) ** 2
    variance += counted**2 * (pigment_sd_ln**2 + oil_sd_ln**2)
    mean = math.log(absorption) + eye.demand_shift_ln + k * eye.bias
    return Prior(mean, math.sqrt(max(variance, _LEAST_SD**2)))


def needed(before: Prior, aim: Aim, share: float, pigment_sd_ln: float, oil_sd_ln: float) -> float:
    """The ratio in counted grams that is enough with a probability of `share`; `before` without errors of counting."""
    return pours.needed(aim.a, aim.b, math.exp(before.mean), before.sd, share, pigment_sd_ln, oil_sd_ln)


@lru_cache(maxsize=512)
def believe(before: Prior, looks: tuple[LookAt, ...], c: float) -> Belief:
    """The posterior after the looks, oldest first. Looks at one ratio count once, as the last of them says."""
    xs = np.linspace(before.mean - _REACH_SDS * before.sd, before.mean + _REACH_SDS * before.sd, _POINTS)
    weights = np.exp(-0.5 * ((xs - before.mean) / before.sd) ** 2)
    weights /= weights.sum()
    gaps: list[Gap] = []
    absorption = np.exp(xs)
    for look in independent(looks):
        low, high = look.low, look.high
        bound = look.ratio + c
        if (min(high, 2.0) - look.excess) * bound - c < LEAST_ABSORPTION:
            gaps.append(Gap(math.inf, _expected(absorption, weights, bound, c, look.excess), True, look.answered))
            continue
        seen = (absorption + c) / bound + look.excess
        softer = ndtr((low - seen) / look.sd)
        inside = ndtr((high - seen) / look.sd) - softer
        share = float(weights @ softer + 0.5 * (weights @ inside))
        sds = float(ndtri(min(1 - 1e-9, max(1e-9, share))))
        gaps.append(Gap(sds, _expected(absorption, weights, bound, c, look.excess), False, look.answered))
        after = weights * inside
        whole = after.sum()
        if whole > 1e-300:
            weights = after / whole
    return Belief(before, xs, weights, tuple(gaps))


def independent(looks: tuple[LookAt, ...]) -> list[LookAt]:
    """The looks that count: the last of those at one ratio."""
    last: list[LookAt] = []
    for look in looks:
        if last and math.isclose(last[-1].ratio, look.ratio, rel_tol=1e-9):
            last.pop()
        last.append(look)
    return last


def _expected(
    absorption: NDArray[np.float64], weights: NDArray[np.float64], bound: float, c: float, excess: float
) -> Body:
    middle = float(np.exp(weights @ np.log(absorption)))
    return body_at((middle + c) / bound + excess)


@dataclass(frozen=True, slots=True)
class Taught:
    """What a batch teaches: one observation of ln OA + k x bias, the sd of it, and what of that is counting's."""

    ln_absorption: float
    sd: float
    k: float
    measuring_sd: float = 0.0


def taught(belief: Belief, aim: Aim, measuring_sd: float = 0.0, eye: Eye = UNKNOWN_EYE) -> Taught | None:
    """The likelihood of the looks as a Gaussian: the posterior with the prior divided out; None where it told nothing.

    `measuring_sd` is the sd of counting in ln OA, which is in what was seen and not in the powder. Of looks that were
    corrected by a practised `eye` only what may be left of its bias is in it, as spread.
    """
    if not belief.looked or belief.in_doubt:
        return None
    before, after = 1 / belief.prior.sd**2, 1 / max(belief.sd, _LEAST_SD) ** 2
    precision = after - before
    if precision <= 0.02 * before:
        return None
    mean = (belief.mean * after - belief.prior.mean * before) / precision
    absorption = math.exp(belief.mean)
    k = (aim.ratio(absorption) + aim.c) / absorption
    if eye.practised:
        sd = math.sqrt(1 / precision + measuring_sd**2 + (k * eye.bias_sd) ** 2)
        return Taught(mean - k * eye.bias, sd, 0.0, measuring_sd)
    return Taught(mean, math.sqrt(1 / precision + measuring_sd**2), k, measuring_sd)
