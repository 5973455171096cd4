"""Measures: grams, millilitres, level spoons, drops and weigh-backs become grams at the door."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator
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
    DROP = "drop"
    CUP = "cup"
    QUARTER_CUP = "quarter_cup"
    TABLESPOON = "tablespoon"
    HALF_TABLESPOON = "half_tablespoon"
    TEASPOON = "teaspoon"
    HALF_TEASPOON = "half_teaspoon"
    QUARTER_TEASPOON = "quarter_teaspoon"
    EIGHTH_TEASPOON = "eighth_teaspoon"
    US_CUP = "us_cup"
    US_QUARTER_CUP = "us_quarter_cup"
    US_TABLESPOON = "us_tablespoon"
    US_HALF_TABLESPOON = "us_half_tablespoon"
    US_TEASPOON = "us_teaspoon"
    US_HALF_TEASPOON = "us_half_teaspoon"
    US_QUARTER_TEASPOON = "us_quarter_teaspoon"
    US_EIGHTH_TEASPOON = "us_eighth_teaspoon"
    WEIGH_BACK = "weigh_back"
    WEIGH_IN = "weigh_in"
    EYE = "eye"
    OWN_1 = "own_1"
    OWN_2 = "own_2"
    OWN_3 = "own_3"
    OWN_4 = "own_4"
    OWN_5 = "own_5"
    OWN_6 = "own_6"
    OWN_7 = "own_7"
    OWN_8 = "own_8"


class Family(StrEnum):
    """What measures err together: the same spoon, the same bottle's drops, the same marks. A scale does not err."""

    SCALE = "scale"
    SPOON = "spoon"
    DROP = "drop"
    MARKS = "marks"
    EYE = "eye"
    OWN = "own"


class Spoons(StrEnum):
    """Which set of spoons."""

    METRIC = "metric"
    US = "us"


@dataclass(frozen=True, slots=True)
class UnitKnown:
    """A unit in the one table of them: what one and many are called, its family, what a spoon of it holds in ml.

    `powder` and `liquid` say what it may measure; `rare` is what is offered where somebody asks for more units.
    `button` is what one taps to type in it. `spread` is how far what a measure of one's own holds may be out, of 90
    in 100.
    """

    unit: Unit
    one: str
    many: str
    family: Family
    button: str
    ml: float | None = None
    spoons: Spoons | None = None
    powder: bool = True
    liquid: bool = True
    rare: bool = False
    spread: float = 0.0


def _spoon_rows(spoons: Spoons, tablespoon_ml: float, teaspoon_ml: float, cup_ml: float) -> Iterator[UnitKnown]:
    mark, said = ("us_", "US ") if spoons is Spoons.US else ("", "")
    for name, ml, rare in (
        ("cup", cup_ml, True),
        ("quarter_cup", cup_ml / 4, True),
        ("tablespoon", tablespoon_ml, False),
        ("half_tablespoon", tablespoon_ml / 2, True),
        ("teaspoon", teaspoon_ml, False),
        ("half_teaspoon", teaspoon_ml / 2, False),
        ("quarter_teaspoon", teaspoon_ml / 4, False),
        ("eighth_teaspoon", teaspoon_ml / 8, True),
    ):
        one = said + name.replace("_", " ")
        yield UnitKnown(Unit(mark + name), one, f"{one}s", Family.SPOON, f"{one}s", ml, spoons, rare=rare)


UNITS: dict[Unit, UnitKnown] = {
    row.unit: row
    for row in (
        UnitKnown(Unit.GRAM, "g", "g", Family.SCALE, "grams"),
        UnitKnown(Unit.OUNCE, "ounce", "ounces", Family.SCALE, "ounces"),
        UnitKnown(Unit.DROP, "drop", "drops", Family.DROP, "drops", powder=False),
        UnitKnown(Unit.MILLILITRE, "ml", "ml", Family.MARKS, "millilitres", powder=False),
        UnitKnown(Unit.WEIGH_BACK, "weighed back", "weighed back", Family.SCALE, "weigh back"),
        UnitKnown(Unit.WEIGH_IN, "weighed in", "weighed in", Family.SCALE, "weigh in"),
        UnitKnown(Unit.EYE, "by eye", "by eye", Family.EYE, "by eye"),
        *(
            UnitKnown(unit, "measure", "measures", Family.OWN, "measures")
            for unit in Unit
            if unit.value.startswith("own_")
        ),
        *_spoon_rows(Spoons.METRIC, 15.0, 5.0, 250.0),
        *_spoon_rows(Spoons.US, 14.787, 4.929, 236.588),
    )
}
"""Every unit there is: what it is called, what it may measure, what errs with it. No screen has a list of its own."""

SPOON_ML: dict[Unit, float] = {row.unit: row.ml for row in UNITS.values() if row.ml is not None}


OWN_UNITS = tuple(row.unit for row in UNITS.values() if row.family is Family.OWN)
"""Places for measures of a studio's own; what each is called and holds, the studio says."""


def spoons_of(us: bool, missing: Collection[Unit] = ()) -> tuple[Unit, ...]:
    """The spoons and cups of a set that are at hand, largest first."""
    chosen = Spoons.US if us else Spoons.METRIC
    return tuple(row.unit for row in UNITS.values() if row.spoons is chosen and row.unit not in missing)


def offered(
    *, us: bool, ounces: bool, missing: Collection[Unit] = (), own: tuple[UnitKnown, ...] = ()
) -> tuple[UnitKnown, ...]:
    """The units a studio types amounts in, in the order they are offered."""
    plain = (Unit.GRAM, *((Unit.OUNCE,) if ounces else ()), Unit.DROP, Unit.MILLILITRE, Unit.WEIGH_BACK)
    return (*(UNITS[unit] for unit in plain), *own, *(UNITS[unit] for unit in spoons_of(us, missing)))


class Holds(StrEnum):
    """How one knows what a measure of one's own holds."""

    ML = "ml"
    SPOONS = "spoons"
    DROPS = "drops"
    WEIGHED = "weighed"
    UNKNOWN = "unknown"


HOLDS_SPREAD = {Holds.ML: 0.05, Holds.SPOONS: 0.12, Holds.DROPS: 0.30, Holds.WEIGHED: 0.04, Holds.UNKNOWN: 1.0}
"""How far what it holds may be out, of 90 in 100, by how it is known (assumed)."""

SUPPOSED_ML = {"straw": 1.5, "pipette": 1.0, "scoop": 10.0, "bottle cap": 5.0, "jar lid": 20.0, "cup": 150.0}
"""What is supposed to be in one of which nobody knows it (assumed)."""

LEAST_OWN_ML, MOST_OWN_ML = 0.05, 1_000.0


def own_unit(
    place: Unit,
    name: str,
    *,
    powder: bool,
    liquid: bool,
    holds: Holds,
    amount: float | None = None,
    spoon: Unit = Unit.TEASPOON,
) -> UnitKnown:
    """A measure of one's own: so many ml, level spoons, drops, or g of water it holds; or nobody knows.

    Raises Refused for one that measures nothing, or holds more or less than a hand measures with.
    """
    if not (powder or liquid):
        raise Refused("powder", "it measures nothing", "powder, liquid or both")
    if holds is Holds.UNKNOWN:
        ml = SUPPOSED_ML.get(name.lower(), 5.0)
    else:
        field = {Holds.ML: "ml", Holds.SPOONS: "spoons", Holds.DROPS: "drops", Holds.WEIGHED: "g of water"}[holds]
        least, most = (
            f"{bound / _each_ml(holds, spoon):.3g}".replace("1e+03", "1000") for bound in (LEAST_OWN_ML, MOST_OWN_ML)
        )
        accepted = f"{least} to {most} {field}"
        if amount is None:
            raise Refused("amount", "missing", accepted)
        ml = amount * _each_ml(holds, spoon)
        if not LEAST_OWN_ML <= ml <= MOST_OWN_ML:
            raise Refused("amount", f"{amount:g} {field} cannot be measured by hand", accepted)
    many = name if name.endswith("s") else f"{name}{'es' if name.endswith(('x', 'ch', 'sh')) else 's'}"
    return UnitKnown(
        place, name, many, Family.OWN, many, ml, None, powder=powder, liquid=liquid, spread=HOLDS_SPREAD[holds]
    )


def _each_ml(holds: Holds, spoon: Unit) -> float:
    if holds is Holds.SPOONS:
        if spoon not in SPOON_ML:
            raise Refused("spoon", f"'{spoon}' is not a spoon", ", ".join(SPOON_ML))
        return SPOON_ML[spoon]
    # Water drops are twice as heavy as oil's; oil is what is counted.
    return DROP_G / 0.93 if holds is Holds.DROPS else 1.0


def minutes_said(minutes: float) -> str:
    """A time as one says it."""
    return f"{minutes:.0f} min" if minutes >= 1 else "less than a minute"


def amount_words(amount: float, unit: Unit | UnitKnown, *, liquid: bool = False, fill: str = "level") -> str:
    """An amount as one says it: 2 level teaspoons, 1 heaped tablespoon, 22 drops; a liquid is never level."""
    known = unit if isinstance(unit, UnitKnown) else UNITS[unit]
    how = f"{fill} " if known.family is Family.SPOON and not liquid else ""
    return f"{amount:g} {how}{known.one if amount == 1 else known.many}"


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


def family(unit: Unit) -> Family:
    """Which family a unit is of."""
    return UNITS[unit].family


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
    the vessel poured out of (weigh back) or into (weigh in). `own` is the measure of one's own it was taken with.
    """

    unit: Unit
    amount: float | None = None
    before_g: float | None = None
    after_g: float | None = None
    fill: Fill = Fill.LEVEL
    own: UnitKnown | None = None

    @property
    def known(self) -> UnitKnown:
        """What is known of its unit."""
        return self.own or UNITS[self.unit]


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
    if measure.unit is Unit.DROP and loose_density is not None:
        raise Refused("unit", "powder is not dripped", "grams, ml or level spoons")
    if measure.unit is Unit.DROP:
        return _sensible(_drops(amount, drop_g, drop_measured))
    own = measure.own
    if measure.unit in OWN_UNITS:
        if own is None or own.ml is None:
            raise Refused("unit", "no such measure in this studio", "grams, ml, spoons or a measure of the workshop")
        if not (own.liquid if loose_density is None else own.powder):
            what = "liquid" if loose_density is None else "powder"
            raise Refused("unit", f"a {own.one} is not for {what}", "grams, ml or level spoons")
    fill = FILL_FACTOR[measure.fill] if measure.unit in SPOON_ML else 1.0
    volume_ml = amount * (measure.known.ml or 1.0) * fill
    if loose_density is not None:
        density_g_per_ml("loose_density_g_per_ml", loose_density)
        spread = SPOON_SPREAD_MEASURED if loose_density_measured else SPOON_SPREAD
        basis = Basis.MEASURED if loose_density_measured else Basis.LIBRARY
        spread = math.expm1(math.hypot(math.log1p(spread), math.log1p(own.spread if own is not None else 0.0)))
        return _sensible(Estimate.plus_minus(volume_ml * loose_density, spread, basis))
    if density is not None:
        density_g_per_ml("density_g_per_ml", density)
        if own is not None:
            return _sensible(Estimate.plus_minus(volume_ml * density, own.spread, Basis.ENTERED))
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
