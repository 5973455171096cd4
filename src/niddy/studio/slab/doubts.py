"""Looks and log that contradict each other: what is asked of the maker, and which entry may be the slip."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from niddy.core import slab
from niddy.core.measures import DROP_G, GRAMS_PER_OUNCE, Unit
from niddy.core.plan import Facts
from niddy.core.slab import Kind, Paste
from niddy.studio.batches import BatchKept, Logged


@dataclass(frozen=True, slots=True)
class SuspectMeasure:
    """The figure of an entry in the unit it may have been meant in."""

    unit: Unit
    amount: float


@dataclass(frozen=True, slots=True)
class DoubtNow:
    """Looks and log contradict each other: in a sentence, with an amount whose unit may have been another one.

    `suspect` is the act whose amount would fit in another unit, `suspect_says` how and `suspect_measure` as what; None
    where none would.
    """

    says: str
    suspect: UUID | None
    suspect_says: str
    suspect_measure: SuspectMeasure | None = None


def doubt_now(kept: BatchKept, paste: Paste, facts: Facts) -> DoubtNow | None:
    """What is doubted now, or None."""
    found = slab.doubt(paste, facts)
    if found is None:
        return None
    for logged in reversed(kept.log):
        slip = _slip(kept, logged)
        if slip is not None:
            says, measure = slip
            return DoubtNow(found.says, logged.event.id, says, measure)
    return DoubtNow(found.says, None, "")


_SLIPS = (
    (GRAMS_PER_OUNCE, Unit.GRAM, Unit.OUNCE, "{amount:g} g may have been {amount:g} ounces"),
    (1 / GRAMS_PER_OUNCE, Unit.OUNCE, Unit.GRAM, "{amount:g} ounces may have been {amount:g} g"),
    (DROP_G, Unit.GRAM, Unit.DROP, "{amount:g} g may have been {amount:g} drops"),
    (1 / DROP_G, Unit.DROP, Unit.GRAM, "{amount:g} drops may have been {amount:g} g"),
)


def _slip(kept: BatchKept, logged: Logged) -> tuple[str, SuspectMeasure] | None:
    """In what other unit an amount would fit with what was seen; None where in none, or it counts no more."""
    event, paste = logged.event, kept.paste
    if event.mass is None or event.kind not in (Kind.POWDER, Kind.OIL) or event.id in paste.struck:
        return None
    measure = logged.payload.get("measure") or {}
    grams = event.mass.median
    for factor, unit, other, says in _SLIPS:
        if measure.get("unit", Unit.GRAM) != unit or measure.get("amount") is None:
            continue
        change = grams * (factor - 1)
        held = paste.oils if event.kind is Kind.OIL else paste.pigments
        if slab.fits(paste, kept.plan.facts, **{"oil_g" if held is paste.oils else "pigment_g": change}):
            amount = float(measure["amount"])
            return says.format(amount=amount), SuspectMeasure(unit=other, amount=amount)
    return None
