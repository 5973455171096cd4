"""What can happen on a slab: the kinds of acts, what the eye can see, and one act as logged."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from niddy.core.additives import InPaste
from niddy.core.estimate import Estimate
from niddy.core.measures import Family, Unit
from niddy.core.mulling import EndedBy
from niddy.core.wetting import Body


class Kind(StrEnum):
    """What can happen on a slab."""

    READY = "ready"
    POWDER = "powder"
    OIL = "oil"
    ADDITIVE = "additive"
    LEAVE_OUT = "leave_out"
    BY_EYE = "by_eye"
    BOTTLE = "bottle"
    CAME_OUT = "came_out"
    SAMPLE = "sample"
    DRAW_OIL = "draw_oil"
    MULL = "mull"
    PAUSE = "pause"
    SCRAPE = "scrape"
    FINENESS = "fineness"
    LOAD_DONE = "load_done"
    GATHER = "gather"
    LOOK = "look"
    PHASE = "phase"
    PHOTO = "photo"
    NOTE = "note"
    CHOOSE_WAY = "choose_way"
    ANSWER = "answer"
    AMEND = "amend"
    STRIKE = "strike"
    FINISH = "finish"
    CLEANED = "cleaned"
    ABANDON = "abandon"


class Stage(StrEnum):
    """How far the paste has come, by eye."""

    DRY_ISLANDS = "dry_islands"
    CRUMBS = "crumbs"
    WET_CURDS = "wet_curds"
    COARSE_PASTE = "coarse_paste"
    EVEN_PASTE = "even_paste"


class SessionPhase(StrEnum):
    """Where the maker is in the session. The acts suggest it; the maker may go back."""

    READY = "ready"
    POWDER = "powder"
    FOLD = "fold"
    WET = "wet"
    MULL = "mull"
    JUDGE = "judge"
    RIGHT = "right"


class Grit(StrEnum):
    """What the knife feels when it presses a smear."""

    GRITTY = "gritty"
    FAINT = "faint"
    NONE = "none"


class StringLength(StrEnum):
    """How long a thread the lifted knife draws."""

    BREAKS = "breaks"
    SHORT = "short"
    LONG = "long"


class Gloss(StrEnum):
    """How the fresh surface takes the light."""

    MATTE = "matte"
    SATIN = "satin"
    GLOSSY = "glossy"


class Way(StrEnum):
    """A way back to the body wanted, or a new body accepted."""

    ADD_PIGMENT = "add_pigment"
    STIFF_BATCH = "stiff_batch"
    DRAW_OIL = "draw_oil"
    ADD_OIL = "add_oil"
    STABILISE = "stabilise"
    LEAVE = "leave"


class DoubtAnswer(StrEnum):
    """What a maker says where looks and log contradict each other: what is seen was wrong, or it counts all the same.

    `missed` says that an entry was missing and has been added since: the looks before it no longer count.
    `as_entered` says of one entry that it is as it stands.
    """

    LOOKS_ASIDE = "looks_aside"
    MISSED = "missed"
    BELIEVE_EYE = "believe_eye"
    AS_ENTERED = "as_entered"


class Verdict(StrEnum):
    """The maker's verdict on a finished batch against the body aimed at."""

    STIFF = "stiff"
    RIGHT = "right"
    SOFT = "soft"


@dataclass(frozen=True, slots=True)
class Slip:
    """What an amount was perhaps meant to be: in a sentence, and as a measure."""

    says: str
    unit: Unit
    amount: float


@dataclass(frozen=True, slots=True)
class Question:
    """One entry of a material that is asked about: in a sentence, with the slips that may be behind it."""

    act: UUID
    source: str
    says: str
    slips: tuple[Slip, ...] = ()


@dataclass(frozen=True, slots=True)
class Event:
    """One act as logged. `mass` where the act moves something; `source` names the lot of powder or oil.

    One that `amends` another puts its amount right where that stands. What is `asked` about an amount waits for an
    answer, which names its act in `about`; `portions` is the powder and oil that a way back chosen adds, in g
    by source.

    `reckoned` is the oil that a finish takes to be in where pours by eye were never told.

    `seq` orders a batch's log; `made_at` is the client's clock and orders nothing.
    """

    id: UUID
    seq: int
    kind: Kind
    made_at: datetime
    source: str = ""
    mass: Estimate | None = None
    said: str = ""
    strikes: UUID | None = None
    amends: UUID | None = None
    stage: Stage | None = None
    body: Body | None = None
    grit: Grit | None = None
    string: StringLength | None = None
    gloss: Gloss | None = None
    way: Way | None = None
    target_reduced_pvc: float | None = None
    text: str = ""
    verdict: Verdict | None = None
    filled_ml: float = 0.0
    leftover_ml: float = 0.0
    phase: SessionPhase | None = None
    load: int | None = None
    of_loads: int = 1
    minutes: float | None = None
    fineness_um: float | None = None
    target_fineness_um: float | None = None
    ended_by: EndedBy | None = None
    bottle_g: float | None = None
    additive: InPaste | None = None
    family: Family = Family.SCALE
    answer: DoubtAnswer | None = None
    widened_sd_ln: float = 0.0
    reckoned: Estimate | None = None
    asked: Question | None = None
    about: UUID | None = None
    portions: dict[str, float] = field(default_factory=dict)
