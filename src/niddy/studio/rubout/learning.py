"""What records taught of a pigment and its lots."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from statistics import median

from sqlalchemy import String, bindparam, func, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import wetting
from niddy.core.demand import (
    OUTLIER_SD,
    WEIGHED_SD_LN,
    Demand,
    EyeKnown,
    LearnedDemand,
    LotRecords,
    Observation,
    Weighed,
    learn,
    lot_sd,
    rub_out_sd,
    weigh_records,
)
from niddy.core.errors import MAX_OIL_G_PER_100G, MIN_OIL_G_PER_100G, Refused, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.evidence import EYE_BIAS_SD, Taught
from niddy.core.materials import CAKE_FAMILY, DryPigment, Pigment
from niddy.core.plan import Facts
from niddy.core.slab import Verdict
from niddy.db.base import table_of
from niddy.db.rubout import DemandRecord, PigmentDemand
from niddy.studio import materials
from niddy.studio.errors import Missing
from niddy.studio.materials import TaughtDemand


def note_batch(
    session: Session,
    now: datetime,
    number: int,
    pigment: DryPigment,
    verdict: Verdict | None,
    taught: Taught | None,
    facts: Facts,
    *,
    by_spoons: bool,
) -> None:
    """Let what was seen of a finished batch teach its lot, and where it was counted `by_spoons` the next one so.

    Where it told nothing, is doubted, or the finish was struck out (no verdict), an earlier record of it is void.
    """
    lot_id, pigment_key = pigment.lot_id, pigment.key
    if lot_id is None:
        return
    row = session.scalar(select(DemandRecord).where(DemandRecord.kind == "verdict", DemandRecord.ref == number))
    if verdict is None or taught is None:
        if row is not None and not row.void:
            row.void = True
            session.flush()
            relearn(session, pigment_key)
        return
    value = wetting.in_reference_oil(math.exp(taught.ln_absorption), facts.oil_density_g_per_ml)
    if not MIN_OIL_G_PER_100G <= value <= MAX_OIL_G_PER_100G:
        return
    if row is None:
        row = DemandRecord(
            pigment_key=pigment_key,
            lot_id=lot_id,
            kind="verdict",
            ref=number,
            says="",
            oil_absorption_g_per_100g=value,
            sd_ln=taught.sd,
            at=now,
            set_aside=None,
            void=False,
        )
        session.add(row)
    row.says, row.oil_absorption_g_per_100g, row.at, row.void = f"batch {number}, {verdict}", value, now, False
    row.sd_ln, row.eye_k = min(2.0, taught.sd), taught.k
    row.measuring_sd_ln = min(2.0, taught.measuring_sd)
    row.spooned_g_per_ml = pigment.loose_density_g_per_ml if by_spoons else None
    row.drop_g = facts.habit.drop_g if by_spoons else None
    session.flush()
    relearn(session, pigment_key)


def _eye_without(session: Session, pigment_key: str) -> EyeKnown:
    """What the records say of the bias, those of one pigment left out."""
    rows = session.execute(select(PigmentDemand.pigment_key, PigmentDemand.eye_precision, PigmentDemand.eye_weighted))
    others = [row for row in rows if row.pigment_key != pigment_key]
    precision = 1 / EYE_BIAS_SD**2 + sum(row.eye_precision for row in others)
    return EyeKnown(sum(row.eye_weighted for row in others) / precision, math.sqrt(1 / precision))


def adopt(session: Session, pigment_key: str) -> None:
    """Let a lot just received have what is known of its pigment; nothing where no record ever was."""
    if session.get(PigmentDemand, pigment_key) is not None:
        relearn(session, pigment_key)


def own_rub_out_sd(session: Session) -> float:
    """Sd of a weighed rub-out by the studio's own repeats."""
    rows = session.execute(
        select(DemandRecord.lot_id, DemandRecord.oil_absorption_g_per_100g).where(
            DemandRecord.kind == "rubout",
            DemandRecord.set_aside.is_(None),
            ~DemandRecord.void,
            DemandRecord.measuring_sd_ln == 0,
        )
    )
    lots: dict[int, list[float]] = {}
    for lot_id, absorption in rows:
        lots.setdefault(lot_id, []).append(math.log(absorption))
    return rub_out_sd([_without_wild(values) for values in lots.values()])


def _without_wild(values: list[float]) -> list[float]:
    """Repeats without those that would be asked about: a slip says nothing of the hand."""
    middle = median(values)
    return [value for value in values if abs(value - middle) <= OUTLIER_SD * WEIGHED_SD_LN * math.sqrt(2)]


@dataclass(frozen=True, slots=True)
class KnownOf:
    """What is known of a pigment before and after its records: its prior, its lots, its library entry."""

    pigment: Pigment
    low: float
    high: float
    prior_basis: Basis
    prior_says: str
    records: tuple[DemandRecord, ...]
    lot_ids: tuple[int, ...]
    rub_out_sd: float
    eye: EyeKnown

    def sd_of(self, record: DemandRecord) -> float:
        """The sd of a record: a rub-out's is the studio's own with what counting left open, a batch's as it was."""
        return math.hypot(self.rub_out_sd, record.measuring_sd_ln) if record.kind == "rubout" else record.sd_ln

    @property
    def lot_sd(self) -> float:
        """The sd of this pigment's lots, from three lots with records on."""
        means = []
        for lot_id in self.lot_ids:
            logs = [math.log(r.oil_absorption_g_per_100g) for r in self.counting() if r.lot_id == lot_id]
            if logs:
                means.append(median(logs))
        return lot_sd(means)

    def learned(self) -> LearnedDemand:
        """What the records teach, those far off held back until they are confirmed."""
        return learn(self.low, self.high, self.of_lots(), lot_sd=self.lot_sd, eye=self.eye, hold_back=True)

    def weighed(self) -> dict[str, list[Weighed]]:
        """What each record did."""
        return weigh_records(self.low, self.high, self.of_lots(), lot_sd=self.lot_sd, eye=self.eye, hold_back=True)

    def of_lots(self) -> tuple[LotRecords, ...]:
        return tuple(
            LotRecords(
                str(lot_id),
                tuple(
                    Observation(r.oil_absorption_g_per_100g, self.sd_of(r), r.eye_k, r.confirmed)
                    for r in self.counting()
                    if r.lot_id == lot_id
                ),
            )
            for lot_id in self.lot_ids
        )

    def counting(self) -> tuple[DemandRecord, ...]:
        return tuple(r for r in self.records if r.set_aside is None and not r.void)


def known_of(session: Session, pigment_key: str) -> KnownOf:
    """What is known of a pigment. Raises Missing."""
    pigment = materials.pigment_of(session, pigment_key)
    if pigment is None:
        raise Missing("pigment", pigment_key)
    entered = session.get(PigmentDemand, pigment_key)
    low, high = pigment.oil_absorption_low, pigment.oil_absorption_high
    basis = Basis.ASSUMED if pigment.family == CAKE_FAMILY else Basis.LIBRARY
    says = materials.library_says(pigment)
    if entered is not None and entered.entered_low is not None and entered.entered_high is not None:
        low, high, basis = entered.entered_low, entered.entered_high, Basis.ENTERED
        says = f"entered {low:g} to {high:g}" + (f", {entered.entered_from}" if entered.entered_from else "")
    records = session.scalars(
        select(DemandRecord).where(DemandRecord.pigment_key == pigment_key).order_by(DemandRecord.at, DemandRecord.id)
    )
    lot_ids = tuple(lot.id for lot in materials.lots_of(session, pigment_key))
    return KnownOf(
        pigment,
        low,
        high,
        basis,
        says,
        tuple(records),
        lot_ids,
        own_rub_out_sd(session),
        _eye_without(session, pigment_key),
    )


def relearn(session: Session, pigment_key: str) -> None:
    """Learn a pigment's demand anew and keep it with its lots, in the transaction that changed a record."""
    known = known_of(session, pigment_key)
    learned = known.learned()
    counting = known.counting()
    for lot_id in known.lot_ids:
        own = [r for r in counting if r.lot_id == lot_id]
        taught = None
        if counting or known.prior_basis is Basis.ENTERED:
            demand = with_prior_basis(learned.lots[str(lot_id)], known, bool(counting))
            taught = TaughtDemand(demand, says_of(own, counting, known))
        materials.set_demand(session, lot_id, taught)
    row = session.get(PigmentDemand, pigment_key)
    if row is None:
        row = PigmentDemand(pigment_key=pigment_key, entered_low=None, entered_high=None, entered_from="")
        session.add(row)
    unseen = with_prior_basis(learned.unseen_lot, known, bool(counting))
    row.unseen_g_per_100g, row.unseen_sd_ln = unseen.estimate.median, unseen.sd_ln
    row.unseen_shared_sd_ln, row.unseen_eye_covariance = unseen.shared_sd_ln, unseen.eye_covariance
    row.eye_precision, row.eye_weighted = learned.eye_precision, learned.eye_weighted
    row.basis, row.says = unseen.estimate.basis, says_of([], counting, known)
    session.flush()


def with_prior_basis(demand: Demand, known: KnownOf, learned: bool) -> Demand:
    """The estimate, on the prior's basis where no record narrowed it."""
    if learned:
        return demand
    estimate = demand.estimate
    return Demand(
        Estimate(estimate.median, estimate.low, estimate.high, known.prior_basis),
        demand.sd_ln,
        demand.shared_sd_ln,
        demand.eye_covariance,
    )


def says_of(own: list[DemandRecord], counting: tuple[DemandRecord, ...], known: KnownOf) -> str:
    """In words, what an estimate rests on."""
    if own:
        return _counted(own) + " of this lot"
    if counting:
        return _counted(list(counting)) + " of other lots; none of this one"
    return known.prior_says


def _counted(records: list[DemandRecord]) -> str:
    tests_, verdicts = (sum(r.kind == kind for r in records) for kind in ("rubout", "verdict"))
    parts = []
    if tests_:
        parts.append(f"{tests_} rub-out{'s' if tests_ > 1 else ''}")
    if verdicts:
        parts.append(f"{verdicts} batch{'es' if verdicts > 1 else ''}")
    return " and ".join(parts)


@dataclass(frozen=True, slots=True)
class Untested:
    """What records say before a lot is tested: its pigment's `demand` by key, where anything is known, and the eye."""

    demand: dict[str, TaughtDemand]
    eye: EyeKnown


def untested(session: Session, pigment_keys: set[str]) -> Untested:
    """What is learned of lots nobody has tested beyond the library, and what all records say of the maker's bias."""
    rows = session.execute(_UNTESTED, {"keys": list(pigment_keys)}).all()
    precision = 1 / EYE_BIAS_SD**2 + rows[0].precision
    demand = {
        row.pigment_key: TaughtDemand(
            Demand(
                Estimate.lognormal(row.unseen_g_per_100g, row.unseen_sd_ln, Basis(row.basis)),
                row.unseen_sd_ln,
                row.unseen_shared_sd_ln,
                row.unseen_eye_covariance,
            ),
            row.says,
        )
        for row in rows
        if row.pigment_key is not None
    }
    return Untested(demand, EyeKnown(rows[0].weighted / precision, math.sqrt(1 / precision)))


_DEMAND = table_of(PigmentDemand)
_EYE = select(
    func.coalesce(func.sum(_DEMAND.c.eye_precision), 0.0).label("precision"),
    func.coalesce(func.sum(_DEMAND.c.eye_weighted), 0.0).label("weighted"),
).subquery()
_UNTESTED = select(
    _EYE,
    _DEMAND.c.pigment_key,
    _DEMAND.c.unseen_g_per_100g,
    _DEMAND.c.unseen_sd_ln,
    _DEMAND.c.unseen_shared_sd_ln,
    _DEMAND.c.unseen_eye_covariance,
    _DEMAND.c.basis,
    _DEMAND.c.says,
).select_from(_EYE.outerjoin(_DEMAND, _DEMAND.c.pigment_key == func.any(bindparam("keys", type_=ARRAY(String)))))


def enter_prior(session: Session, pigment_key: str, low: float, high: float, source: str) -> None:
    """Let an entered range (as from a data sheet) take the library's place as the prior. Raises Refused, Missing."""
    within("low", low, MIN_OIL_G_PER_100G, 1_000, "g per 100 g")
    within("high", high, MIN_OIL_G_PER_100G, 1_000, "g per 100 g")
    if high <= low * 1.02:
        raise Refused("high", f"{high:g} is not clearly above {low:g}", f"more than {low * 1.02:.4g}")
    known_of(session, pigment_key)
    relearn(session, pigment_key)
    row = session.get_one(PigmentDemand, pigment_key)
    row.entered_low, row.entered_high, row.entered_from = low, high, source.strip()
    session.flush()
    relearn(session, pigment_key)


def forget_prior(session: Session, pigment_key: str) -> None:
    """Go back to the library's range."""
    known_of(session, pigment_key)
    row = session.get(PigmentDemand, pigment_key)
    if row is not None:
        row.entered_low = row.entered_high = None
        row.entered_from = ""
        session.flush()
        relearn(session, pigment_key)


def confirm(session: Session, record_id: int) -> str:
    """Let a record that was held back count after all; the key of its pigment. Raises Missing."""
    row = session.get(DemandRecord, record_id)
    if row is None:
        raise Missing("record", record_id)
    row.confirmed, row.set_aside = True, None
    session.flush()
    relearn(session, row.pigment_key)
    return row.pigment_key


def set_aside(session: Session, record_id: int, reason: str | None) -> str:
    """Set a record aside with its reason, or (None) let it count again; the key of its pigment."""
    row = session.get(DemandRecord, record_id)
    if row is None:
        raise Missing("record", record_id)
    if reason is not None and not reason.strip():
        raise Refused("reason", "empty", "why this record should not count")
    row.set_aside = reason.strip() if reason is not None else None
    if reason is not None:
        row.confirmed = False
    session.flush()
    relearn(session, row.pigment_key)
    return row.pigment_key
