"""Materials: the shipped library and the studio's lots."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.core.materials import Additive, Oil, Pigment
from niddy.reference import APPROXIMATE, library
from niddy.studio import materials as studio
from niddy.studio.materials import LotKept, Movement
from niddy.studio.words import Words

router = APIRouter(prefix="/api/materials", tags=["materials"], responses=REFUSALS)

Positive = Annotated[float, Field(strict=True, gt=0)]


class LibraryAnswer(BaseModel):
    """The shipped materials, and how far to trust them."""

    note: str
    pigments: list[Pigment]
    oils: list[Oil]
    additives: list[Additive]


@router.get("/library")
async def shipped() -> LibraryAnswer:
    """The shipped library: approximate general figures."""
    shelf = library()
    return LibraryAnswer(
        note=APPROXIMATE,
        pigments=list(shelf.pigments.values()),
        oils=list(shelf.oils.values()),
        additives=list(shelf.additives.values()),
    )


@router.get("/lots")
def lots(
    db: Db,
    kind: Literal["pigment", "oil"] | None = None,
    words: Annotated[Words, Query(max_length=100)] = "",
    with_used_up: bool = False,
) -> list[LotKept]:
    """The lots of the shelf."""
    with db.session() as session:
        return list(studio.lots(session, kind, words, with_used_up))


class LotReceived(BaseModel):
    """A tin or bottle that came in. Densities left out are the library's."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    kind: Literal["pigment", "oil"]
    material_key: Annotated[Words, Field(min_length=1, max_length=80)]
    code: Annotated[Words, Field(min_length=1, max_length=40)]
    received_on: date
    received_g: Positive
    price_per_kg: Annotated[Decimal, Field(ge=0, le=1_000_000, decimal_places=2)] | None = None
    note: Annotated[Words, Field(max_length=500)] = ""
    density_g_per_ml: Positive | None = None
    loose_density_g_per_ml: Positive | None = None
    drop_g: Positive | None = None


@router.post("/lots", status_code=201)
def receive(db: Db, now: Now, new: LotReceived) -> LotKept:
    """Take in a lot."""
    with db.session() as session:
        lot_id = studio.receive(session, now, studio.NewLot(**dict(new)))
        return studio.lot(session, lot_id)


class LotAnswer(BaseModel):
    """A lot and its last movements, newest first."""

    lot: LotKept
    movements: list[Movement]


@router.get("/lots/{lot_id}")
def lot(db: Db, lot_id: RowId) -> LotAnswer:
    """A lot with its movements."""
    with db.session() as session:
        return LotAnswer(lot=studio.lot(session, lot_id), movements=list(studio.movements(session, lot_id)))


class WeighedIn(BaseModel):
    """What the tin or bottle holds now, net, in g; 0 for used up."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    reading_g: Annotated[float, Field(strict=True, ge=0)]
    note: Annotated[Words, Field(max_length=500)] = ""


@router.post("/lots/{lot_id}/weigh-in")
def weigh_in(db: Db, now: Now, lot_id: RowId, asked: WeighedIn) -> LotAnswer:
    """Correct what is left of a lot by weighing it."""
    with db.session() as session:
        studio.weigh_in(session, now, lot_id, asked.reading_g, asked.note)
        return LotAnswer(lot=studio.lot(session, lot_id), movements=list(studio.movements(session, lot_id)))
