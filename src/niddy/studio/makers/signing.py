"""Signing in: by password, on a phone by a code, at a shared device by PIN; every device seen and ended."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from niddy.core import makers as core
from niddy.core.errors import Refused
from niddy.core.makers import PIN_TRIES, By, MakerRole, Who
from niddy.db.base import table_of
from niddy.db.makers import Credential, Maker, Pairing, SignIn
from niddy.studio.errors import Missing
from niddy.studio.makers.kept import matches, nobodys

SEEN_EVERY = timedelta(minutes=1)
WRONG = ("name", "name and password do not go together", "the two as an owner gave them to you")
"""The same for a name nobody has: no hint which of the two it is."""

_M, _C, _S = table_of(Maker), table_of(Credential), table_of(SignIn)


@dataclass(frozen=True, slots=True)
class Signed:
    """A device just signed in: what its cookie is to hold, and for whom."""

    token: str
    maker_id: int


@dataclass(frozen=True, slots=True)
class Device:
    """A device where somebody is signed in; `here` is the one that asks."""

    id: int
    maker_id: int
    maker: str
    device: str
    by: By
    shared: bool
    began_at: datetime
    seen_at: datetime
    here: bool


@dataclass(frozen=True, slots=True)
class Other:
    """Somebody a shared device can be handed to; with a PIN that is not locked, or not."""

    id: int
    name: str
    initials: str
    ready: bool


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def who(session: Session, now: datetime, token: str) -> Who | None:
    """Who is signed in by a cookie, or None: unknown, ended, too old, or of somebody who left."""
    row = session.execute(
        select(_S.c.id, _S.c.by, _S.c.began_at, _S.c.seen_at, _M.c.id.label("maker_id"), _M.c.name, _M.c.initials,
               _M.c.role)
        .join(_M, _M.c.id == _S.c.maker_id)
        .where(_S.c.token_hash == _hash(token), _S.c.ended_at.is_(None), _M.c.gone_at.is_(None))
    ).first()  # fmt: skip
    if row is None or not core.still_good(row.began_at, row.seen_at, now):
        return None
    if abs(now - row.seen_at) >= SEEN_EVERY:
        session.execute(update(_S).where(_S.c.id == row.id).values(seen_at=now))
    return Who(row.maker_id, row.name, row.initials, MakerRole(row.role), By(row.by), row.id)


def sign_in(session: Session, now: datetime, name: str, password: str, device: str, *, shared: bool) -> Signed:
    """Sign a device in. Raises Refused where name and password do not go together."""
    row = session.execute(
        select(_M.c.id, _C.c.password_hash)
        .join(_C, _C.c.maker_id == _M.c.id)
        .where(func.lower(_M.c.name) == func.lower(name), _M.c.gone_at.is_(None))
    ).first()
    if not matches(row.password_hash if row is not None else nobodys(), password) or row is None:
        raise Refused(*WRONG)
    session.execute(update(_C).where(_C.c.maker_id == row.id).values(pin_wrong=0))
    return _begin(session, now, row.id, By.PASSWORD, device, shared=shared)


def _begin(session: Session, now: datetime, maker_id: int, by: By, device: str, *, shared: bool) -> Signed:
    token = secrets.token_urlsafe(32)
    session.add(
        SignIn(
            token_hash=_hash(token), maker_id=maker_id, by=by, device=device[:80] or "a device", shared=shared,
            began_at=now, seen_at=now,
        )
    )  # fmt: skip
    session.flush()
    return Signed(token, maker_id)


def others_here(session: Session, session_id: int) -> tuple[Other, ...] | None:
    """Whom a shared device can be handed to; None where it is not shared."""
    shared, maker_id = session.execute(select(_S.c.shared, _S.c.maker_id).where(_S.c.id == session_id)).one()
    if not shared:
        return None
    rows = session.execute(
        select(_M.c.id, _M.c.name, _M.c.initials, _C.c.pin_hash, _C.c.pin_wrong)
        .join(_C, _C.c.maker_id == _M.c.id)
        .where(_M.c.gone_at.is_(None), _M.c.id != maker_id)
        .order_by(func.lower(_M.c.name))
    )
    return tuple(
        Other(row.id, row.name, row.initials, row.pin_hash is not None and row.pin_wrong < PIN_TRIES) for row in rows
    )


def let_share(session: Session, session_id: int, *, shared: bool) -> None:
    """Whether several makers use this device."""
    session.execute(update(_S).where(_S.c.id == session_id).values(shared=shared))


def switch(session: Session, now: datetime, session_id: int, maker_id: int, pin: str) -> str | None:
    """Hand a shared device to another maker by their PIN. None where it went; else why not, to be said after commit.

    A wrong PIN is counted, so what this returns must be committed either way. Raises Refused, Missing where the device
    is not shared, or that maker has no PIN.
    """
    if others_here(session, session_id) is None:
        raise Refused("maker_id", "this device is not shared", "a device marked as used by several makers")
    row = session.execute(
        select(_C.c.pin_hash, _C.c.pin_wrong)
        .join(_M, _M.c.id == _C.c.maker_id)
        .where(_C.c.maker_id == maker_id, _M.c.gone_at.is_(None))
        .with_for_update(of=_C)
    ).first()
    if row is None:
        raise Missing("maker", maker_id, "maker_id")
    if row.pin_hash is None:
        raise Refused("pin", "no PIN was set", "your name and password; a PIN is set under Makers")
    if row.pin_wrong >= PIN_TRIES:
        return "it was wrong too often and is locked"
    if not matches(row.pin_hash, pin):
        session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_wrong=row.pin_wrong + 1))
        return "not that maker's PIN"
    session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_wrong=0))
    session.execute(update(_S).where(_S.c.id == session_id).values(maker_id=maker_id, by=By.PIN, seen_at=now))
    return None


def devices(session: Session, now: datetime, of: Who | None) -> tuple[Device, ...]:
    """Devices that are signed in, the last used first: all for an owner (or where nobody signs in), else one's own."""
    rows = session.execute(
        select(_S, _M.c.name)
        .join(_M, _M.c.id == _S.c.maker_id)
        .where(
            _S.c.ended_at.is_(None),
            *([] if of is None or of.owns else [_S.c.maker_id == of.maker_id]),
        )
        .order_by(_S.c.seen_at.desc(), _S.c.id.desc())
        .limit(200)
    )
    return tuple(
        Device(row.id, row.maker_id, row.name, row.device, By(row.by), row.shared, row.began_at, row.seen_at,
               of is not None and row.id == of.session_id)
        for row in rows if core.still_good(row.began_at, row.seen_at, now)
    )  # fmt: skip


def end(session: Session, now: datetime, session_id: int, of: Who | None) -> None:
    """Sign a device out: one's own, or any for an owner. Raises Missing."""
    ended = update(_S).where(_S.c.id == session_id, _S.c.ended_at.is_(None)).values(ended_at=now)
    if of is not None and not of.owns:
        ended = ended.where(_S.c.maker_id == of.maker_id)
    if session.execute(ended.returning(_S.c.id)).first() is None:
        raise Missing("device", session_id)


def end_others(session: Session, now: datetime, maker_id: int, but: int | None) -> None:
    """Sign a maker out everywhere else, as after a new password."""
    session.execute(
        update(_S).where(_S.c.maker_id == maker_id, _S.c.ended_at.is_(None), _S.c.id != (but or 0)).values(ended_at=now)
    )


def new_pairing(session: Session, now: datetime, maker_id: int) -> str:
    """A code that signs one phone in within two minutes; earlier ones of this maker are worth nothing from now on."""
    session.execute(delete(Pairing).where(Pairing.maker_id == maker_id))
    token = secrets.token_urlsafe(24)
    session.add(Pairing(token_hash=_hash(token), maker_id=maker_id, made_at=now))
    return token


def pair(session: Session, now: datetime, token: str, device: str) -> Signed:
    """Sign a phone in by its code, once. Raises Refused."""
    fresh = "a new code, from Pair a phone on a device that is signed in"
    found = session.scalar(select(Pairing).where(Pairing.token_hash == _hash(token)).with_for_update())
    if found is None:
        raise Refused("token", "not a code of this studio, or one replaced by a newer", fresh)
    why = core.pairing_refusal(found.made_at, found.used_at, now)
    if why:
        raise Refused("token", why, fresh)
    found.used_at = now
    return _begin(session, now, found.maker_id, By.PHONE, device, shared=False)
