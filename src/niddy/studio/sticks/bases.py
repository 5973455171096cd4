"""Bases: waxes and resins by share, in versions; what each comes to, what it taught, what was cast of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Annotated

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.documents import Document, Key
from niddy.core.errors import Refused
from niddy.core.materials import BOUGHT, Wax
from niddy.core.sticks import BaseMix, Offset
from niddy.core.words import Words
from niddy.db.sticks import StickBase, StickBaseVersion, StickReading
from niddy.studio import materials
from niddy.studio.errors import Missing

MOST_PARTS = 12
MOST_BESIDE = 6
Share = Annotated[float, Field(strict=True, ge=0, le=1_000)]


class BasePartAsked(Document):
    """One wax or resin of a base and its share, in any measure of weight."""

    wax_key: Key
    share: Share


class VersionAsked(Document):
    """A version of a base: its parts, and why it differs from the one before."""

    parts: Annotated[list[BasePartAsked], Field(min_length=1, max_length=MOST_PARTS)]
    why: Annotated[Words, Field(max_length=300)] = ""


class BaseAsked(VersionAsked):
    """A new base."""

    name: Annotated[Words, Field(max_length=80)]
    note: Annotated[Words, Field(max_length=500)] = ""


def checked(session: Session, asked: VersionAsked) -> list[tuple[Wax, float]]:
    """The waxes and shares asked for. Raises Refused."""
    found: list[tuple[Wax, float]] = []
    for n, part in enumerate(asked.parts):
        wax = materials.wax_of(session, part.wax_key)
        if wax is None:
            raise Refused(
                f"parts.{n}.wax_key",
                f"'{part.wax_key}' is not a wax or resin",
                "one of the library, or one of your own",
            )
        if any(wax.key == other.key for other, _ in found):
            raise Refused(f"parts.{n}.wax_key", f"{wax.name} stands in it already", "each wax once")
        found.append((wax, part.share))
    if sum(share for _, share in found) <= 0:
        raise Refused("parts", "its shares sum to nothing", "shares above 0, such as 60 and 40")
    mix_of(found)
    return found


def mix_of(parts: Sequence[tuple[Wax, float]]) -> BaseMix:
    """Waxes and their shares as the calculations need them. Raises Refused."""
    return core.base_of(
        [core.Part(share, wax.density_g_per_ml, wax.penetration_dmm, wax.melting_c) for wax, share in parts]
    )


def add(session: Session, now: datetime, asked: BaseAsked) -> int:
    """Keep a new base; its id. Raises Refused naming the field."""
    checked(session, asked)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    base = StickBase(name=asked.name.strip(), note=asked.note.strip(), added_at=now)
    try:
        with session.begin_nested():
            session.add(base)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{asked.name.strip()}' is kept already", "a name of its own") from None
    _keep(session, now, base.id, 1, asked)
    return base.id


class BoughtAsked(Document):
    """A base that was bought ready-made: its name is enough."""

    name: Annotated[Words, Field(max_length=80)]


BOUGHT_NOTE = "Bought ready-made; nobody here knows what is in it. The first drops show how hard it sets."
_BOUGHT = {"density_g_per_ml": 0.94, "melting_low_c": 55.0, "melting_high_c": 72.0, "penetration_dmm": 25.0}
"""What most bases sold are near to, until drops say better (assumed)."""


def add_bought(session: Session, now: datetime, asked: BoughtAsked) -> int:
    """Keep a base somebody else made; its id. Raises Refused naming the field."""
    own = materials.OwnWax.model_validate({"name": asked.name.strip() or " ", **_BOUGHT})
    key = materials.add_own(session, now, "wax", replace(own.wax(), kind=BOUGHT))
    part = BasePartAsked(wax_key=key, share=100.0)
    return add(session, now, BaseAsked(name=asked.name, note=BOUGHT_NOTE, parts=[part]))


def add_version(session: Session, now: datetime, base_id: int, asked: VersionAsked) -> int:
    """Keep a further version of a base; its number. Raises Refused, Missing."""
    base = session.get(StickBase, base_id, with_for_update=True)
    if base is None:
        raise Missing("base", base_id)
    checked(session, asked)
    if not asked.why.strip():
        raise Refused("why", "empty", "a few words why this version differs")
    last = version_row(session, base_id, None)
    if _shares(last.parts) == _shares([part.model_dump() for part in asked.parts]):
        raise Refused("parts", f"the same as version {last.version}", "another share, or another wax")
    _keep(session, now, base_id, last.version + 1, asked)
    return last.version + 1


def _shares(parts: list[dict[str, object]]) -> dict[str, float]:
    whole = sum(float(str(part["share"])) for part in parts)
    return {str(part["wax_key"]): round(float(str(part["share"])) / whole, 6) for part in parts}


def _keep(session: Session, now: datetime, base_id: int, version: int, asked: VersionAsked) -> None:
    parts = [part.model_dump() for part in asked.parts if part.share > 0]
    session.add(StickBaseVersion(base_id=base_id, version=version, parts=parts, why=asked.why.strip(), made_at=now))
    session.flush()


def version_row(session: Session, base_id: int, version: int | None) -> StickBaseVersion:
    """The row of a version of a base, the latest where none is named. Raises Missing."""
    wanted = select(StickBaseVersion).where(StickBaseVersion.base_id == base_id)
    if version is not None:
        wanted = wanted.where(StickBaseVersion.version == version)
    row = session.scalar(wanted.order_by(StickBaseVersion.version.desc()).limit(1))
    if row is None:
        raise Missing("base" if version is None else f"version {version} of base", base_id)
    return row


@dataclass(frozen=True, slots=True)
class BaseKnown:
    """A version of a base as plans use it."""

    base_id: int
    version_id: int
    version: int
    name: str
    waxes: tuple[tuple[Wax, float], ...]
    mix: BaseMix
    offset: Offset


def known(session: Session, base_id: int, version: int | None = None) -> BaseKnown:
    """A base by its id, its latest version where none is named. Raises Missing."""
    base = session.get(StickBase, base_id)
    if base is None:
        raise Missing("base", base_id, "base_id")
    return known_of(session, base, version_row(session, base_id, version))


def known_of(session: Session, base: StickBase, row: StickBaseVersion) -> BaseKnown:
    """A version of a base by its rows, with what its readings taught."""
    waxes = []
    for part in row.parts:
        wax = materials.wax_of(session, part["wax_key"])
        if wax is None:
            raise Missing("wax", part["wax_key"])
        waxes.append((wax, float(part["share"])))
    before_sd = core.BOUGHT_SD if any(wax.kind == BOUGHT for wax, _ in waxes) else core.OFFSET_SD
    taught = core.learn_offset(reads(session, row.id), before_sd)
    return BaseKnown(base.id, row.id, row.version, base.name, tuple(waxes), mix_of(waxes), taught)


def reads(session: Session, version_id: int) -> list[core.DentRead]:
    """What was read of sticks of a version, in order."""
    rows = session.execute(
        select(StickReading.ln_ratio, StickReading.by)
        .where(StickReading.base_version_id == version_id)
        .order_by(StickReading.at, StickReading.act_id)
    )
    return [core.DentRead(row.ln_ratio, core.READING_SD[row.by]) for row in rows]
