"""Batches opened, and acts written into their logs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Boolean, String, bindparam, case, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from niddy.core.plan import Plan
from niddy.core.slab import Paste, Status
from niddy.db.batches import Batch, BatchEvent
from niddy.db.engine import notified
from niddy.studio.batches.kept import PASTE, PLAN, Logged
from niddy.studio.errors import Conflict


def open_batch(session: Session, now: datetime, request_id: UUID, plan: Plan, asked: dict[str, Any]) -> int:
    """Open a batch from a plan; its number. Asking twice with one `request_id` opens one batch.

    Raises Conflict where that id opened a batch from something else.
    """
    sources = [line.pigment for line in plan.lines]
    bottles = [part.lot_id for part in plan.oil.parts] or [plan.oil.lot_id]
    stirred = [line.dosing.lot_id for line in plan.additives]
    lot_ids = [lot_id for lot_id in (*(m.lot_id for m in sources), *bottles, *stirred) if lot_id is not None]
    stored = {"plan": PLAN.dump_python(plan, mode="json"), "asked": asked}
    number = session.scalar(
        insert(Batch)
        .values(
            request_id=request_id, name=plan.name, masstone_srgb=plan.masstone_srgb, status=Status.OPEN,
            plan=stored, paste=PASTE.dump_python(Paste(), mode="json"),
            pigment_keys=sorted({line.pigment.key for line in plan.lines if line.extends_pct is None}),
            lot_ids=sorted(set(lot_ids)),
            oil_name=plan.oil.name, started_at=now, last_seq=0, pigment_g=0.0, oil_g=0.0, made_ml=0.0,
            filled_ml=0.0, leftover_ml=0.0, tubes_filled=0, results={},
            recipe_id=asked.get("recipe_id"), recipe_version=asked.get("recipe_version"),
        )
        .on_conflict_do_nothing(index_elements=[Batch.request_id])
        .returning(Batch.number)
    )  # fmt: skip
    if number is not None:
        return int(number)
    earlier = session.execute(select(Batch.number, Batch.plan).where(Batch.request_id == request_id)).one()
    if earlier.plan["asked"] != asked:
        raise Conflict("request_id", "this id opened another batch already", "a new id for another batch")
    return int(earlier.number)


# Statements of the busiest path are built once: an act is logged in one round trip with what follows from it.
_WRITTEN = (
    insert(BatchEvent)
    .values(
        id=bindparam("id"), batch_number=bindparam("of_batch"), seq=bindparam("seq"), kind=bindparam("kind"),
        payload=bindparam("payload"), facts=bindparam("facts"), made_at=bindparam("made_at"),
        recorded_at=bindparam("recorded_at"),
    )
    .cte("written")
)  # fmt: skip


_APPEND = (
    update(Batch)
    .where(Batch.number == bindparam("of_batch"))
    .values(
        last_seq=bindparam("seq"), paste=bindparam("new_paste"), status=bindparam("new_status"),
        verdict=bindparam("new_verdict"), pigment_g=bindparam("new_pigment_g"), oil_g=bindparam("new_oil_g"),
        made_ml=bindparam("new_made_ml"), filled_ml=bindparam("new_filled_ml"),
        leftover_ml=bindparam("new_leftover_ml"), tubes_filled=bindparam("new_tubes"),
        ended_at=case(
            (bindparam("over", type_=Boolean), func.coalesce(Batch.ended_at, bindparam("made_at"))), else_=None
        ),
    )
    .add_cte(_WRITTEN)
    .returning(notified(bindparam("said_to", type_=String)))
)  # fmt: skip


def append(
    session: Session,
    now: datetime,
    number: int,
    logged: Logged,
    paste: Paste,
    made_ml: float,
    filled: Filled,
) -> None:
    """Write an act into the log of a locked batch, with the paste and the summary that follow from the whole log."""
    event = logged.event
    session.execute(
        _APPEND,
        {
            "id": event.id, "of_batch": number, "seq": event.seq, "kind": event.kind, "payload": logged.payload,
            "facts": logged.facts, "made_at": event.made_at, "recorded_at": now, "said_to": str(number),
            "new_paste": PASTE.dump_python(paste, mode="json", exclude={"struck"}), "new_status": paste.status,
            "new_verdict": paste.verdict, "new_pigment_g": paste.pigment_g, "new_oil_g": paste.oil_g,
            "new_made_ml": made_ml, "over": paste.status is not Status.OPEN, "new_filled_ml": filled.tubes_ml,
            "new_leftover_ml": filled.leftover_ml, "new_tubes": filled.tubes,
        },
        execution_options={"synchronize_session": False},
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Filled:
    """What a finished batch went into."""

    tubes_ml: float = 0.0
    leftover_ml: float = 0.0
    tubes: int = 0
