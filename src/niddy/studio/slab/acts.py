"""Acts as a client sends them, and what an act of each kind cannot be without."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, Field

from niddy.core.errors import MAX_VOLUME_ML, Refused
from niddy.core.measures import Unit
from niddy.core.mulling import EndedBy
from niddy.core.slab import Gloss, Grit, Kind, SessionPhase, Stage, StringLength, Verdict, Way
from niddy.core.wetting import Body
from niddy.studio.amounts import Grams
from niddy.studio.documents import Document
from niddy.studio.plan import TubesAsked
from niddy.studio.words import Words


class AmountAsked(Document):
    """An amount as the maker measured it."""

    unit: Unit = Unit.GRAM
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)] | None = None
    before_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    after_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None


class Act(Document):
    """One act at the slab, with an id made by the client.

    `ready` says that the kit is at hand. `powder` and `oil` name their `source` and a `measure`, `by_eye` (a
    pour of oil without a figure) its `source`, `bottle` the oil bottle's weight; `sample` and `draw_oil` a
    `measure`. `mull` starts the muller, on a `load` if not the next; `pause` may say the `minutes` really
    mulled; `scrape`, `gather`; `fineness` has its reading; `load_done` what it was `ended_by`. `look` has a
    `stage` and, at even paste, a `body`, and may have `grit`, `string` and `gloss`. `phase` goes back to a
    part of the session, `choose_way` takes a `way`; `additive` names its `source` and a `measure` of the tin or
    pot it comes from, `leave_out` a planned one that stays out; `strike` names the act it strikes; `finish` has a
    `verdict`, tubes and leftover; `note` and `abandon` a `text`. A `photo` comes by its own address. `waited` says
    that it waited in a browser for the server: where the batch was finished meanwhile, it is kept as come late.
    """

    id: UUID
    kind: Kind
    made_at: AwareDatetime
    source: Annotated[Words, Field(max_length=100)] | None = None
    measure: AmountAsked | None = None
    strikes: UUID | None = None
    stage: Stage | None = None
    body: Body | None = None
    grit: Grit | None = None
    string: StringLength | None = None
    gloss: Gloss | None = None
    way: Way | None = None
    phase: SessionPhase | None = None
    load: Annotated[int, Field(strict=True, ge=1, le=200)] | None = None
    minutes: Annotated[float, Field(strict=True, ge=0, le=600)] | None = None
    fineness_um: Annotated[float, Field(strict=True, ge=0.1, le=500)] | None = None
    ended_by: EndedBy | None = None
    bottle_g: Grams | None = None
    text: Annotated[Words, Field(max_length=2_000)] | None = None
    verdict: Verdict | None = None
    tubes: Annotated[list[TubesAsked], Field(max_length=24)] | None = None
    leftover_ml: Annotated[float, Field(strict=True, ge=0, le=MAX_VOLUME_ML)] | None = None
    waited: Annotated[bool, Field(strict=True)] = False

    def payload(self) -> dict[str, Any]:
        """The act as it is kept: how it came is not part of it."""
        return self.model_dump(mode="json", exclude_none=True, exclude={"waited"})


@dataclass(frozen=True, slots=True)
class PhotoAsked:
    """What comes with a picture: the act's id, when it was taken, and a few words if any."""

    id: UUID
    made_at: datetime
    text: str = ""


_NEEDS: dict[Kind, dict[str, str]] = {
    Kind.POWDER: {"source": "a powder of this batch", "measure": "an amount and its unit"},
    Kind.OIL: {"source": "this batch's oil", "measure": "an amount and its unit"},
    Kind.ADDITIVE: {"source": "an additive", "measure": "an amount and its unit"},
    Kind.LEAVE_OUT: {"source": "a planned additive"},
    Kind.BY_EYE: {"source": "this batch's oil"},
    Kind.BOTTLE: {"bottle_g": "the weight of the oil bottle in g"},
    Kind.SAMPLE: {"measure": "an amount and its unit"},
    Kind.DRAW_OIL: {"measure": "an amount and its unit"},
    Kind.FINENESS: {"fineness_um": "the reading of the gauge in um"},
    Kind.LOAD_DONE: {"ended_by": ", ".join(EndedBy)},
    Kind.LOOK: {"stage": ", ".join(Stage)},
    Kind.PHASE: {"phase": ", ".join(SessionPhase)},
    Kind.CHOOSE_WAY: {"way": ", ".join(Way)},
    Kind.STRIKE: {"strikes": "the id of an act of this batch"},
    Kind.NOTE: {"text": "a few words"},
    Kind.ABANDON: {"text": "why it is given up"},
    Kind.FINISH: {"verdict": ", ".join(Verdict)},
}
"""What an act of each kind cannot be without, and what would be taken."""


def check_whole(act: Act) -> None:
    """Refuse an act that lacks what its kind cannot be without."""
    for field, accepted in _NEEDS.get(act.kind, {}).items():
        value = getattr(act, field)
        if value is None or (isinstance(value, str) and not value.strip()):
            raise Refused(field, "missing" if value is None else "empty", accepted)
