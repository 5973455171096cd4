"""All that is known of the paste on a slab, worked out once: every screen, line and amount is a view of it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from niddy.core import evidence, mulling, pours, telling, wetting
from niddy.core.errors import MAX_OIL_G_PER_100G
from niddy.core.estimate import Basis
from niddy.core.evidence import Aim, Belief, LookAt
from niddy.core.plan import Facts
from niddy.core.pours import Pour
from niddy.core.slab.acts import Stage
from niddy.core.slab.binder import additive_excess, binder_g, displaced_g_per_100g, missing_additive_g, volume_ml
from niddy.core.slab.paste import Look, Paste, dry, last_look_here
from niddy.core.wetting import Body


class Standing(StrEnum):
    """What the last look says of the paste as it is now, against the body wanted. It outranks clock and figures."""

    UNSEEN = "unseen"
    DRY = "dry"
    COARSE = "coarse"
    STIFFER = "stiffer"
    RIGHT = "right"
    WETTER = "wetter"


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


@dataclass(frozen=True, slots=True)
class Doubt:
    """Looks and log contradict each other: what was seen, on which side, and whether it cannot be at all."""

    stiffer: bool
    impossible: bool
    says: str


GOES_OVER = 0.1
"""After a look no pour is told that goes beyond the body wanted in more than this share of all cases."""

LOOSENS_TAU = 0.25
"""Worked for so much of its dispersion time, a paste looks otherwise than before (assumed)."""


def looser(body: Body, than: Body) -> bool:
    """Whether `body` is wetter than `than`."""
    order = list(Body)
    return order.index(body) > order.index(than)


@dataclass(frozen=True)
class Knowledge:
    """What scale, log and eye say together of one paste under its plan. Ask `know` for it."""

    paste: Paste
    facts: Facts

    # What is wanted.

    @cached_property
    def target(self) -> float:
        """The reduced PVC that the body wanted looks like: the maker's, and nothing stirred in moves it."""
        own = self.paste.target_reduced_pvc
        return own if own is not None else self.facts.target_reduced_pvc

    @cached_property
    def wanted(self) -> Body:
        """The body wanted: as chosen on the plan, or by the maker since."""
        return wetting.body_at(self.target)

    @cached_property
    def stiffened(self) -> float:
        """By how much the paste looks stiffer than its oil says, for additives that are in."""
        return additive_excess(self.paste.additives.values(), self.paste.pigment_g)

    @cached_property
    def stiffening_to_come(self) -> float:
        """The same for additives planned, or chosen as a way back, that are still to come."""
        planned = list(self.facts.additives)
        chosen = self.paste.stabiliser
        if chosen is not None:
            planned = [what for what in planned if what.source != chosen.source] + [chosen]
        if self.paste.pigment_g <= 0:
            grams_per_g = sum(what.ln_stress * what.planned_per_g * what.additive_fraction for what in planned)
            return grams_per_g / wetting.LN_STRESS_PER_REDUCED
        to_come = sum(
            what.ln_stress * missing_additive_g(self.paste, what) * what.additive_fraction for what in planned
        )
        return to_come / self.paste.pigment_g / wetting.LN_STRESS_PER_REDUCED

    @cached_property
    def aim(self) -> Aim:
        """What oil is poured for: the body wanted, less what additives do to it."""
        reduced = max(wetting.LEAST_AIM, self.target - self.stiffened - self.stiffening_to_come)
        return Aim(reduced, self.facts.c)

    # What was seen.

    @cached_property
    def look(self) -> Look | None:
        """The last look, if it counts and the paste is still what was looked at."""
        return last_look_here(self.paste)

    @cached_property
    def standing(self) -> Standing:
        """What the look says of the paste as it is."""
        look = self.look
        if look is None or self.paste.pigment_g <= 0:
            return Standing.UNSEEN
        found = self._seen(look)
        # Worked on since, what was too dry then may be right now; right or too wet it stays.
        return Standing.UNSEEN if self.worked_since and found not in (Standing.RIGHT, Standing.WETTER) else found

    def _seen(self, look: Look) -> Standing:
        if look.stage in (Stage.DRY_ISLANDS, Stage.CRUMBS, Stage.WET_CURDS):
            return Standing.DRY
        if look.stage is not Stage.EVEN_PASTE:
            return Standing.COARSE
        if look.body is None:
            return Standing.UNSEEN
        if look.body is self.wanted:
            return Standing.RIGHT
        return Standing.WETTER if looser(look.body, self.wanted) else Standing.STIFFER

    @cached_property
    def worked_since(self) -> bool:
        """Whether the paste was worked so long since it was looked at that it may look otherwise now."""
        look, worked_s = self.look, mulling.worked_s(self.paste.mulling)
        if look is None or worked_s is None:
            return False
        return (worked_s - (look.worked_s or 0.0)) / 60 >= max(1.0, LOOSENS_TAU * self.facts.tau_min)

    @cached_property
    def may_pour(self) -> bool:
        """Whether oil may be proposed at all: not after a look at the body wanted or a wetter one, nor while asked."""
        return self.standing not in (Standing.RIGHT, Standing.WETTER) and not self.paste.asked

    @cached_property
    def oil_only(self) -> bool:
        """Whether nobody may be told that there is too much oil: the last look was dry, or stiffer than wanted."""
        return dry(self.paste) or self.standing in (Standing.STIFFER, Standing.COARSE)

    def settled(self, look: Look) -> bool:
        """Whether new oil had been worked in when it was looked at."""
        rework = mulling.REWORK_TAU * self.facts.tau_min * mulling.MULLED_OUT
        return look.settled_min is None or look.settled_min >= rework

    def unmulled(self, look: Look) -> float:
        """By how much powder that was not dispersed yet made it look too dry."""
        return sum(part.share * pours.reading_excess(part.minutes, self.facts.tau_min) for part in look.worked)

    def bound(self, look: Look) -> float:
        """The ratio a look was made at, all binder as oil."""
        assert look.oil_g_per_100g is not None
        if not look.additives or look.pigment_g <= 0:
            return look.oil_g_per_100g
        return look.oil_g_per_100g + 100 * binder_g(0.0, look.additives, self.facts) / look.pigment_g

    def look_at(self, look: Look) -> LookAt | None:
        """What a look says of oil absorption; None where it says nothing, or was set aside."""
        if look.aside or not look.oil_g_per_100g:
            return None
        excess = self.unmulled(look) + additive_excess(look.additives, look.pigment_g)
        stage = _OF_STAGE.get(look.stage)
        if stage is not None:
            # Dry powder was not dispersed yet, whether anybody kept time or not.
            excess += 0.0 if look.worked else pours.EXCESS_REDUCED_PVC
            return LookAt(self.bound(look), *stage, excess, evidence.STAGE_SD, look.answered)
        if look.stage is not Stage.EVEN_PASTE or look.body is None:
            return None
        sd = self.facts.eye.look_sd if self.settled(look) else max(evidence.UNSETTLED_SD, self.facts.eye.look_sd)
        excess += self.facts.eye.look_bias
        return LookAt.of_body(self.bound(look), look.body, excess, sd, answered=look.answered)

    @cached_property
    def looks(self) -> tuple[LookAt, ...]:
        """The looks that count, oldest first."""
        return tuple(seen for look in self.paste.looks if (seen := self.look_at(look)) is not None)

    @cached_property
    def matches(self) -> tuple[Match, ...]:
        """How each independent look at even paste agreed with what was expected at its moment, oldest first."""
        pairs = [(look, seen) for look in self.paste.looks if (seen := self.look_at(look)) is not None]
        counted = [
            look
            for n, (look, seen) in enumerate(pairs)
            if n + 1 == len(pairs) or not math.isclose(seen.ratio, pairs[n + 1][1].ratio, rel_tol=1e-9)
        ]
        return tuple(
            Match(look.body, gap.expected, gap.sds)
            for look, gap in zip(counted, self.belief.gaps, strict=True)
            if look.body is not None
        )

    # What is believed.

    @cached_property
    def belief(self) -> Belief:
        """Oil absorption as this maker sees it and as it was counted, after the looks that count."""
        powder_sd, oil_sd = self.paste.counting_sd_ln(spooned=self.facts.spooned)
        before = evidence.prior(
            self.facts.oil_absorption_g_per_100g,
            math.hypot(self.facts.demand_sd_ln, self.paste.widened_sd_ln),
            self.aim,
            self.facts.eye,
            pigment_sd_ln=powder_sd,
            oil_sd_ln=oil_sd,
        )
        return evidence.believe(before, self.looks, self.facts.c)

    @property
    def demand(self) -> tuple[float, float, Basis]:
        """Oil absorption in this oil as seen and counted (median), sd of its logarithm and basis, after the looks."""
        now = self.belief
        sd = now.sd if now.looked else now.prior.sd
        return now.quantile(0.5), sd, Basis.LEARNED if now.looked else Basis.LIBRARY

    @cached_property
    def absorption(self) -> float:
        """Oil absorption that agrees with the last look here: what every way back is computed from.

        Where the look says another body than all that is known, the look is believed to the near edge of its zone.
        """
        median = self.belief.quantile(0.5)
        look = self.look
        seen = self.look_at(look) if look is not None else None
        if seen is None:
            return min(median, MAX_OIL_G_PER_100G)
        bound = seen.ratio + self.facts.c
        least = (seen.low + EDGE - seen.excess) * bound - self.facts.c if math.isfinite(seen.low) else 0.0
        most = (seen.high - EDGE - seen.excess) * bound - self.facts.c if math.isfinite(seen.high) else math.inf
        return max(evidence.LEAST_ABSORPTION, min(max(median, least), most, MAX_OIL_G_PER_100G))

    @cached_property
    def reading(self) -> Reading | None:
        """Where the paste stands now, or None while there is no powder or nobody knows how much oil."""
        paste, facts = self.paste, self.facts
        ratio = paste.oil_g_per_100g
        if ratio is None:
            return None
        bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g

        def reduced(oil_absorption: float) -> float:
            return wetting.reduced_at(bound, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

        middle = reduced(self.absorption)
        low, high = (reduced(self.belief.quantile(share)) for share in (0.05, 0.95))
        low, high = min(low, middle), max(high, middle)
        volume = volume_ml(paste, facts)
        body, stiffest, softest = (wetting.body_at(value + self.stiffened) for value in (middle, high, low))
        return Reading(ratio, middle, low, high, body, stiffest, softest, volume, paste.total_g / volume)

    @cached_property
    def doubt(self) -> Doubt | None:
        """What is doubted of the log and the eye together, or None."""
        look = self.look
        seen = look is not None and look.body is not None and look.pigment_g > 0
        if look is not None and seen and not (look.oil_g_per_100g or look.taps):
            return Doubt(False, True, "Paste was seen, yet no oil is in the log: an entry is missing.")
        if self.paste.by_eye.reckoned_g or not self.belief.in_doubt:
            return None
        impossible = any(gap.impossible for gap in self.belief.gaps)
        stiffer = self.belief.doubt_sds > 0 and not impossible
        if impossible:
            says = "No powder looks like this with so little oil. Something that is logged, or that was seen, is wrong."
        elif dry(self.paste) and not stiffer:
            says = "What you saw does not fit the log. Perhaps an entry is missing or wrong, or this is another powder."
        elif stiffer:
            says = (
                "It looks drier than it can be by the log. Perhaps less oil or more powder is in than is logged, "
                "or this is another powder."
            )
        else:
            says = (
                "It looks softer than it can be by the log. Perhaps more oil or less powder is in than is logged, "
                "or this is another powder."
            )
        return Doubt(stiffer, impossible, says)

    # What is poured.

    def ratio_for(self, absorption: float) -> float:
        """The ratio of oil in the paste that an oil absorption asks for, additives in it and to come counted."""
        return self.aim.ratio(absorption) - displaced_g_per_100g(self.paste, self.facts)

    @cached_property
    def ratio_wanted(self) -> float:
        """The ratio aimed at, with the demand as it is known now."""
        return self.ratio_for(self.absorption)

    def oil_needed_g(self, share: float) -> float:
        """Oil in the paste that is enough in so many of all cases, in g as it is counted here."""
        paste, facts = self.paste, self.facts
        if self.belief.looked:
            ratio = self.aim.ratio(self.belief.quantile(share))
        else:
            before = evidence.prior(
                facts.oil_absorption_g_per_100g,
                math.hypot(facts.demand_sd_ln, paste.widened_sd_ln),
                self.aim,
                facts.eye,
            )
            ratio = evidence.needed(before, self.aim, share, *paste.counting_sd_ln(spooned=facts.spooned))
        return max(0.0, (ratio - displaced_g_per_100g(paste, facts)) * paste.pigment_g / 100)

    @cached_property
    def smallest_pour_g(self) -> float:
        """The least oil this maker can pour on purpose."""
        return max(pours.SMALLEST_STEP_G, self.facts.smallest_step_g)

    @cached_property
    def rungs(self) -> tuple[Pour, ...]:
        """The pours that are still open for the powder that is in, from the oil that is in; none while none may be."""
        paste, facts = self.paste, self.facts
        if paste.pigment_g <= 0 or paste.untold or not self.may_pour:
            return ()
        stiffer, least = self.standing is Standing.STIFFER, self.smallest_pour_g
        wanted = [(share, self.oil_needed_g(share)) for share in (pours.SEEN_STIFFER if stiffer else pours.QUANTILES)]
        if stiffer:
            wanted[0] = wanted[0][0], max(self._to_the_middle_g, paste.oil_g + least)
        elif self.standing is Standing.DRY:
            # Seen dry after a pour, it takes one that can be seen: by crumbs no end would be reached.
            least = max(least, pours.DRY_STEP / 2 * paste.oil_g)
            if wanted[-1][1] < paste.oil_g + least:
                wanted.append((wanted[-1][0], paste.oil_g + max(least, pours.DRY_STEP * paste.oil_g)))
        else:
            wanted = telling.after_rounding(wanted, facts.habit, paste.oil_g)
        return telling.pourable(wanted, least, facts.oil_density_g_per_ml, facts.habit, paste.oil_g)

    @cached_property
    def _to_the_middle_g(self) -> float:
        """Oil that most likely brings it to the middle of the body wanted, unless that went over in one of ten cases.

        The look is believed to the near edge of its zone, whatever else is thought of the powder.
        """
        low, high = evidence.ZONE_REDUCED[self.wanted]
        middle = min((low + high) / 2, self.target) if math.isfinite(low + high) else self.target
        less = self.target - self.aim.reduced

        def oil_g(reduced: float, absorption: float) -> float:
            aim = Aim(max(wetting.LEAST_AIM, reduced - less), self.facts.c)
            ratio = aim.ratio(absorption) - displaced_g_per_100g(self.paste, self.facts)
            return max(0.0, ratio * self.paste.pigment_g / 100)

        to_middle = oil_g(middle, self.absorption)
        if not math.isfinite(low):
            return to_middle
        return min(to_middle, oil_g(low, min(self.belief.quantile(GOES_OVER), self.absorption)))

    @property
    def first_pour_left(self) -> bool:
        """Whether the first, safe pour is not all in."""
        return bool(self.rungs) and self.rungs[0].quantile == pours.QUANTILES[0]


_OF_STAGE = {
    Stage.DRY_ISLANDS: (evidence.DUST_FROM, math.inf),
    Stage.CRUMBS: (evidence.CRUMBS_FROM, math.inf),
    Stage.WET_CURDS: (evidence.CURDS_FROM, evidence.CURDS_TO),
}
"""What each stage short of even paste says of reduced PVC with its excess."""

EDGE = 1e-3
"""So far inside its zone a body is taken that lies at the edge of it."""


def know(paste: Paste, facts: Facts) -> Knowledge:
    """All that is known of a paste under a plan."""
    return Knowledge(paste, facts)
