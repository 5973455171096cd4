"""Sessions walked at random through the studio: what is advised is always on offer, and can always be done."""

import unittest
from datetime import timedelta
from typing import Any, ClassVar
from uuid import uuid4

from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)
from sqlalchemy.orm import Session

from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.slab import DoubtAnswer
from niddy.core.wetting import Body
from niddy.db import Database
from niddy.studio import slab
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import SlabView, act_of
from tests.support import NOW, DatabaseTest

PLANS = (
    {"lines": [{"pigment_key": "caput-mortuum", "spoons": {"amount": 2.0, "unit": "half_teaspoon"}}],
     "oil": {"oil_key": "walnut-refined"}, "reduced_pvc": 0.86},
    {"lines": [{"pigment_key": "bone-black", "parts": 1.0}], "oil": {"oil_key": "linseed-refined"},
     "reduced_pvc": 0.86, "pigment_g": 40.0},
    {"lines": [{"pigment_key": "burnt-sienna", "parts": 2.0}, {"pigment_key": "raw-umber", "parts": 1.0}],
     "oil": {"oil_key": "linseed-refined"}, "reduced_pvc": 0.8, "pigment_g": 30.0,
     "additives": [{"additive_key": "egg-yolk", "dose_pct": 1.0}]},
)  # fmt: skip


class Walk(RuleBasedStateMachine):
    """One maker at one slab, doing what is advised or anything else that can be done."""

    database: ClassVar[Database]

    @initialize(which=st.sampled_from(PLANS))
    def begin(self, which: dict[str, Any]) -> None:
        self.session = Session(self.database.engine, expire_on_commit=False)
        self.clock = NOW
        self.number = slab.take_to_slab(self.session, NOW, uuid4(), PlanAsked.model_validate(which))
        self.seen: SlabView = slab.view(self.session, NOW, self.number)

    def teardown(self) -> None:
        if hasattr(self, "session"):
            self.session.rollback()
            self.session.close()

    def act(self, kind: str, **what: Any) -> None:
        self.clock += timedelta(minutes=1)
        self.seen = slab.record(
            self.session, self.clock, self.number,
            act_of({"id": uuid4(), "kind": kind, "made_at": self.clock, **what}),
        )  # fmt: skip

    def attempt(self, kind: str, **what: Any) -> None:
        """An act of the maker's own choice: it is taken, or refused with a reason."""
        try:
            self.act(kind, **what)
        except Refused as refusal:
            assert refusal.accepted, (kind, refusal)

    @property
    def powder(self) -> str:
        return self.seen.pigments[0].source

    @rule()
    def do_as_advised(self) -> None:
        advice = self.seen.advice
        match advice.act:
            case NextAct.READY:
                self.act("ready")
            case NextAct.POWDER:
                self.act("powder", source=advice.source, measure={"amount": max(0.01, advice.grams or 1.0)})
            case NextAct.POUR:
                self.act("oil", source=self.seen.oil.source, measure={"amount": max(0.01, advice.grams or 0.5)})
            case NextAct.ADDITIVE:
                self.act("additive", source=advice.source, measure={"amount": max(0.01, advice.grams or 0.1)})
            case NextAct.DRAW_OIL:
                self.attempt("draw_oil", measure={"amount": max(0.01, advice.grams or 0.1)})
            case NextAct.TOO_LOOSE:
                self.act("choose_way", way=self.seen.ways[0].way)
            case NextAct.MULL | NextAct.MULL_ON:
                self.attempt("mull")
                self.clock += timedelta(minutes=20)
                self.seen = slab.view(self.session, self.clock, self.number)
            case NextAct.LOAD_DONE:
                self.attempt("load_done", ended_by="minutes")
            case NextAct.GATHER:
                self.act("gather")
            case _:
                self.attempt("look", stage="even_paste", body="tube")

    @rule(body=st.sampled_from(list(Body)), stage=st.sampled_from(["crumbs", "wet_curds", "even_paste", "even_paste"]))
    def look(self, body: Body, stage: str) -> None:
        self.attempt("look", stage=stage, **({"body": body} if stage == "even_paste" else {}))

    @rule(grams=st.floats(0.05, 20))
    def pour(self, grams: float) -> None:
        self.attempt("oil", source=self.seen.oil.source, measure={"amount": round(grams, 2)})

    @rule(grams=st.floats(0.05, 20))
    def more_powder(self, grams: float) -> None:
        self.attempt("powder", source=self.powder, measure={"amount": round(grams, 2)})

    @precondition(lambda self: self.seen.ways)
    @rule(which=st.integers(0, 3))
    def choose(self, which: int) -> None:
        self.act("choose_way", way=self.seen.ways[which % len(self.seen.ways)].way)

    @precondition(lambda self: self.seen.doubt is not None)
    @rule(said=st.sampled_from(list(DoubtAnswer)))
    def answer(self, said: DoubtAnswer) -> None:
        self.act("answer", answer=said)

    @invariant()
    def what_is_advised_is_on_offer(self) -> None:
        if not hasattr(self, "seen"):
            return
        seen, advice = self.seen, self.seen.advice
        offered = [way.way for way in seen.ways]
        match advice.act:
            case NextAct.TOO_LOOSE:
                assert offered and "add_oil" not in offered, (advice, offered)
            case NextAct.POWDER:
                assert advice.source in [line.source for line in seen.pigments], advice
            case NextAct.ADDITIVE:
                assert advice.source in [line.source for line in seen.additives], advice
                assert advice.grams and advice.grams > 0, advice
            case NextAct.DOUBT:
                assert seen.doubt is not None, advice
        if advice.grams is not None:
            assert advice.grams > 0, advice
        if seen.doubt is not None:
            assert advice.act is not NextAct.POUR, advice


class Walks(DatabaseTest):
    def test_no_session_advises_what_its_screen_does_not_offer(self) -> None:
        Walk.database = self.database
        run_state_machine_as_test(
            Walk,
            settings=settings(
                max_examples=25, stateful_step_count=20, deadline=None, derandomize=True, phases=[Phase.generate],
                suppress_health_check=list(HealthCheck),
            ),
        )  # fmt: skip


if __name__ == "__main__":
    unittest.main()
