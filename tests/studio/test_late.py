"""Acts of a device that was away while another finished the batch: kept, then taken in or left out."""

from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from niddy.core.errors import Refused
from niddy.core.slab import Kind, Status
from niddy.studio import batches, home, rubout, slab
from niddy.studio.errors import Conflict, Missing
from niddy.studio.slab import SlabView, act_of
from tests.studio.test_slab import Session, picture
from tests.support import NOW


class CameLate(Session):
    def setUp(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        self.pour(58.0)
        self.act("look", stage="even_paste", body="tube")
        self.act("finish", 5, verdict="right", tubes=[], leftover_ml=50.0)

    def late(self, kind: str = "oil", before: float = 3.0, *, waited: bool = True, **what: Any) -> UUID:
        if kind == "oil":
            what = {"source": f"lot-{self.oil}", "measure": {"amount": 4.0}, **what}
        made = self.clock - timedelta(minutes=before)
        self.sent = act_of({"id": uuid4(), "kind": kind, "made_at": made, "waited": waited, **what})
        with self.database.session() as session:
            self.view = slab.record(session, self.clock, self.number, self.sent)
        return self.sent.id

    def decide(self, act_id: UUID, *, take_in: bool, words: str = "") -> SlabView:
        with self.database.session() as session:
            return slab.decide_late(session, self.clock, self.number, act_id, take_in=take_in, words=words)

    def test_it_is_kept_and_changes_nothing_until_decided(self) -> None:
        act_id = self.late()
        self.assertEqual(self.view.oil.in_g, 58.0)
        self.assertEqual([(one.id, one.can_take) for one in self.view.late], [(act_id, True)])
        self.assertIn("poured (4 g)", self.view.late[0].text)
        self.assertEqual(self.left(self.oil), 842.0)
        with self.database.session() as session:
            slab.record(session, self.clock, self.number, self.sent)
            waits = home.home(session, NOW).came_late
            self.assertIn((self.number, 1), [(one.number, one.acts) for one in waits])
            with self.assertRaises(Conflict):
                slab.record(session, self.clock, self.number, self.sent.model_copy(update={"source": "another"}))

    def test_taken_in_it_counts_in_paste_stock_and_demand(self) -> None:
        with self.database.session() as session:
            before = rubout.pigment_page(session, "bone-black")
        taught = next(r for r in before.records if r.lot_id == self.powder).oil_absorption_g_per_100g
        act_id = self.late()
        seen = self.decide(act_id, take_in=True)
        self.assertEqual((seen.oil.in_g, seen.status, seen.late), (62.0, Status.FINISHED, ()))
        self.assertEqual(self.left(self.oil), 838.0)
        self.assertIn("came late", seen.timeline[-1].text)
        self.assertEqual(seen.timeline[-1].id, act_id)
        with self.database.session() as session:
            after = rubout.pigment_page(session, "bone-black")
            line = batches.line(session, self.number)
        self.assertEqual((line.oil_g, line.leftover_ml), (62.0, 50.0))
        self.assertGreater(next(r for r in after.records if r.lot_id == self.powder).oil_absorption_g_per_100g, taught)
        # Decided again the same way it changes nothing; the other way it is refused.
        self.assertEqual(self.decide(act_id, take_in=True).oil.in_g, 62.0)
        with self.assertRaises(Conflict):
            self.decide(act_id, take_in=False, words="no")

    def test_left_out_it_leaves_a_note_with_the_words(self) -> None:
        act_id = self.late()
        with self.assertRaises(Refused) as caught:
            self.decide(act_id, take_in=False, words=" ")
        self.assertEqual(caught.exception.field, "words")
        seen = self.decide(act_id, take_in=False, words="logged on the tablet too")
        self.assertEqual((seen.oil.in_g, seen.late), (58.0, ()))
        self.assertIn("left out: Linseed oil", seen.timeline[-1].text)
        self.assertIn("logged on the tablet too", seen.timeline[-1].text)

    def test_a_strike_out_can_come_late_and_a_finish_can_only_be_left(self) -> None:
        pour = next(one for one in self.view_now().timeline if one.kind is Kind.OIL)
        strike = self.late("strike", strikes=str(pour.id))
        self.assertEqual(self.decide(strike, take_in=True).oil.in_g, 0.0)
        finish = self.late("finish", verdict="soft", tubes=[], leftover_ml=1.0)
        self.assertFalse(self.view.late[0].can_take)
        with self.assertRaises(Refused):
            self.decide(finish, take_in=True)
        self.decide(finish, take_in=False, words="the tablet's counts")

    def view_now(self) -> SlabView:
        with self.database.session() as session:
            return slab.view(session, self.clock, self.number)

    def test_what_is_made_now_on_a_finished_batch_is_refused_and_what_was_made_before_is_kept(self) -> None:
        with self.assertRaises(Refused):
            self.late(before=-1.0, waited=False)
        self.late(before=2.0, waited=False)
        self.assertEqual(len(self.view.late), 1)
        with self.assertRaises(Missing):
            self.decide(uuid4(), take_in=True)

    def test_a_picture_of_a_finished_batch_is_kept_at_once(self) -> None:
        with self.database.session() as session:
            asked = slab.PhotoAsked(id=uuid4(), made_at=self.clock, text="on the rack")
            seen = slab.take_photo(session, self.clock, self.number, asked, picture())
        self.assertEqual(seen.timeline[-1].text, "picture: on the rack")
