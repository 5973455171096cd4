"""The paste as a pure fold over a log of acts."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta

from niddy.core import log
from niddy.core import mulling as mullings
from niddy.core.log import Status
from niddy.core.measures import sd_ln_of
from niddy.core.mulling import EndedBy
from niddy.core.slab.acts import DoubtAnswer, Event, Kind, Question, Way
from niddy.core.slab.paste import Added, ByEye, Charge, Look, Paste, Poured, Spread, Worked

TAP_SPREAD = 0.5
"""90 % half-width of one pour by eye against the mean of its taps (assumed)."""

LOOKS_KEPT = 60
"""So many of the last looks count: older ones say nothing that the later do not."""


def fold(events: list[Event]) -> Paste:
    """What is in the paste after a log of acts. The order is that of `seq`, however the list came."""
    paste = Paste(struck=log.struck(events))
    for event in put_right(events):
        paste = after(paste, event)
    return paste


def put_right(events: list[Event]) -> tuple[Event, ...]:
    """The acts that count, in order, each with its amount as it was put right last."""
    counting = log.counting(events)
    right = {event.amends: event for event in counting if event.amends is not None}
    counted = {event.id for event in counting}

    def as_put(event: Event) -> Event:
        if event.id in right:
            amended = right[event.id]
            return replace(event, mass=amended.mass, family=amended.family, asked=amended.asked)
        about = event.asked.act if event.asked is not None else event.id
        # What was asked about another entry is answered once that was put right or struck out.
        return replace(event, asked=None) if about in right or about not in counted else event

    return tuple(as_put(event) for event in counting)


_SAYS_NOTHING_OF_PHASE = (Kind.NOTE, Kind.PHOTO, Kind.AMEND, Kind.CLEANED)


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
            # Nobody knows how much it was: the oil that a way back asks for is taken to be in.
            way_g = {source: grams for source, grams in paste.way_g.items() if source != event.source}
            return replace(
                paste,
                by_eye=by_eye,
                way_g=way_g,
                mulling=mullings.added(paste.mulling, event.made_at, powder=False),
                pours=(*paste.pours, Poured(event.id, None)),
            )
        case Kind.BOTTLE:
            return _bottle(paste, event)
        case Kind.CAME_OUT:
            assert event.mass is not None
            return _told(paste, event, event.mass.median, paste.by_eye.bottle_g)
        case Kind.MULL:
            return replace(paste, mulling=mullings.start(paste.mulling, event.made_at, event.load, event.of_loads))
        case Kind.PAUSE:
            return replace(paste, mulling=mullings.pause(paste.mulling, event.made_at, event.minutes))
        case Kind.SCRAPE:
            return replace(paste, mulling=mullings.scrape(paste.mulling, event.made_at))
        case Kind.FINENESS:
            assert event.fineness_um is not None
            read_by_gauge = mullings.fineness(paste.mulling, event.made_at, event.fineness_um, event.target_fineness_um)
            return _dispersed(replace(paste, mulling=read_by_gauge))
        case Kind.LOAD_DONE:
            by = event.ended_by or EndedBy.MINUTES
            return _dispersed(replace(paste, mulling=mullings.done(paste.mulling, event.made_at, by)))
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
                additives={
                    s: replace(additive, grams=additive.grams * keep) for s, additive in paste.additives.items()
                },
                charges=tuple(replace(charge, grams=charge.grams * keep) for charge in paste.charges),
                powder_spreads={key: spread * keep for key, spread in paste.powder_spreads.items()},
                oil_spreads={key: spread * keep for key, spread in paste.oil_spreads.items()},
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
                oil_spreads=_spread({key: spread * keep for key, spread in paste.oil_spreads.items()}, event, "drawn"),
            )
        case Kind.LOOK:
            return _looked(paste, event)
        case Kind.ANSWER if event.answer is DoubtAnswer.AS_ENTERED:
            return replace(paste, asked=tuple(asked for asked in paste.asked if asked.act != event.about))
        case Kind.ANSWER:
            if event.answer is DoubtAnswer.BELIEVE_EYE:
                believed = tuple(replace(look, answered=True) for look in paste.looks)
                wide = math.hypot(paste.widened_sd_ln, event.widened_sd_ln)
                return replace(paste, looks=believed, widened_sd_ln=wide)
            return replace(paste, looks=tuple(replace(look, aside=True) for look in paste.looks))
        case Kind.CHOOSE_WAY:
            left_so = event.way is Way.LEAVE
            if not left_so and paste.pigment_g <= 0:
                return paste  # the powder it was chosen for was struck out since
            return replace(
                paste,
                way=event.way,
                stabiliser=event.additive,
                way_g=dict(event.portions),
                # What is stirred in or poured moves no wish: only leaving it does.
                target_reduced_pvc=event.target_reduced_pvc if left_so else paste.target_reduced_pvc,
            )
        case Kind.FINISH:
            return replace(_reckoned(paste, event), status=Status.FINISHED, verdict=event.verdict)
        case Kind.CLEANED:
            return replace(paste, cleaned=True)
        case Kind.ABANDON:
            return replace(paste, status=Status.ABANDONED)
        case _:
            return paste


def _looked(paste: Paste, event: Event) -> Paste:
    assert event.stage is not None
    look = Look(
        event.stage,
        event.body,
        paste.oil_g_per_100g,
        _worked(paste, event),
        None if _quiet_here(paste) else mullings.settled_minutes(paste.mulling, event.made_at),
        mullings.worked_s(paste.mulling, event.made_at),
        paste.by_eye.taps,
        paste.pigment_g,
        paste.oil_g,
        paste.additives_in,
        event.grit,
    )
    if paste.looks and _same(paste.looks[-1], look):
        return paste
    return replace(paste, looks=(*paste.looks, look)[-LOOKS_KEPT:])


def _quiet_here(paste: Paste) -> bool:
    """Whether the gauge or a silent muller ended the load on the slab: minutes say less."""
    load = paste.mulling.load
    return not paste.mulling.fresh and load is not None and load.quiet


def _worked(paste: Paste, event: Event) -> tuple[Worked, ...]:
    """How long each charge of powder had been worked; nothing where nobody kept time, or it is dispersed."""
    worked_s = mullings.worked_s(paste.mulling, event.made_at)
    whole = sum(charge.grams for charge in paste.charges)
    if worked_s is None or whole <= 0 or _quiet_here(paste):
        return ()
    return tuple(
        Worked(charge.grams / whole, max(0.0, worked_s - charge.at_s) / 60)
        for charge in paste.charges
        if charge.at_s is not None
    )


SAME_WITHIN_MIN = 0.5
"""Looks that see the same, with less work than this between them, are one look."""


def _same(before: Look, look: Look) -> bool:
    """Whether a look says again what the last one said of the same paste."""
    if before.aside or len(before.worked) != len(look.worked):
        return False
    # Worked in between, the same body says something new.
    pairs = zip(before.worked, look.worked, strict=True)
    if any(abs(one.minutes - other.minutes) >= SAME_WITHIN_MIN for one, other in pairs):
        return False
    if abs((before.settled_min or 0.0) - (look.settled_min or 0.0)) >= SAME_WITHIN_MIN:
        return False
    as_before = replace(
        look, worked=before.worked, settled_min=before.settled_min, worked_s=before.worked_s, answered=before.answered
    )
    return as_before == before


def _bottle(paste: Paste, event: Event) -> Paste:
    """The bottle weighed: what it lost since it was last weighed went in with the taps, evenly."""
    assert event.bottle_g is not None
    eye = paste.by_eye
    if not eye.taps or eye.bottle_g is None:
        return replace(paste, by_eye=replace(eye, bottle_g=event.bottle_g))
    return _told(paste, event, max(0.0, eye.bottle_g - event.bottle_g), event.bottle_g)


def _told(paste: Paste, event: Event, grams: float, bottle_g: float | None) -> Paste:
    """So much oil came out of the bottle with all the taps since it was last told; it spreads over them evenly.

    Where every tap was struck out since, none came out.
    """
    eye = paste.by_eye
    if not eye.taps:
        return paste
    each = grams / eye.taps
    # The sum is known, so one tap is the less free the fewer there are.
    half = TAP_SPREAD * each * math.sqrt(1 - 1 / eye.taps)
    spreads = paste.oil_spreads
    if eye.reckoned_g:
        paste = replace(
            paste,
            oils={**paste.oils, eye.source: paste.oils.get(eye.source, 0.0) - eye.reckoned_g},
            poured_g=paste.poured_g - eye.reckoned_g,
        )
        spreads = {key: spread for key, spread in spreads.items() if key != RECKONED}
    if event.mass is not None:
        spreads = _spread(spreads, event, eye.source)
    oils = dict(paste.oils)
    oils[eye.source] = oils.get(eye.source, 0.0) + grams
    looks = tuple(
        replace(
            look,
            taps=0,
            oil_g_per_100g=100 * (look.oil_g + each * look.taps) / look.pigment_g if look.pigment_g > 0 else None,
        )
        if look.taps
        else look
        for look in paste.looks
    )
    turned = _turned(paste, "oil") if paste.corrective else paste
    return replace(
        turned,
        oils=oils,
        oil_spreads=spreads,
        looks=looks,
        pours=tuple(replace(pour, grams=each) if pour.grams is None else pour for pour in paste.pours),
        poured_g=paste.poured_g + grams,
        by_eye=ByEye(
            bottle_g,
            eye.source,
            0,
            eye.used_g + grams - eye.reckoned_g,
            0.0,
            {**eye.weighings, event.id: Spread(grams, eye.taps, half)},
        ),
    )


RECKONED = "reckoned"
"""Under this the spread of oil is kept that nobody told."""


def _reckoned(paste: Paste, event: Event) -> Paste:
    """What a finish takes to be in for the taps that nobody told."""
    if not paste.untold or event.reckoned is None:
        return paste
    grams, eye = event.reckoned.median, paste.by_eye
    return replace(
        paste,
        oils={**paste.oils, eye.source: paste.oils.get(eye.source, 0.0) + grams},
        poured_g=paste.poured_g + grams,
        oil_spreads={**paste.oil_spreads, RECKONED: grams * sd_ln_of(event.reckoned)},
        by_eye=replace(eye, used_g=eye.used_g + grams, reckoned_g=grams),
    )


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
        asked=_asked(paste, event),
        mulling=mullings.added(paste.mulling, event.made_at, powder=False),
    )


def _added(paste: Paste, event: Event, what: str) -> Paste:
    assert event.mass is not None and event.source
    grams = event.mass.median
    way_g = {key: g - (grams if key == event.source else 0.0) for key, g in paste.way_g.items()}
    worked = mullings.added(paste.mulling, event.made_at, powder=what == "pigment")
    paste = replace(paste, mulling=worked, way_g=way_g)
    if what == "pigment":
        pigments = dict(paste.pigments)
        pigments[event.source] = pigments.get(event.source, 0.0) + grams
        # Powder after oil is a correction; before, it is the weighing out.
        turned = _turned(paste, "pigment") if paste.poured_g > 0 or paste.by_eye.taps else paste
        return replace(
            turned,
            pigments=pigments,
            powder_spreads=_spread(paste.powder_spreads, event, event.source),
            charges=_charged(paste, grams),
            asked=_asked(paste, event),
            powder_acts={**paste.powder_acts, event.source: event.id},
            cleaned=False,
        )
    oils = dict(paste.oils)
    oils[event.source] = oils.get(event.source, 0.0) + grams
    # Oil is a correction only once something was corrected the other way.
    turned = _turned(paste, "oil") if paste.corrective else paste
    return replace(
        turned,
        oils=oils,
        poured_g=paste.poured_g + grams,
        oil_spreads=_spread(paste.oil_spreads, event, event.source),
        pours=(*paste.pours, Poured(event.id, grams)),
        asked=_asked(paste, event),
    )


def _asked(paste: Paste, event: Event) -> tuple[Question, ...]:
    """What is asked, with what this entry brings; more of the same powder answers what was asked about it."""
    left = paste.asked
    if event.kind is Kind.POWDER:
        left = tuple(asked for asked in left if asked.source != event.source)
    if event.asked is not None and all(asked.act != event.asked.act for asked in left):
        left = (*left, event.asked)
    return left


def _charged(paste: Paste, grams: float) -> tuple[Charge, ...]:
    """The powder with what goes in now: what goes in at one time is one charge."""
    at_s = mullings.worked_s(paste.mulling) or 0.0
    if paste.charges and paste.charges[-1].at_s == at_s:
        return (*paste.charges[:-1], Charge(paste.charges[-1].grams + grams, at_s))
    return (*paste.charges, Charge(grams, at_s))


def _dispersed(paste: Paste) -> Paste:
    """All of the powder is dispersed once the gauge or a silent muller said so of every load."""
    if not paste.mulling.quiet:
        return paste
    return replace(paste, charges=tuple(replace(charge, at_s=None) for charge in paste.charges))


def _spread(spreads: dict[str, float], event: Event, what: str) -> dict[str, float]:
    """The spreads with an act's own: what one measure of one lot errs, it errs in all its acts alike."""
    assert event.mass is not None
    own = event.mass.median * sd_ln_of(event.mass)
    if not own:
        return spreads
    key = f"{what} {event.family}"
    return {**spreads, key: spreads.get(key, 0.0) + own}


def _turned(paste: Paste, direction: str) -> Paste:
    if paste.corrective and paste.corrective[-1] == direction:
        return paste
    swings = paste.swings + (1 if paste.corrective else 0)
    return replace(paste, corrective=(*paste.corrective, direction), swings=swings)
