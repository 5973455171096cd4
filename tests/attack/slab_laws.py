"""The laws of the slab: what must hold in every view of every session, whatever was tapped, in whatever order."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field, fields
from typing import Any

from niddy.core.advice import NextAct
from niddy.core.mulling import MULLED_OUT, EndedBy
from niddy.core.slab import Kind, SessionPhase, Stage, Way, looser
from niddy.core.telling import Measuring
from niddy.core.wetting import Body
from niddy.studio.slab import SlabView

LAWS = {
    1: "the wanted body is the maker's",
    2: "the look outranks the clock",
    3: "too wet has its ways at once, right may be finished",
    4: "dry is never too wet",
    5: "what was told is in",
    6: "the past is the log",
    7: "the same look twice changes nothing",
    8: "every amount can be measured, every state offers a way on",
    9: "the same figure is the same on every screen",
    10: "an entry is asked about as it is made",
    11: "nothing is said to be done that was not",
}

_DRY = (Stage.DRY_ISLANDS, Stage.CRUMBS, Stage.WET_CURDS)
_CHANGES = (
    Kind.POWDER,
    Kind.OIL,
    Kind.ADDITIVE,
    Kind.BY_EYE,
    Kind.CAME_OUT,
    Kind.BOTTLE,
    Kind.DRAW_OIL,
    Kind.STRIKE,
    Kind.AMEND,
    Kind.SAMPLE,
)
_TOO_WET = (Way.ADD_PIGMENT, Way.DRAW_OIL, Way.STABILISE)
_WET_WORDS = ("too loose", "too soft", "softer than", "runny", "a soup")


class Broken(AssertionError):
    """A law that does not hold, with what was seen."""


@dataclass
class Session:
    """What a session has told so far, kept beside what the views say of it."""

    wanted: Body
    looked: Body | None = None
    stage: Stage | None = None
    grit: str | None = None
    taken: str = ""
    poured: list[float | None] = field(default_factory=list)
    answered: bool = False
    counted: Counter[int] = field(default_factory=Counter)

    def note(self, kind: Kind, seen: SlabView, **what: Any) -> None:
        """One act more, and the view after it."""
        if kind in _CHANGES or (kind is Kind.ANSWER and what.get("answer") in ("looks_aside", "missed")):
            self.looked = self.grit = None
            # Of a stage that was struck out or set aside nothing is left.
            self.stage = seen.stage if kind in (Kind.STRIKE, Kind.ANSWER) else self.stage
        if kind is Kind.LOOK:
            self.stage = what["stage"]
            self.looked = what.get("body") if self.stage is Stage.EVEN_PASTE else None
            self.grit = what.get("grit")
        if kind is Kind.CHOOSE_WAY and what["way"] is Way.LEAVE:
            self.wanted = what["body_after"]
        if what.get("gone") is Kind.CHOOSE_WAY:
            self.wanted = seen.target_body
        self.taken = what.get("source", "") if kind is Kind.POWDER and what.get("told") else ""
        if kind in (Kind.STRIKE, Kind.AMEND, Kind.CAME_OUT, Kind.BOTTLE, Kind.SAMPLE, Kind.DRAW_OIL):
            self.poured = [rung.step_g for rung in seen.rungs if rung.state == "done"]
        elif kind is Kind.OIL:
            self.poured.append(what["grams"])
        elif kind is Kind.BY_EYE:
            self.poured.append(None)

    def hold(self, seen: SlabView) -> None:
        """Look at every law in this view. Raises Broken."""
        if seen.status != "open":
            return
        for number, law in _EVERY.items():
            if law(self, seen):
                self.counted[number] += 1

    def need(self, number: int, holds: bool, *what: object) -> None:
        """One thing a law asks for. Raises Broken."""
        if not holds:
            raise Broken(f"law {number}, {LAWS[number]}: " + ", ".join(str(one) for one in what))


def _wanted(session: Session, seen: SlabView) -> bool:
    session.need(1, seen.target_body is session.wanted, seen.target_body, "wanted", session.wanted)
    return True


def _look_first(session: Session, seen: SlabView) -> bool:
    looked = session.looked
    if looked is None or looser(session.wanted, looked):
        return False
    advice = seen.advice
    said = f"{advice.line} {advice.reason}".lower()
    session.need(2, advice.act is not NextAct.POUR and "pour" not in said.replace("pours by eye", ""), advice)
    session.need(2, all(rung.state == "done" for rung in seen.rungs), seen.rungs)
    session.need(2, all(way.way is not Way.ADD_OIL for way in seen.ways), [way.way for way in seen.ways])
    if advice.act in (NextAct.MULL, NextAct.MULL_ON):
        session.need(2, "not the body" in said, advice)
    return True


def _ways_at_once(session: Session, seen: SlabView) -> bool:
    looked = session.looked
    if looked is None or seen.doubt is not None:
        return False
    if looser(looked, session.wanted):
        ways = [way.way for way in seen.ways]
        session.need(3, Way.LEAVE in ways and Way.ADD_PIGMENT in ways, looked, ways)
        return True
    if looked is session.wanted and session.grit == "none":
        session.need(3, seen.can_finish, "no finish")
        return True
    return False


def _dry_is_dry(session: Session, seen: SlabView) -> bool:
    if session.stage not in _DRY:
        return False
    advice = seen.advice
    said = f"{advice.line} {advice.reason} {seen.doubt.says if seen.doubt and not seen.doubt.of_entry else ''}".lower()
    session.need(4, advice.act is not NextAct.TOO_LOOSE and not any(word in said for word in _WET_WORDS), said)
    session.need(4, seen.body is None or not looser(seen.body, session.wanted), seen.body)
    session.need(4, not any(str(body) in seen.body_says for body in (Body.SOFT, Body.LOOSE, Body.RUNS)), seen.body_says)
    session.need(4, not any(way.way in _TOO_WET for way in seen.ways), [way.way for way in seen.ways])
    return True


def _told_is_in(session: Session, seen: SlabView) -> bool:
    if not session.taken:
        return False
    again = seen.advice.act is NextAct.POWDER and seen.advice.source == session.taken
    went_back = seen.phase is SessionPhase.POWDER
    session.need(5, not again or went_back, "asked again", seen.advice)
    return True


def _past_is_log(session: Session, seen: SlabView) -> bool:
    done = [rung.step_g for rung in seen.rungs if rung.state == "done"]
    session.need(6, len(done) == len(session.poured), done, session.poured)
    for shown, made in zip(done, session.poured, strict=True):
        alike = shown == made or (shown is not None and made is not None and abs(shown - made) < 1e-6)
        session.need(6, alike, done, session.poured)
    upcoming = [rung for rung in seen.rungs if rung.state == "next"]
    advised = seen.advice.act is NextAct.POUR and seen.advice.grams is not None
    session.need(6, bool(upcoming) == advised or not seen.in_paste_g, seen.advice, upcoming)
    for rung in upcoming:
        session.need(6, rung.step_g == seen.advice.grams, rung, seen.advice)
    return True


def _measurable(session: Session, seen: SlabView) -> bool:
    advice = seen.advice
    session.need(8, advice.act is not NextAct.OVER, advice)
    session.need(8, bool(advice.line and advice.reason), advice)
    if advice.grams is not None:
        session.need(8, advice.grams > 0, advice)
    if seen.habit.how is not Measuring.SCALE and advice.act in (NextAct.POUR, NextAct.POWDER) and advice.grams:
        session.need(8, seen.advice_told is not None, advice)
    if advice.act is NextAct.TOO_LOOSE:
        session.need(8, bool(seen.ways), advice)
    if advice.act is NextAct.DOUBT:
        session.need(8, seen.doubt is not None, advice)
    return True


def _one_figure(session: Session, seen: SlabView) -> bool:
    dry_g = sum(line.in_g * (1 - line.liquid_share) for line in seen.pigments)
    if seen.ratio is not None and dry_g > 0:
        session.need(9, abs(seen.ratio.value - 100 * seen.oil.in_g / dry_g) < 1e-6 * seen.ratio.value, seen.ratio.value)
    if seen.ratio is not None and seen.volume is not None and seen.bench is not None:
        loads_ml = sum(load.volume_ml for load in seen.mulling.loads)
        session.need(9, abs(loads_ml - seen.volume.value) < 1e-6 * loads_ml, loads_ml, seen.volume.value)
    session.need(9, abs(seen.scale.target_reduced_pvc - seen.target_reduced_pvc) < 1e-9, seen.scale)
    if seen.advice_told is not None and seen.advice.grams is not None:
        told, grams = seen.advice_told.grams, seen.advice.grams
        session.need(9, seen.advice.act is not NextAct.POUR or abs(told - grams) <= 0.03 * grams + 0.03, told, grams)
    return True


def _asked_first(session: Session, seen: SlabView) -> bool:
    if seen.doubt is None or not seen.doubt.of_entry:
        return False
    session.need(10, seen.advice.act is NextAct.DOUBT and seen.advice.grams is None, seen.advice)
    session.need(10, not seen.ways, seen.ways)
    session.need(10, all(rung.state == "done" for rung in seen.rungs), seen.rungs)
    return True


def _done_is_done(session: Session, seen: SlabView) -> bool:
    mulling = seen.mulling
    for load in mulling.loads:
        if load.state != "done":
            continue
        out = load.minutes >= MULLED_OUT * mulling.need_minutes - 1e-6
        quiet = load.ended_by in (EndedBy.FINENESS, EndedBy.SILENCE) and (
            load.ended_by is EndedBy.FINENESS or load.minutes >= 1 - 1e-6
        )
        session.need(11, out or quiet, load, mulling.need_minutes)
    said = f"{seen.advice.line} {seen.advice.reason}"
    if "mulled out" in said and "until" not in said and "before" not in said:
        session.need(11, mulling.all_done or mulling.gathered, seen.advice)
    return True


_EVERY = {
    1: _wanted,
    2: _look_first,
    3: _ways_at_once,
    4: _dry_is_dry,
    5: _told_is_in,
    6: _past_is_log,
    8: _measurable,
    9: _one_figure,
    10: _asked_first,
    11: _done_is_done,
}


def same_but_for_the_log(one: SlabView, other: SlabView) -> list[str]:
    """What two views say differently, but for the log and the clock: after the same look twice, nothing."""
    beside = {"timeline", "last_seq", "now", "earlier", "mulling", "practice"}
    return [
        f"{name}: {getattr(one, name)} / {getattr(other, name)}"
        for name in (each.name for each in fields(SlabView))
        if name not in beside and getattr(one, name) != getattr(other, name)
    ]
