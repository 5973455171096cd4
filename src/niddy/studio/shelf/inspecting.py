"""Inspections: logged with their verdict."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.shelf import Inspected, Skin, Smell
from niddy.core.shelf import KeptBody as Body
from niddy.studio import batches, log, recipes
from niddy.studio.shelf.items import HERE, ItemKind, Text, item_row

INSPECTED = "inspected"


class InspectAsked(Document):
    """An inspection with an id made by the client: the oil layer over the height of the filling, the rest by eye."""

    id: UUID
    made_on: date
    layer_mm: Annotated[float, Field(strict=True, ge=0, le=500)]
    fill_height_mm: Annotated[float, Field(strict=True, ge=0.1, le=500)]
    skin: Skin = Skin.NONE
    body: Body = Body.AS_FILLED
    smell: Smell = Smell.OIL
    label_readable: bool = True
    note: Text = ""


class StickInspectAsked(Document):
    """An inspection of a paint stick, all by eye, with an id made by the client."""

    id: UUID
    made_on: date
    skin: Skin = Skin.NONE
    bloom: Annotated[bool, Field(strict=True)] = False
    sweats: Annotated[bool, Field(strict=True)] = False
    cracked: Annotated[bool, Field(strict=True)] = False
    label_readable: Annotated[bool, Field(strict=True)] = True
    note: Text = ""


Looked = InspectAsked | StickInspectAsked
LOOKED: TypeAdapter[Looked] = TypeAdapter(Looked)


def inspected_of(asked: Looked) -> Inspected:
    """What an inspection comes to."""
    if isinstance(asked, StickInspectAsked):
        return core.inspect_stick(
            asked.skin,
            bloom=asked.bloom,
            sweats=asked.sweats,
            cracked=asked.cracked,
            label_readable=asked.label_readable,
        )
    return core.inspect(
        asked.layer_mm, asked.fill_height_mm, asked.skin, asked.body, asked.smell, label_readable=asked.label_readable
    )


def keep_look(session: Session, now: datetime, item_id: int, asked: Looked) -> None:
    """Log an inspection, as `inspect` does, without the page."""
    row = item_row(session, item_id, lock=True)
    payload = asked.model_dump(mode="json")
    if log.known(session, row.job_id, asked.id, INSPECTED, payload):
        return
    if isinstance(asked, StickInspectAsked) is not (row.kind == ItemKind.STICK):
        raise Refused("id", f"it is a {row.kind}", "the inspection of its own kind")
    if row.status not in HERE:
        raise Refused("id", f"it is {row.status.replace('_', ' ')}", "a tube or jar that is here")
    if not row.filled_on <= asked.made_on <= now.date():
        raise Refused("made_on", f"{asked.made_on} cannot be", f"from its filling, {row.filled_on}, to {now.date()}")
    found = inspected_of(asked)
    text = f"inspected: {found.title.lower()}. {found.why}" + (f" {asked.note.strip()}" if asked.note.strip() else "")
    facts = {"text": text, "separated": found.separated, "outcome": found.outcome}
    log.log(session, now, row.job_id, log.New(asked.id, INSPECTED, now, payload, facts))
    history = [bool(entry.facts["separated"]) for entry in log.of_kind(session, row.job_id, INSPECTED)]
    row.last_outcome = found.outcome
    later = core.after_months(asked.made_on, core.next_interval_months(history))
    row.next_inspection_on = core.until_use_by(later, row.use_by)
    row.unknown_hazard = row.unknown_hazard or found.unknown_hazard
    if found.prone and row.batch_number is not None:
        recipe_id = batches.made(session, row.batch_number).recipe_id
        if recipe_id is not None:
            recipes.note_bleeds(session, now, recipe_id)
    session.flush()
