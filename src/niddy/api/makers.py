"""Makers: sign in and out, switch at a shared device, pair a phone; who is here, on which devices, who did what."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Annotated
from uuid import UUID

import segno
from fastapi import Path, Query, Request, Response
from limits import RateLimitItem, RateLimitItemPerHour, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter
from pydantic import AwareDatetime, BaseModel, Field, SecretStr

from niddy.api.context import Db, Now, RowId, WhoHere
from niddy.api.guard import COOKIE
from niddy.api.problems import REFUSALS, TooOften
from niddy.api.router import Router
from niddy.core.errors import Refused
from niddy.core.makers import LONGEST_PIN, PAIRING_LASTS, STAYS, By, MakerRole, Who
from niddy.settings import Settings
from niddy.studio import makers as studio
from niddy.studio.documents import Document
from niddy.studio.makers import Device, DoneBy, MakerAsked, MakerKept, NewMaker, Signed
from niddy.studio.words import Words

router = Router(prefix="/api/makers", tags=["makers"], responses=REFUSALS)

_TRIES = MovingWindowRateLimiter(MemoryStorage())
_PER_NAME = (RateLimitItemPerMinute(5), RateLimitItemPerHour(30))
_PER_DEVICE = (RateLimitItemPerMinute(20), RateLimitItemPerHour(200))

Secret = Annotated[SecretStr, Field(max_length=200)]
DeviceName = Annotated[Words, Field(max_length=80)]


class SomebodyHere(BaseModel):
    """Who is signed in on this device, and how they came in."""

    id: int
    name: str
    initials: str
    role: MakerRole
    by: By


class OtherHere(BaseModel):
    """Somebody a shared device can be handed to; `ready` where their PIN works."""

    id: int
    name: str
    initials: str
    ready: bool


class Here(BaseModel):
    """Whether one signs in here at all, whether anybody can, who is, and whether the network can read along."""

    asked: bool
    owner_exists: bool
    readable: bool
    now: datetime
    me: SomebodyHere | None
    others: list[OtherHere] | None


class SignInAsked(Document):
    """Name and password; `shared` for a device that several makers use."""

    name: Annotated[Words, Field(min_length=1, max_length=60)]
    password: Secret
    device: DeviceName = ""
    shared: bool = False


class SwitchAsked(Document):
    """Who takes a shared device over, by PIN."""

    maker_id: Annotated[int, Field(ge=1, le=2_147_483_647)]
    pin: Annotated[SecretStr, Field(max_length=LONGEST_PIN)]


class PairAsked(Document):
    """The code a phone read."""

    token: Annotated[SecretStr, Field(min_length=1, max_length=100)]
    device: DeviceName = ""


class SharedAsked(Document):
    """Whether several makers use this device."""

    shared: bool


class OwnPassword(Document):
    """One's new password, and the one it replaces."""

    old: Secret
    password: Secret


class OthersPassword(Document):
    """A new password for somebody who lost theirs."""

    password: Secret


class OwnPin(Document):
    """One's PIN for shared devices; empty for none."""

    pin: Annotated[SecretStr, Field(max_length=20)] | None = None
    password: Secret


class PairingMade(BaseModel):
    """A code for a phone: the address it opens, and a picture of it (SVG as data); good once, for so many seconds."""

    address: str
    picture: str
    lasts_s: float


def _settings(request: Request) -> Settings:
    settings: Settings = request.app.state.settings
    return settings


@router.get("/here")
def here(request: Request, db: Db, now: Now, who: WhoHere) -> Here:
    """Whether one signs in here, and who is signed in on this device."""
    settings = _settings(request)
    with db.session() as session:
        others = studio.others_here(session, who.session_id) if who is not None else None
        return Here(
            asked=settings.address is not None,
            owner_exists=studio.owner_exists(session),
            now=now,
            readable=settings.address is not None and settings.address.scheme != "https",
            me=None if who is None else SomebodyHere(
                id=who.maker_id, name=who.name, initials=who.initials, role=who.role, by=who.by
            ),
            others=None if others is None else [
                OtherHere(id=one.id, name=one.name, initials=one.initials, ready=one.ready) for one in others
            ],
        )  # fmt: skip


def _set_cookie(request: Request, response: Response, signed: Signed) -> None:
    address = _settings(request).address
    response.set_cookie(
        COOKIE, signed.token, max_age=int(STAYS.total_seconds()), httponly=True, samesite="strict",
        secure=address is not None and address.scheme == "https",
    )  # fmt: skip


def _tried(request: Request, name: str | None) -> tuple[tuple[tuple[RateLimitItem, ...], str], ...]:
    device = request.client.host if request.client is not None else ""
    of_device = (_PER_DEVICE, f"from {device}")
    return (of_device,) if name is None else ((_PER_NAME, f"name {name.casefold()}"), of_device)


@contextmanager
def _not_too_often(request: Request, name: str | None, *fields: str) -> Iterator[None]:
    """Count what is refused at these fields as a wrong try, at a name and from a device. Raises TooOften."""
    tried = _tried(request, name)
    if not all(_TRIES.test(kind, whose) for kinds, whose in tried for kind in kinds):
        raise TooOften(fields[0], "too many wrong tries", "the right one, a minute from now; or help at the terminal")
    try:
        yield
    except Refused as refusal:
        if refusal.field in fields:
            for kinds, whose in tried:
                for kind in kinds:
                    _TRIES.hit(kind, whose)
        raise


@router.post("/sign-in", status_code=204)
def sign_in(request: Request, response: Response, db: Db, now: Now, asked: SignInAsked) -> None:
    """Sign this device in by name and password."""
    with _not_too_often(request, asked.name, "name"), db.session() as session:
        signed = studio.sign_in(
            session, now, asked.name, asked.password.get_secret_value(), asked.device, shared=asked.shared
        )
    _set_cookie(request, response, signed)


@router.post("/sign-out", status_code=204)
def sign_out(response: Response, db: Db, now: Now, who: WhoHere) -> None:
    """Sign this device out."""
    if who is not None:
        with db.session() as session:
            studio.end(session, now, who.session_id, who)
    response.delete_cookie(COOKIE)


@router.post("/switch", status_code=204)
def switch(db: Db, now: Now, who: WhoHere, asked: SwitchAsked) -> None:
    """Hand a shared device to another maker."""
    with db.session() as session:
        refusal = studio.switch(session, now, _somebody(who).session_id, asked.maker_id, asked.pin.get_secret_value())
    if refusal is not None:
        raise Refused("pin", refusal, "that maker's PIN, or their name and password")


@router.put("/shared", status_code=204)
def let_share(db: Db, who: WhoHere, asked: SharedAsked) -> None:
    """Say whether several makers use this device."""
    with db.session() as session:
        studio.let_share(session, _somebody(who).session_id, shared=asked.shared)


def _somebody(who: Who | None) -> Who:
    """Whoever is signed in. Raises Refused where nobody signs in here."""
    if who is None:
        raise Refused("", "nobody signs in on this machine alone", "Niddy on the network, with NIDDY_ADDRESS")
    return who


@router.post("/pairing")
def pairing(request: Request, db: Db, now: Now, who: WhoHere) -> PairingMade:
    """A code that signs a phone in as the maker who is here, once, within two minutes."""
    me = _somebody(who)
    if me.by is By.PIN:
        raise Refused("", "a PIN is not enough to pair a phone", "signing in with your password first")
    with db.session() as session:
        token = studio.new_pairing(session, now, me.maker_id)
    # Behind the number sign it stays in the phone: no server and no page ever sees it as an address.
    address = f"{_settings(request).origin}/pair#{token}"
    code = segno.make(address, error="m")
    return PairingMade(
        address=address, picture=code.svg_data_uri(scale=6, border=4), lasts_s=PAIRING_LASTS.total_seconds()
    )  # fmt: skip


@router.post("/pair", status_code=204)
def pair(request: Request, response: Response, db: Db, now: Now, asked: PairAsked) -> None:
    """Sign a phone in by a code."""
    with _not_too_often(request, None, "token"), db.session() as session:
        signed = studio.pair(session, now, asked.token.get_secret_value(), asked.device)
    _set_cookie(request, response, signed)


@router.put("/me/password", status_code=204)
def own_password(request: Request, db: Db, now: Now, who: WhoHere, asked: OwnPassword) -> None:
    """Change one's own password; other devices are signed out."""
    me = _somebody(who)
    with _not_too_often(request, me.name, "old"), db.session() as session:
        studio.set_password(session, me.maker_id, asked.password.get_secret_value(), asked.old.get_secret_value())
        studio.end_others(session, now, me.maker_id, me.session_id)


@router.put("/me/pin", status_code=204)
def own_pin(request: Request, db: Db, who: WhoHere, asked: OwnPin) -> None:
    """Set one's own PIN."""
    me = _somebody(who)
    pin = asked.pin.get_secret_value() if asked.pin is not None else None
    with _not_too_often(request, me.name, "password"), db.session() as session:
        studio.set_pin(session, me.maker_id, pin, asked.password.get_secret_value())


@router.get("")
def all_makers(db: Db) -> tuple[MakerKept, ...]:
    """The makers who are here."""
    with db.session() as session:
        return studio.list_makers(session)


@router.post("", status_code=201)
def add(db: Db, now: Now, asked: NewMaker) -> tuple[MakerKept, ...]:
    """Add a maker."""
    with db.session() as session:
        studio.add(session, now, asked)
        return studio.list_makers(session)


@router.put("/{maker_id}")
def change(db: Db, maker_id: RowId, asked: MakerAsked) -> tuple[MakerKept, ...]:
    """Change a maker's name, initials and role."""
    with db.session() as session:
        studio.change(session, maker_id, asked)
        return studio.list_makers(session)


@router.delete("/{maker_id}")
def remove(db: Db, now: Now, maker_id: RowId) -> tuple[MakerKept, ...]:
    """Remove a maker."""
    with db.session() as session:
        studio.remove(session, now, maker_id)
        return studio.list_makers(session)


@router.put("/{maker_id}/password", status_code=204)
def others_password(db: Db, now: Now, maker_id: RowId, asked: OthersPassword) -> None:
    """Give a maker who lost theirs a new password."""
    with db.session() as session:
        studio.set_password(session, maker_id, asked.password.get_secret_value())
        studio.end_others(session, now, maker_id, None)


@router.get("/sessions")
def devices(db: Db, now: Now, who: WhoHere) -> tuple[Device, ...]:
    """Devices that are signed in: all of them for an owner, else one's own."""
    with db.session() as session:
        return studio.devices(session, now, who)


@router.delete("/sessions/{session_id}")
def end(db: Db, now: Now, who: WhoHere, session_id: RowId) -> tuple[Device, ...]:
    """Sign a device out."""
    with db.session() as session:
        studio.end(session, now, session_id, who)
        return studio.devices(session, now, who)


@router.get("/log/{room}/{number}")
def of_log(db: Db, room: Annotated[str, Path(max_length=20)], number: RowId) -> dict[UUID, str]:
    """Whose initials stand at each act of a log."""
    with db.session() as session:
        return studio.of_log(session, room, number)


Before = Annotated[AwareDatetime | None, Query(description="only what was done before then")]


@router.get("/doing")
def doing(
    db: Db,
    maker_id: Annotated[int | None, Query(ge=1, le=2_147_483_647)] = None,
    before: Before = None,
) -> tuple[DoneBy, ...]:
    """Who did what, the last first."""
    at: datetime | None = before
    with db.session() as session:
        return studio.done_by(session, maker_id, at)
