"""Where the paste stands on the wetting scale, with what the eye said of it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from niddy.core import pours, wetting
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.estimate import Z90, Basis
from niddy.core.plan import Facts
from niddy.core.slab.acts import Stage
from niddy.core.slab.binder import additive_excess, binder_g, displaced_g_per_100g, target_now, volume_ml
from niddy.core.slab.paste import Paste
from niddy.core.wetting import Body

LOOK_REDUCED = {
    Body.CRUMBLES: 1.10,
    Body.PUTTY: 1.01,
    Body.STIFF: 0.935,
    Body.TUBE: 0.85,
    Body.SOFT: 0.75,
    Body.LOOSE: 0.64,
    Body.RUNS: 0.54,
}
"""Reduced PVC that a body by eye stands for: the middle of its zone (assumed)."""


LOOK_SD_LN = 0.12
"""Sd of ln OA told by a look at an evenly mulled paste (assumed, as for a batch verdict)."""


STRANGE_LOOK_SDS = 3.0
"""A look this far off is set aside until a second one agrees: a slip of the finger is likelier than such a lot."""


@dataclass(frozen=True, slots=True)
class Reading:
    """The paste on the wetting scale: median, the 90 % range of reduced PVC, and the bodies of both ends."""

    oil_g_per_100g: float
    reduced_pvc: float
    reduced_low: float
    reduced_high: float
    body: Body
    stiffest: Body
    softest: Body
    volume_ml: float
    density_g_per_ml: float


@dataclass(frozen=True, slots=True)
class Match:
    """One look at even paste against what was expected of it: `sds` above 0 means stiffer than expected."""

    seen: Body
    expected: Body
    sds: float
    counted: bool


def body_wanted(paste: Paste, facts: Facts) -> Body:
    """The body the eye should find at the target, what is stirred in counted."""
    return wetting.body_at(target_now(paste, facts) + additive_excess(paste.additives.values(), paste.pigment_g))


def _weighed_looks(paste: Paste, facts: Facts) -> tuple[float, float, tuple[Match, ...]]:
    """Mean and precision of ln OA after the looks, and how each look matched what was known before it."""
    precision = 1 / max(facts.demand_sd_ln, 1e-6) ** 2
    mean = math.log(facts.oil_absorption_g_per_100g)
    matches: list[Match] = []
    aside: tuple[float, float] | None = None
    for look in paste.looks:
        if look.stage is not Stage.EVEN_PASTE or look.body is None or not look.oil_g_per_100g:
            continue
        excess = _excess(look.mulled_min, facts) + additive_excess(look.additives, look.pigment_g)
        bound = look.oil_g_per_100g
        if look.additives and look.pigment_g > 0:
            bound += 100 * binder_g(0.0, look.additives, facts) / look.pigment_g
        implied = wetting.implied_oil_absorption(
            bound, LOOK_REDUCED[look.body] - excess, facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )  # fmt: skip
        if implied <= 0:
            continue
        said = math.log(implied)
        sds = (said - mean) / math.sqrt(1 / precision + LOOK_SD_LN**2)
        expected = wetting.body_at(
            wetting.reduced_at(bound, math.exp(mean), facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
            + excess
        )
        strange = abs(sds) > STRANGE_LOOK_SDS
        agreed = strange and aside is not None and aside[0] * sds > 0
        for told in (aside[1], said) if agreed and aside is not None else () if strange else (said,):
            mean = (mean * precision + told / LOOK_SD_LN**2) / (precision + 1 / LOOK_SD_LN**2)
            precision += 1 / LOOK_SD_LN**2
        aside = (sds, said) if strange and not agreed else None
        matches.append(Match(look.body, expected, sds, not strange or agreed))
    return mean, precision, tuple(matches)


def _excess(mulled_min: float | None, facts: Facts) -> float:
    """By how much reduced PVC reads too high for want of mulling; nothing where nobody kept time."""
    return 0.0 if mulled_min is None else pours.reading_excess(mulled_min, facts.tau_min)


def matches(paste: Paste, facts: Facts) -> tuple[Match, ...]:
    """How each look at even paste agreed with what the model expected at its moment, oldest first."""
    return _weighed_looks(paste, facts)[2]


def repeated_mismatch(paste: Paste, facts: Facts) -> str:
    """In words, where the last two looks or more were outside what was expected, on the same side; else empty."""
    off = 0.0
    run = 0
    for match in reversed(matches(paste, facts)):
        if abs(match.sds) < Z90 or off * match.sds < 0:
            break
        off, run = match.sds, run + 1
    if run < 2:
        return ""
    side = "stiffer" if off > 0 else "softer"
    cause = "more oil or less powder is in" if off < 0 else "less oil or more powder is in"
    return f"{run} looks running it was {side} than its figures. Perhaps {cause} than is logged, or this lot differs."


def demand_now(paste: Paste, facts: Facts) -> tuple[float, float, Basis]:
    """Oil absorption in this oil (median), sd of its logarithm and basis, after the looks at even paste.

    A look says the demand that makes the ratio stand at the body seen; records weigh by 1/sd^2. A look
    more than three sds off waits for a second that agrees.
    """
    mean, precision, seen = _weighed_looks(paste, facts)
    basis = Basis.LEARNED if any(match.counted for match in seen) else Basis.LIBRARY
    return math.exp(mean), math.sqrt(1 / precision), basis


def read(paste: Paste, facts: Facts) -> Reading | None:
    """Where the paste stands now, or None while there is no powder."""
    ratio = paste.oil_g_per_100g
    if ratio is None:
        return None
    absorption, sd_ln, _ = demand_now(paste, facts)
    factor = math.exp(Z90 * sd_ln)

    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g

    def reduced(oil_absorption: float) -> float:
        return wetting.reduced_at(bound, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

    volume = volume_ml(paste, facts)
    return Reading(
        ratio,
        reduced(absorption),
        reduced(absorption / factor),
        reduced(absorption * factor),
        wetting.body_at(reduced(absorption)),
        wetting.body_at(reduced(absorption * factor)),
        wetting.body_at(reduced(absorption / factor)),
        volume,
        paste.total_g / volume,
    )


def target_ratio(paste: Paste, facts: Facts) -> float:
    """The ratio aimed at, with the demand as it is known now."""
    absorption, _, _ = demand_now(paste, facts)
    return ratio_aimed_at(paste, facts, absorption)


def ratio_aimed_at(paste: Paste, facts: Facts, absorption: float) -> float:
    """The ratio of oil in the paste that an oil absorption asks for, additives in it and to come counted as binder."""
    bound = wetting.ratio_at(
        target_now(paste, facts), absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    return bound - displaced_g_per_100g(paste, facts)


def ladder_now(paste: Paste, facts: Facts) -> tuple[pours.Pour, ...]:
    """The rungs for the powder that is really in, cumulative from the first gram of oil."""
    if paste.pigment_g <= 0:
        return ()
    absorption, sd_ln, _ = demand_now(paste, facts)
    rungs = pours.ladder(
        paste.pigment_g, absorption, sd_ln, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml,
        target_now(paste, facts), facts.smallest_step_g,
    ).pours  # fmt: skip
    displaced = displaced_g_per_100g(paste, facts) * paste.pigment_g / 100
    if not displaced:
        return rungs
    less = [replace(rung, cumulative_g=max(0.0, rung.cumulative_g - displaced)) for rung in rungs]
    before = [0.0, *(rung.cumulative_g for rung in less)]
    return tuple(replace(rung, step_g=rung.cumulative_g - poured) for rung, poured in zip(less, before, strict=False))


def beyond_ladder(paste: Paste, facts: Facts) -> bool:
    """Whether more oil is in than even the last rung calls for."""
    rungs = ladder_now(paste, facts)
    return bool(rungs) and paste.oil_g > rungs[-1].cumulative_g * (1 + NEAR_ENOUGH)
