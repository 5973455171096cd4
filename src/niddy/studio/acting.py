"""What the acts of every craft share: an id and a time, amounts as a maker measures them, words."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import AwareDatetime, Field

from niddy.core.measures import Fill, Measure, Unit
from niddy.studio.documents import Document
from niddy.studio.words import Words

Source = Annotated[Words, Field(min_length=1, max_length=100)]
Text = Annotated[Words, Field(max_length=2_000)]


class PartAsked(Document):
    """One of two measures that make an amount together: a spoon, then drops."""

    unit: Unit
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)]

    def measure(self) -> Measure:
        """The core's measure."""
        return Measure(self.unit, self.amount)


class AmountAsked(Document):
    """An amount as the maker measured it; with `parts` by several measures one after the other."""

    unit: Unit = Unit.GRAM
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)] | None = None
    before_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    after_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    fill: Fill | None = None
    parts: Annotated[list[PartAsked], Field(max_length=4)] | None = None

    def measure(self) -> Measure:
        """The core's measure."""
        return Measure(self.unit, self.amount, self.before_g, self.after_g, self.fill or Fill.LEVEL)


class Said(Document):
    """What every act has: an id made by the client, and when it was made there.

    `waited` says that it waited in a browser for the server: what waited may be kept as come late. `clock_made_at` is
    what a device's clock said that was off; `made_at` is by the server's then.
    """

    id: UUID
    made_at: AwareDatetime
    clock_made_at: AwareDatetime | None = None
    waited: Annotated[bool, Field(strict=True)] = False


class PhotoAsked(Said):
    """A picture to keep: its id, when it was taken, a few words."""

    text: Text = ""
