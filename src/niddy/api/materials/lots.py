"""Materials: the shipped library, the studio's own beside it, and the shelf of lots."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal, TypeVar

from fastapi import Query, Request, Response
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from niddy.api import policy
from niddy.api.answers import A_PDF, LabelHeight, LabelWidth, answer, one_label
from niddy.api.context import Db, Now, RowId
from niddy.api.materials.base import router
from niddy.core.amounts import Density, DropGrams, Grams
from niddy.core.cautions import title_of
from niddy.core.documents import Document, Hazards
from niddy.core.errors import MIN_MASS_G
from niddy.core.kinds import KindValues, PigmentKind, values_of
from niddy.core.materials import Additive, Oil, Pigment, RawMaterial, Wax
from niddy.core.measures import Unit
from niddy.core.words import Words
from niddy.db import Database
from niddy.reference import APPROXIMATE, Term, library, terms
from niddy.studio import labels
from niddy.studio import materials as studio
from niddy.studio.materials import Gives, LotKept, Movement, OwnOfKind, OwnOil, OwnPigment, OwnRaw, OwnWax

Price = Annotated[Decimal, Field(ge=0, le=1_000_000, decimal_places=4)]
Kind = Literal["pigment", "oil", "additive", "wax", "raw", "tube", "jar"]
Own = TypeVar("Own", Pigment, Oil, Wax, RawMaterial)


class LibraryAnswer(BaseModel):
    """The shipped materials, how far to trust them, and the studio's own beside them."""

    note: str
    pigments: list[Pigment]
    oils: list[Oil]
    additives: list[Additive]
    waxes: list[Wax]
    raw: list[RawMaterial]
    own: list[str]


@router.get("/library")
def shipped(db: Db) -> LibraryAnswer:
    """The shipped library (approximate general figures), with the studio's own materials; `own` has their keys."""
    shelf = library()
    with db.session() as session:
        own = studio.own_materials(session)
    return LibraryAnswer(
        note=APPROXIMATE,
        pigments=[*(m for m in own if isinstance(m, Pigment)), *shelf.pigments.values()],
        oils=[*(m for m in own if isinstance(m, Oil)), *shelf.oils.values()],
        additives=list(shelf.additives.values()),
        waxes=[*(m for m in own if isinstance(m, Wax)), *shelf.waxes.values()],
        raw=[m for m in own if isinstance(m, RawMaterial)],
        own=[material.key for material in own],
    )


@router.post("/own/pigments", status_code=201)
@policy.works("Added a pigment")
def add_pigment(db: Db, now: Now, asked: OwnPigment) -> Pigment:
    """Keep a pigment of the studio's own."""
    return _own_kept(db, now, "pigment", asked.pigment(), studio.pigment_of)


@router.post("/own/oils", status_code=201)
@policy.works("Added an oil")
def add_oil(db: Db, now: Now, asked: OwnOil) -> Oil:
    """Keep an oil, ready-made binder or medium of the studio's own."""
    return _own_kept(db, now, "oil", asked.oil(), studio.oil_of)


@router.post("/own/waxes", status_code=201)
@policy.works("Added a wax")
def add_wax(db: Db, now: Now, asked: OwnWax) -> Wax:
    """Keep a wax or resin of the studio's own."""
    return _own_kept(db, now, "wax", asked.wax(), studio.wax_of)


@router.post("/own/raw", status_code=201)
@policy.works("Added a raw material")
def add_raw(db: Db, now: Now, asked: OwnRaw) -> RawMaterial:
    """Keep a raw material that pigments are made of."""
    return _own_kept(db, now, "raw", asked.raw(), studio.raw_of)


@dataclass(frozen=True, slots=True)
class HazardWords:
    """A hazard's key and its words."""

    key: str
    title: str


@dataclass(frozen=True, slots=True)
class KindAnswer:
    """A kind of pigment, what is taken for it, and the hazards to confirm."""

    values: KindValues
    hazards: tuple[HazardWords, ...]


@router.get("/kinds")
def kinds() -> tuple[KindAnswer, ...]:
    """The kinds a powder that is not listed can be taken for."""
    shipped = library().pigments.values()
    found = (values_of(kind, shipped) for kind in PigmentKind)
    return tuple(KindAnswer(v, tuple(HazardWords(key, title_of(key)) for key in v.hazards)) for v in found)


@router.post("/own/of-kind", status_code=201)
@policy.works("Added a powder of a kind")
def add_of_kind(db: Db, now: Now, asked: OwnOfKind) -> Pigment:
    """Keep a powder as a kind of pigment; its figures are as wide as the kind."""
    return _own_kept(db, now, "pigment", asked.pigment(), studio.pigment_of)


def _own_kept(db: Database, now: datetime, kind: str, material: Own, of: Callable[[Session, str], Own | None]) -> Own:
    """A material of the studio's own, kept, and as it is from then on."""
    with db.session() as session:
        found = of(session, studio.add_own(session, now, kind, material))
        assert found is not None
        return found


@router.get("/terms")
def craft_terms() -> tuple[Term, ...]:
    """The words of the craft that a maker may not know, each in a sentence."""
    return terms()


@router.get("/named")
def named(
    db: Db,
    kind: Literal["pigment", "oil"] = "pigment",
    typed: Annotated[str, Query(max_length=200)] = "",
    lots_only: bool = False,
) -> studio.MaterialsNamed:
    """Pigments or oils by what is typed: whole words and their beginnings, any order, one slip of the finger."""
    with db.session() as session:
        return studio.named(session, kind, typed, lots_only=lots_only)


@router.get("/lots", response_model=list[LotKept])
def lots(
    db: Db,
    kind: Kind | Literal["gel", "base"] | None = None,
    words: Annotated[Words, Query(max_length=100)] = "",
    with_used_up: bool = False,
    sort: Literal["name", "code", "received", "on_hand", "age"] = "name",
    only_low: bool = False,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 500,
) -> Response:
    """The lots of the shelf."""
    with db.session() as session:
        found = studio.lots(session, kind, words, with_used_up, sort, only_low, limit, offset)
    return answer(list(found), list[LotKept])


class _LotValues(Document):
    code: Annotated[Words, Field(min_length=1, max_length=40)]
    price_per_unit: Price | None = None
    note: Annotated[Words, Field(max_length=500)] = ""
    density_g_per_ml: Density | None = None
    loose_density_g_per_ml: Density | None = None
    drop_g: DropGrams | None = None
    supplier_code: Annotated[Words, Field(max_length=80)] = ""
    opened_on: date | None = None
    safety_note: Annotated[Words, Field(max_length=500)] = ""
    hazards: Hazards | None = None
    purity: Annotated[float, Field(strict=True, gt=0, le=1)] | None = None

    def given(self) -> dict[str, Any]:
        """The fields, as the studio takes them."""
        return dict(self) | {"hazards": tuple(self.hazards) if self.hazards is not None else None}


class LotReceived(_LotValues):
    """A tin, bottle or box that came in: g, or pieces of tubes and jars. Values left out are the library's."""

    kind: Kind
    code: Annotated[Words, Field(max_length=40, description="empty: the next that is free")] = ""
    material_key: Annotated[Words, Field(min_length=1, max_length=80)]
    received_on: date
    received: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=100_000)]
    price: Annotated[Price | None, Field(description="of all that came in; instead of the price of a kg or piece")] = (
        None
    )

    def given(self) -> dict[str, Any]:
        fields = super().given()
        price = fields.pop("price")
        if price is not None:
            fields["price_per_unit"] = studio.price_per_unit(self.kind, price, self.received)
        return fields


class LotChanged(_LotValues):
    """Everything of a lot that can be changed."""


@router.post("/lots", status_code=201)
@policy.works("Took in a lot")
def receive(db: Db, now: Now, new: LotReceived) -> LotKept:
    """Take in a lot."""
    with db.session() as session:
        lot_id = studio.receive(session, now, studio.NewLot(**new.given()))
        return studio.lot(session, lot_id)


class LotAnswer(BaseModel):
    """A lot and its last movements, newest first; of a powder the paint that what is left of it gives."""

    lot: LotKept
    movements: list[Movement]
    gives: Gives | None


@router.get("/lots/{lot_id}/label.pdf", response_class=Response, responses=A_PDF)
def lot_label(
    db: Db, request: Request, lot_id: RowId, width_mm: LabelWidth = 90.0, height_mm: LabelHeight = 50.0
) -> Response:
    """The label of what stands in a jar of one's own, powder first: its code opens the lot on a phone."""
    with db.session() as session:
        found = labels.of_lot(session, lot_id)
    return one_label(request, found, width_mm, height_mm)


@router.get("/lots/{lot_id}")
def lot(db: Db, lot_id: RowId) -> LotAnswer:
    """A lot with its movements."""
    with db.session() as session:
        kept = studio.lot(session, lot_id)
        return LotAnswer(lot=kept, movements=list(studio.movements(session, lot_id)), gives=studio.gives(session, kept))


@router.put("/lots/{lot_id}")
@policy.works("Changed a lot")
def change(db: Db, now: Now, lot_id: RowId, asked: LotChanged) -> LotKept:
    """Change what is said of a lot; a value left out goes back to the library's."""
    with db.session() as session:
        studio.change(session, now, lot_id, studio.LotChange(**asked.given()))
        return studio.lot(session, lot_id)


class SuspectMarked(Document):
    """Why a lot is not to be trusted; empty: it is again."""

    why: Annotated[Words, Field(max_length=300)] = ""


@router.put("/lots/{lot_id}/suspect")
@policy.works("Marked a lot as suspect, or took the mark off")
def suspect(db: Db, lot_id: RowId, asked: SuspectMarked) -> LotKept:
    """Mark a lot as not to be trusted, or take the mark off; seen wherever the lot can be chosen."""
    with db.session() as session:
        studio.suspect(session, lot_id, asked.why)
        return studio.lot(session, lot_id)


class WeighedIn(Document):
    """What the tin, bottle or box holds now, net, in g (or pieces); 0 for used up."""

    reading: Annotated[float, Field(strict=True, ge=0, le=100_000)]
    note: Annotated[Words, Field(max_length=500)] = ""


@router.post("/lots/{lot_id}/weigh-in")
@policy.works("Weighed what is left of a lot")
def weigh_in(db: Db, now: Now, lot_id: RowId, asked: WeighedIn) -> LotAnswer:
    """Correct what is left of a lot by weighing or counting it."""
    with db.session() as session:
        studio.weigh_in(session, now, lot_id, asked.reading, asked.note)
        kept = studio.lot(session, lot_id)
        return LotAnswer(lot=kept, movements=list(studio.movements(session, lot_id)), gives=studio.gives(session, kept))


class SpoonWeighed(Document):
    """Level spoons of a powder, weighed once."""

    unit: Unit
    spoons: Annotated[float, Field(strict=True, ge=0.01, le=1_000)] = 1
    grams: Grams


@router.post("/lots/{lot_id}/weigh-spoon")
@policy.works("Weighed a spoon of a lot")
def weigh_spoon(db: Db, lot_id: RowId, asked: SpoonWeighed) -> LotKept:
    """Learn a lot's loose density; every later spoon of it is tighter."""
    with db.session() as session:
        studio.weigh_spoon(session, lot_id, asked.unit, asked.grams, asked.spoons)
        return studio.lot(session, lot_id)


class DropsWeighed(Document):
    """Drops of a bottle, counted and weighed once."""

    drops: Annotated[int, Field(strict=True, ge=1, le=10_000)]
    grams: Grams


@router.post("/lots/{lot_id}/weigh-drops")
@policy.works("Weighed drops of a bottle")
def weigh_drops(db: Db, lot_id: RowId, asked: DropsWeighed) -> LotKept:
    """Learn a bottle's drop; every later drop of it is tighter."""
    with db.session() as session:
        studio.weigh_drops(session, lot_id, asked.drops, asked.grams)
        return studio.lot(session, lot_id)
