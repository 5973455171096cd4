"""Rub-outs, and the oil demand that is learned from them and from the verdicts on batches."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import measures, rubout, wetting
from niddy.core.cautions import ALWAYS, DEFERENCE, Caution, cautions_for
from niddy.core.demand import (
    OUTLIER_QUESTION,
    VERDICT_SD_LN,
    Demand,
    LotRecords,
    Observation,
    Weighed,
    learn,
    verdict_reduced,
    weigh_records,
)
from niddy.core.errors import MIN_MASS_G, MIN_OIL_G_PER_100G, Refused, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure
from niddy.core.materials import BinderOil, Pigment
from niddy.core.measures import Measure, Unit
from niddy.core.plan import Facts
from niddy.core.rubout import Agreement, Phase, Step
from niddy.core.slab import Verdict
from niddy.core.wetting import Zone
from niddy.db.rubout import DemandRecord, PigmentDemand, Rubout, RuboutStep
from niddy.studio import materials
from niddy.studio.errors import Conflict, Missing
from niddy.studio.materials import Asked, TaughtDemand

OPEN, DONE, ABORTED = "open", "done", "aborted"


@dataclass(frozen=True, slots=True)
class StepKept:
    """Oil added once, in the order of the test."""

    id: UUID
    grams: float
    spread_g: float
    said: str
    at: datetime
    undone: bool


@dataclass(frozen=True, slots=True)
class Test:
    """A rub-out as its screen shows it."""

    id: int
    lot_id: int
    lot_code: str
    pigment_key: str
    pigment_name: str
    masstone_srgb: str
    pigment_g: float
    oil_name: str
    oil_density_g_per_ml: float
    temperature_c: float | None
    begun_at: datetime
    ended_at: datetime | None
    status: str
    reason: str
    steps: tuple[StepKept, ...]
    oil_g: float
    oil_spread_g: float
    expected_oil_g: float
    phase: Phase
    phases: tuple[Phase, ...]
    drop_g: float | None
    cautions: tuple[Caution, ...]
    caution_always: str
    caution_deference: str
    in_oil: Figure | None
    in_reference: Figure | None
    repeats: tuple[float, ...]
    agreement: Agreement | None


@dataclass(frozen=True, slots=True)
class TestLine:
    """A rub-out as lists show it; the result is in the reference oil."""

    id: int
    lot_id: int
    lot_code: str
    pigment_key: str
    pigment_name: str
    masstone_srgb: str
    begun_at: datetime
    status: str
    reason: str
    result_g_per_100g: float | None


def begin(
    session: Session,
    now: datetime,
    request_id: UUID,
    lot_id: int,
    oil: Asked,
    pigment_g: float,
    temperature_c: float | None,
) -> int:
    """Begin a test of a lot; its id. The same `request_id` again gives the same test.

    Raises Refused or Missing naming the field.
    """
    rubout.check_start(pigment_g, temperature_c)
    earlier = session.scalar(select(Rubout).where(Rubout.request_id == request_id))
    if earlier is not None:
        if (earlier.lot_id, earlier.pigment_g) != (lot_id, pigment_g):
            raise Conflict("request_id", "this id began another test already", "a new id for another test")
        return earlier.id
    if oil.lot_id is None and oil.key is None:
        raise Refused("oil", "missing", "lot_id of a bottle or oil_key of the library")
    try:
        gathered = materials.gather(session, [Asked(lot_id, None)], oil)
    except Missing as missing:
        field = "lot_id" if missing.field.startswith("lines") else missing.field
        raise Missing(missing.what, missing.key, field) from None
    row = Rubout(
        request_id=request_id, lot_id=lot_id, pigment_key=gathered.pigments[0].key, pigment_g=pigment_g,
        oil={**asdict(gathered.oil), "hazards": list(gathered.oil.hazards)}, temperature_c=temperature_c,
        begun_at=now, ended_at=None, status=OPEN, reason="", result_g_per_100g=None,
    )  # fmt: skip
    session.add(row)
    session.flush()
    return row.id


def _row(session: Session, test_id: int, *, lock: bool = False) -> Rubout:
    row = session.get(Rubout, test_id, with_for_update=lock)
    if row is None:
        raise Missing("rub-out", test_id)
    return row


def _oil(row: Rubout) -> BinderOil:
    return BinderOil(**{**row.oil, "hazards": tuple(row.oil["hazards"])})


def _open(session: Session, test_id: int) -> Rubout:
    row = _row(session, test_id, lock=True)
    if row.status != OPEN:
        raise Refused("status", f"this test is {row.status}", "a test that is still open")
    return row


def add_oil(session: Session, now: datetime, test_id: int, step_id: UUID, measure: Measure) -> None:
    """Log a step of oil. The same id again changes nothing. Raises Refused, Missing, Conflict."""
    oil = _oil(_row(session, test_id))
    told = {k: v for k, v in asdict(measure).items() if v is not None}
    earlier = session.get(RuboutStep, step_id)
    if earlier is not None:
        if earlier.rubout_id != test_id or earlier.measure != told:
            raise Conflict("id", "this id belongs to another step already", "a new id for another step")
        return
    _open(session, test_id)
    try:
        mass = measures.to_grams(
            measure, density=oil.density_g_per_ml, drop_g=oil.drop_g if oil.drop_measured else None,
            drop_measured=oil.drop_measured,
        )  # fmt: skip
    except Refused as refusal:
        raise refusal.under("measure") from None
    within("measure.amount", mass.median, MIN_MASS_G, 200, "g")
    _log(session, now, test_id, step_id, told, mass, None)


def undo(session: Session, now: datetime, test_id: int, step_id: UUID) -> None:
    """Take back the last step that still counts; `step_id` names the undoing itself. Raises Refused where none does."""
    if session.get(RuboutStep, step_id) is not None:
        return
    _open(session, test_id)
    counted = [step for step in _steps(session, test_id) if not step.undone]
    if not counted:
        raise Refused("steps", "there is no step to take back", "undoing after a step")
    _log(session, now, test_id, step_id, None, None, counted[-1].id)


def _log(
    session: Session,
    now: datetime,
    test_id: int,
    step_id: UUID,
    told: dict[str, Any] | None,
    mass: Estimate | None,
    undoes: UUID | None,
) -> None:
    last = session.scalar(
        select(RuboutStep.seq).where(RuboutStep.rubout_id == test_id).order_by(RuboutStep.seq.desc()).limit(1)
    )
    session.add(
        RuboutStep(
            id=step_id, rubout_id=test_id, seq=(last or 0) + 1, measure=told,
            mass=asdict(mass) if mass is not None else None, undoes=undoes, at=now,
        )
    )  # fmt: skip
    session.flush()


def end(session: Session, now: datetime, test_id: int) -> None:
    """The end point: the test is done and teaches the demand of its lot. Raises Refused without any oil."""
    row = _row(session, test_id)
    if row.status == DONE:
        return
    row = _open(session, test_id)
    found = rubout.result(row.pigment_g, _counting(session, test_id), _oil(row).density_g_per_ml)
    row.status, row.ended_at, row.result_g_per_100g = DONE, now, found.in_reference.value
    session.add(
        DemandRecord(
            pigment_key=row.pigment_key, lot_id=row.lot_id, kind="rubout", ref=test_id,
            says=f"rub-out in {_oil(row).name.lower()}", oil_absorption_g_per_100g=found.in_reference.value,
            sd_ln=found.sd_ln, at=now, set_aside=None, void=False,
        )
    )  # fmt: skip
    session.flush()
    relearn(session, row.pigment_key)


def abort(session: Session, now: datetime, test_id: int, reason: str) -> None:
    """Give a test up; it is kept as aborted and teaches nothing. Raises Refused without a reason."""
    if not reason.strip():
        raise Refused("reason", "empty", "why the test is given up")
    row = _open(session, test_id)
    row.status, row.ended_at, row.reason = ABORTED, now, reason.strip()
    session.flush()


def _mass(told: dict[str, Any]) -> Estimate:
    return Estimate(told["median"], told["low"], told["high"], Basis(told["basis"]))


def _steps(session: Session, test_id: int) -> tuple[StepKept, ...]:
    rows = session.scalars(select(RuboutStep).where(RuboutStep.rubout_id == test_id).order_by(RuboutStep.seq)).all()
    undone = {row.undoes for row in rows if row.undoes is not None}
    kept = []
    for row in rows:
        if row.mass is None or row.measure is None:
            continue
        mass = _mass(row.mass)
        unit = Unit(row.measure["unit"])
        if unit is Unit.WEIGH_BACK:
            said = f"bottle {row.measure['before_g']:g} to {row.measure['after_g']:g} g"
        else:
            said = f"{row.measure['amount']:g} {measures.UNIT_NAMES[unit]}"
        kept.append(StepKept(row.id, mass.median, mass.half_width, said, row.at, row.id in undone))
    return tuple(kept)


def _counting(session: Session, test_id: int) -> tuple[Step, ...]:
    rows = session.scalars(select(RuboutStep).where(RuboutStep.rubout_id == test_id).order_by(RuboutStep.seq)).all()
    undone = {row.undoes for row in rows if row.undoes is not None}
    return tuple(
        Step(_mass(row.mass), Unit(row.measure["unit"]))
        for row in rows
        if row.mass is not None and row.measure is not None and row.id not in undone
    )


def test(session: Session, test_id: int) -> Test:
    """One rub-out whole, with what to look for now and how it agrees with its repeats. Raises Missing."""
    row = _row(session, test_id)
    lot = materials.lot(session, row.lot_id)
    oil = _oil(row)
    counting = _counting(session, test_id)
    poured = rubout.oil_so_far(counting)
    assert lot.oil_absorption is not None
    expected = wetting.in_oil(lot.oil_absorption.value, oil.density_g_per_ml)
    found = rubout.result(row.pigment_g, counting, oil.density_g_per_ml) if counting else None
    repeats = tuple(
        value
        for value in session.scalars(
            select(Rubout.result_g_per_100g)
            .where(Rubout.lot_id == row.lot_id, Rubout.status == DONE)
            .order_by(Rubout.ended_at)
        )
        if value is not None
    )
    return Test(
        row.id, row.lot_id, lot.code, row.pigment_key, lot.name, lot.masstone_srgb or "#888888", row.pigment_g,
        oil.name, oil.density_g_per_ml, row.temperature_c, row.begun_at, row.ended_at, row.status, row.reason,
        _steps(session, test_id), poured.median, poured.half_width, expected * row.pigment_g / 100,
        rubout.phase(poured.median, row.pigment_g, expected), rubout.PHASES,
        oil.drop_g if oil.drop_measured else None,
        cautions_for([(lot.name, lot.hazards), (oil.name, oil.hazards)]), ALWAYS, DEFERENCE,
        found.in_oil if found else None, found.in_reference if found else None,
        repeats, rubout.agreement(list(repeats)),
    )  # fmt: skip


def tests(session: Session, limit: int = 100) -> tuple[TestLine, ...]:
    """Rub-outs, open ones first, then the newest."""
    rows = session.scalars(
        select(Rubout).order_by(Rubout.status != OPEN, Rubout.begun_at.desc(), Rubout.id.desc()).limit(limit)
    )
    lines = []
    for row in rows:
        lot = materials.lot(session, row.lot_id)
        lines.append(
            TestLine(
                row.id, row.lot_id, lot.code, row.pigment_key, lot.name, lot.masstone_srgb or "#888888",
                row.begun_at, row.status, row.reason, row.result_g_per_100g,
            )
        )  # fmt: skip
    return tuple(lines)


def open_tests(session: Session) -> int:
    """How many rub-outs wait to be ended."""
    return len(session.scalars(select(Rubout.id).where(Rubout.status == OPEN)).all())


# --- what is learned


def note_verdict(
    session: Session,
    now: datetime,
    number: int,
    source: str,
    pigment_key: str,
    verdict: Verdict | None,
    ratio: float | None,
    target: float,
    facts: Facts,
) -> None:
    """Let a batch's verdict teach its lot; no verdict (the finish was struck out) makes the record void.

    A verdict `right` at a ratio implies the oil absorption at the target; `stiff` and `soft` 0.06 off it.
    """
    if not source.startswith("lot-"):
        return
    row = session.scalar(select(DemandRecord).where(DemandRecord.kind == "verdict", DemandRecord.ref == number))
    if verdict is None or ratio is None:
        if row is not None and not row.void:
            row.void = True
            session.flush()
            relearn(session, pigment_key)
        return
    reduced = verdict_reduced(target, verdict)
    in_oil = wetting.implied_oil_absorption(ratio, reduced, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
    if in_oil <= 0:
        return
    value = wetting.in_reference_oil(in_oil, facts.oil_density_g_per_ml)
    if row is None:
        row = DemandRecord(
            pigment_key=pigment_key, lot_id=int(source.removeprefix("lot-")), kind="verdict", ref=number, says="",
            oil_absorption_g_per_100g=value, sd_ln=VERDICT_SD_LN, at=now, set_aside=None, void=False,
        )  # fmt: skip
        session.add(row)
    row.says, row.oil_absorption_g_per_100g, row.at, row.void = f"batch {number}, {verdict}", value, now, False
    session.flush()
    relearn(session, pigment_key)


@dataclass(frozen=True, slots=True)
class _Known:
    pigment: Pigment
    low: float
    high: float
    prior_basis: Basis
    prior_says: str
    records: tuple[DemandRecord, ...]
    lot_ids: tuple[int, ...]

    def of_lots(self) -> tuple[LotRecords, ...]:
        return tuple(
            LotRecords(
                str(lot_id),
                tuple(Observation(r.oil_absorption_g_per_100g, r.sd_ln) for r in self.counting() if r.lot_id == lot_id),
            )
            for lot_id in self.lot_ids
        )

    def counting(self) -> tuple[DemandRecord, ...]:
        return tuple(r for r in self.records if r.set_aside is None and not r.void)


def _known(session: Session, pigment_key: str) -> _Known:
    pigment = materials.pigment_of(session, pigment_key)
    if pigment is None:
        raise Missing("pigment", pigment_key)
    entered = session.get(PigmentDemand, pigment_key)
    low, high = pigment.oil_absorption_low, pigment.oil_absorption_high
    basis, says = Basis.LIBRARY, materials.library_says(pigment)
    if entered is not None and entered.entered_low is not None and entered.entered_high is not None:
        low, high, basis = entered.entered_low, entered.entered_high, Basis.ENTERED
        says = f"entered {low:g} to {high:g}" + (f", {entered.entered_from}" if entered.entered_from else "")
    records = session.scalars(
        select(DemandRecord).where(DemandRecord.pigment_key == pigment_key).order_by(DemandRecord.at, DemandRecord.id)
    )
    lot_ids = tuple(lot.id for lot in materials.lots_of(session, pigment_key))
    return _Known(pigment, low, high, basis, says, tuple(records), lot_ids)


def relearn(session: Session, pigment_key: str) -> None:
    """Learn a pigment's demand anew and keep it with its lots, in the transaction that changed a record."""
    known = _known(session, pigment_key)
    learned = learn(known.low, known.high, known.of_lots())
    counting = known.counting()
    for lot_id in known.lot_ids:
        own = [r for r in counting if r.lot_id == lot_id]
        taught = None
        if counting or known.prior_basis is Basis.ENTERED:
            demand = _with_prior_basis(learned.lots[str(lot_id)], known, bool(counting))
            taught = TaughtDemand(demand, _says(own, counting, known))
        materials.set_demand(session, lot_id, taught)
    row = session.get(PigmentDemand, pigment_key)
    if row is None:
        row = PigmentDemand(pigment_key=pigment_key, entered_low=None, entered_high=None, entered_from="")
        session.add(row)
    unseen = _with_prior_basis(learned.unseen_lot, known, bool(counting))
    row.unseen_g_per_100g, row.unseen_sd_ln = unseen.estimate.median, unseen.sd_ln
    row.basis, row.says = unseen.estimate.basis, _says([], counting, known)
    session.flush()


def _with_prior_basis(demand: Demand, known: _Known, learned: bool) -> Demand:
    if learned:
        return demand
    estimate = demand.estimate
    return Demand(Estimate(estimate.median, estimate.low, estimate.high, known.prior_basis), demand.sd_ln)


def _says(own: list[DemandRecord], counting: tuple[DemandRecord, ...], known: _Known) -> str:
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


def unseen_demand(session: Session, pigment_keys: set[str]) -> dict[str, TaughtDemand]:
    """What is learned of lots nobody has tested, by pigment; only where something is known beyond the library."""
    rows = session.scalars(select(PigmentDemand).where(PigmentDemand.pigment_key.in_(pigment_keys)))
    return {
        row.pigment_key: TaughtDemand(
            Demand(Estimate.lognormal(row.unseen_g_per_100g, row.unseen_sd_ln, Basis(row.basis)), row.unseen_sd_ln),
            row.says,
        )
        for row in rows
    }


def enter_prior(session: Session, pigment_key: str, low: float, high: float, source: str) -> None:
    """Let an entered range (as from a data sheet) take the library's place as the prior. Raises Refused, Missing."""
    within("low", low, MIN_OIL_G_PER_100G, 1_000, "g per 100 g")
    within("high", high, MIN_OIL_G_PER_100G, 1_000, "g per 100 g")
    if high <= low * 1.02:
        raise Refused("high", f"{high:g} is not clearly above {low:g}", f"more than {low * 1.02:.4g}")
    _known(session, pigment_key)
    relearn(session, pigment_key)
    row = session.get_one(PigmentDemand, pigment_key)
    row.entered_low, row.entered_high, row.entered_from = low, high, source.strip()
    session.flush()
    relearn(session, pigment_key)


def forget_prior(session: Session, pigment_key: str) -> None:
    """Go back to the library's range."""
    _known(session, pigment_key)
    row = session.get(PigmentDemand, pigment_key)
    if row is not None:
        row.entered_low = row.entered_high = None
        row.entered_from = ""
        session.flush()
        relearn(session, pigment_key)


def set_aside(session: Session, record_id: int, reason: str | None) -> str:
    """Set a record aside with its reason, or (None) let it count again; the key of its pigment."""
    row = session.get(DemandRecord, record_id)
    if row is None:
        raise Missing("record", record_id)
    if reason is not None and not reason.strip():
        raise Refused("reason", "empty", "why this record should not count")
    row.set_aside = reason.strip() if reason is not None else None
    session.flush()
    relearn(session, row.pigment_key)
    return row.pigment_key


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


def pigment_page(session: Session, pigment_key: str) -> PigmentPage:
    """The page of a pigment. Raises Missing."""
    known = _known(session, pigment_key)
    lots = materials.lots_of(session, pigment_key)
    codes = {lot.id: lot.code for lot in lots}
    learned = learn(known.low, known.high, known.of_lots())
    weighed = weigh_records(known.low, known.high, known.of_lots())
    counting = known.counting()
    queue: dict[int, list[Weighed]] = {int(key): list(found) for key, found in weighed.items()}
    records = []
    for row in known.records:
        if row.void:
            continue
        said = queue[row.lot_id].pop(0) if row.set_aside is None else None
        spread = Estimate.lognormal(row.oil_absorption_g_per_100g, row.sd_ln, Basis.MEASURED)
        records.append(
            RecordKept(
                row.id, row.lot_id, codes.get(row.lot_id, ""), row.kind, row.ref, row.says, row.at,
                row.oil_absorption_g_per_100g, spread.low, spread.high,
                said.share if said else None, said.off_sd if said else None,
                OUTLIER_QUESTION if said and said.outlier else "", row.set_aside,
            )
        )  # fmt: skip
    lot_demands = []
    for lot in lots:
        own = [r for r in counting if r.lot_id == lot.id]
        demand = _with_prior_basis(learned.lots[str(lot.id)], known, bool(counting))
        tested = [r.oil_absorption_g_per_100g for r in own if r.kind == "rubout"]
        lot_demands.append(
            LotDemand(
                lot.id, lot.code, demand.estimate, demand.sd_ln, _says(own, counting, known), rubout.agreement(tested)
            )
        )
    unseen = _with_prior_basis(learned.unseen_lot, known, bool(counting))
    values = [known.low, known.high, unseen.estimate.low, unseen.estimate.high]
    values += [v for r in records for v in (r.low, r.high)]
    pigment = known.pigment
    middle = unseen.estimate.median
    return PigmentPage(
        pigment, known.low, known.high, known.prior_basis, known.prior_says, tuple(lot_demands),
        LotDemand(None, "", unseen.estimate, unseen.sd_ln, _says([], counting, known), None), tuple(records),
        wetting.scale_zones(middle, pigment.density_g_per_ml, 0.930), min(values) * 0.95, max(values) * 1.05,
    )  # fmt: skip
