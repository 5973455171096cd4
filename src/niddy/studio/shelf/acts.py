"""What can be done with a tube or jar besides looking, as a client sends it: a model for each kind."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from niddy.studio.acting import Said
from niddy.studio.amounts import Millilitres
from niddy.studio.shelf.items import Left, Text
from niddy.studio.words import Words


class ItemAct(StrEnum):
    """What can be done with a tube or jar besides looking."""

    MOVE = "move"
    NOTE = "note"
    STIR_BACK = "stir_back"
    LIFT_SKIN = "lift_skin"
    LEAVE = "leave"
    BACK = "back"
    OF_NO_BATCH = "of_no_batch"


class OnItem(Said):
    """What every act on a tube or jar has, its id made by the client."""

    text: Text = ""


class Move(OnItem):
    """It stands elsewhere now."""

    kind: Literal[ItemAct.MOVE]
    place: Annotated[Words, Field(max_length=80)]


class ItemNote(OnItem):
    """A few words."""

    kind: Literal[ItemAct.NOTE]


class StirBack(OnItem):
    """The oil on top was stirred back."""

    kind: Literal[ItemAct.STIR_BACK]


class LiftSkin(OnItem):
    """The skin is off, and so much is left."""

    kind: Literal[ItemAct.LIFT_SKIN]
    volume_ml: Millilitres | None = None


class Leave(OnItem):
    """It left the shelf; discarded, `text` says why. `anyway` after the question whether sludge may go to others."""

    kind: Literal[ItemAct.LEAVE]
    how: Left
    anyway: Annotated[bool, Field(strict=True)] = False


class Back(OnItem):
    """What left by mistake is back."""

    kind: Literal[ItemAct.BACK]


class OfNoBatch(OnItem):
    """A found jar is of none of the batches here."""

    kind: Literal[ItemAct.OF_NO_BATCH]


ItemActAsked = Annotated[Move | ItemNote | StirBack | LiftSkin | Leave | Back | OfNoBatch, Field(discriminator="kind")]
"""One act on a tube or jar."""


_ACT: TypeAdapter[ItemActAsked] = TypeAdapter(ItemActAsked)


def item_act_of(document: dict[str, Any]) -> ItemActAsked:
    """An act on a tube or jar from its fields by name. Raises pydantic's ValidationError."""
    return _ACT.validate_python(document)


def payload_of(asked: ItemActAsked) -> dict[str, Any]:
    """An act as it is kept."""
    return asked.model_dump(mode="json", exclude={"made_at", "waited"}, exclude_none=True)
