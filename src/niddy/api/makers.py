"""Makers: sign in and out, switch at a shared device, pair a phone; who is here, on which devices, who did what."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from typing import Annotated
from uuid import UUID

import segno
from fastapi import Path, Query, Request, Response
from pydantic import AwareDatetime, BaseModel, Field, SecretStr

from niddy.api import policy
from niddy.api.context import Db, Now, RowId, WhoHere
from niddy.api.guard import COOKIE
from niddy.api.problems import REFUSALS, TooOften
from niddy.api.router import Router
from niddy.api.tries import From, Tries
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.makers import LONGEST_PIN, PAIRING_LASTS, STAYS, By, MakerRole, Who
from niddy.core.words import Words
from niddy.db import Database
from niddy.settings import Settings
from niddy.studio import makers as studio
from niddy.studio.makers import Device, DoneBy, MakerAsked, MakerKept, NewMaker, Signed

router = Router(prefix="/api/makers", tags=["makers"], responses=REFUSALS)

TRIES = Tries()
DEVICE_COOKIE = "niddy_device"
"""What a device is known by once somebody signed in on it; it lets nobody in."""

KNOWN_FOR = timedelta(days=400)

Secret = Annotated[SecretStr, Field(max_length=200)]
DeviceName = Annotated[Words, Field(max_length=80)]


class SomebodyHere(BaseModel):
    """Who is signed in on this device, how they came in, and whether an owner's things are open to them now."""

    id: int
    name: str
    initials: str
    role: MakerRole
    by: By
    owns: bool


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


class Proof(Document):
    """One's password, given again."""

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
@policy.anybody()
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
            me=None
            if who is None
            else SomebodyHere(
                id=who.maker_id, name=who.name, initials=who.initials, role=who.role, by=who.by, owns=who.owns
            ),
            others=None
            if others is None
            else [OtherHere(id=one.id, name=one.name, initials=one.initials, ready=one.ready) for one in others],
        )


def _set_cookies(request: Request, response: Response, signed: Signed) -> None:
    _set_cookie(request, response, COOKIE, signed.token, STAYS)
    if signed.device_token:
        _set_cookie(request, response, DEVICE_COOKIE, signed.device_token, KNOWN_FOR)


def _set_cookie(request: Request, response: Response, name: str, value: str, stays: timedelta) -> None:
    address = _settings(request).address
    response.set_cookie(
        name,
        value,
        max_age=int(stays.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=address is not None and address.scheme == "https",
    )


def _from(request: Request, db: Database | None = None, name: str = "") -> From:
    """Where a try comes from; a device only where it is known for the maker it names."""
    address = request.client.host if request.client is not None else ""
    device = request.cookies.get(DEVICE_COOKIE, "")[:100]
    if db is None or not device:
        return From(address)
    with db.session() as session:
        return From(address, device if studio.knows(session, device, name) else "")


@contextmanager
def _counted(request: Request, db: Database, name: str, *fields: str) -> Iterator[None]:
    """Count a try at a maker's password. Raises TooOften."""
    with TRIES.counted(_from(request, db, name), name, *fields), _in_turn(fields[0]):
        yield


@contextmanager
def _in_turn(field: str) -> Iterator[None]:
    try:
        yield
    except studio.Busy:
        raise TooOften(field, "many are signing in just now", "the same again in a moment", 2) from None


@router.post("/sign-in", status_code=204)
@policy.anybody(few=True)
def sign_in(request: Request, response: Response, db: Db, now: Now, asked: SignInAsked) -> None:
    """Sign this device in by name and password."""
    with _counted(request, db, asked.name, "name"):
        signed = studio.sign_in(
            db,
            now,
            asked.name,
            asked.password.get_secret_value(),
            asked.device,
            shared=asked.shared,
            device_token=request.cookies.get(DEVICE_COOKIE, "")[:100],
        )
    _set_cookies(request, response, signed)


@router.post("/sign-out", status_code=204)
@policy.looks()
def sign_out(response: Response, db: Db, now: Now, who: WhoHere) -> None:
    """Sign this device out."""
    if who is not None:
        with db.session() as session:
            studio.end(session, now, who.session_id, who)
    response.delete_cookie(COOKIE)


@router.post("/switch", status_code=204)
@policy.looks(few=True)
def switch(db: Db, now: Now, who: WhoHere, asked: SwitchAsked) -> None:
    """Hand a shared device to another maker."""
    with _in_turn("pin"):
        refusal = studio.switch(db, now, _somebody(who).session_id, asked.maker_id, asked.pin.get_secret_value())
    if refusal is not None:
        raise Refused("pin", refusal, "that maker's PIN, or their name and password")


@router.put("/shared", status_code=204)
@policy.looks()
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
@policy.looks()
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
    )


@router.post("/pair", status_code=204)
@policy.anybody(few=True)
def pair(request: Request, response: Response, db: Db, now: Now, asked: PairAsked) -> None:
    """Sign a phone in by a code."""
    with TRIES.counted(_from(request), None, "token"), db.session() as session:
        signed = studio.pair(session, now, asked.token.get_secret_value(), asked.device)
    _set_cookies(request, response, signed)


@router.put("/me/password", status_code=204)
@policy.looks("Changed their own password", few=True)
def own_password(request: Request, db: Db, now: Now, who: WhoHere, asked: OwnPassword) -> None:
    """Change one's own password; other devices are signed out."""
    me = _somebody(who)
    with _counted(request, db, me.name, "old"):
        studio.set_password(
            db,
            now,
            me.maker_id,
            asked.password.get_secret_value(),
            old=asked.old.get_secret_value(),
            stays=me.session_id,
        )


@router.put("/me/pin", status_code=204)
@policy.looks("Changed their own PIN", few=True)
def own_pin(request: Request, db: Db, who: WhoHere, asked: OwnPin) -> None:
    """Set one's own PIN."""
    me = _somebody(who)
    pin = asked.pin.get_secret_value() if asked.pin is not None else None
    with _counted(request, db, me.name, "password"):
        studio.set_pin(db, me.maker_id, pin, asked.password.get_secret_value())


@router.post("/me/proof", status_code=204)
@policy.looks(few=True)
def prove(request: Request, db: Db, now: Now, who: WhoHere, asked: Proof) -> None:
    """Give one's password beside the PIN: an owner is one for ten minutes."""
    me = _somebody(who)
    with _counted(request, db, me.name, "password"):
        studio.prove(db, now, me.session_id, me.maker_id, asked.password.get_secret_value())


@router.get("")
def all_makers(db: Db) -> tuple[MakerKept, ...]:
    """The makers who are here."""
    with db.session() as session:
        return studio.list_makers(session)


@router.post("", status_code=201)
@policy.owns("Added a maker")
def add(db: Db, now: Now, asked: NewMaker) -> tuple[MakerKept, ...]:
    """Add a maker."""
    with _in_turn("password"):
        studio.add(db, now, asked)
    with db.session() as session:
        return studio.list_makers(session)


@router.put("/{maker_id}")
@policy.owns("Changed a maker")
def change(db: Db, maker_id: RowId, asked: MakerAsked) -> tuple[MakerKept, ...]:
    """Change a maker's name, initials and role."""
    with db.session() as session:
        studio.change(session, maker_id, asked)
        return studio.list_makers(session)


@router.delete("/{maker_id}")
@policy.owns("Removed a maker")
def remove(db: Db, now: Now, maker_id: RowId) -> tuple[MakerKept, ...]:
    """Remove a maker."""
    with db.session() as session:
        studio.remove(session, now, maker_id)
        return studio.list_makers(session)


@router.put("/{maker_id}/password", status_code=204)
@policy.owns("Gave a maker a new password")
def others_password(db: Db, now: Now, maker_id: RowId, asked: OthersPassword) -> None:
    """Give a maker who lost theirs a new password."""
    with _in_turn("password"):
        studio.set_password(db, now, maker_id, asked.password.get_secret_value())


@router.get("/sessions")
def devices(db: Db, now: Now, who: WhoHere) -> tuple[Device, ...]:
    """Devices that are signed in: all of them for an owner, else one's own."""
    with db.session() as session:
        return studio.devices(session, now, who)


@router.delete("/sessions/{session_id}")
@policy.looks("Signed a device out")
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
    db: Db, maker_id: Annotated[int | None, Query(ge=1, le=2_147_483_647)] = None, before: Before = None
) -> tuple[DoneBy, ...]:
    """Who did what, the last first."""
    at: datetime | None = before
    with db.session() as session:
        return studio.done_by(session, maker_id, at)
