"""Batches of the demo acted out, each with a clock of its own."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.mulling import EndedBy
from niddy.core.slab import Kind, Stage
from niddy.core.wetting import Body
from niddy.studio import batches, slab
from niddy.studio.plan import LineAsked, OilAsked, PlanAsked, TubesAsked
from niddy.studio.slab import AmountAsked, PhotoAsked, act_of
from tests.demo import pictures

BY_DAY = (
    24,
    26,
    29,
    32,
    10,
    11,
    12,
    13,
    14,
    15,
    17,
    18,
    19,
    20,
    21,
    22,
    23,
    25,
    27,
    30,
    28,
    1,
    2,
    3,
    4,
    5,
    6,
    7,
    8,
    9,
    16,
    31,
)
"""The numbers of the demo's batches, in the order in which they are acted out."""


class Acted:
    """One batch of the demo, acted out with a clock of its own."""

    def __init__(self, session: Session, key: str, begin: datetime, asked: PlanAsked) -> None:
        self.session, self.key, self.clock = session, key, begin
        self.count = 0
        # Acted out in the order in which one stands on another, numbered in that of their days.
        batches.number_next(session, BY_DAY[len(numbers_of(session))])
        self.number = slab.take_to_slab(session, begin, demo_id(key, 0), asked)
        numbers_of(session)[key] = self.number
        self.asked = asked

    def act(self, after_min: float, kind: Kind, **what: object) -> UUID:
        self.count += 1
        self.clock += timedelta(minutes=after_min)
        event_id = demo_id(self.key, self.count)
        act = act_of({"id": event_id, "kind": kind, "made_at": self.clock, **what})
        slab.keep(self.session, self.clock, self.number, act)
        return event_id

    def powder(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.POWDER, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def oil(self, after_min: float, lot_id: int, grams: float) -> UUID:
        return self.act(after_min, Kind.OIL, source=f"lot-{lot_id}", measure=AmountAsked(amount=grams))

    def look(self, after_min: float, stage: Stage, body: Body | None = None, **seen: object) -> UUID:
        return self.act(after_min, Kind.LOOK, stage=stage, body=body, **seen)

    def load(self, minutes: float, by: EndedBy = EndedBy.MINUTES) -> None:
        """One load set out, mulled with a scrape half way, and put aside."""
        self.act(1.5, Kind.MULL)
        self.act(minutes / 2, Kind.SCRAPE)
        self.act(minutes / 2, Kind.LOAD_DONE, ended_by=by)

    def picture(self, colour: str, spread: float, text: str) -> None:
        self.count += 1
        self.clock += timedelta(minutes=0.5)
        asked = PhotoAsked(id=demo_id(self.key, self.count), made_at=self.clock, text=text)
        slab.take_photo(self.session, self.clock, self.number, asked, pictures.paste(colour, spread, self.count))


def numbers_of(session: Session) -> dict[str, int]:
    """The numbers the demo's batches got, by their keys."""
    numbers: dict[str, int] = session.info.setdefault("demo", {})
    return numbers


def demo_id(key: str, count: int) -> UUID:
    """An id of the demo's own: the same at every loading."""
    return uuid5(NAMESPACE_URL, f"niddy-demo/{key}/{count}")


def asked_for(lot_id: int, oil_id: int, reduced: float, tubes: list[tuple[int, int]]) -> PlanAsked:
    """A plan of one lot for some tubes."""
    return PlanAsked(
        lines=[LineAsked(lot_id=lot_id, parts=1.0)],
        oil=OilAsked(lot_id=oil_id),
        reduced_pvc=reduced,
        tubes=[TubesAsked(tube_type_id=t, count=n) for t, n in tubes],
    )
