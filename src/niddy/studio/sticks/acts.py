"""Acts at the pot as a client sends them: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from niddy.core.sticks import By, Feel, Flaw, Kind, SticksVerdict
from niddy.studio.acting import AmountAsked, Said, Source, Text
from niddy.studio.amounts import Grams, Millilitres
from niddy.studio.documents import Document, RowId
from niddy.studio.words import Words

Temperature = Annotated[float, Field(strict=True, ge=-20, le=400)]
_Short = Annotated[Words, Field(max_length=20)]
Seen = Annotated[dict[_Short, _Short], Field(max_length=8)]


class PotReady(Said):
    """The kit is at hand."""

    kind: Literal[Kind.READY]


class BaseIn(Said):
    """Base goes in: a block, or a wax of it."""

    kind: Literal[Kind.BASE]
    source: Source
    measure: AmountAsked


class ReadTemperature(Said):
    """The thermometer was read."""

    kind: Literal[Kind.TEMPERATURE]
    temperature_c: Temperature


class Melted(Said):
    """It is clear, at this temperature where one was read."""

    kind: Literal[Kind.MELTED]
    temperature_c: Temperature | None = None


class PotOilIn(Said):
    """Oil goes in."""

    kind: Literal[Kind.OIL]
    source: Source
    measure: AmountAsked


class PigmentIn(Said):
    """Dry pigment goes in."""

    kind: Literal[Kind.PIGMENT]
    source: Source
    measure: AmountAsked


class MulledPart(Document):
    """Grams of one material in a mulled paste."""

    source: Source
    grams: Grams


class MulledIn(Said):
    """Several at once: pigment that was mulled into the oil first, or more of each wax of a base."""

    kind: Literal[Kind.MULLED]
    parts: Annotated[list[MulledPart], Field(min_length=1, max_length=12)]


class PasteIn(Said):
    """Paste of an earlier batch goes in: so much of a tube or jar."""

    kind: Literal[Kind.PASTE]
    item_id: RowId
    volume_ml: Millilitres


class Stirred(Said):
    """It was stirred from the bottom."""

    kind: Literal[Kind.STIR]


class DentSaid(Said):
    """A dent: by a needle in 0.1 mm, or by feel; at what temperature where it was not 25 C."""

    by: By
    dent_dmm: Annotated[float, Field(strict=True, ge=0.1, le=400)] | None = None
    feel: Literal[Feel.HARD, Feel.FIRM, Feel.SOFT, Feel.BUTTERY, Feel.TOO_SOFT] | None = None
    at_c: Annotated[float, Field(strict=True, ge=0, le=40)] | None = None


class Drop(DentSaid):
    """A drop on cold glass was pressed."""

    kind: Literal[Kind.DROP]


class StickDent(DentSaid):
    """A stick was pressed."""

    kind: Literal[Kind.DENT]


class Poured(Said):
    """It was poured, at this temperature."""

    kind: Literal[Kind.POUR]
    temperature_c: Temperature | None = None


class SkinSeen(Said):
    """A skin was seen on what cools, at this temperature: where it sets."""

    kind: Literal[Kind.SKIN]
    temperature_c: Temperature


class Out(Said):
    """Sticks came out of the moulds: how many, and what they weigh together where they were weighed."""

    kind: Literal[Kind.OUT]
    count: Annotated[int, Field(strict=True, ge=0, le=2_000)]
    grams: Grams | None = None


class FlawSeen(Said):
    """Something is wrong with the sticks."""

    kind: Literal[Kind.FLAW]
    flaw: Flaw


class DryTrial(Said):
    """A stick was drawn with, dry: what was seen, question by question."""

    kind: Literal[Kind.DRY_TRIAL]
    seen: Seen


class WetTrial(Said):
    """A stick was worked with solvent and brush, or with the blending stick."""

    kind: Literal[Kind.WET_TRIAL]
    tool: Literal["solvent", "blender"]
    seen: Seen


class Dried(Said):
    """A skin overnight, dry to the touch, or hard through: from this day."""

    kind: Literal[Kind.DRIED]
    what: Literal["skin", "touch", "through"]


class VerdictSaid(Said):
    """What the maker says of the sticks, whatever the trials add up to."""

    kind: Literal[Kind.VERDICT]
    verdict: SticksVerdict


class PotNote(Said):
    """A few words."""

    kind: Literal[Kind.NOTE]
    text: Annotated[Text, Field(min_length=1)]


class PotPicture(Said):
    """A picture, sent by its own address."""

    kind: Literal[Kind.PHOTO]
    text: Text | None = None


class PotFinish(Said):
    """The sticks go to the shelf, to a place."""

    kind: Literal[Kind.FINISH]
    place: Annotated[Words, Field(max_length=80)] = ""


class PotAbandon(Said):
    """The pot is given up."""

    kind: Literal[Kind.ABANDON]
    text: Text = ""


class PotStrike(Said):
    """An earlier act is struck out."""

    kind: Literal[Kind.STRIKE]
    strikes: UUID


Act = Annotated[
    PotReady | BaseIn | ReadTemperature | Melted | PotOilIn | PigmentIn | MulledIn | PasteIn | Stirred | Drop
    | StickDent | Poured | SkinSeen | Out | FlawSeen | DryTrial | WetTrial | Dried | VerdictSaid | PotNote
    | PotPicture | PotFinish | PotAbandon | PotStrike,
    Field(discriminator="kind"),
]  # fmt: skip

_ACT: TypeAdapter[Act] = TypeAdapter(Act)


def act_of(asked: dict[str, Any]) -> Act:
    """An act from what a client, or the demo, says."""
    return _ACT.validate_python(asked)


def payload_of(act: Act) -> dict[str, Any]:
    """What is kept of an act as it was sent."""
    return act.model_dump(mode="json", exclude={"id", "kind", "made_at", "waited", "strikes"}, exclude_none=True)
