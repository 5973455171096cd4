"""Rub-outs at the bench: begun, oil added, ended or given up."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import measures, rubout, wetting
from niddy.core.cautions import ALWAYS, DEFERENCE, Caution, cautions_for
from niddy.core.errors import MIN_MASS_G, Refused, within
from niddy.core.estimate import Basis, Estimate
from niddy.core.figure import Figure
from niddy.core.materials import BinderOil
from niddy.core.measures import Measure, Unit
from niddy.core.rubout import Agreement, Phase, Step
from niddy.db.rubout import DemandRecord, Rubout, RuboutStep
from niddy.studio import materials
from niddy.studio.errors import Conflict, Missing
from niddy.studio.materials import Asked
from niddy.studio.rubout.learning import relearn

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
