"""What the muller or the knife has to do, and what for: body, grit, new oil, or the other loads."""

from __future__ import annotations

from niddy.core.advice.acts import Advice, NextAct
from niddy.core.measures import minutes_said
from niddy.core.mulling import Due, MullingNow
from niddy.core.plan import Facts, Tool
from niddy.core.slab import Grit, Knowledge, Standing, Way, dusty

SHOWS = 0.02
"""Undispersed powder that makes a paste look so much too dry may hide another body (assumed)."""


def work(facts: Facts) -> str:
    """What one does with the tool at hand."""
    return "Work" if facts.tool is Tool.KNIFE else "Mull"


def which_load(mull: MullingNow) -> str:
    """The load at hand, in words."""
    return f"load {mull.load} of {len(mull.loads)}" if len(mull.loads) > 1 else "it"


def _with(facts: Facts) -> str:
    return " with the knife" if facts.tool is Tool.KNIFE else ""


def go_on(known: Knowledge, mull: MullingNow, why: str) -> Advice:
    """Go on with what is being worked, or begin."""
    if mull.running_since is not None:
        return Advice(NextAct.MULL_ON, f"{work(known.facts)} on.", why)
    if mull.loads[mull.load - 1].state == "waiting":
        doing = "working" if known.facts.tool is Tool.KNIFE else "mulling"
        return Advice(
            NextAct.MULL, f"Go on {doing} {which_load(mull)}.", f"{minutes_said(mull.left_minutes)} to go. {why}"
        )
    return Advice(NextAct.MULL, f"{work(known.facts)} {which_load(mull)}{_with(known.facts)}.", why)


def due_work(known: Knowledge, mull: MullingNow) -> Advice | None:
    """What is still to be worked though the body is right, and what for; None where nothing is.

    Other loads, grit that is felt or that nobody felt for yet, or oil that is not worked in.
    """
    look = known.look
    if look is None or known.standing is not Standing.RIGHT:
        return None
    if look.grit is not Grit.NONE and mull.begun and mull.left_minutes >= 1 and not mull.gathered and not mull.all_done:
        if mull.due is Due.DISPERSE:
            return go_on(known, mull, f"For the grit, not the body: it is {look.body}, as wanted.")
        if not known.settled(look):
            return go_on(known, mull, f"For the new oil, not the body: it is {look.body}; it may firm up a little.")
    apart = mull.begun and not mull.gathered and len(mull.loads) > 1
    if not apart:
        if known.worked_since and known.unmulled(look) >= SHOWS:
            return Advice(
                NextAct.LOOK, "Look at it again.", "You have worked it since you looked, and that loosens it."
            )
        return None
    if mull.all_done:
        return Advice(
            NextAct.GATHER, "Gather the loads.", f"All {len(mull.loads)} are mulled out; the paste is {look.body}."
        )
    if mull.loads[mull.load - 1].state == "running":
        return _load_done(known, mull)
    return go_on(known, mull, f"For the grit of the other loads, not the body: it is {look.body}, as wanted.")


def mull_on(known: Knowledge, mull: MullingNow) -> Advice | None:
    """Go on mulling while the minutes run; None once they are up, or at rest."""
    if mull.running_since is None or mull.left_minutes <= 0:
        return None
    if mull.due is Due.DISPERSE:
        return go_on(known, mull, "It will loosen as you mull: no oil yet.")
    return go_on(known, mull, "New oil looks wetter than it is until it is worked in.")


def running(known: Knowledge, mull: MullingNow) -> Advice | None:
    """What a muller that runs asks for; None at rest."""
    return None if mull.running_since is None else mull_on(known, mull) or _load_done(known, mull)


def _load_done(known: Knowledge, mull: MullingNow) -> Advice:
    if mull.left_minutes > 0:
        line = f"End {which_load(mull)}: no grit is felt."
        return Advice(NextAct.LOAD_DONE, line, "What is dispersed gains nothing from more minutes.")
    return Advice(
        NextAct.LOAD_DONE,
        f"{which_load(mull).capitalize()}: its minutes are up.",
        "Stop when no grit is felt under the knife, then look."
        if known.facts.tool is Tool.KNIFE
        else "Stop when the gauge or a silent muller says so too, then look.",
    )


def working_first(known: Knowledge, mull: MullingNow) -> Advice | None:
    """What has to be worked or looked at before the next drop of oil; None where the ladder speaks."""
    paste, facts, standing = known.paste, known.facts, known.standing
    if paste.poured_g <= 0 and not paste.by_eye.taps:
        return None
    if dusty(paste):
        if standing is Standing.DRY or known.first_pour_left:
            return None
        return Advice(
            NextAct.LOOK,
            "Fold in until no dust is left, then look.",
            "Wet curds first: dry powder would fly."
            if facts.tool is Tool.KNIFE
            else "The muller waits for wet curds: dry powder would ride up its sides.",
        )
    if known.first_pour_left and not mull.begun:
        return None
    if mull.running_since is not None:
        return _load_done(known, mull)
    if standing in (Standing.STIFFER, Standing.COARSE) and paste.way is not Way.LEAVE:
        # Seen before it is dispersed it looks too dry: mulled out first, nobody pours what it does not need.
        if mull.left_minutes >= 1 and mull.begun and not mull.gathered and not mull.all_done:
            return go_on(known, mull, _why(mull))
        if standing is Standing.STIFFER:
            return None
    if mull.all_done and len(mull.loads) > 1 and not mull.gathered:
        return Advice(NextAct.GATHER, "Gather the loads, then look.", f"All {len(mull.loads)} loads are mulled out.")
    if standing is Standing.UNSEEN and (mull.done or mull.gathered):
        whole = mull.gathered or len(mull.loads) == 1
        counts = "the whole batch" if whole else "the other loads too"
        return Advice(NextAct.LOOK, "Look at it.", f"What the knife says now counts for {counts}.")
    if mull.all_done or mull.gathered:
        return None
    if standing is Standing.DRY and mull.begun and mull.left_minutes < 1:
        return None
    return go_on(known, mull, _why(mull))


def _why(mull: MullingNow) -> str:
    if mull.due is Due.DISPERSE:
        return f"It takes {minutes_said(mull.need_minutes)} to disperse the powder; until then it looks too dry."
    return f"It takes {minutes_said(mull.need_minutes)} to work the new oil in."
