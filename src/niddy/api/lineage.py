"""Lineage: what is behind a tube or jar, what a lot went into, and the recall list on paper."""

from __future__ import annotations

from typing import Literal

from fastapi import Response

from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.exchange import lists_pdf
from niddy.exchange.lists_pdf import Table
from niddy.studio import lineage as studio
from niddy.studio.lineage import Lineage, What

router = Router(prefix="/api/lineage", tags=["lineage"], responses=REFUSALS)


@router.get("/items/{item_id}")
def behind(db: Db, item_id: RowId) -> Lineage:
    """All that is behind a tube or jar: batches, lots, the lots of gels, old paints."""
    with db.session() as session:
        return studio.behind(session, item_id)


@router.get("/lots/{lot_id}")
def went_into(db: Db, lot_id: RowId) -> Lineage:
    """All that a lot went into: gels, batches, tubes and jars, here or gone."""
    with db.session() as session:
        return studio.went_into(session, lot_id)


_JOBS = {What.BATCH: "batch ", What.POT: "pot "}


@router.get("/lots/{lot_id}/recall.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def recall(db: Db, now: Now, lot_id: RowId, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The recall list of a lot: every tube and jar that holds some of it, with where it is or to whom it went."""
    with db.session() as session:
        found = studio.went_into(session, lot_id)
    lot = found.places[0]
    under = (
        f"{now:%d %B %Y}; {found.batches} batches"
        + (f" and {found.pots} pots of sticks" if found.pots else "")
        + f", {found.items} tubes, jars and sticks: {found.here} here, {found.gone} gone"
        + ("; not followed to its end" if found.cut else "")
    )
    rows = tuple(
        (
            "    " * min(place.depth - 1, 3) + _JOBS.get(place.what, "") + place.code,
            place.name,
            f"{place.day:%d %b %Y}",
            f"{place.grams:.1f} g of it" if place.grams is not None else "",
            "" if place.what in _JOBS else place.says,
            "" if place.here is None else "here" if place.here else "gone",
        )
        for place in found.places[1:]
    )
    made = lists_pdf.table(
        Table(
            f"Where lot {lot.code} went: {lot.name}",
            under,
            (
                ("code", 1.6, False),
                ("what", 3.4, False),
                ("made", 1.3, False),
                ("", 1.3, True),
                ("place, or to whom", 2.6, False),
                ("", 0.8, False),
            ),
            rows,
            foot="Follow the safety data sheet, local codes and licensed disposal.",
        ),
        paper,
    )
    name = f'inline; filename="niddy-recall-{lot.id}.pdf"'
    return Response(made.pdf, media_type="application/pdf", headers={"content-disposition": name})
