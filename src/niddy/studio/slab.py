"""The slab: recording acts in a batch's log, and the view a gloved maker glances at."""

from __future__ import annotations

import re
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime
from typing import Annotated, Any
from uuid import UUID, uuid5

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from niddy.core import measures, mulling, slab, wetting
from niddy.core.additives import InPaste, Moment, beside_the_plan
from niddy.core.advice import Advice, Planned, advise, phase_now
from niddy.core.batches import Difference, compare
from niddy.core.cautions import Caution, Level
from niddy.core.errors import MAX_VOLUME_ML, MIN_MASS_G, Refused
from niddy.core.estimate import Z90, Basis, Estimate
from niddy.core.figure import Figure, Input, Working
from niddy.core.materials import BLEND, TAU_MIN, coarsest
from niddy.core.measures import Measure, Unit
from niddy.core.mulling import EndedBy, Muller, MullingNow
from niddy.core.plan import (
    ASBECK,
    MULL_DISPERSION_TIMES,
    Bench,
    Plan,
    Scale,
    Tubes,
    mull_minutes,
    pigment_and_oil_only,
    shifted,
)
from niddy.core.sizing import HANDLING_MIN_PER_LOAD, tubes_filled
from niddy.core.slab import (
    Event,
    Gloss,
    Grit,
    Kind,
    Paste,
    Reading,
    SessionPhase,
    Spread,
    Stage,
    Status,
    StringLength,
    Verdict,
    Way,
)
from niddy.core.story import Story, story
from niddy.core.ways import LoadSize, WayBack, ways
from niddy.core.wetting import Body
from niddy.studio import additives, batches, late, materials, photos, recipes, rubout, workshop
from niddy.studio import plan as plans
from niddy.studio.amounts import Grams
from niddy.studio.batches import BatchKept, Filled, Keeping, Logged
from niddy.studio.errors import Conflict
from niddy.studio.late import CameLate
from niddy.studio.materials import Asked
from niddy.studio.plan import PlanAsked, TubesAsked
from niddy.studio.times import act_time
from niddy.studio.words import Words

OVERFILL_SLACK = 1.15
"""Tubes and leftover may sum to this much of the computed paint: air and full marks stretch it (assumed)."""

LOG_SHOWN = 24
"""So many of the last acts the slab shows; the batch page has them all."""

PAGE_SHOWN = 100
"""So many of the last acts the batch page shows at once."""

STORY_FROM = 2_000
"""The story of a session is told from so many acts at most; more than a day at the slab has."""


class AmountAsked(BaseModel):
    """An amount as the maker measured it."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    unit: Unit = Unit.GRAM
    amount: Annotated[float, Field(strict=True, ge=0.001, le=100_000)] | None = None
    before_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None
    after_g: Annotated[float, Field(strict=True, ge=-20_000, le=20_000)] | None = None


class Act(BaseModel):
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

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

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
class Ingredient:
    """One material on the slab: how much is in, how much the plan has, what the shelf still holds."""

    source: str
    name: str
    lot_code: str
    masstone_srgb: str | None
    in_g: float
    planned_g: float
    on_hand_g: float | None
    density_g_per_ml: float
    loose_density_g_per_ml: float | None
    loose_density_measured: bool
    drop_g: float | None
    drop_measured: bool


@dataclass(frozen=True, slots=True)
class AdditiveNow:
    """One additive of the batch, in g of the tin or pot it comes from: planned for the powder in, in, still to come."""

    source: str
    name: str
    moment: Moment
    planned_g: float
    in_g: float
    missing_g: float
    left_out: bool
    density_g_per_ml: float
    drop_g: float | None
    drop_measured: bool


@dataclass(frozen=True, slots=True)
class RungNow:
    """One rung of the ladder for the powder that is in: done, next, or to come."""

    quantile: float
    cumulative_g: float
    step_g: float
    state: str


@dataclass(frozen=True, slots=True)
class TimelineEntry:
    """One act in words, its material and measure as sent, and what the paste was after it."""

    id: UUID
    seq: int
    kind: Kind
    made_at: datetime
    text: str
    source: str
    measure: dict[str, Any] | None
    grams: float | None
    spread_g: float | None
    struck: bool
    can_strike: bool
    oil_g_per_100g: float | None
    body: Body | None
    expected: Body | None
    as_expected: bool | None
    minutes: float | None


@dataclass(frozen=True, slots=True)
class SlabView:
    """All that the slab screen shows."""

    number: int
    name: str
    status: Status
    verdict: Verdict | None
    now: datetime
    last_seq: int
    masstone_srgb: str
    undertone_srgb: str
    pigments: tuple[Ingredient, ...]
    oil: Ingredient
    additives: tuple[AdditiveNow, ...]
    pigment_and_oil_only: bool
    use_by: date | None
    trial: bool
    tubes: tuple[Tubes, ...]
    bench: Bench | None
    in_paste_g: float
    sampled_g: float
    ratio: Figure | None
    reduced_pvc: Figure | None
    volume: Figure | None
    fills: str
    body: Body | None
    body_says: str
    target_reduced_pvc: float
    target_body: Body
    scale: Scale
    rungs: tuple[RungNow, ...]
    advice: Advice
    ways: tuple[WayBack, ...]
    stage: Stage | None
    phase: SessionPhase
    ready: bool
    must_be_ready: bool
    mulling: MullingNow
    last_minutes_per_load: float | None
    target_fineness_um: float | None
    taps_by_eye: int
    bottle_g: float | None
    doubt: str
    shortage: str
    dusty: bool
    cautions: tuple[Caution, ...]
    caution_always: str
    caution_deference: str
    timeline: tuple[TimelineEntry, ...]
    earlier: int
    late: tuple[LateNow, ...] = ()


@dataclass(frozen=True, slots=True)
class LateNow:
    """An act that came when the batch was over: in words, when it was made, and whether it can be taken in."""

    id: UUID
    text: str
    made_at: datetime
    came_at: datetime
    can_take: bool


@dataclass(frozen=True, slots=True)
class PhotoAsked:
    """What comes with a picture: the act's id, when it was taken, and a few words if any."""

    id: UUID
    made_at: datetime
    text: str = ""


def take_to_slab(session: Session, now: datetime, request_id: UUID, asked: PlanAsked) -> int:
    """Make a batch of a plan; its number. The same `request_id` again gives the same batch."""
    planned = plans.compute(session, asked)
    keys = [weigh.pigment.key for weigh in planned.plan.lines if weigh.extends_pct is None]
    oil_keys = [part.key for part in planned.plan.oil.parts] or [planned.plan.oil.key]
    asked = recipes.followed(session, asked, keys, oil_keys)
    return batches.open_batch(session, now, request_id, planned.plan, asked.model_dump(mode="json"))


def record(session: Session, now: datetime, number: int, act: Act) -> SlabView:
    """Log an act and say what the slab looks like after it.

    Sending the same act again changes nothing. Raises Refused, Missing, and Conflict where the id is
    taken by another act.
    """
    kept = keep(session, now, number, act)
    return view_of(session, now, kept) if kept is not None else view(session, now, number)


def keep(session: Session, now: datetime, number: int, act: Act) -> BatchKept | None:
    """Log an act, as `record` does; the batch after it, or None where it was logged before."""
    payload = act.payload()
    kept, earlier = batches.lock(session, number, act.id)
    if earlier is not None:
        if earlier.payload != payload:
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return None
    if kept.status is not Status.OPEN and act.kind is not Kind.NOTE and _came_late(kept, act):
        act_time("made_at", act.made_at, now)
        _check_whole(act)
        late.keep(session, now, number, act.id, act.kind, payload, act.made_at)
        return None
    if act.kind is Kind.PHOTO:
        raise Refused("kind", "a picture comes by its own address", f"the picture itself, to /api/slab/{number}/photos")
    return _log(session, now, kept, act, payload)


def _came_late(kept: BatchKept, act: Act) -> bool:
    return act.waited or (kept.ended_at is not None and act.made_at < kept.ended_at)


def decide_late(session: Session, now: datetime, number: int, act_id: UUID, *, take_in: bool, words: str) -> SlabView:
    """Take an act that came late into the record of its batch, or leave it out with a few words why.

    Taken in, it changes the paste, the stock and what the batch teaches, as if it had come in time.
    Raises Refused, Conflict, Missing.
    """
    batches.hold(session, number)
    found = late.decide(session, now, number, act_id, take_in=take_in, words=words)
    if found is not None:
        act = Act.model_validate({**found.payload, "made_at": found.made_at})
        kept, _ = batches.lock(session, number, act_id)
        if take_in:
            _log(session, now, kept, act, act.payload(), late_taken=True)
        else:
            note = Act(id=uuid5(act_id, "left"), kind=Kind.NOTE, made_at=now,
                       text=f"came late, left out: {_late_words(kept, found)}. {words.strip()}"[:2000])  # fmt: skip
            _log(session, now, kept, note, note.payload())
    return view(session, now, number)


def stirred_in_already(
    session: Session, now: datetime, number: int, act_id: UUID, what: InPaste, grams: float, keeps_days: int | None
) -> None:
    """Log an additive that an old paint brings with it: nothing is drawn from stock, and no ceiling can refuse it.

    `grams` are of the additive itself: what was oil in a gel is in the old paint's oil.
    """
    source = f"old-{act_id.hex[:8]}"
    there = replace(what, source=source, additive_fraction=1.0, planned_per_g=0.0, ceiling_per_g=None, drop_g=None,
                    keeps_days=keeps_days)  # fmt: skip
    kept, earlier = batches.lock(session, number, act_id)
    if earlier is not None:
        return
    amount = max(MIN_MASS_G, grams)
    act = Act(id=act_id, kind=Kind.ADDITIVE, made_at=now, source=source, measure=AmountAsked(amount=amount))
    _log(session, now, kept, act, act.payload(), known={**_mass_facts(act), "additive": asdict(there)})


def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> SlabView:
    """Keep a picture of the paste, scaled down, and log it. Sent again, it changes nothing.

    Raises Refused for what is no picture or has too many pixels, Missing, Conflict.
    """
    scaled = photos.scaled(picture)
    act = Act(id=asked.id, kind=Kind.PHOTO, made_at=asked.made_at, text=asked.text or None)
    payload = act.payload()
    kept, earlier = batches.lock(session, number, act.id)
    if earlier is not None:
        if earlier.payload != payload:
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return view(session, now, number)
    after = _log(session, now, kept, act, payload)
    photos.keep(session, number, act.id, scaled)
    return view_of(session, now, after)


def _log(
    session: Session, now: datetime, kept: BatchKept, act: Act, payload: dict[str, Any],
    *, late_taken: bool = False, known: dict[str, Any] | None = None,
) -> BatchKept:  # fmt: skip
    """Log an act. `known` are its facts where the door need not find them; `late_taken`: the batch is over already."""
    number = kept.number
    act_time("made_at", act.made_at, now)

    before = kept.paste
    facts = known if known is not None else _facts(session, now, kept, act)
    if late_taken:
        facts["late"] = True
    event = batches.event_of(act.id, kept.last_seq + 1, act.kind, act.made_at, payload, facts)
    target = batches.act(session, number, event.strikes) if event.strikes else None
    struck = target.event if target else None
    if target is not None and target.struck:
        before = replace(before, struck=frozenset({target.event.id}))
    slab.check(replace(before, status=Status.OPEN) if late_taken else before, event, struck)
    _check_finish(kept, act, facts)

    if event.kind is Kind.STRIKE:
        paste = slab.fold([*(logged.event for logged in batches.log(session, number)), event])
    else:
        paste = slab.after(before, event)
    _move_stock(session, now, number, kept.plan, event, struck)
    if event.kind is Kind.ADDITIVE and event.source.startswith("lot-"):
        batches.note_lot(session, number, int(event.source.removeprefix("lot-")))
    _move_bottle(session, now, number, kept.plan, event, before, paste)
    if paste.use_by != before.use_by:
        batches.note_use_by(session, number, paste.use_by)
    reading = slab.read(paste, kept.plan.facts)
    if event.kind in (Kind.PAUSE, Kind.LOAD_DONE, Kind.FINENESS) and paste.mulling.load is not None:
        facts["load"] = paste.mulling.at + 1
        facts["minutes_in_load"] = paste.mulling.load.seconds / 60
    if event.kind is Kind.LOOK:
        told = slab.matches(paste, kept.plan.facts)
        if told and len(told) > len(slab.matches(before, kept.plan.facts)):
            facts["expected"] = {"body": told[-1].expected, "sds": told[-1].sds}
    if (event.mass is not None or event.kind is Kind.BOTTLE) and reading is not None and paste.oil_g > 0:
        facts["after"] = {"oil_g_per_100g": reading.oil_g_per_100g, "body": reading.body}
    filled = Filled()
    if paste.status is Status.FINISHED:
        last = Logged(event, payload, facts) if event.kind is Kind.FINISH else last_finish(session, number, paste)
        if last is not None:
            filled = Filled(
                last.event.filled_ml, last.event.leftover_ml, sum(t["count"] for t in last.payload.get("tubes", []))
            )
    logged = Logged(event, payload, facts)
    batches.append(session, now, number, logged, paste, reading.volume_ml if reading else 0.0, filled)
    recent = batches.log(session, number, LOG_SHOWN)
    paste = replace(paste, struck=batches.struck_among(recent))
    _teach(session, now, kept, paste, again=late_taken)
    if kept.status is Status.FINISHED and paste.status is not Status.FINISHED:
        batches.note_release(session, number, None)
    return replace(
        kept, status=paste.status, verdict=paste.verdict, last_seq=event.seq, paste=paste, log=recent,
        earlier=event.seq - len(recent),
    )  # fmt: skip


def _teach(session: Session, now: datetime, kept: BatchKept, paste: Paste, *, again: bool = False) -> None:
    """A finish, or its striking out, changes what a lot's demand rests on; blends cannot say which part it was."""
    if (
        (paste.status is kept.status and not again)
        or len(kept.plan.lines) != 1
        or Status.FINISHED not in (paste.status, kept.status)
    ):
        return
    # What an additive did to the body is assumed, so such a batch says too little of the powder.
    if paste.additives:
        return
    pigment, facts = kept.plan.lines[0].pigment, kept.plan.facts
    verdict = paste.verdict if paste.status is Status.FINISHED else None
    rubout.note_verdict(
        session, now, kept.number, pigment.source, pigment.key, verdict, paste.oil_g_per_100g,
        slab.target_now(paste, facts), facts,
    )  # fmt: skip


def last_finish(session: Session, number: int, paste: Paste) -> Logged | None:
    """The finish that counts, if the batch is finished."""
    if paste.status is not Status.FINISHED:
        return None
    counting = [logged for logged in batches.finishes(session, number) if not logged.struck]
    return counting[-1] if counting else None


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


def _check_whole(act: Act) -> None:
    """Refuse an act that lacks what its kind cannot be without."""
    for field, accepted in _NEEDS.get(act.kind, {}).items():
        value = getattr(act, field)
        if value is None or (isinstance(value, str) and not value.strip()):
            raise Refused(field, "missing" if value is None else "empty", accepted)


def _facts(session: Session, now: datetime, kept: BatchKept, act: Act) -> dict[str, Any]:
    """What the door makes of an act: grams from the measure, millilitres from the tubes, words for the log."""
    _check_whole(act)
    match act.kind:
        case Kind.POWDER:
            if must_be_ready(kept):
                raise Refused("kind", "the kit was not checked yet", "powder once mask, gloves and tools are ready")
            return _powder_facts(kept, act)
        case Kind.BY_EYE:
            if act.source != kept.plan.oil.source:
                raise Refused("source", f"'{act.source}' is not this batch's oil", kept.plan.oil.source)
        case Kind.MULL:
            muller = _mulling_now(kept.paste, kept.plan, now)
            count = len(muller.loads)
            if act.load is not None and act.load > count:
                raise Refused("load", f"there is no load {act.load}", f"1 to {count}")
            return {"of_loads": count, "load": act.load or muller.load}
        case Kind.FINENESS:
            return {"target_fineness_um": kept.plan.facts.target_fineness_um}
        case Kind.OIL:
            oil = kept.plan.oil
            if act.source != oil.source:
                raise Refused("source", f"'{act.source}' is not this batch's oil", oil.source)
            return _mass_facts(
                act, density=oil.density_g_per_ml, drop_g=oil.drop_g if oil.drop_measured else None,
                drop_measured=oil.drop_measured,
            )  # fmt: skip
        case Kind.ADDITIVE:
            return _additive_facts(session, now, kept, act)
        case Kind.LEAVE_OUT:
            accepted = " or ".join(one.source for one in kept.plan.facts.additives) or "nothing: none is planned"
            if act.source not in [one.source for one in kept.plan.facts.additives]:
                raise Refused("source", f"'{act.source}' is not a planned additive", accepted)
        case Kind.SAMPLE | Kind.DRAW_OIL:
            return _mass_facts(act, density=kept.plan.oil.density_g_per_ml if act.kind is Kind.DRAW_OIL else None)
        case Kind.CHOOSE_WAY:
            return _way_facts(session, kept, act)
        case Kind.FINISH:
            filled = workshop.tubes(session, [(tube.tube_type_id, tube.count) for tube in act.tubes or []])
            return {
                "filled_ml": sum(tube.usable_ml * tube.count for tube in filled),
                "tubes": [f"{tube.count} x {tube.name}" for tube in filled if tube.count],
            }
    return {}


def _powder_facts(kept: BatchKept, act: Act) -> dict[str, Any]:
    for line in kept.plan.lines:
        if line.pigment.source == act.source:
            return _mass_facts(
                act,
                loose_density=line.pigment.loose_density_g_per_ml,
                loose_density_measured=line.pigment.loose_density_measured,
            )
    accepted = " or ".join(line.pigment.source for line in kept.plan.lines)
    raise Refused("source", f"'{act.source}' is not in this batch", accepted)


def _additive_facts(session: Session, now: datetime, kept: BatchKept, act: Act) -> dict[str, Any]:
    """An additive's grams, and what the paste needs to know of it: as planned, or looked up where it was not."""
    asked = PlanAsked.model_validate(kept.asked)
    recipes.check_stance(session, asked.recipe_id, asked.recipe_version, "source")
    what = next((one for one in kept.plan.facts.additives if one.source == act.source), None)
    if what is None:
        what = _additive_beside(session, kept, act.source or "")
    if what.source.startswith("lot-"):
        lot = materials.lot(session, int(what.source.removeprefix("lot-")))
        if lot.use_by is not None and lot.use_by < now.date():
            raise Refused("source", f"lot {lot.code} is past its use-by, {lot.use_by}", "a fresh one")
    told = _mass_facts(act, density=what.density_g_per_ml, drop_g=what.drop_g, drop_measured=what.drop_measured)
    return {**told, "additive": asdict(what)}


def _additive_beside(session: Session, kept: BatchKept, source: str) -> InPaste:
    """An additive that the plan did not have, by the name the log would give it."""
    known = re.fullmatch(r"lot-(\d{1,9})|library-([a-z0-9-]+)", source)
    if known is None:
        raise Refused("source", f"'{source}' names no additive", "lot-N of an additive or gel, or library-KEY")
    lot_id = int(known[1]) if known[1] else None
    stirred = materials.dosings(session, [(Asked(lot_id, known[2]), 0.0)], additives.taught(session), "source")
    if not stirred.dosings:
        raise Refused("source", "an extender is weighed in with the dry powder", "a plan with it")
    return beside_the_plan(stirred.dosings[0], kept.plan.ratio.value / 100, trial=kept.plan.trial)


def _mass_facts(act: Act, **known: Any) -> dict[str, Any]:
    if act.measure is None:
        raise Refused("measure", "missing", "an amount and its unit")
    asked = act.measure
    said = _said(asked)
    try:
        mass = measures.to_grams(Measure(asked.unit, asked.amount, asked.before_g, asked.after_g), **known)
    except Refused as refusal:
        raise refusal.under("measure") from None
    return {
        "mass": {"median": mass.median, "low": mass.low, "high": mass.high, "basis": mass.basis},
        "said": said,
    }


def _said(asked: AmountAsked, *, grams: bool = False) -> str:
    """An amount as it was measured; empty where that was grams, unless they are wanted."""
    if asked.unit in (Unit.WEIGH_BACK, Unit.WEIGH_IN):
        what = "bottle" if asked.unit is Unit.WEIGH_BACK else "balance"
        return f"{what} {asked.before_g or 0:g} to {asked.after_g or 0:g} g"
    if asked.amount is None or (asked.unit is Unit.GRAM and not grams):
        return ""
    plural = "s" if asked.amount != 1 and asked.unit not in (Unit.MILLILITRE, Unit.GRAM) else ""
    return f"{asked.amount:g} {measures.UNIT_NAMES[asked.unit]}{plural}"


def _way_facts(session: Session, kept: BatchKept, act: Act) -> dict[str, Any]:
    open_ways = _ways(session, kept)
    for way in open_ways:
        if way.way is act.way:
            return {"target_reduced_pvc": way.target_reduced_pvc, "said": way.title}
    raise Refused(
        "way",
        "not open to this paste now",
        ", ".join(way.way for way in open_ways) or "none: it is on target",
    )


def _check_finish(kept: BatchKept, act: Act, facts: dict[str, Any]) -> None:
    if act.kind is not Kind.FINISH:
        return
    reading = slab.read(kept.paste, kept.plan.facts)
    made = reading.volume_ml if reading else 0.0
    claimed = facts["filled_ml"] + (act.leftover_ml or 0.0)
    if claimed > made * OVERFILL_SLACK:
        field = "tubes" if facts["filled_ml"] > made * OVERFILL_SLACK else "leftover_ml"
        raise Refused(
            field,
            f"{claimed:.1f} ml in all is more than the {made:.1f} ml made",
            f"up to {made * OVERFILL_SLACK:.1f} ml",
        )


def _move_stock(session: Session, now: datetime, number: int, plan: Plan, event: Event, struck: Event | None) -> None:
    moved = struck if event.kind is Kind.STRIKE else event
    if moved is None or moved.kind not in (Kind.POWDER, Kind.OIL, Kind.ADDITIVE):
        return
    assert moved.mass is not None
    move = materials.use if moved is event else materials.give_back
    for lot_id, grams, event_id in _drawn(plan, moved.source, moved.mass.median, event.id):
        move(session, now, lot_id, grams, event_id, number)


def _drawn(plan: Plan, source: str, grams: float, event_id: UUID) -> list[tuple[int, float, UUID]]:
    """What an act draws from which lots; from a blend each oil's share, under an id of its own."""
    if source == BLEND:
        return [
            (part.lot_id, grams * part.share, uuid5(event_id, part.source))
            for part in plan.oil.parts
            if part.lot_id is not None
        ]
    return [(int(source.removeprefix("lot-")), grams, event_id)] if source.startswith("lot-") else []


def _move_bottle(
    session: Session, now: datetime, number: int, plan: Plan, event: Event, before: Paste, paste: Paste
) -> None:
    """Oil told by the bottle's weight moves with every act that changes what the weighings come to."""
    change = paste.by_eye.used_g - before.by_eye.used_g
    source = paste.by_eye.source or before.by_eye.source
    if abs(change) < 1e-9:
        return
    move = materials.use if change > 0 else materials.give_back
    for lot_id, grams, event_id in _drawn(plan, source, abs(change), event.id):
        move(session, now, lot_id, grams, event_id, number)


def must_be_ready(kept: BatchKept) -> bool:
    """Whether the kit has to be checked before powder: these materials can harm, and none is in yet."""
    strict = any(caution.level is Level.STRICT for caution in kept.plan.cautions)
    return strict and not kept.paste.ready and kept.paste.pigment_g <= 0


def _muller(plan: Plan) -> Muller:
    particle = coarsest([w.pigment.particle for w in plan.lines])
    minutes = mull_minutes(particle, plan.bench) if plan.bench else MULL_DISPERSION_TIMES * TAU_MIN[particle]
    load_ml = plan.load_volume.value if plan.load_volume else None
    return Muller(load_ml, minutes, minutes / MULL_DISPERSION_TIMES)


def _mulling_now(paste: Paste, plan: Plan, now: datetime) -> MullingNow:
    return mulling.now(paste.mulling, _muller(plan), slab.volume_ml(paste, plan.facts), now)


def view(session: Session, now: datetime, number: int) -> SlabView:
    """The slab of a batch as it is. Raises Missing."""
    return view_of(session, now, batches.batch(session, number, LOG_SHOWN))


def view_of(session: Session, now: datetime, kept: BatchKept) -> SlabView:
    """The slab of a batch already read from the record."""
    plan, facts, paste = kept.plan, kept.plan.facts, kept.paste
    reading = slab.read(paste, facts)
    lines = planned_lines(plan)
    left = _on_hand(session, plan)
    muller = _mulling_now(paste, plan, now)
    advice = advise(paste, facts, lines, muller)
    ratio, reduced, volume = _figures(paste, plan, reading)
    target = slab.target_now(paste, facts)
    return SlabView(
        number=kept.number,
        name=kept.name,
        status=paste.status,
        verdict=paste.verdict,
        now=now,
        last_seq=kept.last_seq,
        masstone_srgb=plan.masstone_srgb,
        undertone_srgb=plan.undertone_srgb,
        pigments=tuple(
            Ingredient(
                line.pigment.source, line.pigment.name, line.pigment.lot_code, line.pigment.masstone_srgb,
                paste.pigments.get(line.pigment.source, 0.0), line.mass.value, left.get(line.pigment.source),
                line.pigment.density_g_per_ml, line.pigment.loose_density_g_per_ml, line.pigment.loose_density_measured,
                None, False,
            )
            for line in plan.lines
        ),
        oil=Ingredient(
            plan.oil.source, plan.oil.name, plan.oil.lot_code, None, paste.oil_g, plan.oil_mass.value,
            left.get(plan.oil.source), plan.oil.density_g_per_ml, None, False,
            plan.oil.drop_g if plan.oil.drop_measured else None, plan.oil.drop_measured,
        ),
        additives=_additives_now(paste, plan),
        pigment_and_oil_only=pigment_and_oil_only(
            plan.oil, [one.what.name for one in paste.additives.values()],
            any(paste.pigments.get(w.pigment.source) for w in plan.lines if w.extends_pct is not None),
        ),
        use_by=paste.use_by,
        trial=plan.trial,
        tubes=plan.tubes,
        bench=plan.bench,
        in_paste_g=paste.total_g,
        sampled_g=paste.sampled_g,
        ratio=ratio,
        reduced_pvc=reduced,
        volume=volume,
        fills=_fills(plan, reading),
        body=reading.body if reading else None,
        body_says=_body_says(reading) if reading and paste.oil_g > 0 else "",
        target_reduced_pvc=target,
        target_body=slab.body_wanted(paste, facts),
        scale=_scale(paste, plan),
        rungs=_rungs(paste, plan),
        advice=advice,
        ways=_ways(session, kept, left),
        stage=paste.looks[-1].stage if paste.looks else None,
        phase=phase_now(paste, facts, lines, muller),
        ready=paste.ready,
        must_be_ready=must_be_ready(kept),
        mulling=muller,
        last_minutes_per_load=facts.last_minutes_per_load,
        target_fineness_um=facts.target_fineness_um,
        taps_by_eye=paste.by_eye.taps,
        bottle_g=paste.by_eye.bottle_g,
        doubt=slab.repeated_mismatch(paste, facts),
        shortage=_shortage(advice, lines, left),
        dusty=slab.dusty(paste),
        cautions=batches.cautions_now(kept),
        caution_always=plan.caution_always,
        caution_deference=plan.caution_deference,
        timeline=timeline(kept),
        earlier=kept.earlier,
        late=_late_now(session, kept),
    )  # fmt: skip


def _late_now(session: Session, kept: BatchKept) -> tuple[LateNow, ...]:
    if not kept.late_waiting:
        return ()
    return tuple(
        LateNow(one.id, _late_words(kept, one), one.made_at, one.came_at, one.can_take)
        for one in late.waiting(session, kept.number)
    )


def _late_words(kept: BatchKept, one: CameLate) -> str:
    """The act in words; its amount as it was measured, since its grams were never worked out."""
    event = batches.event_of(one.id, 0, one.kind, one.made_at, one.payload, {"said": _measured(one.payload)})
    return _words(Logged(event, one.payload, {}), _names(kept), {})


def _measured(payload: dict[str, Any]) -> str:
    measure = payload.get("measure")
    return _said(AmountAsked.model_validate(measure), grams=True) if measure else ""


def _additives_now(paste: Paste, plan: Plan) -> tuple[AdditiveNow, ...]:
    """The planned additives, then what else was stirred in."""
    planned = {one.source: one for one in plan.facts.additives}
    beside = {source: one.what for source, one in paste.additives.items() if source not in planned}
    shown = []
    for source, one in {**planned, **beside}.items():
        there = paste.additives.get(source)
        powder = paste.pigment_g or plan.pigment_mass.value
        shown.append(
            AdditiveNow(
                source, one.name, one.moment, one.planned_per_g * powder if source in planned else 0.0,
                there.grams / one.additive_fraction if there else 0.0, slab.missing_additive_g(paste, one),
                source in paste.left_out, one.density_g_per_ml, one.drop_g, one.drop_measured,
            )
        )  # fmt: skip
    return tuple(shown)


def planned_lines(plan: Plan) -> tuple[Planned, ...]:
    """The powders of a plan as advice needs them."""
    return tuple(Planned(w.pigment.source, w.pigment.name, w.mass.value, w.share) for w in plan.lines)


def _on_hand(session: Session, plan: Plan) -> dict[str, float]:
    lots = {w.pigment.lot_id: w.pigment.source for w in plan.lines if w.pigment.lot_id is not None}
    if plan.oil.lot_id is not None:
        lots[plan.oil.lot_id] = plan.oil.source
    for line in plan.additives:
        if line.dosing.lot_id is not None:
            lots[line.dosing.lot_id] = line.dosing.source
    blended = {part.lot_id: part.share for part in plan.oil.parts if part.lot_id is not None}
    left = materials.on_hand(session, [*lots, *blended])
    told = {lots[lot_id]: grams for lot_id, grams in left.items() if lot_id in lots}
    if blended:
        told[plan.oil.source] = min(left[lot_id] / share for lot_id, share in blended.items())
    return told


def _ways(session: Session, kept: BatchKept, left: dict[str, float] | None = None) -> tuple[WayBack, ...]:
    paste = kept.paste
    if paste.status is not Status.OPEN:
        return ()
    plan = kept.plan
    load = None
    if plan.bench is not None and plan.load_volume is not None:
        particle = coarsest([w.pigment.particle for w in plan.lines])
        load = LoadSize(plan.load_volume.value, mull_minutes(particle, plan.bench) + HANDLING_MIN_PER_LOAD)
    tube_ml = plan.tubes[0].usable_ml if plan.tubes else None
    on_hand = _on_hand(session, plan) if left is None else left
    return ways(paste, plan.facts, planned_lines(plan), on_hand, load, tube_ml)


def _scale(paste: Paste, plan: Plan) -> Scale:
    facts = plan.facts
    absorption, sd_ln, looked = slab.demand_now(paste, facts)
    demand = Estimate.lognormal(absorption, sd_ln, plan.scale.basis if looked is Basis.LIBRARY else looked)
    aim = slab.target_now(paste, facts)

    def ratio(oil_absorption: float) -> float:
        return max(0.0, slab.ratio_aimed_at(paste, facts, oil_absorption))

    seen = "" if looked is Basis.LIBRARY else "; and what your eye said at this slab"
    return Scale(
        shifted(
            wetting.scale_zones(absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml),
            slab.displaced_g_per_100g(paste, facts),
        ),
        aim, ratio(demand.median), ratio(demand.low), ratio(demand.high), demand.basis, plan.scale.says + seen,
    )  # fmt: skip


def _rungs(paste: Paste, plan: Plan) -> tuple[RungNow, ...]:
    if paste.pigment_g <= 0:
        return tuple(
            RungNow(r.quantile, r.cumulative_g, r.step_g, "next" if n == 0 else "to_come")
            for n, r in enumerate(plan.rungs)
        )
    rungs, found = [], False
    # Shown as all the oil there will be: a gel's own is on its way.
    to_come = slab.gel_oil_to_come_g(paste, plan.facts)
    for pour in slab.ladder_now(paste, plan.facts):
        done = paste.oil_g >= pour.cumulative_g - plan.facts.smallest_step_g
        state = "done" if done else "to_come" if found else "next"
        found = found or not done
        rungs.append(RungNow(pour.quantile, pour.cumulative_g + to_come, pour.step_g, state))
    return tuple(rungs)


def _figures(paste: Paste, plan: Plan, reading: Reading | None) -> tuple[Figure | None, Figure | None, Figure | None]:
    if reading is None or reading.oil_g_per_100g <= 0:
        return None, None, None
    facts = plan.facts
    sure = paste.powder_spread_g == 0 and paste.oil_spread_g == 0
    basis = Basis.MEASURED if sure else Basis.ASSUMED
    powder = Input("pigment in the paste", paste.pigment_g, "g", basis)
    oil = Input("oil in the paste", paste.oil_g, "g", basis)
    pigment_density = Input("pigment density", facts.pigment_density_g_per_ml, "g/ml", Basis.LIBRARY)
    oil_density = Input("oil density", facts.oil_density_g_per_ml, "g/ml", Basis.LIBRARY)
    spread = (paste.powder_spread_g / paste.pigment_g) ** 2 + (paste.oil_spread_g / paste.oil_g) ** 2
    ratio = Figure.of(
        "Ratio", Estimate.plus_minus(reading.oil_g_per_100g, min(spread**0.5, 1.0), basis), "g oil per 100 g", 1,
        Working("100 x oil / pigment", (oil, powder)),
    )  # fmt: skip
    absorption, sd_ln, looked = slab.demand_now(paste, facts)
    demand = Estimate.lognormal(absorption, sd_ln, plan.scale.basis if looked is Basis.LIBRARY else looked)

    bound = 100 * slab.binder_g(paste.oil_g, paste.additives.values(), facts) / paste.pigment_g
    added = tuple(
        Input(f"{one.what.name}, itself", one.grams, "g", Basis.MEASURED) for one in paste.additives.values()
    )  # fmt: skip

    def reduced_with(oil_absorption: float) -> float:
        return wetting.reduced_at(bound, oil_absorption, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)

    reduced = Figure(
        "Reduced PVC", reading.reduced_pvc, "", 2, demand.basis,
        Working(
            "PVC / CPVC, CPVC = 1 / (1 + OA x pigment density / (100 x oil density))",
            (
                Input("ratio now", reading.oil_g_per_100g, "g oil per 100 g", basis),
                Input("OA, oil absorption in this oil", absorption, "g per 100 g", demand.basis),
                pigment_density, oil_density, *added,
            ),
            ASBECK,
        ),
        reduced_with(demand.low), reduced_with(demand.high),
    )  # fmt: skip
    volume = Figure(
        "Paint", reading.volume_ml, "ml", 1, basis,
        Working(
            "pigment / pigment density + oil / oil density" + (" + additives / their densities" if added else ""),
            (powder, pigment_density, oil, oil_density, *added),
        ),
    )  # fmt: skip
    return ratio, reduced, volume


def _fills(plan: Plan, reading: Reading | None) -> str:
    """What the paint there is now fills, in tubes of the plan's first kind; empty where none was planned."""
    if reading is None or not plan.tubes:
        return ""
    tube = plan.tubes[0]
    return f"fills {tubes_filled(reading.volume_ml, tube.usable_ml)} x {tube.name}"


def _body_says(reading: Reading) -> str:
    if reading.stiffest is reading.softest:
        return f"{reading.body}, by all that is known of this lot"
    return f"{reading.body}; may be anything from {reading.stiffest} to {reading.softest}"


def _shortage(advice: Advice, lines: tuple[Planned, ...], left: dict[str, float]) -> str:
    """Foresees that what is advised, or still planned, is more than the tin holds."""
    if advice.grams is not None and advice.source in left and left[advice.source] < advice.grams - 0.05:
        name = next((line.name for line in lines if line.source == advice.source), "That additive")
        return f"{name}: {advice.grams:.1f} g wanted, {max(0.0, left[advice.source]):.1f} g left by the book."
    return ""


def timeline(kept: BatchKept) -> tuple[TimelineEntry, ...]:
    """The acts read, in words, oldest first, with the ratio and body each left as it was known then."""
    names = _names(kept)
    by_id = {logged.event.id: logged for logged in kept.log}
    struck = kept.paste.struck
    open_ = kept.status is Status.OPEN
    spread = _taps_spread(kept)
    entries = []
    for logged in kept.log:
        event = logged.event
        gone = event.id in struck
        told = None if gone else logged.facts.get("after")
        strikeable = event.kind is not Kind.STRIKE and not gone
        grams, half = (event.mass.median, event.mass.half_width) if event.mass else (None, None)
        if event.id in spread:
            grams, half = spread[event.id]
        expected = logged.facts.get("expected")
        entries.append(
            TimelineEntry(
                event.id, event.seq, event.kind, event.made_at,
                _words(logged, names, by_id) + (", came late" if logged.facts.get("late") else ""), event.source,
                logged.payload.get("measure"), grams, half or None,
                gone, strikeable and (open_ or event.kind in _STRIKEABLE_AFTERWARDS),
                told["oil_g_per_100g"] if told else None,
                Body(told["body"]) if told else None,
                Body(expected["body"]) if expected else None,
                abs(expected["sds"]) < Z90 if expected else None,
                logged.facts.get("minutes_in_load"),
            )
        )  # fmt: skip
    return tuple(entries)


def _names(kept: BatchKept) -> dict[str, str]:
    names = {w.pigment.source: w.pigment.name for w in kept.plan.lines} | {kept.plan.oil.source: kept.plan.oil.name}
    names |= {one.source: one.name for one in kept.plan.facts.additives}
    return names | {logged.event.source: logged.event.additive.name for logged in kept.log if logged.event.additive}


def _taps_spread(kept: BatchKept) -> dict[UUID, tuple[float, float]]:
    """Grams and 90 % half-width of each pour by eye that a later weighing of the bottle told."""
    told: dict[UUID, tuple[float, float]] = {}
    weighed: Spread | None = None
    for logged in reversed(kept.log):
        event = logged.event
        if event.id in kept.paste.struck:
            continue
        if event.kind is Kind.BOTTLE:
            weighed = kept.paste.by_eye.weighings.get(event.id)
        elif event.kind is Kind.BY_EYE and weighed is not None:
            told[event.id] = (weighed.grams / weighed.taps, weighed.half_width_g)
    return told


_STRIKEABLE_AFTERWARDS = (Kind.FINISH, Kind.ABANDON)
_STAGE_WORDS = {
    Stage.DRY_ISLANDS: "dry islands", Stage.CRUMBS: "crumbs", Stage.WET_CURDS: "wet curds",
    Stage.COARSE_PASTE: "coarse paste", Stage.EVEN_PASTE: "even paste",
}  # fmt: skip


_ENDED_WORDS = {EndedBy.MINUTES: "its minutes", EndedBy.FINENESS: "the gauge", EndedBy.SILENCE: "a silent muller"}
_PHASE_WORDS = {
    SessionPhase.READY: "the kit",
    SessionPhase.POWDER: "powder",
    SessionPhase.FOLD: "folding in",
    SessionPhase.WET: "wet paste",
    SessionPhase.MULL: "mulling",
    SessionPhase.JUDGE: "judging",
    SessionPhase.RIGHT: "right",
}
_GRIT_WORDS = {Grit.GRITTY: "gritty", Grit.FAINT: "faint grit", Grit.NONE: "no grit"}
_STRING_WORDS = {
    StringLength.BREAKS: "string breaks",
    StringLength.SHORT: "short string",
    StringLength.LONG: "long string",
}


def _look_words(event: Event) -> str:
    assert event.stage is not None
    seen = [
        _STAGE_WORDS[event.stage],
        event.body,
        _GRIT_WORDS[event.grit] if event.grit else None,
        _STRING_WORDS[event.string] if event.string else None,
        event.gloss,
    ]
    return "looked: " + ", ".join(word for word in seen if word)


def _words(logged: Logged, names: dict[str, str], by_id: dict[UUID, Logged]) -> str:
    event = logged.event
    measured = f" ({event.said})" if event.said else ""
    match event.kind:
        case Kind.POWDER:
            return f"{names.get(event.source, event.source)} in{measured}"
        case Kind.OIL:
            return f"{names.get(event.source, event.source)} poured{measured}"
        case Kind.ADDITIVE:
            return f"{names.get(event.source, event.source)} stirred in{measured}"
        case Kind.LEAVE_OUT:
            return f"{names.get(event.source, event.source)} left out"
        case Kind.SAMPLE:
            return f"sample taken{measured}"
        case Kind.DRAW_OIL:
            return f"oil drawn out{measured}"
        case Kind.READY:
            return "kit checked"
        case Kind.BY_EYE:
            return f"{names.get(event.source, event.source)} poured by eye"
        case Kind.BOTTLE:
            return f"oil bottle weighed: {event.bottle_g:g} g"
        case Kind.MULL:
            of = logged.facts.get("of_loads", 1)
            return "mulling" + (f" load {logged.facts.get('load', 1)} of {of}" if of > 1 else "")
        case Kind.PAUSE:
            return "muller paused" + (f", {event.minutes:g} min mulled" if event.minutes is not None else "")
        case Kind.SCRAPE:
            return "scraped together"
        case Kind.FINENESS:
            return f"fineness {event.fineness_um:g} um"
        case Kind.LOAD_DONE:
            return (
                f"load {logged.facts.get('load', 1)} mulled out, by {_ENDED_WORDS[event.ended_by or EndedBy.MINUTES]}"
            )
        case Kind.GATHER:
            return "loads gathered"
        case Kind.PHASE:
            return f"went back to: {_PHASE_WORDS[event.phase or SessionPhase.READY]}"
        case Kind.PHOTO:
            return f"picture: {event.text}" if event.text else "picture"
        case Kind.LOOK:
            return _look_words(event)
        case Kind.NOTE:
            return f"note: {event.text}"
        case Kind.CHOOSE_WAY:
            return f"chose the way: {event.said}"
        case Kind.STRIKE:
            target = by_id.get(event.strikes) if event.strikes else None
            return f"struck out: {_words(target, names, by_id)}" if target else "struck out an earlier act"
        case Kind.ABANDON:
            return f"given up: {event.text}"
        case Kind.FINISH:
            tubes = ", ".join(logged.facts.get("tubes", []))
            kept_ml = f"{event.leftover_ml:.1f} ml left over"
            return f"finished, {event.verdict}: " + (f"{tubes}, {kept_ml}" if tubes else kept_ml)


@dataclass(frozen=True, slots=True)
class BatchPage:
    """A batch read afterwards: the slab view, the plan it followed, and the two side by side."""

    view: SlabView
    plan: Plan
    asked: PlanAsked
    started_at: datetime
    ended_at: datetime | None
    differences: tuple[Difference, ...]
    filled: tuple[Tubes, ...]
    leftover_ml: float
    keeping: Keeping
    past_use_by: bool


def page(session: Session, now: datetime, number: int) -> BatchPage:
    """A batch to be read: the last acts of its log, figures against the plan. Raises Missing."""
    kept = batches.batch(session, number, PAGE_SHOWN)
    finish = last_finish(session, number, kept.paste)
    keeping = batches.keeping(session, number)
    filled: tuple[Tubes, ...] = ()
    leftover_ml = finish.event.leftover_ml if finish else 0.0
    if finish is not None:
        told = [t for t in finish.payload.get("tubes", []) if t["count"]]
        filled = workshop.tubes(session, [(t["tube_type_id"], t["count"]) for t in told]) if told else ()
    return BatchPage(
        view_of(session, now, kept),
        kept.plan,
        PlanAsked.model_validate(kept.asked),
        kept.started_at,
        kept.ended_at,
        compare(
            kept.plan, kept.paste, slab.read(kept.paste, kept.plan.facts),
            finish.event.filled_ml if finish else 0.0, leftover_ml,
        ),
        filled,
        leftover_ml,
        keeping,
        keeping.use_by is not None and keeping.use_by < now.date() and keeping.discarded_at is None,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class LogPart:
    """A part of a batch's log in words, and how many acts stand before it."""

    entries: tuple[TimelineEntry, ...]
    earlier: int


def earlier(session: Session, number: int, before: int) -> LogPart:
    """The acts that stand before a place in a batch's log. Raises Missing."""
    kept = batches.earlier(session, number, before, PAGE_SHOWN)
    return LogPart(timeline(kept), kept.earlier)


def session_story(session: Session, now: datetime, number: int) -> Story:
    """How the session went, for its chart; nothing for a log too long for one. Raises Missing."""
    kept = batches.batch(session, number, 0)
    if kept.last_seq > STORY_FROM:
        return Story((), (), ())
    return story([logged.event for logged in batches.log(session, number)], kept.plan.facts, now)
