"""Who may do what, what proves them, and how long."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from niddy.core import makers as core
from niddy.core.errors import Refused
from niddy.core.makers import By, MakerRole, Reach, Who

NOW = datetime(2026, 6, 18, 10, 0, tzinfo=UTC)


def somebody(role: MakerRole, by: By = By.PASSWORD) -> Who:
    return Who(1, "Ada", "AD", role, by, 7)


class May(unittest.TestCase):
    def test_each_role_reaches_what_it_reaches(self) -> None:
        for reach, owner, maker, looker in (
            (Reach.ANYBODY, True, True, True),
            (Reach.LOOKS, True, True, True),
            (Reach.WORKS, True, True, False),
            (Reach.OWNS, True, False, False),
        ):
            with self.subTest(reach):
                may = [not core.refusal(somebody(role), reach) for role in MakerRole]
                self.assertEqual(may, [owner, maker, looker])

    def test_an_owner_by_pin_is_a_maker_until_the_password(self) -> None:
        by_pin = somebody(MakerRole.OWNER, By.PIN)
        self.assertIn("password", core.refusal(by_pin, Reach.OWNS))
        self.assertEqual(core.refusal(by_pin, Reach.WORKS), "")
        self.assertEqual(core.refusal(replace(by_pin, proved=True), Reach.OWNS), "")
        self.assertEqual(core.refusal(somebody(MakerRole.OWNER, By.PHONE), Reach.OWNS), "")
        self.assertNotEqual(core.refusal(replace(somebody(MakerRole.MAKER, By.PIN), proved=True), Reach.OWNS), "")


class Names(unittest.TestCase):
    def test_names_nobody_can_tell_apart_are_one(self) -> None:
        for one, other in (
            ("Ida", "IDA"),
            ("Ida", "\uff29\uff44\uff41"),
            ("Ida", "\u0406d\u0430"),
            ("Ida", "I\u200bda"),
            ("Ida", "\u0399d\u03b1"),
            ("Ida", " Ida "),
            ("Jose\u0301", "jos\u00e9"),
            ("Stra\u00dfe", "STRASSE"),
            ("\u0412\u0435\u0440\u0430", "\u0432\u0435\u0440\u0430"),
            ("I\u034fda", "ida"),
        ):
            with self.subTest(one=one, other=other):
                self.assertEqual(core.name_key(one), core.name_key(other))
        apart = ("Ida", "Ada", "Idar", "Id a", "\u0418\u0440\u0430", "Ira", "Jos\u00e9", "Jose")
        self.assertEqual(len({core.name_key(name) for name in apart}), len(apart))
        self.assertEqual(core.name_key("\u200b\u200b"), "")

    def test_the_wait_grows_and_ends(self) -> None:
        waits = [core.wait_after(wrong).total_seconds() for wrong in (0, 4, 5, 6, 7, 11, 12, 400)]
        self.assertEqual(waits, [0, 0, 10, 20, 40, 640, 900, 900])


class Proofs(unittest.TestCase):
    def test_passwords(self) -> None:
        self.assertEqual(core.password("umber and linseed", "Ada"), "umber and linseed")
        for given in ("short", "x" * 201, "aaaaaaaaaaaa", "Ada Marsh Ada", "\u0410da Marsh Ada", "1234567890"):
            with self.subTest(given[:20]), self.assertRaises(Refused) as refused:
                core.password(given, "ada marsh ada")
            self.assertEqual(refused.exception.field, "password")
            if len(given) >= core.LEAST_PASSWORD:
                self.assertNotIn(given, refused.exception.accepted + refused.exception.problem)

    def test_pins(self) -> None:
        for good in ("2580", "19283746", "1357"):
            self.assertEqual(core.pin(good), good)
        for bad in ("", "123", "1234", "4321", "0000", "123456789", "12a4", "٣٤٥٩", " 2580"):
            with self.subTest(bad), self.assertRaises(Refused):
                core.pin(bad)

    def test_initials(self) -> None:
        for name, said in (("Ada", "AD"), ("Ada Marsh", "AM"), ("x", "X"), ("Jo van der Beek", "JVD"), ("...", "")):
            self.assertEqual(core.initials_of(name), said)


class HowLong(unittest.TestCase):
    def test_a_device_stays_thirty_days_after_it_was_used(self) -> None:
        for began, seen, good in (
            (-100, -29, True),
            (-100, -31, False),
            (0, 0, True),
            (0.5, 0.5, True),
            (3, 3, False),
            (-1, 2, False),
        ):
            with self.subTest(began=began, seen=seen):
                self.assertEqual(core.still_good(NOW + timedelta(days=began), NOW + timedelta(days=seen), NOW), good)

    def test_a_code_lasts_two_minutes_and_works_once(self) -> None:
        later = NOW + timedelta(seconds=119)
        self.assertEqual(core.pairing_refusal(NOW, None, later), "")
        self.assertIn("used", core.pairing_refusal(NOW, later, later))
        self.assertIn("two minutes", core.pairing_refusal(NOW, None, NOW + timedelta(seconds=121)))
        self.assertIn("clock", core.pairing_refusal(NOW, None, NOW - timedelta(seconds=1)))
