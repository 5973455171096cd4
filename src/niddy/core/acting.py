"""What the acts of every craft share: an id, a time, amounts as a maker measures them; and an act in its log."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Generic, Literal, TypeVar
from uuid import UUID

from pydantic import AwareDatetime, ConfigDict, Field

from niddy.core.asked import Asked
from niddy.core.documents import Document
from niddy.core.measures import Fill, Measure, Unit, UnitKnown, amount_words
from niddy.core.words import Words

Source = Annotated[Words, Field(min_length=1, max_length=100)]
Text = Annotated[Words, Field(max_length=2_000)]


class PartAsked(Document):
    """One of two measures that make an amount together: a spoon, then drops."""

    unit: Unit
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)]


class AmountAsked(Document):
    """An amount as the maker measured it; with `parts` by several measures one after the other."""

    unit: Unit = Unit.GRAM
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)] | None = None
    before_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    after_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    fill: Fill | None = None
    parts: Annotated[list[PartAsked], Field(max_length=4)] | None = None

    def measures(self, own: Mapping[Unit, UnitKnown]) -> tuple[Measure, ...]:
        """The core's measures, one after the other; `own` are the studio's own."""
        if self.parts:
            return tuple(Measure(part.unit, part.amount, own=own.get(part.unit)) for part in self.parts)
        fill = self.fill or Fill.LEVEL
        return (Measure(self.unit, self.amount, self.before_g, self.after_g, fill, own.get(self.unit)),)

    def said(self, own: Mapping[Unit, UnitKnown], *, grams: bool = False, liquid: bool = False) -> str:
        """The amount as it was measured; empty where that was grams, unless they are wanted."""
        return " and ".join(
            said
            for one in self.measures(own)
            if (said := measured_words(one, grams=grams or self.parts is not None, liquid=liquid))
        )


def measured_words(measure: Measure, *, grams: bool = False, liquid: bool = False) -> str:
    """An amount as it was measured; empty where that was grams, unless they are wanted."""
    if measure.unit in (Unit.WEIGH_BACK, Unit.WEIGH_IN):
        what = "bottle" if measure.unit is Unit.WEIGH_BACK else "balance"
        return f"{what} {measure.before_g or 0:g} to {measure.after_g or 0:g} g"
    if measure.unit is Unit.EYE:
        return measure.known.one
    if measure.amount is None or (measure.unit is Unit.GRAM and not grams):
        return ""
    return amount_words(measure.amount, measure.known, liquid=liquid, fill=measure.fill)


class Said(Document):
    """What every act has: an id made by the client, and when it was made there.

    `waited` says that it waited in a browser for the server: what waited may be kept as come late. `clock_made_at` is
    what a device's clock said that was off; `made_at` is by the server's then.
    """

    model_config = ConfigDict(frozen=True)

    id: UUID
    made_at: AwareDatetime
    clock_made_at: AwareDatetime | None = None
    waited: Annotated[bool, Field(strict=True)] = False


class PhotoAsked(Said):
    """A picture to keep: its id, when it was taken, a few words."""

    text: Text = ""


class Act(Said):
    """An act: at once what a client sends, what its row keeps and what the fold of its job reads.

    Every craft's own is one of these with a `kind`; `afterwards` says that it may be logged in a job that is over.
    """

    kind: Words
    afterwards: ClassVar[bool] = False


class Note(Act):
    """A few words."""

    kind: Literal["note"]
    text: Annotated[Text, Field(min_length=1), Asked("Words", accepted="a few words")]
    afterwards: ClassVar[bool] = True

    def words(self, *_: object) -> str:
        """The act as its log tells it."""
        return self.text


class Picture(Act):
    """A picture was taken; it comes by its own address."""

    kind: Literal["photo"]
    text: Text | None = None
    afterwards: ClassVar[bool] = True

    def words(self, *_: object) -> str:
        """The act as its log tells it."""
        return self.text or "picture"


class Undo(Act):
    """An earlier act is undone: as if it had not been, though its log tells both."""

    kind: Literal["strike"]
    strikes: UUID


A = TypeVar("A")
F = TypeVar("F")


@dataclass(frozen=True, slots=True)
class Logged(Generic[A, F]):
    """An act in its log: its place there, what the record adds to it, and what it undoes."""

    id: UUID
    seq: int
    act: A
    facts: F
    strikes: UUID | None = None


def payload_of(act: Said) -> dict[str, Any]:
    """What is kept of an act as it was sent; its id, kind and time have columns of their own."""
    return act.model_dump(mode="json", exclude={"id", "kind", "made_at", "waited", "strikes"}, exclude_none=True)
