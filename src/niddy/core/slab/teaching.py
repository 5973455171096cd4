"""What a batch teaches of its powder, and what believing the eye costs."""

from __future__ import annotations

import math

from niddy.core import evidence, wetting
from niddy.core.evidence import LookAt, Taught
from niddy.core.slab.acts import Verdict
from niddy.core.slab.knowledge import Knowledge
from niddy.core.slab.paste import last_even_look
from niddy.core.wetting import Body


def taught(known: Knowledge, verdict: Verdict) -> Taught | None:
    """What a finished batch teaches of ln OA: its looks, and the verdict as a look where none was made at its end.

    None where it told nothing, an entry is still asked about, or log and looks contradict each other.
    """
    paste, facts = known.paste, known.facts
    ratio = paste.oil_g_per_100g
    if ratio is None or ratio <= 0 or paste.by_eye.reckoned_g or paste.asked or known.doubt is not None:
        return None
    now = known.belief
    if last_even_look(paste) is None:
        order = list(Body)
        place = order.index(known.wanted) + {Verdict.STIFF: -1, Verdict.RIGHT: 0, Verdict.SOFT: 1}[verdict]
        body = order[min(len(order) - 1, max(0, place))]
        last = LookAt.of_body(ratio, body, facts.eye.look_bias, facts.eye.look_sd)
        now = evidence.believe(now.prior, (*known.looks, last), facts.c)
    counted = known.aim.ratio(facts.oil_absorption_g_per_100g) / (known.aim.a * facts.oil_absorption_g_per_100g)
    measuring = counted * math.hypot(paste.powder_sd_ln, paste.oil_sd_ln)
    return evidence.taught(now, known.aim, math.hypot(measuring, paste.widened_sd_ln), facts.eye)


CHECKED_STEP = 0.06
CHECKED_SD_LN = 0.12
"""A spread outside its promise says that reduced PVC lies so far off its target, with so much spread (assumed)."""


def taught_by_check(known: Knowledge, verdict: Verdict) -> Taught | None:
    """What a check between plates teaches of ln OA: no eye is in it. None where no powder would do so."""
    paste, facts = known.paste, known.facts
    ratio = paste.oil_g_per_100g
    if ratio is None or ratio <= 0 or paste.by_eye.reckoned_g:
        return None
    step = {Verdict.STIFF: CHECKED_STEP, Verdict.RIGHT: 0.0, Verdict.SOFT: -CHECKED_STEP}[verdict]
    implied = wetting.implied_oil_absorption(
        ratio, known.aim.reduced + step, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    if implied < evidence.LEAST_ABSORPTION:
        return None
    counted = ratio / (ratio - known.aim.b) if ratio > known.aim.b else 1.0
    measuring = counted * math.hypot(paste.powder_sd_ln, paste.oil_sd_ln)
    return Taught(math.log(implied), math.hypot(CHECKED_SD_LN, measuring), 0.0, measuring)


def widening(known: Knowledge) -> float:
    """The sd of ln OA that makes what the eye said likely: what believing it costs in certainty."""
    now = known.belief
    if not math.isfinite(now.doubt_sds):
        return _WIDE_SD_LN
    return min(_WIDE_SD_LN, now.prior.sd * max(1.0, abs(now.doubt_sds)))


_WIDE_SD_LN = 0.7
"""Where nothing fits, the oil absorption may be half or double."""
