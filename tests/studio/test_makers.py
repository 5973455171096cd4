"""Makers on a real database: signing in, PINs, phones, removing, and who did what."""

from dataclasses import replace
from datetime import timedelta

from pydantic import SecretStr
from sqlalchemy import text

from niddy.core.errors import Refused
from niddy.core.makers import PIN_TRIES, By, MakerRole
from niddy.db.engine import AT_WORK
from niddy.studio import labels, makers, workshop
from niddy.studio.errors import Missing
from niddy.studio.makers import MakerAsked, NewMaker
from tests.support import NOW, DatabaseTest

PASSWORD = "umber and linseed"


def asked(name: str, role: MakerRole = MakerRole.MAKER) -> NewMaker:
    return NewMaker(name=name, role=role, password=SecretStr(PASSWORD))


class Makers(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        with self.database.session() as session:
            for step in ("update act set maker_id = null", "delete from maker_change", "delete from maker"):
                session.execute(text(step))
            self.owner = makers.add(session, NOW, asked("Ada Marsh", MakerRole.OWNER))
            self.maker = makers.add(session, NOW, asked("Bo"))

    def token(self, name: str = "Ada Marsh", *, shared: bool = False) -> str:
        with self.database.session() as session:
            return makers.sign_in(session, NOW, name, PASSWORD, "tablet", shared=shared).token

    def test_a_name_and_its_password_sign_in_and_nothing_says_which_was_wrong(self) -> None:
        said = set()
        for name, password in (("Ada Marsh", "umber and poppy"), ("Nobody", PASSWORD), ("Bo", "")):
            with self.database.session() as session, self.assertRaises(Refused) as refused:
                makers.sign_in(session, NOW, name, password, "", shared=False)
            said.add((refused.exception.field, refused.exception.problem, refused.exception.accepted))
        self.assertEqual(len(said), 1)
        token = self.token("ada MARSH")
        with self.database.session() as session:
            who = makers.who(session, NOW, token)
            self.assertEqual(
                (who and who.name, who and who.role, who and who.by), ("Ada Marsh", MakerRole.OWNER, By.PASSWORD)
            )
            self.assertIsNone(makers.who(session, NOW, token + "x"))
            self.assertIsNone(makers.who(session, NOW + timedelta(days=31), token))
            self.assertIsNone(makers.who(session, NOW - timedelta(days=2), token))
            kept = session.scalars(text("select password_hash from maker_credential")).all()
            self.assertTrue(all(one.startswith("$argon2id$") for one in kept))
            self.assertNotIn(token, str(session.execute(text("select * from maker_session")).all()))

    def test_a_removed_maker_is_out_on_every_device_and_stays_on_what_they_made(self) -> None:
        token = self.token("Bo")
        with self.database.session() as session:
            makers.remove(session, NOW, self.maker)
            self.assertIsNone(makers.who(session, NOW, token))
            kept = text("select initials from maker where id = :id")
            self.assertEqual(session.scalar(kept, {"id": self.maker}), "BO")
            self.assertEqual([one.name for one in makers.list_makers(session)], ["Ada Marsh"])
            with self.assertRaises(Refused):
                makers.sign_in(session, NOW, "Bo", PASSWORD, "", shared=False)
            makers.add(session, NOW, asked("Bo"))

    def test_the_last_owner_stays_and_a_name_is_one_maker_s(self) -> None:
        with self.database.session() as session:
            for act in (
                lambda: makers.remove(session, NOW, self.owner),
                lambda: makers.change(session, self.owner, MakerAsked(name="Ada", role=MakerRole.MAKER)),
                lambda: makers.change(session, self.owner, MakerAsked(name="bo", role=MakerRole.OWNER)),
                lambda: makers.add(session, NOW, asked("BO")),
            ):
                self.assertRaises(Refused, act)
            self.assertRaises(Missing, makers.remove, session, NOW, 999)
            makers.add(session, NOW, asked("Cy", MakerRole.OWNER))
            makers.remove(session, NOW, self.owner)

    def test_a_shared_device_is_handed_over_by_pin_and_locks_after_five_wrong(self) -> None:
        with self.database.session() as session:
            makers.set_pin(session, self.maker, "2580", PASSWORD)
            self.assertRaises(Refused, makers.set_pin, session, self.maker, "1357", "not it at all")
        alone, shared = self.token(), self.token(shared=True)
        with self.database.session() as session:
            one, other = makers.who(session, NOW, alone), makers.who(session, NOW, shared)
            assert one is not None and other is not None
            self.assertRaises(Refused, makers.switch, session, NOW, one.session_id, self.maker, "2580")
            self.assertEqual([found.ready for found in makers.others_here(session, other.session_id) or ()], [True])
            self.assertIsNone(makers.switch(session, NOW, other.session_id, self.maker, "2580"))
            now = makers.who(session, NOW, shared)
            self.assertEqual((now and now.name, now and now.by), ("Bo", By.PIN))
            with self.assertRaises(Refused):
                makers.switch(session, NOW, other.session_id, self.owner, "2580")
            makers.set_pin(session, self.owner, "1937", PASSWORD)
            self.assertIsNone(makers.switch(session, NOW, other.session_id, self.owner, "1937"))
            by_pin = makers.who(session, NOW, shared)
            assert by_pin is not None
            self.assertEqual({found.maker for found in makers.devices(session, NOW, by_pin)}, {"Ada Marsh"})
        other_tablet = self.token(shared=True)
        for turn in range(10):
            with self.database.session() as session:
                who = makers.who(session, NOW, other_tablet)
                assert who is not None
                said = makers.switch(session, NOW, who.session_id, self.maker, "9999")
                self.assertIn("locked" if turn >= PIN_TRIES else "not that maker's", said or "")
        with self.database.session() as session:
            self.assertIn("locked", makers.switch(session, NOW, who.session_id, self.maker, "2580") or "")
            self.assertEqual([found.ready for found in makers.others_here(session, who.session_id) or ()], [False])
        self.token("Bo")
        with self.database.session() as session:
            self.assertIsNone(makers.switch(session, NOW, who.session_id, self.maker, "2580"))

    def test_a_phone_comes_in_by_a_code_once(self) -> None:
        with self.database.session() as session:
            first = makers.new_pairing(session, NOW, self.maker)
            code = makers.new_pairing(session, NOW, self.maker)
        for token, at in ((first, NOW), (code, NOW + timedelta(minutes=3)), ("nonsense", NOW)):
            with self.database.session() as session, self.assertRaises(Refused):
                makers.pair(session, at, token, "phone")
        with self.database.session() as session:
            signed = makers.pair(session, NOW + timedelta(seconds=60), code, "phone")
            who = makers.who(session, NOW, signed.token)
            self.assertEqual((who and who.name, who and who.by), ("Bo", By.PHONE))
        with self.database.session() as session, self.assertRaises(Refused):
            makers.pair(session, NOW + timedelta(seconds=61), code, "another phone")

    def test_devices_are_seen_and_ended(self) -> None:
        mine, theirs = self.token(), self.token("Bo")
        with self.database.session() as session:
            ada, bo = makers.who(session, NOW, mine), makers.who(session, NOW, theirs)
            assert ada is not None and bo is not None
            self.assertEqual({one.maker for one in makers.devices(session, NOW, ada)}, {"Ada Marsh", "Bo"})
            self.assertEqual([one.here for one in makers.devices(session, NOW, bo)], [True])
            self.assertRaises(Missing, makers.end, session, NOW, ada.session_id, bo)
            makers.end(session, NOW, bo.session_id, ada)
            self.assertIsNone(makers.who(session, NOW, theirs))
            self.assertRaises(Missing, makers.end, session, NOW, bo.session_id, ada)

    def test_what_is_written_carries_whoever_is_at_work(self) -> None:
        wrote = text(
            "insert into act (id, job_id, seq, kind, payload, facts, made_at, recorded_at) select gen_random_uuid(),"
            " id, last_seq + 100, 'note', '{}', '{}', :now, :now from job where room = 'slab' and number = 32"
            " returning maker_id"
        )
        at_work = AT_WORK.set(self.maker)
        try:
            with self.database.session() as session:
                self.assertEqual(session.execute(wrote, {"now": NOW}).scalar_one(), self.maker)
                makers.note_change(session, NOW + timedelta(minutes=1), self.maker, "Change a slab", "/x")
        finally:
            AT_WORK.reset(at_work)
        with self.database.session() as session:
            done = makers.done_by(session, None, None)
            self.assertEqual([(one.initials, one.acts) for one in done], [("BO", 0), ("BO", 1)])
            self.assertIn("batch 32", done[1].what)
            self.assertEqual(len(makers.done_by(session, self.maker, NOW + timedelta(seconds=1))), 1)
            self.assertEqual(makers.done_by(session, self.owner, None), ())

    def test_at_the_terminal_an_owner_gets_a_new_password_and_old_devices_are_out(self) -> None:
        token = self.token("Bo")
        with self.database.session() as session:
            self.assertFalse(makers.make_owner(session, NOW, "bo", "another long one"))
            self.assertIsNone(makers.who(session, NOW, token))
            signed = makers.sign_in(session, NOW, "Bo", "another long one", "", shared=False)
            who = makers.who(session, NOW, signed.token)
            self.assertEqual(who and who.role, MakerRole.OWNER)
            self.assertTrue(makers.make_owner(session, NOW, "Dee", "another long one"))

    def test_initials_stand_on_labels_where_the_studio_wants_them(self) -> None:
        with self.database.session() as session:
            item, batch = session.execute(
                text("select id, batch_number from shelf_item where batch_number is not null order by id limit 1")
            ).one()
            given = text(
                "update act set maker_id = :maker where job_id = (select job_id from batch where number = :of)"
            )
            session.execute(given, {"maker": self.maker, "of": batch})
            self.assertEqual(makers.made_by(session, [batch]), {batch: "BO"})
            self.assertNotIn("BO", labels.texts(session, [item])[0].made_on)
            workshop.change_settings(session, replace(workshop.settings(session), initials_on_labels=True))
            self.assertTrue(labels.texts(session, [item])[0].made_on.endswith(", BO"))
            self.assertEqual(set(makers.of_log(session, "slab", batch).values()), {"BO"})
