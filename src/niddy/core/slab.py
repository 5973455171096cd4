"""The slab: an immutable log of acts, and what is in the paste now as a pure fold over it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from enum import StrEnum
from uuid import UUID

from niddy.core import mulling as mullings
from niddy.core import pours, wetting
from niddy.core.additives import InPaste
from niddy.core.checks import SLOPE_LN_D_PER_REDUCED
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.errors import Refused
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.mulling import Due, EndedBy, Mulling
from niddy.core.plan import Facts
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
    STRIKE = "strike"
    FINISH = "finish"
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
    DRAW_OIL = "draw_oil"
    ADD_OIL = "add_oil"
    LEAVE = "leave"


class Verdict(StrEnum):
    """The maker's verdict on a finished batch against the body aimed at."""

    STIFF = "stiff"
    RIGHT = "right"
    SOFT = "soft"


class Status(StrEnum):
    """Where a batch stands."""

    OPEN = "open"
    FINISHED = "finished"
    ABANDONED = "abandoned"


LOOK_REDUCED = {
    Body.CRUMBLES: 1.10,
    Body.PUTTY: 1.01,
    Body.STIFF: 0.935,
    Body.TUBE: 0.85,
    Body.SOFT: 0.75,
    Body.LOOSE: 0.64,
    Body.RUNS: 0.54,
}
"""Reduced PVC that a body by eye stands for: the middle of its zone (assumed)."""

LOOK_SD_LN = 0.12
"""Sd of ln OA told by a look at an evenly mulled paste (assumed, as for a batch verdict)."""

STRANGE_LOOK_SDS = 3.0
"""A look this far off is set aside until a second one agrees: a slip of the finger is likelier than such a lot."""

TAP_SPREAD = 0.5
"""90 % half-width of one pour by eye against the mean of its taps (assumed)."""

LOOKS_KEPT = 60
"""So many of the last looks count: older ones say nothing that the later do not."""


@dataclass(frozen=True, slots=True)
class Event:
    """One act as logged. `mass` where the act moves something; `source` names the lot of powder or oil.

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


@dataclass(frozen=True, slots=True)
class Added:
    """An additive that is in the paste: what it is, its own grams (a gel's oil counts as oil), how long it keeps."""

    what: InPaste
    grams: float
    use_by: date | None = None


@dataclass(frozen=True, slots=True)
class Look:
    """A look that counts: what the eye saw, and the ratio it saw it at.

    The ratio is None without powder, and while `taps` by eye wait for the bottle to be weighed; then
    `pigment_g` and `oil_g` are what was known to be in. `mulled_min` is how long the load on the slab had
    been mulled, None where nobody kept time, and `due` what that round had to do.
    """

    stage: Stage
    body: Body | None
    oil_g_per_100g: float | None
    mulled_min: float | None = None
    taps: int = 0
    pigment_g: float = 0.0
    oil_g: float = 0.0
    due: Due = Due.DISPERSE
    additives: tuple[Added, ...] = ()


@dataclass(frozen=True, slots=True)
class Spread:
    """A bottle weighed after taps by eye: grams in all, spread over so many taps, and a tap's 90 % half-width."""

    grams: float
    taps: int
    half_width_g: float


@dataclass(frozen=True, slots=True)
class ByEye:
    """Oil poured by eye: the bottle's last weight in g, the taps since, and what earlier weighings came to.

    `used_g` is all oil that bottle weighings say went in; `weighings` holds the spread by the weighing's id.
    """

    bottle_g: float | None = None
    source: str = ""
    taps: int = 0
    used_g: float = 0.0
    weighings: dict[UUID, Spread] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Paste:
    """What is on the slab now. Masses in g by source (a lot, or the library).

    `powder_spread_g` and `oil_spread_g` are the 90 % half-widths of the two masses.
    """

    pigments: dict[str, float] = field(default_factory=dict)
    oils: dict[str, float] = field(default_factory=dict)
    poured_g: float = 0.0
    powder_spread_g: float = 0.0
    oil_spread_g: float = 0.0
    sampled_g: float = 0.0
    drawn_g: float = 0.0
    looks: tuple[Look, ...] = ()
    swings: int = 0
    corrective: tuple[str, ...] = ()
    way: Way | None = None
    target_reduced_pvc: float | None = None
    status: Status = Status.OPEN
    verdict: Verdict | None = None
    struck: frozenset[UUID] = frozenset()
    ready: bool = False
    phase: SessionPhase | None = None
    mulling: Mulling = field(default_factory=Mulling)
    by_eye: ByEye = field(default_factory=ByEye)
    additives: dict[str, Added] = field(default_factory=dict)
    left_out: frozenset[str] = frozenset()

    @property
    def pigment_g(self) -> float:
        return sum(self.pigments.values())

    @property
    def oil_g(self) -> float:
        return sum(self.oils.values())

    @property
    def additives_g(self) -> float:
        return sum(one.grams for one in self.additives.values())

    @property
    def total_g(self) -> float:
        return self.pigment_g + self.oil_g + self.additives_g

    @property
    def use_by(self) -> date | None:
        """The day after which something in it is spoiled, or None where nothing in it spoils."""
        return min((one.use_by for one in self.additives.values() if one.use_by is not None), default=None)

    @property
    def oil_g_per_100g(self) -> float | None:
        """The ratio now, or None before there is powder and while taps by eye wait for the bottle's weight."""
        return 100 * self.oil_g / self.pigment_g if self.pigment_g > 0 and not self.by_eye.taps else None


def struck_by(events: list[Event]) -> frozenset[UUID]:
    """The ids of the acts that do not count. A strike that is itself struck strikes nothing."""
    struck: set[UUID] = set()
    for event in sorted(events, key=lambda event: event.seq, reverse=True):
        if event.kind is Kind.STRIKE and event.id not in struck and event.strikes is not None:
            struck.add(event.strikes)
    return frozenset(struck)


def fold(events: list[Event]) -> Paste:
    """What is in the paste after a log of acts. The order is that of `seq`, however the list came."""
    struck = struck_by(events)
    paste = Paste(struck=struck)
    for event in sorted(events, key=lambda event: event.seq):
        if event.id not in struck and event.kind is not Kind.STRIKE:
            paste = after(paste, event)
    return paste


_SAYS_NOTHING_OF_PHASE = (Kind.NOTE, Kind.PHOTO)
_HAND_OFF = (Kind.SAMPLE, Kind.DRAW_OIL, Kind.FINISH, Kind.ABANDON)


def after(paste: Paste, event: Event) -> Paste:
    """The paste after one more act, which is no strike: a strike changes the past and needs the whole fold."""
    if paste.phase is not None and event.kind not in _SAYS_NOTHING_OF_PHASE:
        paste = replace(paste, phase=None)
    if event.kind in _HAND_OFF:
        paste = replace(paste, mulling=mullings.pause(paste.mulling, event.made_at))
    match event.kind:
        case Kind.READY:
            return replace(paste, ready=True)
        case Kind.PHASE:
            return replace(paste, phase=event.phase)
        case Kind.POWDER:
            return _added(paste, event, "pigment")
        case Kind.OIL:
            return _added(paste, event, "oil")
        case Kind.ADDITIVE:
            return _stirred_in(paste, event)
        case Kind.LEAVE_OUT:
            return replace(paste, left_out=paste.left_out | {event.source})
        case Kind.BY_EYE:
            by_eye = replace(paste.by_eye, taps=paste.by_eye.taps + 1, source=event.source)
            return replace(paste, by_eye=by_eye, mulling=mullings.added(paste.mulling, event.made_at, powder=False))
        case Kind.BOTTLE:
            return _bottle(paste, event)
        case Kind.MULL:
            return replace(paste, mulling=mullings.start(paste.mulling, event.made_at, event.load, event.of_loads))
        case Kind.PAUSE:
            return replace(paste, mulling=mullings.pause(paste.mulling, event.made_at, event.minutes))
        case Kind.SCRAPE:
            return replace(paste, mulling=mullings.scrape(paste.mulling, event.made_at))
        case Kind.FINENESS:
            assert event.fineness_um is not None
            read_by_gauge = mullings.fineness(paste.mulling, event.made_at, event.fineness_um, event.target_fineness_um)
            return replace(paste, mulling=read_by_gauge)
        case Kind.LOAD_DONE:
            by = event.ended_by or EndedBy.MINUTES
            return replace(paste, mulling=mullings.done(paste.mulling, event.made_at, by))
        case Kind.GATHER:
            return replace(paste, mulling=mullings.gather(paste.mulling, event.made_at))
        case Kind.SAMPLE:
            assert event.mass is not None
            taken = min(event.mass.median, paste.total_g)
            keep = 1 - taken / paste.total_g if paste.total_g else 1.0
            return replace(
                paste,
                pigments={source: g * keep for source, g in paste.pigments.items()},
                oils={source: g * keep for source, g in paste.oils.items()},
                additives={s: replace(one, grams=one.grams * keep) for s, one in paste.additives.items()},
                powder_spread_g=paste.powder_spread_g * keep,
                oil_spread_g=paste.oil_spread_g * keep,
                sampled_g=paste.sampled_g + taken,
            )
        case Kind.DRAW_OIL:
            assert event.mass is not None
            drawn = min(event.mass.median, paste.oil_g)
            keep = 1 - drawn / paste.oil_g if paste.oil_g else 1.0
            return replace(
                _turned(paste, "pigment"),
                oils={source: g * keep for source, g in paste.oils.items()},
                drawn_g=paste.drawn_g + drawn,
                oil_spread_g=math.hypot(paste.oil_spread_g * keep, event.mass.half_width),
            )
        case Kind.LOOK:
            return _looked(paste, event)
        case Kind.CHOOSE_WAY:
            return replace(paste, way=event.way, target_reduced_pvc=event.target_reduced_pvc)
        case Kind.FINISH:
            return replace(paste, status=Status.FINISHED, verdict=event.verdict)
        case Kind.ABANDON:
            return replace(paste, status=Status.ABANDONED)
        case _:
            return paste


def _looked(paste: Paste, event: Event) -> Paste:
    assert event.stage is not None
    timed = not paste.mulling.fresh
    look = Look(
        event.stage,
        event.body,
        paste.oil_g_per_100g,
        mullings.minutes_in_load(paste.mulling, event.made_at) if timed else None,
        paste.by_eye.taps,
        paste.pigment_g,
        paste.oil_g,
        paste.mulling.due,
        tuple(paste.additives.values()),
    )
    return replace(paste, looks=(*paste.looks, look)[-LOOKS_KEPT:])


def _bottle(paste: Paste, event: Event) -> Paste:
    """The bottle weighed: what it lost since it was last weighed went in with the taps, evenly."""
    assert event.bottle_g is not None
    eye = paste.by_eye
    if not eye.taps or eye.bottle_g is None:
        return replace(paste, by_eye=replace(eye, bottle_g=event.bottle_g))
    grams = max(0.0, eye.bottle_g - event.bottle_g)
    each = grams / eye.taps
    # The sum is known, so one tap is the less free the fewer there are.
    half = TAP_SPREAD * each * math.sqrt(1 - 1 / eye.taps)
    oils = dict(paste.oils)
    oils[eye.source] = oils.get(eye.source, 0.0) + grams
    looks = tuple(
        replace(
            look, taps=0,
            oil_g_per_100g=100 * (look.oil_g + each * look.taps) / look.pigment_g if look.pigment_g > 0 else None,
        )
        if look.taps
        else look
        for look in paste.looks
    )  # fmt: skip
    turned = _turned(paste, "oil") if paste.corrective else paste
    return replace(
        turned,
        oils=oils,
        looks=looks,
        poured_g=paste.poured_g + grams,
        by_eye=ByEye(
            event.bottle_g, eye.source, 0, eye.used_g + grams,
            {**eye.weighings, event.id: Spread(grams, eye.taps, half)},
        ),
    )  # fmt: skip


def _stirred_in(paste: Paste, event: Event) -> Paste:
    """An additive in: itself, and what of a gel is oil as oil."""
    assert event.mass is not None and event.additive is not None
    what, form_g = event.additive, event.mass.median
    there = paste.additives.get(what.source)
    keeps = event.made_at.date() + timedelta(days=what.keeps_days) if what.keeps_days is not None else None
    if there is not None and there.use_by is not None:
        keeps = there.use_by
    additives = {
        **paste.additives,
        what.source: Added(what, (there.grams if there else 0.0) + form_g * what.additive_fraction, keeps),
    }
    oils = dict(paste.oils)
    oil_g = form_g * (1 - what.additive_fraction)
    if oil_g > 0:
        oils[what.source] = oils.get(what.source, 0.0) + oil_g
    return replace(
        paste,
        additives=additives,
        oils=oils,
        left_out=paste.left_out - {what.source},
        mulling=mullings.added(paste.mulling, event.made_at, powder=False),
    )


def _added(paste: Paste, event: Event, what: str) -> Paste:
    assert event.mass is not None and event.source
    grams, half = event.mass.median, event.mass.half_width
    paste = replace(paste, mulling=mullings.added(paste.mulling, event.made_at, powder=what == "pigment"))
    if what == "pigment":
        pigments = dict(paste.pigments)
        pigments[event.source] = pigments.get(event.source, 0.0) + grams
        # Powder after oil is a correction; before, it is the weighing out.
        turned = _turned(paste, "pigment") if paste.poured_g > 0 or paste.by_eye.taps else paste
        return replace(turned, pigments=pigments, powder_spread_g=math.hypot(paste.powder_spread_g, half))
    oils = dict(paste.oils)
    oils[event.source] = oils.get(event.source, 0.0) + grams
    # Oil is a correction only once something was corrected the other way.
    turned = _turned(paste, "oil") if paste.corrective else paste
    return replace(
        turned, oils=oils, poured_g=paste.poured_g + grams, oil_spread_g=math.hypot(paste.oil_spread_g, half)
    )


def _turned(paste: Paste, direction: str) -> Paste:
    if paste.corrective and paste.corrective[-1] == direction:
        return paste
    swings = paste.swings + (1 if paste.corrective else 0)
    return replace(paste, corrective=(*paste.corrective, direction), swings=swings)


def check(paste: Paste, event: Event, target: Event | None) -> None:
    """Refuse an act that cannot be: on a batch that is over, taking out more than there is, striking nothing.

    `target` is the act of this batch that a strike names, or None where there is none.
    """
    reopening = event.kind is Kind.STRIKE and target is not None and target.kind in (Kind.FINISH, Kind.ABANDON)
    if paste.status is not Status.OPEN and event.kind not in (Kind.NOTE, Kind.PHOTO) and not reopening:
        raise Refused(
            "kind",
            f"this batch is {paste.status}",
            "a note, a picture, or striking out the finish to take the batch up again",
        )
    mulling = paste.mulling
    match event.kind:
        case Kind.STRIKE:
            if target is None:
                raise Refused("strikes", "no such act in this batch", "the id of an act of this batch")
            if target.kind is Kind.STRIKE:
                raise Refused("strikes", "that is a strike-out itself", "an act that put something in or took it out")
            if target.id in paste.struck:
                raise Refused("strikes", "that act is struck out already", "an act that still counts")
        case Kind.SAMPLE:
            assert event.mass is not None
            _bottle_first(paste)
            if event.mass.median > paste.total_g:
                raise Refused("measure.amount", "more than is on the slab", f"up to {paste.total_g:.2f} g")
        case Kind.DRAW_OIL:
            assert event.mass is not None
            _bottle_first(paste)
            if event.mass.median > paste.oil_g:
                raise Refused("measure.amount", "more oil than is in the paste", f"up to {paste.oil_g:.2f} g")
        case Kind.BY_EYE:
            if paste.by_eye.bottle_g is None:
                raise Refused("kind", "the bottle was not weighed yet", "a tap by eye once the bottle is weighed")
        case Kind.ADDITIVE:
            assert event.mass is not None and event.additive is not None
            if paste.pigment_g <= 0:
                raise Refused("kind", "there is no powder on the slab yet", "additives once the powder is in")
            what, there = event.additive, paste.additives.get(event.additive.source)
            if what.ceiling_per_g is not None:
                most = what.ceiling_per_g * paste.pigment_g - (there.grams / what.additive_fraction if there else 0.0)
                if event.mass.median > most + 1e-6:
                    raise Refused(
                        "measure.amount",
                        f"that is above the ceiling of {what.name.lower()}, {what.ceiling_says}",
                        f"up to {max(0.0, most):.2f} g more; above it only in a trial",
                    )
        case Kind.BOTTLE:
            assert event.bottle_g is not None
            known = paste.by_eye.bottle_g
            if paste.by_eye.taps and known is not None and event.bottle_g > known:
                raise Refused(
                    "bottle_g",
                    f"heavier than before ({known:g} g), though oil was poured",
                    f"up to {known:g} g; or strike out the earlier weight if it was wrong",
                )
        case Kind.MULL:
            if mulling.running_since is not None:
                raise Refused("kind", "the muller runs already", "a pause first")
            if paste.pigment_g <= 0:
                raise Refused("kind", "there is no powder on the slab yet", "mulling once the paste is wet")
            if dusty(paste):
                raise Refused("kind", "there is dust yet", "mulling after a look at wet curds, with no dust left")
        case Kind.PAUSE:
            if mulling.running_since is None:
                raise Refused("kind", "the muller is not running", "a pause while it runs")
        case Kind.SCRAPE | Kind.FINENESS | Kind.LOAD_DONE:
            if mulling.fresh or mulling.load is None:
                raise Refused("kind", "no load is being mulled", "this once the muller was started")
            if event.kind is Kind.LOAD_DONE and mulling.load.ended_by is not None:
                raise Refused("kind", "that load is done already", "the next load, started")
        case Kind.GATHER:
            if mulling.fresh:
                raise Refused("kind", "there are no loads apart", "gathering after a load was mulled")
        case Kind.PHASE:
            if event.phase is SessionPhase.RIGHT:
                raise Refused(
                    "phase",
                    "only a look can say that",
                    ", ".join(p for p in SessionPhase if p is not SessionPhase.RIGHT),
                )
        case Kind.FINISH:
            _bottle_first(paste)
            if paste.pigment_g <= 0 or paste.oil_g <= 0:
                raise Refused("kind", "there is no paint on the slab yet", "finishing after powder and oil are in")
        case _:
            pass


def _bottle_first(paste: Paste) -> None:
    if paste.by_eye.taps:
        taps = f"{paste.by_eye.taps} {'pour' if paste.by_eye.taps == 1 else 'pours'}"
        raise Refused("kind", f"{taps} by eye wait for the bottle's weight", "weighing the oil bottle first")


@dataclass(frozen=True, slots=True)
class Reading:
    """The paste on the wetting scale: median, the 90 % range of reduced PVC, and the bodies of both ends."""

    oil_g_per_100g: float
    reduced_pvc: float
    reduced_low: float
    reduced_high: float
    body: Body
    stiffest: Body
    softest: Body
    volume_ml: float
    density_g_per_ml: float


@dataclass(frozen=True, slots=True)
class Match:
    """One look at even paste against what was expected of it: `sds` above 0 means stiffer than expected."""

    seen: Body
    expected: Body
    sds: float
    counted: bool


def binder_g(oil_g: float, additives: Iterable[Added], facts: Facts) -> float:
    """The binder as g of oil: the oil, and what additives add to it that does not leave."""
    return oil_g + sum(one.what.binder_as_oil_g(one.grams, facts.oil_density_g_per_ml) for one in additives)


def reserve_g(paste: Paste, facts: Facts) -> float:
    """The part of the binder, as g of oil, that planned additives will still bring with them."""
    to_come = 0.0
    for one in facts.additives:
        form_g = missing_additive_g(paste, one)
        own = one.binder_as_oil_g(form_g * one.additive_fraction, facts.oil_density_g_per_ml)
        to_come += own + form_g * (1 - one.additive_fraction)
    return to_come


def gel_oil_to_come_g(paste: Paste, facts: Facts) -> float:
    """The oil that planned gels will still bring."""
    return sum(missing_additive_g(paste, one) * (1 - one.additive_fraction) for one in facts.additives)


def missing_additive_g(paste: Paste, planned: InPaste) -> float:
    """How much of a planned additive, as weighed, is still to come for the powder that is in."""
    if planned.source in paste.left_out:
        return 0.0
    there = paste.additives.get(planned.source)
    form_g = there.grams / planned.additive_fraction if there else 0.0
    missing = planned.planned_per_g * paste.pigment_g - form_g
    return missing if missing > ADDITIVE_SLACK * planned.planned_per_g * paste.pigment_g else 0.0


ADDITIVE_SLACK = 0.05
"""An additive counts as in once all but this fraction of it is: drops are no finer (assumed)."""


def additive_ln_stress(additives: Iterable[Added], pigment_g: float) -> float:
    """By how much additives raise ln yield stress."""
    return sum(one.what.ln_stress * one.grams for one in additives) / pigment_g if pigment_g > 0 else 0.0


def additive_excess(additives: Iterable[Added], pigment_g: float) -> float:
    """By how much reduced PVC reads too high for additives: stress goes with D^-5, D with reduced PVC (assumed)."""
    return additive_ln_stress(additives, pigment_g) / (-5 * SLOPE_LN_D_PER_REDUCED)


def body_wanted(paste: Paste, facts: Facts) -> Body:
    """The body the eye should find at the target, what is stirred in counted."""
    return wetting.body_at(target_now(paste, facts) + additive_excess(paste.additives.values(), paste.pigment_g))


def _weighed_looks(paste: Paste, facts: Facts) -> tuple[float, float, tuple[Match, ...]]:
    """Mean and precision of ln OA after the looks, and how each look matched what was known before it."""
    precision = 1 / max(facts.demand_sd_ln, 1e-6) ** 2
    mean = math.log(facts.oil_absorption_g_per_100g)
    matches: list[Match] = []
    aside: tuple[float, float] | None = None
    for look in paste.looks:
        if look.stage is not Stage.EVEN_PASTE or look.body is None or not look.oil_g_per_100g:
            continue
        excess = _excess(look.mulled_min, facts) + additive_excess(look.additives, look.pigment_g)
        bound = look.oil_g_per_100g
        if look.additives and look.pigment_g > 0:
            bound += 100 * binder_g(0.0, look.additives, facts) / look.pigment_g
        implied = wetting.implied_oil_absorption(
            bound, LOOK_REDUCED[look.body] - excess, facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )  # fmt: skip
        if implied <= 0:
            continue
        said = math.log(implied)
        sds = (said - mean) / math.sqrt(1 / precision + LOOK_SD_LN**2)
        expected = wetting.body_at(
            wetting.reduced_at(bound, math.exp(mean), facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
            + excess
        )
        strange = abs(sds) > STRANGE_LOOK_SDS
        agreed = strange and aside is not None and aside[0] * sds > 0
        for told in (aside[1], said) if agreed and aside is not None else () if strange else (said,):
            mean = (mean * precision + told / LOOK_SD_LN**2) / (precision + 1 / LOOK_SD_LN**2)
            precision += 1 / LOOK_SD_LN**2
        aside = (sds, said) if strange and not agreed else None
        matches.append(Match(look.body, expected, sds, not strange or agreed))
    return mean, precision, tuple(matches)


def _excess(mulled_min: float | None, facts: Facts) -> float:
    """By how much reduced PVC reads too high for want of mulling; nothing where nobody kept time."""
    return 0.0 if mulled_min is None else pours.reading_excess(mulled_min, facts.tau_min)


def matches(paste: Paste, facts: Facts) -> tuple[Match, ...]:
    """How each look at even paste agreed with what the model expected at its moment, oldest first."""
    return _weighed_looks(paste, facts)[2]


def repeated_mismatch(paste: Paste, facts: Facts) -> str:
    """In words, where the last two looks or more were outside what was expected, on the same side; else empty."""
    off = 0.0
    run = 0
    for match in reversed(matches(paste, facts)):
        if abs(match.sds) < Z90 or off * match.sds < 0:
            break
        off, run = match.sds, run + 1
    if run < 2:
        return ""
    side = "stiffer" if off > 0 else "softer"
    cause = "more oil or less powder is in" if off < 0 else "less oil or more powder is in"
    return f"{run} looks running it was {side} than its figures. Perhaps {cause} than is logged, or this lot differs."


def demand_now(paste: Paste, facts: Facts) -> tuple[float, float, Basis]:
    """Oil absorption in this oil (median), sd of its logarithm and basis, after the looks at even paste.

    A look says the demand that makes the ratio stand at the body seen; records weigh by 1/sd^2. A look
    more than three sds off waits for a second that agrees.
    """
    mean, precision, seen = _weighed_looks(paste, facts)
    basis = Basis.LEARNED if any(match.counted for match in seen) else Basis.LIBRARY
    return math.exp(mean), math.sqrt(1 / precision), basis


def read(paste: Paste, facts: Facts) -> Reading | None:
    """Where the paste stands now, or None while there is no powder."""
    ratio = paste.oil_g_per_100g
    if ratio is None:
        return None
    absorption, sd_ln, _ = demand_now(paste, facts)
    factor = math.exp(Z90 * sd_ln)

    bound = 100 * binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g

    def reduced(oil_absorption: float) -> float:
        return wetting.reduced_at(bound, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

    volume = volume_ml(paste, facts)
    return Reading(
        ratio,
        reduced(absorption),
        reduced(absorption / factor),
        reduced(absorption * factor),
        wetting.body_at(reduced(absorption)),
        wetting.body_at(reduced(absorption * factor)),
        wetting.body_at(reduced(absorption / factor)),
        volume,
        paste.total_g / volume,
    )


def volume_ml(paste: Paste, facts: Facts) -> float:
    """The paint there is: powder, oil, and all of the additives, the volatile in them too."""
    added = sum(one.grams / one.what.density_g_per_ml for one in paste.additives.values())
    return paste.pigment_g / facts.pigment_density_g_per_ml + paste.oil_g / facts.oil_density_g_per_ml + added


def target_now(paste: Paste, facts: Facts) -> float:
    """The reduced PVC aimed at: the plan's, or that of the way chosen since."""
    return paste.target_reduced_pvc if paste.target_reduced_pvc is not None else facts.target_reduced_pvc


def target_ratio(paste: Paste, facts: Facts) -> float:
    """The ratio aimed at, with the demand as it is known now."""
    absorption, _, _ = demand_now(paste, facts)
    return ratio_aimed_at(paste, facts, absorption)


def ratio_aimed_at(paste: Paste, facts: Facts, absorption: float) -> float:
    """The ratio of oil in the paste that an oil absorption asks for, additives in it and to come counted as binder."""
    bound = wetting.ratio_at(
        target_now(paste, facts), absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )
    return bound - displaced_g_per_100g(paste, facts)


def displaced_g_per_100g(paste: Paste, facts: Facts) -> float:
    """The oil whose place additives take or will bring, in g for each 100 g of powder."""
    if paste.pigment_g <= 0:
        return 0.0
    own = binder_g(0.0, paste.additives.values(), facts)
    return 100 * (own + reserve_g(paste, facts)) / paste.pigment_g


def ladder_now(paste: Paste, facts: Facts) -> tuple[pours.Pour, ...]:
    """The rungs for the powder that is really in, cumulative from the first gram of oil."""
    if paste.pigment_g <= 0:
        return ()
    absorption, sd_ln, _ = demand_now(paste, facts)
    rungs = pours.ladder(
        paste.pigment_g, absorption, sd_ln, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml,
        target_now(paste, facts), facts.smallest_step_g,
    ).pours  # fmt: skip
    displaced = displaced_g_per_100g(paste, facts) * paste.pigment_g / 100
    if not displaced:
        return rungs
    less = [replace(rung, cumulative_g=max(0.0, rung.cumulative_g - displaced)) for rung in rungs]
    before = [0.0, *(rung.cumulative_g for rung in less)]
    return tuple(replace(rung, step_g=rung.cumulative_g - poured) for rung, poured in zip(less, before, strict=False))


def beyond_ladder(paste: Paste, facts: Facts) -> bool:
    """Whether more oil is in than even the last rung calls for."""
    rungs = ladder_now(paste, facts)
    return bool(rungs) and paste.oil_g > rungs[-1].cumulative_g * (1 + NEAR_ENOUGH)


def dusty(paste: Paste) -> bool:
    """Whether powder may still become airborne: from wet curds on none can."""
    wet = (Stage.WET_CURDS, Stage.COARSE_PASTE, Stage.EVEN_PASTE)
    return paste.pigment_g > 0 and not (paste.looks and paste.looks[-1].stage in wet)


def last_look_here(paste: Paste) -> Look | None:
    """The last look, if nothing went in or came out since that changed the ratio."""
    if not paste.looks:
        return None
    look = paste.looks[-1]
    if look.taps != paste.by_eye.taps or look.additives != tuple(paste.additives.values()):
        return None
    if look.taps:
        return look if look.pigment_g == paste.pigment_g and look.oil_g == paste.oil_g else None
    now = paste.oil_g_per_100g
    same = look.oil_g_per_100g is not None and now is not None and math.isclose(look.oil_g_per_100g, now)
    return look if same else None


def last_even_look(paste: Paste) -> Look | None:
    """The last look, if it was at an even paste, named a body, and the ratio is still what it was."""
    look = last_look_here(paste)
    return look if look is not None and look.stage is Stage.EVEN_PASTE and look.body is not None else None
