"""Advice: one line about what to do next, and its reason."""

from __future__ import annotations

from niddy.core import pours, telling
from niddy.core.additives import Moment
from niddy.core.advice.acts import Advice, NextAct, Planned
from niddy.core.advice.additives import next_additive, stabilising
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.mulling import Due, MullingNow
from niddy.core.plan import Facts, Tool
from niddy.core.slab import (
    Look,
    Paste,
    SessionPhase,
    Stage,
    Status,
    Way,
    beyond_ladder,
    body_wanted,
    doubt,
    dusty,
    ladder_now,
    last_even_look,
    last_look_here,
    supposed,
    target_ratio,
    to_the_middle_g,
)
from niddy.core.telling import Measuring
from niddy.core.wetting import Body

SWINGS_LIMIT = 2
"""Corrected both ways more often than this: rest the paste an hour before judging again."""

_POWDER_SLACK = 0.01


def looser(body: Body, than: Body) -> bool:
    """Whether `body` is wetter than `than`."""
    order = list(Body)
    return order.index(body) > order.index(than)


def advise(paste: Paste, facts: Facts, planned: tuple[Planned, ...], mull: MullingNow) -> Advice:
    """The next act for this paste under this plan, with the muller as it is now."""
    if paste.status is not Status.OPEN:
        return Advice(NextAct.OVER, f"This batch is {paste.status}.", "Its record stays as it is.")
    if paste.phase is not None:
        return _gone_back(paste, facts, planned, mull)
    if not paste.ready and paste.pigment_g <= 0:
        return Advice(NextAct.READY, "Check the kit.", "Nothing is dusty yet: the time to have all of it at hand.")
    powder = _powder_missing(paste, facts, planned)
    if powder is not None:
        return powder
    if mull.running_since is not None and mull.left_minutes > 0:
        return _mull_on(facts, mull)
    first = next_additive(paste, facts, Moment.FIRST)
    if first is not None:
        return first
    # Rested and looked at, it is judged again: nobody waits for ever.
    if paste.swings > SWINGS_LIMIT and last_look_here(paste) is None:
        return Advice(
            NextAct.REST,
            "Let it rest an hour, then look.",
            f"Corrected to and fro {paste.swings} times: a paste judged too soon misleads.",
        )
    if paste.untold:
        return _chosen_way(supposed(paste, facts), facts, planned) or _untold(paste, facts, mull)
    doubted = doubt(paste, facts)
    if doubted is not None:
        return Advice(NextAct.DOUBT, "Something does not fit: look at the log first.", doubted.says)
    chosen = _chosen_way(paste, facts, planned)
    if chosen is not None:
        return chosen
    return (
        _by_eye(paste, facts, mull)
        or _beyond(paste, facts)
        or _by_muller(paste, facts, mull)
        or _by_ladder(paste, facts)
    )


def phase_now(paste: Paste, facts: Facts, planned: tuple[Planned, ...], mull: MullingNow) -> SessionPhase:
    """Where the session stands, as the acts say; or where the maker went back to."""
    if paste.phase is not None:
        return paste.phase
    if paste.pigment_g <= 0:
        return SessionPhase.POWDER if paste.ready else SessionPhase.READY
    if paste.poured_g <= 0 and not paste.by_eye.taps:
        return SessionPhase.POWDER if _powder_missing(paste, facts, planned) is not None else SessionPhase.FOLD
    if dusty(paste):
        return SessionPhase.FOLD
    look = last_even_look(paste)
    if look is not None and mull.running_since is None:
        right = look.body is body_wanted(paste, facts) or paste.way is Way.LEAVE
        if doubt(paste, facts) is not None:
            return SessionPhase.JUDGE
        if right and _told(look, mull) and (mull.all_done or not mull.begun):
            return SessionPhase.RIGHT
        if _told(look, mull) and not right:
            return SessionPhase.JUDGE
    if mull.all_done or mull.gathered:
        return SessionPhase.JUDGE
    return SessionPhase.MULL if mull.begun else SessionPhase.WET


def _gone_back(paste: Paste, facts: Facts, planned: tuple[Planned, ...], mull: MullingNow) -> Advice:
    """What a phase asks for, where the maker went back to it."""
    why = "You went back to this; the next act goes on from here."
    match paste.phase:
        case SessionPhase.READY:
            return Advice(NextAct.READY, "Check the kit again.", why)
        case SessionPhase.POWDER:
            return _powder_missing(paste, facts, planned) or Advice(NextAct.POWDER, "Weigh in more powder", why)
        case SessionPhase.FOLD | SessionPhase.WET:
            return Advice(NextAct.POUR, "Pour, then fold in", why)
        case SessionPhase.MULL:
            if mull.running_since is not None:
                return _mull_on(facts, mull)
            return Advice(NextAct.MULL, f"{_work(facts)} {_which(mull)}", why)
        case _:
            return Advice(NextAct.LOOK, "Look at it again.", why)


def _which(mull: MullingNow) -> str:
    return f"load {mull.load} of {len(mull.loads)}" if len(mull.loads) > 1 else "it"


def _work(facts: Facts) -> str:
    """What one does with the tool at hand."""
    return "Work" if facts.tool is Tool.KNIFE else "Mull"


def _with(facts: Facts) -> str:
    return " with the knife" if facts.tool is Tool.KNIFE else ""


def _mull_on(facts: Facts, mull: MullingNow) -> Advice:
    reason = (
        f"{mull.need_minutes:.0f} minutes a load: twice its dispersion time. It still loosens, so do not pour yet."
        if mull.due is Due.DISPERSE
        else f"{mull.need_minutes:.0f} minutes work new oil into a paste that is dispersed."
    )
    return Advice(NextAct.MULL_ON, f"{_work(facts)} on.", reason)


def _told(look: Look, mull: MullingNow) -> bool:
    """Whether a look saw the paste mulled out, or nobody kept time."""
    return look.mulled_min is None or look.due is Due.REWORK or look.mulled_min >= mull.disperse_minutes - 0.25


def _untold(paste: Paste, facts: Facts, mull: MullingNow) -> Advice:
    """Advice while pours by eye wait for the bottle: what the eye alone can say."""
    look = last_look_here(paste)
    pours_made = f"{paste.by_eye.taps} {'pour' if paste.by_eye.taps == 1 else 'pours'} by eye"
    if look is not None and look.stage is Stage.EVEN_PASTE and look.body is not None:
        wanted = body_wanted(paste, facts)
        if look.body is wanted or looser(look.body, wanted):
            return _untold_body(paste, facts, mull, look.body)
        return Advice(NextAct.POUR, "A little more oil", f"The paste is {look.body}; {wanted} is wanted.")
    if look is not None and dusty(paste):
        return Advice(NextAct.POUR, "A little more oil", "There is dust yet.")
    if not dusty(paste):
        on = _by_muller(paste, facts, mull)
        if on is not None:
            return on
    return Advice(NextAct.LOOK, "Fold in, then look.", f"{pours_made}; the bottle has not been weighed since.")


def _untold_body(paste: Paste, facts: Facts, mull: MullingNow, body: Body) -> Advice:
    """The body wanted, or a softer one, with oil that nobody told: the eye alone carries the session."""
    wanted = body_wanted(paste, facts)
    if looser(body, wanted) and paste.way is not Way.LEAVE:
        if paste.by_eye.bottle_g is not None:
            return Advice(
                NextAct.BOTTLE, "Weigh the oil bottle.",
                f"The paste is {body}, softer than wanted: what the bottle lost says how much powder brings it back.",
            )  # fmt: skip
        return Advice(
            NextAct.TOO_LOOSE, "Too soft: choose a way back.", f"By your eye the paste is {body}; {wanted} was wanted."
        )
    apart = mull.begun and not mull.gathered and len(mull.loads) > 1
    if apart and mull.all_done:
        return Advice(NextAct.GATHER, "Gather the loads.", f"All {len(mull.loads)} are mulled out; it is {body}.")
    if apart:
        on = _by_muller(paste, facts, mull)
        if on is not None:
            return on
    last = next_additive(paste, facts, Moment.LAST)
    if last is not None:
        return last
    if paste.by_eye.bottle_g is not None:
        return Advice(
            NextAct.BOTTLE, "Stop: it is right. Weigh the oil bottle.",
            f"The paste is {body}, as planned: the bottle says what went in.",
        )  # fmt: skip
    return Advice(NextAct.RIGHT, "Stop: it is right.", f"By your eye the paste is {body}, as planned.")


def _powder_missing(paste: Paste, facts: Facts, planned: tuple[Planned, ...]) -> Advice | None:
    scale = facts.habit.how is Measuring.SCALE
    for line in planned:
        there = paste.pigments.get(line.source, 0.0)
        missing = line.grams - there
        if there > 0 and (paste.poured_g > 0 or missing <= line.grams * _POWDER_SLACK):
            continue
        more = "the rest of the " if there > 0 else ""
        plan_has = telling.powder_words(line.grams, line.loose_density_g_per_ml, facts.habit)
        is_there = telling.powder_words(there, line.loose_density_g_per_ml, facts.habit) if there > 0 else "none"
        return Advice(
            NextAct.POWDER,
            f"{'Weigh in' if scale else 'Put in'} {more}{line.name}",
            f"The plan has {plan_has}; {is_there} is on the slab yet.",
            missing,
            line.source,
        )
    return None


def _chosen_way(paste: Paste, facts: Facts, planned: tuple[Planned, ...]) -> Advice | None:
    ratio = paste.oil_g_per_100g
    if paste.way is None or ratio is None or not planned:
        return None
    if paste.way is Way.STABILISE and paste.stabiliser is not None:
        return stabilising(paste, paste.stabiliser)
    look = last_even_look(paste)
    if look is not None and look.body is body_wanted(paste, facts):
        # By the eye the way has led where it should: what the figures would still add is not asked for.
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


def _by_eye(paste: Paste, facts: Facts, mull: MullingNow) -> Advice | None:
    look = last_even_look(paste)
    if look is None or look.body is None:
        return None
    if paste.oil_g <= 0:
        return Advice(
            NextAct.POUR, "Log the oil that went in.",
            f"Even paste was seen, {look.body}, yet there is no oil in the log.",
        )  # fmt: skip
    wanted = body_wanted(paste, facts)
    if looser(look.body, wanted) and paste.way is not Way.LEAVE:
        return Advice(
            NextAct.TOO_LOOSE,
            "Too loose: choose a way back.",
            f"By your eye the paste is {look.body}; {wanted} was wanted.",
        )
    if (look.body is wanted or paste.way is Way.LEAVE) and _told(look, mull):
        apart = mull.begun and not mull.gathered and len(mull.loads) > 1
        last = next_additive(paste, facts, Moment.LAST)
        if last is not None and (not apart or mull.all_done):
            return last
        if not apart:
            return _right(paste, facts, look.body)
        if mull.all_done:
            return Advice(
                NextAct.GATHER, "Gather the loads.",
                f"All {len(mull.loads)} are mulled out, and the paste is {look.body}, as planned.",
            )  # fmt: skip
        return _by_muller(paste, facts, mull)
    return None


def _right(paste: Paste, facts: Facts, body: Body) -> Advice:
    """Stop: the body is the one wanted, or was left as it is. At its stiff side the middle is worth a word."""
    if paste.way is Way.LEAVE:
        return Advice(NextAct.RIGHT, "Stop: leave it so.", f"You left it {body}: the batch is judged as that.")
    more = to_the_middle_g(paste, facts)
    if more >= max(pours.SMALLEST_STEP_G, facts.smallest_step_g):
        return Advice(
            NextAct.RIGHT, "Right, at its stiff side.",
            f"By your eye the paste is {body}, as planned; "
            f"{telling.oil_words(more, facts.oil_density_g_per_ml, facts.habit)} more oil reach the middle of it.",
            more,
        )  # fmt: skip
    return Advice(NextAct.RIGHT, "Stop: it is right.", f"By your eye the paste is {body}, as planned.")


def _by_muller(paste: Paste, facts: Facts, mull: MullingNow) -> Advice | None:
    """What the muller has to do before the next drop of oil; None where the ladder speaks."""
    here = last_look_here(paste)
    smallest = max(pours.SMALLEST_STEP_G, facts.smallest_step_g)
    rungs = ladder_now(paste, facts)
    first_is_in = bool(paste.by_eye.taps) or not rungs or paste.oil_g >= rungs[0].cumulative_g - smallest
    if dusty(paste):
        if paste.poured_g <= 0 or not first_is_in or here is not None:
            return None
        return Advice(
            NextAct.LOOK, "Fold in until no dust is left, then look.",
            "Wet curds first: dry powder would fly." if facts.tool is Tool.KNIFE
            else "The muller waits for wet curds: dry powder would ride up its sides.",
        )  # fmt: skip
    if not first_is_in and not mull.begun:
        return None
    which = _which(mull)
    if mull.running_since is not None:
        return Advice(
            NextAct.LOAD_DONE, f"{which.capitalize()}: its minutes are up.",
            "Stop when the gauge or a silent muller says so too, then look." if facts.tool is not Tool.KNIFE
            else "Stop when no grit is felt under the knife, then look.",
        )  # fmt: skip
    seen = here is not None and here.stage is Stage.EVEN_PASTE and here.body is not None and _told(here, mull)
    if mull.all_done and len(mull.loads) > 1 and not mull.gathered and not seen:
        return Advice(NextAct.GATHER, "Gather the loads, then look.", f"All {len(mull.loads)} loads are mulled out.")
    if (mull.done or mull.gathered) and not seen:
        return Advice(
            NextAct.LOOK, "Look at it.", "It is mulled out: what the knife says now counts for the whole batch."
        )
    wanted = body_wanted(paste, facts)
    stiff = seen and here is not None and here.body is not None and looser(wanted, here.body)
    if mull.all_done or (mull.gathered and seen) or (stiff and paste.way is not Way.LEAVE):
        return None
    if seen and not mull.begun:
        return None
    if mull.loads[mull.load - 1].state == "waiting":
        left = f"{mull.left_minutes:.0f} min to go." if mull.left_minutes >= 1 else "Its minutes are up."
        if mull.left_minutes <= 0:
            return Advice(NextAct.LOAD_DONE, f"{which.capitalize()}: its minutes are up.", "End it, then look.")
        doing = "working" if facts.tool is Tool.KNIFE else "mulling"
        return Advice(NextAct.MULL, f"Go on {doing} {which}.", left)
    why = (
        f"{mull.need_minutes:.0f} minutes: twice the dispersion time of this powder."
        if mull.due is Due.DISPERSE
        else f"{mull.need_minutes:.0f} minutes work the new oil in."
    )
    return Advice(NextAct.MULL, f"{_work(facts)} {which}{_with(facts)}.", why)


def _beyond(paste: Paste, facts: Facts) -> Advice | None:
    if last_even_look(paste) is not None or paste.way is Way.LEAVE or not beyond_ladder(paste, facts):
        return None
    return Advice(
        NextAct.TOO_LOOSE,
        "Probably too loose: mull, look, or choose a way back.",
        "More oil is in than nine in ten such lots need.",
    )


def _by_ladder(paste: Paste, facts: Facts) -> Advice:
    rungs = ladder_now(paste, facts)
    smallest = max(pours.SMALLEST_STEP_G, facts.smallest_step_g)
    for n, rung in enumerate(rungs):
        step = rung.cumulative_g - paste.oil_g
        if step < smallest:
            continue
        if n == 0:
            line = "Pour first" if paste.poured_g == 0 else "Pour the rest of the first pour"
            reason = "Safe to make at once: nine lots in ten need more than this."
        else:
            line = "Pour a little more"
            reason = f"Only if it is still too stiff: {round(100 * (1 - rungs[n - 1].quantile))} lots in 100 need more."
        return Advice(NextAct.POUR, line, reason, step)
    return Advice(
        NextAct.LOOK,
        "A few drops at most, then look.",
        "The whole ladder is poured: from here a few drops at a time, if any.",
    )
