"""What is undone, and undone again at any depth: stock and what is in the job are what was received, in every room."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any
from uuid import UUID, uuid4

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.log import counting
from niddy.core.making import StepKind
from niddy.core.sticks import PigmentWay
from niddy.studio import log, making, materials, slab, sticks
from niddy.studio.making import IngredientAsked, ProcessAsked, RunBegin
from niddy.studio.materials import NewLot, OwnRaw
from niddy.studio.plan import PlanAsked
from niddy.studio.sticks import BaseAsked, ColourAsked, MouldAsked, MouldsAsked, PigmentAsked, SetAsked
from niddy.studio.sticks.bases import BasePartAsked
from tests.studio.recording import record_pot, record_run
from tests.support import NOW, DatabaseTest

RECEIVED = 800.0


@dataclass(frozen=True)
class Made:
    """An act as this test knows it: what it drew of which lot, or what it strikes."""

    id: UUID
    seq: int
    strikes: UUID | None = None
    lot_id: int = 0
    grams: float = 0.0


Record = Callable[[Session, datetime, UUID, dict[str, Any]], None]


@dataclass(frozen=True)
class Job:
    """A job of some room: how an act is logged in it, and the acts that draw from each lot."""

    job_id: int
    record: Record
    draws: dict[int, dict[str, Any]]


STEPS = st.lists(
    st.one_of(
        st.tuples(st.just("draw"), st.integers(0, 1), st.sampled_from((0.5, 3.0, 12.5))),
        st.tuples(st.just("undo"), st.integers(0, 30), st.just(0.0)),
        st.tuples(st.just("undo last"), st.just(0), st.just(0.0)),
    ),
    min_size=3,
    max_size=14,
)


class Undone(DatabaseTest):
    """One property, held in the slab, the pot and the run."""

    def lot(self, session: Session, kind: str, key: str) -> int:
        new = NewLot(kind, key, uuid4().hex[:8], NOW.date(), RECEIVED, Decimal(10))
        return materials.receive(session, NOW, new)

    def on_hand(self, session: Session, lot_id: int) -> float:
        session.expire_all()
        return materials.lot(session, lot_id).on_hand

    def walked(self, session: Session, job: Job, steps: list[tuple[str, int, float]]) -> tuple[list[Made], int]:
        made: list[Made] = []
        refusals = 0
        for n, (what, which, grams) in enumerate(steps):
            act_id, at = uuid4(), NOW + timedelta(minutes=n)
            if what == "draw":
                lot_id = list(job.draws)[which]
                said = {**job.draws[lot_id], "measure": {"amount": grams}}
                one = Made(act_id, len(made), lot_id=lot_id, grams=grams)
            elif made:
                target = made[-1 if what == "undo last" else which % len(made)].id
                said, one = {"kind": "strike", "strikes": target}, Made(act_id, len(made), target)
            else:
                continue
            try:
                with session.begin_nested():
                    job.record(session, at, act_id, said)
            except Refused as refused:
                self.assertEqual(refused.field, "strikes", f"{what}: {refused}")
                refusals += 1
                continue
            made.append(one)
            self.balanced(session, job, made)
        return made, refusals

    def balanced(self, session: Session, job: Job, made: list[Made]) -> None:
        """Stock and what counts in the job are what was received; the record and the fold agree on what counts."""
        counts = counting(made)
        struck = {entry.id for entry in log.entries(session, job.job_id) if entry.struck}
        self.assertEqual(
            {one.id for one in made if one.strikes is None and one.id not in struck}, {one.id for one in counts}
        )
        for lot_id in job.draws:
            inside = sum(one.grams for one in counts if one.lot_id == lot_id)
            self.assertAlmostEqual(self.on_hand(session, lot_id) + inside, RECEIVED, places=6)

    def slab(self, session: Session) -> Job:
        black, oil = self.lot(session, "pigment", "bone-black"), self.lot(session, "oil", "linseed-refined")
        asked = {
            "lines": [{"lot_id": black, "parts": 1.0}],
            "oil": {"lot_id": oil},
            "reduced_pvc": 0.86,
            "pigment_g": 40.0,
        }
        number = slab.take_to_slab(session, NOW, uuid4(), PlanAsked.model_validate(asked))

        def record(session: Session, at: datetime, act_id: UUID, said: dict[str, Any]) -> None:
            slab.record(session, at, number, slab.act_of({"id": act_id, "made_at": at, **said}))

        draws = {black: {"kind": "powder", "source": f"lot-{black}"}, oil: {"kind": "oil", "source": f"lot-{oil}"}}
        job_id = log.find(session, "slab", number)
        assert job_id is not None
        return Job(job_id, record, draws)

    def pot(self, session: Session) -> Job:
        wax, black, oil = (
            self.lot(session, kind, key)
            for kind, key in (("wax", "beeswax"), ("pigment", "bone-black"), ("oil", "linseed-refined"))
        )
        self.assertGreater(wax, 0)
        part = BasePartAsked(wax_key="beeswax", share=100.0)
        base = sticks.add(session, NOW, BaseAsked(name=uuid4().hex, parts=[part]))
        mould = sticks.add_mould(session, MouldAsked(name=uuid4().hex, water_g=18.0))
        colour = ColourAsked(
            pigments=[PigmentAsked(lot_id=black)], moulds=[MouldsAsked(mould_id=mould, count=2)], dent_dmm=30.0
        )
        asked = SetAsked(base_id=base, oil_lot_id=oil, colours=[colour], way=PigmentWay.DRY)
        (number,) = sticks.take_to_pots(session, NOW, uuid4(), asked)

        def record(session: Session, at: datetime, act_id: UUID, said: dict[str, Any]) -> None:
            record_pot(session, at, number, sticks.POTS.acts.act_of({"id": act_id, "made_at": at, **said}))

        draws = {black: {"kind": "pigment", "source": f"lot-{black}"}, oil: {"kind": "oil", "source": f"lot-{oil}"}}
        return Job(sticks.POTS.job_of(session, number), record, draws)

    def run_of(self, session: Session) -> Job:
        lots = []
        for name, formula in (("Salt", "CuSO4.5H2O"), ("Soda", "Na2CO3")):
            raw = OwnRaw(name=f"{name} {uuid4().hex[:6]}", formula=formula).raw()
            lots.append(self.lot(session, materials.RAW, materials.add_own(session, NOW, materials.RAW, raw)))
        process = making.add(
            session,
            NOW,
            ProcessAsked(
                name=uuid4().hex,
                steps=[making.StepAsked(kind=StepKind.DRY, says="Dry")],
                ingredients=[IngredientAsked(name=name, parts_g=25.0) for name in ("Salt", "Soda")],
            ),
        )
        asked = RunBegin.model_validate({"request_id": uuid4(), "lots": dict(enumerate(lots))})
        number = making.begin_run(session, NOW, process, asked)

        def record(session: Session, at: datetime, act_id: UUID, said: dict[str, Any]) -> None:
            record_run(session, at, number, making.RUNS.acts.act_of({"id": act_id, "made_at": at, **said}))

        draws = {lot: {"kind": "added", "ingredient": f"in-{n + 1}"} for n, lot in enumerate(lots)}
        return Job(making.RUNS.job_of(session, number), record, draws)

    def hold(self, begin: Callable[[Session], Job]) -> None:
        session = Session(self.database.engine, expire_on_commit=False)
        self.addCleanup(session.close)
        refusals: list[int] = []

        @settings(max_examples=25, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
        @given(STEPS)
        def walk(steps: list[tuple[str, int, float]]) -> None:
            try:
                _, refused = self.walked(session, begin(session), steps)
                refusals.append(refused)
            finally:
                session.rollback()

        walk()
        three = [("draw", 1, 12.5), ("undo last", 0, 0.0), ("undo last", 0, 0.0), ("undo last", 0, 0.0)]
        job = begin(session)
        made, refused = self.walked(session, job, three)
        self.assertEqual((len(made), refused), (3, 1))
        self.assertEqual(self.on_hand(session, list(job.draws)[1]), RECEIVED - 12.5)
        session.rollback()

    def test_at_the_slab(self) -> None:
        self.hold(self.slab)

    def test_in_the_pot(self) -> None:
        self.hold(self.pot)

    def test_in_a_run(self) -> None:
        self.hold(self.run_of)
