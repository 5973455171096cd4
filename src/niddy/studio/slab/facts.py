"""What the door makes of an act: grams from the measure, millilitres from the tubes, words for the log."""

from __future__ import annotations

from dataclasses import asdict, replace
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from niddy.core import measures, slab
from niddy.core.acting import AmountAsked
from niddy.core.advice import mulling_now
from niddy.core.errors import Refused
from niddy.core.estimate import Estimate, total
from niddy.core.materials import DryPigment
from niddy.core.measures import Family, Unit, family
from niddy.core.slab import DoubtAnswer, Event, Kind
from niddy.core.sources import lot_of
from niddy.core.ways import Portion
from niddy.studio import batches, materials, recipes, workshop
from niddy.studio.batches import BatchKept
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import stirring
from niddy.studio.slab.acts import (
    DAB_ML,
    Act,
    AdditiveIn,
    Amend,
    AnswerDoubt,
    ByEye,
    CameOut,
    ChooseWay,
    DrawOil,
    Fineness,
    Finish,
    Goes,
    GoesTo,
    LeaveOut,
    Measured,
    Mull,
    OilIn,
    PowderIn,
    Sample,
    check_whole,
)
from niddy.studio.slab.asked import told_g
from niddy.studio.slab.bench import must_be_ready, ways_back
from niddy.studio.slab.calibrated import calibrated


def facts_of(session: Session, now: datetime, kept: BatchKept, act: Act) -> dict[str, Any]:
    """What the door makes of an act: grams from the measure, millilitres from the tubes, words for the log."""
    check_whole(act)
    oil = kept.plan.oil
    match act:
        case PowderIn():
            kept = _as_weighed(session, kept, act.measure)
            if must_be_ready(kept):
                raise Refused("kind", "the kit was not checked yet", "powder once mask, gloves and tools are ready")
            return _powder_facts(session, kept, act)
        case ByEye():
            if act.source != oil.source:
                raise Refused("source", f"'{act.source}' is not this batch's oil", oil.source)
        case Mull():
            muller = mulling_now(kept.paste, kept.plan, now)
            count = len(muller.loads)
            if act.load is not None and act.load > count:
                raise Refused("load", f"there is no load {act.load}", f"1 to {count}")
            return {"of_loads": count, "load": act.load or muller.load}
        case Fineness():
            return {"target_fineness_um": kept.plan.facts.target_fineness_um}
        case OilIn():
            return _oil_facts(session, _as_weighed(session, kept, act.measure), act)
        case CameOut():
            kept = _as_weighed(session, kept, act.measure)
            found = mass_facts(session, act, **_of_oil(kept))
            if act.guessed:
                found["mass"] = _kept(measures.guessed(Estimate(**found["mass"])))
            return found
        case AdditiveIn():
            return _additive_facts(session, now, kept, act)
        case LeaveOut():
            accepted = (
                " or ".join(additive.source for additive in kept.plan.facts.additives) or "nothing: none is planned"
            )
            if act.source not in [additive.source for additive in kept.plan.facts.additives]:
                raise Refused("source", f"'{act.source}' is not a planned additive", accepted)
        case Sample():
            return mass_facts(session, act)
        case DrawOil():
            return mass_facts(session, act, density=oil.density_g_per_ml)
        case AnswerDoubt():
            if act.answer is DoubtAnswer.BELIEVE_EYE:
                return {"widened_sd_ln": slab.widening(slab.know(kept.paste, kept.plan.facts))}
            if act.answer is DoubtAnswer.AS_ENTERED and act.about not in [asked.act for asked in kept.paste.asked]:
                raise Refused("about", "nothing is asked about that entry", "the id of an entry that is asked about")
        case Amend():
            return _amend_facts(session, kept, act)
        case ChooseWay():
            return _way_facts(session, kept, act)
        case Finish():
            filled = workshop.tubes(session, [(tube.tube_type_id, tube.count) for tube in act.tubes or []])
            filled_ml = sum(tube.usable_ml * tube.count for tube in filled)
            supposed = slab.reckoned_oil(kept.paste, kept.plan.facts)
            return {
                "reckoned": _kept(supposed) if supposed is not None else None,
                "filled_ml": filled_ml,
                "leftover_ml": _left_ml(kept, act, filled_ml),
                "tubes": [f"{tube.count} x {tube.name}" for tube in filled if tube.count],
                "goes": [_goes_words(session, goes, rest=filled_ml > 0) for goes in act.goes or []],
            }
    return {}


def _left_ml(kept: BatchKept, act: Finish, filled_ml: float) -> float:
    """What the full tubes leave: as it was said, or by where the rest goes; none where nothing was filled yet."""
    if act.leftover_ml is not None:
        return act.leftover_ml
    places = {goes.to for goes in act.goes or []}
    if not filled_ml or not places:
        return 0.0
    rest_ml = max(0.0, slab.volume_ml(slab.supposed(kept.paste, kept.plan.facts), kept.plan.facts) - filled_ml)
    return min(DAB_ML, rest_ml) if places == {GoesTo.DAB} else rest_ml


def _goes_words(session: Session, goes: Goes, rest: bool) -> str:
    what = "the rest" if rest else "all of it"
    match goes.to:
        case GoesTo.DAB:
            return "a dab set aside"
        case GoesTo.PALETTE:
            return f"{what} on the palette"
        case GoesTo.JAR:
            return f"{what} into a jar"
        case GoesTo.TUBE:
            (tube,) = workshop.tubes(session, [(goes.tube_type_id or 0, 1)])
            return f"{what} into one more tube, {tube.name}"


def _as_weighed(session: Session, kept: BatchKept, asked: AmountAsked) -> BatchKept:
    """The batch with its spoons and drops as they are known now, where the amount was told in such."""
    if all(one.known.family is Family.SCALE for one in asked.measures({})):
        return kept
    return replace(kept, plan=calibrated(session, kept.plan))


def _amend_facts(session: Session, kept: BatchKept, act: Amend) -> dict[str, Any]:
    """The grams of an amount put right, measured as the act it belongs to would be."""
    target = batches.act(session, kept.job_id, act.amends)
    if target is None or target.event.kind not in (Kind.POWDER, Kind.OIL):
        raise Refused("amends", "no such amount in this batch", "the id of powder or oil that went in")
    source = target.event.source
    if target.event.kind is Kind.POWDER:
        powder = PowderIn(id=act.id, made_at=act.made_at, kind=Kind.POWDER, source=source, measure=act.measure)
        return _powder_facts(session, kept, powder)
    return _oil_facts(
        session, kept, OilIn(id=act.id, made_at=act.made_at, kind=Kind.OIL, source=source, measure=act.measure)
    )


def _oil_facts(session: Session, kept: BatchKept, act: OilIn) -> dict[str, Any]:
    oil = kept.plan.oil
    if act.source != oil.source:
        raise Refused("source", f"'{act.source}' is not this batch's oil", oil.source)
    return mass_facts(session, act, **_of_oil(kept))


def _of_oil(kept: BatchKept) -> dict[str, Any]:
    """What turns measures of this batch's oil into grams."""
    oil = kept.plan.oil
    return {
        "density": oil.density_g_per_ml,
        "drop_g": oil.drop_g if oil.drop_measured else None,
        "drop_measured": oil.drop_measured,
    }


def _powder_facts(session: Session, kept: BatchKept, act: PowderIn) -> dict[str, Any]:
    for line in kept.plan.lines:
        if line.pigment.source == act.source:
            if act.measure.unit is Unit.EYE:
                return _by_eye(kept, act, line.mass.value)
            found = mass_facts(
                session,
                act,
                loose_density=line.pigment.loose_density_g_per_ml,
                loose_density_measured=line.pigment.loose_density_measured,
            )
            return _dry_of(found, act, line.pigment) if line.pigment.liquid_share else found
    accepted = " or ".join(line.pigment.source for line in kept.plan.lines)
    raise Refused("source", f"'{act.source}' is not in this batch", accepted)


def _by_eye(kept: BatchKept, act: PowderIn, planned_g: float) -> dict[str, Any]:
    """Powder taken by eye: what was told, or the share of it that was said; beyond that a little of the plan."""
    known = slab.know(kept.paste, kept.plan.facts)
    told = told_g(kept.plan, known, Event(act.id, 0, Kind.POWDER, act.made_at, act.source))
    share = act.measure.amount
    if told <= 0:
        told, share = planned_g, share if share is not None else LEAST_BY_EYE
    said = "by eye" if share is None else f"by eye, {share:.0%} of it"
    return {"mass": _kept(measures.by_eye(told * (share if share is not None else 1.0))), "said": said}


def _dry_of(found: dict[str, Any], act: PowderIn, pigment: DryPigment) -> dict[str, Any]:
    """Of a lot that is still wet, its dry part: a scale weighs the liquid too, a spoon is reckoned without it."""
    if family(act.measure.unit) is not Family.SCALE:
        return found
    mass = found["mass"]
    dry = {
        name: mass[name] * (1 - pigment.liquid_share) for name in ("median", "low", "high") if mass[name] is not None
    }
    return {"mass": {**mass, **dry}, "said": found["said"] or f"{mass['median']:g} g wet"}


def _kept(mass: Estimate) -> dict[str, Any]:
    return {"median": mass.median, "low": mass.low, "high": mass.high, "basis": mass.basis}


LEAST_BY_EYE = 0.1
"""Powder taken by eye beyond what was planned is taken for so much of the plan (assumed)."""


def _additive_facts(session: Session, now: datetime, kept: BatchKept, act: AdditiveIn) -> dict[str, Any]:
    """An additive's grams, and what the paste needs to know of it: as planned, or looked up where it was not."""
    asked = PlanAsked.model_validate(kept.asked)
    recipes.check_stance(session, asked.recipe_id, asked.recipe_version, "source")
    what = next((additive for additive in kept.plan.facts.additives if additive.source == act.source), None)
    if what is None:
        what = stirring.beside(session, kept, [act.source])[0]
    lot_id = lot_of(what.source)
    if lot_id is not None:
        lot = materials.lot(session, lot_id)
        if lot.use_by is not None and lot.use_by < now.date():
            raise Refused("source", f"lot {lot.code} is past its use-by, {lot.use_by}", "a fresh one")
    measured = mass_facts(
        session, act, density=what.density_g_per_ml, drop_g=what.drop_g, drop_measured=what.drop_measured
    )
    return {**measured, "additive": asdict(what)}


def mass_facts(session: Session, act: Measured, **known: Any) -> dict[str, Any]:
    """The grams of an amount with their spread, and how it was measured in words. Raises Refused under `measure`."""
    own = workshop.own_of(session, act.measure)
    said = act.measure.said(own, liquid="density" in known)
    try:
        mass = total([measures.to_grams(part, by_marks=True, **known) for part in act.measure.measures(own)])
    except Refused as refusal:
        raise refusal.under("measure") from None
    return {"mass": _kept(mass), "said": said}


def _as_told(portion: Portion) -> float:
    """The grams of a portion as it is told: what spoons make of it is what is asked for."""
    return portion.told.grams if portion.told is not None else portion.grams


def _way_facts(session: Session, kept: BatchKept, act: ChooseWay) -> dict[str, Any]:
    open_ways = ways_back(session, kept)
    for way in open_ways:
        if way.way is act.way:
            chosen: dict[str, Any] = {"additive": asdict(way.stabiliser)} if way.stabiliser is not None else {}
            if way.stabiliser is None and way.portions:
                chosen["portions"] = {portion.source: _as_told(portion) for portion in way.portions}
                if way.oil_g > 0:
                    oil_g = way.oil_told.grams if way.oil_told is not None else way.oil_g
                    chosen["portions"][kept.plan.oil.source] = oil_g
            return {"target_reduced_pvc": way.target_reduced_pvc, "said": way.title, **chosen}
    raise Refused(
        "way", "not open to this paste now", ", ".join(way.way for way in open_ways) or "none: it is on target"
    )
