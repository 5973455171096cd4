"""The slab: an immutable log of acts, and what is in the paste now as a pure fold over it."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from niddy.core import pours, wetting
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.errors import Refused
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.plan import Facts
from niddy.core.wetting import Body


class Kind(StrEnum):
    """What can happen on a slab."""

    POWDER = "powder"
    OIL = "oil"
    SAMPLE = "sample"
    DRAW_OIL = "draw_oil"
    LOOK = "look"
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
    way: Way | None = None
    target_reduced_pvc: float | None = None
    text: str = ""
    verdict: Verdict | None = None
    filled_ml: float = 0.0
    leftover_ml: float = 0.0


@dataclass(frozen=True, slots=True)
class Look:
    """A look that counts: what the eye saw, and the ratio it saw it at."""

    stage: Stage
    body: Body | None
    oil_g_per_100g: float | None


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

    @property
    def pigment_g(self) -> float:
        return sum(self.pigments.values())

    @property
    def oil_g(self) -> float:
        return sum(self.oils.values())

    @property
    def total_g(self) -> float:
        return self.pigment_g + self.oil_g

    @property
    def oil_g_per_100g(self) -> float | None:
        """The ratio now, or None before there is powder."""
        return 100 * self.oil_g / self.pigment_g if self.pigment_g > 0 else None


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


def after(paste: Paste, event: Event) -> Paste:
    """The paste after one more act, which is no strike: a strike changes the past and needs the whole fold."""
    match event.kind:
        case Kind.POWDER:
            return _added(paste, event, "pigment")
        case Kind.OIL:
            return _added(paste, event, "oil")
        case Kind.SAMPLE:
            assert event.mass is not None
            taken = min(event.mass.median, paste.total_g)
            keep = 1 - taken / paste.total_g if paste.total_g else 1.0
            return replace(
                paste,
                pigments={source: g * keep for source, g in paste.pigments.items()},
                oils={source: g * keep for source, g in paste.oils.items()},
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
            assert event.stage is not None
            look = Look(event.stage, event.body, paste.oil_g_per_100g)
            return replace(paste, looks=(*paste.looks, look))
        case Kind.CHOOSE_WAY:
            return replace(paste, way=event.way, target_reduced_pvc=event.target_reduced_pvc)
        case Kind.FINISH:
            return replace(paste, status=Status.FINISHED, verdict=event.verdict)
        case Kind.ABANDON:
            return replace(paste, status=Status.ABANDONED)
        case _:
            return paste


def _added(paste: Paste, event: Event, what: str) -> Paste:
    assert event.mass is not None and event.source
    grams, half = event.mass.median, event.mass.half_width
    if what == "pigment":
        pigments = dict(paste.pigments)
        pigments[event.source] = pigments.get(event.source, 0.0) + grams
        # Powder after oil is a correction; before, it is the weighing out.
        turned = _turned(paste, "pigment") if paste.poured_g > 0 else paste
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
    if paste.status is not Status.OPEN and event.kind is not Kind.NOTE and not reopening:
        raise Refused(
            "kind",
            f"this batch is {paste.status}",
            "a note, or striking out the finish to take the batch up again",
        )
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
            if event.mass.median > paste.total_g:
                raise Refused("measure.amount", "more than is on the slab", f"up to {paste.total_g:.2f} g")
        case Kind.DRAW_OIL:
            assert event.mass is not None
            if event.mass.median > paste.oil_g:
                raise Refused("measure.amount", "more oil than is in the paste", f"up to {paste.oil_g:.2f} g")
        case Kind.FINISH:
            if paste.pigment_g <= 0 or paste.oil_g <= 0:
                raise Refused("kind", "there is no paint on the slab yet", "finishing after powder and oil are in")
        case _:
            pass


@dataclass(frozen=True, slots=True)
class Reading:
    """The paste on the wetting scale: median, the 90 % range of reduced PVC, and the bodies of both ends."""

    oil_g_per_100g: float
    reduced_pvc: float
    body: Body
    stiffest: Body
    softest: Body
    volume_ml: float
    density_g_per_ml: float


def demand_now(paste: Paste, facts: Facts) -> tuple[float, float, Basis]:
    """Oil absorption in this oil (median), sd of its logarithm and basis, after the looks at even paste.

    A look says the demand that makes the ratio stand at the body seen; records weigh by 1/sd^2.
    """
    precision = 1 / max(facts.demand_sd_ln, 1e-6) ** 2
    weighted = precision * math.log(facts.oil_absorption_g_per_100g)
    told = False
    for look in paste.looks:
        if look.stage is not Stage.EVEN_PASTE or look.body is None or not look.oil_g_per_100g:
            continue
        implied = wetting.implied_oil_absorption(
            look.oil_g_per_100g,
            LOOK_REDUCED[look.body],
            facts.pigment_density_g_per_ml,
            facts.oil_density_g_per_ml,
        )
        if implied > 0:
            precision += 1 / LOOK_SD_LN**2
            weighted += math.log(implied) / LOOK_SD_LN**2
            told = True
    basis = Basis.LEARNED if told else Basis.LIBRARY
    return math.exp(weighted / precision), math.sqrt(1 / precision), basis


def read(paste: Paste, facts: Facts) -> Reading | None:
    """Where the paste stands now, or None while there is no powder."""
    ratio = paste.oil_g_per_100g
    if ratio is None:
        return None
    absorption, sd_ln, _ = demand_now(paste, facts)
    factor = math.exp(Z90 * sd_ln)

    def reduced(oil_absorption: float) -> float:
        return wetting.reduced_at(ratio, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

    volume = paste.pigment_g / facts.pigment_density_g_per_ml + paste.oil_g / facts.oil_density_g_per_ml
    return Reading(
        ratio,
        reduced(absorption),
        wetting.body_at(reduced(absorption)),
        wetting.body_at(reduced(absorption * factor)),
        wetting.body_at(reduced(absorption / factor)),
        volume,
        paste.total_g / volume,
    )


def target_now(paste: Paste, facts: Facts) -> float:
    """The reduced PVC aimed at: the plan's, or that of the way chosen since."""
    return paste.target_reduced_pvc if paste.target_reduced_pvc is not None else facts.target_reduced_pvc


def target_ratio(paste: Paste, facts: Facts) -> float:
    """The ratio aimed at, with the demand as it is known now."""
    absorption, _, _ = demand_now(paste, facts)
    return wetting.ratio_at(
        target_now(paste, facts), absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml
    )


def ladder_now(paste: Paste, facts: Facts) -> tuple[pours.Pour, ...]:
    """The rungs for the powder that is really in, cumulative from the first gram of oil."""
    if paste.pigment_g <= 0:
        return ()
    absorption, sd_ln, _ = demand_now(paste, facts)
    return pours.ladder(
        paste.pigment_g, absorption, sd_ln, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml,
        target_now(paste, facts), facts.smallest_step_g,
    ).pours  # fmt: skip


def beyond_ladder(paste: Paste, facts: Facts) -> bool:
    """Whether more oil is in than even the last rung calls for."""
    rungs = ladder_now(paste, facts)
    return bool(rungs) and paste.oil_g > rungs[-1].cumulative_g * (1 + NEAR_ENOUGH)


def dusty(paste: Paste) -> bool:
    """Whether powder may still become airborne: from wet curds on none can."""
    wet = (Stage.WET_CURDS, Stage.COARSE_PASTE, Stage.EVEN_PASTE)
    return paste.pigment_g > 0 and not (paste.looks and paste.looks[-1].stage in wet)


def last_even_look(paste: Paste) -> Look | None:
    """The last look at an even paste that named a body, if no other act changed the ratio since."""
    for look in reversed(paste.looks):
        if look.stage is Stage.EVEN_PASTE and look.body is not None:
            now = paste.oil_g_per_100g
            same = look.oil_g_per_100g is not None and now is not None and math.isclose(look.oil_g_per_100g, now)
            return look if same else None
    return None
