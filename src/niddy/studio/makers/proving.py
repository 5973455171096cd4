"""What proves a maker: passwords and PINs, hashed and checked outside any session, at most two at a time.

A check takes tens of megabytes and a good part of a core on purpose. Whoever floods the studio with wrong passwords
must not take away what the slab works with: no database session waits meanwhile, and few requests do.
"""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import datetime
from functools import cache
from threading import BoundedSemaphore
from typing import TypeVar

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from pydantic import SecretStr
from sqlalchemy import exists, select, update
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core import makers as core
from niddy.core.errors import Refused
from niddy.core.makers import PIN_TRIES, By, MakerRole
from niddy.db import Database
from niddy.db.base import table_of
from niddy.db.makers import Credential, KnownDevice, Maker, SignIn
from niddy.studio.errors import Missing
from niddy.studio.makers.kept import NewMaker, free, held
from niddy.studio.makers.signing import Signed, begin_signed, hashed_token, others_here

HASHER = PasswordHasher(parallelism=1)
"""Argon2id, with the memory and time its library recommends, on one core each: the others are for the work."""

AT_ONCE, IN_LINE, PATIENCE_S = 2, 4, 5.0
"""So many hash at once, so many more wait for them, and so long at most; whoever else comes is told to wait."""

_HASHING, _LINE = BoundedSemaphore(AT_ONCE), BoundedSemaphore(AT_ONCE + IN_LINE)

WRONG = ("name", "name and password do not go together", "the two as an owner gave them to you")
"""The same for a name nobody has: no hint which of the two it is."""

_M, _C, _S, _D = table_of(Maker), table_of(Credential), table_of(SignIn), table_of(KnownDevice)


class Busy(Exception):
    """Too many sign in at this moment."""


R = TypeVar("R")


@contextmanager
def _turn() -> Iterator[None]:
    if not _LINE.acquire(blocking=False):
        raise Busy
    try:
        if not _HASHING.acquire(timeout=PATIENCE_S):
            raise Busy
        try:
            yield
        finally:
            _HASHING.release()
    finally:
        _LINE.release()


def hashed(secret: str) -> str:
    """What is kept of a secret. Raises Busy."""
    with _turn():
        return HASHER.hash(secret)


def matches(kept: str, given: str) -> bool:
    """Whether what was given is what was hashed. Raises Busy."""
    with _turn():
        try:
            return HASHER.verify(kept, given)
        except (VerificationError, InvalidHashError):
            return False


@cache
def _nobodys() -> str:
    """Held against a name nobody has, so that it takes as long."""
    return HASHER.hash(secrets.token_urlsafe(16))


def _found(session: Session, name: str) -> tuple[int, str] | None:
    row = session.execute(
        select(_M.c.id, _C.c.password_hash)
        .join(_C, _C.c.maker_id == _M.c.id)
        .where(_M.c.name_key == core.name_key(name), _M.c.gone_at.is_(None))
    ).first()
    return None if row is None else (row.id, row.password_hash)


def _unchanged(session: Session, maker_id: int, password_hash: str) -> bool:
    kept = session.scalar(select(_C.c.password_hash).where(_C.c.maker_id == maker_id).with_for_update())
    return kept == password_hash


def _proved(db: Database, maker_id: int, password: str, field: str, then: Callable[[Session], R]) -> R:
    """Do something once a maker's password was given: checked outside the session, and still theirs inside it."""
    with db.session() as session:
        kept = session.scalar(select(_C.c.password_hash).where(_C.c.maker_id == maker_id))
    if kept is not None and matches(kept, password):
        with db.session() as session:
            if _unchanged(session, maker_id, kept):
                return then(session)
    raise Refused(field, "not your password", "the password you sign in with now")


def add(db: Database, now: datetime, asked: NewMaker) -> int:
    """Add a maker; their id. Raises Refused for a name that is taken or a password too easy, Busy."""
    with db.session() as session:
        free(session, asked.name, None)
    kept = hashed(core.password(asked.password.get_secret_value(), asked.name))
    with db.session() as session:
        free(session, asked.name, None)
        maker = Maker(
            name=asked.name,
            name_key=core.name_key(asked.name),
            initials=asked.initials or core.initials_of(asked.name),
            role=asked.role,
            added_at=now,
        )
        session.add(maker)
        session.flush()
        session.add(Credential(maker_id=maker.id, password_hash=kept))
        session.flush()
        return maker.id


def sign_in(
    db: Database, now: datetime, name: str, password: str, device: str, *, shared: bool, device_token: str = ""
) -> Signed:
    """Sign a device in. Raises Refused where name and password do not go together, Busy."""
    with db.session() as session:
        found = _found(session, name)
    if not matches(found[1] if found else _nobodys(), password) or found is None:
        raise Refused(*WRONG)
    maker_id, kept = found
    with db.session() as session:
        if not _unchanged(session, maker_id, kept):
            raise Refused(*WRONG)
        session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_wrong=0))
        signed = begin_signed(session, now, maker_id, By.PASSWORD, device, shared=shared)
        known = device_token or secrets.token_urlsafe(32)
        session.execute(
            insert_once(_D)
            .values(token_hash=hashed_token(known), maker_id=maker_id, seen_at=now)
            .on_conflict_do_update(index_elements=["token_hash", "maker_id"], set_={"seen_at": now})
        )
        return Signed(signed.token, maker_id, known)


def knows(session: Session, device_token: str, name: str) -> bool:
    """Whether the maker of that name signed in on this device before."""
    if not device_token:
        return False
    before = exists().where(
        _D.c.token_hash == hashed_token(device_token),
        _D.c.maker_id == _M.c.id,
        _M.c.gone_at.is_(None),
        _M.c.name_key == core.name_key(name),
    )
    return bool(session.scalar(select(before)))


def prove(db: Database, now: datetime, session_id: int, maker_id: int, password: str) -> None:
    """The password given again on a device where somebody came in by PIN. Raises Refused, Busy."""

    def then(session: Session) -> None:
        session.execute(
            update(_S).where(_S.c.id == session_id, _S.c.maker_id == maker_id).values(proved_at=now, seen_at=now)
        )

    _proved(db, maker_id, password, "password", then)


def set_password(
    db: Database, now: datetime, maker_id: int, new: str, *, old: str | None = None, stays: int | None = None
) -> None:
    """A new password; `old` is asked of whoever changes their own. All their devices but `stays` are signed out.

    Raises Refused, Missing, Busy.
    """
    with db.session() as session:
        name = held(session, maker_id).name
    kept = hashed(core.password(new, name))

    def then(session: Session) -> None:
        held(session, maker_id)
        session.execute(
            insert_once(_C)
            .values(maker_id=maker_id, password_hash=kept)
            .on_conflict_do_update(index_elements=["maker_id"], set_={"password_hash": kept, "pin_wrong": 0})
        )
        _end(session, now, maker_id, stays)

    if old is not None:
        _proved(db, maker_id, old, "old", then)
    else:
        with db.session() as session:
            then(session)


def _end(session: Session, now: datetime, maker_id: int, but: int | None) -> None:
    """Sign a maker out everywhere, or everywhere else."""
    session.execute(
        update(_S).where(_S.c.maker_id == maker_id, _S.c.ended_at.is_(None), _S.c.id != (but or 0)).values(ended_at=now)
    )


def set_pin(db: Database, maker_id: int, pin: str | None, password: str) -> None:
    """A PIN for a shared device, or none. Raises Refused where the password is not theirs, Busy."""
    kept = hashed(core.pin(pin)) if pin else None

    def then(session: Session) -> None:
        session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_hash=kept, pin_wrong=0))

    _proved(db, maker_id, password, "password", then)


def switch(db: Database, now: datetime, session_id: int, maker_id: int, pin: str) -> str | None:
    """Hand a shared device to another maker by their PIN. None where it went; else why not.

    Raises Refused, Missing where the device is not shared, or that maker has no PIN; Busy.
    """
    with db.session() as session:
        kept = _try_at_pin(session, session_id, maker_id)
    if kept is None:
        return "it was wrong too often and is locked"
    if not matches(kept, pin):
        return "not that maker's PIN"
    with db.session() as session:
        session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_wrong=0))
        session.execute(
            update(_S).where(_S.c.id == session_id).values(maker_id=maker_id, by=By.PIN, seen_at=now, proved_at=None)
        )
    return None


def _try_at_pin(session: Session, session_id: int, maker_id: int) -> str | None:
    """What a PIN is held against; None where it is locked. Each try counts as wrong until it turns out right."""
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
        return None
    session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_wrong=row.pin_wrong + 1))
    return str(row.pin_hash)


def make_owner(db: Database, now: datetime, name: str, password: str) -> bool:
    """At the terminal: a new owner, or an owner's new password for one who is here; whether they were added.

    Who lost a password may have lost a device: all of theirs are signed out.
    """
    with db.session() as session:
        maker_id = session.scalar(select(_M.c.id).where(_M.c.name_key == core.name_key(name), _M.c.gone_at.is_(None)))
    if maker_id is None:
        add(db, now, NewMaker(name=name, role=MakerRole.OWNER, password=SecretStr(password)))
        return True
    set_password(db, now, maker_id, password)
    with db.session() as session:
        held(session, maker_id).role = MakerRole.OWNER
    return False
