"""Where the paste stands on the wetting scale, with what the eye said of it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from niddy.core import evidence, pours, telling, wetting
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.estimate import Basis
from niddy.core.evidence import Aim, Belief, LookAt, Taught
from niddy.core.plan import Facts
from niddy.core.slab.acts import Stage, Verdict
from niddy.core.slab.binder import (
    additive_excess,
    binder_g,
    displaced_g_per_100g,
    excess_wanted,
    target_now,
    volume_ml,
)
from niddy.core.slab.paste import Look, Paste, last_even_look
from niddy.core.wetting import Body


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


def body_wanted(paste: Paste, facts: Facts) -> Body:
    """The body the eye should find at the target, what is stirred in counted."""
    return wetting.body_at(target_now(paste, facts) + excess_wanted(paste))


def aim_of(paste: Paste, facts: Facts) -> Aim:
    """What is aimed at."""
    return Aim(target_now(paste, facts), facts.c)


def belief(paste: Paste, facts: Facts) -> Belief:
    """Oil absorption as this maker sees it and as it was counted, after the looks at even paste that count."""
    before = evidence.prior(
        facts.oil_absorption_g_per_100g, math.hypot(facts.demand_sd_ln, paste.widened_sd_ln), aim_of(paste, facts),
        facts.eye, pigment_sd_ln=paste.powder_sd_ln, oil_sd_ln=paste.oil_sd_ln,
    )  # fmt: skip
    looks = tuple(looked for look in paste.looks if (looked := _look_at(look, facts)) is not None)
    return evidence.believe(before, looks, facts.c, facts.eye.look_sd)


def _look_at(look: Look, facts: Facts) -> LookAt | None:
    if look.aside or look.stage is not Stage.EVEN_PASTE or look.body is None or not look.oil_g_per_100g:
        return None
    return LookAt(_bound(look, facts), look.body, look_excess(look, facts), look.answered)


def _bound(look: Look, facts: Facts) -> float:
    assert look.oil_g_per_100g is not None
    if not look.additives or look.pigment_g <= 0:
        return look.oil_g_per_100g
    return look.oil_g_per_100g + 100 * binder_g(0.0, look.additives, facts) / look.pigment_g


def look_excess(look: Look, facts: Facts) -> float:
    """By how much reduced PVC reads too high in a look: unmulled, for what is stirred in, by a practised eye."""
    unmulled = 0.0 if look.mulled_min is None else pours.reading_excess(look.mulled_min, facts.tau_min)
    return unmulled + additive_excess(look.additives, look.pigment_g) + facts.eye.look_bias


def matches(paste: Paste, facts: Facts) -> tuple[Match, ...]:
    """How each independent look at even paste agreed with what was expected at its moment, oldest first."""
    looks = [look for look in paste.looks if _look_at(look, facts) is not None]
    counted = [
        look for n, look in enumerate(looks)
        if n + 1 == len(looks) or not math.isclose(_bound(look, facts), _bound(looks[n + 1], facts), rel_tol=1e-9)
    ]  # fmt: skip
    return tuple(
        Match(look.body, gap.expected, gap.sds)
        for look, gap in zip(counted, belief(paste, facts).gaps, strict=True)
        if look.body is not None
    )


@dataclass(frozen=True, slots=True)
class Doubt:
    """Looks and log contradict each other: what was seen, on which side, and whether it cannot be at all."""

    stiffer: bool
    impossible: bool
    says: str


def doubt(paste: Paste, facts: Facts) -> Doubt | None:
    """What is doubted of the log and the eye together, or None."""
    if paste.by_eye.reckoned_g:
        return None
    now = belief(paste, facts)
    if _flooded(paste, facts, now):
        says = "So much oil would make a soup of any powder. Perhaps an amount was entered in another unit."
        return Doubt(False, True, says)
    if not now.in_doubt:
        return None
    impossible = any(gap.impossible for gap in now.gaps)
    stiffer = now.doubt_sds > 0 and not impossible
    if impossible:
        says = "No powder looks like this with so little oil. Something that is logged, or that was seen, is wrong."
    else:
        side = "stiffer" if stiffer else "softer"
        cause = "less oil or more powder is in" if stiffer else "more oil or less powder is in"
        says = f"It looks {side} than it can be by the log. Perhaps {cause} than is logged, or this is another powder."
    return Doubt(stiffer, impossible, says)


def taught(paste: Paste, facts: Facts, verdict: Verdict) -> Taught | None:
    """What a finished batch teaches of ln OA: its looks, and the verdict as a look where none was made at its end.

    None where it told nothing, or log and looks contradict each other.
    """
    ratio = paste.oil_g_per_100g
    if ratio is None or ratio <= 0 or paste.by_eye.reckoned_g or doubt(paste, facts) is not None:
        return None
    now = belief(paste, facts)
    if last_even_look(paste) is None:
        order = list(Body)
        place = order.index(body_wanted(paste, facts))
        place += {Verdict.STIFF: -1, Verdict.RIGHT: 0, Verdict.SOFT: 1}[verdict]
        body = order[min(len(order) - 1, max(0, place))]
        looks = tuple(looked for look in paste.looks if (looked := _look_at(look, facts)) is not None)
        looks = (*looks, LookAt(ratio, body, facts.eye.look_bias))
        now = evidence.believe(now.prior, looks, facts.c, facts.eye.look_sd)
    aim = aim_of(paste, facts)
    counted = aim.ratio(facts.oil_absorption_g_per_100g) / (aim.a * facts.oil_absorption_g_per_100g)
    measuring = counted * math.hypot(paste.powder_sd_ln, paste.oil_sd_ln)
    return evidence.taught(now, aim, math.hypot(measuring, paste.widened_sd_ln), facts.eye)


CHECKED_STEP = 0.06
CHECKED_SD_LN = 0.12
"""A spread outside its promise says that reduced PVC lies so far off its target, with so much spread (assumed)."""


def taught_by_check(paste: Paste, facts: Facts, verdict: Verdict) -> Taught | None:
    """What a check between plates teaches of ln OA: no eye is in it. None where no powder would do so."""
    ratio = paste.oil_g_per_100g
    if ratio is None or ratio <= 0 or paste.by_eye.reckoned_g:
        return None
    step = {Verdict.STIFF: CHECKED_STEP, Verdict.RIGHT: 0.0, Verdict.SOFT: -CHECKED_STEP}[verdict]
    implied = wetting.implied_oil_absorption(
        ratio, target_now(paste, facts) + step, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    if implied < evidence.LEAST_ABSORPTION:
        return None
    counted = ratio / (ratio - aim_of(paste, facts).b) if ratio > aim_of(paste, facts).b else 1.0
    measuring = counted * math.hypot(paste.powder_sd_ln, paste.oil_sd_ln)
    return Taught(math.log(implied), math.hypot(CHECKED_SD_LN, measuring), 0.0)


def fits(paste: Paste, facts: Facts, *, oil_g: float = 0.0, pigment_g: float = 0.0) -> bool:
    """Whether the last look would agree with what is known, had so much more (or less) of the two gone in."""
    look = next((look for look in reversed(paste.looks) if _look_at(look, facts) is not None), None)
    powder, oil = paste.pigment_g + pigment_g, paste.oil_g + oil_g
    if powder <= 0 or oil <= 0 or paste.pigment_g <= 0 or paste.oil_g <= 0:
        return False
    if look is None:
        reduced = (facts.oil_absorption_g_per_100g + facts.c) / (100 * oil / powder + facts.c)
        return _SENSIBLE_REDUCED[0] < reduced < _SENSIBLE_REDUCED[1]
    seen = _look_at(look, facts)
    assert seen is not None
    ratio = seen.ratio * (oil / paste.oil_g) * (paste.pigment_g / powder)
    before = belief(paste, facts).prior
    after = evidence.believe(before, (evidence.LookAt(ratio, seen.body, seen.excess),), facts.c, facts.eye.look_sd)
    return not after.in_doubt


_SENSIBLE_REDUCED = (0.6, 1.6)
"""Between these a session may well stand where nothing was looked at yet."""

FLOODED_REDUCED = 0.40
"""Below this by the most that the powder could take, no paste was ever meant: an entry is asked about at once."""


def _flooded(paste: Paste, facts: Facts, now: Belief) -> bool:
    if paste.pigment_g <= 0 or paste.oil_g <= 0 or math.isclose(paste.oil_g, paste.answered_oil_g, rel_tol=0.01):
        return False
    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g
    return (now.quantile(0.95) + facts.c) / (bound + facts.c) < FLOODED_REDUCED


def widening(paste: Paste, facts: Facts) -> float:
    """The sd of ln OA that makes what the eye said likely: what believing it costs in certainty."""
    now = belief(paste, facts)
    if not math.isfinite(now.doubt_sds):
        return _WIDE_SD_LN
    return min(_WIDE_SD_LN, now.prior.sd * max(1.0, abs(now.doubt_sds)))


_WIDE_SD_LN = 0.7
"""Where nothing fits, the oil absorption may be half or double."""


def demand_now(paste: Paste, facts: Facts) -> tuple[float, float, Basis]:
    """Oil absorption in this oil as seen and counted (median), sd of its logarithm and basis, after the looks."""
    now = belief(paste, facts)
    return now.quantile(0.5), now.sd if now.looked else now.prior.sd, Basis.LEARNED if now.looked else Basis.LIBRARY


def absorption_seen(paste: Paste, facts: Facts) -> float:
    """Oil absorption that agrees with the last look here: what every way back is computed from.

    Where the look says another body than all that is known, the look is believed to the near edge of its zone.
    """
    absorption, _, _ = demand_now(paste, facts)
    look = last_even_look(paste)
    if look is None or look.body is None or not look.oil_g_per_100g:
        return absorption
    low, high = evidence.ZONE_REDUCED[look.body]
    excess, bound = look_excess(look, facts), _bound(look, facts) + facts.c
    least = (low - excess) * bound - facts.c if math.isfinite(low) else 0.0
    most = (high - excess) * bound - facts.c if math.isfinite(high) else math.inf
    return max(evidence.LEAST_ABSORPTION, min(max(absorption, least), most))


def read(paste: Paste, facts: Facts) -> Reading | None:
    """Where the paste stands now, or None while there is no powder."""
    ratio = paste.oil_g_per_100g
    if ratio is None:
        return None
    now = belief(paste, facts)
    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g
    excess = additive_excess(paste.additives.values(), paste.pigment_g)

    def reduced(oil_absorption: float) -> float:
        return wetting.reduced_at(bound, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

    middle = reduced(absorption_seen(paste, facts))
    low, high = (reduced(now.quantile(share)) for share in (0.05, 0.95))
    low, high = min(low, middle), max(high, middle)
    volume = volume_ml(paste, facts)
    return Reading(
        ratio,
        middle,
        low,
        high,
        wetting.body_at(middle + excess),
        wetting.body_at(high + excess),
        wetting.body_at(low + excess),
        volume,
        paste.total_g / volume,
    )


def target_ratio(paste: Paste, facts: Facts) -> float:
    """The ratio aimed at, with the demand as it is known now."""
    return ratio_aimed_at(paste, facts, absorption_seen(paste, facts))


def ratio_aimed_at(paste: Paste, facts: Facts, absorption: float) -> float:
    """The ratio of oil in the paste that an oil absorption asks for, additives in it and to come counted as binder."""
    bound = wetting.ratio_at(
        target_now(paste, facts), absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    return bound - displaced_g_per_100g(paste, facts)


def to_the_middle_g(paste: Paste, facts: Facts) -> float:
    """Oil that brings a paste right at the stiff side of its body to the middle of it; 0 below 1 % of the ratio."""
    ratio, look = paste.oil_g_per_100g, last_even_look(paste)
    if ratio is None or ratio <= 0 or look is None or look.body is None:
        return 0.0
    low, high = evidence.ZONE_REDUCED[look.body]
    if not (math.isfinite(low) and math.isfinite(high)):
        return 0.0
    absorption = absorption_seen(paste, facts)
    middle = (low + high) / 2 - additive_excess(paste.additives.values(), paste.pigment_g)
    bound = wetting.ratio_at(middle, absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
    more = bound - 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g
    return more * paste.pigment_g / 100 if more / ratio >= AT_THE_STIFF_SIDE else 0.0


AT_THE_STIFF_SIDE = 0.01
"""From so much of the ratio on it is worth a word that the middle of the body wants a little more oil."""


_asked_last: tuple[Paste, Facts, tuple[pours.Pour, ...]] | None = None


def ladder_now(paste: Paste, facts: Facts) -> tuple[pours.Pour, ...]:
    """The rungs for the powder that is really in, cumulative from the first gram of oil.

    One screen asks four times for the same paste, so that the last answer is kept.
    """
    global _asked_last
    last = _asked_last
    if last is not None and last[0] is paste and last[1] is facts:
        return last[2]
    found = _ladder(paste, facts)
    _asked_last = paste, facts, found
    return found


def _ladder(paste: Paste, facts: Facts) -> tuple[pours.Pour, ...]:
    if paste.pigment_g <= 0:
        return ()
    now, aim = belief(paste, facts), aim_of(paste, facts)
    displaced = displaced_g_per_100g(paste, facts)
    if now.looked:
        needed = {share: aim.ratio(now.quantile(share)) for share in pours.QUANTILES}
    else:
        seen = evidence.prior(facts.oil_absorption_g_per_100g, math.hypot(facts.demand_sd_ln, paste.widened_sd_ln),
                              aim, facts.eye)  # fmt: skip
        needed = {
            share: evidence.needed(seen, aim, share, paste.powder_sd_ln, paste.oil_sd_ln) for share in pours.QUANTILES
        }
    wanted = [(share, max(0.0, (ratio - displaced) * paste.pigment_g / 100)) for share, ratio in needed.items()]
    smallest_g = max(pours.SMALLEST_STEP_G, facts.smallest_step_g)
    return telling.pourable(wanted, smallest_g, facts.oil_density_g_per_ml, facts.habit)


def beyond_ladder(paste: Paste, facts: Facts) -> bool:
    """Whether more oil is in than even the last rung calls for."""
    rungs = ladder_now(paste, facts)
    return bool(rungs) and paste.oil_g > rungs[-1].cumulative_g * (1 + NEAR_ENOUGH)
