"""Acts of a run that may come once it is finished too: how its pigment was tried, its light test, stock."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from niddy.core.amounts import Density, Grams
from niddy.core.documents import Document, Hazards, RowId
from niddy.core.kinds import PigmentKind
from niddy.core.making.comparing import Takes
from niddy.core.making.light import FadeRead, Fading, LightTest, LightVerdict
from niddy.core.making.run import Run
from niddy.core.making.run_act import RunAct, RunActFacts, Short, Steps, noted
from niddy.core.words import Words

Colour = Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
Channel = Annotated[float, Field(strict=True, ge=-200, le=200)]
Lightness = Annotated[float, Field(strict=True, ge=0, le=100)]

TAKES_WORDS = {Takes.WELL: "took oil well", Takes.GRITTY: "turned gritty", Takes.SEIZES: "seized"}
FADING_WORDS = {
    Fading.NONE: "no change",
    Fading.BARELY: "barely paler",
    Fading.CLEARLY: "clearly paler",
    Fading.GONE: "gone",
}


class SpotWith(StrEnum):
    """What a spot was tried with."""

    ACID = "acid"
    ALKALI = "alkali"


class SpotSeen(StrEnum):
    """What a spot did."""

    UNCHANGED = "unchanged"
    TURNED = "turned"
    FIZZED = "fizzed"
    DISSOLVED = "dissolved"


SPOT_WORDS = {
    SpotSeen.UNCHANGED: "no change",
    SpotSeen.TURNED: "changed colour",
    SpotSeen.FIZZED: "fizzed",
    SpotSeen.DISSOLVED: "dissolved",
}


class PinchTried(RunAct):
    """A pinch in oil on glass: how it took it."""

    kind: Literal["tried"]
    takes: Takes
    text: Short = ""
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, takes=self.takes)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"a pinch in oil {TAKES_WORDS[self.takes]}{noted(self.text)}"


class StrengthSeen(RunAct):
    """The white it took to come as pale as a reference, and the white that took; which reference, in words or a lot."""

    kind: Literal["strength"]
    white_parts: Annotated[float, Field(strict=True, ge=0.1, le=1_000)]
    reference_white_parts: Annotated[float, Field(strict=True, ge=0.1, le=1_000)]
    reference_lot_id: RowId | None = None
    text: Short = ""
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, strength=facts.percent)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        beside = f" beside {facts.reference}" if facts.reference else ""
        return f"in white {facts.percent:.0f} % as strong{beside}{noted(self.text)}"


class SpotTried(RunAct):
    """A spot with acid or alkali: what it did. It says nothing of light."""

    kind: Literal["spot"]
    tried_with: SpotWith
    seen: SpotSeen
    text: Short = ""
    afterwards: ClassVar[bool] = True

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"a spot with {self.tried_with}: {SPOT_WORDS[self.seen]}{noted(self.text)}"


class DyeInMedium(RunAct):
    """The dye straight in a medium, without a ground: what it did."""

    kind: Literal["in_medium"]
    text: Annotated[Words, Field(min_length=1, max_length=300)]
    afterwards: ClassVar[bool] = True

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"dye straight in a medium{noted(self.text)}"


class LightHung(RunAct):
    """A light test hangs: where."""

    kind: Literal["light"]
    text: Short = ""
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, light=LightTest(self.made_at, self.text))

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"light test hung{noted(self.text)}"


class LabRead(Document):
    """A colour as a reader says it."""

    L: Lightness
    a: Channel
    b: Channel


class LightLooked(RunAct):
    """A look at the light test: judged by eye, or both halves read."""

    kind: Literal["faded"]
    fading: Fading | None = None
    covered: LabRead | None = None
    uncovered: LabRead | None = None
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return _looked(run, self.made_at, facts.fading or self.fading, facts.percent)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return _fading(facts.fading or self.fading, facts.percent)


class LightJudged(RunAct):
    """The verdict of a light test."""

    kind: Literal["light_verdict"]
    verdict: LightVerdict
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, light=replace(run.light, verdict=self.verdict)) if run.light is not None else run

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"light test: {self.verdict}"


class Displaced(RunAct):
    """Density by displacement: a flask full of oil, then with powder in it and filled up again."""

    kind: Literal["density"]
    powder_g: Grams
    full_g: Grams
    with_powder_g: Grams
    oil_g_per_ml: Density = 0.93
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, density=facts.g)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"density {facts.g:.2f} g/ml by displacement"


class PowderToStock(RunAct):
    """It becomes a lot of pigment, its hazards as the maker confirms them; hours and wage where work counts."""

    kind: Literal["to_stock"]
    g: Grams
    code: Annotated[Words, Field(max_length=40)]
    taken_for: PigmentKind
    masstone_srgb: Colour
    hazards: Hazards
    hazards_confirmed: Annotated[bool, Field(strict=True)] = False
    loose_density_g_per_ml: Density | None = None
    hours: Annotated[float, Field(strict=True, ge=0, le=1_000)] = 0.0
    wage_per_hour: Annotated[float, Field(strict=True, ge=0, le=10_000)] | None = None
    water_per_l: Annotated[float, Field(strict=True, ge=0, le=1_000)] | None = None
    afterwards: ClassVar[bool] = True

    def fold(self, run: Run, facts: RunActFacts) -> Run:
        return replace(run, stocked_g=run.stocked_g + self.g)

    def words(self, facts: RunActFacts, steps: Steps) -> str:
        return f"{self.g:g} g into stock as {self.code}"


def _looked(run: Run, at: datetime, fading: Fading | None, delta_e: float | None) -> Run:
    if run.light is None or fading is None:
        return run
    return replace(run, light=run.light.looked(FadeRead(at, fading, delta_e)))


def _fading(fading: Fading | None, delta_e: float | None) -> str:
    read = f" ({delta_e:.1f} dE00)" if delta_e is not None else ""
    return f"light test: {FADING_WORDS[fading or Fading.NONE]}{read}"
