"""What the log of every craft has on the web: its acts, its pictures, and word of its growth to every open window."""

from __future__ import annotations

import asyncio
import contextlib
import json
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from fastapi import APIRouter, Depends, Header, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import AwareDatetime
from sqlalchemy.orm import Session
from sse_starlette import EventSourceResponse, ServerSentEvent

from niddy.api import policy
from niddy.api.answers import answer
from niddy.api.balance import BalanceHub, connection_if_any, weight_event
from niddy.api.context import Db, Now, RowId
from niddy.api.follow import Followers
from niddy.api.hub import Device, Hub, Readings
from niddy.api.ph_meter import PH_METER
from niddy.api.thermometer import THERMOMETER
from niddy.core.acting import PhotoAsked
from niddy.core.words import Words
from niddy.devices.balance import Connection
from niddy.studio import photos, recorder
from niddy.studio.sent import check_job, own_id
from niddy.studio.times import by_our_clock

PICTURE = {
    "requestBody": {
        "required": True,
        "content": {f"image/{kind}": {"schema": {"type": "string", "format": "binary"}} for kind in ("jpeg", "png")},
    }
}
"""How an address says that its body is a picture."""


@dataclass(frozen=True, slots=True)
class Sent:
    """What a device says of itself with an act: what its clock shows, and which job it means by the number."""

    clock: datetime | None
    job: UUID | None


async def _sent(
    niddy_clock: Annotated[AwareDatetime | None, Header(description="what the device's clock shows")] = None,
    niddy_job: Annotated[UUID | None, Header(description="the job's own id, as its stream tells it")] = None,
) -> Sent:
    return Sent(niddy_clock, niddy_job)


SentWith = Annotated[Sent, Depends(_sent)]
Record = Callable[[Session, datetime, int, Any], Any]
View = Callable[[Session, datetime, Any], Any]
TakePhoto = Callable[[Session, datetime, int, PhotoAsked, bytes], Any]


@dataclass(frozen=True, slots=True)
class LogRoom:
    """What a room says of the jobs it keeps a log of: which acts there are, and what it answers to one.

    `job_of` finds a job by its number. `own_clock`: the job has a time of its own, which devices follow.
    """

    job_of: Callable[[Session, int], int]
    acts: Any
    view: type
    record: Record
    take_photo: TakePhoto | None = None
    path: str = "/{number}"
    own_clock: bool = False


def add_room(
    router: APIRouter, room: recorder.LogRoom[Any, Any, Any], shows: type, view: View, path: str = "/{number}"
) -> None:
    """Give a room's router the addresses of its jobs' logs; `view` is how a job is shown, `shows` what that is."""

    def record(session: Session, now: datetime, number: int, act: Any) -> Any:
        return view(session, now, recorder.record(session, now, room, number, act))

    def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> Any:
        return view(session, now, recorder.take_photo(session, now, room, number, asked, picture))

    add_log(
        router, LogRoom(room.job_of, room.acts.union, shows, record, take_photo if room.acts.has_photos else None, path)
    )


def add_log(router: APIRouter, room: LogRoom) -> None:
    """Give a room's router the addresses of its jobs' acts, of their pictures, and of their growth."""
    path, job_of = room.path, room.job_of

    def record(db: Db, now: Now, number: RowId, sent: SentWith, act: Any) -> Response:
        """Log one act; the answer is what it was logged in, after it. The same act sent again changes nothing."""
        with db.session() as session:
            check_job(session, job_of, number, sent.job)
            told = act if room.own_clock else by_our_clock(act, now, sent.clock)
            seen = room.record(session, now, number, told)
        return answer(seen)

    record.__annotations__["act"] = room.acts
    router.post(path + "/acts", response_model=room.view)(policy.logs()(record))

    if room.take_photo is not None:
        _add_photos(router, room, room.take_photo)

    @router.get(
        path + "/photos/{photo_id}.jpg", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
    )
    def photo(db: Db, number: RowId, photo_id: UUID) -> Response:
        """One picture. It never changes."""
        with db.session() as session:
            found = photos.jpeg(session, job_of(session, number), photo_id)
        kept = {"cache-control": "private, max-age=31536000, immutable"}
        return Response(found, media_type="image/jpeg", headers=kept)

    @router.get(path + "/follow", response_class=EventSourceResponse)
    @policy.looks(lasts=True)
    async def follow(request: Request, db: Db, number: RowId) -> EventSourceResponse:
        """Server-sent events: `grew` whenever this log grew, from whichever app process.

        First `ready`, with the number and the job's own id: acts that carry it land in no other job, whatever becomes
        of numbers.

        Where a balance, thermometer or pH meter is set up, `weight`, `temperature` and `ph` besides with each change
        of their readings: one stream a window, since a browser keeps only a few open to one host.
        """

        def found() -> tuple[int, UUID]:
            with db.session() as session:
                job_id = job_of(session, number)
                return job_id, own_id(session, job_id)

        job_id, its_own = await run_in_threadpool(found)
        connection = await run_in_threadpool(connection_if_any, db)
        ports = [await run_in_threadpool(device.port_if_any, db) for device in DEVICES]
        return EventSourceResponse(_events(request, job_id, its_own, number, connection, ports), ping=15)


def _add_photos(router: APIRouter, room: LogRoom, take_photo: TakePhoto) -> None:
    @policy.logs(policy.PICTURE)
    async def keep_photo(
        request: Request,
        db: Db,
        now: Now,
        number: RowId,
        photo_id: UUID,
        made_at: AwareDatetime,
        sent: SentWith,
        text: Annotated[Words, Query(max_length=200, description="a few words to it")] = "",
    ) -> Response:
        """Keep a picture (the body: a JPEG, PNG or WebP file) and log it. Sent again, it changes nothing."""
        picture = await request.body()

        def kept() -> Any:
            with db.session() as session:
                check_job(session, room.job_of, number, sent.job)
                asked = by_our_clock(PhotoAsked(id=photo_id, made_at=made_at, text=text), now, sent.clock)
                return take_photo(session, now, number, asked, picture)

        return answer(await run_in_threadpool(kept))

    path = room.path + "/photos/{photo_id}"
    router.post(path, response_model=room.view, openapi_extra=PICTURE)(keep_photo)


DEVICES: tuple[Device[Any], ...] = (THERMOMETER, PH_METER)
"""What may be read beside the balance."""


async def _events(
    request: Request, job_id: int, its_own: UUID, number: int, connection: Connection | None, ports: list[str | None]
) -> AsyncIterator[ServerSentEvent]:
    followers: Followers = request.app.state.followers
    balance: BalanceHub = request.app.state.balance
    async with contextlib.AsyncExitStack() as opened:
        grew = await opened.enter_async_context(followers.of(job_id))
        weights = await opened.enter_async_context(balance.readings_if_any(connection))
        said: list[tuple[Readings[Any], Callable[[Any], ServerSentEvent]]] = [(weights, weight_event)]
        for device, port in zip(DEVICES, ports, strict=True):
            hub: Hub[str, Any] = getattr(request.app.state, device.state)
            said.append((await opened.enter_async_context(hub.readings_if_any(port)), device.sent))
        yield ServerSentEvent(event="ready", data=json.dumps({"number": number, "job": str(its_own)}))
        growing = asyncio.create_task(grew.wait())
        coming = [asyncio.create_task(readings.next()) for readings, _ in said]
        try:
            while True:
                await asyncio.wait((growing, *coming), return_when=asyncio.FIRST_COMPLETED)
                if growing.done():
                    grew.clear()
                    growing = asyncio.create_task(grew.wait())
                    yield ServerSentEvent(event="grew", data=str(number))
                for n, (readings, sent) in enumerate(said):
                    if coming[n].done():
                        reading = coming[n].result()
                        coming[n] = asyncio.create_task(readings.next())
                        yield sent(reading)
        finally:
            for task in (growing, *coming):
                task.cancel()
