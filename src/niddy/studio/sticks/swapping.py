"""Bases swapped between studios: one out as a file, one in with a look at it first."""

from __future__ import annotations

from datetime import datetime

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.db.sticks import StickBase
from niddy.studio import materials
from niddy.studio.errors import Missing
from niddy.studio.sticks.bases import BaseAsked, add, version_row
from niddy.studio.swapped import VERSION, BaseFile, Card, CardLine, Looked, arrived, beyond, said_of, seen


def as_file(session: Session, base_id: int) -> BaseFile:
    """The newest version of a base as a file, with its waxes. Raises Missing."""
    row, version = _row(session, base_id), version_row(session, base_id, None)
    keys = [("wax", str(part["wax_key"])) for part in version.parts]
    return BaseFile(
        format="niddy-base",
        version=VERSION,
        name=row.name,
        materials=said_of(session, keys),
        why=version.why,
        base={"parts": version.parts, "note": row.note},
        **beyond(row.came_as, "base"),
    )


def look(session: Session, file: BaseFile) -> Looked:
    """What would come in with a file. Changes nothing. Raises Refused where it cannot be a base here."""
    _asked(file, file.name, {})
    taken = session.scalar(select(StickBase.id).where(StickBase.name == file.name.strip())) is not None
    return Looked(
        "base",
        file.name,
        taken,
        file.why,
        tuple(seen(session, said) for said in file.materials),
        (),
        tuple(sorted(beyond(file.model_dump(), "base"))),
    )


def take_in(session: Session, now: datetime, file: BaseFile, name: str) -> int:
    """Take a base in, with those of its waxes that are not here yet; its id. All of it or nothing. Raises Refused."""
    base_id = add(session, now, _asked(file, name, arrived(session, now, file)))
    _row(session, base_id).came_as = file.model_dump(mode="json")
    session.flush()
    return base_id


def card(session: Session, base_id: int) -> Card:
    """What stands on a base's card. Raises Missing."""
    row, version = _row(session, base_id), version_row(session, base_id, None)
    whole = sum(float(str(part["share"])) for part in version.parts)
    lines = []
    for part in version.parts:
        wax = materials.wax_of(session, str(part["wax_key"]))
        share = 100 * float(str(part["share"])) / whole
        lines.append(CardLine(wax.name if wax is not None else str(part["wax_key"]), f"{share:.1f} % by weight"))
    return Card("Base for paint sticks", row.name, f"version {version.version}", tuple(lines))


def _row(session: Session, base_id: int) -> StickBase:
    row = session.get(StickBase, base_id)
    if row is None:
        raise Missing("base", base_id)
    return row


def _asked(file: BaseFile, name: str, keys: dict[tuple[str, str], str]) -> BaseAsked:
    """The base by the keys its waxes have here."""
    try:
        asked = BaseAsked.model_validate(
            {"parts": file.base.get("parts"), "note": file.base.get("note", ""), "name": name.strip()[:80]}
        )
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        raise Refused("file", f"its base is damaged at {where}", "a base saved by Niddy as a file") from None
    parts = [part.model_copy(update={"wax_key": keys.get(("wax", part.wax_key), part.wax_key)}) for part in asked.parts]
    return asked.model_copy(update={"parts": parts})
