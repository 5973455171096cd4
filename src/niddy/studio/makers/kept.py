"""Makers as they are kept: who they are, changed, removed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from pydantic import Field, SecretStr
from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from niddy.core import makers as core
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.makers import MakerRole
from niddy.core.words import Words
from niddy.db.base import table_of
from niddy.db.makers import Credential, Maker, Pairing, SignIn
from niddy.studio.errors import Missing

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


def change(session: Session, maker_id: int, asked: MakerAsked) -> None:
    """Change a maker's name, initials and role. Raises Missing, Refused (the last owner stays one)."""
    maker = held(session, maker_id)
    free(session, asked.name, maker_id)
    if maker.role == MakerRole.OWNER and asked.role is not MakerRole.OWNER:
        _not_the_last_owner(session, maker_id, "role")
    maker.name, maker.name_key, maker.role = asked.name, core.name_key(asked.name), asked.role
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


def held(session: Session, maker_id: int) -> Maker:
    """A maker who is here, held until the transaction ends. Raises Missing."""
    found = session.scalar(select(Maker).where(Maker.id == maker_id, Maker.gone_at.is_(None)).with_for_update())
    if found is None:
        raise Missing("maker", maker_id)
    return found


def free(session: Session, name: str, but: int | None) -> None:
    """Hold that a name is nobody's, nor looks like anybody's. Raises Refused."""
    key = core.name_key(name)
    if not key:
        raise Refused("name", "nothing of it can be seen", "a name that can be read")
    taken = session.scalar(
        select(Maker.name).where(Maker.name_key == key, Maker.gone_at.is_(None), Maker.id != (but or 0))
    )
    if taken is not None:
        same = taken.casefold() == name.casefold()
        problem = "somebody here has this name" if same else f"it looks like {taken}, who is here"
        raise Refused("name", problem, "another name, or one with a letter more")


def _not_the_last_owner(session: Session, maker_id: int, field: str) -> None:
    owners = session.scalars(
        select(Maker.id)
        .where(Maker.role == MakerRole.OWNER, Maker.gone_at.is_(None))
        .order_by(Maker.id)
        .with_for_update()
    ).all()
    if set(owners) <= {maker_id}:
        raise Refused(field, "the last owner", "another owner first")
