"""Acts as a client sends them: a model for each kind, told apart by `kind`."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter, model_validator

from niddy.core.acting import AmountAsked, Said, Source, Text
from niddy.core.amounts import Grams
from niddy.core.documents import Document, RowId
from niddy.core.errors import MAX_VOLUME_ML, Refused
from niddy.core.mulling import EndedBy
from niddy.core.slab import DoubtAnswer, Gloss, Grit, Kind, SessionPhase, Stage, StringLength, Verdict, Way
from niddy.core.wetting import Body
from niddy.studio.plan import TubesAsked


class Ready(Said):
    """The kit is at hand."""

    kind: Literal[Kind.READY]


class PowderIn(Said):
    """A powder of the batch goes in."""

    kind: Literal[Kind.POWDER]
    source: Source
    measure: AmountAsked


class OilIn(Said):
    """OilIn goes in."""

    kind: Literal[Kind.OIL]
    source: Source
    measure: AmountAsked


class AdditiveIn(Said):
    """An additive goes in: the measure is of the tin or pot it comes from."""

    kind: Literal[Kind.ADDITIVE]
    source: Source
    measure: AmountAsked


class LeaveOut(Said):
    """A planned additive stays out."""

    kind: Literal[Kind.LEAVE_OUT]
    source: Source


class ByEye(Said):
    """A pour of oil without a figure."""

    kind: Literal[Kind.BY_EYE]
    source: Source


class Bottle(Said):
    """The oil bottle was weighed."""

    kind: Literal[Kind.BOTTLE]
    bottle_g: Grams


class CameOut(Said):
    """How much oil came out of the bottle with the pours by eye: weighed, measured, or `guessed`."""

    kind: Literal[Kind.CAME_OUT]
    measure: AmountAsked
    guessed: Annotated[bool, Field(strict=True)] = False


class Sample(Said):
    """Paste taken away."""

    kind: Literal[Kind.SAMPLE]
    measure: AmountAsked


class DrawOil(Said):
    """OilIn drawn out of the paste."""

    kind: Literal[Kind.DRAW_OIL]
    measure: AmountAsked


class Mull(Said):
    """The muller starts, on a `load` if not the next."""

    kind: Literal[Kind.MULL]
    load: Annotated[int, Field(strict=True, ge=1, le=200)] | None = None


class Pause(Said):
    """The muller rests; `minutes` are those really mulled, where somebody knows better."""

    kind: Literal[Kind.PAUSE]
    minutes: Annotated[float, Field(strict=True, ge=0, le=600)] | None = None


class Scrape(Said):
    """Scraped together."""

    kind: Literal[Kind.SCRAPE]


class Fineness(Said):
    """The gauge was read."""

    kind: Literal[Kind.FINENESS]
    fineness_um: Annotated[float, Field(strict=True, ge=0.1, le=500)]


class LoadDone(Said):
    """A load is mulled out."""

    kind: Literal[Kind.LOAD_DONE]
    ended_by: EndedBy


class Gather(Said):
    """The loads are put together."""

    kind: Literal[Kind.GATHER]


class LookAct(Said):
    """What the paste looks like; at even paste its body too."""

    kind: Literal[Kind.LOOK]
    stage: Stage
    body: Body | None = None
    grit: Grit | None = None
    string: StringLength | None = None
    gloss: Gloss | None = None


class BackTo(Said):
    """Back to a part of the session."""

    kind: Literal[Kind.PHASE]
    phase: SessionPhase


class Picture(Said):
    """A picture was taken; it comes by its own address."""

    kind: Literal[Kind.PHOTO]
    text: Text | None = None


class Note(Said):
    """A few words."""

    kind: Literal[Kind.NOTE]
    text: Text


class ChooseWay(Said):
    """A way back to the body wanted."""

    kind: Literal[Kind.CHOOSE_WAY]
    way: Way


class AnswerDoubt(Said):
    """What is said where looks and log contradict each other."""

    kind: Literal[Kind.ANSWER]
    answer: DoubtAnswer
    about: UUID | None = None


class Amend(Said):
    """An amount of powder or oil was another one: it is put right where it stands."""

    kind: Literal[Kind.AMEND]
    amends: UUID
    measure: AmountAsked


class Strike(Said):
    """An act that did not happen so."""

    kind: Literal[Kind.STRIKE]
    strikes: UUID


class GoesTo(StrEnum):
    """Where paint goes at the end: used at once, a jar, a tube, or a dab that is set aside."""

    PALETTE = "palette"
    JAR = "jar"
    TUBE = "tube"
    DAB = "dab"


DAB_ML = 1.0
"""A dab that is set aside for the record is about so much."""


class Goes(Document):
    """One place the paint goes beside the tubes that were filled: a dab of it, or all that is left."""

    to: GoesTo
    tube_type_id: RowId | None = None

    @model_validator(mode="after")
    def _whole(self) -> Goes:
        if self.to is GoesTo.TUBE and self.tube_type_id is None:
            raise ValueError("a tube wants its kind")
        return self


class Finish(Said):
    """The batch is done: how it came out, how many tubes were filled, and where the rest goes.

    `leftover_ml` is reckoned where it is not said. With `goes`, be it empty, the tubes and what it names are put up at
    once; without, all of it waits for the filling run.
    """

    kind: Literal[Kind.FINISH]
    verdict: Verdict
    tubes: Annotated[list[TubesAsked], Field(max_length=24)] | None = None
    leftover_ml: Annotated[float, Field(strict=True, ge=0, le=MAX_VOLUME_ML)] | None = None
    goes: Annotated[list[Goes], Field(max_length=24)] | None = None


class Cleaned(Said):
    """The slab was cleaned of this batch's paint."""

    kind: Literal[Kind.CLEANED]


class Abandon(Said):
    """The batch is given up, and why."""

    kind: Literal[Kind.ABANDON]
    text: Text


Measured = PowderIn | OilIn | AdditiveIn | CameOut | Sample | DrawOil
Act = Annotated[
    Ready
    | PowderIn
    | OilIn
    | AdditiveIn
    | LeaveOut
    | ByEye
    | Bottle
    | CameOut
    | Sample
    | DrawOil
    | Mull
    | Pause
    | Scrape
    | Fineness
    | LoadDone
    | Gather
    | LookAct
    | BackTo
    | Picture
    | Note
    | ChooseWay
    | AnswerDoubt
    | Amend
    | Strike
    | Finish
    | Cleaned
    | Abandon,
    Field(discriminator="kind"),
]
"""One act at the slab."""

_ACT: TypeAdapter[Act] = TypeAdapter(Act)


def act_of(document: dict[str, Any]) -> Act:
    """An act from what it was kept as, or its fields by name. Raises pydantic's ValidationError."""
    return _ACT.validate_python(document)


def payload_of(act: Act) -> dict[str, Any]:
    """An act as it is kept: how it came is not part of it."""
    return act.model_dump(mode="json", exclude_none=True, exclude={"waited"})


def check_whole(act: Act) -> None:
    """Refuse an act whose words are blank."""
    if isinstance(act, Note | Abandon) and not act.text.strip():
        raise Refused("text", "empty", "a few words" if isinstance(act, Note) else "why it is given up")
