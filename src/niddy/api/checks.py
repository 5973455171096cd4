"""Checks: readings, verdicts, what is due, colours from files, photographs and the stand-in reader."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.context import Db, Now, RowId
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core import colorimetry
from niddy.core.checks import CHOICES, COLOURS, UNITS, CheckKind
from niddy.core.colorimetry import CARD_REFLECTANCE, Photographed
from niddy.core.errors import Refused
from niddy.core.words import Words
from niddy.devices import colour_reader
from niddy.exchange import colour_reading
from niddy.exchange.colour_reading import LightScale, Reading
from niddy.studio import batches, photos
from niddy.studio import checks as studio
from niddy.studio.checks import BatchChecks, CheckAsked, Comparison, DueCheck, ReleaseAsked

router = Router(prefix="/api/checks", tags=["checks"], responses=REFUSALS)
_FILE = {
    "requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string", "format": "binary"}}}}
}
_PICTURE = {
    "requestBody": {"required": True, "content": {"image/jpeg": {"schema": {"type": "string", "format": "binary"}}}}
}
MAX_FILE_BYTES = 900_000


class SetAsideAsked(BaseModel):
    """Why a reading does not count; null lets it count again."""

    model_config = ConfigDict(extra="forbid")
    reason: Annotated[Words, Field(max_length=300)] | None = None


class Kinds(BaseModel):
    """What can be checked: the unit of each figure, the choices of each drawn check."""

    units: dict[CheckKind, str]
    choices: dict[CheckKind, tuple[str, ...]]


@router.get("/kinds")
async def kinds() -> Kinds:
    """What can be checked."""
    return Kinds(units=UNITS, choices=CHOICES)


@router.get("/due")
def due(db: Db, now: Now) -> tuple[DueCheck, ...]:
    """Every check that waits, the oldest first."""
    with db.session() as session:
        return studio.all_due(session, now)


@router.get("/compare", response_model=Comparison)
def compare(
    db: Db, one: Annotated[int, Query(ge=1, le=2_147_483_647)], other: Annotated[int, Query(ge=1, le=2_147_483_647)]
) -> Response:
    """Two batches side by side, and where the change in spread comes from."""
    with db.session() as session:
        comparison = studio.compare(session, one, other)
    return answer(comparison)


@router.post("/reading-file", openapi_extra=_FILE)
@policy.looks()
async def reading_file(request: Request, scale: LightScale | None = None) -> tuple[Reading, ...]:
    """The samples of a colour instrument's file: CGATS.17 text or CSV, bands 400 to 700 nm or Lab.

    `scale` says what the figures of a spectrum are of, where the file does not; without it that is refused.
    """
    content = await request.body()
    if len(content) > MAX_FILE_BYTES:
        raise Refused("file", "too large", f"up to {MAX_FILE_BYTES // 1000} kB")
    return await run_in_threadpool(colour_reading.read, content, scale)


@router.post("/photograph", openapi_extra=_PICTURE)
@policy.looks(body=policy.PICTURE)
async def photograph(
    request: Request,
    card_x: float,
    card_y: float,
    paint_x: float,
    paint_y: float,
    card_reflectance: float = CARD_REFLECTANCE,
) -> Photographed:
    """The paint's colour from a photograph with a neutral card; places as fractions of width and height."""
    picture = await request.body()

    def worked() -> Photographed:
        scaled = photos.scaled(picture)
        patches = {}
        for name, x, y in (("card", card_x, card_y), ("paint", paint_x, paint_y)):
            try:
                patches[name] = photos.patch(scaled, x, y)
            except Refused as refusal:
                raise Refused(f"{name}_{refusal.field}", refusal.problem, refusal.accepted) from None
        return colorimetry.from_photograph(patches["card"], patches["paint"], card_reflectance)

    return await run_in_threadpool(worked)


class StandInReading(BaseModel):
    """A made-up reading: 31 bands from 400 to 700 nm, 0 to 1."""

    spectrum: list[float]


@router.post("/{number}/stand-in-reading")
@policy.works("Read with the stand-in colour reader")
def stand_in_reading(db: Db, number: RowId, kind: CheckKind) -> StandInReading:
    """A reading of the stand-in colour reader, made from what this batch should look like; not kept."""
    if not studio.is_colour(kind):
        raise Refused("kind", f"{kind} is not a colour", ", ".join(COLOURS))
    with db.session() as session:
        plan = batches.batch(session, number, 0).plan
    colour = plan.masstone_srgb if kind is CheckKind.MASSTONE else plan.undertone_srgb
    return StandInReading(spectrum=list(colour_reader.read(colour)))


@router.get("/{number}", response_model=BatchChecks)
def page(db: Db, now: Now, number: RowId) -> Response:
    """The checks of a batch, its verdict, what is due."""
    with db.session() as session:
        page_of_batch = studio.page(session, now, number)
    return answer(page_of_batch)


@router.post("/{number}", response_model=BatchChecks)
@policy.works("Read a batch's colour or body")
def record(db: Db, now: Now, number: RowId, asked: CheckAsked) -> Response:
    """Keep one reading; the same again changes nothing."""
    with db.session() as session:
        page_of_batch = studio.record(session, now, number, asked)
    return answer(page_of_batch)


@router.put("/{number}/readings/{check_id}", response_model=BatchChecks)
@policy.works("Left a reading out, or let it count again")
def set_aside(db: Db, now: Now, number: RowId, check_id: UUID, asked: SetAsideAsked) -> Response:
    """Let a reading not count, with a reason, or count again."""
    with db.session() as session:
        page_of_batch = studio.set_aside(session, now, number, check_id, asked.reason)
    return answer(page_of_batch)


@router.post("/{number}/decision", response_model=BatchChecks)
@policy.works("Decided on a batch")
def decide(db: Db, now: Now, number: RowId, asked: ReleaseAsked) -> Response:
    """Release a batch, release and watch it, or hold it."""
    with db.session() as session:
        page_of_batch = studio.decide(session, now, number, asked)
    return answer(page_of_batch)
