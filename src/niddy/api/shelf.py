"""The shelf: tubes and jars, inspections, ways to save them, found jars, the printed list."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from fastapi import Query, Response
from pydantic import BaseModel, ConfigDict

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import add_room
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.words import Words
from niddy.exchange import lists_pdf
from niddy.exchange.lists_pdf import Table
from niddy.studio import shelf as studio
from niddy.studio.errors import Missing
from niddy.studio.shelf import FoundAsked, InspectAsked, ItemKind, ItemPage, Page, Reground, StickInspectAsked, Wanted

router = Router(prefix="/api/shelf", tags=["shelf"], responses=REFUSALS)
Sort = Literal["oldest", "newest", "colour", "due", "name", "place"]


class ItemId(BaseModel):
    """The id of a tube or jar."""

    id: int


class SettleAsked(BaseModel):
    """The batch a found jar is taken to be of."""

    model_config = ConfigDict(extra="forbid")
    batch_number: RowId


class RegrindAsked(BaseModel):
    """`request_id` is the client's: sent twice it makes one batch."""

    model_config = ConfigDict(extra="forbid")
    request_id: UUID


@router.get("", response_model=Page)
def search(
    db: Db,
    now: Now,
    words: Annotated[Words, Query(max_length=100)] = "",
    place: Annotated[Words | None, Query(max_length=80)] = None,
    kind: ItemKind | None = None,
    batch: Annotated[int | None, Query(ge=1, le=2_147_483_647)] = None,
    only_due: bool = False,
    at_risk: bool = False,
    gone: bool = False,
    sort: Sort = "oldest",
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> Response:
    """A part of the shelf."""
    wanted = Wanted(words, place, kind, batch, only_due, at_risk, gone, sort, offset, limit)
    with db.session() as session:
        found = studio.search(session, now, wanted)
    return answer(found)


@router.get("/code/{code}")
def by_code(db: Db, code: Words) -> ItemId:
    """A tube or jar by its code, or the first here of a batch by its number."""
    with db.session() as session:
        found = studio.by_code(session, code)
    if found is None:
        raise Missing("tube or jar", code)
    return ItemId(id=found)


@router.get("/list.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def printed(
    db: Db,
    now: Now,
    words: Annotated[Words, Query(max_length=100)] = "",
    place: Annotated[Words | None, Query(max_length=80)] = None,
    only_due: bool = False,
    at_risk: bool = False,
    gone: bool = False,
    sort: Sort = "oldest",
    paper: Literal["a4", "letter"] = "a4",
) -> Response:
    """The shelf, or the part of it asked for, on paper."""
    wanted = Wanted(words, place, None, None, only_due, at_risk, gone, sort, 0, 5_000)
    with db.session() as session:
        found = studio.search(session, now, wanted)
    asked = [
        part
        for part in (
            words,
            place,
            "due for inspection" if only_due else "",
            "at risk" if at_risk else "",
            "with those gone" if gone else "",
        )
        if part
    ]
    rows = tuple(
        (
            item.code,
            item.name,
            item.container,
            f"{item.volume_ml:.0f} ml",
            f"{item.filled_on:%d %b %Y}",
            item.place,
            f"{item.next_inspection_on:%d %b %Y}" if item.next_inspection_on else "",
            f"use by {item.use_by:%d %b %Y}" if item.use_by else item.last_seen,
        )
        for item in found.items
    )
    under = f"{now:%d %B %Y}; {found.total} tubes and jars, {found.due} due for inspection"
    if found.total > len(found.items):
        under += f"; the first {len(found.items)} of them"
    if asked:
        under += f"; asked for: {', '.join(asked)}"
    made = lists_pdf.table(
        Table(
            "Shelf",
            under,
            (
                ("code", 0.9, False),
                ("paint", 2.9, False),
                ("in", 1.6, False),
                ("", 1.0, True),
                ("filled", 1.75, False),
                ("place", 1.7, False),
                ("inspect", 1.75, False),
                ("seen last", 1.8, False),
            ),
            rows,
            tuple(item.masstone_srgb for item in found.items),
        ),
        paper,
    )
    name = 'inline; filename="niddy-shelf.pdf"'
    return Response(made.pdf, media_type="application/pdf", headers={"content-disposition": name})


@router.post("/found", status_code=201)
@policy.works("Put a found jar on the shelf")
def find(db: Db, now: Now, asked: FoundAsked) -> ItemPage:
    """Put a jar nobody can name on the shelf."""
    with db.session() as session:
        return studio.page(session, now, studio.find(session, now, asked))


@router.get("/{item_id}")
def page(db: Db, now: Now, item_id: RowId) -> ItemPage:
    """A tube or jar."""
    with db.session() as session:
        return studio.page(session, now, item_id)


@router.post("/{item_id}/inspections")
@policy.works("Inspected a tube or jar")
def inspect(db: Db, now: Now, item_id: RowId, asked: InspectAsked) -> ItemPage:
    """Log an inspection."""
    with db.session() as session:
        return studio.inspect(session, now, item_id, asked)


@router.post("/{item_id}/stick-inspections")
@policy.works("Inspected a paint stick")
def inspect_stick(db: Db, now: Now, item_id: RowId, asked: StickInspectAsked) -> ItemPage:
    """Log an inspection of a paint stick."""
    with db.session() as session:
        return studio.inspect(session, now, item_id, asked)


@router.post("/{item_id}/regrind", status_code=201)
@policy.works("Put a tube or jar back on the slab")
def regrind(db: Db, now: Now, item_id: RowId, asked: RegrindAsked) -> Reground:
    """Put it back on the slab: a batch at its known ratio."""
    with db.session() as session:
        return studio.regrind(session, now, item_id, asked.request_id)


@router.post("/{item_id}/settle")
@policy.works("Said which batch a found jar is of")
def settle(db: Db, now: Now, item_id: RowId, asked: SettleAsked) -> ItemPage:
    """Say which batch a found jar is of."""
    with db.session() as session:
        return studio.settle(session, now, item_id, asked.batch_number)


add_room(router, studio.ITEMS, ItemPage, studio.page_of)
