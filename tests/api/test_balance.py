"""The balance over HTTP: a stand-in on a wire, read live, tared, and all that can ail it."""

import json
import random
import unittest
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from niddy.devices.stand_in import CAPACITY_G, Pan
from tests.support import ServerTest, StandIn

Reading = dict[str, Any]


class ThePan(unittest.TestCase):
    def pan(self, **what: Any) -> Pan:
        self.now = 0.0
        pan = Pan(clock=lambda: self.now, chance=random.Random(1), noise_g=0.0, **what)
        pan.line()
        return pan

    def line(self, pan: Pan, after_s: float) -> str:
        self.now += after_s
        return pan.line()

    def test_it_settles_on_what_lies_on_it(self) -> None:
        pan = self.pan(settle_s=0.5)
        pan.put(20)
        self.assertIn("moving", self.line(pan, 0.2))
        self.assertEqual(self.line(pan, 10), "weight=20.00 g; steady")
        pan.put(-50)
        self.assertEqual(self.line(pan, 10), "weight=0.00 g; steady")

    def test_tare_drift_overload_and_a_stuck_key(self) -> None:
        pan = self.pan(settle_s=0.0, drift_g_per_min=0.6)
        pan.put(10)
        self.line(pan, 0)
        pan.tare()
        self.assertEqual(self.line(pan, 60), "weight=0.60 g; steady")
        pan.put(CAPACITY_G)
        self.assertEqual(self.line(pan, 1), "weight=over; full")
        pan.put(-CAPACITY_G)
        pan.drift_g_per_min, pan.tare_stuck = 0.0, True
        shown = self.line(pan, 1)
        pan.tare()
        self.assertEqual(self.line(pan, 1), shown)

    def test_noise_never_lets_it_rest(self) -> None:
        pan = self.pan(settle_s=0.0)
        pan.noise_g = 0.2
        self.assertTrue(all("moving" in self.line(pan, 0.1) for _ in range(20)))


class Balance(ServerTest):
    def setUp(self) -> None:
        self.balance = StandIn()
        self.addCleanup(self.balance.stop)
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.ok(self.client.put("/api/workshop/settings", json=self.balance.settings(kept)))

    @contextmanager
    def live(self) -> Iterator[Callable[[Callable[[Reading], bool]], Reading]]:
        with self.client.stream("GET", "/api/balance/live", timeout=20) as stream:
            self.assertEqual(stream.status_code, 200)
            lines = stream.iter_lines()

            def until(wanted: Callable[[Reading], bool]) -> Reading:
                for _ in range(500):
                    line = next(lines)
                    if line.startswith("data: {"):
                        reading: Reading = json.loads(line[6:])
                        if wanted(reading):
                            return reading
                raise AssertionError("never said")

            yield until

    def test_the_live_weight_follows_the_pan(self) -> None:
        with self.live() as until:
            until(lambda r: r["state"] == "steady")
            self.balance.set(put_g=12.3)
            self.assertEqual(until(lambda r: r["state"] == "steady" and r["weight_g"] > 1)["weight_g"], 12.3)
            self.balance.set(unit="lb")
            self.assertIn("'lb'", until(lambda r: r["state"] == "wrong_unit")["says"])
            self.balance.set(unit="g", garbage=True)
            self.assertIn("Not understood", until(lambda r: r["state"] == "garbage")["says"])
            self.balance.set(garbage=False, put_g=5_000)
            until(lambda r: r["state"] == "overload")
            self.balance.set(put_g=-5_000)
            until(lambda r: r["state"] == "steady")
            self.balance.set(put_g=200)
            self.balance.set(cable=False)
            self.assertIn("cable", until(lambda r: r["state"] == "gone")["says"])
            self.balance.set(cable=True)
            until(lambda r: r["state"] == "steady" and abs(r["weight_g"] - 212.3) < 0.005)

    def test_tare_is_waited_for_and_a_stuck_key_is_said(self) -> None:
        self.balance.set(put_g=31.2)
        told = self.ok(self.client.post("/api/balance/tare"))
        self.assertEqual((told["tared"], told["says"]), (True, ""))
        self.balance.set(tare_stuck=True, put_g=8)
        told = self.ok(self.client.post("/api/balance/tare"))
        self.assertFalse(told["tared"])
        self.assertIn("8.00 g", told["says"])
        self.balance.set(cable=False)
        told = self.ok(self.client.post("/api/balance/tare"))
        self.assertFalse(told["tared"])
        self.assertIn("cable", told["says"])

    def test_two_windows_read_one_port(self) -> None:
        with self.live() as one, self.live() as two:
            self.balance.set(put_g=7)
            for until in (one, two):
                until(lambda r: r["state"] == "steady" and r["weight_g"] == 7)


class Settings(ServerTest):
    def test_without_a_port_nothing_is_read(self) -> None:
        self.refused(self.client.get("/api/balance/live"), "balance_port")
        self.refused(self.client.post("/api/balance/tare"), "balance_port")

    def test_a_port_elsewhere_a_bad_pattern_and_a_strange_rate_are_refused(self) -> None:
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        for field, value in (
            ("balance_port", "socket://example.org:80"),
            ("balance_port", "spy:///dev/ttyUSB0?file=/tmp/x"),
            ("balance_pattern", "(?P<mass>x)"),
            ("balance_pattern", "("),
            ("balance_baud", 12),
            ("balance_unit", "lb"),
            ("scrape_interval_min", 61.0),
        ):
            with self.subTest(field, value=value):
                self.refused(self.client.put("/api/workshop/settings", json={**kept, field: value}), field)
        self.assertEqual(self.ok(self.client.get("/api/workshop"))["settings"], kept)
