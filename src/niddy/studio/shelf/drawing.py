"""Paint drawn from a tube or jar into another job, and given back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy import delete
from sqlalchemy.orm import Session

from niddy.core.contents import Contents, scaled
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.db.shelf import ItemUse
from niddy.studio import log
from niddy.studio.shelf.items import CONTENTS, HERE, Left, contents_of_row, item_row

EMPTY_ML = 0.3
"""Less than this left in a tube is an empty tube."""


def part_of(session: Session, item_id: int, volume_ml: float) -> Contents:
    """What is in so many ml of a tube or jar. Raises Refused where it holds less, or nobody knows what, Missing."""
    row = item_row(session, item_id)
    if row.status not in HERE:
        raise Refused("item_id", f"{row.code} is {row.status.replace('_', ' ')}", "a tube or jar that is here")
    if volume_ml > row.volume_ml + 0.05:
        raise Refused("volume_ml", f"{volume_ml:g} ml out of {row.volume_ml:g} ml", f"up to {row.volume_ml:g} ml")
    contents = contents_of_row(session, row)
    if not contents:
        raise Refused("item_id", f"nobody knows what is in {row.code}", "a jar matched with its batch first")
    return scaled(contents, volume_ml / row.volume_ml)


@dataclass(frozen=True, slots=True)
class PaintDraw:
    """So many ml of a tube or jar that an act draws into a job (`into`: what it is called), or gives back."""

    item_id: int
    volume_ml: float
    into: str

    def take(self, session: Session, now: datetime, act_id: UUID, job_id: int) -> None:
        """Draw it, by an act in a job. Raises Missing."""
        _change(session, now, self.item_id, act_id, -self.volume_ml, f"into {self.into}")
        session.add(ItemUse(act_id=act_id, item_id=self.item_id, job_id=job_id, volume_ml=self.volume_ml, at=now))
        session.flush()

    def give_back(self, session: Session, now: datetime, act_id: UUID, job_id: int, taken_by: UUID) -> None:
        """Give back what an act drew, by the act that undoes it. Raises Missing."""
        _change(session, now, self.item_id, act_id, self.volume_ml, f"back from {self.into}")
        session.execute(delete(ItemUse).where(ItemUse.act_id == taken_by))


def _change(session: Session, now: datetime, item_id: int, act_id: UUID, change_ml: float, words: str) -> None:
    row = item_row(session, item_id, lock=True)
    left = max(0.0, row.volume_ml + change_ml)
    contents = scaled(contents_of_row(session, row), left / row.volume_ml)
    row.contents = CONTENTS.dump_python(contents, mode="json")
    used_up = left < EMPTY_ML
    if used_up:
        row.status, row.why = Left.USED_UP, words
    elif row.status == Left.USED_UP:
        row.status, row.why = "kept", ""
    row.volume_ml = max(0.01, left)
    # The entry in the tube's own log follows from the act in the other's.
    entry = log.New(uuid5(act_id, "drawn"), "drawn", now, {}, {"text": f"{abs(change_ml):g} ml {words}"})
    log.log(session, now, row.job_id, entry, status=Status.FINISHED if used_up else Status.OPEN)
