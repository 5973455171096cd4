"""Plan: computed at once from what is asked; plans kept for later."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from fastapi import Response
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.purposes import BODIES, PURPOSES, BodyChoice, PurposeChoice
from niddy.core.words import Words
from niddy.studio import plan as studio
from niddy.studio import recipes, slab
from niddy.studio.plan import PlanAsked, PlanKept, Planned

router = Router(prefix="/api/plan", tags=["plan"], responses=REFUSALS)


@router.post("", response_model=Planned)
@policy.looks()
def compute(db: Db, asked: PlanAsked) -> Response:
    """The whole plan of a batch; nothing is kept."""
    with db.session() as session:
        planned = recipes.planned(session, asked)
    return answer(planned)


@dataclass(frozen=True, slots=True)
class Bodies:
    """The bodies one can ask for, stiffest first, and the uses that stand for one."""

    bodies: tuple[BodyChoice, ...]
    purposes: tuple[PurposeChoice, ...]


@router.get("/bodies")
def bodies() -> Bodies:
    """What can be asked of a paint."""
    return Bodies(BODIES, PURPOSES)


class TakeToSlab(BaseModel):
    """A plan to make a batch of. `request_id` is the client's: sent twice it makes one batch."""

    model_config = ConfigDict(extra="forbid")

    request_id: UUID
    plan: PlanAsked


class BatchOpened(BaseModel):
    """The number of the batch."""

    number: int


@router.post("/take-to-slab", status_code=201)
@policy.works("Took a plan to the slab")
def take_to_slab(db: Db, now: Now, asked: TakeToSlab) -> BatchOpened:
    """Make a batch of a plan."""
    with db.session() as session:
        return BatchOpened(number=slab.take_to_slab(session, now, asked.request_id, asked.plan))


class PlanToKeep(BaseModel):
    """A plan and the name to keep it under."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[Words, Field(min_length=1, max_length=120)]
    plan: PlanAsked


@router.get("/saved")
def saved(db: Db) -> list[PlanKept]:
    """The kept plans, newest first."""
    with db.session() as session:
        return list(studio.saved(session))


@router.post("/saved", status_code=201)
@policy.works("Saved a plan")
def save(db: Db, now: Now, asked: PlanToKeep) -> PlanKept:
    """Keep a plan."""
    with db.session() as session:
        return studio.saved_plan(session, studio.save(session, now, asked.name, asked.plan))


@router.get("/saved/{plan_id}")
def saved_plan(db: Db, plan_id: RowId) -> PlanKept:
    """One kept plan."""
    with db.session() as session:
        return studio.saved_plan(session, plan_id)


@router.delete("/saved/{plan_id}", status_code=204)
@policy.works("Deleted a saved plan")
def discard(db: Db, plan_id: RowId) -> None:
    """Forget a kept plan."""
    with db.session() as session:
        studio.discard(session, plan_id)
