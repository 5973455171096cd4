"""Devices where makers are signed in: known by their cookies, paired by a code, shared, seen and ended."""

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

SEEN_EVERY = timedelta(minutes=1)
_M, _C, _S = table_of(Maker), table_of(Credential), table_of(SignIn)


@dataclass(frozen=True, slots=True)
class Signed:
    """A device just signed in: what its cookies are to hold, and for whom.

    `device_token` is what it is known by afterwards; empty where it came in without a password.
    """

    token: str
    maker_id: int
    device_token: str = ""


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


def hashed_token(token: str) -> str:
    """What is kept of what a cookie or a code holds."""
    return hashlib.sha256(token.encode()).hexdigest()


def who(session: Session, now: datetime, token: str) -> Who | None:
    """Who is signed in by a cookie, or None: unknown, ended, too old, or of somebody who left."""
    row = session.execute(
        select(
            _S.c.id,
            _S.c.by,
            _S.c.began_at,
            _S.c.seen_at,
            _S.c.proved_at,
            _M.c.id.label("maker_id"),
            _M.c.name,
            _M.c.initials,
            _M.c.role,
        )
        .join(_M, _M.c.id == _S.c.maker_id)
        .where(_S.c.token_hash == hashed_token(token), _S.c.ended_at.is_(None), _M.c.gone_at.is_(None))
    ).first()
    if row is None or not core.still_good(row.began_at, row.seen_at, now):
        return None
    if abs(now - row.seen_at) >= SEEN_EVERY:
        session.execute(update(_S).where(_S.c.id == row.id).values(seen_at=now))
    proved = row.proved_at is not None and abs(now - row.proved_at) <= core.PROVED_LASTS
    return Who(row.maker_id, row.name, row.initials, MakerRole(row.role), By(row.by), row.id, proved)


def begin_signed(session: Session, now: datetime, maker_id: int, by: By, device: str, *, shared: bool) -> Signed:
    """A device where somebody is signed in from now on."""
    token = secrets.token_urlsafe(32)
    session.add(
        SignIn(
            token_hash=hashed_token(token),
            maker_id=maker_id,
            by=by,
            device=device[:80] or "a device",
            shared=shared,
            began_at=now,
            seen_at=now,
        )
    )
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


def devices(session: Session, now: datetime, of: Who | None) -> tuple[Device, ...]:
    """Devices that are signed in, the last used first: all for an owner (or where nobody signs in), else one's own."""
    rows = session.execute(
        select(_S, _M.c.name)
        .join(_M, _M.c.id == _S.c.maker_id)
        .where(_S.c.ended_at.is_(None), *([] if of is None or of.owns else [_S.c.maker_id == of.maker_id]))
        .order_by(_S.c.seen_at.desc(), _S.c.id.desc())
        .limit(200)
    )
    return tuple(
        Device(
            row.id,
            row.maker_id,
            row.name,
            row.device,
            By(row.by),
            row.shared,
            row.began_at,
            row.seen_at,
            of is not None and row.id == of.session_id,
        )
        for row in rows
        if core.still_good(row.began_at, row.seen_at, now)
    )


def end(session: Session, now: datetime, session_id: int, of: Who | None) -> None:
    """Sign a device out: one's own, or any for an owner. Raises Missing."""
    ended = update(_S).where(_S.c.id == session_id, _S.c.ended_at.is_(None)).values(ended_at=now)
    if of is not None and not of.owns:
        ended = ended.where(_S.c.maker_id == of.maker_id)
    if session.execute(ended.returning(_S.c.id)).first() is None:
        raise Missing("device", session_id)


def new_pairing(session: Session, now: datetime, maker_id: int) -> str:
    """A code that signs one phone in within two minutes; earlier ones of this maker are worth nothing from now on."""
    session.execute(delete(Pairing).where(Pairing.maker_id == maker_id))
    token = secrets.token_urlsafe(24)
    session.add(Pairing(token_hash=hashed_token(token), maker_id=maker_id, made_at=now))
    return token


def pair(session: Session, now: datetime, token: str, device: str) -> Signed:
    """Sign a phone in by its code, once. Raises Refused."""
    fresh = "a new code, from Pair a phone on a device that is signed in"
    found = session.scalar(select(Pairing).where(Pairing.token_hash == hashed_token(token)).with_for_update())
    if found is None:
        raise Refused("token", "not a code of this studio, or one replaced by a newer", fresh)
    why = core.pairing_refusal(found.made_at, found.used_at, now)
    if why:
        raise Refused("token", why, fresh)
    found.used_at = now
    return begin_signed(session, now, found.maker_id, By.PHONE, device, shared=False)
