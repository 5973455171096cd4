"""Liquid that leaves the bench: kept, handed over, or poured away."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from typing import Annotated, ClassVar, Literal
from uuid import UUID

from niddy.core.amounts import Millilitres
from niddy.core.asked import Asked, Option
from niddy.core.making.run import Run
from niddy.core.making.run_act import RunAct, RunActFacts, Short, Steps, noted


class WasteWay(StrEnum):
    """Where liquid went."""

    KEPT = "kept"
    HANDED_OVER = "handed_over"
    DRAIN = "drain"


WAYS = (
    Option(WasteWay.KEPT.value, "kept here"),
    Option(WasteWay.HANDED_OVER.value, "to licensed disposal"),
    Option(WasteWay.DRAIN.value, "poured away"),
)
WASTE_WORDS = {WasteWay.KEPT: "kept", WasteWay.HANDED_OVER: "handed over", WasteWay.DRAIN: "poured away"}


class WasteOut(RunAct):
    """Liquid left the bench: how much, what of, and where it went or stands."""

    kind: Literal["waste"]
    ml: Annotated[Millilitres, Asked("How much", "ml", "the ml that left", large=True)]
    way: Annotated[WasteWay, Asked("Where it went", choices=WAYS)] = WasteWay.KEPT
    text: Annotated[Short, Asked("In what, and where it stands")] = ""
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, waste_ml=run.waste_ml + self.ml)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{self.ml:g} ml of waste {WASTE_WORDS[self.way]}{noted(self.text)}"


class WasteHandedOver(RunAct):
    """Waste that was kept went to licensed disposal: which entry, and to whom."""

    kind: Literal["handed_over"]
    of: UUID
    text: Short = ""
    afterwards: ClassVar[bool] = True

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"waste handed over{noted(self.text)}"
