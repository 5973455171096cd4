"""What the door makes of an act in a run: grams of spoons, net weights, colour differences, what waste holds."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.colorimetry import Lab, difference
from niddy.core.errors import Refused
from niddy.core.estimate import Basis, Estimate, total
from niddy.core.making import RunAct, RunActFacts, Scaled
from niddy.core.making.acts import PlateWeighed, RunFinished, WeighedIn
from niddy.core.making.trying import Displaced, LabRead, LightLooked, StrengthSeen
from niddy.core.making.wasting import WasteOut
from niddy.core.measures import Unit, by_eye, to_grams
from niddy.studio import materials, workshop
from niddy.studio.errors import Missing
from niddy.studio.making.runs import RunKept
from niddy.studio.materials import LotKept


def facts_of(session: Session, kept: RunKept, act: RunAct) -> RunActFacts:
    """The facts of an act. Raises Refused, Missing naming the field."""
    match act:
        case WeighedIn():
            return _weighed_in(session, kept, act)
        case RunFinished() if act.g is None:
            return _all_there_is(session, act)
        case PlateWeighed():
            if act.g <= act.tare_g:
                raise Refused("g", f"no more than the empty plate's {act.tare_g:g} g", f"above {act.tare_g:g} g")
            return RunActFacts(g=act.g - act.tare_g)
        case StrengthSeen():
            if act.reference_lot_id is not None:
                lot = _lot(session, act.reference_lot_id, "reference_lot_id")
                return RunActFacts(percent=_strength(act), reference=f"{lot.name}, lot {lot.code}")
            return RunActFacts(percent=_strength(act))
        case LightLooked():
            return _looked(act)
        case Displaced():
            density, half = core.density_by_displacement(act.powder_g, act.full_g, act.with_powder_g, act.oil_g_per_ml)
            return RunActFacts(g=density, half=half)
        case WasteOut():
            return RunActFacts(holds=waste_holds(kept))
        case _:
            return RunActFacts()


def waste_holds(kept: RunKept) -> tuple[str, ...]:
    """What the liquids of a run may hold, by what goes in."""
    return tuple(sorted({key for _, keys in goes_in(kept) for key in keys} - core.NOT_IN_WASTE))


def loose_of(lot: LotKept | None) -> float:
    """What a ml of an ingredient weighs, loose, in g."""
    return lot.loose_density.value if lot is not None and lot.loose_density is not None else core.LOOSE_G_PER_ML


def spoon_says(lot: LotKept | None) -> str:
    """What a spoon of an ingredient is taken for."""
    if lot is not None and lot.loose_density is not None:
        return f"5 ml of it are taken for {5 * loose_of(lot):.1f} g"
    return f"5 ml of it are taken for {5 * core.LOOSE_G_PER_ML:g} g, give or take a third (assumed)"


def goes_in(kept: RunKept) -> list[tuple[str, tuple[str, ...]]]:
    """What goes into a run and what it may do: as planned, and what of another lot went in beside the plan."""
    found = {one.name: set(one.hazards) for one in kept.plan.weigh}
    for _, facts in kept.acts_of(WeighedIn):
        found.setdefault(facts.name, set()).update(facts.hazards)
    return [(name, tuple(sorted(keys))) for name, keys in found.items()]


def planned_of(kept: RunKept, key: str) -> Scaled:
    """What was planned of an ingredient. Raises Refused."""
    found = next((one for one in kept.plan.weigh if one.key == key), None)
    if found is None:
        names = ", ".join(one.name for one in kept.plan.weigh)
        raise Refused("ingredient", f"'{key}' is not of this run", names)
    return found


def _weighed_in(session: Session, kept: RunKept, act: WeighedIn) -> RunActFacts:
    planned = planned_of(kept, act.ingredient)
    lot_id = act.lot_id if act.lot_id is not None else kept.lots.get(act.ingredient)
    lot = _lot(session, lot_id, "lot_id") if lot_id is not None else None
    if lot is not None and lot.kind not in (materials.RAW, "pigment"):
        raise Refused("lot_id", f"lot {lot.code} is {lot.kind}", "a raw material, or a powder such as chalk")
    per_gram = _per_gram(session, kept, act.ingredient, lot) if lot is not None else 1.0
    loose = loose_of(lot)
    own = workshop.own_of(session, act.measure)
    written = next(one for one in kept.process.ingredients if one.key == act.ingredient)
    liquid = written.unit in core.LIQUID_UNITS
    try:
        if act.measure.unit is Unit.EYE:
            # Some of it is some; of what was planned by weight it is about that.
            left_g = planned.g - kept.run.added.get(act.ingredient, 0.0)
            grams = (
                by_eye(max(left_g, planned.g * LEAST_BY_EYE))
                if not planned.some
                else Estimate.exact(0.0, Basis.ASSUMED)
            )
        elif liquid:
            parts = act.measure.measures(own)
            grams = total([to_grams(part, density=core.LOOSE_G_PER_ML, by_marks=True) for part in parts])
        else:
            grams = total([to_grams(part, loose_density=loose) for part in act.measure.measures(own)])
    except Refused as refusal:
        raise refusal.under("measure") from None
    spread = grams.high > grams.low * 1.02
    return RunActFacts(
        g=grams.median,
        counts_g=grams.median / per_gram,
        low=grams.low if spread else None,
        high=grams.high if spread else None,
        said=act.measure.said(own, liquid=liquid),
        name=planned.name,
        hazards=lot.hazards if lot is not None else (),
        lot_id=lot_id,
        lot_code=lot.code if lot is not None else "",
    )


def _all_there_is(session: Session, act: RunFinished) -> RunActFacts:
    """The grams of a powder that was measured in spoons."""
    if act.measure is None:
        raise Refused("g", "missing", "what there is, in g or in level spoons")
    own = workshop.own_of(session, act.measure)
    try:
        grams = total([to_grams(part, loose_density=POWDER_G_PER_ML) for part in act.measure.measures(own)])
    except Refused as refusal:
        raise refusal.under("measure") from None
    return RunActFacts(g=grams.median, low=grams.low, high=grams.high, said=act.measure.said(own))


POWDER_G_PER_ML = 0.5
"""A loose fine powder just made, of which nothing nearer is known (assumed)."""

LEAST_BY_EYE = 0.1
"""What is taken by eye beyond what was planned is taken for so much of it (assumed)."""


def _per_gram(session: Session, kept: RunKept, key: str, lot: LotKept) -> float:
    """g of a lot for each g of what was planned of an ingredient. Raises Refused where it is another salt."""
    written = next(one for one in kept.process.ingredients if one.key == key)
    formula, purity = written.formula, written.purity
    planned_lot = kept.lots.get(key)
    if planned_lot is not None:
        formula, purity = _is(materials.lot(session, planned_lot), formula, purity)
    try:
        return core.grams_per_gram(formula, purity, *_is(lot, formula, purity))
    except Refused as refusal:
        raise Refused("lot_id", refusal.problem, refusal.accepted) from None


def _is(lot: LotKept, formula: str, purity: float) -> tuple[str, float]:
    """The formula and purity of a lot; what it does not say is as written."""
    return lot.formula or formula, lot.purity.value / 100 if lot.purity is not None else purity


def _lot(session: Session, lot_id: int, field: str) -> LotKept:
    try:
        return materials.lot(session, lot_id)
    except Missing:
        raise Missing("lot", lot_id, field) from None


def _strength(act: StrengthSeen) -> float:
    return core.strength_percent(act.white_parts, act.reference_white_parts)


def _looked(act: LightLooked) -> RunActFacts:
    if act.fading is not None and act.covered is None and act.uncovered is None:
        return RunActFacts()
    if act.fading is None and act.covered is not None and act.uncovered is not None:
        off = difference(_lab(act.covered, "covered"), _lab(act.uncovered, "uncovered"))
        return RunActFacts(fading=core.fading_of(off), percent=off)
    raise Refused("fading", "missing", "how it looks, or both halves read")


def _lab(read: LabRead, field: str) -> Lab:
    try:
        return Lab(read.L, read.a, read.b)
    except Refused as refusal:
        raise refusal.under(field) from None
