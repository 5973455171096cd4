"""Recording acts in a pot's log, with all that follows from one: stock, what the base learned, sticks on the shelf."""

from __future__ import annotations

from dataclasses import asdict, replace
from datetime import datetime
from typing import Any

from sqlalchemy import delete, insert, update
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.contents import Contents, Role
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.measures import to_grams
from niddy.core.sources import lot_of, source
from niddy.core.sticks import By, Kind, Matter
from niddy.db.base import table_of
from niddy.db.sticks import StickPot, StickReading
from niddy.studio import log, materials, photos, shelf, undoing, workshop
from niddy.studio.acting import PhotoAsked
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked
from niddy.studio.sticks.acts import (
    Act,
    BaseIn,
    Drop,
    DryTrial,
    MulledIn,
    Out,
    PasteIn,
    PigmentIn,
    PotFinish,
    PotOilIn,
    PotPicture,
    PotStrike,
    StickDent,
    WetTrial,
    payload_of,
)
from niddy.studio.sticks.kept import Material, PotKept, act_from, material_doc, pot
from niddy.studio.sticks.putting import put_sticks
from niddy.studio.times import act_time

TOO_SOFT_DMM = 130.0
"""What "too soft" is taken for, in 0.1 mm (assumed)."""

_POT = table_of(StickPot)
_READING = table_of(StickReading)


def keep(session: Session, now: datetime, number: int, act: Act) -> PotKept:
    """Log an act; the pot after it. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    kept = pot(session, number)
    log.hold(session, kept.job_id)
    kept = pot(session, number)
    payload = payload_of(act)
    if log.known(session, kept.job_id, act.id, act.kind, payload):
        return kept
    if isinstance(act, PotPicture):
        raise Refused(
            "kind", "a picture comes by its own address", f"the picture itself, to /api/sticks/{number}/photos"
        )
    return _log(session, now, kept, act, payload)


def take_photo(session: Session, now: datetime, number: int, asked: PhotoAsked, picture: bytes) -> PotKept:
    """Keep a picture, scaled down, and log it. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    scaled = photos.scaled(picture)
    kept = pot(session, number)
    log.hold(session, kept.job_id)
    kept = pot(session, number)
    act = PotPicture(
        id=asked.id, kind=Kind.PHOTO, made_at=asked.made_at, clock_made_at=asked.clock_made_at, text=asked.text or None
    )
    payload = payload_of(act)
    if log.known(session, kept.job_id, act.id, act.kind, payload):
        return kept
    after = _log(session, now, kept, act, payload)
    photos.keep(session, act.id, scaled)
    return after


def _log(session: Session, now: datetime, kept: PotKept, act: Act, payload: dict[str, Any]) -> PotKept:
    act_time("made_at", act.made_at, now)
    _check(kept, act)
    facts = _facts(session, kept, act)
    strikes = act.strikes if isinstance(act, PotStrike) else None
    entry = log.Entry(act.id, kept.last_seq + 1, act.kind, payload, facts, strikes, act.made_at)
    acts = (*kept.acts, act_from(entry))
    after = core.fold(acts)
    if isinstance(act, PotStrike):
        _move_back(session, now, kept, act)
    else:
        _move(session, now, kept, act, facts)
    log.append(
        session, now, kept.job_id, log.New(act.id, act.kind, act.made_at, payload, facts, strikes), kept.last_seq + 1,
        status=after.status,
    )  # fmt: skip
    grown = replace(
        kept, status=after.status, last_seq=entry.seq, entries=log.entries(session, kept.job_id), acts=acts, pot=after
    )  # fmt: skip
    _teach(session, grown)
    if isinstance(act, PotFinish):
        put_sticks(session, now, grown, act.id, act.place)
    _summarise(session, grown)
    return grown


def _check(kept: PotKept, act: Act) -> None:
    """Whether this act can be: what is refused names its field."""
    state = kept.pot
    if isinstance(act, PotStrike):
        target = undoing.undone_by(kept.entries, act.strikes)
        if target.kind == Kind.FINISH:
            raise Refused("strikes", "its sticks are on the shelf", "putting the sticks themselves right, there")
        if kept.status is Status.FINISHED and target.kind not in core.AFTERWARDS and target.kind != Kind.STRIKE:
            raise Refused("strikes", "the pot is done", "striking out a trial, a dent or a note")
        return
    if kept.status is not Status.OPEN and act.kind not in core.AFTERWARDS:
        raise Refused("kind", f"the pot is {kept.status}", "a trial, a dent, a verdict or a note")
    if act.kind in core.IN_POT and state.poured_at is not None:
        raise Refused("kind", "it is poured already", "striking out the pour first")
    if isinstance(act, Drop) and state.base_g + state.oil_g <= 0:
        raise Refused("kind", "there is nothing in the pot", "base or oil first")
    if isinstance(act, Drop | StickDent):
        _dent(act, None)
    if act.kind is Kind.POUR and state.total_g <= 0:
        raise Refused("kind", "there is nothing in the pot", "base and oil first")
    if isinstance(act, Out):
        if state.poured_at is None:
            raise Refused("kind", "nothing was poured yet", "the pour first")
        if act.grams is not None and act.grams > 1.05 * state.total_g:
            raise Refused("grams", f"{act.grams:g} g out of {state.total_g:.1f} g", f"up to {state.total_g:.1f} g")
    if isinstance(act, DryTrial):
        core.check_seen(core.DRY, act.seen)
    if isinstance(act, WetTrial):
        core.check_seen(core.WET, act.seen)
    if isinstance(act, DryTrial | WetTrial) and not act.seen:
        raise Refused("seen", "nothing was answered", "at least one answer")
    if isinstance(act, PotFinish) and not state.sticks:
        raise Refused("kind", "no stick is out of its mould", "how many came out, or giving the pot up")


def _dent(act: Drop | StickDent, needle_on_beeswax_dmm: float | None) -> float:
    """What was read, carried to 25 C and to the needle of the standard. Raises Refused for what is missing."""
    if act.by is By.NEEDLE:
        if act.dent_dmm is None:
            raise Refused("dent_dmm", "missing", "how deep the needle went, in 0.1 mm")
        dent = act.dent_dmm * core.BEESWAX_DMM / (needle_on_beeswax_dmm or core.BEESWAX_DMM)
    else:
        if act.feel is None:
            raise Refused("feel", "missing", "how it felt under the nail")
        dent = core.FEEL_DENT.get(act.feel, TOO_SOFT_DMM)
    return min(400.0, max(0.1, core.at_25_c(dent, act.at_c) if act.at_c is not None else dent))


def _facts(session: Session, kept: PotKept, act: Act) -> dict[str, Any]:
    """What the door makes of an act: grams by source, and what they are of."""
    match act:
        case BaseIn() | PotOilIn() | PigmentIn():
            role = {Kind.BASE: Role.WAX, Kind.OIL: Role.OIL, Kind.PIGMENT: Role.PIGMENT}[act.kind]
            material = _material(kept, act.source, role, "source")
            grams = to_grams(act.measure.measure(), density=material.density_g_per_ml).median
            return _in(material, grams)
        case MulledIn():
            facts: dict[str, Any] = {}
            for n, part in enumerate(act.parts):
                found = kept.material(part.source)
                if found is None:
                    raise Refused(
                        f"parts.{n}.source", f"'{part.source}' is not of this pot", "its pigments, oil and base"
                    )
                for key, value in _in(found, part.grams).items():
                    facts.setdefault(key, {}).update(value)
            return facts
        case PasteIn():
            return _paste(session, act)
        case Drop() | StickDent():
            return {"dent_dmm": _dent(act, workshop.settings(session).needle_on_beeswax_dmm)}
        case _:
            return {}


def _material(kept: PotKept, name: str, role: Role, field: str) -> Material:
    found = kept.material(name)
    if found is None or found.role is not role:
        names = ", ".join(one.source for one in kept.planned.materials if one.role is role) or "nothing of the kind"
        raise Refused(field, f"'{name}' is not of this pot", names)
    return found


def _in(material: Material, grams: float) -> dict[str, Any]:
    if material.role is Role.WAX:
        return {"bases": {material.source: grams}}
    if material.role is Role.PIGMENT:
        matter = Matter(grams, material.density_g_per_ml, material.oil_absorption_g_per_100g)
        return {"pigments": {material.source: asdict(matter)}}
    return {"oils": {material.source: grams}}


def _paste(session: Session, act: PasteIn) -> dict[str, Any]:
    """What a tube, jar or stick brings: pigment with its oil absorption, wax as base, and all the rest as oil."""
    try:
        contents: Contents = shelf.part_of(session, act.item_id, act.volume_ml)
    except Missing:
        raise Missing("tube, jar or stick", act.item_id, "item_id") from None
    pigments: dict[str, Any] = {}
    oils: dict[str, float] = {}
    bases: dict[str, float] = {}
    found: list[Material] = []
    for content in contents:
        if content.grams <= 0:
            continue
        density = content.density_g_per_ml or 0.93
        absorption = None
        if content.role in (Role.PIGMENT, Role.EXTENDER):
            named = source(content.source)
            asked = Asked(named.lot_id, named.key or None)
            dry = materials.gather(session, [asked], Asked(None, "linseed-refined")).pigments[0]
            absorption = dry.demand_g_per_100g
            pigments[content.source] = asdict(Matter(content.grams, density, absorption))
        else:
            into = bases if content.role is Role.WAX else oils
            into[content.source] = into.get(content.source, 0.0) + content.grams
        role = Role.PIGMENT if absorption is not None else content.role if content.role is Role.WAX else Role.OIL
        found.append(
            Material(
                content.source, role, content.name, "", density, absorption, content.hazards, content.ci_name
            )
        )  # fmt: skip
    return {"pigments": pigments, "oils": oils, "bases": bases, "materials": [material_doc(one) for one in found]}


def _grams_of(facts: dict[str, Any]) -> dict[str, float]:
    grams = {**facts.get("bases", {}), **facts.get("oils", {})}
    return {**grams, **{name: matter["grams"] for name, matter in facts.get("pigments", {}).items()}}


def _move(session: Session, now: datetime, kept: PotKept, act: Act, facts: dict[str, Any]) -> None:
    """Draw from stock what an act puts in; paste of a tube is drawn from that tube."""
    if isinstance(act, PasteIn):
        shelf.draw(session, now, act.item_id, act.id, kept.job_id, act.volume_ml, f"into pot {kept.number}")
        return
    for name, grams in _grams_of(facts).items():
        lot_id = lot_of(name)
        if lot_id is not None:
            materials.use(session, now, lot_id, grams, act.id, kept.job_id)


def _move_back(session: Session, now: datetime, kept: PotKept, act: PotStrike) -> None:
    """Give back what a struck act drew; a strike that is struck draws it again."""
    target = next(entry for entry in kept.entries if entry.id == act.strikes)
    again = target.kind == Kind.STRIKE
    if again:
        target = next(entry for entry in kept.entries if entry.id == target.strikes)
    if target.kind == Kind.PASTE:
        item_id, ml = target.payload["item_id"], target.payload["volume_ml"]
        if again:
            shelf.draw(session, now, item_id, act.id, kept.job_id, ml, f"into pot {kept.number}")
        else:
            shelf.put_back(session, now, item_id, act.id, target.id, ml, f"back from pot {kept.number}")
        return
    for name, grams in _grams_of(target.facts).items():
        lot_id = lot_of(name)
        if lot_id is None:
            continue
        if again:
            materials.use(session, now, lot_id, grams, act.id, kept.job_id)
        else:
            materials.give_back(session, now, lot_id, grams, act.id, kept.job_id)


def _teach(session: Session, kept: PotKept) -> None:
    """What the dents of this pot say of its base, anew: an act struck out changes what was predicted after it."""
    plan = kept.planned.plan
    session.execute(delete(_READING).where(_READING.c.job_id == kept.job_id))
    rows = [
        {"act_id": one.id, "job_id": kept.job_id, "base_version_id": kept.base_version_id,
         "ln_ratio": max(-5.0, min(5.0, one.ln_ratio)), "by": one.by, "at": one.at}
        for one in core.taught(kept.acts, plan.base, plan.oil)
    ]  # fmt: skip
    if rows:
        session.execute(insert(_READING), rows)


def _summarise(session: Session, kept: PotKept) -> None:
    state = kept.pot
    judged = core.judge(state, kept.planned.plan).verdict
    session.execute(
        update(_POT)
        .where(_POT.c.number == kept.number)
        .values(
            dent_dmm=state.dents[-1].dent_dmm if state.dents else None, verdict=state.verdict or judged,
            sticks=state.sticks, sticks_g=state.sticks_g,
        )
    )  # fmt: skip
