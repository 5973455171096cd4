"""Amounts told in the maker's own measure: grams become level spoons, drops or ml, as coarse as a hand can pour."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.measures import DROP_G, SPOON_ML, Unit, amount_words
from niddy.core.pours import Pour, as_read


class Measuring(StrEnum):
    """How a maker measures at the bench."""

    SCALE = "scale"
    SPOONS = "spoons"
    EYE = "eye"


class Small(StrEnum):
    """How a maker without a scale doses a little oil."""

    DROPS = "drops"
    ML = "ml"


METRIC = (Unit.TABLESPOON, Unit.TEASPOON, Unit.HALF_TEASPOON, Unit.QUARTER_TEASPOON)
US = (Unit.US_TABLESPOON, Unit.US_TEASPOON, Unit.US_HALF_TEASPOON, Unit.US_QUARTER_TEASPOON)

MOST_DROPS = 60
"""Nobody counts more drops than this: a spoon or a syringe measures them."""

MOST_SPOONS = 12
"""More of one spoon than this are lost count of, where a larger one is at hand."""

NEAR = 0.06
"""A larger spoon is taken where whole ones of it come this near."""

UP_NEAR = 0.12
"""The same where it is rounded up, so that tubes that are wanted are filled."""

SHORT = 0.10
"""Two measures together may stay this far below what is asked: the next pour makes up for it."""

MARK_ML = 0.1
"""The finest mark read off a pipette or a syringe."""


@dataclass(frozen=True, slots=True)
class Habit:
    """How a maker measures: with what, which set of spoons, what a drop weighs, and what doses a little oil."""

    how: Measuring = Measuring.SCALE
    us_spoons: bool = False
    small: Small = Small.DROPS
    drop_g: float = DROP_G

    @property
    def spoons(self) -> tuple[Unit, ...]:
        """The spoons at hand, largest first."""
        return US if self.us_spoons else METRIC

    @property
    def smallest_oil_g(self) -> float:
        """The least oil this maker can add on purpose, apart from a scale's own 0.05 g."""
        return self.drop_g if self.small is Small.DROPS else MARK_ML * 0.9


@dataclass(frozen=True, slots=True)
class Part:
    """One of two measures that make an amount together."""

    unit: Unit
    amount: float
    words: str
    grams: float


@dataclass(frozen=True, slots=True)
class Told:
    """An amount as the maker measures it: so many of a unit, in words, and the grams that is.

    With `parts` it takes two measures, one after the other; then `unit` and `amount` are the first's.
    """

    unit: Unit
    amount: float
    words: str
    grams: float
    parts: tuple[Part, ...] = ()


def powder(grams: float, loose_density_g_per_ml: float, habit: Habit, *, up: bool = False) -> Told | None:
    """Grams of powder as level spoons, at least one of the smallest; None for a maker with a scale.

    With `up` never less than asked: tubes that are wanted are filled.
    """
    if habit.how is Measuring.SCALE or grams <= 0:
        return None
    unit, count = _spoons(grams / loose_density_g_per_ml, habit, up=up)
    return Told(unit, float(count), amount_words(count, unit), count * SPOON_ML[unit] * loose_density_g_per_ml)


def oil(grams: float, density_g_per_ml: float, habit: Habit) -> Told | None:
    """Grams of oil as drops, marks or spoons, never more than asked; None where too little, or with a scale."""
    if habit.how is Measuring.SCALE:
        return None
    ml = grams / density_g_per_ml
    if habit.small is Small.ML:
        marks = math.floor(ml / MARK_ML + 0.05)
        if marks < 1:
            return None
        amount = round(marks * MARK_ML, 1)
        return Told(Unit.MILLILITRE, amount, amount_words(amount, Unit.MILLILITRE), amount * density_g_per_ml)
    if grams / habit.drop_g <= MOST_DROPS:
        return _drops(grams, habit)
    return _spoons_and_drops(grams, density_g_per_ml, habit)


def drips(grams: float, density_g_per_ml: float, drop_g: float | None) -> Told | None:
    """Grams of what is dripped as drops, or as ml where they would be too many; None for what is not dripped."""
    if not drop_g or grams <= 0:
        return None
    if grams / drop_g <= MOST_DROPS:
        return _liquid(Unit.DROP, max(1, round(grams / drop_g)), drop_g)
    ml = round(grams / density_g_per_ml, 1)
    return Told(Unit.MILLILITRE, ml, amount_words(ml, Unit.MILLILITRE), ml * density_g_per_ml)


def _drops(grams: float, habit: Habit) -> Told | None:
    count = math.floor(grams / habit.drop_g + 0.25)
    return _liquid(Unit.DROP, count, habit.drop_g) if count >= 1 else None


def _spoons_and_drops(grams: float, density_g_per_ml: float, habit: Habit) -> Told:
    """One kind of spoon where that comes near from below; else it, and a smaller one or drops for the rest."""
    best: Told | None = None
    for unit in habit.spoons:
        each = SPOON_ML[unit] * density_g_per_ml
        count = math.floor(grams / each + 0.02)
        if not 1 <= count <= MOST_SPOONS:
            continue
        one = _liquid(unit, count, each)
        rest = grams - one.grams
        if rest <= NEAR * grams:
            return one
        for more in (*(_spoon(rest, smaller, density_g_per_ml) for smaller in habit.spoons), _few_drops(rest, habit)):
            if more is None or more.unit == unit:
                continue
            both = Told(
                unit, one.amount, f"{one.words} and {more.words}", one.grams + more.grams, (_part(one), _part(more))
            )
            if best is None or both.grams > best.grams:
                best = both
        if best is None or one.grams > best.grams:
            best = one
        if grams - best.grams <= SHORT * grams:
            return best
    if best is None:
        unit = habit.spoons[0]
        count = max(1, math.floor(grams / (SPOON_ML[unit] * density_g_per_ml)))
        best = _liquid(unit, count, SPOON_ML[unit] * density_g_per_ml)
    return best


def _liquid(unit: Unit, count: int, each_g: float) -> Told:
    return Told(unit, float(count), amount_words(count, unit, liquid=True), count * each_g)


def _part(told: Told) -> Part:
    return Part(told.unit, told.amount, told.words, told.grams)


def _spoon(grams: float, unit: Unit, density_g_per_ml: float) -> Told | None:
    count = math.floor(grams / (SPOON_ML[unit] * density_g_per_ml) + 0.02)
    if not 1 <= count <= 3:
        return None
    return _liquid(unit, count, SPOON_ML[unit] * density_g_per_ml)


def _few_drops(grams: float, habit: Habit) -> Told | None:
    return _drops(grams, habit) if grams / habit.drop_g <= MOST_DROPS else None


def pourable(
    wanted: list[tuple[float, float]],
    smallest_g: float,
    density_g_per_ml: float,
    habit: Habit,
    poured_g: float = 0.0,
    *,
    read: bool = True,
) -> tuple[Pour, ...]:
    """Rungs to each cumulative amount of oil in g, in steps that this maker can pour.

    What is too small to pour is merged into the next; so is, with `read`, what reads like the rung before it.
    Without a scale each rung ends where whole drops, marks or spoons end. `poured_g` is in before the first.
    """
    pours: list[Pour] = []
    for quantile, cumulative in wanted:
        step = cumulative - poured_g
        alike = read and bool(pours) and as_read(cumulative) == as_read(poured_g)
        if step < smallest_g or alike:
            continue
        if habit.how is not Measuring.SCALE:
            told = as_told_again(step, density_g_per_ml, habit)
            if told is None:
                continue
            step = told.grams
        pours.append(Pour(quantile, poured_g + step, step))
        poured_g += step
    return tuple(pours)


def smallest_powder_g(loose_density_g_per_ml: float, habit: Habit) -> float:
    """The least powder this maker can add on purpose: a tenth of a gram, or the smallest spoon."""
    if habit.how is Measuring.SCALE:
        return 0.1
    return SPOON_ML[habit.spoons[-1]] * loose_density_g_per_ml


def as_told_again(grams: float, density_g_per_ml: float, habit: Habit) -> Told | None:
    """Grams of oil as told, so that what is told of those grams is the same again; None with a scale."""
    told = oil(grams, density_g_per_ml, habit)
    while told is not None and told.grams < grams:
        grams = told.grams
        told = oil(grams, density_g_per_ml, habit) or told
    return told


def oil_words(grams: float, density_g_per_ml: float, habit: Habit) -> str:
    """Grams of oil in words, in the maker's measure."""
    told = oil(grams, density_g_per_ml, habit)
    return f"about {told.words}" if told is not None else f"{grams:.1f} g"


def powder_words(grams: float, loose_density_g_per_ml: float, habit: Habit) -> str:
    """Grams of powder in words, in the maker's measure."""
    told = powder(grams, loose_density_g_per_ml, habit)
    return told.words if told is not None else f"{grams:.1f} g"


def _spoons(ml: float, habit: Habit, *, up: bool) -> tuple[Unit, int]:
    """The largest spoon of which a whole number comes near; else the smallest that is not lost count of."""
    near = UP_NEAR if up else NEAR
    best: tuple[Unit, int] | None = None
    for unit in habit.spoons:
        exact = ml / SPOON_ML[unit]
        count = math.ceil(exact - 0.02) if up else round(exact)
        if count < 1:
            continue
        if abs(exact - count) / exact <= near:
            return unit, count
        if best is None or count <= MOST_SPOONS:
            best = unit, count
    return best or (habit.spoons[-1], 1)
