"""An old paint put back on the slab."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.plan import Plan
from niddy.core.slab import Kind
from niddy.core.sources import of_lot
from niddy.db.shelf import ItemUse, ShelfItem
from niddy.studio import batches, log, slab
from niddy.studio.plan import LineAsked, OilAsked, OldPaintAsked, PlanAsked
from niddy.studio.shelf.items import HERE, Left, item_row
from niddy.studio.slab import AmountAsked, act_of


@dataclass(frozen=True, slots=True)
class Reground:
    """The batch that an old paint became."""

    number: int


def regrind(session: Session, now: datetime, item_id: int, request_id: UUID) -> Reground:
    """Put an old paint back on the slab: a batch whose powder and oil are in already, at its known ratio.

    Nothing is drawn from stock: it was when the paint was made. Raises Refused, Missing.
    """
    row = item_row(session, item_id, lock=True)
    act_id = uuid5(request_id, "regrind")
    known = log.act(session, row.job_id, act_id)
    if known is not None:
        return Reground(int(known.facts["batch"]))
    if row.batch_number is None:
        raise Refused("id", "nobody knows what is in it", "a jar matched with its batch first")
    if row.status not in HERE:
        raise Refused("id", f"it is {row.status.replace('_', ' ')}", "a tube or jar that is here")
    kept = batches.batch(session, row.batch_number, 0)
    paste, plan = kept.paste, kept.plan
    density = row.density_g_per_ml or paste.total_g / max(0.01, batches.line(session, row.batch_number).made_ml)
    share = row.volume_ml * density / paste.total_g
    number = slab.take_to_slab(session, now, uuid5(request_id, "batch"), _as_old_paint(row, plan, kept.asked, share))
    source = {w.pigment.source: of_lot(None, w.pigment.key) for w in plan.lines}

    def said(kind: Kind, name: str, **what: object) -> None:
        asked = {"id": uuid5(request_id, name), "kind": kind, "made_at": now, **what}
        slab.record(session, now, number, act_of(asked))

    said(Kind.READY, "ready")
    for n, (lot, grams) in enumerate(paste.pigments.items()):
        said(Kind.POWDER, f"powder-{n}", source=source[lot], measure=AmountAsked(amount=max(0.01, grams * share)))
    said(
        Kind.OIL,
        "oil",
        source=of_lot(None, plan.oil.parts[0].key if plan.oil.parts else plan.oil.key),
        measure=AmountAsked(amount=max(0.01, paste.oil_g * share)),
    )
    for n, additive in enumerate(paste.additives.values()):
        keeps = (row.use_by - now.date()).days if row.use_by is not None and additive.use_by is not None else None
        slab.stirred_in_already(
            session, now, number, uuid5(request_id, f"additive-{n}"), additive.what, additive.grams * share, keeps
        )
    said(Kind.NOTE, "note", text=f"old paint {row.code} of batch {row.batch_number}, ground again")
    row.status, row.why = Left.REGROUND, f"became batch {number}"
    facts = {"text": f"ground again: became batch {number}", "batch": number}
    log.log(session, now, row.job_id, log.New(act_id, "regrind", now, {}, facts), status=Status.FINISHED)
    job_id = batches.job_of(session, number)
    session.add(ItemUse(act_id=act_id, item_id=item_id, job_id=job_id, volume_ml=row.volume_ml, at=now))
    return Reground(number)


def _as_old_paint(row: ShelfItem, plan: Plan, asked: dict[str, Any], share: float) -> PlanAsked:
    """A plan of the library's entries for what an old paint holds, so that no tin is drawn on twice.

    Its hazards are those of the tube or jar, which may be more than the library says.
    """
    was = PlanAsked.model_validate(asked)
    grams = {w.pigment.key: w.mass.value for w in plan.lines}
    return PlanAsked(
        lines=[LineAsked(pigment_key=key, parts=max(0.01, g)) for key, g in grams.items()],
        oil=OilAsked(oil_key=plan.oil.parts[0].key if plan.oil.parts else plan.oil.key),
        reduced_pvc=was.reduced_pvc,
        pigment_g=max(0.1, sum(grams.values()) * share),
        slab_id=was.slab_id,
        muller_id=was.muller_id,
        tool=was.tool,
        measuring=was.measuring,
        trial=was.trial,
        old_paint=OldPaintAsked(name=f"Old paint {row.code}", hazards=list(row.hazards)),
    )
