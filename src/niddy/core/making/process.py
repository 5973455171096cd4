"""A process: what goes in, in what order, within what windows, and what good looks like. Versions never change."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from niddy.core.errors import Refused, mass_g, within
from niddy.core.making.equation import EITHER_SIDE, Equation, Term, equation
from niddy.core.making.formula import compound, hazards_of, one_wanted
from niddy.core.making.heating import turned
from niddy.core.measures import DROP_G, SPOON_ML, Unit
from niddy.core.steps import Step, Window

MOST_INGREDIENTS = 12
MOST_STEPS = 40


class Does(StrEnum):
    """What an ingredient does."""

    SALT = "salt"
    PRECIPITANT = "precipitant"
    DYE = "dye"
    SUBSTRATE = "substrate"
    OTHER = "other"


class StepKind(StrEnum):
    """What a step is about, and so what is measured at it."""

    DISSOLVE = "dissolve"
    ADD = "add"
    ACIDITY = "acidity"
    HOLD = "hold"
    SETTLE = "settle"
    FILTER = "filter"
    WASH = "wash"
    DRY = "dry"
    HEAT = "heat"
    CRUSH = "crush"
    SIEVE = "sieve"
    OWN = "own"


class Through(StrEnum):
    """What it is filtered through."""

    PAPER = "paper"
    CLOTH = "cloth"
    SUCTION = "suction"


LOOSE_G_PER_ML = 1.0
"""A loose salt or dried plant nobody weighed a spoon of, and any watery liquid (assumed)."""

LIQUID_UNITS = (Unit.MILLILITRE, Unit.DROP)


@dataclass(frozen=True, slots=True)
class Ingredient:
    """What goes in: its parts by weight, and `solution_pct` where it is dissolved first; a dye may have no formula.

    `unit` and `amount` say how it is measured where that is not by weight; by eye it is "some", and weighs nothing that
    anybody knows.
    """

    key: str
    name: str
    parts_g: float
    role: Does
    formula: str = ""
    purity: float = 1.0
    solution_pct: float | None = None
    unit: Unit = Unit.GRAM
    amount: float | None = None

    @property
    def some(self) -> bool:
        """Whether nobody says how much."""
        return self.unit is Unit.EYE

    @property
    def hazards(self) -> tuple[str, ...]:
        """What its formula calls for."""
        return hazards_of(compound("formula", self.formula)) if self.formula else ()


@dataclass(frozen=True, slots=True)
class ProcessStep:
    """One step. Of `minutes`, windows, washes and mesh only what its kind has; `ingredient` by key."""

    key: str
    kind: StepKind
    says: str
    how: str = ""
    ingredient: str = ""
    minutes: float | None = None
    ph: Window | None = None
    temperature: Window | None = None
    wash_ml: float | None = None
    washes: int | None = None
    mesh_um: float | None = None
    from_formula: str = ""
    to_formula: str = ""
    done_when: str = ""
    through: Through | None = None

    def step(self, caution: str = "") -> Step:
        """As every guided craft shows a step."""
        return Step(
            self.key,
            self.says,
            self.how,
            window=self.ph or self.temperature,
            minutes=self.minutes,
            measured=MEASURED[self.kind],
            done_when=self.done_when or GOOD[self.kind],
            caution=caution,
        )


MEASURED = {
    StepKind.DISSOLVE: "weight of salt and water",
    StepKind.ADD: "weight that went in",
    StepKind.ACIDITY: "pH",
    StepKind.HOLD: "temperature and time",
    StepKind.SETTLE: "height of the clear",
    StepKind.FILTER: "what runs through",
    StepKind.WASH: "wash water",
    StepKind.DRY: "weight, a day apart",
    StepKind.HEAT: "weight before and after",
    StepKind.CRUSH: "",
    StepKind.SIEVE: "weight on each sieve",
    StepKind.OWN: "",
}
GOOD = {
    StepKind.DISSOLVE: "clear, nothing on the bottom",
    StepKind.ADD: "it foams no more",
    StepKind.ACIDITY: "the strip stays inside for a minute",
    StepKind.HOLD: "the colour is even",
    StepKind.SETTLE: "clear above the cake",
    StepKind.FILTER: "it runs through clear, and drips no more",
    StepKind.WASH: "the wash water leaves nothing on glass",
    StepKind.DRY: "two weighings a day apart agree",
    StepKind.HEAT: "it weighs what it should",
    StepKind.CRUSH: "no lump under the finger",
    StepKind.SIEVE: "next to nothing stays on top",
    StepKind.OWN: "",
}


CANNOT = "Some amounts are not said, so nobody can tell how much comes of it, its yield or what is left over."


@dataclass(frozen=True, slots=True)
class Process:
    """A process at its own scale, parts in g; `products` and `wanted` where it has an equation."""

    name: str
    ingredients: tuple[Ingredient, ...]
    steps: tuple[ProcessStep, ...]
    products: tuple[str, ...] = ()
    wanted: str = ""

    @property
    def reagents(self) -> tuple[Ingredient, ...]:
        """The ingredients that take part in its equation."""
        return tuple(one for one in self.ingredients if one.formula) if self.products else ()

    @property
    def unweighed(self) -> bool:
        """Whether of something that goes in nobody says how much: then no theory and no yield can be told."""
        return any(one.some for one in self.ingredients)

    @property
    def cannot(self) -> str:
        """What is said of a process that goes by "some"."""
        return CANNOT if self.unweighed else ""

    @property
    def unasked(self) -> tuple[str, ...]:
        """The ingredients that no step asks for."""
        dissolves = any(one.kind is StepKind.DISSOLVE and not one.ingredient for one in self.steps)
        asked = {one.ingredient for one in self.steps}
        return tuple(
            one.name for one in self.ingredients if one.key not in asked and not (dissolves and one.solution_pct)
        )

    @property
    def hazards(self) -> tuple[str, ...]:
        """What all that goes in calls for."""
        return tuple(sorted({key for one in self.ingredients for key in one.hazards}))

    def becomes(self, past: Collection[str] | None = None) -> tuple[str, float]:
        """What its pigment is once the heatings among some steps are done (all where none are named), and the g of it
        that come of 1 g as it was precipitated.
        """
        if not self.wanted:
            return "", 1.0
        heatings = [
            (one.from_formula, one.to_formula)
            for one in self.steps
            if one.kind is StepKind.HEAT and one.from_formula and (past is None or one.key in past)
        ]
        return turned(self.wanted, heatings)

    def equation(self) -> Equation | None:
        """Its equation, balanced; None where it has none. Raises Refused naming the ingredient."""
        if not self.products:
            return None
        return equation([Term(one.formula) for one in self.reagents], [Term(one) for one in self.products])


def parts_of(unit: Unit, amount: float) -> float:
    """The grams of an ingredient measured in spoons, cups, ml or drops (assumed). Raises Refused for other units."""
    if unit is Unit.DROP:
        return amount * DROP_G
    if unit is not Unit.MILLILITRE and unit not in SPOON_ML:
        raise Refused("unit", f"'{unit}' does not measure it", "g, ml, drop, eye, or a spoon or cup")
    return amount * SPOON_ML.get(unit, 1.0) * LOOSE_G_PER_ML


def check(process: Process) -> None:
    """Refuse what is no process, naming the field."""
    if not process.name.strip():
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    if not process.ingredients:
        raise Refused("ingredients", "none", "at least one")
    _count("ingredients", process.ingredients, MOST_INGREDIENTS)
    _count("steps", process.steps, MOST_STEPS)
    keys = set()
    for n, one in enumerate(process.ingredients):
        field = f"ingredients.{n}"
        if not one.name.strip():
            raise Refused(f"{field}.name", "empty", "what it is called")
        if one.key in keys:
            raise Refused(f"{field}.name", f"'{one.name}' is there twice", "each ingredient once")
        keys.add(one.key)
        if not one.some:
            mass_g(f"{field}.parts_g", one.parts_g)
        within(f"{field}.purity", one.purity, 0, 1, open_low=True)
        if one.solution_pct is not None:
            within(f"{field}.solution_pct", one.solution_pct, 0.1, 90, "%")
        if one.formula:
            compound(f"{field}.formula", one.formula)
    _check_equation(process)
    for n, step in enumerate(process.steps):
        _check_step(f"steps.{n}", step, keys)


def changed(process: Process, washes: int | None = None, hold_min: float | None = None) -> Process:
    """A process with one thing changed for a run: so many washes, or so long held where it is held longest."""
    wash = next((n for n in reversed(range(len(process.steps))) if process.steps[n].kind is StepKind.WASH), None)
    holds = [n for n, one in enumerate(process.steps) if one.kind is StepKind.HOLD and one.minutes]
    steps = list(process.steps)
    if washes is not None and wash is not None:
        before = sum(one.washes or 0 for n, one in enumerate(steps) if one.kind is StepKind.WASH and n != wash)
        steps[wash] = replace(steps[wash], washes=max(1, washes - before))
    if hold_min is not None and holds:
        longest = max(holds, key=lambda n: steps[n].minutes or 0.0)
        rest = sum(steps[n].minutes or 0.0 for n in holds if n != longest)
        steps[longest] = replace(steps[longest], minutes=max(1.0, hold_min - rest))
    return replace(process, steps=tuple(steps))


def _count(field: str, found: Sequence[object], most: int) -> None:
    if len(found) > most:
        raise Refused(field, f"{len(found)} of them", f"up to {most}")


def _check_equation(process: Process) -> None:
    if not process.products:
        return
    if not process.reagents:
        raise Refused(
            "ingredients.0.formula", "an equation has no formula before the arrow", "a formula such as Na2CO3"
        )
    solid = [compound(f"products.{n}", one).formula for n, one in enumerate(process.products)]
    wanted = one_wanted(process.wanted).formula
    if wanted not in solid or wanted in EITHER_SIDE:
        raise Refused("wanted", f"{wanted} is not a product of it", "the one product that becomes the pigment")
    places = [n for n, one in enumerate(process.ingredients) if one.formula]
    try:
        process.equation()
    except Refused as refusal:
        field = refusal.field
        if field.startswith("reactants."):
            _, n, rest = field.split(".", 2)
            field = f"ingredients.{places[int(n)]}.{rest}"
        elif field == "reactants":
            field = "ingredients"
        elif field.startswith("products."):
            field = field.removesuffix(".formula")
        raise Refused(field, refusal.problem, refusal.accepted) from None


def _check_step(field: str, step: ProcessStep, keys: set[str]) -> None:
    if not step.says.strip():
        raise Refused(f"{field}.says", "empty", "what is to be done")
    if step.ingredient and step.ingredient not in keys:
        raise Refused(f"{field}.ingredient", "no such ingredient", "one of this process")
    if step.minutes is not None:
        within(f"{field}.minutes", step.minutes, 0, 60 * 24 * 60, "min")
    if step.ph is not None:
        for end, value in (("low", step.ph.low), ("high", step.ph.high)):
            if value is not None:
                within(f"{field}.ph_{end}", value, 0, 14)
    if step.kind is StepKind.WASH:
        if step.wash_ml is None or step.wash_ml <= 0:
            raise Refused(f"{field}.wash_ml", "no water", "the ml of one wash, above 0")
        if step.washes is None or not 1 <= step.washes <= 50:
            raise Refused(f"{field}.washes", "how many?", "1 to 50 washes")
    if step.kind is StepKind.SIEVE and step.mesh_um is not None:
        within(f"{field}.mesh_um", step.mesh_um, 5, 5_000, "um")
    if step.kind is StepKind.HEAT and bool(step.from_formula) != bool(step.to_formula):
        raise Refused(f"{field}.to_formula", "one formula without the other", "both, or neither")
    for name, formula in (("from_formula", step.from_formula), ("to_formula", step.to_formula)):
        if formula:
            compound(f"{field}.{name}", formula)
