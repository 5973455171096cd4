"""Who may do what, what proves them, and how long."""

import unittest
from datetime import UTC, datetime, timedelta

from niddy.core import makers as core
from niddy.core.errors import Refused
from niddy.core.makers import By, MakerRole, Who

NOW = datetime(2026, 6, 18, 10, 0, tzinfo=UTC)


def somebody(role: MakerRole, by: By = By.PASSWORD) -> Who:
    return Who(1, "Ada", "AD", role, by, 7)


class May(unittest.TestCase):
    def test_each_role_may_what_it_may(self) -> None:
        for method, path, owner, maker, looker in (
            ("GET", "/api/slab/3", True, True, True),
            ("POST", "/api/slab/3/acts", True, True, False),
            ("POST", "/api/plan", True, True, True),
            ("POST", "/api/plan/take-to-slab", True, True, False),
            ("POST", "/api/plan/saved", True, True, False),
            ("POST", "/api/tubes/labels.pdf", True, True, True),
            ("POST", "/api/calc/pours", True, True, True),
            ("DELETE", "/api/recipes/2", True, True, False),
            ("POST", "/api/recipes/2/again", True, True, True),
            ("PUT", "/api/workshop/settings", True, False, False),
            ("GET", "/api/workshop", True, True, True),
            ("POST", "/api/makers", True, False, False),
            ("PUT", "/api/makers/2", True, False, False),
            ("PUT", "/api/makers/2/password", True, False, False),
            ("PUT", "/api/makers/me/password", True, True, True),
            ("PUT", "/api/makers/me/pin", True, True, True),
            ("DELETE", "/api/makers/sessions/4", True, True, True),
            ("POST", "/api/makers/sign-out", True, True, True),
            ("POST", "/api/makers/pairing", True, True, True),
            ("POST", "/api/makers/pair", True, True, True),
            ("POST", "/api/makers/sign-in", True, True, True),
            ("GET", "/api/package", True, False, False),
            ("POST", "/api/package/look", True, False, False),
        ):  # fmt: skip
            with self.subTest(method=method, path=path):
                may = [not core.refusal(somebody(role), method, path) for role in MakerRole]
                self.assertEqual(may, [owner, maker, looker])

    def test_an_owner_by_pin_is_a_maker_until_the_password(self) -> None:
        self.assertIn("password", core.refusal(somebody(MakerRole.OWNER, By.PIN), "PUT", "/api/workshop/settings"))
        self.assertIn("password", core.refusal(somebody(MakerRole.OWNER, By.PIN), "GET", "/api/package"))
        self.assertEqual(core.refusal(somebody(MakerRole.OWNER, By.PIN), "POST", "/api/slab/3/acts"), "")
        self.assertEqual(core.refusal(somebody(MakerRole.OWNER, By.PHONE), "PUT", "/api/workshop/settings"), "")


class Proofs(unittest.TestCase):
    def test_passwords(self) -> None:
        self.assertEqual(core.password("umber and linseed", "Ada"), "umber and linseed")
        for given in ("short", "x" * 201, "aaaaaaaaaaaa", "Ada Marsh Ada", "1234567890"):
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
            (-100, -29, True), (-100, -31, False), (0, 0, True), (0.5, 0.5, True), (3, 3, False), (-1, 2, False),
        ):  # fmt: skip
            with self.subTest(began=began, seen=seen):
                self.assertEqual(core.still_good(NOW + timedelta(days=began), NOW + timedelta(days=seen), NOW), good)

    def test_a_code_lasts_two_minutes_and_works_once(self) -> None:
        later = NOW + timedelta(seconds=119)
        self.assertEqual(core.pairing_refusal(NOW, None, later), "")
        self.assertIn("used", core.pairing_refusal(NOW, later, later))
        self.assertIn("two minutes", core.pairing_refusal(NOW, None, NOW + timedelta(seconds=121)))
        self.assertIn("clock", core.pairing_refusal(NOW, None, NOW - timedelta(seconds=1)))
