"""The slab: the view, the acts, and word of them to every open window."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Response
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import LogRoom, add_log
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.words import Words
from niddy.studio import batches, ending
from niddy.studio import slab as studio
from niddy.studio.slab import Act, SlabView

router = Router(prefix="/api/slab", tags=["slab"], responses=REFUSALS)


@router.get("/{number}", response_model=SlabView)
def view(db: Db, now: Now, number: RowId) -> Response:
    """The slab of a batch as it is."""
    with db.session() as session:
        seen = studio.view(session, now, number)
    return answer(seen)


class LateDecision(BaseModel):
    """What becomes of an act that came late: taken into the record, or left out with a few words why."""

    model_config = ConfigDict(extra="forbid")
    take_in: Annotated[bool, Field(strict=True)]
    words: Annotated[Words, Field(max_length=300)] = ""


@router.post("/{number}/late/{act_id}", response_model=SlabView)
@policy.works("Decided on an act that came late")
def decide_late(db: Db, now: Now, number: RowId, act_id: UUID, asked: LateDecision) -> Response:
    """Decide on an act that came when its batch was over already."""
    with db.session() as session:
        seen = studio.decide_late(session, now, number, act_id, take_in=asked.take_in, words=asked.words)
    return answer(seen)


add_log(router, LogRoom(batches.job_of, Act, SlabView, ending.record, studio.take_photo))
