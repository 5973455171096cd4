"""Jobs and logs in the record: begun once, logged once, struck and brought back, kept in shapes that change."""

import copy
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import text, update
from sqlalchemy.exc import IntegrityError

from niddy.core import documents
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.studio import batches, due, jobs, log, outputs
from niddy.studio.batches import kept
from niddy.studio.errors import Conflict
from tests.studio.test_slab import Session as AtSlab
from tests.support import NOW, DatabaseTest


class Logs(DatabaseTest):
    def setUp(self) -> None:
        super().setUp()
        self.session = self.enterContext(self.database.session())
        self.request = uuid4()
        self.job = self.begin().job_id

    def begin(self, **asked: Any) -> jobs.Begun:
        return jobs.begin_job(self.session, "rubout", NOW, self.request, "Viridian", asked)

    def act(self, kind: str = "note", act_id: UUID | None = None, strikes: UUID | None = None) -> log.Entry:
        new = log.New(act_id or uuid4(), kind, NOW, {"text": kind}, {}, strikes)
        return log.strike(self.session, NOW, self.job, new) if strikes else log.log(self.session, NOW, self.job, new)

    def test_one_request_begins_one_job(self) -> None:
        again = self.begin()
        self.assertEqual((again.job_id, again.anew), (self.job, False))
        with self.assertRaises(Conflict):
            self.begin(pigment_g=5)
        self.assertEqual(log.by_request(self.session, "rubout", self.request), self.job)
        self.assertIsNone(log.by_request(self.session, "slab", self.request))

    def test_acts_stand_in_the_order_they_came_and_each_once(self) -> None:
        first, second = self.act(), self.act("oil")
        self.assertEqual([one.seq for one in log.entries(self.session, self.job)], [1, 2])
        self.assertEqual([one.id for one in log.entries(self.session, self.job, last=1)], [second.id])
        self.assertEqual([one.id for one in log.entries(self.session, self.job, before=2)], [first.id])
        self.assertEqual([one.id for one in log.of_kind(self.session, self.job, "oil")], [second.id])
        self.assertTrue(log.known(self.session, self.job, first.id, "note", {"text": "note"}))
        self.assertFalse(log.known(self.session, self.job, uuid4(), "note", {}))
        for kind, payload in (("oil", {"text": "note"}), ("note", {"text": "other"})):
            with self.assertRaises(Conflict):
                log.known(self.session, self.job, first.id, kind, payload)

    def test_a_strike_takes_out_once_and_striking_it_brings_back(self) -> None:
        act = self.act()
        strike = self.act("strike", strikes=act.id)
        self.assertEqual([one.struck for one in log.entries(self.session, self.job)], [True, False])
        with self.assertRaises(Refused):
            self.act("strike", strikes=act.id)
        with self.assertRaises(Refused):
            self.act("strike", strikes=uuid4())
        self.act("strike", strikes=strike.id)
        self.assertEqual([one.struck for one in log.entries(self.session, self.job)], [False, True, False])

    def test_a_job_ends_and_is_taken_up_again(self) -> None:
        log.append(self.session, NOW, self.job, log.New(uuid4(), "end", NOW, {}, {}), 1, status=Status.FINISHED)
        row = self.session.execute(text("select status, ended_at, last_seq from job where id = :id"), {"id": self.job})
        self.assertEqual(tuple(row.one()), ("finished", NOW, 1))
        log.note_end(self.session, NOW, self.job, Status.OPEN)
        row = self.session.execute(text("select status, ended_at from job where id = :id"), {"id": self.job})
        self.assertEqual(tuple(row.one()), ("open", None))

    def test_the_database_refuses_nonsense(self) -> None:
        act = self.act()
        for statement in (
            "update job set status = 'lost'",
            "update job set last_seq = -1",
            "update job set room = 'attic'",
            "update job set ended_at = now()",
            "update act set seq = 0",
            "update act set strikes = gen_random_uuid()",
            "insert into output (job_id, amount, at) select id, 1, now() from job",
            f"insert into act select gen_random_uuid(), job_id, seq, kind, payload, facts, null, made_at, made_at"
            f" from act where id = '{act.id}'",
        ):
            with self.subTest(statement), self.assertRaises(IntegrityError), self.session.begin_nested():
                self.session.execute(text(statement))

    def test_outputs_say_what_was_made_of_what(self) -> None:
        self.assertEqual(outputs.of_jobs(self.session, [self.job]), ())
        named = outputs.jobs_named(self.session, [self.job])[self.job]
        self.assertEqual((named.room, named.name), ("rubout", "Viridian"))


class Shapes(AtSlab):
    """What is kept as JSON opens in whichever shape it was kept."""

    def test_a_paste_of_another_shape_is_folded_anew(self) -> None:
        self.begin()
        self.act("ready")
        self.weigh_in()
        before = self.act("oil", source=f"lot-{self.oil}", measure={"amount": 30.0})
        with self.database.session() as session:
            job = table_of(Job)
            job_id = batches.job_of(session, self.number)
            session.execute(update(job).where(job.c.id == job_id).values(state={"of": "old"}, state_version=0))
        with self.database.session() as session:
            self.assertEqual(batches.batch(session, self.number, 0).paste.oil_g, before.oil.in_g)
            self.assertEqual(batches.freshen(session), 1)
            self.assertEqual(batches.freshen(session), 0)
        self.assertEqual(self.act("note", text="on").oil.in_g, before.oil.in_g)

    def test_a_plan_of_an_older_shape_goes_up_step_by_step(self) -> None:
        steps = {0: lambda was: {**was, "one": 1}, 1: lambda was: {**was, "two": was["one"] + 1}}
        document = {"name": "Viridian"}
        kept_so = copy.deepcopy(document)
        self.assertEqual(documents.upgraded(document, 0, 2, steps), {"name": "Viridian", "one": 1, "two": 2})
        self.assertEqual(document, kept_so)
        self.assertEqual(documents.upgraded(document, 2, 2, steps), document)
        for version, to in ((3, 2), (0, 4)):
            with self.assertRaises(LookupError):
                documents.upgraded(document, version, to, steps)
        self.assertEqual(sorted(kept.PLAN_STEPS), list(range(kept.PLAN_VERSION))[1:])


class Calendar(DatabaseTest):
    with_demo = True

    def test_every_room_that_waits_is_in_it_in_order(self) -> None:
        with self.database.session() as session:
            told = due.everything(session, NOW)
        self.assertEqual(list(told), sorted(told, key=lambda one: (one.at, one.room, one.key)))
        self.assertEqual(len({(one.room, one.key, one.at) for one in told}), len(told))
        self.assertTrue({"checks", "shelf"} <= {one.room for one in told}, {one.room for one in told})
        self.assertTrue(all(one.at <= NOW + due.AHEAD for one in told))
