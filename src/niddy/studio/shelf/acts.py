"""What can be done with a tube or jar besides looking, as a client sends it: a model for each kind."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from niddy.core.acting import Act, Picture
from niddy.core.amounts import Millilitres
from niddy.core.words import Words
from niddy.studio.recorder import Acts
from niddy.studio.shelf.items import Left, Text


class ItemAct(Act):
    """What every act on a tube or jar has."""

    text: Text = ""


class Move(ItemAct):
    """It stands elsewhere now."""

    kind: Literal["move"]
    place: Annotated[Words, Field(max_length=80)]


class ItemNote(ItemAct):
    """A few words."""

    kind: Literal["note"]


class StirBack(ItemAct):
    """The oil on top was stirred back."""

    kind: Literal["stir_back"]


class LiftSkin(ItemAct):
    """The skin is off, and so much is left."""

    kind: Literal["lift_skin"]
    volume_ml: Millilitres | None = None


class Leave(ItemAct):
    """It left the shelf; discarded, `text` says why. `anyway` after the question whether sludge may go to others."""

    kind: Literal["leave"]
    how: Left
    anyway: Annotated[bool, Field(strict=True)] = False


class Back(ItemAct):
    """What left by mistake is back."""

    kind: Literal["back"]


class OfNoBatch(ItemAct):
    """A found jar is of none of the batches here."""

    kind: Literal["of_no_batch"]


class ItemPicture(Picture, ItemAct):
    """A picture was taken; it comes by its own address."""

    text: Text = ""


AnyItemAct = Annotated[
    Move | ItemNote | StirBack | LiftSkin | Leave | Back | OfNoBatch | ItemPicture, Field(discriminator="kind")
]
"""One act on a tube or jar."""


@dataclass(frozen=True, slots=True)
class ItemFacts:
    """What the record makes of an act: what was done, in words."""

    text: str = ""


ITEM_ACTS: Acts[ItemAct, ItemFacts] = Acts(AnyItemAct, ItemFacts)
