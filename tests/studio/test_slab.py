"""The session at the slab on the record: kit, loads, by eye, pictures, and what two clients do at once."""

import io
import unittest
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from PIL import Image
from pydantic import ValidationError

from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.measures import Unit
from niddy.core.slab import Kind, SessionPhase, Way
from niddy.core.wetting import Body
from niddy.studio import batches, materials, photos, slab, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import PhotoAsked, SlabView, act_of
from tests.support import NOW, DatabaseTest


def picture(width: int = 900, height: int = 600, kind: str = "JPEG", **what: Any) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#345678").save(out, kind, **what)
    return out.getvalue()


class Session(DatabaseTest):
    """A batch from lots, with a clock that moves on."""

    def begin(self, key: str = "bone-black", **plan: Any) -> None:
        self.clock = NOW
        with self.database.session() as session:
            code = str(uuid4())[:8]
            day = NOW.date()
            self.powder = materials.receive(session, NOW, materials.NewLot("pigment", key, code, day, 500.0))
            self.oil = materials.receive(
                session, NOW, materials.NewLot("oil", "linseed-refined", f"{code}o", day, 900.0)
            )
            asked = {
                "lines": [{"lot_id": self.powder, "parts": 1.0}],
                "oil": {"lot_id": self.oil},
                "reduced_pvc": 0.86,
                "pigment_g": 100.0,
                **plan,
            }
            self.number = slab.take_to_slab(session, NOW, uuid4(), PlanAsked.model_validate(asked))

    def act(self, kind: str, after: float = 0.0, **what: Any) -> SlabView:
        self.clock += timedelta(minutes=after)
        act = act_of({"id": uuid4(), "kind": kind, "made_at": self.clock, **what})
        self.last = act.id
        with self.database.session() as session:
            seen = slab.record(session, self.clock, self.number, act)
            # What is told with an act is put together while it is written; it must be what the next look finds.
            self.assertEqual(seen, slab.view(session, self.clock, self.number))
        return seen

    def left(self, lot_id: int) -> float:
        with self.database.session() as session:
            return materials.on_hand(session, [lot_id])[lot_id]

    def weigh_in(self, grams: float = 100.0) -> SlabView:
        return self.act("powder", source=f"lot-{self.powder}", measure={"amount": grams})

    def pour(self, grams: float) -> SlabView:
        return self.act("oil", source=f"lot-{self.oil}", measure={"amount": grams})


class Kit(Session):
    def test_powder_that_can_harm_waits_for_the_kit(self) -> None:
        self.begin("lead-antimonate-yellow")
        with self.assertRaises(Refused) as caught:
            self.weigh_in()
        self.assertIn("kit", caught.exception.problem)
        seen = self.act("ready")
        self.assertFalse(seen.must_be_ready)
        self.assertIs(seen.phase, SessionPhase.POWDER)
        self.weigh_in()

    def test_harmless_powder_is_asked_but_not_held_back(self) -> None:
        self.begin()
        with self.database.session() as session:
            seen = slab.view(session, NOW, self.number)
        self.assertIs(seen.advice.act, NextAct.READY)
        self.assertFalse(seen.must_be_ready)
        self.assertGreater(self.weigh_in().pigments[0].in_g, 0)


class Muller(Session):
    def wet(self, **plan: Any) -> None:
        self.begin(**plan)
        self.act("ready")
        self.weigh_in()
        self.pour(60)
        self.act("look", stage="wet_curds")

    def test_loads_follow_the_slab_and_the_minutes_the_powder(self) -> None:
        with self.database.session() as session:
            kept = workshop.workshop(session)
        self.wet(slab_id=kept.slabs[0].id, muller_id=kept.mullers[0].id, working="loads")
        seen = self.act("mull")
        # 900 cm2 x 0.6 x 0.4 mm = 21.6 ml a load, for 40 ml of powder and 64.5 ml of oil; medium powder: 8 min.
        self.assertEqual(len(seen.mulling.loads), 5)
        self.assertAlmostEqual(seen.mulling.need_minutes, 8)
        self.assertIs(seen.advice.act, NextAct.MULL_ON)
        seen = self.act("pause", 5)
        self.assertAlmostEqual(seen.mulling.minutes, 5)
        with self.assertRaises(Refused) as caught:
            self.act("mull", load=6)
        self.assertEqual((caught.exception.field, caught.exception.accepted), ("load", "1 to 5"))
        self.assertEqual(seen.timeline[-1].minutes, 5)

    def test_the_gauge_stops_a_load_at_the_plans_target(self) -> None:
        self.wet(target_fineness_um=15.0)
        self.act("mull")
        seen = self.act("fineness", 8, fineness_um=25)
        self.assertEqual(seen.mulling.loads[0].state, "running")
        seen = self.act("fineness", 3, fineness_um=14)
        self.assertEqual((seen.mulling.loads[0].state, seen.mulling.loads[0].fineness_um), ("done", 14))

    def test_minutes_of_the_last_right_batch_stand_beside_this_ones(self) -> None:
        self.wet()
        self.act("mull")
        self.act("load_done", 17, ended_by="silence")
        self.act("look", stage="even_paste", body="tube")
        seen = self.act("finish", verdict="right", leftover_ml=1.0, tubes=[])
        # A finished batch can be opened again by striking its finish, and not be rewritten.
        self.assertEqual([entry.kind for entry in seen.timeline if entry.can_strike], [Kind.FINISH])
        self.begin()
        self.assertAlmostEqual(self.act("ready").last_minutes_per_load or 0, 17)

    def test_a_clock_set_back_is_said_and_costs_no_act(self) -> None:
        self.wet()
        self.act("mull")
        seen = self.act("pause", -90)
        self.assertEqual((seen.mulling.clock_back, seen.mulling.minutes), (1, 0))
        self.act("mull")
        seen = self.act("pause", -5, minutes=6.5)
        self.assertAlmostEqual(seen.mulling.minutes, 6.5)
        self.assertEqual(seen.timeline[-1].text, "muller paused, 6.5 min mulled")

    def test_what_belongs_to_an_act_is_asked_for(self) -> None:
        self.wet()
        self.act("mull")
        for kind, field in (
            ("fineness", "fineness_um"),
            ("load_done", "ended_by"),
            ("phase", "phase"),
            ("bottle", "bottle_g"),
            ("by_eye", "source"),
            ("look", "stage"),
        ):
            with self.subTest(kind), self.assertRaises(ValidationError) as caught:
                self.act(kind)
            self.assertEqual([error["loc"] for error in caught.exception.errors()], [(kind, field)])


class ByEye(Session):
    def test_the_bottle_moves_the_shelf_and_striking_moves_it_back(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.act("bottle", bottle_g=412.0)
        for _ in range(3):
            seen = self.act("by_eye", source=f"lot-{self.oil}")
        tap = self.last
        self.assertEqual((seen.taps_by_eye, seen.ratio, seen.ways), (3, None, ()))
        self.assertAlmostEqual(self.left(self.oil), 900)
        seen = self.act("bottle", bottle_g=346.0)
        weighing = self.last
        self.assertAlmostEqual(seen.ratio.value if seen.ratio else 0, 66)
        self.assertAlmostEqual(self.left(self.oil), 834)
        taps = [entry for entry in seen.timeline if entry.kind is Kind.BY_EYE]
        self.assertEqual([round(entry.grams or 0, 6) for entry in taps], [22.0] * 3)
        self.assertAlmostEqual(taps[0].spread_g or 0, 11 * (2 / 3) ** 0.5)
        seen = self.act("strike", strikes=str(tap))
        self.assertAlmostEqual(self.left(self.oil), 834)
        taps = [entry for entry in seen.timeline if entry.kind is Kind.BY_EYE and not entry.struck]
        self.assertEqual([round(entry.grams or 0, 6) for entry in taps], [33.0] * 2)
        seen = self.act("strike", strikes=str(weighing))
        self.assertAlmostEqual(self.left(self.oil), 900)
        self.assertEqual((seen.taps_by_eye, seen.oil.in_g), (2, 0))

    def test_a_weighing_by_difference_goes_either_way(self) -> None:
        self.begin()
        self.act("ready")
        seen = self.act(
            "powder", source=f"lot-{self.powder}", measure={"unit": "weigh_in", "before_g": -0.02, "after_g": 99.98}
        )
        self.assertAlmostEqual(seen.pigments[0].in_g, 100)
        self.assertIn("balance -0.02 to 99.98 g", seen.timeline[-1].text)
        with self.assertRaises(Refused) as caught:
            self.act("oil", source=f"lot-{self.oil}", measure={"unit": "weigh_in", "before_g": 20.0, "after_g": 20.0})
        self.assertEqual(caught.exception.field, "measure.after_g")


class Looks(Session):
    def test_each_is_matched_with_what_was_expected_and_a_contradiction_is_asked_about(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.pour(68)
        seen = self.act("look", stage="even_paste", body="runs", grit="none", string="long", gloss="glossy")
        look = seen.timeline[-1]
        self.assertEqual(look.text, "looked: even paste, runs, no grit, long string, glossy")
        self.assertEqual((look.expected, look.as_expected), (Body.TUBE, False))
        assert seen.doubt is not None
        self.assertIn("softer than it can be by the log", seen.doubt.says)
        self.assertIs(seen.advice.act, NextAct.DOUBT)
        seen = self.act("answer", answer="believe_eye")
        self.assertIsNone(seen.doubt)
        self.assertIs(seen.advice.act, NextAct.TOO_LOOSE)
        self.assertNotIn(Way.ADD_OIL, [way.way for way in seen.ways])
        self.assertTrue(seen.ways)
        with self.database.session() as session:
            self.assertGreater(batches.batch(session, self.number).paste.widened_sd_ln, 0.05)
        # Looks laid aside widen nothing.
        self.act("strike", strikes=str(self.last))
        seen = self.act("answer", answer="looks_aside")
        self.assertIsNone(seen.doubt)
        with self.database.session() as session:
            self.assertEqual(batches.batch(session, self.number).paste.widened_sd_ln, 0)


class PutBack(Session):
    def test_a_strike_out_struck_puts_its_act_back_where_it_stood_with_its_stock(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        seen = self.pour(50.0)
        pour = self.last
        self.act("look", stage="wet_curds")
        left = self.left(self.oil)
        self.act("strike", strikes=str(pour))
        struck = self.last
        self.assertEqual(self.left(self.oil), left + 50.0)
        seen = self.act("strike", strikes=str(struck))
        self.assertEqual((seen.oil.in_g, self.left(self.oil)), (50.0, left))
        entries = {entry.id: entry for entry in seen.timeline}
        self.assertFalse(entries[pour].struck)
        self.assertTrue(entries[pour].can_strike)
        self.assertIn("put back: Linseed oil, refined", seen.timeline[-1].text)
        self.assertFalse(any(entry.can_restore for entry in seen.timeline))
        with self.assertRaises(Refused):
            self.act("strike", strikes=str(self.last))
        # And out once more.
        seen = self.act("strike", strikes=str(pour))
        self.assertEqual((seen.oil.in_g, self.left(self.oil)), (0.0, left + 50.0))
        self.assertTrue(seen.timeline[-1].can_restore)

    def test_a_finish_struck_out_is_not_put_back(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.pour(60.0)
        self.act("look", stage="even_paste", body="tube")
        self.act("finish", verdict="right", leftover_ml=1.0, tubes=[])
        seen = self.act("strike", strikes=str(self.last))
        self.assertFalse(seen.timeline[-1].can_restore)
        with self.assertRaises(Refused):
            self.act("strike", strikes=str(self.last))


class Stiffened(Session):
    def too_loose(self, **plan: Any) -> SlabView:
        self.begin(**plan)
        self.act("ready")
        self.weigh_in()
        self.pour(78.0)
        self.act("look", stage="wet_curds")
        return self.act("look", stage="even_paste", body="soft")

    def test_yolk_brings_a_paste_back_where_the_plan_holds_with_it(self) -> None:
        seen = self.too_loose(additives=[{"additive_key": "egg-yolk", "dose_pct": 0.5}])
        way = next(way for way in seen.ways if way.way is Way.STABILISE)
        seen = self.act("choose_way", way="stabilise")
        self.assertEqual((seen.advice.act, seen.advice.source), (NextAct.ADDITIVE, "library-egg-yolk"))
        self.assertAlmostEqual(seen.advice.grams or 0, way.portions[0].grams / 2)
        yolk = next(line for line in seen.additives if line.source == "library-egg-yolk")
        self.assertAlmostEqual(yolk.missing_g, way.portions[0].grams)
        seen = self.act("additive", source="library-egg-yolk", measure={"amount": round(way.portions[0].grams, 2)})
        self.assertIsNone(seen.doubt)
        seen = self.act("look", stage="even_paste", body="tube")
        self.assertIs(seen.advice.act, NextAct.RIGHT, seen.advice)
        self.assertIn("chose the way: Stiffen it with egg yolk", [entry.text for entry in seen.timeline])

    def test_what_is_soft_may_be_thickened_and_the_card_says_what_that_costs(self) -> None:
        seen = self.too_loose()
        offered = {way.way: way.says for way in seen.ways}
        powder_and_oil = [Way.ADD_PIGMENT, Way.DRAW_OIL, Way.STIFF_BATCH]
        self.assertEqual(list(offered), [*powder_and_oil, Way.STABILISE, Way.LEAVE])
        self.assertIn("no longer pigment and oil alone", offered[Way.STABILISE])


class PutRight(Session):
    def test_an_amount_in_another_unit_is_found_and_put_right_where_it_stands(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        seen = self.pour(2.1)
        entry = self.last
        assert seen.doubt is not None
        self.assertTrue(seen.doubt.of_entry)
        slip = seen.doubt.slips[0]
        self.assertEqual((seen.doubt.suspect, slip.unit, slip.says), (entry, Unit.OUNCE, "2.1 ounces, not g?"))
        left = self.left(self.oil)
        right = {"unit": slip.unit, "amount": slip.amount}
        seen = self.act("amend", amends=str(entry), measure=right)
        self.assertIsNone(seen.doubt)
        self.assertAlmostEqual(seen.oil.in_g, 2.1 * 28.349523125, 6)
        self.assertAlmostEqual(left - self.left(self.oil), 2.1 * 27.349523125, 4)
        self.assertIn("put right: Linseed oil, refined 59.53 g (2.1 ounces)", seen.timeline[-1].text)
        # Put right once more it counts as put last; struck out, all of it goes back.
        seen = self.act("amend", amends=str(entry), measure={"amount": 60.0})
        self.assertEqual(seen.oil.in_g, 60.0)
        seen = self.act("strike", strikes=str(entry))
        self.assertEqual(seen.oil.in_g, 0.0)
        self.assertAlmostEqual(self.left(self.oil), left + 2.1, 4)

    def test_only_powder_or_oil_that_counts_can_be_put_right(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        look = self.act("look", stage="crumbs").timeline[-1].id
        for amends in (str(look), str(uuid4())):
            with self.assertRaises(Refused) as caught:
                self.act("amend", amends=amends, measure={"amount": 1.0})
            self.assertEqual(caught.exception.field, "amends")

    def test_a_flood_is_asked_about_before_anything_is_weighed_in_against_it(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        seen = self.pour(1_200)
        self.assertIs(seen.advice.act, NextAct.DOUBT)
        assert seen.doubt is not None
        self.assertEqual(seen.doubt.says, "1200 g of oil: no powder like this takes so much.")
        self.assertEqual([slip.unit for slip in seen.doubt.slips], [])
        self.assertEqual((seen.ways, [rung.state for rung in seen.rungs]), ((), ["done"]))
        with self.assertRaises(Refused) as caught:
            self.act("answer", answer="as_entered", about=str(uuid4()))
        self.assertEqual(caught.exception.field, "about")
        seen = self.act("answer", answer="as_entered", about=str(seen.doubt.suspect))
        self.assertIsNot(seen.advice.act, NextAct.DOUBT)

    def test_far_too_much_powder_is_asked_about_at_once_and_far_too_little_as_oil_is_poured(self) -> None:
        self.begin()
        self.act("ready")
        seen = self.act("powder", source=f"lot-{self.powder}", measure={"amount": 1000})
        assert seen.doubt is not None
        self.assertEqual(seen.doubt.slips[0].says, "100 g, ten times less?")
        seen = self.act("amend", amends=str(self.last), measure={"amount": 10.0})
        self.assertIsNotNone(seen.doubt, "put right to another slip, it is asked about again")
        seen = self.act("answer", answer="as_entered", about=str(seen.doubt.suspect))  # type: ignore[union-attr]
        self.assertIsNone(seen.doubt)
        self.begin()
        self.act("ready")
        self.act("powder", source=f"lot-{self.powder}", measure={"amount": 30})
        powder = self.last
        seen = self.act("oil", source=f"lot-{self.oil}", measure={"amount": 15})
        assert seen.doubt is not None
        self.assertEqual(seen.doubt.suspect, powder)
        # The rest of it answers the question as well.
        seen = self.act("powder", source=f"lot-{self.powder}", measure={"amount": 70})
        self.assertIsNone(seen.doubt)

    def test_what_is_asked_about_can_be_undone_and_then_nothing_is_asked(self) -> None:
        self.begin()
        self.act("ready")
        self.act("powder", source=f"lot-{self.powder}", measure={"amount": 1000})
        seen = self.act("strike", strikes=str(self.last))
        self.assertIsNone(seen.doubt)
        self.assertIs(seen.advice.act, NextAct.POWDER)


class Photos(Session):
    def take(self, made: bytes, photo_id: UUID | None = None, text: str = "") -> SlabView:
        with self.database.session() as session:
            asked = PhotoAsked(id=photo_id or uuid4(), made_at=NOW, text=text)
            self.last = asked.id
            return slab.take_photo(session, NOW, self.number, asked, made)

    def test_it_is_scaled_kept_and_on_the_timeline_once(self) -> None:
        self.begin()
        one = uuid4()
        for _ in range(2):
            seen = self.take(picture(4000, 3000), one, "crumbs")
        self.assertEqual([entry.text for entry in seen.timeline], ["picture: crumbs"])
        with self.database.session() as session:
            kept = Image.open(io.BytesIO(photos.jpeg(session, batches.job_of(session, self.number), one)))
        self.assertEqual((kept.size, kept.format), ((1600, 1200), "JPEG"))
        with self.assertRaises(Conflict):
            self.take(picture(), one, "another")

    def test_it_stands_upright_and_forgets_where_it_was_taken(self) -> None:
        self.begin()
        exif = Image.Exif()
        exif[0x0112] = 6  # lying on its side
        exif[0x010F] = "a camera"
        self.take(picture(exif=exif))
        with self.database.session() as session:
            kept = Image.open(io.BytesIO(photos.jpeg(session, batches.job_of(session, self.number), self.last)))
        self.assertEqual(kept.size, (600, 900))
        self.assertEqual(len(kept.getexif()), 0)

    def test_a_huge_or_broken_one_is_refused_and_nothing_is_kept(self) -> None:
        self.begin()
        huge = io.BytesIO()
        Image.new("1", (10_000, 6_000)).save(huge, "PNG")
        whole = picture(kind="PNG")
        for made, problem in (
            (huge.getvalue(), "60 megapixels"),
            (b"", "not a picture"),
            (b"GIF89a" + bytes(40), "not a picture"),
            (whole[: len(whole) // 2], "broken"),
            (b"x" * (photos.MAX_BYTES + 1), "25 MB"),
        ):
            with self.subTest(problem), self.assertRaises(Refused) as caught:
                self.take(made)
            self.assertEqual(caught.exception.field, "picture")
            self.assertIn(problem, caught.exception.problem)
        with self.database.session() as session:
            self.assertEqual(batches.batch(session, self.number).last_seq, 0)
            with self.assertRaises(Missing):
                photos.jpeg(session, batches.job_of(session, self.number), uuid4())

    def test_it_cannot_come_as_a_bare_act(self) -> None:
        self.begin()
        with self.assertRaises(Refused) as caught:
            self.act("photo")
        self.assertEqual(caught.exception.field, "kind")


class TwoClients(Session):
    def test_the_second_to_strike_or_start_is_told_so(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.pour(60)
        pour = str(self.last)
        self.act("look", stage="wet_curds")
        self.act("mull")
        with self.assertRaises(Refused) as caught:
            self.act("mull")
        self.assertIn("runs already", caught.exception.problem)
        self.act("strike", strikes=pour)
        with self.assertRaises(Refused) as caught:
            self.act("strike", strikes=pour)
        self.assertIn("already", caught.exception.problem)
        self.assertAlmostEqual(self.left(self.oil), 900)


class Patches(unittest.TestCase):
    def test_the_colour_at_the_rim_is_that_of_the_rim(self) -> None:
        image = Image.new("RGB", (400, 300), "#ffffff")
        image.paste((40, 60, 80), (0, 0, 30, 300))
        out = io.BytesIO()
        image.save(out, "PNG")
        scaled = photos.scaled(out.getvalue())
        left, far = photos.patch(scaled, 0.0, 0.5), photos.patch(scaled, 1.0, 1.0)
        for seen, wanted in zip(left.rgb, (40, 60, 80), strict=True):
            self.assertAlmostEqual(seen, wanted, delta=4)
        self.assertAlmostEqual(min(far.rgb), 255, delta=2)
        with self.assertRaises(Refused):
            photos.patch(scaled, 1.2, 0.5)
