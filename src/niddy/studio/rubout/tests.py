"""Rub-outs at the bench: begun, oil added, ended or given up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from niddy.core import measures, rubout, telling, wetting
from niddy.core.acting import AmountAsked
from niddy.core.cautions import ALWAYS, DEFERENCE, Caution, cautions_for
from niddy.core.errors import MIN_MASS_G, MIN_OIL_G_PER_100G, Refused, within
from niddy.core.estimate import Basis, Estimate, total
from niddy.core.figure import Figure
from niddy.core.log import Status
from niddy.core.materials import BinderOil
from niddy.core.measures import Fill, Unit
from niddy.core.rubout import Added, Agreement, Phase
from niddy.core.telling import Habit, Measuring, Told
from niddy.db.base import table_of
from niddy.db.rubout import DemandRecord, Rubout
from niddy.studio import jobs, log, materials, workshop
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked
from niddy.studio.rubout.learning import relearn

ROOM = "rubout"
_RUBOUT = table_of(Rubout)


@dataclass(frozen=True, slots=True)
class StepKept:
    """Oil added once, in the order of the test."""

    id: UUID
    grams: float
    spread_g: float
    said: str
    at: datetime
    undone: bool


FIRST_SHARE = 0.5
"""So much of the oil that is expected may go onto the powder at once: it is dust and specks still (assumed)."""


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
    first_pour: Told | None


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
    if oil.lot_id is None and oil.key is None:
        raise Refused("oil", "missing", "lot_id of a bottle or oil_key of the library")
    try:
        gathered = materials.gather(session, [Asked(lot_id, None)], oil)
    except Missing as missing:
        field = "lot_id" if missing.field.startswith("lines") else missing.field
        raise Missing(missing.what, missing.key, field) from None
    if gathered.pigments[0].liquid_share:
        raise Refused("lot_id", "it is still wet", "some of it left to dry on glass first: a rub-out needs dry powder")
    begun = jobs.begin_job(
        session,
        ROOM,
        now,
        request_id,
        gathered.pigments[0].name,
        {"lot_id": lot_id, "pigment_g": pigment_g, "oil": asdict(oil), "temperature_c": temperature_c},
    )
    if not begun.anew:
        return begun.number
    row = insert(_RUBOUT).values(
        number=begun.number,
        job_id=begun.job_id,
        lot_id=lot_id,
        pigment_key=gathered.pigments[0].key,
        pigment_g=pigment_g,
        oil={**asdict(gathered.oil), "hazards": list(gathered.oil.hazards)},
        temperature_c=temperature_c,
        reason="",
    )
    session.execute(row)
    return begun.number


def _row(session: Session, test_id: int, *, lock: bool = False) -> Rubout:
    if lock:
        log.hold_of(session, ROOM, test_id)
    row = session.scalar(select(Rubout).where(Rubout.number == test_id))
    if row is None:
        raise Missing("rub-out", test_id)
    return row


def _oil(row: Rubout) -> BinderOil:
    return BinderOil(**{**row.oil, "hazards": tuple(row.oil["hazards"])})


def _must_be_open(row: Rubout) -> None:
    if row.status != Status.OPEN:
        raise Refused("status", f"this test is {row.status}", "a test that is still open")


def add_oil(session: Session, now: datetime, test_id: int, step_id: UUID, asked: AmountAsked) -> None:
    """Log a step of oil. The same id again changes nothing. Raises Refused, Missing, Conflict."""
    row = _row(session, test_id, lock=True)
    oil = _oil(row)
    own = workshop.own_of(session, asked)
    payload = {"measure": {"fill": Fill.LEVEL, **asked.model_dump(mode="json", exclude_none=True)}}
    if log.known(session, row.job_id, step_id, OIL, payload):
        return
    _must_be_open(row)
    try:
        mass = total(
            [
                measures.to_grams(
                    measure,
                    density=oil.density_g_per_ml,
                    drop_g=oil.drop_g if oil.drop_measured else None,
                    drop_measured=oil.drop_measured,
                )
                for measure in asked.measures(own)
            ]
        )
    except Refused as refusal:
        raise refusal.under("measure") from None
    facts = {"mass": asdict(mass), **({"said": asked.said(own, grams=True, liquid=True)} if own else {})}
    within("measure.amount", mass.median, MIN_MASS_G, 200, "g")
    log.log(session, now, row.job_id, log.New(step_id, OIL, now, payload, facts))


OIL = "oil"
MAX_TAKEN_G_PER_100G = 400.0
"""More than any pigment takes."""

BEYOND = 1.6
"""So many times the oil expected is asked about before it ends a test (assumed)."""


def undo(session: Session, now: datetime, test_id: int, step_id: UUID) -> None:
    """Take back the last step that still counts; `step_id` names the undoing itself. Raises Refused where none does."""
    row = _row(session, test_id, lock=True)
    if log.known(session, row.job_id, step_id, log.STRIKE, {}):
        return
    _must_be_open(row)
    counted = [step for step in log.entries(session, row.job_id) if step.kind == OIL and not step.struck]
    if not counted:
        raise Refused("steps", "there is no step to take back", "undoing after a step")
    log.log(session, now, row.job_id, log.New(step_id, log.STRIKE, now, {}, {}, counted[-1].id))


def end(session: Session, now: datetime, test_id: int, *, sure: bool = False) -> None:
    """The end point: the test is done and teaches the demand of its lot.

    Raises Refused without any oil, for more oil than any powder takes, and, unless the maker is `sure`, far from where
    the end is expected.
    """
    row = _row(session, test_id, lock=True)
    if row.status == Status.FINISHED:
        return
    _must_be_open(row)
    found = rubout.result(row.pigment_g, _counting(log.entries(session, row.job_id)), _oil(row).density_g_per_ml)
    absorption = found.in_reference.value
    if not MIN_OIL_G_PER_100G <= absorption <= MAX_TAKEN_G_PER_100G:
        raise Refused(
            "steps",
            f"that is {absorption:.0f} g per 100 g, and no powder takes so much or so little",
            f"{MIN_OIL_G_PER_100G:g} to {MAX_TAKEN_G_PER_100G:g} g per 100 g: undo the step that is wrong",
        )
    seen = test(session, test_id)
    early, late = seen.phase in rubout.PHASES[:2], seen.oil_g > BEYOND * seen.expected_oil_g
    if not sure and (early or late):
        where = seen.phase.name.lower() if early else "far beyond the end"
        raise Refused(
            "sure",
            f"by what is known of this pigment it is {'still at: ' if early else ''}{where}",
            "undo a step that is wrong, or say that it coheres all the same",
        )
    row.status, row.ended_at, row.result_g_per_100g = Status.FINISHED, now, found.in_reference.value
    session.add(
        DemandRecord(
            pigment_key=row.pigment_key,
            lot_id=row.lot_id,
            kind="rubout",
            ref=test_id,
            says=f"rub-out in {_oil(row).name.lower()}",
            oil_absorption_g_per_100g=found.in_reference.value,
            sd_ln=found.sd_ln,
            measuring_sd_ln=found.measuring_sd_ln,
            at=now,
            set_aside=None,
            void=False,
        )
    )
    session.flush()
    relearn(session, row.pigment_key)


def abort(session: Session, now: datetime, test_id: int, reason: str) -> None:
    """Give a test up; it is kept as aborted and teaches nothing. Raises Refused without a reason."""
    if not reason.strip():
        raise Refused("reason", "empty", "why the test is given up")
    row = _row(session, test_id, lock=True)
    _must_be_open(row)
    row.status, row.ended_at, row.reason = Status.ABANDONED, now, reason.strip()
    session.flush()


def _mass(kept: dict[str, Any]) -> Estimate:
    return Estimate(kept["median"], kept["low"], kept["high"], Basis(kept["basis"]))


def _steps(entries: tuple[log.Entry, ...]) -> tuple[StepKept, ...]:
    kept = []
    for entry in entries:
        if entry.kind != OIL:
            continue
        mass = _mass(entry.facts["mass"])
        said = entry.facts.get("said") or AmountAsked.model_validate(entry.payload["measure"]).said(
            {}, grams=True, liquid=True
        )
        kept.append(StepKept(entry.id, mass.median, mass.half_width, said, entry.made_at, entry.struck))
    return tuple(kept)


def _counting(entries: tuple[log.Entry, ...]) -> tuple[Added, ...]:
    return tuple(
        Added(_mass(entry.facts["mass"]), Unit(entry.payload["measure"]["unit"]))
        for entry in entries
        if entry.kind == OIL and not entry.struck
    )


def test(session: Session, test_id: int) -> Test:
    """One rub-out whole, with what to look for now and how it agrees with its repeats. Raises Missing."""
    row = _row(session, test_id)
    lot = materials.lot(session, row.lot_id)
    oil = _oil(row)
    entries = log.entries(session, row.job_id)
    counting = _counting(entries)
    poured = rubout.oil_so_far(counting)
    assert lot.oil_absorption is not None
    expected = wetting.in_oil(lot.oil_absorption.value, oil.density_g_per_ml)
    found = rubout.result(row.pigment_g, counting, oil.density_g_per_ml) if counting else None
    repeats = tuple(
        value
        for value in session.scalars(
            select(Rubout.result_g_per_100g)
            .where(Rubout.lot_id == row.lot_id, Rubout.status == Status.FINISHED)
            .order_by(Rubout.ended_at)
        )
        if value is not None
    )
    return Test(
        row.number,
        row.lot_id,
        lot.code,
        row.pigment_key,
        lot.name,
        lot.masstone_srgb or "#888888",
        row.pigment_g,
        oil.name,
        oil.density_g_per_ml,
        row.temperature_c,
        row.started_at,
        row.ended_at,
        row.status,
        row.reason,
        _steps(entries),
        poured.median,
        poured.half_width,
        expected * row.pigment_g / 100,
        rubout.phase(poured.median, row.pigment_g, expected),
        rubout.PHASES,
        oil.drop_g if oil.drop_measured else None,
        cautions_for([(lot.name, lot.hazards), (oil.name, oil.hazards)]),
        ALWAYS,
        DEFERENCE,
        found.in_oil if found else None,
        found.in_reference if found else None,
        repeats,
        rubout.agreement(list(repeats)),
        telling.oil(
            FIRST_SHARE * expected * row.pigment_g / 100,
            oil.density_g_per_ml,
            Habit(Measuring.SPOONS, drop_g=oil.drop_g),
        ),
    )


def tests(session: Session, limit: int = 100) -> tuple[TestLine, ...]:
    """Rub-outs, open ones first, then the newest."""
    order = (Rubout.status != Status.OPEN, Rubout.started_at.desc(), Rubout.number.desc())
    return _lines(session, session.scalars(select(Rubout).order_by(*order).limit(limit)).all())


def still_open(session: Session, limit: int) -> tuple[TestLine, ...]:
    """The rub-outs that wait to be ended, the oldest first."""
    wanted = select(Rubout).where(Rubout.status == Status.OPEN).order_by(Rubout.started_at).limit(limit)
    return _lines(session, session.scalars(wanted).all())


def _lines(session: Session, rows: Sequence[Rubout]) -> tuple[TestLine, ...]:
    lines = []
    for row in rows:
        lot = materials.lot(session, row.lot_id)
        lines.append(
            TestLine(
                row.number,
                row.lot_id,
                lot.code,
                row.pigment_key,
                lot.name,
                lot.masstone_srgb or "#888888",
                row.started_at,
                row.status,
                row.reason,
                row.result_g_per_100g,
            )
        )
    return tuple(lines)


def open_tests(session: Session) -> int:
    """How many rub-outs wait to be ended."""
    return session.scalar(select(func.count()).select_from(Rubout).where(Rubout.status == Status.OPEN)) or 0
