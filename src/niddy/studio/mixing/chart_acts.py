"""What can be said of a mixing chart: its squares as they were read or judged by eye, its thin films, a note."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import Field

from niddy.core.acting import Act, Note, Undo
from niddy.core.errors import Refused
from niddy.core.mixing.chart import Hides
from niddy.core.mixing.judged import Looks
from niddy.core.mixing.paints import PHOTO_OFF
from niddy.core.words import Words
from niddy.studio.checks import ReadColour
from niddy.studio.recorder import Acts

How = Literal["reader", "file", "photo", "typed"]
HOW_WORDS: dict[How, str] = {
    "reader": "the reader",
    "file": "a file",
    "photo": "a photograph",
    "typed": "figures typed in",
}


BY_EYE = "eye"
HIDES_WORDS = {Hides.NOTHING: "next to nothing", Hides.SOME: "some", Hides.NEARLY: "nearly all", Hides.FULLY: "all"}


@dataclass(frozen=True, slots=True)
class SquareFacts:
    """A square as it was read: Lab, and how far off that may be (dE00)."""

    lab: tuple[float, float, float]
    off: float


@dataclass(frozen=True, slots=True)
class ChartFacts:
    """What the record makes of an act: the squares by their codes, and by what they were read."""

    squares: Mapping[str, SquareFacts] = field(default_factory=dict)
    how: str = ""


class ChartAct(Act):
    """What every act on a chart is."""

    def words(self, facts: ChartFacts) -> str:
        """It in words."""
        raise NotImplementedError


class SquareRead(ReadColour):
    """One square as it was read."""

    code: Annotated[Words, Field(min_length=2, max_length=4)]

    @property
    def at(self) -> str:
        """Its code as the chart has it."""
        return self.code.strip().upper()


class SquaresPainted(ChartAct):
    """Squares that were read, and by what."""

    kind: Literal["painted"]
    squares: list[SquareRead]
    how: How = "typed"

    def facts(self) -> ChartFacts:
        """The squares by their codes with their Lab. Raises Refused."""
        found: dict[str, SquareFacts] = {}
        for n, square in enumerate(self.squares):
            try:
                reading = square.reading()
            except Refused as refused:
                raise refused.under(f"squares.{n}") from None
            off = max(reading.off, PHOTO_OFF) if self.how == "photo" else reading.off
            lab = (round(reading.lab.L, 3), round(reading.lab.a, 3), round(reading.lab.b, 3))
            found[square.at] = SquareFacts(lab, off)
        return ChartFacts(found, self.how)

    def words(self, facts: ChartFacts) -> str:
        codes = list(facts.squares)
        which = codes[0] if len(codes) == 1 else f"{len(codes)} squares"
        return f"{which} from {HOW_WORDS[self.how]}"


class SquareJudged(ChartAct):
    """A square as it looks beside its prediction; no word for it where it looks the same."""

    kind: Literal["judged"]
    code: Annotated[Words, Field(min_length=2, max_length=4)]
    looks: Annotated[list[Looks], Field(max_length=len(Looks))] = Field(default_factory=list)

    @property
    def at(self) -> str:
        """Its code as the chart has it."""
        return self.code.strip().upper()

    def words(self, facts: ChartFacts) -> str:
        return f"{self.at} looks {' and '.join(dict.fromkeys(self.looks)) or 'the same'}"


class FilmJudged(ChartAct):
    """How well the thin film of a paint hides."""

    kind: Literal["hides"]
    code: Annotated[Words, Field(min_length=2, max_length=4)]
    hides: Hides

    @property
    def at(self) -> str:
        """Its code as the chart has it."""
        return self.code.strip().upper()

    def words(self, facts: ChartFacts) -> str:
        return f"thin film {self.at} hides {HIDES_WORDS[self.hides]}"


class ChartNote(Note, ChartAct):
    """A few words to a chart."""


class ChartStrike(Undo, ChartAct):
    """An act taken back."""


AnyChartAct = Annotated[
    SquaresPainted | SquareJudged | FilmJudged | ChartNote | ChartStrike, Field(discriminator="kind")
]
"""One act on a chart."""

CHART_ACTS: Acts[ChartAct, ChartFacts] = Acts(AnyChartAct, ChartFacts)
