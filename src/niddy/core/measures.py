"""Measures: grams, millilitres, level spoons, drops and weigh-backs become grams at the door."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import MAX_MASS_G, MIN_DROP_G, MIN_MASS_G, Refused, density_g_per_ml, mass_g, within
from niddy.core.estimate import Z90, Basis, Estimate

SPOON_SPREAD = 0.35
SPOON_SPREAD_MEASURED = 0.08
GRAMS_PER_OUNCE = 28.349523125
"""The avoirdupois ounce, by definition."""

DROP_G = 0.023
DROP_SPREAD = 0.30
DROP_SPREAD_MEASURED = 0.08
"""Spread left once 20 drops of that bottle were weighed (assumed, as for a weighed spoon)."""

DROPS_TO_WEIGH = 20


class Unit(StrEnum):
    """How an amount was measured."""

    GRAM = "g"
    OUNCE = "ounce"
    MILLILITRE = "ml"
    TEASPOON = "teaspoon"
    HALF_TEASPOON = "half_teaspoon"
    QUARTER_TEASPOON = "quarter_teaspoon"
    TABLESPOON = "tablespoon"
    US_TEASPOON = "us_teaspoon"
    US_HALF_TEASPOON = "us_half_teaspoon"
    US_QUARTER_TEASPOON = "us_quarter_teaspoon"
    US_TABLESPOON = "us_tablespoon"
    DROP = "drop"
    WEIGH_BACK = "weigh_back"
    WEIGH_IN = "weigh_in"
    EYE = "eye"


SPOON_ML: dict[Unit, float] = {
    Unit.TEASPOON: 5.0,
    Unit.HALF_TEASPOON: 2.5,
    Unit.QUARTER_TEASPOON: 1.25,
    Unit.TABLESPOON: 15.0,
    Unit.US_TEASPOON: 4.929,
    Unit.US_HALF_TEASPOON: 4.929 / 2,
    Unit.US_QUARTER_TEASPOON: 4.929 / 4,
    Unit.US_TABLESPOON: 14.787,
}

UNIT_NAMES: dict[Unit, str] = {
    Unit.GRAM: "g",
    Unit.OUNCE: "ounce",
    Unit.MILLILITRE: "ml",
    Unit.TEASPOON: "level teaspoon",
    Unit.HALF_TEASPOON: "level half teaspoon",
    Unit.QUARTER_TEASPOON: "level quarter teaspoon",
    Unit.TABLESPOON: "level tablespoon",
    Unit.US_TEASPOON: "level US teaspoon",
    Unit.US_HALF_TEASPOON: "level US half teaspoon",
    Unit.US_QUARTER_TEASPOON: "level US quarter teaspoon",
    Unit.US_TABLESPOON: "level US tablespoon",
    Unit.DROP: "drop",
    Unit.WEIGH_BACK: "weighed back",
    Unit.WEIGH_IN: "weighed in",
    Unit.EYE: "by eye",
}


def minutes_said(minutes: float) -> str:
    """A time as one says it."""
    return f"{minutes:.0f} min" if minutes >= 1 else "less than a minute"


def amount_words(amount: float, unit: Unit, *, liquid: bool = False, fill: str = "level") -> str:
    """An amount as one says it: 2 level teaspoons, 1 heaped tablespoon, 22 drops; a liquid is never level."""
    name = UNIT_NAMES[unit]
    if liquid:
        name = name.removeprefix("level ")
    elif fill != "level":
        name = name.replace("level", fill, 1)
    plural = "s" if amount != 1 and unit not in (Unit.GRAM, Unit.MILLILITRE) else ""
    return f"{amount:g} {name}{plural}"


class Fill(StrEnum):
    """How full a spoon is: struck level, tapped down and levelled, or heaped."""

    LEVEL = "level"
    TAPPED = "tapped"
    HEAPED = "heaped"


FILL_FACTOR = {Fill.LEVEL: 1.0, Fill.TAPPED: 1.25, Fill.HEAPED: 1.6}
"""What a spoon holds against a level one (assumed)."""

EYE_SPREAD = 0.5
"""How far an amount taken by eye may be from the one that was planned, of 90 in 100 (assumed)."""

GUESS_SPREAD = 0.35
"""How far a guess of what came out of a bottle may be out, of 90 in 100 (assumed)."""

MARKS_SPREAD = 0.05
"""How far a volume read off by marks may be out, of 90 in 100 (assumed)."""


class Family(StrEnum):
    """What measures err together: the same spoon, the same bottle's drops, the same marks. A scale does not err."""

    SCALE = "scale"
    SPOON = "spoon"
    DROP = "drop"
    MARKS = "marks"
    EYE = "eye"


def family(unit: Unit) -> Family:
    """Which family a unit is of."""
    if unit in SPOON_ML:
        return Family.SPOON
    return {Unit.DROP: Family.DROP, Unit.MILLILITRE: Family.MARKS, Unit.EYE: Family.EYE}.get(unit, Family.SCALE)


def by_eye(planned_g: float) -> Estimate:
    """What is in where an amount was planned and taken by eye."""
    return Estimate.plus_minus(mass_g("planned_g", planned_g), EYE_SPREAD, Basis.ASSUMED)


def guessed(mass: Estimate) -> Estimate:
    """A mass that was guessed, whatever measure the guess was told in."""
    wide = math.hypot(sd_ln_of(mass) * Z90, math.log1p(GUESS_SPREAD))
    return Estimate.lognormal(mass.median, wide / Z90, Basis.ASSUMED)


def sd_ln_of(mass: Estimate) -> float:
    """The sd of the logarithm of a measured mass, from its 90 % range."""
    return math.log(mass.high / mass.median) / Z90 if mass.median > 0 and mass.high > mass.median else 0.0


@dataclass(frozen=True, slots=True)
class Measure:
    """An amount as the maker measured it.

    `fill` is of spoons alone. `amount` is not used by a weighing by difference, which has its two readings (g): of
    the vessel poured out of (weigh back) or into (weigh in).
    """

    unit: Unit
    amount: float | None = None
    before_g: float | None = None
    after_g: float | None = None
    fill: Fill = Fill.LEVEL


def to_grams(
    measure: Measure,
    *,
    density: float | None = None,
    loose_density: float | None = None,
    loose_density_measured: bool = False,
    drop_g: float | None = None,
    drop_measured: bool = False,
    by_marks: bool = False,
) -> Estimate:
    """The mass in g of a measured amount, with its spread.

    `by_marks` lets a volume of liquid be as uncertain as it is read. A volume is powder where a loose density is
    given, liquid where a density is. Raises Refused for amounts that are not above zero or absurd, a bottle heavier
    after than before, a missing density.
    """
    if measure.unit is Unit.WEIGH_BACK:
        return _weigh_back(measure.before_g, measure.after_g)
    if measure.unit is Unit.WEIGH_IN:
        return _weigh_in(measure.before_g, measure.after_g)
    amount = measure.amount
    if measure.unit is Unit.EYE:
        raise Refused("unit", "by eye there is no amount to work out", "grams, ml, spoons or drops")
    if amount is None:
        raise Refused("amount", "missing", "a number above 0")
    if measure.unit is Unit.GRAM:
        return Estimate.exact(mass_g("amount", amount), Basis.MEASURED)
    if measure.unit is Unit.OUNCE:
        return Estimate.exact(mass_g("amount", amount * GRAMS_PER_OUNCE), Basis.MEASURED)
    within("amount", amount, 0.001, 100_000)
    if measure.unit is Unit.DROP:
        return _sensible(_drops(amount, drop_g, drop_measured))
    fill = FILL_FACTOR[measure.fill] if measure.unit in SPOON_ML else 1.0
    volume_ml = amount * SPOON_ML.get(measure.unit, 1.0) * fill
    if loose_density is not None:
        density_g_per_ml("loose_density_g_per_ml", loose_density)
        spread = SPOON_SPREAD_MEASURED if loose_density_measured else SPOON_SPREAD
        basis = Basis.MEASURED if loose_density_measured else Basis.LIBRARY
        return _sensible(Estimate.plus_minus(volume_ml * loose_density, spread, basis))
    if density is not None:
        density_g_per_ml("density_g_per_ml", density)
        if by_marks:
            return _sensible(Estimate.plus_minus(volume_ml * density, MARKS_SPREAD, Basis.MEASURED))
        return _sensible(Estimate.exact(volume_ml * density, Basis.MEASURED))
    raise Refused(
        "density_g_per_ml",
        "a volume needs a density",
        "density_g_per_ml of a liquid, or loose_density_g_per_ml of a powder",
    )


def _drops(count: float, drop_g: float | None, measured: bool) -> Estimate:
    if drop_g is None:
        return Estimate.plus_minus(count * DROP_G, DROP_SPREAD, Basis.ASSUMED)
    within("drop_g", drop_g, MIN_DROP_G, 1, "g")
    if measured:
        return Estimate.plus_minus(count * drop_g, DROP_SPREAD_MEASURED, Basis.MEASURED)
    return Estimate.plus_minus(count * drop_g, DROP_SPREAD, Basis.ENTERED)


def _weigh_back(before_g: float | None, after_g: float | None) -> Estimate:
    if before_g is None or after_g is None:
        missing = "before_g" if before_g is None else "after_g"
        raise Refused(missing, "missing", "the weight of the bottle in g, before and after")
    within("before_g", before_g, MIN_MASS_G, MAX_MASS_G, "g")
    within("after_g", after_g, 0, MAX_MASS_G, "g")
    if after_g >= before_g:
        problem = "the bottle weighs the same" if after_g == before_g else "the bottle is heavier after than before"
        raise Refused("after_g", problem, f"less than {before_g:g} g")
    return Estimate.exact(before_g - after_g, Basis.MEASURED)


def _weigh_in(before_g: float | None, after_g: float | None) -> Estimate:
    if before_g is None or after_g is None:
        missing = "before_g" if before_g is None else "after_g"
        raise Refused(missing, "missing", "the weight on the balance in g, before and after")
    within("before_g", before_g, -MAX_MASS_G, MAX_MASS_G, "g")
    within("after_g", after_g, -MAX_MASS_G, MAX_MASS_G, "g")
    if after_g <= before_g:
        problem = "it weighs the same" if after_g == before_g else "it is lighter after than before"
        raise Refused("after_g", problem, f"more than {before_g:g} g")
    return Estimate.exact(mass_g("after_g", after_g - before_g), Basis.MEASURED)


def _sensible(estimate: Estimate) -> Estimate:
    if estimate.median > MAX_MASS_G:
        raise Refused("amount", f"that is {estimate.median / 1000:.0f} kg", "an amount of up to 20 kg")
    return estimate
