"""A run on paper: forward from what is on hand or back from what is wanted, with solutions, vessel, water and waste."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from scipy.special import stdtrit

from niddy.core import telling
from niddy.core.errors import Refused, mass_g, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.making.equation import Term
from niddy.core.making.formula import compound
from niddy.core.making.lake import GAS_L_PER_MOL, VESSEL_TIMES
from niddy.core.making.process import LOOSE_G_PER_ML, Ingredient, Process, StepKind, Through
from niddy.core.making.reaction import LeftOver, Reaction, Reagent, reaction
from niddy.core.making.standing_in import grams_per_gram
from niddy.core.making.washing import left_after
from niddy.core.measures import DROP_G, SPOON_ML, UNITS, Spoons, Unit, amount_words
from niddy.core.telling import Habit, Measuring, Told

RETAINED_ML_PER_G = 3.0
"""A settled cake holds so much liquid for each gram of dry pigment in it (assumed)."""

NO_FOAM_TIMES = 1.5
"""A vessel for what does not foam, times its liquid (assumed)."""

UNKNOWN_SHARE = 0.3
"""What of all that goes in is taken to become pigment while nobody knows (assumed)."""

FIRST_YIELD, FIRST_YIELD_SD = 0.85, 0.12
"""What a process yields of theory before it was ever run (assumed)."""

RUNS_SD, RUNS_FREEDOM, FIRST_COUNTS = 0.07, 4, 0.5
"""How far runs of one process lie apart, worth so many runs; before any, a process counts as half a run (assumed)."""


@dataclass(frozen=True, slots=True)
class RawLot:
    """What a lot of a raw material is: its formula, where it has one, and how much of it counts."""

    formula: str
    purity: float


@dataclass(frozen=True, slots=True)
class Scaled:
    """What to weigh of one ingredient, and the water that makes its solution; g and g.

    `words` are for what is not measured by weight; of `some` nobody says how much.
    """

    key: str
    name: str
    g: float
    water_g: float
    hazards: tuple[str, ...]
    some: bool = False
    words: str = ""

    @property
    def solution_g(self) -> float:
        return self.g + self.water_g


@dataclass(frozen=True, slots=True)
class RunPlan:
    """One run: what to weigh, what it may come to, what it takes in vessel and water, and what leaves as waste.

    `theory_g` is None without an equation; `expected_g` then rests on the process's own runs alone, None before one.
    `left_fraction` is what of the salts the washes leave.
    """

    factor: float
    weigh: tuple[Scaled, ...]
    equation: str
    limiting: str | None
    theory_g: float | None
    expected_g: Estimate | None
    left: tuple[LeftOver, ...]
    gas_l: float
    liquid_ml: float
    vessel_ml: float
    wash_ml: float
    left_fraction: float | None
    waste_ml: float
    waste_holds: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class OwnYield:
    """What a process's own runs came to: of theory where it has an equation, else g for each g of its parts."""

    runs: tuple[float, ...] = ()

    def of(self, equation: bool) -> Estimate | None:
        """The yield to expect, with its band; None where nothing is known."""
        if not self.runs:
            return Estimate.plus_minus(FIRST_YIELD, FIRST_YIELD_SD / FIRST_YIELD, Basis.ASSUMED) if equation else None
        n, own = len(self.runs), sum(self.runs) / len(self.runs)
        # Of what has no theory, no yield is likelier than what its own runs say.
        mean = (FIRST_COUNTS * (FIRST_YIELD if equation else own) + n * own) / (FIRST_COUNTS + n)
        apart = RUNS_SD if equation else RUNS_SD * own / FIRST_YIELD
        squares = RUNS_FREEDOM * apart**2 + sum((one - mean) ** 2 for one in self.runs)
        spread = (squares / (RUNS_FREEDOM + n)) ** 0.5
        half = float(stdtrit(RUNS_FREEDOM + n, 0.95)) * spread * (1 + 1 / (n + FIRST_COUNTS)) ** 0.5
        return Estimate(mean, max(0.0, mean - half), mean + half, Basis.LEARNED)


def plan_run(
    process: Process,
    own: OwnYield | None = None,
    *,
    on_hand: Mapping[str, float] | None = None,
    wanted_g: float | None = None,
    lots: Mapping[str, RawLot] | None = None,
) -> RunPlan:
    """A run from what is on hand of some ingredients, or back from the pigment wanted; else at the process's own scale.

    `lots` are those it is weighed from, by ingredient: another hydrate or purity weighs otherwise, and what is on hand
    is of that lot.

    Raises Refused naming the ingredient or amount.
    """
    own = own or OwnYield()
    if not process.ingredients:
        raise Refused("ingredients", "none", "at least one")
    known = own.of(bool(process.products)) if not process.unweighed else None
    whole = sum(one.parts_g for one in process.ingredients)
    at_one = _theory(process, 1.0)
    _, roasted = process.becomes() if at_one is not None else ("", 1.0)
    per_gram = {one.key: _per_gram(n, one, (lots or {}).get(one.key)) for n, one in enumerate(process.ingredients)}
    factor = 1.0
    if wanted_g is not None:
        mass_g("wanted_g", wanted_g)
        per_factor = at_one.theoretical_g * roasted if at_one is not None else whole
        if known is None or known.median <= 0:
            if process.unweighed:
                why = "it goes by some of this and some of that: nobody knows what it yields"
                raise Refused("wanted_g", why, "a run as it is written")
            raise Refused("wanted_g", "nobody knows yet what this process yields", "what is on hand, for the first run")
        factor = wanted_g / (per_factor * known.median)
    elif on_hand:
        factor = min(_factor(process, key, grams) / per_gram.get(key, 1.0) for key, grams in on_hand.items())
    within("wanted_g" if wanted_g is not None else "on_hand", factor, 1e-4, 1e4)
    made = _theory(process, factor)
    weigh = tuple(
        Scaled(
            one.key,
            one.name,
            one.parts_g * factor * per_gram[one.key],
            max(0.0, one.parts_g * factor * (100 / one.solution_pct - per_gram[one.key])) if one.solution_pct else 0.0,
            one.hazards,
            one.some,
            told.words if (told := told_of(one, one.parts_g * factor, Habit())) is not None else "",
        )
        for one in process.ingredients
    )
    per = made.theoretical_g * roasted if made is not None else whole * factor
    expected = (
        Estimate(per * known.median, per * (known.low or 0.0), per * (known.high or known.median), known.basis)
        if known
        else None
    )
    liquid = sum(one.water_g for one in weigh)
    gas = _gas_l(process, factor)
    pigment_g = expected.median if expected is not None else UNKNOWN_SHARE * whole * factor
    water, left, held = 0.0, None, RETAINED_ML_PER_G
    for step in process.steps:
        if step.kind is StepKind.FILTER:
            held = FILTERED_ML_PER_G[step.through or Through.PAPER]
        if step.kind is StepKind.WASH and step.wash_ml and step.washes:
            each = step.wash_ml * factor
            water += each * step.washes
            if pigment_g > 0:
                left = (left if left is not None else 1.0) * left_after(held * pigment_g, each, step.washes)
    foams = gas > 0 or any("foams" in one.hazards for one in process.ingredients)
    return RunPlan(
        factor,
        weigh,
        made.equation if made is not None else "",
        made.limiting if made is not None else None,
        made.theoretical_g if made is not None else None,
        expected,
        made.left if made is not None else (),
        gas,
        liquid,
        liquid * (VESSEL_TIMES if foams else NO_FOAM_TIMES),
        water,
        left,
        liquid + water,
        waste_holds(weigh),
    )


FILTERED_ML_PER_G = {Through.PAPER: 2.0, Through.CLOTH: 2.2, Through.SUCTION: 1.2}
"""A cake on a filter holds so much liquid for each gram of dry pigment in it (assumed)."""


def retained_ml(plan: RunPlan, process: Process) -> float:
    """What the cake of a run holds while it is washed, ml (assumed): settled, or on the filter it was put on before."""
    held = RETAINED_ML_PER_G
    for step in process.steps:
        if step.kind is StepKind.WASH:
            break
        if step.kind is StepKind.FILTER:
            held = FILTERED_ML_PER_G[step.through or Through.PAPER]
    if plan.expected_g is not None:
        return held * plan.expected_g.median
    return held * UNKNOWN_SHARE * sum(one.g for one in plan.weigh)


def told_of(one: Ingredient, grams: float, habit: Habit, loose_g_per_ml: float = LOOSE_G_PER_ML) -> Told | None:
    """So much of an ingredient as it was written, or as this maker measures, as a hand can; None by weight."""
    if one.some:
        return Told(Unit.EYE, 1.0, "some", 0.0)
    if grams <= 0:
        return None
    if one.unit is Unit.DROP:
        return telling.drips(grams, LOOSE_G_PER_ML, DROP_G)
    if one.unit is Unit.MILLILITRE:
        ml = round(grams / LOOSE_G_PER_ML, 1 if grams < 10 else 0)
        return Told(one.unit, ml, amount_words(ml, one.unit), grams)
    if one.unit in SPOON_ML:
        spooned = replace(habit, how=Measuring.SPOONS, us_spoons=UNITS[one.unit].spoons is Spoons.US)
        return telling.powder(grams, LOOSE_G_PER_ML, spooned)
    return telling.powder(grams, loose_g_per_ml, habit)


NOT_IN_WASTE = frozenset({"foams", "none", "nuisance-dust"})
"""What a reagent does that its waste does not."""


def waste_holds(weigh: Sequence[Scaled]) -> tuple[str, ...]:
    """What the liquids of a run may hold, by what goes in."""
    return tuple(sorted({key for one in weigh for key in one.hazards} - NOT_IN_WASTE))


def _per_gram(n: int, one: Ingredient, lot: RawLot | None) -> float:
    if lot is None:
        return 1.0
    try:
        return grams_per_gram(one.formula, one.purity, lot.formula, lot.purity)
    except Refused as refusal:
        raise Refused(f"lots.{n}", refusal.problem, refusal.accepted) from None


def _factor(process: Process, key: str, grams: float) -> float:
    found = next((one for one in process.ingredients if one.key == key), None)
    if found is None:
        raise Refused(f"on_hand.{key}", "no such ingredient", "one of this process")
    if found.some:
        raise Refused(f"on_hand.{key}", f"of {found.name} it says only 'some'", "one that the process says how much of")
    return mass_g(f"on_hand.{key}", grams) / found.parts_g


def _theory(process: Process, factor: float) -> Reaction | None:
    if not process.products or any(one.some for one in process.reagents):
        return None
    reagents = [Reagent(one.formula, None, one.parts_g * factor, one.purity) for one in process.reagents]
    return reaction(reagents, [Term(one) for one in process.products], process.wanted)


def _gas_l(process: Process, factor: float) -> float:
    """Carbon dioxide that comes off, litres: by the equation, or all of the carbonate where alum or acid meets it."""
    balanced = process.equation()
    if balanced is not None:
        gas = balanced.coefficients.get("CO2", 0)
        made = _theory(process, factor)
        if made is None:
            return 0.0
        target = next(n for one, n in balanced.products if one.formula == compound("wanted", process.wanted).formula)
        moles = made.theoretical_g / compound("wanted", process.wanted).molar_g / target
        return float(moles * gas * GAS_L_PER_MOL)
    sour = any("Al(SO4)2" in one.formula for one in process.ingredients)
    moles = sum(
        one.parts_g * factor * one.purity / compound("formula", one.formula).molar_g
        for one in process.ingredients
        if one.formula and "CO3" in one.formula
    )
    return moles * GAS_L_PER_MOL if sour else 0.0
