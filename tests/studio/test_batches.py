"""The record against a real PostgreSQL: acts, stock, summaries, searches."""

import contextlib
import json
import random
from datetime import timedelta
from uuid import uuid4

from niddy.core import slab as core
from niddy.core.errors import Refused
from niddy.core.slab import Status, Verdict
from niddy.db import migrations
from niddy.exchange import batch_json
from niddy.studio import batches, home, materials, plan, slab, workshop
from niddy.studio.batches import Search
from niddy.studio.errors import Conflict, Missing
from niddy.studio.materials import NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import Act, act_of
from tests.support import NOW, DatabaseTest


class Migrations(DatabaseTest):
    def test_the_tables_in_code_are_the_tables_in_the_database(self) -> None:
        migrations.check(self.database.url)


class OneBatch(DatabaseTest):
    def setUp(self) -> None:
        with self.database.session() as session:
            code = uuid4().hex[:8]
            new = NewLot("pigment", "bone-black", f"B-{code}", NOW.date(), 500.0)
            self.lot = materials.receive(session, NOW, new)
            self.oil = materials.receive(session, NOW, NewLot("oil", "linseed-refined", f"L-{code}", NOW.date(), 800.0))
            self.asked = PlanAsked.model_validate(
                {
                    "lines": [{"lot_id": self.lot, "parts": 1.0}],
                    "oil": {"lot_id": self.oil},
                    "reduced_pvc": 0.86,
                    "pigment_g": 100.0,
                }
            )
            self.request = uuid4()
            self.number = slab.take_to_slab(session, NOW, self.request, self.asked)

    def act(self, kind: str, **what: object) -> Act:
        return act_of({"id": uuid4(), "kind": kind, "made_at": NOW, **what})

    def record(self, act: Act) -> slab.SlabView:
        with self.database.session() as session:
            return slab.record(session, NOW, self.number, act)

    def powder(self, grams: float) -> Act:
        return self.act("powder", source=f"lot-{self.lot}", measure={"amount": grams})

    def pour(self, grams: float) -> Act:
        return self.act("oil", source=f"lot-{self.oil}", measure={"amount": grams})

    def left(self) -> tuple[float, float]:
        with self.database.session() as session:
            left = materials.on_hand(session, [self.lot, self.oil])
            return left[self.lot], left[self.oil]

    def test_taking_a_plan_twice_makes_one_batch(self) -> None:
        with self.database.session() as session:
            self.assertEqual(slab.take_to_slab(session, NOW, self.request, self.asked), self.number)
            other = self.asked.model_copy(update={"pigment_g": 50.0})
            with self.assertRaises(Conflict):
                slab.take_to_slab(session, NOW, self.request, other)

    def test_acts_draw_from_the_shelf_and_strikes_give_back(self) -> None:
        self.record(self.powder(100))
        poured = self.pour(56)
        view = self.record(poured)
        self.assertAlmostEqual(view.ratio.value if view.ratio else 0, 56)
        self.assertEqual(self.left(), (400, 744))
        self.record(self.act("strike", strikes=poured.id))
        self.assertEqual(self.left(), (400, 800))

    def test_sending_an_act_twice_counts_once(self) -> None:
        act = self.powder(100)
        self.record(act)
        view = self.record(act)
        self.assertEqual(len(view.timeline), 1)
        self.assertEqual(self.left()[0], 400)
        with self.assertRaises(Conflict) as caught:
            self.record(act.model_copy(update={"measure": self.powder(101).measure}))
        self.assertEqual(caught.exception.field, "id")

    def test_a_refused_act_leaves_nothing_behind(self) -> None:
        self.record(self.powder(100))
        for bad in (
            self.act("sample", measure={"amount": 101.0}),
            self.act("oil", source="lot-999999", measure={"amount": 5.0}),
            self.act("finish", verdict="right", leftover_ml=0.0),
            self.act("note", text="  "),
            self.act("choose_way", way="add_pigment"),
            self.act("powder", source=f"lot-{self.lot}", measure={}),
        ):
            with self.subTest(bad.kind), self.assertRaises(Refused):
                self.record(bad)
        with self.database.session() as session:
            self.assertEqual(len(batches.batch(session, self.number).log), 1)
        self.assertEqual(self.left(), (400, 800))

    def test_the_whole_way_to_a_finished_batch(self) -> None:
        self.record(self.powder(100))
        self.record(self.pour(68))
        with self.database.session() as session:
            tube = workshop.workshop(session).tube_types[0]
        finish = self.act("finish", verdict="right", tubes=[{"tube_type_id": tube.id, "count": 5}], leftover_ml=9.5)
        view = self.record(finish)
        self.assertIs(view.status, Status.FINISHED)
        with self.database.session() as session:
            page = slab.page(session, NOW, self.number)
            self.assertEqual([(t.usable_ml, t.count) for t in page.filled], [(tube.usable_ml, 5)])
            self.assertEqual(page.leftover_ml, 9.5)
            rows = {row.label: row for row in page.differences}
            self.assertEqual(rows["Pigment"].reason, "")
            self.assertIn("stayed on tools", rows["Filled and kept"].reason)
            (line,) = batches.search(session, Search(words=str(self.number))).batches
            self.assertEqual((line.filled_ml, line.tubes_filled, line.verdict), (100.0, 5, Verdict.RIGHT))
            document = json.loads(batch_json.dump(batches.batch(session, self.number)))
        self.assertEqual(document["format"], "niddy-batch")
        self.assertEqual([entry["kind"] for entry in document["log"]], ["powder", "oil", "finish"])
        self.assertAlmostEqual(document["log"][1]["mass"]["median"], 68)
        self.record(self.act("strike", strikes=finish.id))
        with self.database.session() as session:
            self.assertIs(batches.batch(session, self.number).status, Status.OPEN)

    def test_more_in_tubes_than_was_made_is_refused(self) -> None:
        self.record(self.powder(10))
        self.record(self.pour(7))
        with self.assertRaises(Refused) as caught:
            self.record(self.act("finish", verdict="right", tubes=[{"tube_type_id": 1, "count": 2}], leftover_ml=0.0))
        self.assertEqual(caught.exception.field, "tubes")

    def test_giving_a_batch_up_keeps_it(self) -> None:
        self.record(self.powder(10))
        self.record(self.act("abandon", text="Wrong tin."))
        with self.database.session() as session:
            found = batches.search(session, Search(status=Status.ABANDONED)).batches
            self.assertIn(self.number, [line.number for line in found])
        with self.assertRaises(Refused):
            self.record(self.pour(5))
        self.record(self.act("note", text="Kept for the label."))

    def test_an_act_from_another_age_is_refused(self) -> None:
        act = self.powder(5).model_copy(update={"made_at": NOW + timedelta(days=2_900_000)})
        with self.assertRaises(Refused) as caught:
            self.record(act)
        self.assertEqual(caught.exception.field, "made_at")

    def test_the_same_id_in_another_batch_is_a_conflict(self) -> None:
        act = self.powder(5)
        self.record(act)
        with self.database.session() as session:
            other = slab.take_to_slab(session, NOW, uuid4(), self.asked)
            with self.assertRaises(Conflict):
                slab.record(session, NOW, other, act)

    def test_no_such_batch(self) -> None:
        with self.database.session() as session, self.assertRaises(Missing):
            slab.view(session, NOW, 999_999)


class Snapshot(DatabaseTest):
    with_demo = True

    def test_the_kept_paste_is_the_fold_of_the_whole_log(self) -> None:
        """Random acts and strikes on the demo's open batch: what is kept never drifts from the log."""
        luck = random.Random(5)
        with self.database.session() as session:
            batch = batches.batch(session, 4)
        sources = {"powder": batch.plan.lines[0].pigment.source, "oil": batch.plan.oil.source}
        for n in range(60):
            kind = luck.choice(["powder", "oil", "oil", "sample", "draw_oil", "look", "strike"])
            what: dict[str, object] = {"measure": {"amount": round(luck.uniform(0.1, 6), 2)}}
            if kind in sources:
                what["source"] = sources[kind]
            elif kind == "look":
                what = {"stage": "even_paste", "body": luck.choice(["stiff", "tube", "soft"])}
            elif kind == "strike":
                can = [
                    a.event.id for a in batch.log if a.event.kind != "strike" and a.event.id not in batch.paste.struck
                ]
                what = {"strikes": luck.choice(can)}
            act = act_of({"id": uuid4(), "kind": kind, "made_at": NOW + timedelta(seconds=n), **what})
            # Taking out more than is there is refused, and leaves both as they were.
            with contextlib.suppress(Refused), self.database.session() as session:
                slab.record(session, NOW, 4, act)
            with self.database.session() as session:
                batch = batches.batch(session, 4)
            self.assertEqual(batch.paste, core.fold([a.event for a in batch.log]), kind)
            self.assertEqual(batch.last_seq, batch.log[-1].event.seq)

    def test_the_slab_shows_the_last_acts_and_the_page_all(self) -> None:
        for n in range(slab.LOG_SHOWN):
            act = act_of({"id": uuid4(), "kind": "note", "made_at": NOW, "text": f"note {n}"})
            with self.database.session() as session:
                view = slab.record(session, NOW, 4, act)
        self.assertEqual(len(view.timeline), slab.LOG_SHOWN)
        self.assertEqual(view.timeline[-1].text, f"note: note {slab.LOG_SHOWN - 1}")
        self.assertEqual(view.earlier, view.last_seq - slab.LOG_SHOWN)
        with self.database.session() as session:
            self.assertEqual(len(slab.page(session, NOW, 4).view.timeline), view.last_seq)


class Searching(DatabaseTest):
    with_demo = True

    def numbers(self, **wanted: object) -> list[int]:
        with self.database.session() as session:
            found = [line.number for line in batches.search(session, Search(**wanted)).batches]  # type: ignore[arg-type]
        # The demo's recipe and its shelf of years fill the list with batches of their own.
        return [number for number in found if number in (24, 26, 29, 32)]

    def test_each_filter_narrows(self) -> None:
        self.assertEqual(self.numbers(), [32, 29, 26, 24])
        self.assertEqual(self.numbers(words="bone"), [24])
        self.assertEqual(self.numbers(words="26"), [26])
        self.assertEqual(self.numbers(pigment_key="cobalt-green"), [29])
        self.assertEqual(self.numbers(verdict=Verdict.SOFT), [26])
        self.assertEqual(self.numbers(status=Status.OPEN), [32])
        self.assertEqual(self.numbers(until=(NOW - timedelta(days=30)).date()), [24])
        self.assertEqual(self.numbers(since=(NOW - timedelta(days=20)).date()), [32, 29, 26])
        self.assertEqual(self.numbers(words="50% off"), [])
        with self.database.session() as session:
            lot = next(kept for kept in materials.lots(session) if kept.code == "CM-1")
        self.assertEqual(self.numbers(lot_id=lot.id), [26])

    def test_pages_do_not_overlap(self) -> None:
        with self.database.session() as session:
            whole = batches.search(session, Search(limit=50))
            first = batches.search(session, Search(limit=20))
            rest = batches.search(session, Search(limit=20, offset=20))
        self.assertTrue(first.more)
        self.assertFalse(rest.more)
        self.assertEqual([b.number for b in (*first.batches, *rest.batches)], [b.number for b in whole.batches])
        self.assertEqual(sorted(b.number for b in whole.batches), list(range(1, 33)))

    def test_last_time_is_the_last_batch_found_right(self) -> None:
        with self.database.session() as session:
            last = batches.learned(session, ["bone-black"]).last
            self.assertAlmostEqual(last.oil_g_per_100g if last else 0, 100 * 75.9 / 112)
            self.assertIsNone(batches.learned(session, ["caput-mortuum"]).last)

    def test_the_demo_tells_a_correction_and_home_says_what_is_next(self) -> None:
        with self.database.session() as session:
            page = slab.page(session, NOW, 26)
            reasons = " ".join(row.reason for row in page.differences)
            self.assertIn("Powder was added to take up oil", reasons)
            seen = home.home(session, NOW)
        self.assertEqual([open_.batch.number for open_ in seen.on_bench], [32])
        self.assertTrue(seen.on_bench[0].line)
        self.assertEqual([pot.number for pot in seen.open_pots], [9])


class LossLearned(DatabaseTest):
    def test_five_batches_teach_the_loss(self) -> None:
        asked = PlanAsked.model_validate(
            {
                "lines": [{"pigment_key": "bone-black", "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "tubes": [{"tube_type_id": 1, "count": 2}],
            }
        )
        with self.database.session() as session:
            before = plan.compute(session, asked).plan
            for _ in range(5):
                number = slab.take_to_slab(session, NOW, uuid4(), asked)
                for what in (
                    {"kind": "powder", "source": "library-bone-black", "measure": {"amount": 90.0}},
                    {"kind": "oil", "source": "library-linseed-refined", "measure": {"amount": 60.0}},
                    {
                        "kind": "finish",
                        "verdict": "right",
                        "leftover_ml": 1.0,
                        "tubes": [{"tube_type_id": 1, "count": 4}],
                    },
                ):
                    slab.record(session, NOW, number, act_of({"id": uuid4(), "made_at": NOW, **what}))
            after = plan.compute(session, asked).plan
        made = 90 / 2.5 + 60 / 0.93
        loss = next(i for i in after.volume.working.inputs if i.name == "loss")
        self.assertAlmostEqual(float(loss.value), (made - 81 - 1) / made)
        self.assertIn("5 batches", after.volume.working.source)
        self.assertGreater(after.pigment_mass.value, before.pigment_mass.value)
