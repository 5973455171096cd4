"""Amounts told in the maker's own measure: grams become level spoons, drops or ml, as coarse as a hand can pour."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from niddy.core.measures import DROP_G, UNITS, Family, Unit, UnitKnown, amount_words, spoons_of
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


MOST_DROPS = 15
"""Nobody counts more drops than this of an amount; behind a spoon no more than `DROPS_BEHIND`."""

DROPS_BEHIND = 10

MOST_SPOONS = 6
"""More of one spoon than this are lost count of."""

ABOVE_SPOONS_ML, BEHIND_CUPS = 50.0, 3
"""Behind measures that hold more than so many ml, up to so many of a tablespoon or a smaller cup are counted."""

MOST_ML = 60
"""More than this is not drawn up in a syringe or read off a small cup."""

NEAR = 0.06
"""A measure is taken where whole ones of it come this near; else a smaller one is put to it."""

ALONE = 0.10
"""One measure alone may stay so far below what is to be poured: the next pour takes it up."""

UP_NEAR = 0.12
"""The same where it is rounded up, so that tubes that are wanted are filled."""

SAME = 1e-6

TOLD_SPREAD = 0.5
"""A measure of one's own that may hold so much more or less is typed in, never told."""

MARK_ML = 0.1
"""The finest mark read off a small syringe; beyond `FINE_ML` half ml are read, beyond `HALF_ML` whole ones."""

FINE_ML, HALF_ML = 3.0, 20.0


class Rounding(StrEnum):
    """To which side of what is wanted an amount may lie: a pour below, powder nearest, tubes that are wanted above."""

    DOWN = "down"
    NEAREST = "nearest"
    UP = "up"


@dataclass(frozen=True, slots=True)
class Habit:
    """How a maker measures: with what, which set of spoons, what a drop weighs, and what doses a little oil."""

    how: Measuring = Measuring.SCALE
    us_spoons: bool = False
    small: Small = Small.DROPS
    drop_g: float = DROP_G
    missing: tuple[Unit, ...] = ()
    own: tuple[UnitKnown, ...] = ()

    def measures(self, *, liquid: bool) -> tuple[UnitKnown, ...]:
        """The spoons at hand and the measures of one's own that it is known what they hold of, largest first."""
        own = (one for one in self.own if (one.liquid if liquid else one.powder) and one.spread <= TOLD_SPREAD)
        rows = (*own, *(UNITS[unit] for unit in spoons_of(self.us_spoons, self.missing)))
        return tuple(sorted(rows, key=lambda one: one.ml or 0.0, reverse=True))

    def each_g(self, density_g_per_ml: float, *, liquid: bool) -> dict[UnitKnown, float]:
        """The grams of one of each, of stuff of a density, loose where it is powder."""
        return {one: (one.ml or 0.0) * density_g_per_ml for one in self.measures(liquid=liquid)}

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

    With `parts` it takes two measures, one after the other; then `unit` and `amount` are the first's. To the eye
    `words` have no numbers; `figures` say then how much that would be.
    """

    unit: Unit
    amount: float
    words: str
    grams: float
    parts: tuple[Part, ...] = ()
    figures: str = ""


def powder(
    grams: float, loose_density_g_per_ml: float, habit: Habit, *, up: bool = False, there_g: float | None = None
) -> Told | None:
    """Grams of powder as level spoons, at least one of the smallest; None for a maker with a scale.

    With `up` never less than asked: tubes that are wanted are filled. To the eye it is told against what is there
    already, where that is given.
    """
    if habit.how is Measuring.SCALE or grams <= 0:
        return None
    each = habit.each_g(loose_density_g_per_ml, liquid=False)
    found = _in_hand(grams, each, Rounding.UP if up else Rounding.NEAREST)
    told = _told(found or ((list(each)[-1], 1),), each, liquid=False)
    return _to_the_eye(told, HEAP, POWDER_TO_THE_EYE, habit, there_g)


def oil(
    grams: float, density_g_per_ml: float, habit: Habit, to: Rounding = Rounding.DOWN, *, there_g: float | None = None
) -> Told | None:
    """Grams of oil as drops, marks or spoons: a pour never more than asked; None where too little, or with a scale.

    What is told and not poured in steps, an expected amount or the oil of a stick, is told `to` the nearest. To the
    eye it is told against what is there already, where that is given.
    """
    told = _measured_oil(grams, density_g_per_ml, habit, to)
    return _to_the_eye(told, HOLLOW, OIL_TO_THE_EYE, habit, there_g) if told is not None else None


def oil_in_all(grams: float, density_g_per_ml: float, habit: Habit) -> Told | None:
    """All the oil a paste is expected to take, to the nearest; to the eye it is no amount."""
    told = _measured_oil(grams, density_g_per_ml, habit, Rounding.NEAREST)
    if told is None or habit.how is not Measuring.EYE:
        return told
    return replace(told, words="fill the hollow, then a thread at a time", figures=told.words)


HEAP, HOLLOW = "as much as you want to grind", "enough to fill the hollow"
"""What the first of it is to the eye."""

POWDER_TO_THE_EYE = (
    (0.75, "as much again"),
    (0.35, "half as much again"),
    (0.12, "a quarter as much again"),
    (0.03, "a little"),
    (0.0, "a pinch"),
)
OIL_TO_THE_EYE = (
    (0.75, "as much again"),
    (0.35, "half as much again"),
    (0.12, "a little"),
    (0.04, "a thread"),
    (0.0, "a drop or two, then look"),
)
BESIDE_THE_MOST = (
    (0.75, "as much"),
    (0.4, "half as much"),
    (0.2, "a quarter as much"),
    (0.07, "a little"),
    (0.0, "a pinch"),
)
"""From so much of what is there an amount is called so."""


def _to_the_eye(
    told: Told, first: str, words: Iterable[tuple[float, str]], habit: Habit, there_g: float | None
) -> Told:
    """An amount without numbers for a maker who measures by eye; any other as it is."""
    if habit.how is not Measuring.EYE or there_g is None:
        return told
    said = first if there_g <= 0 else next(said for least, said in words if told.grams / there_g >= least)
    return replace(told, words=said, figures=told.words)


def beside_the_most(told: Told, most_g: float, habit: Habit) -> Told:
    """The powders of a blend to the eye: the most, and each other against it."""
    return _to_the_eye(told, HEAP, BESIDE_THE_MOST, habit, 0.0 if told.grams >= most_g else most_g)


def _measured_oil(grams: float, density_g_per_ml: float, habit: Habit, to: Rounding) -> Told | None:
    if habit.how is Measuring.SCALE:
        return None
    each = habit.each_g(density_g_per_ml, liquid=True)
    if habit.small is Small.ML:
        ml = _marked(grams / density_g_per_ml)
        if ml is not None:
            return Told(Unit.MILLILITRE, ml, amount_words(ml, Unit.MILLILITRE), ml * density_g_per_ml)
        found = _in_hand(grams, each, to) if grams > MOST_ML * density_g_per_ml else ()
        return _told(found, each, liquid=True) if found else None
    found = _in_hand(grams, each, to, habit.drop_g)
    return _told(found, {**each, DROP: habit.drop_g}, liquid=True) if found else None


def drips(grams: float, density_g_per_ml: float, drop_g: float | None) -> Told | None:
    """Grams of what is dripped as drops, or as ml where they would be too many; None for what is not dripped."""
    if not drop_g or grams <= 0:
        return None
    if grams / drop_g <= MOST_DROPS:
        return _told(((DROP, max(1, round(grams / drop_g))),), {DROP: drop_g}, liquid=True)
    ml = _marked(grams / density_g_per_ml) or round(grams / density_g_per_ml, 1)
    return Told(Unit.MILLILITRE, ml, amount_words(ml, Unit.MILLILITRE), ml * density_g_per_ml)


DROP = UNITS[Unit.DROP]

Counted = tuple[tuple[UnitKnown, int], ...]
"""So many of one measure, and of a second where there is one."""


def _told(counted: Counted, each_g: Mapping[UnitKnown, float], *, liquid: bool) -> Told:
    parts = tuple(
        # Level is said of the first, and meant of both.
        Part(one.unit, float(count), amount_words(count, one, liquid=liquid or n > 0), count * each_g[one])
        for n, (one, count) in enumerate(counted)
    )
    first = parts[0]
    words, grams = " and ".join(part.words for part in parts), sum(part.grams for part in parts)
    return Told(first.unit, first.amount, words, grams, parts if len(parts) > 1 else ())


def _in_hand(wanted: float, each: Mapping[UnitKnown, float], to: Rounding, drop_g: float | None = None) -> Counted:
    """What comes nearest to some grams that a hand can measure; nothing where the least of it is too much.

    So many of one spoon, or drops; where none of these comes near alone, a smaller spoon once or a few drops behind.
    """

    def grams(counted: Counted) -> float:
        return sum(count * each.get(unit, drop_g or 0.0) for unit, count in counted)

    def may(counted: Counted) -> bool:
        slack = 0.02 * wanted + (0.25 * drop_g if drop_g and counted[-1][0] is DROP else 0.0)
        if to is Rounding.DOWN:
            return grams(counted) <= wanted + slack
        return to is Rounding.NEAREST or grams(counted) >= wanted - slack

    possible = [counted for counted in _countable(wanted, each, drop_g) if may(counted)]
    if not possible:
        return ()

    def off(counted: Counted) -> float:
        return abs(grams(counted) / wanted - 1)

    # What was told once is told so again, whatever else comes near to it.
    if same := [counted for counted in possible if off(counted) < SAME]:
        return min(same, key=_trouble)
    near = UP_NEAR if to is Rounding.UP else NEAR
    easy = [counted for counted in possible if off(counted) <= near]
    if to is Rounding.DOWN:
        easy += [counted for counted in possible if len(counted) == 1 and off(counted) <= ALONE]
    return min(easy, key=lambda counted: (_trouble(counted), off(counted))) if easy else min(possible, key=off)


def _trouble(counted: Counted) -> float:
    """How much there is to count, and to look for in the drawer (assumed)."""
    spoons = sum(count for one, count in counted if one is not DROP)
    own = any(one.family is Family.OWN for one, _ in counted)
    return spoons + 1.5 * (len(counted) - 1) + sum(2.0 for one, _ in counted if one.rare) - (1.5 if own else 0.0)


def _countable(wanted: float, each: Mapping[UnitKnown, float], drop_g: float | None) -> Iterator[Counted]:
    """Every amount near to what is wanted that is counted without losing count."""
    units = list(each)
    for n, unit in enumerate(units):
        exact = wanted / each[unit]
        most = MOST_SPOONS if n else max(MOST_SPOONS, math.ceil(exact))
        for count in {math.floor(exact + 0.02), math.ceil(exact - 0.02)}:
            if not 1 <= count <= most:
                continue
            yield ((unit, count),)
            rest = wanted - count * each[unit]
            if rest > 0:
                for smaller in units[n + 1 :]:
                    # A hand scoops a smaller spoon once; behind cups it takes some more.
                    cups = (unit.ml or 0.0) > ABOVE_SPOONS_ML < 5 * (smaller.ml or 0.0)
                    most_behind = BEHIND_CUPS if cups else 1
                    yield from (((unit, count), (smaller, behind)) for behind in range(1, most_behind + 1))
                drops = min(DROPS_BEHIND, math.floor(rest / drop_g + 0.25)) if drop_g else 0
                if drops:
                    yield ((unit, count), (DROP, drops))
        if n and exact > MOST_SPOONS:
            yield ((unit, MOST_SPOONS),)
    if drop_g:
        drops = min(MOST_DROPS, math.floor(wanted / drop_g + 0.25))
        if drops:
            yield ((DROP, drops),)


def _marked(ml: float) -> float | None:
    """Ml as a syringe reads them, never above what is wanted; None below its first mark, and above what it holds."""
    if ml > MOST_ML:
        return None
    step = MARK_ML if ml < FINE_ML else 0.5 if ml < HALF_ML else 1.0
    marks = math.floor(ml / step + 0.05)
    return round(marks * step, 1) if marks else None


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


ROUNDED_OFF = 0.2
"""So much of a pour may be left by rounding it to what a hand measures: the next takes it up."""


def after_rounding(wanted: list[tuple[float, float]], habit: Habit, poured_g: float) -> list[tuple[float, float]]:
    """Rungs without the first where only what rounding left of it is still to pour."""
    left_by_rounding = habit.how is not Measuring.SCALE and poured_g >= (1 - ROUNDED_OFF) * wanted[0][1]
    return wanted[1:] if left_by_rounding else wanted


def smallest_powder_g(loose_density_g_per_ml: float, habit: Habit) -> float:
    """The least powder this maker can add on purpose: a tenth of a gram, or the smallest spoon."""
    if habit.how is Measuring.SCALE:
        return 0.1
    return min(habit.each_g(loose_density_g_per_ml, liquid=False).values())


def as_told_again(grams: float, density_g_per_ml: float, habit: Habit) -> Told | None:
    """Grams of oil as told, so that what is told of those grams is the same again; None with a scale."""
    told = oil(grams, density_g_per_ml, habit)
    while told is not None and told.grams < grams:
        grams = told.grams
        told = oil(grams, density_g_per_ml, habit) or told
    return told


def powder_words(grams: float, loose_density_g_per_ml: float, habit: Habit) -> str:
    """Grams of powder in words, in the maker's measure."""
    told = powder(grams, loose_density_g_per_ml, habit)
    return told.words if told is not None else f"{grams:.1f} g"
