"""What studios swap: recipes, bases and processes as files and cards, with a look before anything comes in."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from fastapi import Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.words import Words
from niddy.db import Database
from niddy.exchange import swap_card, swap_json
from niddy.studio import swap as studio
from niddy.studio.swap import SwapKind, Swapped
from niddy.studio.swapped import Looked

router = Router(prefix="/api/swap", tags=["swap"], responses=REFUSALS)

BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/json": {"schema": {"type": "object"}}, "image/jpeg": {"schema": {"type": "string"}}},
    }
}
PICTURES = ("image/jpeg", "image/png", "image/webp")


class LookedInto(BaseModel):
    """What would come in with a file, and the file itself, to be sent again to take it in."""

    looked: Looked
    file: dict[str, Any]


@router.get("/schemas/{kind}.json", response_class=Response)
@policy.anybody()
def file_schema(kind: SwapKind) -> Response:
    """The JSON Schema of a recipe, a base or a process as a file."""
    return Response(swap_json.schema(kind), media_type="application/schema+json")


@router.post("/look", openapi_extra=BODY)
@policy.looks(body=policy.JSON_OR_PICTURE)
async def look(request: Request, db: Db) -> LookedInto:
    """What would come in with a file, or with a picture of a card (the body); changes nothing."""
    kind = request.headers.get("content-type", "").split(";")[0].strip().lower()
    return await run_in_threadpool(_look, db, await request.body(), kind in PICTURES)


def _look(db: Database, body: bytes, pictured: bool) -> LookedInto:
    file = swap_json.load(swap_card.read(body) if pictured else body)
    with db.session() as session:
        return LookedInto(looked=studio.look(session, file), file=file.model_dump(mode="json"))


@router.post("", status_code=201, openapi_extra=BODY)
@policy.works("Took in a file of another studio")
async def take_in(
    request: Request, db: Db, now: Now, name: Annotated[Words, Query(min_length=1, max_length=120)]
) -> Swapped:
    """Take a file in (the body) under a name, with those of its materials that are new; all or nothing."""
    file = swap_json.load(await request.body())

    def take() -> Swapped:
        with db.session() as session:
            return studio.take_in(session, now, file, name)

    return await run_in_threadpool(take)


@router.get("/{kind}/{kept_id}/file", response_class=Response, responses={200: {"content": {"application/json": {}}}})
def as_file(db: Db, kind: SwapKind, kept_id: RowId) -> Response:
    """A recipe, a base or a process as a file of its own, with its materials: what two studios swap."""
    with db.session() as session:
        file = studio.as_file(session, kind, kept_id)
    headers = {"content-disposition": f'attachment; filename="{_plain(file.name)}.{kind}.json"'}
    return Response(swap_json.dump(file), media_type="application/json", headers=headers)


@router.get(
    "/{kind}/{kept_id}/card.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}}
)
def as_card(db: Db, kind: SwapKind, kept_id: RowId, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The same on a card: in words, and in codes that are read back from a picture of it."""
    with db.session() as session:
        file, said = studio.as_file(session, kind, kept_id), studio.card(session, kind, kept_id)
    made = swap_card.card(said, file, paper)
    headers = {"content-disposition": f'inline; filename="{_plain(file.name)}.card.pdf"'}
    return Response(made.pdf, media_type="application/pdf", headers=headers)


def _plain(name: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "swap"
