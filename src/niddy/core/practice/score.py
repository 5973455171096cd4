"""What came of a practice: how far it went over, what was corrected, where it ended, and what to do differently."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from niddy.core import pours, slab, wetting
from niddy.core.evidence import ZONE_REDUCED
from niddy.core.eye import BODY_WIDTH, OF_A_BODY, Judgement, bodies_said
from niddy.core.practice.begin import OIL_PRICE, TUBE, Begun
from niddy.core.practice.exercises import Exercise
from niddy.core.practice.hidden import Hidden, Moment, at_the_knife, needed_g, reduced, unmulled, walk
from niddy.core.practice.learner import BEGUN_AT, follow
from niddy.core.slab import Event, Kind, Stage
from niddy.core.wetting import Body

SHORT_G = 0.05
"""Less oil than this is no error anybody could pour away."""

OWN_SPREAD = 0.02
"""Nearer to the edge of a body than this nobody is told that it is the other (assumed)."""

STILL_LOOSENING = 0.03
"""A paste that still reads so much too stiff was not mulled out."""


@dataclass(frozen=True, slots=True)
class Came:
    """What came of a session. Oil in g as it really was, against what this very lot needed.

    `overshoot_g` is the most that was ever in beyond the wet edge of the body wanted; `overshoot_tubes` the paint that
    powder for it would make besides, in tubes. `oil_error_pct` is where the oil ended (`oil_g`) against what this lot
    needs for the middle of the body wanted (`needed_g`);
    `reads_stiff` what was still to mull away, `apart` how far its loads differ, both in reduced PVC.
    """

    body: Body
    right: bool
    overshoot_g: float
    overshoot_tubes: float
    corrections: int
    oil_error_g: float
    oil_error_pct: float
    minutes: float
    pours: int
    largest_pour_g: float
    spent: float
    reads_stiff: float
    apart: float
    unmulled_pours: int
    oil_g: float = 0.0
    needed_g: float = 0.0


@dataclass(frozen=True, slots=True)
class Score:
    """A practice against what the ladder would have done with the very same lot, and one line to take home."""

    mine: Came
    ladder: Came
    lesson: str
    lot_g_per_100g: float
    drop_factor: float
    spoon_factor: float


def came_of(events: Sequence[Event], begun: Begun, started_at: datetime) -> Came:
    """What came of a session's acts, those before it began left out."""
    plan, hidden = begun.plan, begun.hidden
    facts = plan.facts
    wanted = wetting.body_at(facts.target_reduced_pvc)
    edge = ZONE_REDUCED[wanted][0]
    over_g = spent = largest = apart = 0.0
    corrections = poured = unmulled_pours = 0
    before: Moment | None = None
    last: Moment | None = None
    for n, moment in enumerate(walk(events, hidden)):
        before, last = last, moment
        kind = moment.event.kind
        grams = moment.event.mass.median if moment.event.mass else 0.0
        if kind is Kind.GATHER:
            each = [pours.reading_excess(load.seconds / 60, hidden.tau_min) for load in moment.paste.mulling.loads]
            apart = max(each) - min(each)
        if n < len(begun.done):
            continue
        if kind is Kind.OIL:
            poured += 1
            largest = max(largest, grams)
            spent += grams * OIL_PRICE
            over_g = max(over_g, moment.oil_g - needed_g(moment.pigment_g, edge, facts, hidden))
            unmulled_pours += before is not None and _judged_too_soon(before, begun)
        elif kind in (Kind.POWDER, Kind.DRAW_OIL):
            corrections += 1
            spent += grams * begun.powder_price if kind is Kind.POWDER else 0.0
    assert last is not None
    at_end = reduced(last.pigment_g, last.oil_g, facts, hidden) if last.oil_g > 0 else 9.9
    needed = needed_g(last.pigment_g, facts.target_reduced_pvc, facts, hidden)
    ratio = needed_g(100, facts.target_reduced_pvc, facts, hidden)
    extra_ml = 100 * max(0.0, over_g) / ratio / facts.pigment_density_g_per_ml + max(0.0, over_g)
    minutes = (last.event.made_at - started_at).total_seconds() / 60
    body = wetting.body_at(at_end)
    loosens = _still_loosens(last, hidden)
    low, high = ZONE_REDUCED[wanted]
    # What reads otherwise now, beyond what an eye may miss, is not right, whatever it becomes.
    right = body is wanted and low - OWN_SPREAD <= at_end + loosens <= high + OWN_SPREAD
    return Came(
        body,
        right,
        max(0.0, over_g),
        max(0.0, extra_ml) / TUBE.usable_ml if over_g > 0 else 0.0,
        corrections,
        last.oil_g - needed,
        100 * (last.oil_g / needed - 1) if needed else 0.0,
        max(0.0, minutes),
        poured,
        largest,
        spent,
        loosens,
        apart,
        unmulled_pours,
        last.oil_g,
        needed,
    )


def _judged_too_soon(before: Moment, begun: Begun) -> bool:
    """Whether oil went in on a paste that was wet and right or softer already, and only read stiff."""
    facts, hidden = begun.plan.facts, begun.hidden
    if before.oil_g <= 0 or slab.dusty(before.paste):
        return False
    stiffest = ZONE_REDUCED[wetting.body_at(facts.target_reduced_pvc)][1]
    right = reduced(before.pigment_g, before.oil_g, facts, hidden) < stiffest
    return right and _still_loosens(before, hidden) > STILL_LOOSENING


def _still_loosens(moment: Moment, hidden: Hidden) -> float:
    """What is still to mull away of powder that was never dispersed; oil worked in afterwards is no matter of that."""
    return unmulled(moment.paste, hidden, moment.event.made_at) if moment.paste.charges else 0.0


def judgements(events: Sequence[Event], begun: Begun) -> tuple[Judgement, ...]:
    """Every body that was named at even paste, with what the paste really looked like."""
    found = []
    for moment in walk(events, begun.hidden):
        event = moment.event
        seen = at_the_knife(moment, begun.plan.facts, begun.hidden)
        if event.kind is Kind.LOOK and event.stage is Stage.EVEN_PASTE and event.body and seen and 0.3 <= seen <= 1.3:
            found.append(Judgement(seen, event.body))
    return tuple(found)


def score_of(exercise: Exercise, events: Sequence[Event], begun: Begun, started_at: datetime) -> Score:
    """A finished practice against the ladder on the very same lot."""
    mine = came_of(events, begun, started_at)
    ladder = came_of(follow(begun), begun, BEGUN_AT)
    hidden = begun.hidden
    return Score(
        mine, ladder, lesson(exercise, mine, ladder, begun), hidden.oil_absorption_g_per_100g, hidden.drop, hidden.spoon
    )


def lesson(exercise: Exercise, mine: Came, ladder: Came, begun: Begun) -> str:
    """One line on what to do differently; on what went well where nothing is to be."""
    if mine.overshoot_g <= SHORT_G and mine.reads_stiff > STILL_LOOSENING and abs(mine.oil_error_pct) < NEAR_PCT:
        return "The oil is right, but it was not mulled out: in the tube it will be softer than you judged it."
    if mine.overshoot_g > SHORT_G or (not mine.right and mine.oil_error_g > 0):
        if mine.unmulled_pours:
            return (
                "Oil went in while the paste was still loosening under the muller. Mull it out, look, and only then "
                "pour."
            )
        if exercise is Exercise.SPOONS and abs(begun.hidden.drop - 1) > 0.1:
            return (
                f"Your drops weigh {_factor(begun.hidden.drop)} the list says. Weigh twenty of them once, and the "
                "ladder knows."
            )
        if not mine.pours:
            return f"It ended {mine.body}: more powder, or oil drawn out on paper, brings it back before it is tubed."
        return (
            f"Your largest pour was {mine.largest_pour_g:.1f} g; the ladder never poured more than "
            f"{ladder.largest_pour_g:.1f} g at once. Stop earlier, then go by small steps."
        )
    if not mine.right and mine.oil_error_g < 0:
        return f"It could have taken {-mine.oil_error_g:.1f} g more oil. Look again after mulling, then pour a little."
    if exercise is Exercise.LOADS and mine.apart > APART_ALIKE:
        return (
            f"Your loads differ by {bodies_said(mine.apart)}: mull each as many minutes as the first, whatever the "
            "arms say."
        )
    if exercise is Exercise.OVERSHOT and not _as_cheap(mine, ladder):
        return "Right, but dear: paper draws a little oil for nothing, and less powder would have done."
    if mine.corrections > ladder.corrections:
        return "Right in the end. Half of what a correction asks for, then a look, saves the second one."
    off = abs(mine.oil_error_pct)
    return f"Right on it, {off:.0f} % of the oil from the middle. Try another lot, or without advice."


def _factor(factor: float) -> str:
    return f"{abs(round(100 * (factor - 1)))} % {'more' if factor > 1 else 'less'} than"


NEAR_PCT = 6.0
"""Oil nearer than this to what was needed is right."""

APART_ALIKE, OIL_ALIKE_PCT = 0.01, 2.0
"""Loads that differ by less are the same; oil that ends less further from the middle than the ladder's is as good."""


def _as_cheap(mine: Came, ladder: Came) -> bool:
    return mine.spent <= ladder.spent * 1.1 + 0.01


@dataclass(frozen=True, slots=True)
class Compared:
    """One line of a score: a maker's figure beside the ladder's on the same lot, in one unit, and how it was got.

    What is no figure is said in words. `as_good` is None where neither is better for it.
    """

    name: str
    unit: str
    digits: int
    mine: float | None
    ladder: float | None
    mine_says: str
    ladder_says: str
    as_good: bool | None
    how: str


def compared(exercise: Exercise, score: Score) -> tuple[Compared, ...]:
    """A score line by line, as far as the exercise is about it."""
    mine, ladder = score.mine, score.ladder

    def figure(name: str, unit: str, digits: int, own: float, other: float, as_good: bool | None, how: str) -> Compared:
        return Compared(name, unit, digits, own, other, "", "", as_good, how)

    rows = [
        Compared(
            "Ended as",
            "",
            0,
            None,
            None,
            mine.body,
            ladder.body,
            mine.right,
            "The body of what is really in the paste, mulled out.",
        ),
        figure(
            "Oil at the end, from the middle",
            "%",
            0,
            mine.oil_error_pct,
            ladder.oil_error_pct,
            abs(mine.oil_error_pct) <= abs(ladder.oil_error_pct) + OIL_ALIKE_PCT,
            _oil_how(mine, score),
        ),
        figure(
            "Went over by",
            "g of oil",
            1,
            mine.overshoot_g,
            ladder.overshoot_g,
            mine.overshoot_g <= ladder.overshoot_g + SHORT_G,
            "The most oil that was ever in, less the most this lot takes before it is softer than wanted.",
        ),
        figure(
            "which is",
            "tubes nobody wanted",
            1,
            mine.overshoot_tubes,
            ladder.overshoot_tubes,
            None,
            f"That oil, and the powder it would take to use it up, in tubes of {TUBE.usable_ml:.0f} ml of paint.",
        ),
        figure(
            "Corrections",
            "",
            0,
            mine.corrections,
            ladder.corrections,
            mine.corrections <= ladder.corrections,
            "How often powder was added or oil drawn out.",
        ),
    ]
    if exercise is Exercise.LOADS:
        rows.append(
            figure(
                "Loads apart",
                OF_A_BODY,
                2,
                mine.apart / BODY_WIDTH,
                ladder.apart / BODY_WIDTH,
                mine.apart <= ladder.apart + APART_ALIKE,
                "How much stiffer the load mulled least reads than the one mulled most.",
            )
        )
    if exercise is Exercise.OVERSHOT:
        rows.append(
            figure(
                "Spent",
                "",
                2,
                mine.spent,
                ladder.spent,
                _as_cheap(mine, ladder),
                "Powder and oil added, at what a gram costs in this exercise.",
            )
        )
    rows.append(figure("Time", "min", 0, mine.minutes, ladder.minutes, None, "From the beginning to the last act."))
    return tuple(rows)


def _oil_how(mine: Came, score: Score) -> str:
    says = f"This lot takes {score.lot_g_per_100g:.0f} g of oil per 100 g at rub-out."
    if mine.needed_g <= 0:
        return says
    return (
        f"{says} Of it the powder in your paste needed {mine.needed_g:.1f} g for the middle of the body; "
        f"{mine.oil_g:.1f} g was in at the end."
    )


def lot_says(exercise: Exercise, score: Score) -> str:
    """What was hidden, now that it is over."""
    says = f"This lot takes {score.lot_g_per_100g:.0f} g of oil per 100 g at rub-out."
    if exercise is not Exercise.SPOONS:
        return says
    return (
        f"{says} A drop here weighs {_factor(score.drop_factor)} the list says; a spoon holds "
        f"{100 * score.spoon_factor:.0f} % of what it says."
    )
