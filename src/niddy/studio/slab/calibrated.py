"""A plan with what was weighed of its lots since: a level spoon of a powder, twenty drops of an oil."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy.orm import Session

from niddy.core.plan import Plan
from niddy.studio import materials


def calibrated(session: Session, plan: Plan) -> Plan:
    """The plan as its lots' spoons and drops are known now; grams that are logged already stay what they are."""
    lots = [line.pigment.lot_id for line in plan.lines if line.pigment.lot_id is not None]
    if plan.oil.lot_id is not None:
        lots.append(plan.oil.lot_id)
    known = materials.weighed_once(session, lots) if lots else {}
    lines = []
    for line in plan.lines:
        loose = known[line.pigment.lot_id][0] if line.pigment.lot_id in known else None
        pigment = line.pigment
        if loose is not None:
            pigment = replace(pigment, loose_density_g_per_ml=loose, loose_density_measured=True)
        lines.append(replace(line, pigment=pigment))
    drop = known[plan.oil.lot_id][1] if plan.oil.lot_id in known else None
    if drop is None:
        return replace(plan, lines=tuple(lines))
    oil = replace(plan.oil, drop_g=drop, drop_measured=True)
    facts = replace(plan.facts, habit=replace(plan.facts.habit, drop_g=drop))
    return replace(plan, lines=tuple(lines), oil=oil, facts=facts)
