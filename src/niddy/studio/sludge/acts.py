"""What can happen to a can or a dish as a client sends it: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from niddy.core.sludge import CanKind, DishKind, Much, Origin
from niddy.studio.acting import Said, Source, Text
from niddy.studio.amounts import Grams, Millilitres
from niddy.studio.documents import Document, Key, RowId
from niddy.studio.words import Words

Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]
Share = Annotated[float, Field(strict=True, gt=0, le=1)]
Code = Annotated[Words, Field(max_length=40)]
Mesh = Annotated[float, Field(strict=True, ge=5, le=5_000)]


class OffPaint(Document):
    """Paint that was washed off, and how much: of a tube or jar, of a batch, or of a lot or entry of the library."""

    item_id: RowId | None = None
    batch_number: RowId | None = None
    source: Source | None = None
    much: Much = Much.BRUSHFUL


class WashingIn(Said):
    """Brushes were washed: what was on them, or `unlogged` where nobody knows."""

    kind: Literal[CanKind.WASHING]
    paints: Annotated[list[OffPaint], Field(max_length=12)] = []
    unlogged: Much | None = None


class SolventIn(Said):
    """Solvent goes in. `anyway` where it is another than the can's own, and they are mixed with open eyes."""

    kind: Literal[CanKind.SOLVENT_IN]
    solvent_key: Key
    ml: Millilitres
    origin: Origin = Origin.BOUGHT
    anyway: Annotated[bool, Field(strict=True)] = False


class PourOff(Said):
    """Clear solvent is poured off: by ml, or weighed."""

    kind: Literal[CanKind.POUR_OFF]
    ml: Millilitres | None = None
    g: Grams | None = None


class SludgeOut(Said):
    """Sludge is taken out and thrown away: what share of it, its wet weight, and whether the can was wiped clean."""

    kind: Literal[CanKind.SLUDGE_OUT]
    share: Share = 1.0
    g: Grams | None = None
    wiped: Annotated[bool, Field(strict=True)] = False


class HeightRead(Said):
    """How far the can has cleared: mm of clear liquid, and mm of everything."""

    kind: Literal[CanKind.HEIGHT]
    clear_mm: Millimetres
    total_mm: Annotated[float, Field(strict=True, ge=1, le=2_000)]


class CanWeighed(Said):
    """The can on the balance, with what is in it."""

    kind: Literal[CanKind.WEIGHED]
    g: Grams


class CanNote(Said):
    """A few words."""

    kind: Literal[CanKind.NOTE]
    text: Text


class CanClosed(Said):
    """The can is out of use."""

    kind: Literal[CanKind.CLOSE]


class CanStrike(Said):
    """An earlier act is struck out."""

    kind: Literal[CanKind.STRIKE]
    strikes: UUID


CanActAsked = Annotated[
    WashingIn | SolventIn | PourOff | SludgeOut | HeightRead | CanWeighed | CanNote | CanClosed | CanStrike,
    Field(discriminator="kind"),
]


class DishWeighed(Said):
    """The dish on the balance. `anyway` where it is heavier than before and nothing was added."""

    kind: Literal[DishKind.WEIGH]
    g: Grams
    anyway: Annotated[bool, Field(strict=True)] = False


class DishAdded(Said):
    """More sludge went into the dish; it now weighs so much."""

    kind: Literal[DishKind.ADDED]
    g: Grams


class Squeezed(Said):
    """It was pressed in paper; it now weighs so much, the paper left out."""

    kind: Literal[DishKind.SQUEEZED]
    g: Grams | None = None


class Strained(Said):
    """It went through a mesh, and the hairs are out."""

    kind: Literal[DishKind.STRAINED]
    mesh_um: Mesh | None = None
    hairs: Annotated[bool, Field(strict=True)] = True


class DishNote(Said):
    """A few words."""

    kind: Literal[DishKind.NOTE]
    text: Text


class ToStock(Said):
    """It becomes a lot of pigment, so many g of it as it is. `anyway` after the question whether it should be paint.

    `wet` where it goes in before it is dry: what is still liquid in it is reckoned.
    """

    kind: Literal[DishKind.TO_STOCK]
    g: Grams
    code: Code
    wet: Annotated[bool, Field(strict=True)] = False
    anyway: Annotated[bool, Field(strict=True)] = False


class Thrown(Said):
    """It is kept for licensed disposal instead."""

    kind: Literal[DishKind.THROW]
    text: Text = ""


class DishStrike(Said):
    """An earlier act is struck out."""

    kind: Literal[DishKind.STRIKE]
    strikes: UUID


DishActAsked = Annotated[
    DishWeighed | DishAdded | Squeezed | Strained | DishNote | ToStock | Thrown | DishStrike,
    Field(discriminator="kind"),
]

_CAN_ACT: TypeAdapter[CanActAsked] = TypeAdapter(CanActAsked)
_DISH_ACT: TypeAdapter[DishActAsked] = TypeAdapter(DishActAsked)


def can_act_of(asked: dict[str, Any]) -> CanActAsked:
    """An act on a can from what a client, or the demo, says."""
    return _CAN_ACT.validate_python(asked)


def dish_act_of(asked: dict[str, Any]) -> DishActAsked:
    """An act on a dish from what a client, or the demo, says."""
    return _DISH_ACT.validate_python(asked)


def payload_of(act: Said) -> dict[str, Any]:
    """What is kept of an act as it was sent."""
    return act.model_dump(mode="json", exclude={"id", "kind", "made_at", "waited", "strikes"}, exclude_none=True)
