"""When an additive is next: one that is planned, or one chosen as the way back."""

from __future__ import annotations

from niddy.core import telling
from niddy.core.additives import InPaste, Moment
from niddy.core.advice.acts import Advice, NextAct
from niddy.core.plan import Facts
from niddy.core.slab import Paste, missing_additive_g


def next_additive(paste: Paste, facts: Facts, moment: Moment) -> Advice | None:
    """The next planned additive of one moment that is still to come."""
    for additive in facts.additives:
        missing = missing_additive_g(paste, additive)
        if additive.moment is not moment or missing <= 0:
            continue
        if moment is Moment.LAST:
            return Advice(
                NextAct.ADDITIVE,
                f"Stir in {additive.name}{_counted(additive, missing)}",
                "The body is right: this goes in last, a drop at a time, then look again.",
                missing,
                additive.source,
            )
        oil = missing * (1 - additive.additive_fraction)
        why = f"{oil:.1f} g of it is oil and comes off the pours." if oil else "It goes in with the first pour."
        return Advice(NextAct.ADDITIVE, f"Weigh in {additive.name}", why, missing, additive.source)
    return None


def stabilising(paste: Paste, stabiliser: InPaste) -> Advice | None:
    """What is still to be stirred in of the additive that was chosen as the way back."""
    missing = missing_additive_g(paste, stabiliser)
    if missing <= 0:
        return None
    half = missing > paste.pigment_g * stabiliser.planned_per_g / 2
    grams = missing / 2 if half else missing
    why = "Half of it first, mull, look: it stiffens more while it stands." if half else "The rest of it, then look."
    return Advice(
        NextAct.ADDITIVE,
        f"Stir in {stabiliser.name.lower()}{_counted(stabiliser, grams)}",
        f"The way back you chose. {why}",
        grams,
        stabiliser.source,
    )


def _counted(additive: InPaste, grams: float) -> str:
    """Grams of an additive as drops, or as ml where they would be too many; nothing of what is not dripped."""
    told = telling.drips(grams, additive.density_g_per_ml, additive.drop_g)
    return f", about {told.words}" if told is not None else ""
