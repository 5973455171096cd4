"""Runs on the record: begun of lots, guided, refused where it cannot be, yields compared, pigment into stock."""

from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any
from uuid import uuid4

from niddy.core.due import Due
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.making import Does, Fading, LightVerdict, StepKind, Takes, Tap
from niddy.core.measures import Unit
from niddy.core.telling import Measuring
from niddy.studio import lineage, log, making, materials, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.making import IngredientAsked, ProcessAsked, RunAsked, RunBegin, RunView, StepAsked, runs
from niddy.studio.materials import NewLot, OwnRaw
from tests.studio.recording import record_run
from tests.support import NOW, DatabaseTest

STEPS = [
    StepAsked(kind=StepKind.DISSOLVE, says="Dissolve"),
    StepAsked(kind=StepKind.ACIDITY, says="pH", ingredient=1, ph_low=6.5, ph_high=8.5),
    StepAsked(kind=StepKind.HOLD, says="Ripen", minutes=60.0),
    StepAsked(kind=StepKind.WASH, says="Wash", wash_ml=200.0, washes=2),
    StepAsked(kind=StepKind.DRY, says="Dry"),
    StepAsked(kind=StepKind.SIEVE, says="Sieve", mesh_um=125.0),
]


class AtTheBench(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        self.now = NOW
        self.code = uuid4().hex[:6]
        self.salt = self.lot("Blue salt", "CuSO4.5H2O", "S")
        self.soda = self.lot("Soda", "Na2CO3", "N")
        self.process = making.add(
            self.session,
            NOW,
            ProcessAsked(
                name=f"Green {self.code}",
                steps=STEPS,
                products=["Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"],
                wanted="Cu2(OH)2CO3",
                ingredients=[
                    IngredientAsked(
                        name="Blue salt", parts_g=50.0, role=Does.SALT, formula="CuSO4.5H2O", solution_pct=10.0
                    ),
                    IngredientAsked(name="Soda", parts_g=25.0, role=Does.PRECIPITANT, formula="Na2CO3"),
                ],
            ),
        )

    def lot(self, name: str, formula: str, code: str, price: str = "10", **what: Any) -> int:
        raw = OwnRaw(name=f"{name} {uuid4().hex[:6]}", formula=formula).raw()
        key = materials.add_own(self.session, NOW, materials.RAW, raw)
        new = NewLot(materials.RAW, key, f"{code}-{uuid4().hex[:6]}", NOW.date(), 900.0, Decimal(price), **what)
        return materials.receive(self.session, NOW, new)

    def begin(self, **what: Any) -> int:
        asked = RunBegin.model_validate({"request_id": uuid4(), "lots": {0: self.salt, 1: self.soda}, **what})
        return making.begin_run(self.session, self.now, self.process, asked)

    def act(self, number: int, kind: str, after_min: float = 1.0, at: datetime | None = None, **what: Any) -> RunView:
        self.now = at or self.now + timedelta(minutes=after_min)
        said = {"id": uuid4(), "made_at": self.now, "kind": kind, **what}
        told = record_run(self.session, self.now, number, making.RUNS.acts.act_of(said))
        # Whatever was known of the log before, it is told as whoever reads all of it anew would see it.
        runs._last_seen.cache_clear()
        self.assertEqual(told, making.run(self.session, self.now, number))
        return told

    def weigh(self, number: int, ingredient: str, grams: float, **what: Any) -> RunView:
        return self.act(number, "added", ingredient=ingredient, measure={"amount": grams}, **what)

    def refused(self, field: str, does: Any, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)
        self.assertEqual(caught.exception.field, field, caught.exception)
        return caught.exception


class Runs(AtTheBench):
    def log(self, number: int, kind: str, after_min: float = 1.0, **what: Any) -> None:
        """An act whose screen nobody looks at."""
        self.now += timedelta(minutes=after_min)
        said = {"id": uuid4(), "made_at": self.now, "kind": kind, **what}
        record_run(self.session, self.now, number, making.RUNS.acts.act_of(said))

    def finished(self, grams: float = 20.0, washes: int = 2, ph: float = 7.0, **what: Any) -> int:
        number = self.begin(**what)
        self.log(number, "ready")
        self.log(number, "added", ingredient="in-1", measure={"amount": 50.0})
        self.log(number, "added", ingredient="in-2", measure={"amount": 25.0})
        self.log(number, "ph", ph=ph)
        self.log(number, "done", step="step-2")
        self.log(number, "hold", step="step-3")
        self.log(number, "done", 60, step="step-3")
        for _ in range(washes):
            self.log(number, "washed", 20, ml=200.0)
        if washes < 2:
            self.log(number, "skip", step="step-4", why="no time")
        for hours, g in ((2, 60.0), (24, 1.01 * grams), (25, grams), (25, grams)):
            self.log(number, "weighed", 60 * hours, g=g + 80, tare_g=80.0)
        self.log(number, "done", step="step-6")
        self.log(number, "finish", g=grams)
        return number

    def test_from_the_first_gram_to_the_last(self) -> None:
        number = self.finished()
        seen = making.run(self.session, self.now, number)
        self.assertEqual((seen.status, seen.yield_g), (Status.FINISHED, 20.0))
        assert seen.yield_now is not None and seen.ph is not None and seen.wash is not None and seen.dry is not None
        self.assertAlmostEqual(seen.yield_now.value, 90.34, 1)
        self.assertEqual({one.state for one in seen.steps}, {"done"})
        self.assertTrue(seen.dry.constant)
        self.assertEqual([point.final for point in seen.yields], [False] * 4 + [True])
        self.assertAlmostEqual(materials.lot(self.session, self.salt).on_hand, 850.0)
        self.assertEqual(materials.movements(self.session, self.salt)[0].run_number, number)
        self.assertGreater(seen.worked_min, 60)
        assert seen.theory is not None and seen.dry.ready_hours is not None
        self.assertAlmostEqual(seen.theory.value, 22.139, 2)
        self.assertEqual(len(seen.theory.working.inputs), 2)
        strip = {one.ph: one.inside for one in seen.ph_strip}
        self.assertEqual((strip[6.0], strip[6.5], strip[8.5], strip[9.0]), (False, True, True, False))

    def test_struck_out_it_comes_back_and_again(self) -> None:
        number = self.begin()
        self.act(number, "ready")
        self.weigh(number, "in-1", 50.0)
        added = making.run(self.session, self.now, number).timeline[0]
        self.act(number, "strike", strikes=added.id)
        self.assertAlmostEqual(materials.lot(self.session, self.salt).on_hand, 900.0)
        strike = making.run(self.session, self.now, number).timeline[0]
        seen = self.act(number, "strike", strikes=strike.id)
        self.assertAlmostEqual(materials.lot(self.session, self.salt).on_hand, 850.0)
        self.assertEqual(seen.weigh[0].added_g, 50.0)
        self.refused("strikes", self.act, number, "strike", strikes=uuid4())

    def test_what_came_and_was_struck_out_between_two_looks_never_counts(self) -> None:
        number = self.begin()
        self.act(number, "ready")
        job = making.RUNS.job_of(self.session, number)
        before = log.as_text(self.session, [job])[job]
        self.weigh(number, "in-1", 50.0)
        added = making.run(self.session, self.now, number).timeline[0]
        self.act(number, "strike", strikes=added.id)
        after = log.as_text(self.session, [job])[job]
        runs._last_seen.cache_clear()
        runs._folded(job, before)
        entries, _, run = runs._folded(job, after)
        self.assertEqual(len(entries), 3)
        self.assertEqual(run.added, {})

    def test_the_same_act_twice_counts_once_and_another_under_its_id_does_not(self) -> None:
        number = self.begin()
        said = {"id": uuid4(), "made_at": NOW, "kind": "added", "ingredient": "in-1", "measure": {"amount": 10.0}}
        for _ in range(2):
            record_run(self.session, NOW, number, making.RUNS.acts.act_of(said))
        self.assertAlmostEqual(materials.lot(self.session, self.salt).on_hand, 890.0)
        with self.assertRaises(Conflict):
            record_run(self.session, NOW, number, making.RUNS.acts.act_of({**said, "measure": {"amount": 11.0}}))

    def test_spoons_count_with_their_doubt(self) -> None:
        number = self.begin()
        seen = self.act(number, "added", ingredient="in-2", measure={"unit": "tablespoon", "amount": 2.0})
        self.assertAlmostEqual(seen.weigh[1].added_g, 30.0)
        self.assertIn("2 level tablespoons of Soda", seen.timeline[0].text)
        self.assertIn("in, about 30 g", seen.timeline[0].text)

    def test_a_lot_of_crystals_is_weighed_as_such(self) -> None:
        crystals = self.lot("Washing soda", "Na2CO3.10H2O", "W")
        paper = making.plan(self.session, self.process, RunAsked(lots={1: crystals}))
        self.assertAlmostEqual(paper.weigh[1].g, 67.49, 2)
        other = self.lot("Potash", "K2CO3", "K")
        refusal = self.refused("lots.1", making.plan, self.session, self.process, RunAsked(lots={1: other}))
        self.assertIn("another salt", refusal.problem)
        self.refused("lots.7", making.plan, self.session, self.process, RunAsked(lots={7: other}))
        with self.assertRaises(Missing):
            making.plan(self.session, self.process, RunAsked(lots={1: 99_999}))
        offered = making.page(self.session, self.process).offered[1]
        self.assertLessEqual({self.soda, crystals}, {one.lot_id for one in offered})
        self.assertNotIn(other, {one.lot_id for one in offered})

    def test_another_lot_half_way_counts_for_what_it_is_and_brings_its_hazards(self) -> None:
        number = self.begin()
        crystals = self.lot("Washing soda", "Na2CO3.10H2O", "W", hazards=("manganese",))
        before = making.run(self.session, NOW, number)
        self.assertIn(crystals, {one.lot_id for one in before.weigh[1].offered})
        self.assertNotIn("manganese", {one.key for one in before.cautions})
        seen = self.weigh(number, "in-2", 67.49, lot_id=crystals)
        self.assertAlmostEqual(seen.weigh[1].added_g, 25.0, 1)
        self.assertAlmostEqual(materials.lot(self.session, crystals).on_hand, 900 - 67.49)
        self.assertIn("manganese", {one.key for one in seen.cautions})
        self.assertLessEqual({"copper", "manganese"}, set(seen.powder.hazards) & set(seen.waste.holds))
        other = self.lot("Potash", "K2CO3", "K")
        self.refused("lot_id", self.weigh, number, "in-2", 5.0, lot_id=other)
        added = next(line for line in seen.timeline if line.kind == "added")
        seen = self.act(number, "strike", strikes=added.id)
        self.assertNotIn("manganese", seen.powder.hazards)

    def test_out_of_order_asks_for_a_reason(self) -> None:
        number = self.begin()
        self.act(number, "ready")
        refusal = self.refused("why", self.act, number, "done", step="step-3")
        self.assertIn("'Dissolve' comes before it", refusal.problem)
        self.refused("why", self.act, number, "skip", step="step-1")
        self.refused("step", self.act, number, "done", step="step-77")
        seen = self.act(number, "done", step="step-3", why="it ripened by itself")
        self.assertEqual([(one.state, one.why) for one in seen.steps][2], ("done", "it ripened by itself"))
        seen = self.act(number, "skip", step="step-1", why="bought dissolved")
        assert seen.advice is not None and seen.advice.step is not None
        self.assertEqual(seen.advice.step.key, "step-2")

    def test_what_cannot_be_is_refused_by_its_field(self) -> None:
        number = self.begin()
        for field, kind, what in (
            ("ml", "washed", {"ml": 0.0}),
            ("ingredient", "added", {"ingredient": "in-9", "measure": {"amount": 1.0}}),
            ("g", "weighed", {"g": 80.0, "tare_g": 80.0}),
            ("g", "heated", {"before_g": 10.0, "g": 12.0}),
            ("way", "waste", {"ml": 100.0, "way": "drain"}),
            ("of", "handed_over", {"of": uuid4()}),
            ("kind", "faded", {"fading": "none"}),
            ("kind", "light_verdict", {"verdict": "holds"}),
            (
                "g",
                "to_stock",
                {
                    "g": 5.0,
                    "code": "X",
                    "taken_for": "mineral",
                    "masstone_srgb": "#112233",
                    "hazards": [],
                    "hazards_confirmed": True,
                },
            ),
            (
                "fractions.1.aperture_um",
                "sieved",
                {
                    "pan_g": 1.0,
                    "fractions": [{"aperture_um": 63.0, "retained_g": 1.0}, {"aperture_um": 125.0, "retained_g": 1.0}],
                },
            ),
            ("kind", "photo", {}),
            ("with_powder_g", "density", {"powder_g": 10.0, "full_g": 60.0, "with_powder_g": 59.0}),
        ):
            with self.subTest(kind):
                self.refused(field, self.act, number, kind, **what)
        with self.assertRaises(Missing):
            making.run(self.session, NOW, 99_999)

    def test_heavier_than_before_and_more_than_theory_ask_and_are_kept(self) -> None:
        number = self.begin()
        self.act(number, "weighed", g=30.0)
        self.assertIn("was something added", self.refused("anyway", self.act, number, "weighed", g=40.0).problem)
        seen = self.act(number, "weighed", g=40.0, anyway=True)
        assert seen.dry is not None
        self.assertEqual([one.g for one in seen.dry.readings], [40.0])
        refusal = self.refused("anyway", self.act, number, "finish", g=25.0)
        self.assertIn("still wet, or are salts left", refusal.problem)
        self.assertEqual(self.act(number, "finish", g=25.0, anyway=True).yield_g, 25.0)
        self.refused("kind", self.act, number, "ph", ph=7.0)

    def test_runs_differ_in_one_thing_and_the_next_changes_one(self) -> None:
        self.finished(19.0, washes=1)
        second = self.finished(20.0, changed="washes: 1 to 2")
        self.act(second, "tried", takes="well")
        third = self.finished(16.0, ph=5.4)
        self.act(third, "tried", takes="gritty")
        yields = making.page(self.session, self.process).yields
        self.assertEqual(
            [[one.what for one in run.differs] for run in yields.runs], [[], ["washes"], ["pH inside its window"]]
        )
        assert yields.change is not None and yields.expected_share is not None
        self.assertEqual(yields.change.what, "pH")
        # Three runs of its own beside half a run at 0.85.
        self.assertAlmostEqual(yields.expected_share.median, (0.425 + (19 + 20 + 16) / 22.139) / 3.5, 3)
        self.assertEqual(making.run(self.session, self.now, third).trials.causes[0][:10], "too coarse")
        self.assertIn("here 1 washes of 2", making.run(self.session, self.now, self._tried(washes=1)).trials.causes[0])

    def test_a_change_is_kept_and_guides_the_run(self) -> None:
        self._tried()
        change = making.page(self.session, self.process).yields.change
        assert change is not None
        self.assertEqual((change.what, change.now, change.washes), ("washes", "2", 4))
        number = self.begin(changed="washes: 4", change_washes=change.washes)
        seen = making.run(self.session, self.now, number)
        assert seen.wash is not None
        self.assertEqual((seen.changed, seen.wash.planned), ("washes: 4", 4))
        held = making.run(self.session, self.now, self.begin(change_hold_min=90.0))
        self.assertEqual([step.minutes for step in held.steps if step.kind == "hold"], [90.0])

    def _tried(self, **what: Any) -> int:
        number = self.finished(**what)
        self.act(number, "tried", takes="gritty")
        return number

    def test_a_lot_under_suspicion_is_seen_where_it_is_chosen(self) -> None:
        number = self.finished()
        materials.suspect(self.session, self.soda, "caked")
        page = making.page(self.session, self.process)
        offered = {one.lot_id: one.suspect for one in page.offered[1]}
        self.assertEqual(offered[self.soda], "caked")
        self.assertEqual(page.yields.runs[-1].suspects, (materials.lot(self.session, self.soda).code,))
        self.assertEqual(making.run(self.session, self.now, number).weigh[1].suspect, "caked")
        materials.suspect(self.session, self.soda, " ")
        self.assertEqual(materials.lot(self.session, self.soda).suspect, "")

    def test_trials_and_a_light_test_with_its_dates(self) -> None:
        number = self.finished()
        self.act(number, "strength", white_parts=9.0, reference_white_parts=10.0)
        self.act(number, "spot", tried_with="acid", seen="fizzed")
        self.act(number, "in_medium", text="beads up")
        seen = self.act(number, "light", text="south window")
        trials = seen.trials
        assert trials.light is not None
        self.assertAlmostEqual(trials.strength_percent or 0, 90.0)
        self.assertEqual((trials.spots, trials.in_medium), (("acid: fizzed",), ("beads up",)))
        hung = self.now
        self.assertEqual(self.light_due(number).at, hung + timedelta(days=7))
        self.act(number, "faded", at=hung + timedelta(days=7), fading="none")
        self.assertEqual(self.light_due(number).at, hung + timedelta(days=28))
        lab = {"L": 50.0, "a": 10.0, "b": 10.0}
        self.refused("fading", self.act, number, "faded", covered=lab)
        seen = self.act(
            number, "faded", at=hung + timedelta(days=28), covered=lab, uncovered={"L": 53.0, "a": 8.0, "b": 9.0}
        )
        assert seen.trials.light is not None
        last = seen.trials.light.looks[-1]
        self.assertEqual(last.fading, Fading.BARELY)
        self.assertTrue(2 < (last.delta_e or 0) < 5)
        seen = self.act(number, "faded", at=hung + timedelta(days=84), fading="barely")
        assert seen.trials.light is not None
        self.assertIs(seen.trials.light.suggested, LightVerdict.FADES)
        self.act(number, "light_verdict", verdict="fades")
        self.assertFalse([one for one in making.waits(self.session, self.now) if one.key == f"light-{number}"])

    def light_due(self, number: int) -> Due:
        return next(one for one in making.waits(self.session, self.now) if one.key == f"light-{number}")

    def test_powder_into_stock_with_its_lineage_and_price(self) -> None:
        number = self.finished()
        self.act(number, "density", powder_g=10.0, full_g=62.4, with_powder_g=69.98)
        asked: dict[str, Any] = {
            "g": 18.0,
            "code": f"G-{self.code}",
            "taken_for": "mineral",
            "masstone_srgb": "#3f8f6d",
            "hazards": ["copper", "nuisance-dust"],
        }
        seen = making.run(self.session, self.now, number)
        self.assertEqual(set(seen.powder.hazards), {"copper", "nuisance-dust"})
        self.assertEqual(str(seen.cost.total), "0.75")
        self.refused("hazards_confirmed", self.act, number, "to_stock", **asked)
        asked["hazards_confirmed"] = True
        self.refused("hazards.0", self.act, number, "to_stock", **{**asked, "hazards": ["plutonium"]})
        self.refused("g", self.act, number, "to_stock", **{**asked, "g": 25.0})
        seen = self.act(number, "to_stock", hours=2.0, wage_per_hour=10.0, **asked)
        out = seen.lots_out[0]
        lot = materials.lot(self.session, out.lot_id)
        self.assertEqual(
            (lot.name, lot.on_hand, lot.hazards), (f"Green {self.code}", 18.0, ("copper", "nuisance-dust"))
        )
        assert lot.density is not None and lot.made_in is not None and lot.price_per_unit is not None
        self.assertAlmostEqual(lot.density.value, 3.843, 2)
        self.assertEqual(lot.made_in.run_number, number)
        self.assertAlmostEqual(float(lot.price_per_unit), 1000 * 20.75 / 20.0, 1)
        self.assertIn("rub-out narrows it", lot.demand_says)
        self.refused("code", self.act, number, "to_stock", **{**asked, "g": 1.0})
        self.refused("strikes", self.act, number, "strike", strikes=seen.timeline[0].id)
        places = {(one.what, one.id) for one in lineage.went_into(self.session, self.salt).places}
        self.assertLessEqual({("run", number), ("lot", out.lot_id)}, places)

    def test_a_second_run_of_the_process_is_the_same_pigment(self) -> None:
        keys = []
        for n in range(2):
            number = self.finished()
            seen = self.act(
                number,
                "to_stock",
                g=5.0,
                code=f"{n}-{self.code}",
                taken_for="mineral",
                masstone_srgb="#3f8f6d",
                hazards=["copper"],
                hazards_confirmed=True,
            )
            keys.append(materials.lot(self.session, seen.lots_out[0].lot_id).material_key)
        self.assertEqual(set(keys), {materials.powder_key(self.process)})

    def test_every_litre_that_left_is_in_the_book(self) -> None:
        number = self.finished()
        seen = making.run(self.session, self.now, number)
        self.assertAlmostEqual(seen.waste.in_ml, 450 + 400)
        self.assertAlmostEqual(seen.waste.open_ml, 850)
        self.assertEqual((seen.waste.holds, seen.waste.may_drain), (("copper",), False))
        seen = self.act(number, "waste", ml=850.0, text="blue canister")
        self.assertEqual(seen.waste.open_ml, 0.0)
        before = making.book(self.session)
        self.assertIn((number, "blue canister"), [(one.run_number, one.where) for one in before.entries])
        entry = seen.waste.entries[0]
        self.act(number, "handed_over", of=str(entry.id), text="the town's depot")
        after = making.book(self.session)
        self.assertAlmostEqual(before.kept_ml - after.kept_ml, 850)
        self.assertAlmostEqual(after.handed_ml - before.handed_ml, 850)

    def test_begun_twice_it_is_one_run_and_gives_up(self) -> None:
        asked = RunBegin(request_id=uuid4(), wanted_g=40.0)
        first = making.begin_run(self.session, NOW, self.process, asked)
        self.assertEqual(making.begin_run(self.session, NOW, self.process, asked), first)
        seen = making.run(self.session, NOW, first)
        assert seen.advice is not None and seen.plan.expected_g is not None
        self.assertIs(seen.advice.tap, Tap.READY)
        self.assertAlmostEqual(seen.plan.expected_g.median, 40.0)
        self.assertIs(self.act(first, "abandon", text="spilt").status, Status.ABANDONED)
        self.assertIsNone(making.run(self.session, self.now, first).advice)

    def test_a_hold_and_a_powder_that_dries_wait_in_the_calendar(self) -> None:
        number = self.begin()
        for kind, what in (
            ("ready", {}),
            ("done", {"step": "step-1"}),
            ("ph", {"ph": 7.0}),
            ("done", {"step": "step-2"}),
        ):
            self.act(number, kind, **what)
        self.weigh(number, "in-1", 50.0)
        self.act(number, "hold", step="step-3")
        due = next(one for one in making.waits(self.session, self.now) if one.key == f"run-{number}")
        self.assertEqual((due.at, due.page), (self.now + timedelta(minutes=60), f"/making/runs/{number}"))
        self.assertIn(number, [one.number for one in making.at_home(self.session, self.now)])


class Demo(DatabaseTest):
    with_demo = True

    def test_it_tells_four_runs_three_lakes_a_suspect_and_a_light_test(self) -> None:
        with self.database.session() as session:
            green, lake = (making.page(session, n).yields for n in (1, 2))
            self.assertEqual(len(green.runs), 4)
            self.assertLess(green.runs[2].ph_inside or 1, 0.5)
            self.assertEqual([one.takes for one in lake.runs], [Takes.GRITTY, Takes.WELL, Takes.WELL])
            self.assertTrue([one for one in making.room(session, NOW).raw if one.suspect])
            light = making.run(session, NOW, 7).trials.light
            assert light is not None and light.next_at is not None
            self.assertTrue(light.verdict is None and light.next_at > NOW and light.looks)
            waits = {one.key for one in making.waits(session, NOW)}
            self.assertLessEqual({"run-4", "light-7"}, waits)


class WithoutAScale(AtTheBench):
    """A run by spoons, by eye and by some of this and some of that."""

    def setUp(self) -> None:
        super().setUp()
        kept = workshop.settings(self.session)
        workshop.change_settings(self.session, replace(kept, measuring=Measuring.SPOONS))
        self.process = making.add(
            self.session,
            NOW,
            ProcessAsked(
                name=f"Lake {self.code}",
                ingredients=[
                    IngredientAsked(name="Dye", unit=Unit.EYE, role=Does.DYE),
                    IngredientAsked(name="Alum in water", unit=Unit.MILLILITRE, amount=50.0),
                    IngredientAsked(name="Chalk", unit=Unit.TABLESPOON, amount=2.0, formula="CaCO3"),
                ],
                steps=[
                    StepAsked(kind=StepKind.ADD, says="Dye", ingredient=0),
                    StepAsked(kind=StepKind.ADD, says="Alum", ingredient=1),
                    StepAsked(kind=StepKind.ADD, says="Chalk", ingredient=2),
                    StepAsked(kind=StepKind.FILTER, says="Filter it"),
                    StepAsked(kind=StepKind.DRY, says="Dry it"),
                ],
            ),
        )

    def begin(self, **what: Any) -> int:
        return super().begin(lots={}, **what)

    def test_what_is_told_goes_in_and_nothing_is_weighed(self) -> None:
        number = self.begin()
        seen = self.act(number, "ready")
        self.assertEqual(
            [one.told.words if one.told else None for one in seen.weigh], ["some", "50 ml", "2 level tablespoons"]
        )
        self.assertEqual((seen.advice and seen.advice.says, seen.advice and seen.advice.grams), ("Put in Dye", None))
        seen = self.act(number, "added", ingredient="in-1", measure={"unit": "eye"})
        self.assertEqual(seen.timeline[0].text, "some Dye in; Dye: done")
        self.act(number, "added", ingredient="in-2", measure={"unit": "ml", "amount": 50.0})
        seen = self.act(number, "added", ingredient="in-3", measure={"unit": "eye"})
        self.assertAlmostEqual(seen.weigh[2].added_g, 30.0)
        for step in ("step-4", "step-5"):
            assert seen.advice is not None
            self.assertIs(seen.advice.tap, Tap.DONE)
            seen = self.act(number, "done", step=step)
        assert seen.advice is not None
        self.assertEqual(seen.advice.says, "Measure what there is")
        with self.assertRaisesRegex(Refused, "what there is, in g or in level spoons"):
            self.act(number, "finish")
        done = self.act(number, "finish", measure={"unit": "tablespoon", "amount": 4})
        self.assertAlmostEqual(done.yield_g or 0.0, 30.0)
        self.assertEqual((done.yield_now, done.yields), (None, ()))
        self.assertEqual(runs.own_yield(self.session, self.process).runs, ())

    def test_a_powder_is_not_measured_in_drops_nor_a_liquid_by_a_dry_weight_of_nothing(self) -> None:
        number = self.begin()
        self.act(number, "ready")
        with self.assertRaisesRegex(Refused, "powder is not dripped"):
            self.act(number, "added", ingredient="in-3", measure={"unit": "drop", "amount": 5})
        seen = self.act(number, "added", ingredient="in-2", measure={"unit": "drop", "amount": 10})
        self.assertIn("10 drops of Alum in water", seen.timeline[0].text)

    def test_an_amount_without_its_number_is_named(self) -> None:
        for unit, field in ((Unit.GRAM, "ingredients.0.parts_g"), (Unit.CUP, "ingredients.0.amount")):
            asked = ProcessAsked(name=f"X {self.code}", ingredients=[IngredientAsked(name="Dye", unit=unit)])
            self.refused(field, making.add, self.session, NOW, asked)
        asked = ProcessAsked(name="Y", ingredients=[IngredientAsked(name="Dye", unit=Unit.WEIGH_IN, amount=3.0)])
        self.refused("ingredients.0.unit", making.add, self.session, NOW, asked)
