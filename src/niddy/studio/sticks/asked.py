"""What is asked of a set of sticks."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.core.amounts import Millilitres, Parts
from niddy.core.documents import Document, Key, RowId
from niddy.core.sticks import Loading, PigmentWay
from niddy.core.words import Words

MOST_COLOURS = 40

Dent = Annotated[float, Field(strict=True, ge=0.1, le=400)]


class PigmentAsked(Document):
    """One pigment of a stick: a lot of the shelf or an entry of the library, and its parts by weight."""

    lot_id: RowId | None = None
    pigment_key: Key | None = None
    parts: Parts = 1.0


class MouldsAsked(Document):
    """So many moulds of one kind."""

    mould_id: RowId
    count: Annotated[int, Field(strict=True, ge=1, le=200)]


class ColourAsked(Document):
    """One colour of a set; no pigments is a blending stick.

    By the volume school `share` is the reduced PVC, by the weight school the share of pigment by weight. It is aimed
    by a dent, or by an oil share of the medium. `crayon` says that it need not dry.
    """

    name: Annotated[Words, Field(max_length=80)] = ""
    pigments: Annotated[list[PigmentAsked], Field(max_length=8)] = []
    moulds: Annotated[list[MouldsAsked], Field(min_length=1, max_length=12)]
    school: Loading = Loading.VOLUME
    share: Annotated[float, Field(strict=True, ge=0.01, le=1.15)] | None = None
    dent_dmm: Dent | None = None
    oil_fraction: Annotated[float, Field(strict=True, ge=0, le=1)] | None = None
    recipe_id: RowId | None = None


class SetAsked(Document):
    """A set of sticks of one base in one oil; `block_lot_id` where the base comes from a block in stock.

    `pot_ml` is what the pot holds, where that is known: each colour has to fit.
    """

    name: Annotated[Words, Field(max_length=80)] = ""
    base_id: RowId
    base_version: RowId | None = None
    block_lot_id: RowId | None = None
    oil_lot_id: RowId | None = None
    oil_key: Key | None = None
    way: PigmentWay = PigmentWay.MULLED
    pot_ml: Millilitres | None = None
    crayon: Annotated[bool, Field(strict=True)] = False
    colours: Annotated[list[ColourAsked], Field(min_length=1, max_length=MOST_COLOURS)]
