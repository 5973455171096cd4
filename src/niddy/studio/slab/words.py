"""The log in words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core import measures
from niddy.core.acting import AmountAsked
from niddy.core.estimate import Z90
from niddy.core.mulling import EndedBy
from niddy.core.slab import DoubtAnswer, Event, Grit, Kind, SessionPhase, Spread, Stage, Status, StringLength
from niddy.core.wetting import Body
from niddy.studio import batches, workshop
from niddy.studio.batches import BatchKept, Logged
from niddy.studio.late import CameLate


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
    can_restore: bool
    oil_g_per_100g: float | None
    body: Body | None
    expected: Body | None
    as_expected: bool | None
    minutes: float | None


def late_words(session: Session, kept: BatchKept, act: CameLate) -> str:
    """The act in words; its amount as it was measured, since its grams were never worked out."""
    event = batches.event_of(act.id, 0, act.kind, act.made_at, act.payload, {"said": _measured(session, act.payload)})
    return words_of(Logged(event, act.payload, {}), _names(kept), {})


def _measured(session: Session, payload: dict[str, Any]) -> str:
    if not payload.get("measure"):
        return ""
    measure = AmountAsked.model_validate(payload["measure"])
    return measure.said(workshop.own_of(session, measure), grams=True)


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
        after = None if gone else logged.facts.get("after")
        strikeable = event.kind not in (Kind.STRIKE, Kind.AMEND) and not gone
        grams, half = (event.mass.median, event.mass.half_width) if event.mass else (None, None)
        if event.id in spread:
            grams, half = spread[event.id]
        expected = logged.facts.get("expected")
        entries.append(
            TimelineEntry(
                event.id,
                event.seq,
                event.kind,
                event.made_at,
                words_of(logged, names, by_id) + (", came late" if logged.facts.get("late") else ""),
                event.source,
                logged.payload.get("measure"),
                grams,
                half or None,
                gone,
                strikeable and (open_ or event.kind in _STRIKEABLE_AFTERWARDS),
                open_ and not gone and _can_restore(event, by_id),
                after["oil_g_per_100g"] if after else None,
                Body(after["body"]) if after and after["body"] else None,
                Body(expected["body"]) if expected else None,
                abs(expected["sds"]) < Z90 if expected else None,
                logged.facts.get("minutes_in_load"),
            )
        )
    return tuple(entries)


def _names(kept: BatchKept) -> dict[str, str]:
    names = {w.pigment.source: w.pigment.name for w in kept.plan.lines} | {kept.plan.oil.source: kept.plan.oil.name}
    names |= {additive.source: additive.name for additive in kept.plan.facts.additives}
    return names | {logged.event.source: logged.event.additive.name for logged in kept.log if logged.event.additive}


def _taps_spread(kept: BatchKept) -> dict[UUID, tuple[float, float]]:
    """Grams and 90 % half-width of each pour by eye that a later weighing of the bottle told."""
    spreads: dict[UUID, tuple[float, float]] = {}
    weighed: Spread | None = None
    for logged in reversed(kept.log):
        event = logged.event
        if event.id in kept.paste.struck:
            continue
        if event.kind in (Kind.BOTTLE, Kind.CAME_OUT):
            weighed = kept.paste.by_eye.weighings.get(event.id)
        elif event.kind is Kind.BY_EYE and weighed is not None:
            spreads[event.id] = (weighed.grams / weighed.taps, weighed.half_width_g)
    return spreads


def _can_restore(event: Event, by_id: dict[UUID, Logged]) -> bool:
    """Whether a strike-out can be taken back by striking it."""
    target = by_id.get(event.strikes) if event.kind is Kind.STRIKE and event.strikes else None
    return target is not None and target.event.kind not in (*_STRIKEABLE_AFTERWARDS, Kind.STRIKE)


_STRIKEABLE_AFTERWARDS = (Kind.FINISH, Kind.ABANDON)


_STAGE_WORDS = {
    Stage.DRY_ISLANDS: "dry islands",
    Stage.CRUMBS: "crumbs",
    Stage.WET_CURDS: "wet curds",
    Stage.COARSE_PASTE: "coarse paste",
    Stage.EVEN_PASTE: "even paste",
}


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


_ANSWER_WORDS = {
    DoubtAnswer.LOOKS_ASIDE: "set the looks so far aside",
    DoubtAnswer.MISSED: "said that an entry was missing",
    DoubtAnswer.BELIEVE_EYE: "trusted the look over the log",
    DoubtAnswer.AS_ENTERED: "kept an amount as it was entered",
}


def words_of(logged: Logged, names: dict[str, str], by_id: dict[UUID, Logged]) -> str:
    """One act in words."""
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
        case Kind.CAME_OUT:
            how = "guessed" if logged.payload.get("guessed") else "said"
            return f"{how} how much oil came out{measured}"
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
            load = f"load {logged.facts.get('load', 1)}"
            if logged.facts.get("out", True):
                return f"{load} mulled out, by {_ENDED_WORDS[event.ended_by or EndedBy.MINUTES]}"
            return f"{load} ended after {measures.minutes_said(logged.facts.get('minutes_in_load', 0.0))}"
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
        case Kind.AMEND:
            target = by_id.get(event.amends) if event.amends else None
            amount = f" {event.mass.median:.4g} g" if event.mass else ""
            what = names.get(target.event.source, target.event.source) if target else "an earlier amount"
            return f"put right: {what}{amount}{measured}"
        case Kind.ANSWER:
            return _ANSWER_WORDS[event.answer or DoubtAnswer.LOOKS_ASIDE]
        case Kind.STRIKE:
            target = by_id.get(event.strikes) if event.strikes else None
            if target is None:
                return "undid something earlier"
            if target.event.kind is Kind.STRIKE:
                back = by_id.get(target.event.strikes) if target.event.strikes else None
                return f"put back: {words_of(back, names, by_id)}" if back else "put something back"
            return f"undone: {words_of(target, names, by_id)}"
        case Kind.CLEANED:
            return "slab cleaned"
        case Kind.ABANDON:
            return f"given up: {event.text}"
        case Kind.FINISH:
            places = [*logged.facts.get("tubes", []), *logged.facts.get("goes", [])]
            if event.leftover_ml and not logged.facts.get("goes"):
                places.append(f"{event.leftover_ml:.1f} ml left over")
            return ": ".join([f"finished, {event.verdict}", *([", ".join(places)] if places else [])])
