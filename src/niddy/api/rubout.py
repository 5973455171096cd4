"""Rub-outs, and the page of a pigment's learned demand."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import Field

from niddy.api import policy
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.documents import Document
from niddy.core.words import Words
from niddy.studio import rubout as studio
from niddy.studio.materials import Asked
from niddy.studio.plan import OilAsked
from niddy.studio.rubout import PigmentPage, Test, TestLine
from niddy.studio.slab import AmountAsked

router = Router(prefix="/api/rubout", tags=["rubout"], responses=REFUSALS)

Number = Annotated[float, Field(strict=True)]


class Begin(Document):
    """A test of a lot in an oil. `request_id` is the client's: sent twice it begins one test."""

    request_id: UUID
    lot_id: Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
    oil: OilAsked
    pigment_g: Number = 5.0
    temperature_c: Number | None = None


class OilAdded(Document):
    """Oil added once, with an id made by the client."""

    id: UUID
    measure: AmountAsked


class Undo(Document):
    """Take back the last step; the id is the undoing's own."""

    id: UUID


class Reason(Document):
    """Why."""

    reason: Annotated[Words, Field(max_length=500)]


class Prior(Document):
    """A range to begin from in the library's place, g reference oil per 100 g, and where it is from."""

    low: Number
    high: Number
    source: Annotated[Words, Field(max_length=200)] = ""


@router.get("")
def tests(db: Db) -> list[TestLine]:
    """Rub-outs, open ones first, then the newest."""
    with db.session() as session:
        return list(studio.tests(session))


@router.post("", status_code=201)
@policy.works("Began a rub-out")
def begin(db: Db, now: Now, asked: Begin) -> Test:
    """Begin a rub-out."""
    with db.session() as session:
        oil = Asked(asked.oil.lot_id, asked.oil.oil_key)
        test_id = studio.begin(session, now, asked.request_id, asked.lot_id, oil, asked.pigment_g, asked.temperature_c)
        return studio.test(session, test_id)


@router.get("/tests/{test_id}")
def test(db: Db, test_id: RowId) -> Test:
    """One rub-out."""
    with db.session() as session:
        return studio.test(session, test_id)


@router.post("/tests/{test_id}/steps")
@policy.logs()
def add_oil(db: Db, now: Now, test_id: RowId, asked: OilAdded) -> Test:
    """Log a step of oil; the same step sent again changes nothing."""
    with db.session() as session:
        studio.add_oil(session, now, test_id, asked.id, asked.measure)
        return studio.test(session, test_id)


@router.post("/tests/{test_id}/undo")
@policy.logs()
def undo(db: Db, now: Now, test_id: RowId, asked: Undo) -> Test:
    """Take back the last step."""
    with db.session() as session:
        studio.undo(session, now, test_id, asked.id)
        return studio.test(session, test_id)


class End(Document):
    """The end point; `sure` says that it coheres though it lies far from where it was expected."""

    sure: Annotated[bool, Field(strict=True)] = False


@router.post("/tests/{test_id}/end")
@policy.works("Marked the end of a rub-out")
def end(db: Db, now: Now, test_id: RowId, asked: End | None = None) -> Test:
    """Mark the end point."""
    with db.session() as session:
        studio.end(session, now, test_id, sure=asked is not None and asked.sure)
        return studio.test(session, test_id)


@router.post("/tests/{test_id}/abort")
@policy.works("Gave up a rub-out")
def abort(db: Db, now: Now, test_id: RowId, asked: Reason) -> Test:
    """Give a test up; it is kept as aborted."""
    with db.session() as session:
        studio.abort(session, now, test_id, asked.reason)
        return studio.test(session, test_id)


PigmentKey = Annotated[Words, Field(max_length=80)]


@router.get("/pigments/{pigment_key}")
def pigment(db: Db, pigment_key: PigmentKey) -> PigmentPage:
    """What is known of a pigment's oil demand, and how each record told of it."""
    with db.session() as session:
        return studio.pigment_page(session, pigment_key)


@router.put("/pigments/{pigment_key}/prior")
@policy.works("Entered a range of oil for a pigment")
def enter_prior(db: Db, pigment_key: PigmentKey, asked: Prior) -> PigmentPage:
    """Let an entered range take the library's place."""
    with db.session() as session:
        studio.enter_prior(session, pigment_key, asked.low, asked.high, asked.source)
        return studio.pigment_page(session, pigment_key)


@router.delete("/pigments/{pigment_key}/prior")
@policy.works("Went back to the library's range of oil for a pigment")
def forget_prior(db: Db, pigment_key: PigmentKey) -> PigmentPage:
    """Go back to the library's range."""
    with db.session() as session:
        studio.forget_prior(session, pigment_key)
        return studio.pigment_page(session, pigment_key)


@router.post("/records/{record_id}/set-aside")
@policy.works("Set a rub-out aside")
def set_aside(db: Db, record_id: RowId, asked: Reason) -> PigmentPage:
    """Set a record aside with its reason; it is kept."""
    with db.session() as session:
        return studio.pigment_page(session, studio.set_aside(session, record_id, asked.reason))


@router.post("/records/{record_id}/confirm")
@policy.works("Let a held rub-out count")
def confirm(db: Db, record_id: RowId) -> PigmentPage:
    """Let a record that was held back count after all."""
    with db.session() as session:
        return studio.pigment_page(session, studio.confirm(session, record_id))


@router.post("/records/{record_id}/count-again")
@policy.works("Let a rub-out count again")
def count_again(db: Db, record_id: RowId) -> PigmentPage:
    """Let a record count again."""
    with db.session() as session:
        return studio.pigment_page(session, studio.set_aside(session, record_id, None))
