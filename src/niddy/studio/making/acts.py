"""What can happen in a run as a client sends it: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from niddy.core.kinds import PigmentKind
from niddy.core.making import Fading, LightVerdict, RunKind, Takes
from niddy.studio.acting import AmountAsked, Said, Text
from niddy.studio.amounts import Density, Grams, Millilitres
from niddy.studio.documents import Document, RowId
from niddy.studio.making.asked import Acidity, Celsius
from niddy.studio.materials.own_asked import Hazards
from niddy.studio.words import Words

Short = Annotated[Words, Field(max_length=300)]
StepKey = Annotated[Words, Field(max_length=20)]
Colour = Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")]
Tare = Annotated[float, Field(strict=True, ge=0, le=20_000)]
Channel = Annotated[float, Field(strict=True, ge=-200, le=200)]
Lightness = Annotated[float, Field(strict=True, ge=0, le=100)]


class WasteWay(StrEnum):
    """Where liquid went."""

    KEPT = "kept"
    HANDED_OVER = "handed_over"
    DRAIN = "drain"


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


class RunReady(Said):
    """Goggles on, data sheets read."""

    kind: Literal[RunKind.READY]


class WeighedIn(Said):
    """An ingredient went in: by weight or spoon, of which lot where another than planned; `step` where not the next."""

    kind: Literal[RunKind.ADDED]
    ingredient: StepKey
    measure: AmountAsked
    lot_id: RowId | None = None
    step: StepKey = ""


class PhRead(Said):
    """A strip or meter was read."""

    kind: Literal[RunKind.PH]
    ph: Acidity


class WarmthRead(Said):
    """A thermometer was read."""

    kind: Literal[RunKind.TEMPERATURE]
    temperature_c: Celsius


class HoldBegun(Said):
    """The time of a step runs."""

    kind: Literal[RunKind.HOLD]
    step: StepKey


class HoldRested(Said):
    """The time of a step rests."""

    kind: Literal[RunKind.REST]
    step: StepKey


class WashDone(Said):
    """One wash with so much water, stirred, settled, poured off."""

    kind: Literal[RunKind.WASHED]
    ml: Annotated[float, Field(strict=True, ge=0, le=100_000)]
    step: StepKey = ""


class PlateWeighed(Said):
    """What dries, on the balance with its plate. `anyway` where it is heavier than before."""

    kind: Literal[RunKind.WEIGHED]
    g: Grams
    tare_g: Tare = 0.0
    anyway: Annotated[bool, Field(strict=True)] = False
    step: StepKey = ""


class HeatedBy(Said):
    """It was heated: its weight before and after."""

    kind: Literal[RunKind.HEATED]
    before_g: Grams
    g: Grams
    step: StepKey = ""


class OnSieve(Document):
    """What one sieve held back."""

    aperture_um: Annotated[float, Field(strict=True, ge=5, le=5_000)]
    retained_g: Annotated[float, Field(strict=True, ge=0, le=20_000)]


class StackSieved(Said):
    """A stack of sieves from the coarsest down, what each held back, what lay in the pan, what went in."""

    kind: Literal[RunKind.SIEVED]
    fractions: Annotated[list[OnSieve], Field(max_length=15)]
    pan_g: Annotated[float, Field(strict=True, ge=0, le=20_000)]
    charge_g: Grams | None = None
    step: StepKey = ""


class StepDone(Said):
    """A step is done; `why` where one before it is not."""

    kind: Literal[RunKind.DONE]
    step: StepKey
    why: Short = ""


class StepSkipped(Said):
    """A step is left out, and why."""

    kind: Literal[RunKind.SKIP]
    step: StepKey
    why: Short = ""


class WasteOut(Said):
    """Liquid left the bench: how much, what of, and where it went or stands."""

    kind: Literal[RunKind.WASTE]
    ml: Millilitres
    way: WasteWay = WasteWay.KEPT
    text: Short = ""


class WasteHandedOver(Said):
    """Waste that was kept went to licensed disposal: which entry, and to whom."""

    kind: Literal[RunKind.HANDED_OVER]
    of: UUID
    text: Short = ""


class RunPicture(Said):
    """A picture was taken; it comes by its own address."""

    kind: Literal[RunKind.PHOTO]
    text: Text = ""


class ColourSeen(Said):
    """A colour as it looked then."""

    kind: Literal[RunKind.COLOUR]
    srgb: Colour
    text: Short = ""


class RunNote(Said):
    """A few words."""

    kind: Literal[RunKind.NOTE]
    text: Text


class RunFinished(Said):
    """All of it is dry: what there is, in g. `anyway` where it is more than there can be."""

    kind: Literal[RunKind.FINISH]
    g: Grams
    anyway: Annotated[bool, Field(strict=True)] = False


class RunGivenUp(Said):
    """It is given up, and why."""

    kind: Literal[RunKind.ABANDON]
    text: Short = ""


class PinchTried(Said):
    """A pinch in oil on glass: how it took it."""

    kind: Literal[RunKind.TRIED]
    takes: Takes
    text: Short = ""


class StrengthSeen(Said):
    """The white it took to come as pale as a reference, and the white that took; which reference, in words or a lot."""

    kind: Literal[RunKind.STRENGTH]
    white_parts: Annotated[float, Field(strict=True, ge=0.1, le=1_000)]
    reference_white_parts: Annotated[float, Field(strict=True, ge=0.1, le=1_000)]
    reference_lot_id: RowId | None = None
    text: Short = ""


class SpotTried(Said):
    """A spot with acid or alkali: what it did. It says nothing of light."""

    kind: Literal[RunKind.SPOT]
    tried_with: SpotWith
    seen: SpotSeen
    text: Short = ""


class DyeInMedium(Said):
    """The dye straight in a medium, without a ground: what it did."""

    kind: Literal[RunKind.IN_MEDIUM]
    text: Annotated[Words, Field(min_length=1, max_length=300)]


class LightHung(Said):
    """A light test hangs: where."""

    kind: Literal[RunKind.LIGHT]
    text: Short = ""


class LabRead(Document):
    """A colour as a reader says it."""

    L: Lightness
    a: Channel
    b: Channel


class LightLooked(Said):
    """A look at the light test: judged by eye, or both halves read."""

    kind: Literal[RunKind.FADED]
    fading: Fading | None = None
    covered: LabRead | None = None
    uncovered: LabRead | None = None


class LightJudged(Said):
    """The verdict of a light test."""

    kind: Literal[RunKind.LIGHT_VERDICT]
    verdict: LightVerdict


class Displaced(Said):
    """Density by displacement: a flask full of oil, then with powder in it and filled up again."""

    kind: Literal[RunKind.DENSITY]
    powder_g: Grams
    full_g: Grams
    with_powder_g: Grams
    oil_g_per_ml: Density = 0.93


class PowderToStock(Said):
    """It becomes a lot of pigment, its hazards as the maker confirms them; hours and wage where work counts."""

    kind: Literal[RunKind.TO_STOCK]
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


class RunStrike(Said):
    """An earlier act is struck out."""

    kind: Literal[RunKind.STRIKE]
    strikes: UUID


RunActAsked = Annotated[
    RunReady | WeighedIn | PhRead | WarmthRead | HoldBegun | HoldRested | WashDone | PlateWeighed | HeatedBy
    | StackSieved | StepDone | StepSkipped | WasteOut | WasteHandedOver | RunPicture | ColourSeen | RunNote
    | RunFinished | RunGivenUp | PinchTried | StrengthSeen | SpotTried | DyeInMedium | LightHung | LightLooked
    | LightJudged | Displaced | PowderToStock | RunStrike,
    Field(discriminator="kind"),
]  # fmt: skip


_ACT: TypeAdapter[RunActAsked] = TypeAdapter(RunActAsked)


def run_act_of(asked: dict[str, Any]) -> RunActAsked:
    """An act on a run from what a client, or the demo, says."""
    return _ACT.validate_python(asked)


def payload_of(act: Said) -> dict[str, Any]:
    """What is kept of an act as it was sent."""
    return act.model_dump(mode="json", exclude={"id", "kind", "made_at", "waited", "strikes"}, exclude_none=True)
