"""The end of a batch: where its paint goes, and what that makes: tubes, jars, a dab, or nothing that waits."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.slab import Status
from niddy.studio import shelf, slab, tubes
from niddy.studio.slab import Act, Finish, Goes, GoesTo, SlabView
from niddy.studio.tubes import FillAsked

DAB_ML = 1.0
"""A dab that is set aside for the record is about so much."""

PALETTE, DAB = "on the palette", "dab, set aside"


def record(session: Session, now: datetime, number: int, act: Act) -> SlabView:
    """Log an act at the slab; a finish that says where the paint went makes the tubes and jars of it too.

    Raises what `slab.record` raises. What cannot be put up, for want of a check or of paint, is left for the filling
    run.
    """
    seen = slab.record(session, now, number, act)
    if isinstance(act, Finish) and act.goes and seen.status is Status.FINISHED:
        for n, goes in enumerate(act.goes):
            _put(session, now, number, uuid5(act.id, f"goes-{n}"), goes)
    return seen


def _put(session: Session, now: datetime, number: int, key: UUID, goes: Goes) -> None:
    run = tubes.filling(session, now, number)
    if goes.to is not GoesTo.PALETTE and run.needs_reason:
        return
    left_ml = round(run.left_ml, 1)
    volume_ml = min(DAB_ML, left_ml) if goes.to is GoesTo.DAB else goes.volume_ml or left_ml
    if goes.to is GoesTo.TUBE and goes.count:
        asked = [FillAsked(id=uuid5(key, f"{k}"), tube_type_id=goes.tube_type_id) for k in range(goes.count)]
    elif volume_ml <= 0:
        return
    elif goes.to is GoesTo.TUBE:
        asked = [FillAsked(id=key, tube_type_id=goes.tube_type_id, volume_ml=volume_ml)]
    else:
        own = run.jars[0] if run.jars else "jar"
        jar = {GoesTo.PALETTE: PALETTE, GoesTo.DAB: DAB}.get(goes.to, own)
        reason = "used at once" if goes.to is GoesTo.PALETTE else ""
        asked = [FillAsked(id=key, jar=jar, volume_ml=volume_ml, reason=reason)]
    for one in asked:
        with session.begin_nested() as attempt:
            try:
                _, item_id = tubes.keep(session, now, number, one)
            except Refused:
                attempt.rollback()
                return
        if goes.to is GoesTo.PALETTE:
            left = {
                "id": uuid5(one.id, "used"),
                "made_at": now,
                "kind": "leave",
                "how": "used_up",
                "text": "used at once",
            }
            shelf.act(session, now, item_id, shelf.item_act_of(left))
