"""The day on the record: jobs put on it, ticked off by the logs, moved, cleaned after; the calendar."""

from datetime import date, timedelta
from typing import Any
from uuid import UUID, uuid4

from icalendar import Calendar
from sqlalchemy import select

from niddy.core.errors import Refused
from niddy.db.day import SlabCleaning
from niddy.exchange import due_ics
from niddy.studio import day, plan, slab, sludge
from niddy.studio.day import CleanedAsked, DayJobAsked, DayLine, DayView, HoursAsked, JobKind, MinutesAsked, OrderAsked
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from tests.studio.recording import record_can
from tests.support import NOW, DatabaseTest

TODAY = NOW.date()
ASKED: dict[str, Any] = {"oil": {"oil_key": "linseed-refined"}, "reduced_pvc": 0.86, "pigment_g": 30.0}


class Days(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        self.now = NOW

    def keep(self, pigment: str = "mars-yellow", oil: str = "linseed-refined") -> int:
        asked = {**ASKED, "oil": {"oil_key": oil}, "lines": [{"pigment_key": pigment, "parts": 1.0}]}
        return plan.save(self.session, self.now, f"{pigment} for later", PlanAsked.model_validate(asked))

    def put(self, kind: JobKind, ref: int, on: date = TODAY, **what: Any) -> UUID:
        job_id = uuid4()
        day.put(self.session, self.now, on, DayJobAsked(id=job_id, kind=kind, ref=ref, **what))
        return job_id

    def view(self, on: date | None = None, offset: int = 0) -> DayView:
        return day.view(self.session, self.now, on, offset)

    def mine(self, job_id: UUID) -> DayLine:
        seen = self.view()
        every = (*seen.lines, *seen.left_over, *seen.ticked)
        return next(line for line in every if line.job_id == str(job_id))

    def batch_of(self, plan_id: int) -> int:
        asked = plan.saved_plan(self.session, plan_id).asked.model_copy(update={"kept_id": plan_id})
        return slab.take_to_slab(self.session, self.now, uuid4(), asked)

    def act(self, number: int, kind: str, **what: Any) -> None:
        act = slab.act_of({"id": uuid4(), "kind": kind, "made_at": self.now, **what})
        slab.record(self.session, self.now, number, act)

    def dirty(self) -> dict[int | None, bool]:
        """The batches after which a slab is to be cleaned, and whether what is in them must not spread."""
        slabs = slab.slabs_now(self.session, self.now)
        return {one.batch: one.strict for one in slabs if one.surface is slab.Surface.TO_CLEAN}


class PutOn(Days):
    def test_a_day_with_nothing_on_it_says_so(self) -> None:
        seen = self.view(TODAY + timedelta(days=400))
        self.assertEqual((seen.lines, seen.left_over, seen.cleaning.value), ((), (), 0.0))
        self.assertEqual(seen.says, "Nothing is on this day yet.")

    def test_jobs_stand_in_the_order_with_the_least_cleaning_and_hazards_last(self) -> None:
        on = TODAY + timedelta(days=1)
        kinds = ("bone-black", "titanium-white-rutile", "lead-white")
        ids = [str(self.put(JobKind.PLAN, self.keep(kind), on, minutes=40.0)) for kind in kinds]
        seen = self.view(on)
        order = [line.job_id for line in seen.lines if line.job_id]
        self.assertEqual(order, [ids[1], ids[0], ids[2]])
        self.assertTrue(seen.lines[-1].hazard)
        self.assertAlmostEqual(seen.cleaning.value, seen.best_cleaning_min)
        self.assertEqual(len(seen.cleaning.working.inputs), 3)
        self.assertEqual(seen.lines[0].start_min, 540)
        for one, other in zip(seen.lines, seen.lines[1:], strict=False):
            assert one.end_min is not None and other.start_min is not None
            self.assertGreaterEqual(other.start_min, one.end_min + one.cleaning_min - 1e-9)

    def test_twice_with_one_id_is_once_and_it_can_be_taken_off(self) -> None:
        asked = DayJobAsked(id=uuid4(), kind=JobKind.PLAN, ref=self.keep())
        for _ in range(2):
            day.put(self.session, self.now, TODAY, asked)
        mine = [line for line in self.view().lines if line.job_id == str(asked.id)]
        self.assertEqual(len(mine), 1)
        self.assertGreater(mine[0].minutes, 10)
        self.assertEqual(mine[0].minutes_say, "as planned")
        day.set_minutes(self.session, asked.id, MinutesAsked(minutes=33.0))
        self.assertEqual((self.mine(asked.id).minutes, self.mine(asked.id).minutes_say), (33.0, "as you said"))
        day.take_off(self.session, asked.id)
        self.assertNotIn(str(asked.id), [line.job_id for line in self.view().lines])
        with self.assertRaises(Missing):
            day.take_off(self.session, asked.id)

    def test_what_cannot_be_put_on_is_refused(self) -> None:
        for kind, ref, error in (
            (JobKind.PLAN, 99_999, Missing),
            (JobKind.RECIPE, 99_999, Missing),
            (JobKind.FILL, 99_999, Missing),
            (JobKind.STICKS, 99_999, Missing),
            (JobKind.CAKE, 99_999, Missing),
        ):
            with self.subTest(kind), self.assertRaises(error):
                self.put(kind, ref)

    def test_a_job_longer_than_the_day_and_two_hundred_of_them(self) -> None:
        on = TODAY + timedelta(days=2)
        kept = self.keep()
        too_long = self.put(JobKind.PLAN, kept, on, minutes=900.0)
        seen = self.view(on)
        self.assertEqual([line.job_id for line in seen.left_over], [str(too_long)])
        self.assertEqual(seen.left_over[0].says, "longer than any stretch of the day")
        self.assertIn("does not fit", seen.says)
        for _ in range(199):
            self.put(JobKind.PLAN, kept, on, minutes=5.0)
        seen = self.view(on)
        self.assertEqual(len(seen.lines) + len(seen.left_over), 200)
        self.assertGreater(len(seen.lines), 20)
        with self.assertRaises(Refused):
            self.put(JobKind.PLAN, kept, on)

    def test_hours_and_slabs(self) -> None:
        with self.assertRaises(Refused) as refused:
            day.set_hours(self.session, TODAY, HoursAsked(start_min=600, end_min=540))
        self.assertEqual(refused.exception.field, "end_min")
        day.set_hours(self.session, TODAY, HoursAsked(start_min=480, end_min=1_200, slabs=2))
        seen = self.view()
        self.assertEqual((seen.start_min, seen.end_min, seen.slabs, seen.breaks), (480, 1_200, 2, ()))
        following = self.view(TODAY + timedelta(days=1))
        self.assertEqual((following.start_min, following.slabs), (480, 2), "as on the day set last")
        for pigment in ("mars-yellow", "indian-red", "lead-white"):
            self.put(JobKind.PLAN, self.keep(pigment), minutes=60.0)
        slabs = {line.name: line.slab for line in self.view().lines if line.job_id}
        self.assertEqual(slabs["lead-white for later"], 1)
        self.assertEqual({slabs["mars-yellow for later"], slabs["indian-red for later"]}, {0})

    def test_moving_a_job_says_what_it_costs_and_the_best_order_comes_back(self) -> None:
        on = TODAY + timedelta(days=1)
        for pigment in ("titanium-white-rutile", "mars-yellow", "bone-black"):
            self.put(JobKind.PLAN, self.keep(pigment), on, minutes=30.0)
        best = self.view(on)
        keys = [line.key for line in best.lines if line.at_slab]
        seen = day.move(self.session, self.now, on, 0, OrderAsked(order=list(reversed(keys))))
        self.assertTrue(seen.order_by_hand)
        self.assertEqual([line.key for line in seen.lines if line.at_slab], list(reversed(keys)))
        assert seen.moved_min is not None
        self.assertGreater(seen.moved_min, 1)
        self.assertAlmostEqual(seen.cleaning.value - seen.best_cleaning_min, seen.moved_min)
        self.assertIn(f"{seen.moved_min:.0f} min more cleaning than the best", seen.order_says)
        more = self.put(JobKind.PLAN, self.keep("indian-red"), on, minutes=30.0)
        self.assertEqual(self.view(on).lines[-1].job_id, str(more), "what is put on since comes behind")
        back = day.move(self.session, self.now, on, 0, OrderAsked(order=None))
        self.assertFalse(back.order_by_hand)
        self.assertLess(back.moved_min or 0, 0)


class TickedOff(Days):
    def test_a_plan_is_going_once_begun_and_done_once_finished(self) -> None:
        kept = self.keep()
        job_id = self.put(JobKind.PLAN, kept)
        other = self.put(JobKind.PLAN, self.keep("indian-red"))
        self.assertEqual(self.mine(job_id).status, "todo")
        self.now += timedelta(minutes=5)
        number = self.batch_of(kept)
        line = self.mine(job_id)
        self.assertEqual((line.status, line.page, line.batch_number), ("going", f"/slab/{number}", number))
        self.assertEqual(self.mine(other).status, "todo")
        self.act(number, "ready")
        self.act(number, "powder", source="library-mars-yellow", measure={"amount": 30.0})
        self.act(number, "oil", source="library-linseed-refined", measure={"amount": 15.0})
        self.now += timedelta(minutes=40)
        self.act(number, "finish", verdict="right")
        line = self.mine(job_id)
        self.assertEqual((line.status, line.page), ("done", f"/batches/{number}"))
        self.assertAlmostEqual(line.done_min or 0, (10 * 60) + 45)
        seen = self.view()
        self.assertEqual(self.dirty(), {number: False})
        self.assertIn(number, [done.number for done in seen.done if done.room == "slab"])
        self.put(JobKind.FILL, number)
        self.assertIn("fill", [one.what for one in self.view().lines])

    def test_a_plan_thrown_away_since_is_said_and_leads_to_no_missing_page(self) -> None:
        kept = self.keep()
        job_id = self.put(JobKind.PLAN, kept)
        plan.discard(self.session, kept)
        line = self.mine(job_id)
        self.assertEqual(line.page, "/plan")
        self.assertIn("thrown away", line.says)

    def test_what_is_kept_apart_takes_longer_to_clean_up_after(self) -> None:
        plain = self.batch_of(self.keep())
        self.act(plain, "powder", source="library-mars-yellow", measure={"amount": 30.0})
        self.act(plain, "oil", source="library-linseed-refined", measure={"amount": 15.0})
        self.act(plain, "additive", source="library-cobalt-drier", measure={"amount": 0.05})
        self.now += timedelta(minutes=30)
        self.act(plain, "finish", verdict="right")
        self.assertEqual(self.dirty(), {plain: False}, "a drier asks for gloves, not for a slab of its own")
        self.now += timedelta(minutes=5)
        day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=plain))
        kept = self.keep("lead-tin-yellow")
        job_id = self.put(JobKind.PLAN, kept)
        number = self.batch_of(kept)
        self.act(number, "ready")
        self.act(number, "powder", source="library-lead-tin-yellow", measure={"amount": 30.0})
        self.act(number, "oil", source="library-linseed-refined", measure={"amount": 5.0})
        self.assertTrue(self.mine(job_id).hazard)
        self.now += timedelta(minutes=30)
        self.act(number, "finish", verdict="right")
        self.assertEqual(self.dirty(), {number: True})
        self.now += timedelta(minutes=20)
        day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=number))
        expected = self.session.scalar(select(SlabCleaning.expected_min).where(SlabCleaning.batch_number == number))
        self.assertEqual(expected, 30.0, "what was hazardous takes longer to clean up after")

    def test_cleaning_is_noted_once_and_the_day_reckons_with_it(self) -> None:
        kept = self.keep()
        number = self.batch_of(kept)
        self.act(number, "ready")
        self.act(number, "powder", source="library-mars-yellow", measure={"amount": 30.0})
        self.act(number, "oil", source="library-linseed-refined", measure={"amount": 15.0})
        with self.assertRaises(Refused):
            day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=number))
        self.act(number, "finish", verdict="right")
        before = day.pace(self.session)
        self.now += timedelta(minutes=25)
        asked = CleanedAsked(id=uuid4(), batch_number=number)
        self.assertAlmostEqual(day.clean(self.session, self.now, 0, asked), 25.0)
        self.assertAlmostEqual(day.clean(self.session, self.now, 0, asked), 25.0)
        with self.assertRaises(Conflict):
            day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=number))
        after = day.pace(self.session)
        self.assertEqual(after.cleanings, before.cleanings + 1)
        self.assertGreater(after.of(1), before.of(1), "twenty-five minutes where ten were assumed")
        self.assertEqual(self.dirty(), {})
        late = self.batch_of(kept)
        with self.assertRaises(Missing):
            day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=late + 99))
        self.act(late, "ready")
        self.act(late, "powder", source="library-mars-yellow", measure={"amount": 30.0})
        self.act(late, "abandon", text="it set on the slab")
        with self.assertRaises(Refused) as caught:
            day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=late))
        self.assertEqual(caught.exception.field, "minutes", "nobody cleans in no time")
        self.now += timedelta(hours=5)
        self.assertEqual(self.dirty(), {late: False})
        self.assertIsNone(day.clean(self.session, self.now, 0, CleanedAsked(id=uuid4(), batch_number=late)))
        self.assertEqual((self.dirty(), day.pace(self.session)), ({}, after), "clean, and nothing learned of it")


class TheDemosDay(DatabaseTest):
    with_demo = True

    def test_the_demo_has_a_full_day_and_what_falls_due_of_every_room(self) -> None:
        with self.database.session() as session:
            seen = day.view(session, NOW, None, 0)
            every = [*seen.lines, *seen.left_over]
            kinds = {line.kind for line in every}
            self.assertLessEqual({"batch", "plan", "recipe", "fill", "due"}, kinds)
            self.assertIn("going", {line.status for line in seen.lines})
            self.assertTrue(seen.later)
            self.assertTrue(seen.done)
            pages = [line.page for line in every]
            self.assertTrue(any(page.startswith("/shelf") for page in pages))
            self.assertIn("4 cleanings noted", seen.pace_says)
            self.assertNotIn("practice", {line.room for line in seen.done})

    def test_the_makers_clock_decides_what_is_today(self) -> None:
        with self.database.session() as session:
            east = day.view(session, NOW, None, 14 * 60)
            self.assertEqual(east.on_date, (NOW + timedelta(hours=14)).date())
            self.assertEqual(day.view(session, NOW, None, 120).now_min, 12 * 60)

    def test_the_calendar_has_what_is_due_and_the_jobs_at_their_hours(self) -> None:
        with self.database.session() as session:
            entries = day.calendar.entries(session, NOW, 0)
            calendar = Calendar.from_ical(due_ics.dump(entries, NOW, "http://studio").decode())
        events = list(calendar.walk("VEVENT"))
        self.assertEqual(len(events), len(entries))
        jobs = [event for event in events if str(event["uid"]).startswith("day-")]
        self.assertGreaterEqual(len(jobs), 2)
        takes = jobs[0].decoded("dtend") - jobs[0].decoded("dtstart")
        self.assertGreater(takes, timedelta(minutes=5))
        self.assertEqual(len({str(event["uid"]) for event in events}), len(events))

    def test_the_secret_of_the_feed_stays_until_a_new_one_is_asked_for(self) -> None:
        with self.database.session() as session:
            first = day.calendar.secret(session)
            self.assertEqual(day.calendar.secret(session), first)
            self.assertTrue(day.calendar.is_secret(session, first))
            second = day.calendar.secret(session, anew=True)
            self.assertNotEqual(first, second)
            self.assertFalse(day.calendar.is_secret(session, first))
            self.assertFalse(day.calendar.is_secret(session, ""))
            self.assertGreater(len(second), 24)
            session.rollback()


class EveryCraft(Days):
    """From an empty studio any craft can be put on any day; what is begun goes on, and the log ticks it off."""

    def test_something_new_of_every_craft_is_offered_and_stands_on_a_day_to_come(self) -> None:
        on = TODAY + timedelta(days=3)
        new = [one for one in day.offered(self.session, on) if one.kind is JobKind.NEW]
        self.assertEqual(len(new), 7)
        for one in new:
            self.put(JobKind.NEW, one.ref, on)
        seen = self.view(on)
        self.assertEqual({line.name for line in (*seen.lines, *seen.left_over)}, {one.name for one in new})
        self.assertTrue(all(line.page.startswith("/") for line in seen.lines))
        self.assertEqual(len([o for o in day.offered(self.session, on) if o.kind is JobKind.NEW]), 7, "again and again")

    def test_what_is_begun_that_day_ticks_it_off_and_what_was_before_does_not(self) -> None:
        self.batch_of(self.keep())
        self.now += timedelta(minutes=5)
        grind, wash = self.put(JobKind.NEW, 1), self.put(JobKind.NEW, 4)
        self.assertEqual([self.mine(one).status for one in (grind, wash)], ["todo", "todo"])
        self.now += timedelta(minutes=5)
        self.act(self.batch_of(self.keep("raw-sienna")), "ready")
        self.assertEqual([self.mine(one).status for one in (grind, wash)], ["done", "todo"])

    def test_a_can_that_is_begun_is_put_on_and_ticked_off_by_a_washing(self) -> None:
        asked = sludge.CanAsked.model_validate(
            {"request_id": uuid4(), "name": "Grey jar", "solvent_key": "white-spirit", "solvent_ml": 400.0}
        )
        number = sludge.begin_can(self.session, self.now, asked)
        offered = {(one.kind, one.ref) for one in day.offered(self.session, TODAY)}
        self.assertIn((JobKind.CAN, number), offered)
        self.now += timedelta(minutes=1)
        job = self.put(JobKind.CAN, number)
        self.assertEqual((self.mine(job).status, self.mine(job).page), ("todo", f"/sludge/cans/{number}"))
        self.assertNotIn((JobKind.CAN, number), {(one.kind, one.ref) for one in day.offered(self.session, TODAY)})
        self.now += timedelta(minutes=1)
        act = {"id": uuid4(), "made_at": self.now, "kind": "note", "text": "stirred"}
        record_can(self.session, self.now, number, sludge.CANS.acts.act_of(act))
        self.assertEqual(self.mine(job).status, "done")

    def test_what_is_not_begun_or_unknown_is_refused(self) -> None:
        for kind, ref in ((JobKind.RUN, 99_999), (JobKind.CHART, 99_999), (JobKind.NEW, 8)):
            with self.assertRaises(Refused) as refused:
                self.put(kind, ref)
            self.assertEqual(refused.exception.field, "ref")
