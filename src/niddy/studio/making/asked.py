"""A process as a client says it."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from niddy.core.amounts import Grams
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.making import Does, Ingredient, Process, ProcessStep, StepKind, Through, parts_of
from niddy.core.making.acts import Acidity, Celsius
from niddy.core.measures import Unit
from niddy.core.steps import Window
from niddy.core.words import Words

Name = Annotated[Words, Field(max_length=80)]
FormulaSaid = Annotated[Words, Field(max_length=80)]
Said = Annotated[Words, Field(max_length=300)]


class IngredientAsked(Document):
    """What goes in, by its parts in g; `solution_pct` where it is dissolved first, in percent by weight.

    Without a scale `amount` of a `unit`: spoons, cups, ml, drops; the unit eye is "some".
    """

    name: Name
    parts_g: Grams | None = None
    unit: Unit = Unit.GRAM
    amount: Annotated[float, Field(strict=True, gt=0, le=10_000)] | None = None
    role: Does = Does.OTHER
    formula: FormulaSaid = ""
    purity: Annotated[float, Field(strict=True, gt=0, le=1)] = 1.0
    solution_pct: Annotated[float, Field(strict=True, ge=0.1, le=90)] | None = None

    def grams(self, n: int) -> float:
        """Its parts in g, of an amount as it is assumed to weigh. Raises Refused."""
        if self.unit is Unit.EYE:
            return 0.0
        if self.unit is Unit.GRAM:
            if self.parts_g is None:
                raise Refused(f"ingredients.{n}.parts_g", "missing", "g above 0, or another measure")
            return self.parts_g
        if self.amount is None:
            raise Refused(f"ingredients.{n}.amount", "missing", "a number above 0, or 'some'")
        try:
            return parts_of(self.unit, self.amount)
        except Refused as refusal:
            raise refusal.under(f"ingredients.{n}") from None


class StepAsked(Document):
    """One step; `ingredient` is its place in the list, from 0. Of the rest only what its kind has."""

    kind: StepKind
    says: Said
    how: Said = ""
    ingredient: Annotated[int, Field(strict=True, ge=0, le=11)] | None = None
    minutes: Annotated[float, Field(strict=True, ge=0, le=86_400)] | None = None
    ph_low: Acidity | None = None
    ph_high: Acidity | None = None
    temperature_low_c: Celsius | None = None
    temperature_high_c: Celsius | None = None
    wash_ml: Annotated[float, Field(strict=True, ge=0, le=100_000)] | None = None
    washes: Annotated[int, Field(strict=True, ge=0, le=50)] | None = None
    mesh_um: Annotated[float, Field(strict=True, ge=5, le=5_000)] | None = None
    from_formula: FormulaSaid = ""
    to_formula: FormulaSaid = ""
    done_when: Said = ""
    through: Through | None = None

    def step(self, n: int) -> ProcessStep:
        """The core's type. Raises Refused for a window the wrong way round."""
        return ProcessStep(
            f"step-{n + 1}",
            self.kind,
            self.says.strip(),
            self.how.strip(),
            f"in-{self.ingredient + 1}" if self.ingredient is not None else "",
            self.minutes,
            _window("pH", "", self.ph_low, self.ph_high),
            _window("temperature", "C", self.temperature_low_c, self.temperature_high_c),
            self.wash_ml,
            self.washes,
            self.mesh_um,
            self.from_formula,
            self.to_formula,
            self.done_when.strip(),
            self.through,
        )


def _window(what: str, unit: str, low: float | None, high: float | None) -> Window | None:
    return Window(what, unit, low, high) if low is not None or high is not None else None


class ProcessSaid(Document):
    """What a process is: what goes in, its equation where it has one, its steps."""

    ingredients: Annotated[list[IngredientAsked], Field(max_length=12)]
    products: Annotated[list[FormulaSaid], Field(max_length=8)] = []
    wanted: FormulaSaid = ""
    steps: Annotated[list[StepAsked], Field(max_length=40)] = []

    def process(self, name: str) -> Process:
        """The core's type, not checked yet."""
        return Process(
            name.strip(),
            tuple(
                Ingredient(
                    f"in-{n + 1}",
                    one.name.strip(),
                    one.grams(n),
                    one.role,
                    one.formula.strip(),
                    one.purity,
                    one.solution_pct,
                    one.unit,
                    one.amount if one.unit not in (Unit.GRAM, Unit.EYE) else None,
                )
                for n, one in enumerate(self.ingredients)
            ),
            tuple(one.step(n) for n, one in enumerate(self.steps)),
            tuple(one.strip() for one in self.products if one.strip()),
            self.wanted.strip(),
        )


class ProcessVersionAsked(ProcessSaid):
    """A version of a process, and why it differs from the one before."""

    why: Said = ""


class ProcessAsked(ProcessSaid):
    """A new process."""

    name: Name
    note: Annotated[Words, Field(max_length=500)] = ""


class ProcessPreview(ProcessSaid):
    """A process being written, which may lack its name and those of its ingredients."""

    def process(self, name: str) -> Process:
        """The core's type: what has no name yet is called by its place."""
        made = super().process(name)
        named = (replace(one, name=one.name or f"no. {n + 1}") for n, one in enumerate(made.ingredients))
        return replace(made, ingredients=tuple(named))


PlaceInList = Annotated[int, Field(ge=0, le=11)]


class RunAsked(Document):
    """A run: what is on hand of some ingredients by their place from 0, or the pigment wanted; neither: as written.

    `lots` are those it is weighed from, by place.
    """

    on_hand: Annotated[dict[PlaceInList, Grams], Field(max_length=12)] = {}
    lots: Annotated[dict[PlaceInList, RowId], Field(max_length=12)] = {}
    wanted_g: Grams | None = None
    version: Annotated[int, Field(strict=True, ge=1, le=100_000)] | None = None
