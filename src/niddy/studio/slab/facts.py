"""What the door makes of an act: grams from the measure, millilitres from the tubes, words for the log."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from niddy.core import measures
from niddy.core.additives import InPaste, beside_the_plan
from niddy.core.errors import Refused
from niddy.core.measures import Measure, Unit
from niddy.core.slab import Kind
from niddy.core.sources import lot_of, source
from niddy.studio import additives, materials, recipes, workshop
from niddy.studio.batches import BatchKept
from niddy.studio.materials import Asked
from niddy.studio.plan import PlanAsked
from niddy.studio.slab.acts import Act, AmountAsked, check_whole
from niddy.studio.slab.bench import mulling_now, must_be_ready, ways_back


def facts_of(session: Session, now: datetime, kept: BatchKept, act: Act) -> dict[str, Any]:
    """What the door makes of an act: grams from the measure, millilitres from the tubes, words for the log."""
    check_whole(act)
    match act.kind:
        case Kind.POWDER:
            if must_be_ready(kept):
                raise Refused("kind", "the kit was not checked yet", "powder once mask, gloves and tools are ready")
            return _powder_facts(kept, act)
        case Kind.BY_EYE:
            if act.source != kept.plan.oil.source:
                raise Refused("source", f"'{act.source}' is not this batch's oil", kept.plan.oil.source)
        case Kind.MULL:
            muller = mulling_now(kept.paste, kept.plan, now)
            count = len(muller.loads)
            if act.load is not None and act.load > count:
                raise Refused("load", f"there is no load {act.load}", f"1 to {count}")
            return {"of_loads": count, "load": act.load or muller.load}
        case Kind.FINENESS:
            return {"target_fineness_um": kept.plan.facts.target_fineness_um}
        case Kind.OIL:
            oil = kept.plan.oil
            if act.source != oil.source:
                raise Refused("source", f"'{act.source}' is not this batch's oil", oil.source)
            return mass_facts(
                act, density=oil.density_g_per_ml, drop_g=oil.drop_g if oil.drop_measured else None,
                drop_measured=oil.drop_measured,
            )  # fmt: skip
        case Kind.ADDITIVE:
            return _additive_facts(session, now, kept, act)
        case Kind.LEAVE_OUT:
            accepted = " or ".join(one.source for one in kept.plan.facts.additives) or "nothing: none is planned"
            if act.source not in [one.source for one in kept.plan.facts.additives]:
                raise Refused("source", f"'{act.source}' is not a planned additive", accepted)
        case Kind.SAMPLE | Kind.DRAW_OIL:
            return mass_facts(act, density=kept.plan.oil.density_g_per_ml if act.kind is Kind.DRAW_OIL else None)
        case Kind.CHOOSE_WAY:
            return _way_facts(session, kept, act)
        case Kind.FINISH:
            filled = workshop.tubes(session, [(tube.tube_type_id, tube.count) for tube in act.tubes or []])
            return {
                "filled_ml": sum(tube.usable_ml * tube.count for tube in filled),
                "tubes": [f"{tube.count} x {tube.name}" for tube in filled if tube.count],
            }
    return {}


def _powder_facts(kept: BatchKept, act: Act) -> dict[str, Any]:
    for line in kept.plan.lines:
        if line.pigment.source == act.source:
            return mass_facts(
                act,
                loose_density=line.pigment.loose_density_g_per_ml,
                loose_density_measured=line.pigment.loose_density_measured,
            )
    accepted = " or ".join(line.pigment.source for line in kept.plan.lines)
    raise Refused("source", f"'{act.source}' is not in this batch", accepted)


def _additive_facts(session: Session, now: datetime, kept: BatchKept, act: Act) -> dict[str, Any]:
    """An additive's grams, and what the paste needs to know of it: as planned, or looked up where it was not."""
    asked = PlanAsked.model_validate(kept.asked)
    recipes.check_stance(session, asked.recipe_id, asked.recipe_version, "source")
    what = next((one for one in kept.plan.facts.additives if one.source == act.source), None)
    if what is None:
        what = _additive_beside(session, kept, act.source or "")
    lot_id = lot_of(what.source)
    if lot_id is not None:
        lot = materials.lot(session, lot_id)
        if lot.use_by is not None and lot.use_by < now.date():
            raise Refused("source", f"lot {lot.code} is past its use-by, {lot.use_by}", "a fresh one")
    told = mass_facts(act, density=what.density_g_per_ml, drop_g=what.drop_g, drop_measured=what.drop_measured)
    return {**told, "additive": asdict(what)}


def _additive_beside(session: Session, kept: BatchKept, name: str) -> InPaste:
    """An additive that the plan did not have, by the name the log would give it."""
    named = source(name)
    asked = Asked(named.lot_id, named.key or None)
    stirred = materials.dosings(session, [(asked, 0.0)], additives.taught(session), "source")
    if not stirred.dosings:
        raise Refused("source", "an extender is weighed in with the dry powder", "a plan with it")
    return beside_the_plan(stirred.dosings[0], kept.plan.ratio.value / 100, trial=kept.plan.trial)


def mass_facts(act: Act, **known: Any) -> dict[str, Any]:
    """The grams of an amount with their spread, and how it was measured in words. Raises Refused under `measure`."""
    if act.measure is None:
        raise Refused("measure", "missing", "an amount and its unit")
    asked = act.measure
    said = said_of(asked)
    try:
        mass = measures.to_grams(Measure(asked.unit, asked.amount, asked.before_g, asked.after_g), **known)
    except Refused as refusal:
        raise refusal.under("measure") from None
    return {
        "mass": {"median": mass.median, "low": mass.low, "high": mass.high, "basis": mass.basis},
        "said": said,
    }


def said_of(asked: AmountAsked, *, grams: bool = False) -> str:
    """An amount as it was measured; empty where that was grams, unless they are wanted."""
    if asked.unit in (Unit.WEIGH_BACK, Unit.WEIGH_IN):
        what = "bottle" if asked.unit is Unit.WEIGH_BACK else "balance"
        return f"{what} {asked.before_g or 0:g} to {asked.after_g or 0:g} g"
    if asked.amount is None or (asked.unit is Unit.GRAM and not grams):
        return ""
    plural = "s" if asked.amount != 1 and asked.unit not in (Unit.MILLILITRE, Unit.GRAM) else ""
    return f"{asked.amount:g} {measures.UNIT_NAMES[asked.unit]}{plural}"


def _way_facts(session: Session, kept: BatchKept, act: Act) -> dict[str, Any]:
    open_ways = ways_back(session, kept)
    for way in open_ways:
        if way.way is act.way:
            return {"target_reduced_pvc": way.target_reduced_pvc, "said": way.title}
    raise Refused(
        "way",
        "not open to this paste now",
        ", ".join(way.way for way in open_ways) or "none: it is on target",
    )
