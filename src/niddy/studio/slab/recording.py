"""Recording acts in a batch's log, with all that follows from one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any
from uuid import UUID, uuid5

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from niddy.core import slab
from niddy.core.acting import AmountAsked, PhotoAsked
from niddy.core.additives import InPaste
from niddy.core.advice import mulling_now
from niddy.core.errors import MIN_MASS_G, Refused
from niddy.core.measures import Family
from niddy.core.slab import Event, Kind, Knowledge, Paste, Question, Reading, Status, Way
from niddy.core.sources import lot_of
from niddy.core.telling import Measuring
from niddy.core.wetting import Body
from niddy.studio import batches, late, photos, recipes, rubout, sent
from niddy.studio import plan as plans
from niddy.studio.batches import BatchKept, Filled, Logged
from niddy.studio.errors import Conflict
from niddy.studio.plan import PlanAsked
from niddy.studio.slab.acts import Act, AdditiveIn, Finish, Note, Picture, act_of, check_whole, payload_of
from niddy.studio.slab.asked import amended, question
from niddy.studio.slab.facts import facts_of, mass_facts
from niddy.studio.slab.stock import bottle_moves, stock_moves
from niddy.studio.slab.view import LOG_SHOWN, SlabView, view, view_of
from niddy.studio.slab.words import late_words
from niddy.studio.times import act_time

_QUESTION = TypeAdapter(Question)

_AFTERWARDS = (Kind.NOTE, Kind.CAME_OUT, Kind.CLEANED)

OVERFILL_SLACK = 1.15
"""Tubes and leftover may sum to this much of the computed paint: air and full marks stretch it (assumed)."""


BY_EYE_SLACK = 2.5
"""The same where spoons or the eye said how much there is (assumed): what is filled is seen, the rest is reckoned."""


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
    payload = payload_of(act)
    kept, earlier = batches.lock(session, number, act.id)
    if earlier is not None:
        if not sent.same(earlier.payload, payload):
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return None
    if kept.status is not Status.OPEN and act.kind not in _AFTERWARDS and _came_late(kept, act):
        act_time("made_at", act.made_at, now)
        check_whole(act)
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
        act = act_of({**found.payload, "made_at": found.made_at})
        kept, _ = batches.lock(session, number, act_id)
        if take_in:
            _log(session, now, kept, act, payload_of(act), late_taken=True)
        else:
            note = Note(
                id=uuid5(act_id, "left"),
                kind=Kind.NOTE,
                made_at=now,
                text=f"came late, left out: {late_words(session, kept, found)}. {words.strip()}"[:2000],
            )
            _log(session, now, kept, note, payload_of(note))
    return view(session, now, number)


def stirred_in_already(
    session: Session, now: datetime, number: int, act_id: UUID, what: InPaste, grams: float, keeps_days: int | None
) -> None:
    """Log an additive that an old paint brings with it: nothing is drawn from stock, and no ceiling can refuse it.

    `grams` are of the additive itself: what was oil in a gel is in the old paint's oil.
    """
    source = f"old-{act_id.hex[:8]}"
    there = replace(
        what,
        source=source,
        additive_fraction=1.0,
        planned_per_g=0.0,
        ceiling_per_g=None,
        drop_g=None,
        keeps_days=keeps_days,
    )
    kept, earlier = batches.lock(session, number, act_id)
    if earlier is not None:
        return
    amount = max(MIN_MASS_G, grams)
    act = AdditiveIn(id=act_id, kind=Kind.ADDITIVE, made_at=now, source=source, measure=AmountAsked(amount=amount))
    _log(session, now, kept, act, payload_of(act), given={**mass_facts(session, act), "additive": asdict(there)})


def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> SlabView:
    """Keep a picture of the paste, scaled down, and log it. Sent again, it changes nothing.

    Raises Refused for what is no picture or has too many pixels, Missing, Conflict.
    """
    scaled = photos.scaled(picture)
    act = Picture(
        id=asked.id, kind=Kind.PHOTO, made_at=asked.made_at, clock_made_at=asked.clock_made_at, text=asked.text or None
    )
    payload = payload_of(act)
    kept, earlier = batches.lock(session, number, act.id)
    if earlier is not None:
        if not sent.same(earlier.payload, payload):
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return view(session, now, number)
    after = _log(session, now, kept, act, payload)
    photos.keep(session, act.id, scaled)
    return view_of(session, now, after)


@dataclass(frozen=True, slots=True)
class Entered:
    """An act as it goes into a log, and the paste that follows; `struck` and `restored` are what it takes out or back.

    `before` is the paste it was entered on.
    """

    event: Event
    facts: dict[str, Any]
    before: Paste
    paste: Paste
    reading: Reading | None
    struck: Event | None
    restored: Event | None


def entered(
    session: Session,
    now: datetime,
    kept: BatchKept,
    act: Act,
    payload: dict[str, Any],
    *,
    late_taken: bool = False,
    given: dict[str, Any] | None = None,
) -> Entered:
    """What an act makes of the paste, before anything is written. `given` are its facts where they need not be found;
    `late_taken`: the batch is over already. Raises Refused.
    """
    act_time("made_at", act.made_at, now)

    before = kept.paste
    facts = given if given is not None else facts_of(session, now, kept, act)
    if late_taken:
        facts["late"] = True
    event = batches.event_of(act.id, kept.last_seq + 1, act.kind, act.made_at, payload, facts)
    named = event.strikes or event.amends
    target = batches.act(session, kept.job_id, named) if named else None
    # The past is changed, so that the whole log is folded anew; what was put right before counts as it was put.
    past = [logged.event for logged in batches.log(session, kept.job_id)] if named else []
    struck = next(
        (correction for correction in slab.put_right(past) if target and correction.id == target.event.id), None
    )
    struck = struck or (target.event if target else None)
    if target is not None and target.struck:
        before = replace(before, struck=frozenset({target.event.id}))
    slab.check(replace(before, status=Status.OPEN) if late_taken else before, event, struck)
    _check_finish(kept, act, facts)
    restored = None
    if target is not None and target.event.kind is Kind.STRIKE:
        back = (act for act in slab.put_right([*past, event]) if act.id == target.event.strikes)
        restored = next(back, None)
        if restored is None:
            raise Refused("strikes", "that put an act back", "undoing the act itself")
        if restored.kind in (Kind.FINISH, Kind.ABANDON):
            raise Refused("strikes", "an end that was undone is not put back", "finishing the batch anew")

    def with_it(event: Event) -> Paste:
        rewrites = event.kind in (Kind.STRIKE, Kind.AMEND)
        return slab.fold([*past, event]) if rewrites else slab.after(before, event)

    paste = with_it(event)
    asked = None
    if event.mass is not None and given is None and not late_taken:
        known_before, known_after = slab.know(before, kept.plan.facts), slab.know(paste, kept.plan.facts)
        logged = Logged(event, payload, facts)
        if event.kind is Kind.AMEND and struck is not None:
            asked = amended(kept, known_before, known_after, struck, logged)
        else:
            asked = question(session, kept, known_before, known_after, logged)
    if asked is not None:
        facts["asked"] = _QUESTION.dump_python(asked, mode="json")
        event = replace(event, asked=asked)
        paste = with_it(event)
    known = slab.know(paste, kept.plan.facts)
    if event.kind in (Kind.PAUSE, Kind.LOAD_DONE, Kind.FINENESS) and paste.mulling.load is not None:
        facts["load"] = paste.mulling.at + 1
        facts["minutes_in_load"] = paste.mulling.load.seconds / 60
        facts["working_factor"] = kept.plan.facts.working_factor
        facts["out"] = mulling_now(paste, kept.plan, act.made_at).loads[paste.mulling.at].state == "done"
    if event.kind is Kind.LOOK:
        matches = known.matches
        if matches and event.body is not None and event.stage is slab.Stage.EVEN_PASTE:
            facts["expected"] = {"body": matches[-1].expected, "sds": max(-99.0, min(99.0, matches[-1].sds))}
    if (
        (event.mass is not None or event.kind is Kind.BOTTLE or event.reckoned is not None)
        and known.reading is not None
        and paste.oil_g > 0
    ):
        facts["after"] = {"oil_g_per_100g": known.reading.oil_g_per_100g, "body": _body_after(known)}
    return Entered(event, facts, before, paste, known.reading, struck, restored)


def _body_after(known: Knowledge) -> Body | None:
    """The body an act left, as far as it can be said: of what looked dry last nobody says that it is soft."""
    assert known.reading is not None
    body = known.reading.body
    return None if slab.dry(known.paste) and slab.looser(body, known.wanted) else body


def _log(
    session: Session,
    now: datetime,
    kept: BatchKept,
    act: Act,
    payload: dict[str, Any],
    *,
    late_taken: bool = False,
    given: dict[str, Any] | None = None,
) -> BatchKept:
    """Log an act, with the stock it moves and what it teaches."""
    number = kept.number
    into = entered(session, now, kept, act, payload, late_taken=late_taken, given=given)
    event, facts, before, paste, reading = into.event, into.facts, into.before, into.paste, into.reading
    moves = (*stock_moves(kept.plan, event, into.struck, into.restored), *bottle_moves(kept.plan, before, paste))
    stirred = lot_of(event.source) if event.kind is Kind.ADDITIVE else None
    if stirred is not None:
        batches.note_lot(session, number, stirred)
    if paste.use_by != before.use_by:
        batches.note_use_by(session, number, paste.use_by)
    filled = Filled()
    if paste.status is Status.FINISHED:
        last = Logged(event, payload, facts) if event.kind is Kind.FINISH else last_finish(session, kept.job_id, paste)
        if last is not None:
            filled = Filled(
                last.event.filled_ml, last.event.leftover_ml, sum(t["count"] for t in last.payload.get("tubes", []))
            )
    logged = Logged(event, payload, facts)
    made_ml = reading.volume_ml if reading else 0.0
    appended = batches.append(session, now, kept.job_id, logged, paste, made_ml, filled, moves, LOG_SHOWN - 1)
    # What an act strikes out or brings back may stand among those before it.
    recent = batches.log(session, kept.job_id, LOG_SHOWN) if event.strikes else (*appended.before, logged)
    paste = replace(paste, struck=batches.struck_among(recent))
    _teach(session, now, kept, paste, again=late_taken or event.kind is Kind.CAME_OUT)
    if kept.status is Status.FINISHED and paste.status is not Status.FINISHED:
        batches.note_release(session, number, None)
    return replace(
        kept,
        status=paste.status,
        verdict=paste.verdict,
        last_seq=event.seq,
        paste=paste,
        log=recent,
        earlier=event.seq - len(recent),
        left=appended.left,
    )


def _teach(session: Session, now: datetime, kept: BatchKept, paste: Paste, *, again: bool = False) -> None:
    """A finish, or its striking out, changes what a lot's demand rests on; blends cannot say which part it was."""
    if (
        (paste.status is kept.status and not again)
        or len(kept.plan.lines) != 1
        or Status.FINISHED not in (paste.status, kept.status)
    ):
        return
    # What an additive did to the body is assumed, so such a batch says too little of the powder; and one that was left
    # as it came was judged by what the model said.
    if paste.additives or paste.way is Way.LEAVE:
        return
    pigment, facts = kept.plan.lines[0].pigment, kept.plan.facts
    # Solvent that is still in it makes a paste look looser than it is.
    if pigment.liquid_share:
        return
    verdict = paste.verdict if paste.status is Status.FINISHED else None
    taught = slab.taught(slab.know(paste, facts), verdict) if verdict is not None else None
    by_spoons = kept.paste.powder_by == Family.SPOON
    rubout.note_batch(session, now, kept.number, pigment, verdict, taught, facts, by_spoons=by_spoons)


def last_finish(session: Session, job_id: int, paste: Paste, shown: Sequence[Logged] = ()) -> Logged | None:
    """The finish that counts, if the batch is finished: among the acts `shown`, or else asked of the record."""
    if paste.status is not Status.FINISHED:
        return None
    counting = [logged for logged in shown if logged.event.kind is Kind.FINISH and not logged.struck]
    if not counting:
        counting = [logged for logged in batches.finishes(session, job_id) if not logged.struck]
    return counting[-1] if counting else None


def _check_finish(kept: BatchKept, act: Act, facts: dict[str, Any]) -> None:
    if not isinstance(act, Finish):
        return
    made = slab.volume_ml(slab.supposed(kept.paste, kept.plan.facts), kept.plan.facts)
    slack = OVERFILL_SLACK if kept.plan.facts.habit.how is Measuring.SCALE else BY_EYE_SLACK
    claimed = facts["filled_ml"] + facts["leftover_ml"]
    if claimed > made * slack:
        field = "tubes" if facts["filled_ml"] > made * slack else "leftover_ml"
        raise Refused(
            field, f"{claimed:.1f} ml in all is more than the {made:.1f} ml made", f"up to {made * slack:.1f} ml"
        )
