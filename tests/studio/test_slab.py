"""The session at the slab on the record: kit, loads, by eye, pictures, and what two clients do at once."""

import io
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from PIL import Image

from niddy.core.advice import NextAct
from niddy.core.errors import Refused
from niddy.core.slab import Kind, SessionPhase
from niddy.core.wetting import Body
from niddy.studio import batches, materials, photos, slab, workshop
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from niddy.studio.slab import Act, PhotoAsked, SlabView
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
                "lines": [{"lot_id": self.powder, "parts": 1.0}], "oil": {"lot_id": self.oil}, "reduced_pvc": 0.86,
                "pigment_g": 100.0, **plan,
            }  # fmt: skip
            self.number = slab.take_to_slab(session, NOW, uuid4(), PlanAsked.model_validate(asked))

    def act(self, kind: str, after: float = 0.0, **what: Any) -> SlabView:
        self.clock += timedelta(minutes=after)
        act = Act.model_validate({"id": uuid4(), "kind": kind, "made_at": self.clock, **what})
        self.last = act.id
        with self.database.session() as session:
            return slab.record(session, self.clock, self.number, act)

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
        self.wet(slab_id=kept.slabs[0].id, muller_id=kept.mullers[0].id)
        seen = self.act("mull")
        # 900 cm2 x 0.6 x 0.4 mm = 21.6 ml a load, for 40 ml of powder and 64.5 ml of oil; medium powder: 2 x 8 min.
        self.assertEqual(len(seen.mulling.loads), 5)
        self.assertAlmostEqual(seen.mulling.need_minutes, 16)
        self.assertIs(seen.advice.act, NextAct.MULL_ON)
        seen = self.act("pause", 5)
        self.assertAlmostEqual(seen.mulling.minutes, 5)
        with self.assertRaises(Refused) as caught:
            self.act("mull", load=6)
        self.assertEqual((caught.exception.field, caught.exception.accepted), ("load", "1 to 5"))

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
        self.act("finish", verdict="right", leftover_ml=1.0, tubes=[])
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
            ("fineness", "fineness_um"), ("load_done", "ended_by"), ("phase", "phase"), ("bottle", "bottle_g"),
            ("by_eye", "source"), ("look", "stage"),
        ):  # fmt: skip
            with self.subTest(kind), self.assertRaises(Refused) as caught:
                self.act(kind)
            self.assertEqual(caught.exception.field, field)
            self.assertTrue(caught.exception.accepted)


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
    def test_each_is_matched_with_what_was_expected_and_repeated_mismatch_is_said(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.pour(68)
        seen = self.act("look", stage="even_paste", body="runs", grit="none", string="long", gloss="glossy")
        look = seen.timeline[-1]
        self.assertEqual(look.text, "looked: even paste, runs, no grit, long string, glossy")
        self.assertEqual((look.expected, look.as_expected), (Body.TUBE, False))
        self.assertEqual(seen.doubt, "")
        seen = self.act("look", stage="even_paste", body="runs")
        self.assertIn("2 looks running it was softer", seen.doubt)


class Photos(Session):
    def take(self, made: bytes, photo_id: UUID | None = None, text: str = "") -> SlabView:
        with self.database.session() as session:
            asked = PhotoAsked(photo_id or uuid4(), NOW, text)
            self.last = asked.id
            return slab.take_photo(session, NOW, self.number, asked, made)

    def test_it_is_scaled_kept_and_on_the_timeline_once(self) -> None:
        self.begin()
        one = uuid4()
        for _ in range(2):
            seen = self.take(picture(4000, 3000), one, "crumbs")
        self.assertEqual([entry.text for entry in seen.timeline], ["picture: crumbs"])
        with self.database.session() as session:
            kept = Image.open(io.BytesIO(photos.jpeg(session, self.number, one)))
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
            kept = Image.open(io.BytesIO(photos.jpeg(session, self.number, self.last)))
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
                photos.jpeg(session, self.number, uuid4())

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
