"""A pigment's page: its records and what each lot is taken to want."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core import rubout, wetting
from niddy.core.colour import undertone_of
from niddy.core.demand import OUTLIER_QUESTION, Weighed
from niddy.core.estimate import Basis, Estimate
from niddy.core.materials import Pigment
from niddy.core.rubout import Agreement
from niddy.core.traits import Trait, oils_for, traits_of
from niddy.core.wetting import Zone
from niddy.studio import batches, materials
from niddy.studio.batches import BatchLine, Search
from niddy.studio.rubout.learning import known_of, says_of, with_prior_basis


@dataclass(frozen=True, slots=True)
class RecordKept:
    """One record of the pigment's demand, what it contributed, and the question it raises if it stands far off."""

    id: int
    lot_id: int
    lot_code: str
    kind: str
    ref: int
    says: str
    at: datetime
    oil_absorption_g_per_100g: float
    low: float
    high: float
    share: float | None
    off_sd: float | None
    question: str
    set_aside: str | None


@dataclass(frozen=True, slots=True)
class LotDemand:
    """A lot's estimate in the reference oil, with the records that made it counted in words."""

    lot_id: int | None
    lot_code: str
    estimate: Estimate
    sd_ln: float
    says: str
    repeats: Agreement | None


@dataclass(frozen=True, slots=True)
class PigmentPage:
    """All that is known of a pigment's oil demand, in the reference oil."""

    pigment: Pigment
    prior_low: float
    prior_high: float
    prior_basis: Basis
    prior_says: str
    lots: tuple[LotDemand, ...]
    unseen: LotDemand
    records: tuple[RecordKept, ...]
    zones: tuple[Zone, ...]
    axis_low: float
    axis_high: float
    traits: tuple[Trait, ...]
    oils: str
    undertone_srgb: str
    batches: tuple[BatchLine, ...]


BATCHES_SHOWN = 7
"""So many of the last batches of a pigment its page shows."""


def pigment_page(session: Session, pigment_key: str) -> PigmentPage:
    """The page of a pigment. Raises Missing."""
    known = known_of(session, pigment_key)
    lots = materials.lots_of(session, pigment_key)
    codes = {lot.id: lot.code for lot in lots}
    learned, weighed = known.learned(), known.weighed()
    counting = known.counting()
    queue: dict[int, list[Weighed]] = {int(key): list(found) for key, found in weighed.items()}
    records = []
    for row in known.records:
        if row.void:
            continue
        said = queue[row.lot_id].pop(0) if row.set_aside is None else None
        spread = Estimate.lognormal(row.oil_absorption_g_per_100g, known.sd_of(row), Basis.MEASURED)
        records.append(
            RecordKept(
                row.id,
                row.lot_id,
                codes.get(row.lot_id, ""),
                row.kind,
                row.ref,
                row.says,
                row.at,
                row.oil_absorption_g_per_100g,
                spread.low,
                spread.high,
                said.share if said else None,
                said.off_sd if said else None,
                OUTLIER_QUESTION if said and said.outlier else "",
                row.set_aside,
            )
        )
    lot_demands = []
    for lot in lots:
        own = [r for r in counting if r.lot_id == lot.id]
        demand = with_prior_basis(learned.lots[str(lot.id)], known, bool(counting))
        tested = [r.oil_absorption_g_per_100g for r in own if r.kind == "rubout"]
        lot_demands.append(
            LotDemand(
                lot.id, lot.code, demand.estimate, demand.sd_ln, says_of(own, counting, known), rubout.agreement(tested)
            )
        )
    unseen = with_prior_basis(learned.unseen_lot, known, bool(counting))
    values = [known.low, known.high, unseen.estimate.low, unseen.estimate.high]
    values += [v for r in records for v in (r.low, r.high)]
    pigment = known.pigment
    middle = unseen.estimate.median
    return PigmentPage(
        pigment,
        known.low,
        known.high,
        known.prior_basis,
        known.prior_says,
        tuple(lot_demands),
        LotDemand(None, "", unseen.estimate, unseen.sd_ln, says_of([], counting, known), None),
        tuple(records),
        wetting.scale_zones(middle, pigment.density_g_per_ml, 0.930),
        min(values) * 0.95,
        max(values) * 1.05,
        traits_of(pigment),
        oils_for(pigment),
        undertone_of(pigment.masstone_srgb),
        batches.search(session, Search(pigment_key=pigment_key, limit=BATCHES_SHOWN)).batches,
    )
