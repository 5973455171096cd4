"""A maker's eye: what it says of a body against the truth, as bias and spread of reduced PVC."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from niddy.core.errors import Refused, within
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.evidence import ZONE_REDUCED
from niddy.core.figure import Figure, Input, Working
from niddy.core.wetting import SCALE_REDUCED_DRY, Body, body_at

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


BODY_WIDTH = ZONE_REDUCED[Body.TUBE][1] - ZONE_REDUCED[Body.TUBE][0]
"""How much reduced PVC tube body spans: what "a body" is where something is said to be so many bodies off."""

OF_A_BODY = "of a body"
"""The unit of a difference told in bodies."""

SMALL_BODIES = 0.1
"""A lean below this share of a body is none that anybody could see."""

_SHARES = (
    (0.15, "a tenth of a body"),
    (0.29, "a quarter of a body"),
    (0.42, "a third of a body"),
    (0.58, "half a body"),
    (0.85, "three quarters of a body"),
    (1.2, "a whole body"),
    (1.7, "a body and a half"),
)


@dataclass(frozen=True, slots=True)
class Stretch:
    """A body as a stretch of the scale, from its stiff edge to its soft one, in reduced PVC."""

    body: Body
    stiff_edge: float
    soft_edge: float


SCALE = tuple(
    Stretch(body, min(high, SCALE_REDUCED_DRY), low if math.isfinite(low) else RUNS_AT)
    for body, (low, high) in ZONE_REDUCED.items()
)
"""The bodies side by side, the stiffest first."""


def bodies_said(reduced_pvc: float) -> str:
    """A difference of reduced PVC, whichever way, as a share of a body in words."""
    bodies = abs(reduced_pvc) / BODY_WIDTH
    return next((says for below, says in _SHARES if bodies < below), f"{bodies:.0f} bodies")


NEAR = 0.2
"""Within this share of its stretch from an edge a paste is close to the next body."""


def place_said(reduced_pvc: float) -> str:
    """Where a paste lies: its body, and the one it is close to where it is near an edge."""
    body = body_at(reduced_pvc)
    place = list(Body).index(body)
    stretch = SCALE[place]
    near = NEAR * (stretch.stiff_edge - stretch.soft_edge)
    if place > 0 and stretch.stiff_edge - reduced_pvc < near:
        return f"{body}, close to {SCALE[place - 1].body}"
    if place + 1 < len(SCALE) and reduced_pvc - stretch.soft_edge < near:
        return f"{body}, close to {SCALE[place + 1].body}"
    return str(body)


def bias_sd(eye: Eye, judgements: int) -> float:
    """How surely a bias is known after so many judgements: its sd, in reduced PVC."""
    return math.sqrt(1 / (1 / BIAS_SD**2 + judgements / max(eye.sd, EYE_SD / 2) ** 2))


def leans_said(eye: Eye, judgements: int) -> str:
    """Which way an eye leans, in words."""
    if not judgements:
        return "Your eye is not known yet."
    if abs(eye.bias) < SMALL_BODIES * BODY_WIDTH:
        return "Your eye is even: neither stiffer nor softer."
    return f"You call pastes {'stiffer' if eye.bias > 0 else 'softer'} than they are, by {bodies_said(eye.bias)}."


def leans(eye: Eye, judgements: int) -> Figure:
    """How far an eye leans, in bodies, stiffer above zero; with how surely that is known."""
    sd = bias_sd(eye, judgements)
    told = Estimate(
        eye.bias / BODY_WIDTH,
        (eye.bias - Z90 * sd) / BODY_WIDTH,
        (eye.bias + Z90 * sd) / BODY_WIDTH,
        _basis(judgements),
    )
    working = Working(
        "n x mean / (n + 0.06² / 0.05²), as a share of a body",
        (*_inputs(judgements), Input("lean", eye.bias, "reduced PVC"), Input("a body", BODY_WIDTH, "reduced PVC")),
        "few judgements are drawn to an eye that leans neither way",
        "90 %, from the spread and how many there are",
    )
    return Figure.of("Leans by", told, OF_A_BODY, 2, working)


def scatters(eye: Eye, judgements: int) -> Figure:
    """How an eye scatters about its lean, as a standard deviation in bodies."""
    working = Working(
        "√((sum of squares about the mean + 4 x 0.06²) / (n - 1 + 4)), as a share of a body",
        (*_inputs(judgements), Input("spread", eye.sd, "reduced PVC"), Input("a body", BODY_WIDTH, "reduced PVC")),
        "an eye nobody knows scatters by 0.06; that counts as four judgements",
    )
    told = Estimate.exact(eye.sd / BODY_WIDTH, _basis(judgements))
    return Figure.of("Scatters by", told, OF_A_BODY, 2, working)


def _basis(judgements: int) -> Basis:
    return Basis.MEASURED if judgements else Basis.ASSUMED


def _inputs(judgements: int) -> tuple[Input, ...]:
    return (Input("n, pastes named", float(judgements), "", _basis(judgements)),)


@dataclass(frozen=True, slots=True)
class Tally:
    """How often a body was named so, and how often as a stiffer or a softer one."""

    body: Body
    right: int
    stiffer: int
    softer: int


def tallies(judgements: Sequence[Judgement]) -> tuple[Tally, ...]:
    """Body by body, the stiffest first, what the pastes of it were called."""
    order = list(Body)
    found = []
    for body in order:
        places = [
            order.index(one.said_body) - order.index(body)
            for one in judgements
            if body_at(one.true_reduced_pvc) is body
        ]
        found.append(Tally(body, places.count(0), sum(n < 0 for n in places), sum(n > 0 for n in places)))
    return tuple(found)
