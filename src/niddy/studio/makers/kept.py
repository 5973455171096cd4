"""Makers as they are kept: added, changed, removed, and what proves them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cache
from secrets import token_urlsafe
from typing import Annotated

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from pydantic import Field, SecretStr
from sqlalchemy import delete, func, select, update
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core import makers as core
from niddy.core.errors import Refused
from niddy.core.makers import MakerRole
from niddy.db.base import table_of
from niddy.db.makers import Credential, Maker, Pairing, SignIn
from niddy.studio.documents import Document
from niddy.studio.errors import Missing
from niddy.studio.words import Words

HASHER = PasswordHasher()
"""Argon2id, with the memory and time its library recommends."""

Name = Annotated[Words, Field(min_length=1, max_length=60)]
Initials = Annotated[Words, Field(max_length=4, description="empty: taken from the name")]
Secret = Annotated[SecretStr, Field(max_length=core.LONGEST_PASSWORD)]


class MakerAsked(Document):
    """A maker: name, initials for acts and labels, role."""

    name: Name
    initials: Initials = ""
    role: MakerRole = MakerRole.MAKER


class NewMaker(MakerAsked):
    """A maker to be added, with a first password that they change themselves."""

    password: Secret


@dataclass(frozen=True, slots=True)
class MakerKept:
    """A maker of the studio, whether they have a PIN, and when they were last here."""

    id: int
    name: str
    initials: str
    role: MakerRole
    has_pin: bool
    seen_at: datetime | None


_M, _C, _S = table_of(Maker), table_of(Credential), table_of(SignIn)


def list_makers(session: Session) -> tuple[MakerKept, ...]:
    """The makers who are here, by name."""
    seen = select(func.max(_S.c.seen_at)).where(_S.c.maker_id == _M.c.id).scalar_subquery()
    rows = session.execute(
        select(_M.c.id, _M.c.name, _M.c.initials, _M.c.role, _C.c.pin_hash.is_not(None), seen)
        .outerjoin(_C, _C.c.maker_id == _M.c.id)
        .where(_M.c.gone_at.is_(None))
        .order_by(func.lower(_M.c.name))
    )
    return tuple(MakerKept(row[0], row[1], row[2], MakerRole(row[3]), bool(row[4]), row[5]) for row in rows)


def owner_exists(session: Session) -> bool:
    """Whether somebody who is here can sign in as an owner."""
    found = select(_M.c.id).join(_C, _C.c.maker_id == _M.c.id)
    return session.scalar(found.where(_M.c.role == MakerRole.OWNER, _M.c.gone_at.is_(None)).limit(1)) is not None


def add(session: Session, now: datetime, asked: NewMaker) -> int:
    """Add a maker; their id. Raises Refused for a name that is taken or a password too easy."""
    _free(session, asked.name, None)
    hashed = HASHER.hash(core.password(asked.password.get_secret_value(), asked.name))
    maker = Maker(
        name=asked.name, initials=asked.initials or core.initials_of(asked.name), role=asked.role, added_at=now
    )
    session.add(maker)
    session.flush()
    session.add(Credential(maker_id=maker.id, password_hash=hashed))
    session.flush()
    return maker.id


def change(session: Session, maker_id: int, asked: MakerAsked) -> None:
    """Change a maker's name, initials and role. Raises Missing, Refused (the last owner stays one)."""
    maker = held(session, maker_id)
    _free(session, asked.name, maker_id)
    if maker.role == MakerRole.OWNER and asked.role is not MakerRole.OWNER:
        _not_the_last_owner(session, maker_id, "role")
    maker.name, maker.role = asked.name, asked.role
    maker.initials = asked.initials or core.initials_of(asked.name)


def remove(session: Session, now: datetime, maker_id: int) -> None:
    """A maker leaves: every device of theirs is signed out; what they made keeps their initials."""
    maker = held(session, maker_id)
    if maker.role == MakerRole.OWNER:
        _not_the_last_owner(session, maker_id, "path")
    maker.gone_at = now
    session.execute(update(_S).where(_S.c.maker_id == maker_id, _S.c.ended_at.is_(None)).values(ended_at=now))
    session.execute(delete(_C).where(_C.c.maker_id == maker_id))
    session.execute(delete(Pairing).where(Pairing.maker_id == maker_id))


def set_password(session: Session, maker_id: int, new: str, old: str | None = None) -> None:
    """A new password; `old` is asked of whoever changes their own. Raises Refused, Missing."""
    maker = held(session, maker_id)
    if old is not None and not proves(session, maker_id, old):
        raise Refused("old", "not your password", "the password you sign in with now")
    hashed = HASHER.hash(core.password(new, maker.name))
    session.execute(
        insert_once(_C)
        .values(maker_id=maker_id, password_hash=hashed)
        .on_conflict_do_update(index_elements=["maker_id"], set_={"password_hash": hashed, "pin_wrong": 0})
    )


def set_pin(session: Session, maker_id: int, pin: str | None, password: str) -> None:
    """A PIN for a shared device, or none. Raises Refused where the password is not theirs."""
    if not proves(session, maker_id, password):
        raise Refused("password", "not your password", "the password you sign in with")
    hashed = HASHER.hash(core.pin(pin)) if pin else None
    session.execute(update(_C).where(_C.c.maker_id == maker_id).values(pin_hash=hashed, pin_wrong=0))


def proves(session: Session, maker_id: int, password: str) -> bool:
    """Whether a password is a maker's."""
    hashed = session.scalar(select(_C.c.password_hash).where(_C.c.maker_id == maker_id))
    return hashed is not None and matches(hashed, password)


def matches(hashed: str, given: str) -> bool:
    """Whether what was given is what was hashed."""
    try:
        return HASHER.verify(hashed, given)
    except (VerificationError, InvalidHashError):
        return False


@cache
def nobodys() -> str:
    """Held against a name nobody has, so that it takes as long."""
    return HASHER.hash(token_urlsafe(16))


def make_owner(session: Session, now: datetime, name: str, password: str) -> bool:
    """At the terminal: a new owner, or an owner's new password for one who is here; whether they were added."""
    found = session.scalar(
        select(Maker).where(func.lower(Maker.name) == name.casefold(), Maker.gone_at.is_(None)).with_for_update()
    )
    if found is None:
        add(session, now, NewMaker(name=name, role=MakerRole.OWNER, password=SecretStr(password)))
        return True
    set_password(session, found.id, password)
    found.role = MakerRole.OWNER
    # Who lost a password may have lost a device.
    session.execute(update(_S).where(_S.c.maker_id == found.id, _S.c.ended_at.is_(None)).values(ended_at=now))
    return False


def held(session: Session, maker_id: int) -> Maker:
    """A maker who is here, held until the transaction ends. Raises Missing."""
    found = session.scalar(select(Maker).where(Maker.id == maker_id, Maker.gone_at.is_(None)).with_for_update())
    if found is None:
        raise Missing("maker", maker_id)
    return found


def _free(session: Session, name: str, but: int | None) -> None:
    taken = session.scalar(
        select(Maker.id).where(
            func.lower(Maker.name) == func.lower(name), Maker.gone_at.is_(None), Maker.id != (but or 0)
        )
    )
    if taken is not None:
        raise Refused("name", "somebody here has this name", "another name, or one with a letter more")


def _not_the_last_owner(session: Session, maker_id: int, field: str) -> None:
    owners = session.scalars(
        select(Maker.id)
        .where(Maker.role == MakerRole.OWNER, Maker.gone_at.is_(None))
        .order_by(Maker.id)
        .with_for_update()
    ).all()
    if set(owners) <= {maker_id}:
        raise Refused(field, "the last owner", "another owner first")
