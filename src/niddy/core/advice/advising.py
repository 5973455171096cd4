"""Advice: one line about what to do next, and its reason."""

from __future__ import annotations

from niddy.core import telling
from niddy.core.additives import Moment
from niddy.core.advice.acts import Advice, NextAct, Planned
from niddy.core.advice.additives import next_additive, stabilising
from niddy.core.advice.working import due_work, mull_on, running, work, working_first
from niddy.core.correction import NEAR_ENOUGH
from niddy.core.mulling import MullingNow
from niddy.core.plan import Facts
from niddy.core.slab import Grit, Knowledge, Paste, SessionPhase, Standing, Status, Way, dry, dusty, know, supposed
from niddy.core.telling import Measuring
from niddy.core.wetting import Body

SWINGS_LIMIT = 2
"""Corrected both ways more often than this: rest the paste an hour before judging again."""

_POWDER_SLACK = 0.01


def advise(known: Knowledge, planned: tuple[Planned, ...], mull: MullingNow) -> Advice:
    """The next act for this paste under its plan, with the muller as it is now."""
    paste, facts = known.paste, known.facts
    if paste.status is not Status.OPEN:
        return Advice(NextAct.OVER, f"This batch is {paste.status}.", "Its record stays as it is.")
    if paste.asked:
        return Advice(NextAct.DOUBT, "Is that amount right?", "One tap keeps it, another puts it right.")
    if paste.phase is not None:
        return _gone_back(known, planned, mull)
    if not paste.ready and paste.pigment_g <= 0:
        return Advice(NextAct.READY, "Check the kit.", "Nothing is dusty yet: get everything ready now.")
    if known.standing not in (Standing.RIGHT, Standing.WETTER):
        powder = _powder_missing(paste, facts, planned)
        if powder is not None:
            return powder
    # A way back is worked out from what pours by eye are reckoned at.
    reckoned = know(supposed(paste, facts), facts) if paste.untold else known
    doubted = known.doubt
    if doubted is not None:
        return Advice(NextAct.DOUBT, "Something does not fit: look at the log first.", doubted.says)
    return (
        _as_seen(known, reckoned, planned, mull)
        or mull_on(known, mull)
        or next_additive(paste, facts, Moment.FIRST)
        or _rest(known)
        or _chosen_way(reckoned, planned, untold=paste.untold)
        or (_untold(known, mull) if paste.untold else None)
        or working_first(known, mull)
        or _by_ladder(known)
    )


def phase_now(known: Knowledge, planned: tuple[Planned, ...], mull: MullingNow) -> SessionPhase:
    """Where the session stands, as the acts say; or where the maker went back to."""
    paste, facts = known.paste, known.facts
    if paste.phase is not None:
        return paste.phase
    if paste.pigment_g <= 0:
        return SessionPhase.POWDER if paste.ready else SessionPhase.READY
    if paste.poured_g <= 0 and not paste.by_eye.taps:
        return SessionPhase.POWDER if _powder_missing(paste, facts, planned) is not None else SessionPhase.FOLD
    if dusty(paste):
        return SessionPhase.FOLD
    if known.standing in (Standing.RIGHT, Standing.STIFFER, Standing.WETTER):
        if known.doubt is not None or paste.asked:
            return SessionPhase.JUDGE
        if known.standing is Standing.RIGHT:
            return SessionPhase.MULL if due_work(known, mull) else SessionPhase.RIGHT
        if known.standing is Standing.WETTER or mull.left_minutes <= 0 or not mull.begun:
            return SessionPhase.JUDGE
    if mull.all_done or mull.gathered:
        return SessionPhase.JUDGE
    return SessionPhase.MULL if mull.begun else SessionPhase.WET


def _gone_back(known: Knowledge, planned: tuple[Planned, ...], mull: MullingNow) -> Advice:
    """What a phase asks for, where the maker went back to it. A look at the paste as it is still outranks it."""
    paste, facts = known.paste, known.facts
    why = "You went back to this; the next act goes on from here."
    seen = known.standing in (Standing.RIGHT, Standing.WETTER)
    if paste.pigment_g <= 0 and paste.phase is not SessionPhase.READY:
        missing = _powder_missing(paste, facts, planned) if paste.ready else None
        return missing or Advice(NextAct.READY, "Check the kit.", why)
    match paste.phase:
        case SessionPhase.READY:
            return Advice(NextAct.READY, "Check the kit again.", why)
        case SessionPhase.POWDER:
            return _powder_missing(paste, facts, planned) or Advice(
                NextAct.POWDER,
                "Weigh in more powder" if facts.habit.how is Measuring.SCALE else "Put in more powder",
                why,
                None,
                planned[0].source if planned else "",
            )
        case SessionPhase.FOLD | SessionPhase.WET if not seen and known.rungs:
            return _by_ladder(known)
        case SessionPhase.MULL if seen and (due := due_work(known, mull)) is not None:
            return due
        case SessionPhase.MULL if not seen and not dusty(paste):
            return running(known, mull) or Advice(NextAct.MULL, f"{work(facts)}.", why)
        case _:
            return Advice(NextAct.LOOK, "Look at it again.", why)


def _powder_missing(paste: Paste, facts: Facts, planned: tuple[Planned, ...]) -> Advice | None:
    """The powder of the plan that is not in yet. What was taken as told is in, whatever spoons make of it."""
    scale = facts.habit.how is Measuring.SCALE
    for line in planned:
        there = paste.pigments.get(line.source, 0.0)
        missing = line.grams - there
        least = _POWDER_SLACK * line.grams
        if not scale:
            # Less than half of the smallest spoon cannot be taken.
            least = max(least, telling.smallest_powder_g(line.loose_density_g_per_ml, facts.habit) / 2)
        if there > 0 and (paste.poured_g > 0 or paste.by_eye.taps or missing <= least):
            continue
        more = "the rest of the " if there > 0 else ""
        plan_has = telling.powder_words(line.grams, line.loose_density_g_per_ml, facts.habit)
        is_there = telling.powder_words(there, line.loose_density_g_per_ml, facts.habit) if there > 0 else "none"
        says = f"The plan has {plan_has}; {is_there} is on the slab so far."
        if facts.habit.how is Measuring.EYE:
            says = f"{'Not all' if there > 0 else 'None'} of it is on the slab so far."
        return Advice(
            NextAct.POWDER, f"{'Weigh in' if scale else 'Put in'} {more}{line.name}", says, missing, line.source
        )
    return None


def _rest(known: Knowledge) -> Advice | None:
    paste = known.paste
    # Rested and looked at, it is judged again: nobody waits for ever.
    if paste.swings <= SWINGS_LIMIT or known.look is not None:
        return None
    return Advice(
        NextAct.REST,
        "Let it rest an hour, then look.",
        f"Corrected to and fro {paste.swings} times: a paste judged too soon misleads.",
    )


def _as_seen(known: Knowledge, reckoned: Knowledge, planned: tuple[Planned, ...], mull: MullingNow) -> Advice | None:
    """What a look at the body wanted, or at a wetter one, leads to: it outranks the clock and the figures."""
    paste, look = known.paste, known.look
    if look is None or known.standing not in (Standing.RIGHT, Standing.WETTER):
        return None
    body = look.body
    if known.standing is Standing.WETTER:
        chosen = _chosen_way(reckoned, planned, untold=paste.untold)
        if chosen is not None:
            return chosen
        last = next_additive(paste, known.facts, Moment.LAST)
        if last is not None and _stiffens(known, last):
            return Advice(
                NextAct.ADDITIVE,
                last.line,
                f"The paste is {body}, softer than wanted, and this stiffens it.",
                last.grams,
                last.source,
            )
        if paste.untold and paste.by_eye.bottle_g is not None:
            return Advice(
                NextAct.BOTTLE,
                "Weigh the oil bottle.",
                f"The paste is {body}, softer than wanted: what the bottle lost says how much powder brings it back.",
            )
        wait = "" if known.settled(look) else " New oil is not worked in yet: it looks wetter than it is."
        return Advice(
            NextAct.TOO_LOOSE, "Too soft: choose a way back.", f"It looks {body}; {known.wanted} is wanted.{wait}"
        )
    if paste.way is Way.LEAVE:
        return Advice(NextAct.RIGHT, "Stop: leave it so.", f"You left it {body}: the batch is judged as that.")
    still = due_work(known, mull)
    if still is not None:
        return still
    last = next_additive(paste, known.facts, Moment.LAST)
    if last is not None:
        return last
    if paste.untold and paste.by_eye.bottle_g is not None:
        return Advice(
            NextAct.BOTTLE,
            "Stop: it is right. Weigh the oil bottle.",
            f"The paste is {body}, as planned: the bottle says what went in.",
        )
    grit = " A little grit is left; mull on only if you want it finer." if look.grit in _SOME_GRIT else ""
    return Advice(
        NextAct.RIGHT,
        "Stop: it is right.",
        f"{'Tube body' if body is Body.TUBE else str(body).capitalize()}, as planned.{grit}",
    )


_SOME_GRIT = (Grit.GRITTY, Grit.FAINT)


def _stiffens(known: Knowledge, last: Advice) -> bool:
    return any(what.source == last.source and what.ln_stress > 0 for what in known.facts.additives)


def _chosen_way(known: Knowledge, planned: tuple[Planned, ...], *, untold: bool) -> Advice | None:
    """What is still to do of the way back that was chosen. What was told and taken is in, and not asked for again."""
    paste = known.paste
    ratio = paste.oil_g_per_100g
    if paste.way is None or ratio is None or not planned:
        return None
    match paste.way:
        case Way.STABILISE if paste.stabiliser is not None:
            return stabilising(paste, paste.stabiliser)
        case Way.ADD_PIGMENT:
            return _powder_of_the_way(known, planned, "The way back you chose: more pigment.")
        case Way.STIFF_BATCH:
            beside = "The way back you chose: mull it to a putty beside the paste, then work both together."
            return _powder_of_the_way(known, planned, beside) or _oil_of_the_way(known)
        case Way.DRAW_OIL if ratio / known.ratio_wanted - 1 > NEAR_ENOUGH and known.standing is not Standing.RIGHT:
            if untold:
                return Advice(
                    NextAct.BOTTLE, "Say how much oil went in.", "The way back you chose is worked out from what is in."
                )
            return Advice(
                NextAct.DRAW_OIL,
                "Draw oil out on blotting paper",
                "The way back you chose. Weigh the paper before and after.",
                paste.oil_g - known.ratio_wanted * paste.pigment_g / 100,
            )
    return None


def _powder_of_the_way(known: Knowledge, planned: tuple[Planned, ...], why: str) -> Advice | None:
    whole = sum(max(0.0, grams) for grams in known.paste.way_g.values())
    for line in planned:
        left = known.paste.way_g.get(line.source, 0.0)
        least = telling.smallest_powder_g(line.loose_density_g_per_ml, known.facts.habit) / 2
        if left > max(least, NEAR_ENOUGH * known.paste.pigment_g * line.share) and whole > 0:
            return Advice(NextAct.POWDER, f"Add {line.name}", why, left, line.source)
    return None


def _oil_of_the_way(known: Knowledge) -> Advice | None:
    """The oil of the stiff batch, once its powder is there and as long as no look at the whole speaks against it."""
    left = sum(grams for source, grams in known.paste.way_g.items() if source in known.paste.oils)
    if left <= NEAR_ENOUGH * known.paste.oil_g or known.standing in (Standing.RIGHT, Standing.WETTER):
        return None
    habit = known.facts.habit
    told = telling.as_told_again(left, known.facts.oil_density_g_per_ml, habit)
    if left < known.smallest_pour_g or (told is None and habit.how is not Measuring.SCALE):
        # Less than this maker can pour is left to the looks.
        return None
    grams = told.grams if told is not None else left
    return Advice(NextAct.POUR, "Pour on the new powder", "The oil of the stiff batch beside the paste.", grams)


def _untold(known: Knowledge, mull: MullingNow) -> Advice | None:
    """Advice while pours by eye wait for the bottle: what the eye alone can say."""
    paste = known.paste
    pours_made = f"{paste.by_eye.taps} {'pour' if paste.by_eye.taps == 1 else 'pours'} by eye"
    if known.standing is Standing.STIFFER:
        assert known.look is not None
        return working_first(known, mull) or Advice(
            NextAct.POUR, "A little more oil", f"The paste is {known.look.body}; {known.wanted} is wanted."
        )
    if known.standing is Standing.DRY and dusty(paste):
        return Advice(NextAct.POUR, "A little more oil", "There is still dust.")
    if not dusty(paste):
        on = working_first(known, mull)
        if on is not None:
            return on
    return Advice(NextAct.LOOK, "Fold in, then look.", f"{pours_made}; the bottle has not been weighed since.")


def _by_ladder(known: Knowledge) -> Advice:
    """The next pour. Nobody has to pour all of it at once."""
    paste, rungs = known.paste, known.rungs
    if not rungs:
        if dry(paste):
            most = "More oil is in than nine in ten such powders need, and it is still dry"
            why = f"{most}: fold it in well before you add more."
        else:
            why = "All of the oil is in: from here a few drops at a time, if any."
        return Advice(NextAct.LOOK, "Work it in, then look.", why)
    rung = rungs[0]
    if known.first_pour_left:
        line = "Pour first" if paste.poured_g == 0 else "Pour the rest of the first pour"
        reason = "Safe to make at once: nine lots in ten need more than this."
        if known.belief.looked:
            line = "Pour a little more"
            reason = "It is still dry. By what you saw, nine lots in ten need more than this."
    elif known.standing is Standing.STIFFER:
        assert known.look is not None
        line, reason = "Pour a little more", f"The paste is {known.look.body}; {known.wanted} is wanted."
    elif known.standing is Standing.DRY:
        line, reason = "Pour a little more", "It is still dry."
    else:
        line = "Pour a little more"
        reason = f"Only if still too stiff; {round(10 * (1 - rung.quantile))} of 10 lots need even more."
    return Advice(NextAct.POUR, line, reason, rung.step_g)
