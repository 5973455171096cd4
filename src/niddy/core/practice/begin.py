"""An exercise set up from its seed: the plan of its paste, the lot behind it, and what was done before it begins."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace

from niddy.core import plan as plans
from niddy.core import sizing, wetting
from niddy.core.demand import LOT_SD_LN
from niddy.core.errors import Refused
from niddy.core.estimate import Z90, Basis
from niddy.core.library import binder_of, dry_of
from niddy.core.materials import BinderOil, DryPigment, Oil, Pigment
from niddy.core.measures import DROP_G, Measure, Unit
from niddy.core.plan import Bench, Line, Plan, Tooth, Tubes, Wish
from niddy.core.practice.exercises import Exercise, about, powders
from niddy.core.practice.hidden import Hidden, draw, needed_g
from niddy.core.slab import Kind, Stage
from niddy.core.telling import Habit, Measuring
from niddy.core.wetting import DEFAULT_REDUCED_PVC

BENCH = Bench(None, "practice slab", 900.0, Tooth.FRESH, None, None, "practice muller", Tooth.FRESH)
TUBE = Tubes(None, "37 ml tube", 33.0, 0)
"""What overshooting is told in."""

LOADS = 3
PRICES = (0.06, 0.09, 0.14, 0.22, 0.35, 0.55)
"""A gram of powder costs one of these in practice, in the studio's own money (made up)."""

OIL_PRICE = 0.03
MOST_SEED = 999_999


@dataclass(frozen=True, slots=True)
class Done:
    """Something that was done before the exercise begins, so many minutes earlier."""

    kind: Kind
    minutes_before: float
    grams: float | None = None
    spoons: float | None = None
    stage: Stage | None = None


@dataclass(frozen=True, slots=True)
class Begun:
    """An exercise set up: its plan as at the slab, what is hidden, what was done before, and what a gram costs.

    `known` says what the maker is told of the powder beforehand, beyond what the plan says.
    """

    plan: Plan
    hidden: Hidden
    done: tuple[Done, ...]
    powder_price: float
    known: str = ""


def begin(exercise: Exercise, seed: int, library: list[Pigment], oil: Oil) -> Begun:
    """An exercise from its seed: the same seed sets up the same paste. Raises Refused for what has no paste."""
    if exercise is Exercise.JUDGING:
        raise Refused("exercise", "it has no paste to pour into", "any of the other eight")
    if not 0 <= seed <= MOST_SEED:
        raise Refused("seed", f"{seed} is outside", f"a whole number from 0 to {MOST_SEED}")
    chance = random.Random(f"{exercise}/{seed}")
    pigment = chance.choice(powders(exercise, library))
    tau_min = plans.compute(_wish(exercise, dry_of(pigment), binder_of(oil), 10.0)).facts.tau_min
    hidden = draw(chance, pigment, oil.density_g_per_ml, tau_min)
    dry, known = dry_of(pigment), ""
    if exercise is Exercise.NEW_LOT:
        dry, hidden, known = _of_a_known_powder(chance, pigment, hidden, oil)
    grams = _powder_g(exercise, dry, oil)
    plan = plans.compute(_wish(exercise, dry, binder_of(oil), grams))
    price = chance.choice(PRICES)
    return Begun(plan, hidden, _done(exercise, plan, hidden), price, known)


def _of_a_known_powder(
    chance: random.Random, pigment: Pigment, hidden: Hidden, oil: Oil
) -> tuple[DryPigment, Hidden, str]:
    """The last lot is known; this one differs from it as lots do."""
    before = wetting.in_reference_oil(hidden.oil_absorption_g_per_100g, oil.density_g_per_ml)
    off = max(-Z90, min(Z90, chance.gauss(0, 1))) * LOT_SD_LN
    dry = replace(
        dry_of(pigment),
        demand_g_per_100g=before,
        demand_sd_ln=LOT_SD_LN,
        demand_basis=Basis.LEARNED,
        demand_says=f"the last lot, measured: {before:.0f} g per 100 g; lots differ by some 8 %",
    )
    says = f"The last lot took {before:.0f} g of oil per 100 g at rub-out. Lots differ by some 8 %."
    return dry, replace(hidden, oil_absorption_g_per_100g=hidden.oil_absorption_g_per_100g * math.exp(off)), says


def _done(exercise: Exercise, plan: Plan, hidden: Hidden) -> tuple[Done, ...]:
    """The powder is on the slab already; of some exercises the oil too, folded in, and mulled out."""
    it = about(exercise)
    powder_g = plan.pigment_mass.value
    spoons = powder_g / _spoon_g(plan) if exercise is Exercise.SPOONS else None
    done = [Done(Kind.READY, 60.0), Done(Kind.POWDER, 58.0, powder_g, spoons)]
    if it.begins_at is None:
        return tuple(done)
    real_powder = powder_g * (hidden.spoon if spoons else 1.0)
    oil_g = round(needed_g(real_powder, it.begins_at, plan.facts, hidden), 2)
    done += [Done(Kind.OIL, 50.0, oil_g), Done(Kind.LOOK, 44.0, stage=Stage.WET_CURDS)]
    if it.mulled:
        mulled = 3.0 * hidden.tau_min
        done += [Done(Kind.MULL, 2.0 + mulled), Done(Kind.LOAD_DONE, 2.0)]
        done = [
            replace(one, minutes_before=one.minutes_before + mulled) if n < 4 else one for n, one in enumerate(done)
        ]
    return tuple(done)


def _spoon_g(plan: Plan) -> float:
    return 5.0 * plan.lines[0].pigment.loose_density_g_per_ml


def _powder_g(exercise: Exercise, dry: DryPigment, oil: Oil) -> float:
    """So much powder that the slab takes it in one load, or in three; with spoons whole teaspoons of it."""
    absorption = wetting.in_oil(dry.demand_g_per_100g, oil.density_g_per_ml)
    ratio = wetting.ratio_at(DEFAULT_REDUCED_PVC, absorption, dry.density_g_per_ml, oil.density_g_per_ml)
    ml_per_g = 1 / dry.density_g_per_ml + ratio / 100 / oil.density_g_per_ml
    load_ml = plans.compute(_wish(exercise, dry, binder_of(oil), 10.0)).load_volume
    assert load_ml is not None
    volume_ml = about(exercise).volume_ml or (LOADS - 0.25) * load_ml.value
    grams = min(volume_ml, volume_ml if exercise is Exercise.LOADS else 0.9 * load_ml.value) / ml_per_g
    if exercise is Exercise.SPOONS:
        spoon_g = 5.0 * dry.loose_density_g_per_ml
        return max(1, round(grams / spoon_g)) * spoon_g
    return float(round(grams)) or 1.0


def _wish(exercise: Exercise, dry: DryPigment, oil: BinderOil, grams: float) -> Wish:
    spoons = exercise is Exercise.SPOONS
    habit = Habit(Measuring.SPOONS) if spoons else Habit()
    line = Line(dry, parts=1.0)
    if spoons:
        line = Line(
            dry, spoons=Measure(Unit.TEASPOON, float(max(1, round(grams / (5.0 * dry.loose_density_g_per_ml)))))
        )
    return Wish(
        lines=(line,),
        oil=oil,
        reduced_pvc=DEFAULT_REDUCED_PVC,
        bench=BENCH,
        loss=sizing.learn_loss([]),
        pigment_g=None if spoons else grams,
        habit=habit,
        smallest_step_g=habit.smallest_oil_g if spoons else DROP_G,
    )
