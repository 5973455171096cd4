"""What every act of a run is, and what the record adds to one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from niddy.core.acting import Act
from niddy.core.making.light import Fading
from niddy.core.making.run import Run
from niddy.core.words import Words

Short = Annotated[Words, Field(max_length=300)]
StepKey = Annotated[Words, Field(max_length=20)]


@dataclass(frozen=True, slots=True)
class RunActFacts:
    """What the record adds to an act: its step and whether that is done with it, g of spoons and plates, the lot.

    `g` is what went in, lay on the plate, or a density; `counts_g` what of the written ingredient it counts as.
    """

    step: str = ""
    completes: bool = False
    g: float | None = None
    counts_g: float | None = None
    low: float | None = None
    high: float | None = None
    said: str = ""
    name: str = ""
    hazards: tuple[str, ...] = ()
    lot_id: int | None = None
    lot_code: str = ""
    percent: float | None = None
    reference: str = ""
    fading: Fading | None = None
    half: float | None = None
    holds: tuple[str, ...] = ()
    per_g: str | None = None

    @property
    def counted_g(self) -> float:
        """The g that count of an ingredient."""
        return self.counts_g if self.counts_g is not None else self.g or 0.0


Steps = Mapping[str, str]


class RunAct(Act):
    """What every act of a run is: it changes the run, and its log tells it in words."""

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        """The run after it."""
        return run

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        """It in words; `steps` are what the process calls them."""
        raise NotImplementedError


def noted(text: str) -> str:
    """What a maker noted beside an act, to follow its words."""
    return f": {text}" if text else ""
