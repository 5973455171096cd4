"""The log of a pot, and all that follows from an act: stock, what the base learned, sticks on the shelf."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy import delete, insert, update
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.acting import Logged
from niddy.core.contents import Contents, Role
from niddy.core.errors import Refused
from niddy.core.sources import lot_of, source
from niddy.core.sticks import Matter, PotAct, PotFacts, PotMaterial
from niddy.core.sticks.acts import BaseIn, DentSaid, MulledIn, PasteIn, PigmentIn, PotFinish, PotOilIn
from niddy.db.base import table_of
from niddy.db.sticks import StickPot, StickReading
from niddy.studio import log, materials, shelf, workshop
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.materials import Asked, LotDraw
from niddy.studio.recorder import Draw, LogRoom
from niddy.studio.shelf import PaintDraw
from niddy.studio.sticks.kept import POT_ACTS, ROOM, PotKept, pot
from niddy.studio.sticks.putting import put_sticks

_POT = table_of(StickPot)
_READING = table_of(StickReading)


def _grown(session: Session, kept: PotKept, entry: Entry) -> PotKept:
    acts = (*kept.acts, POT_ACTS.logged(entry))
    state = core.fold(acts)
    return replace(kept, status=state.status, last_seq=entry.seq, entries=(*kept.entries, entry), acts=acts, pot=state)


def _facts(session: Session, now: datetime, kept: PotKept, act: PotAct) -> PotFacts:
    """What the record makes of an act: grams by source, and what they are of. Raises Refused, Missing."""
    match act:
        case BaseIn() | PotOilIn() | PigmentIn():
            role = {"base": Role.WAX, "oil": Role.OIL, "pigment": Role.PIGMENT}[act.kind]
            material = _material(kept, act.source, role)
            try:
                parts = act.measure.measures(workshop.own_of(session, act.measure))
                return _in({material: sum(material.grams_of(part) for part in parts)})
            except Refused as refusal:
                raise refusal.under("measure") from None
        case MulledIn():
            grams: dict[PotMaterial, float] = {}
            for n, part in enumerate(act.parts):
                found = kept.material(part.source)
                if found is None:
                    raise Refused(
                        f"parts.{n}.source", f"'{part.source}' is not of this pot", "its pigments, oil and base"
                    )
                grams[found] = part.grams
            return _in(grams)
        case PasteIn():
            return _paste(session, act)
        case DentSaid():
            return PotFacts(dent_dmm=act.at_standard(workshop.settings(session).needle_on_beeswax_dmm))
        case _:
            return PotFacts()


def _material(kept: PotKept, name: str, role: Role) -> PotMaterial:
    found = kept.material(name)
    if found is None or found.role is not role:
        names = ", ".join(one.source for one in kept.planned.materials if one.role is role) or "nothing of the kind"
        raise Refused("source", f"'{name}' is not of this pot", names)
    return found


def _in(grams: dict[PotMaterial, float]) -> PotFacts:
    bases: dict[str, float] = {}
    oils: dict[str, float] = {}
    pigments: dict[str, Matter] = {}
    for material, amount in grams.items():
        if material.role is Role.PIGMENT:
            absorbs = material.oil_absorption_g_per_100g
            pigments[material.source] = Matter(amount, material.density_g_per_ml, absorbs)
        else:
            (bases if material.role is Role.WAX else oils)[material.source] = amount
    return PotFacts(bases, oils, pigments)


def _paste(session: Session, act: PasteIn) -> PotFacts:
    """What a tube, jar or stick brings: pigment with its oil absorption, wax as base, and all the rest as oil."""
    try:
        contents: Contents = shelf.part_of(session, act.item_id, act.volume_ml)
    except Missing:
        raise Missing("tube, jar or stick", act.item_id, "item_id") from None
    grams: dict[PotMaterial, float] = {}
    for content in contents:
        if content.grams <= 0:
            continue
        absorbs = None
        role = Role.WAX if content.role is Role.WAX else Role.OIL
        if content.role in (Role.PIGMENT, Role.EXTENDER):
            named, role = source(content.source), Role.PIGMENT
            asked = Asked(named.lot_id, named.key or None)
            dry = materials.gather(session, [asked], Asked(None, "linseed-refined")).pigments[0]
            absorbs = dry.demand_g_per_100g
        material = PotMaterial(
            content.source,
            role,
            content.name,
            "",
            content.density_g_per_ml or 0.93,
            absorbs,
            content.hazards,
            content.ci_name,
        )
        grams[material] = grams.get(material, 0.0) + content.grams
    return replace(_in(grams), materials=tuple(grams))


def _draws(kept: PotKept, logged: Logged[PotAct, PotFacts]) -> tuple[Draw, ...]:
    """What an act puts in is drawn from stock; paste of a tube from that tube."""
    if isinstance(logged.act, PasteIn):
        return (PaintDraw(logged.act.item_id, logged.act.volume_ml, f"pot {kept.number}"),)
    lots = ((lot_of(name), grams) for name, grams in logged.facts.grams.items())
    return tuple(LotDraw(lot_id, grams) for lot_id, grams in lots if lot_id is not None)


def _follow(session: Session, now: datetime, kept: PotKept, act: PotAct) -> PotKept:
    grown = replace(kept, entries=log.entries(session, kept.job_id))
    _teach(session, grown)
    if isinstance(act, PotFinish):
        put_sticks(session, now, grown, act.id, act.place)
    state = kept.pot
    summary = {
        "dent_dmm": state.dents[-1].dent_dmm if state.dents else None,
        "verdict": state.verdict or core.judge(state, kept.planned.plan).verdict,
        "sticks": state.sticks,
        "sticks_g": state.sticks_g,
    }
    session.execute(update(_POT).where(_POT.c.number == kept.number).values(summary))
    return grown


def _teach(session: Session, kept: PotKept) -> None:
    """What the dents of this pot say of its base, anew: an act struck out changes what was predicted after it."""
    plan = kept.planned.plan
    session.execute(delete(_READING).where(_READING.c.job_id == kept.job_id))
    rows = [
        {
            "act_id": one.id,
            "job_id": kept.job_id,
            "base_version_id": kept.base_version_id,
            "ln_ratio": max(-5.0, min(5.0, one.ln_ratio)),
            "by": one.by,
            "at": one.at,
        }
        for one in core.taught(kept.acts, plan.base, plan.oil)
    ]
    if rows:
        session.execute(insert(_READING), rows)


POTS: LogRoom[PotKept, PotAct, PotFacts] = LogRoom(
    ROOM,
    "pot",
    POT_ACTS,
    job=pot,
    grown=_grown,
    words=lambda kept, logged: logged.act.words(logged.facts, kept.names),
    check=lambda kept, act: core.check_act(kept.pot, act),
    check_undo=lambda kept, logged: core.check_undo(kept.pot, logged.act),
    facts=_facts,
    draws=_draws,
    follow=_follow,
)
