"""Makers on a real database: signing in, PINs, phones, removing, and who did what."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import timedelta
from threading import Lock
from time import sleep
from unittest import mock
from unittest.mock import Mock

from pydantic import SecretStr
from sqlalchemy import text

from niddy.core.errors import Refused
from niddy.core.makers import PIN_TRIES, By, MakerRole, Who
from niddy.db.engine import AT_WORK
from niddy.studio import labels, makers, workshop
from niddy.studio.errors import Missing
from niddy.studio.makers import MakerAsked, NewMaker, proving
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
        self.owner = makers.add(self.database, NOW, asked("Ada Marsh", MakerRole.OWNER))
        self.maker = makers.add(self.database, NOW, asked("Bo"))

    def token(self, name: str = "Ada Marsh", *, shared: bool = False) -> str:
        return makers.sign_in(self.database, NOW, name, PASSWORD, "tablet", shared=shared).token

    def who(self, token: str) -> Who:
        with self.database.session() as session:
            who = makers.who(session, NOW, token)
        assert who is not None
        return who

    def switch(self, who: Who, maker_id: int, pin: str) -> str | None:
        return makers.switch(self.database, NOW, who.session_id, maker_id, pin)

    def ready(self, who: Who) -> list[bool]:
        with self.database.session() as session:
            return [found.ready for found in makers.others_here(session, who.session_id) or ()]

    def test_a_name_and_its_password_sign_in_and_nothing_says_which_was_wrong(self) -> None:
        said = set()
        for name, password in (("Ada Marsh", "umber and poppy"), ("Nobody", PASSWORD), ("Bo", "")):
            with self.assertRaises(Refused) as refused:
                makers.sign_in(self.database, NOW, name, password, "", shared=False)
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
            makers.sign_in(self.database, NOW, "Bo", PASSWORD, "", shared=False)
        makers.add(self.database, NOW, asked("Bo"))

    def test_the_last_owner_stays_and_a_name_is_one_maker_s(self) -> None:
        with self.database.session() as session:
            for act in (
                lambda: makers.remove(session, NOW, self.owner),
                lambda: makers.change(session, self.owner, MakerAsked(name="Ada", role=MakerRole.MAKER)),
                lambda: makers.change(session, self.owner, MakerAsked(name="bo", role=MakerRole.OWNER)),
            ):
                self.assertRaises(Refused, act)
            self.assertRaises(Missing, makers.remove, session, NOW, 999)
        for name in ("BO", "\uff22\uff4f", "B\u043e", "B\u200bo", "\u200b"):
            with self.subTest(name), self.assertRaises(Refused) as refused:
                makers.add(self.database, NOW, asked(name))
            self.assertEqual(refused.exception.field, "name")
        makers.add(self.database, NOW, asked("Cy", MakerRole.OWNER))
        with self.database.session() as session:
            makers.remove(session, NOW, self.owner)

    def test_a_shared_device_is_handed_over_by_pin_and_locks_after_five_wrong(self) -> None:
        makers.set_pin(self.database, self.maker, "2580", PASSWORD)
        self.assertRaises(Refused, makers.set_pin, self.database, self.maker, "1357", "not it at all")
        alone, shared = self.token(), self.token(shared=True)
        one, other = self.who(alone), self.who(shared)
        self.assertRaises(Refused, self.switch, one, self.maker, "2580")
        self.assertEqual(self.ready(other), [True])
        self.assertIsNone(self.switch(other, self.maker, "2580"))
        self.assertEqual((self.who(shared).name, self.who(shared).by), ("Bo", By.PIN))
        self.assertRaises(Refused, self.switch, other, self.owner, "2580")
        makers.set_pin(self.database, self.owner, "1937", PASSWORD)
        self.assertIsNone(self.switch(other, self.owner, "1937"))
        with self.database.session() as session:
            seen = makers.devices(session, NOW, self.who(shared))
        self.assertEqual({found.maker for found in seen}, {"Ada Marsh"})
        tablet = self.who(self.token(shared=True))
        for turn in range(10):
            said = self.switch(tablet, self.maker, "9999")
            self.assertIn("locked" if turn >= PIN_TRIES else "not that maker's", said or "")
        self.assertIn("locked", self.switch(tablet, self.maker, "2580") or "")
        self.assertEqual(self.ready(tablet), [False])
        self.token("Bo")
        self.assertIsNone(self.switch(tablet, self.maker, "2580"))

    def test_forty_pins_at_once_are_no_more_than_five_tries(self) -> None:
        makers.set_pin(self.database, self.maker, "2580", PASSWORD)
        tablet = self.who(self.token(shared=True))

        def guess(n: int) -> str | None:
            try:
                return self.switch(tablet, self.maker, f"{1000 + n * 13}")
            except makers.Busy:
                return "busy"

        with ThreadPoolExecutor(20) as pool:
            said = list(pool.map(guess, range(40)))
        self.assertLessEqual(sum("not that" in (one or "") for one in said), PIN_TRIES)

    def test_an_owner_by_pin_owns_for_ten_minutes_after_the_password(self) -> None:
        makers.set_pin(self.database, self.owner, "1937", PASSWORD)
        tablet = self.token("Bo", shared=True)
        self.assertIsNone(self.switch(self.who(tablet), self.owner, "1937"))
        who = self.who(tablet)
        self.assertFalse(who.owns)
        with self.assertRaises(Refused):
            makers.prove(self.database, NOW, who.session_id, who.maker_id, "not it at all")
        makers.prove(self.database, NOW, who.session_id, who.maker_id, PASSWORD)
        self.assertTrue(self.who(tablet).owns)
        with self.database.session() as session:
            later = makers.who(session, NOW + timedelta(minutes=11), tablet)
        self.assertFalse(later is None or later.owns)
        makers.set_pin(self.database, self.maker, "2580", PASSWORD)
        self.switch(who, self.maker, "2580")
        self.switch(who, self.owner, "1937")
        self.assertFalse(self.who(tablet).owns)

    def test_no_session_is_open_and_few_hash_while_a_password_is_looked_at(self) -> None:
        open_now, hashing, most = [], [0], [0]
        lock, real = Lock(), proving.HASHER.verify

        def verify(kept: str, given: str) -> bool:
            with lock:
                hashing[0] += 1
                most[0] = max(most[0], hashing[0])
            open_now.append(self.database.engine.pool.checkedout())  # type: ignore[attr-defined]
            sleep(0.02)
            with lock:
                hashing[0] -= 1
            return bool(real(kept, given))

        def attempt(_: int) -> str:
            try:
                makers.sign_in(self.database, NOW, "Bo", "not it at all", "", shared=False)
            except Refused:
                return "refused"
            except makers.Busy:
                return "busy"
            return "in"

        slow = Mock(verify=verify)
        with mock.patch.object(proving, "HASHER", slow), ThreadPoolExecutor(30) as pool:
            said = list(pool.map(attempt, range(30)))
        self.assertEqual(set(said), {"refused", "busy"})
        self.assertLessEqual(most[0], proving.AT_ONCE)
        self.assertEqual(min(open_now), 0)
        with mock.patch.object(proving, "HASHER", slow):
            open_now.clear()
            attempt(0)
        self.assertEqual(open_now, [0])

    def test_a_device_is_known_for_whom_it_signed_in_and_for_nobody_else(self) -> None:
        signed = makers.sign_in(self.database, NOW, "Bo", PASSWORD, "", shared=False)
        with self.database.session() as session:
            self.assertTrue(makers.knows(session, signed.device_token, "bo"))
            self.assertFalse(makers.knows(session, signed.device_token, "Ada Marsh"))
            self.assertFalse(makers.knows(session, "", "bo"))
            self.assertFalse(makers.knows(session, signed.token, "bo"))
        again = makers.sign_in(
            self.database, NOW, "Ada Marsh", PASSWORD, "", shared=False, device_token=signed.device_token
        )
        self.assertEqual(again.device_token, signed.device_token)
        with self.database.session() as session:
            self.assertTrue(makers.knows(session, signed.device_token, "Ada Marsh"))

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
        self.assertFalse(makers.make_owner(self.database, NOW, "bo", "another long one"))
        with self.database.session() as session:
            self.assertIsNone(makers.who(session, NOW, token))
        signed = makers.sign_in(self.database, NOW, "Bo", "another long one", "", shared=False)
        self.assertEqual(self.who(signed.token).role, MakerRole.OWNER)
        self.assertTrue(makers.make_owner(self.database, NOW, "Dee", "another long one"))

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
