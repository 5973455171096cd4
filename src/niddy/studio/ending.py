"""The end of a batch: where its paint goes, and what that makes: tubes, jars, a dab, or nothing that waits."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.slab import Status
from niddy.studio import recorder, shelf, slab, tubes
from niddy.studio.slab import DAB_ML, Act, Finish, Goes, GoesTo, SlabView
from niddy.studio.tubes import FillAsked

PALETTE, DAB = "on the palette", "dab, set aside"


def record(session: Session, now: datetime, number: int, act: Act) -> SlabView:
    """Log an act at the slab; a finish that says where the paint went makes the tubes and jars of it too.

    Raises what `slab.record` raises. What cannot be put up, for want of a check or of paint, is left for the filling
    run.
    """
    seen = slab.record(session, now, number, act)
    if isinstance(act, Finish) and act.goes is not None and seen.status is Status.FINISHED:
        for tube in act.tubes or []:
            for n in range(tube.count):
                key = uuid5(act.id, f"tube-{tube.tube_type_id}-{n}")
                _keep(session, now, number, FillAsked(id=key, tube_type_id=tube.tube_type_id))
        for n, goes in enumerate(act.goes):
            _put(session, now, number, uuid5(act.id, f"goes-{n}"), goes)
    return seen


def _put(session: Session, now: datetime, number: int, key: UUID, goes: Goes) -> None:
    run = tubes.filling(session, now, number)
    left_ml = round(run.left_ml, 1)
    volume_ml = min(DAB_ML, left_ml) if goes.to is GoesTo.DAB else left_ml
    if volume_ml <= 0:
        return
    if goes.to is GoesTo.TUBE:
        _keep(session, now, number, FillAsked(id=key, tube_type_id=goes.tube_type_id, volume_ml=volume_ml))
        return
    jar = {GoesTo.PALETTE: PALETTE, GoesTo.DAB: DAB}.get(goes.to) or (run.jars[0] if run.jars else "jar")
    reason = "used at once" if goes.to is GoesTo.PALETTE else ""
    item_id = _keep(session, now, number, FillAsked(id=key, jar=jar, volume_ml=volume_ml, reason=reason))
    if goes.to is GoesTo.PALETTE and item_id is not None:
        left = {"id": uuid5(key, "used"), "made_at": now, "kind": "leave", "how": "used_up", "text": "used at once"}
        recorder.record(session, now, shelf.ITEMS, item_id, shelf.ITEMS.acts.act_of(left))


def _keep(session: Session, now: datetime, number: int, asked: FillAsked) -> int | None:
    """Put it up; None where it cannot be, for want of a check or of paint: that is left for the filling run."""
    with session.begin_nested() as attempt:
        try:
            return tubes.keep(session, now, number, asked)[1]
        except Refused:
            attempt.rollback()
            return None
