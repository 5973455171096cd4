"""Ways back from a paste that is off, each with its price in pigment, paint, loads and minutes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from scipy.optimize import brentq

from niddy.core import sizing, telling, wetting
from niddy.core.additives import InPaste
from niddy.core.advice import Planned
from niddy.core.correction import Direction, correct
from niddy.core.errors import MAX_OIL_G_PER_100G, MIN_OIL_G_PER_100G
from niddy.core.evidence import ZONE_REDUCED
from niddy.core.plan import Facts
from niddy.core.slab import Added, Knowledge, Paste, Standing, Way, additive_excess, binder_g, volume_ml
from niddy.core.telling import Habit, Measuring, Told
from niddy.core.wetting import Body

BLOTTING_LIMIT_FRACTION = 0.15
"""Blotting paper draws at best about this much of the oil out before it skins (assumed)."""


MOST_PER_G = 0.1
"""A stabiliser without a highest dose of its own goes in up to so much for each g of powder (assumed)."""


@dataclass(frozen=True, slots=True)
class LoadSize:
    """How a load of this batch is worked: what it holds, and the minutes it takes in all."""

    load_ml: float
    minutes_per_load: float


@dataclass(frozen=True, slots=True)
class Portion:
    """Grams of one powder or additive to add, and whether that much is in the tin; `told` in the maker's measure."""

    source: str
    name: str
    grams: float
    on_hand_g: float | None
    told: Told | None = None


@dataclass(frozen=True, slots=True)
class WayBack:
    """One way, what it asks for and what comes of it. Extra figures are against the paste as it is."""

    way: Way
    title: str
    says: str
    portions: tuple[Portion, ...]
    oil_g: float
    target_reduced_pvc: float
    reduced_pvc_after: float
    body_after: Body
    volume_after_ml: float
    extra_ml: float
    extra_tubes: int
    extra_loads: int | None
    extra_minutes: float | None
    reachable: bool
    stabiliser: InPaste | None = None
    oil_told: Told | None = None


def ways(
    known: Knowledge,
    planned: tuple[Planned, ...],
    on_hand_g: dict[str, float],
    load: LoadSize | None,
    tube_ml: float | None,
    stabilisers: tuple[InPaste, ...] = (),
) -> tuple[WayBack, ...]:
    """Every way open to this paste. What was seen of it decides which: none after a look at the body wanted.

    Unseen it has none while it is within 0.5 % of its target, or holds no powder and oil.

    `on_hand_g` is what is left of each powder by source (left out where no lot is kept); `tube_ml` the
    tube that extra paint would go into; `stabilisers` what may be stirred in to stiffen a paste that is too loose, in
    the order in which they are thought of.
    """
    paste, facts, standing = known.paste, known.facts, known.standing
    if paste.pigment_g <= 0 or paste.oil_g <= 0 or not planned or standing is Standing.RIGHT:
        return ()
    ratio, target, absorption = 100 * paste.oil_g / paste.pigment_g, known.ratio_wanted, known.absorption
    if standing is Standing.WETTER:
        target = min(target, ratio * (1 - LEAST_OFF))
    elif known.oil_only:
        target = max(target, ratio)
    target = min(max(target, MIN_OIL_G_PER_100G), MAX_OIL_G_PER_100G)
    bound = binder_g(0.0, paste.additives.values(), facts)
    limits = [
        max(0.0, on_hand_g[line.source]) / line.share for line in planned if line.source in on_hand_g and line.share > 0
    ]
    answer = correct(
        paste.pigment_g,
        paste.oil_g,
        target,
        facts.pigment_density_g_per_ml,
        facts.oil_density_g_per_ml,
        absorption,
        min(limits) if limits else None,
    )
    if answer.direction is Direction.NONE or (known.oil_only and answer.direction is Direction.ADD_PIGMENT):
        return ()
    maker = _Maker(paste, facts, absorption, volume_ml(paste, facts), bound, load, tube_ml)
    aim = known.target
    now = min(max(maker.reduced(paste.pigment_g, paste.oil_g), wetting.SCALE_REDUCED_WET), wetting.SCALE_REDUCED_DRY)
    left = now + maker.excess(paste.pigment_g)
    seen = known.look.body if known.look is not None and known.look.body is not None else wetting.body_at(left)
    if wetting.body_at(left) is not seen:
        low, high = ZONE_REDUCED[seen]
        left = (max(low, wetting.SCALE_REDUCED_WET) + min(high, wetting.SCALE_REDUCED_DRY)) / 2
    leave = replace(
        maker.way(
            Way.LEAVE,
            f"Leave it as it is, {seen}",
            "Costs nothing; the batch is judged as this body from now on.",
            paste.pigment_g,
            paste.oil_g,
            left,
        ),
        body_after=seen,
    )
    if answer.direction is Direction.ADD_OIL:
        if not known.rungs:
            return ()
        step_g = known.rungs[0].step_g
        oil = maker.way(
            Way.ADD_OIL,
            "Pour more oil",
            "A little at a time: work it in and look between.",
            paste.pigment_g,
            paste.oil_g + step_g,
            aim,
            oil_g=step_g,
        )
        return oil, leave
    portions = _portions(planned, answer.pigment_to_add_g, on_hand_g, facts.habit, paste.pigment_g)
    if answer.reachable:
        says = "Costs powder, and makes more paint: more loads and tubes."
        pigment_after = paste.pigment_g + answer.pigment_to_add_g
    else:
        reach = min(limits)
        pigment_after = paste.pigment_g + reach
        reached = wetting.body_at(maker.reduced(pigment_after, paste.oil_g) + maker.excess(pigment_after))
        says = f"Not enough powder: {reach:.1f} g on hand brings it to {reached}."
    add = maker.way(
        Way.ADD_PIGMENT,
        "Add pigment",
        says,
        pigment_after,
        paste.oil_g,
        aim,
        portions=portions,
        reachable=answer.reachable,
    )
    drawable = paste.oil_g * BLOTTING_LIMIT_FRACTION
    slow = (
        "Costs oil and an hour or more; the paper takes some pigment with it."
        if answer.oil_to_draw_g <= drawable
        else "More than paper usually draws: takes several sheets, and rarely works."
    )
    draw = maker.way(
        Way.DRAW_OIL,
        "Draw oil out",
        slow,
        paste.pigment_g,
        paste.oil_g - answer.oil_to_draw_g,
        aim,
        oil_g=-answer.oil_to_draw_g,
    )
    others = (_stiff_batch(maker, planned, on_hand_g, target, aim), _stabilised(maker, stabilisers, aim, on_hand_g))
    return (add, draw, *(way for way in others if way is not None), leave)


def _stiff_batch(
    maker: _Maker, planned: tuple[Planned, ...], on_hand_g: dict[str, float], target: float, aim: float
) -> WayBack | None:
    """Powder with just the oil it absorbs, mulled to a putty beside the paste and worked into it.

    None where that much powder is not there or would be more than there is in the paste, or where what is wanted is
    hardly softer than a putty.
    """
    paste, habit = maker.paste, maker.facts.habit
    putty = maker.absorption
    if target < SOFTER_THAN_PUTTY * putty:
        return None
    powder_g = (100 * paste.oil_g - target * paste.pigment_g) / (target - putty)
    if powder_g > paste.pigment_g * MOST_BESIDE:
        return None
    if any(on_hand_g.get(line.source, math.inf) < powder_g * line.share for line in planned):
        return None
    portions = _portions(planned, powder_g, on_hand_g, habit, paste.pigment_g)
    oil_g = powder_g * putty / 100
    return maker.way(
        Way.STIFF_BATCH,
        "Work in a stiff batch of the same",
        "Makes the most paint of all ways, but folds in without dust or crumbs.",
        paste.pigment_g + powder_g,
        paste.oil_g + oil_g,
        aim,
        portions=portions,
        oil_g=oil_g,
    )


def _portions(
    planned: tuple[Planned, ...], powder_g: float, on_hand_g: dict[str, float], habit: Habit, whole_g: float
) -> tuple[Portion, ...]:
    found = []
    for line in planned:
        grams = powder_g * line.share
        there_g = whole_g * line.share
        told = telling.powder(grams, line.loose_density_g_per_ml, habit, there_g=there_g)
        # What a hand measures is what is asked for: of what rounding left nothing is asked for again.
        grams = told.grams if told is not None else grams
        found.append(Portion(line.source, line.name, grams, on_hand_g.get(line.source), told))
    return tuple(found)


MOST_BESIDE = 1.0
"""Nobody mulls a stiff batch of more powder than the paste has already (assumed)."""

SOFTER_THAN_PUTTY = 1.1
"""A stiff batch is a way back to paint that holds so many times the oil of a putty at least (assumed)."""

LEAST_OFF = 0.01
"""A paste that is seen as too soft is taken for so much too rich in oil at least (assumed)."""


def _stabilised(
    maker: _Maker, stabilisers: tuple[InPaste, ...], aim: float, on_hand_g: dict[str, float]
) -> WayBack | None:
    """The way by the first additive of which enough may go in, or by the one that comes nearest.

    None where even that stays far from it.
    """
    best: tuple[float, InPaste, float] | None = None
    for what in stabilisers:
        grams = maker.stabiliser_g(what, aim)
        enough = grams is not None
        if grams is None:
            grams = maker.room_g(what)
        short = aim - maker.looks_like(what, grams)
        if grams > 0 and (best is None or short < best[0] - 0.005):
            best = short, what, grams
        if enough:
            break
    if best is None:
        return None
    short, what, grams = best
    paste = maker.paste
    if short > HALF_WAY * (aim - maker.looks_like(what, 0.0)):
        return None
    already = paste.additives[what.source].grams / what.additive_fraction if what.source in paste.additives else 0.0
    dosed = replace(what, planned_per_g=(already + grams) / paste.pigment_g)
    says = "Costs no powder, but the film is no longer pigment and oil alone."
    if what.keeps_days is not None:
        says += f" Such paint keeps {what.keeps_days} days."
    if short > SHORT_OF_IT:
        says = f"Up to {what.ceiling_says}, the most that should go in: not enough by itself. " + says
    told = None
    if maker.facts.habit.how is not Measuring.SCALE:
        told = telling.drips(grams, what.density_g_per_ml, what.drop_g)
    portion = Portion(what.source, what.name, grams, on_hand_g.get(what.source), told)
    return replace(
        maker.way(
            Way.STABILISE,
            f"Stiffen it with {what.material.lower()}",
            says,
            paste.pigment_g,
            paste.oil_g,
            aim,
            portions=(portion,),
            reachable=short <= SHORT_OF_IT,
            more=(what, grams),
        ),
        stabiliser=dosed,
    )


HALF_WAY = 0.5
"""A stabiliser that leaves more than this of what is amiss is no way back."""

SHORT_OF_IT = 0.01
"""A way that ends so much below the target in reduced PVC still counts as reaching it."""


@dataclass(frozen=True, slots=True)
class _Maker:
    """Prices a way from what would be in the paste after it."""

    paste: Paste
    facts: Facts
    absorption: float
    volume_before_ml: float
    bound_g: float
    load: LoadSize | None
    tube_ml: float | None

    def reduced(self, pigment_g: float, oil_g: float, more: tuple[InPaste, float] | None = None) -> float:
        """Reduced PVC of so much powder and oil with the additives that are in, and grams as weighed of one more."""
        facts = self.facts
        bound = self.bound_g
        if more is not None:
            what, grams = more
            bound += what.binder_as_oil_g(grams * what.additive_fraction, facts.oil_density_g_per_ml)
            bound += grams * (1 - what.additive_fraction)
        return wetting.reduced_at(
            100 * (oil_g + bound) / pigment_g,
            self.absorption,
            facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )

    def excess(self, pigment_g: float, more: tuple[InPaste, float] | None = None) -> float:
        """By how much the eye finds it stiffer than its reduced PVC says, for the additives in it."""
        added = list(self.paste.additives.values())
        if more is not None:
            added.append(Added(more[0], more[1] * more[0].additive_fraction))
        return additive_excess(added, pigment_g)

    def looks_like(self, what: InPaste, grams: float) -> float:
        """The reduced PVC of a paste without additives as stiff as this one with so much of an additive stirred in."""
        paste, more = self.paste, (what, grams)
        return self.reduced(paste.pigment_g, paste.oil_g, more) + self.excess(paste.pigment_g, more)

    def room_g(self, what: InPaste) -> float:
        """How much more of an additive may go in before its highest dose; without one, a tenth of the powder."""
        there = self.paste.additives.get(what.source)
        already = there.grams / what.additive_fraction if there else 0.0
        most = what.ceiling_per_g if what.ceiling_per_g is not None else MOST_PER_G
        return max(0.0, most * self.paste.pigment_g - already)

    def stabiliser_g(self, what: InPaste, aim: float) -> float | None:
        """Grams as weighed of an additive that make it as stiff as wanted; None where less may go in."""
        most = self.room_g(what)
        if self.looks_like(what, 0.0) >= aim:
            return 0.0
        if self.looks_like(what, most) < aim:
            return None
        return float(brentq(lambda grams: self.looks_like(what, grams) - aim, 0.0, most, xtol=1e-4))

    def way(
        self,
        way: Way,
        title: str,
        says: str,
        pigment_g: float,
        oil_g_after: float,
        target: float,
        *,
        portions: tuple[Portion, ...] = (),
        oil_g: float = 0.0,
        reachable: bool = True,
        more: tuple[InPaste, float] | None = None,
    ) -> WayBack:
        facts = self.facts
        change_ml = (pigment_g - self.paste.pigment_g) / facts.pigment_density_g_per_ml
        change_ml += (oil_g_after - self.paste.oil_g) / facts.oil_density_g_per_ml
        if more is not None:
            change_ml += more[1] / more[0].density_g_per_ml
        volume = self.volume_before_ml + change_ml
        reduced = self.reduced(pigment_g, oil_g_after, more)
        body = wetting.body_at(reduced + self.excess(pigment_g, more))
        extra_ml = volume - self.volume_before_ml
        loads = minutes = None
        if self.load is not None:
            loads = sizing.loads(volume, self.load.load_ml) - sizing.loads(self.volume_before_ml, self.load.load_ml)
            # New powder has to be mulled in even where it makes no load more.
            again = max(loads, 1) if portions else loads
            minutes = again * self.load.minutes_per_load
        tubes = int(extra_ml / self.tube_ml) if self.tube_ml else 0
        return WayBack(
            way,
            title,
            says,
            portions,
            oil_g,
            target,
            reduced,
            body,
            volume,
            extra_ml,
            max(0, tubes),
            loads,
            minutes,
            reachable,
            oil_told=(
                telling.oil(oil_g, facts.oil_density_g_per_ml, facts.habit, there_g=self.paste.oil_g)
                if oil_g > 0
                else None
            ),
        )
