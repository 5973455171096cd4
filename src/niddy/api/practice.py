"""The practice slab: its room, tries under the rules of the slab, judging, and whose eye the slab may use."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response
from pydantic import BaseModel

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.log import LogRoom, add_log
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.words import Words
from niddy.studio import practice as studio
from niddy.studio.practice import EyeAsked, EyePage, EyeSeen, JudgeAsked, JudgingView, PassAsked, PracticeRoom, TryAsked
from niddy.studio.slab import Act, SlabView

router = Router(prefix="/api/practice", tags=["practice"], responses=REFUSALS)


class TryBegun(BaseModel):
    """The number of the try that was begun, and whether it has a paste."""

    number: int
    paste: bool


@router.get("", response_model=PracticeRoom)
def room(db: Db, maker: Annotated[Words, Query(max_length=40)] = "") -> Response:
    """The exercises, and how a maker does at each."""
    with db.session() as session:
        seen = studio.room(session, maker)
    return answer(seen)


@router.post("", status_code=201)
@policy.logs()
def begin(db: Db, now: Now, asked: TryAsked) -> TryBegun:
    """Begin a try at an exercise. Asked twice under one id it is one try."""
    with db.session() as session:
        number = studio.begin(session, now, asked)
    return TryBegun(number=number, paste=asked.exercise != "judging")


@router.get("/eye", response_model=EyePage)
def eye(db: Db, maker: Annotated[Words, Query(max_length=40)] = "") -> Response:
    """A maker's eye: bias, spread, and every paste it named."""
    with db.session() as session:
        seen = studio.eye_page(session, maker)
    return answer(seen)


@router.put("/eye")
@policy.logs()
def use_eye(db: Db, asked: EyeAsked) -> EyeSeen:
    """Let the real slab use a maker's eye as practice found it, or nobody's."""
    with db.session() as session:
        return studio.use_eye(session, asked)


@router.get("/judging/{number}", response_model=JudgingView)
def judging(db: Db, number: RowId) -> Response:
    """Judging only, as it stands: the paste that is up, and those judged."""
    with db.session() as session:
        seen = studio.judging(session, number)
    return answer(seen)


@router.post("/judging/{number}", response_model=JudgingView)
@policy.logs()
def judge(db: Db, now: Now, number: RowId, asked: JudgeAsked) -> Response:
    """Name the body of the paste that is up. Sent again it changes nothing."""
    with db.session() as session:
        seen = studio.judge(session, now, number, asked)
    return answer(seen)


@router.get("/{number}", response_model=SlabView)
def view(db: Db, now: Now, number: RowId) -> Response:
    """The practice slab of a try as it is."""
    with db.session() as session:
        seen = studio.view(session, now, number)
    return answer(seen)


@router.delete("/{number}", status_code=204)
@policy.logs()
def throw_away(db: Db, now: Now, number: RowId) -> None:
    """Throw a try away that is not over."""
    with db.session() as session:
        studio.throw_away(session, now, number)


@router.post("/{number}/pass", response_model=SlabView)
@policy.logs()
def pass_time(db: Db, now: Now, number: RowId, asked: PassAsked) -> Response:
    """Move the clock of the practice slab on."""
    with db.session() as session:
        seen = studio.pass_time(session, now, number, asked)
    return answer(seen)


@router.post("/{number}/advice", response_model=SlabView)
@policy.logs()
def show_advice(db: Db, now: Now, number: RowId) -> Response:
    """Show Niddy's advice from here on."""
    with db.session() as session:
        seen = studio.show_advice(session, now, number)
    return answer(seen)


add_log(router, LogRoom(studio.job_of, Act, SlabView, studio.record, own_clock=True))
