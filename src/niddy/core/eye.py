"""A maker's eye: what it says of a body against the truth, as bias and spread of reduced PVC."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from niddy.core.errors import Refused, within
from niddy.core.evidence import ZONE_REDUCED
from niddy.core.wetting import SCALE_REDUCED_DRY, Body

EYE_SD, BIAS_SD = 0.06, 0.05
"""The spread of any eye, and of the biases of makers' eyes, before any judgement (assumed)."""

PRIOR_WEIGHT = 4
"""So many judgements the assumed spread counts for."""

RUNS_AT = 0.50
"""The reduced PVC a paste that runs is taken for."""

LEAST_JUDGEMENTS = 8
"""From so many on a maker may let the eye be used at the slab."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """One judgement: the body said, and the reduced PVC it really was."""

    true_reduced_pvc: float
    said_body: Body


@dataclass(frozen=True, slots=True)
class Eye:
    """How far a maker's eye is off, as reduced PVC: too dry where the bias is above zero; and how it scatters."""

    bias: float
    sd: float


def middle_of(body: Body) -> float:
    """The reduced PVC in the middle of a body on the scale; a paste that runs is taken for its wet end."""
    if body is Body.RUNS:
        return RUNS_AT
    low, high = ZONE_REDUCED[body]
    return (low + min(high, SCALE_REDUCED_DRY)) / 2


def eye_of(judgements: Sequence[Judgement]) -> Eye:
    """Bias and spread of some judgements, drawn to what is assumed of any eye. Raises Refused naming the judgement.

    bias = n mean / (n + 0.06^2 / 0.05^2); sd = sqrt((sum (e - mean)^2 + 4 x 0.06^2) / (max(n - 1, 0) + 4)).
    """
    if len(judgements) > 10_000:
        raise Refused("judgements", f"{len(judgements)} of them", "up to 10 000")
    off = []
    for n, one in enumerate(judgements):
        within(f"judgements.{n}.true_reduced_pvc", one.true_reduced_pvc, 0.3, 1.3)
        off.append(middle_of(one.said_body) - one.true_reduced_pvc)
    count = len(off)
    mean = math.fsum(off) / count if count else 0.0
    bias = count * mean / (count + EYE_SD**2 / BIAS_SD**2)
    squares = math.fsum((one - mean) ** 2 for one in off)
    return Eye(bias, math.sqrt((squares + PRIOR_WEIGHT * EYE_SD**2) / (max(count - 1, 0) + PRIOR_WEIGHT)))
