"""Batches: the list, the page, the export."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.errors import Refused
from niddy.core.slab import Status, Verdict
from niddy.core.story import Story
from niddy.core.words import Words
from niddy.exchange import batch_csv, batch_json, lists_pdf
from niddy.studio import batches as studio
from niddy.studio import slab
from niddy.studio.batches import Found, Search
from niddy.studio.slab import BatchPage, LogPart

router = Router(prefix="/api/batches", tags=["batches"], responses=REFUSALS)


@router.get("", response_model=Found)
def search(
    db: Db,
    words: Annotated[Words, Query(max_length=100, description="in the name, or a number")] = "",
    pigment: Annotated[Words | None, Query(max_length=80)] = None,
    lot: Annotated[int | None, Query(ge=1, le=2_147_483_647)] = None,
    status: Status | None = None,
    verdict: Verdict | None = None,
    since: date | None = None,
    until: date | None = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> Response:
    """Batches that match all that is given, newest first."""
    _sensible("since", since)
    _sensible("until", until)
    with db.session() as session:
        found = studio.search(session, Search(words, pigment, lot, status, verdict, since, until, offset, limit))
    return answer(found)


def _sensible(field: str, day: date | None) -> None:
    if day is not None and not 1900 <= day.year <= 2200:
        raise Refused(field, f"{day} is not a date this studio can take", "a date from 1900 to 2200")


@router.get("/{number}", response_model=BatchPage)
def page(db: Db, now: Now, number: RowId) -> Response:
    """A batch to be read: its timeline, and what happened against the plan."""
    with db.session() as session:
        read = slab.page(session, now, number)
    return answer(read)


@router.get("/{number}/sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def sheet(db: Db, now: Now, number: RowId, paper: Literal["a4", "letter"] = "a4") -> Response:
    """One batch on paper: what went in, what came of it, and its log in words."""
    with db.session() as session:
        read = slab.page(session, now, number)
        entries = slab.timeline(studio.batch(session, number))
    rows = [
        (
            "to plan",
            f"{d.label}: planned {d.planned:.{d.digits}f}, happened {d.happened:.{d.digits}f} {d.unit}",
            d.reason,
        )
        for d in read.differences
    ]
    rows += [
        (
            f"{e.made_at:%d %b %H:%M}",
            e.text + (" (undone)" if e.struck else ""),
            f"{e.grams:.2f} g" if e.grams is not None else "",
        )
        for e in entries[-2_000:]
    ]
    view = read.view
    under = f"batch {number}, {read.started_at:%d %B %Y}, in {view.oil.name.lower()}; {view.verdict or view.status}"
    made = lists_pdf.table(
        lists_pdf.Table(
            view.name,
            under,
            (("when", 1.2, False), ("what", 5, False), ("", 3, False)),
            tuple(rows),
            foot="Follow the safety data sheet, local codes and licensed disposal.",
        ),
        paper,
    )
    name = f'inline; filename="niddy-batch-{number}.pdf"'
    return Response(made.pdf, media_type="application/pdf", headers={"content-disposition": name})


class DiscardAsked(BaseModel):
    """Why what is left of a batch is thrown away."""

    model_config = ConfigDict(extra="forbid")
    why: Annotated[Words, Field(max_length=300)]


@router.post("/{number}/discard", response_model=BatchPage)
@policy.works("Threw away what was left of a batch")
def discard(db: Db, now: Now, number: RowId, asked: DiscardAsked) -> Response:
    """Note that what is left of a batch was thrown away; its record stays."""
    with db.session() as session:
        studio.discard(session, now, number, asked.why)
        read = slab.page(session, now, number)
    return answer(read)


@router.get("/{number}/log", response_model=LogPart)
def log(
    db: Db, number: RowId, before: Annotated[int, Query(ge=1, le=2_147_483_647, description="a place in the log")]
) -> Response:
    """The acts of a batch that stand before a place in its log."""
    with db.session() as session:
        read = slab.earlier(session, number, before)
    return answer(read)


@router.get("/{number}/story", response_model=Story)
def story(db: Db, now: Now, number: RowId) -> Response:
    """How the session went: the paste after each act, every spell at the muller, the pictures."""
    with db.session() as session:
        story_of_session = slab.session_story(session, now, number)
    return answer(story_of_session)


@router.get("/{number}/export.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def export_csv(db: Db, number: RowId) -> Response:
    """The log of one batch, a row an act."""
    with db.session() as session:
        kept = studio.batch(session, number)
    text = batch_csv.dump(kept, slab.timeline(kept))
    name = f'attachment; filename="niddy-batch-{number}.csv"'
    return Response(text, media_type="text/csv; charset=utf-8", headers={"content-disposition": name})


@router.get("/{number}/export.json", response_class=Response, responses={200: {"content": {"application/json": {}}}})
def export(db: Db, number: RowId) -> Response:
    """One batch whole, in an open format of plain JSON."""
    with db.session() as session:
        text = batch_json.dump(studio.batch(session, number))
    name = f'attachment; filename="niddy-batch-{number}.json"'
    return Response(text, media_type="application/json", headers={"content-disposition": name})
