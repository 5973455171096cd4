"""Advice: one line about what to do next, and its reason."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core import pours
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.plan import Facts
from niddy.core.slab import (
    Paste,
    Status,
    Way,
    beyond_ladder,
    ladder_now,
    last_even_look,
    target_now,
    target_ratio,
)
from niddy.core.wetting import Body, body_at

SWINGS_LIMIT = 2
"""Corrected both ways more often than this: rest the paste an hour before judging again."""

_POWDER_SLACK = 0.01


class NextAct(StrEnum):
    """What kind of thing to do next."""

    POWDER = "powder"
    POUR = "pour"
    DRAW_OIL = "draw_oil"
    LOOK = "look"
    TOO_LOOSE = "too_loose"
    RIGHT = "right"
    REST = "rest"
    OVER = "over"


@dataclass(frozen=True, slots=True)
class Planned:
    """One powder of the plan: its source, name, grams to weigh and share of the blend."""

    source: str
    name: str
    grams: float
    share: float


@dataclass(frozen=True, slots=True)
class Advice:
    """What to do next: the act, how much of which source, one line, and why."""

    act: NextAct
    line: str
    reason: str
    grams: float | None = None
    source: str = ""


def looser(body: Body, than: Body) -> bool:
    """Whether `body` is wetter than `than`."""
    order = list(Body)
    return order.index(body) > order.index(than)


def advise(paste: Paste, facts: Facts, planned: tuple[Planned, ...]) -> Advice:
    """The next act for this paste under this plan (sections 4 and 6)."""
    if paste.status is not Status.OPEN:
        return Advice(NextAct.OVER, f"This batch is {paste.status}.", "Its record stays as it is.")
    powder = _powder_missing(paste, planned)
    if powder is not None:
        return powder
    if paste.swings > SWINGS_LIMIT:
        return Advice(
            NextAct.REST,
            "Let it rest an hour, then look.",
            f"Corrected to and fro {paste.swings} times: a paste judged too soon misleads.",
        )
    chosen = _chosen_way(paste, facts, planned)
    if chosen is not None:
        return chosen
    return _by_eye(paste, facts) or _by_ladder(paste, facts)


def _powder_missing(paste: Paste, planned: tuple[Planned, ...]) -> Advice | None:
    for line in planned:
        there = paste.pigments.get(line.source, 0.0)
        missing = line.grams - there
        if there > 0 and (paste.poured_g > 0 or missing <= line.grams * _POWDER_SLACK):
            continue
        more = "the rest of the " if there > 0 else ""
        return Advice(
            NextAct.POWDER,
            f"Weigh in {more}{line.name}",
            f"The plan has {line.grams:.1f} g; {there:.1f} g is on the slab.",
            missing,
            line.source,
        )
    return None


def _chosen_way(paste: Paste, facts: Facts, planned: tuple[Planned, ...]) -> Advice | None:
    ratio = paste.oil_g_per_100g
    if paste.way is None or ratio is None or not planned:
        return None
    target = target_ratio(paste, facts)
    off = ratio / target - 1
    if paste.way is Way.ADD_PIGMENT and off > NEAR_ENOUGH:
        needed = 100 * paste.oil_g / target - paste.pigment_g
        scarce = min(planned, key=lambda line: paste.pigments.get(line.source, 0.0) / line.share)
        wanted = (paste.pigment_g + needed) * scarce.share - paste.pigments.get(scarce.source, 0.0)
        return Advice(
            NextAct.POWDER, f"Add {scarce.name}", "The way back you chose: more pigment.",
            max(wanted, min(needed, 0.1)), scarce.source,
        )  # fmt: skip
    if paste.way is Way.DRAW_OIL and off > NEAR_ENOUGH:
        return Advice(
            NextAct.DRAW_OIL,
            "Draw oil out on blotting paper",
            "The way back you chose. Weigh the paper before and after.",
            paste.oil_g - target * paste.pigment_g / 100,
        )
    if paste.way is Way.ADD_OIL and off < -NEAR_ENOUGH:
        return Advice(
            NextAct.POUR, "Pour", "The way back you chose: up to the target.",
            target * paste.pigment_g / 100 - paste.oil_g,
        )  # fmt: skip
    return None


def _by_eye(paste: Paste, facts: Facts) -> Advice | None:
    look = last_even_look(paste)
    if look is None or look.body is None:
        return None
    wanted = body_at(target_now(paste, facts))
    if look.body is wanted or paste.way is Way.LEAVE:
        return Advice(NextAct.RIGHT, "Stop: it is right.", f"By your eye the paste is {look.body}, as planned.")
    if looser(look.body, wanted):
        return Advice(
            NextAct.TOO_LOOSE,
            "Too loose: choose a way back.",
            f"By your eye the paste is {look.body}; {wanted} was wanted.",
        )
    return None


def _by_ladder(paste: Paste, facts: Facts) -> Advice:
    if beyond_ladder(paste, facts) and paste.way is not Way.LEAVE:
        return Advice(
            NextAct.TOO_LOOSE,
            "Probably too loose: mull, look, or choose a way back.",
            "More oil is in than nine in ten such lots need.",
        )
    rungs = ladder_now(paste, facts)
    smallest = max(pours.SMALLEST_STEP_G, facts.smallest_step_g)
    for n, rung in enumerate(rungs):
        step = rung.cumulative_g - paste.oil_g
        if step < smallest:
            continue
        if n == 0:
            line = "Pour first" if paste.poured_g == 0 else "Pour on to the first rung"
            reason = "Safe to make at once: nine lots in ten need more than this."
        else:
            line = "Mull, look, then pour"
            reason = f"Only if it is still too stiff: {round(100 * (1 - rungs[n - 1].quantile))} lots in 100 need more."
        return Advice(NextAct.POUR, line, reason, step)
    return Advice(
        NextAct.LOOK,
        "Mull, then look at it.",
        "The whole ladder is poured: from here a few drops at a time, if any.",
    )
