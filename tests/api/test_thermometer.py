"""The thermometer: its lines read, its stand-in, its live degrees and its loss."""

import json
import unittest

from niddy.core.thermometer import ThermometerState, read_line
from niddy.devices.stand_in import Probe
from tests.support import ServerTest, StandIn


class Lines(unittest.TestCase):
    def test_degrees_in_either_unit(self) -> None:
        for line, degrees in (
            ("temperature=83.4 C", 83.4),
            (" temperature=-2 C\r", -2.0),
            ("temperature=212 F", 100.0),
            ("temperature=+400.0 C", 400.0),
            ("temperature=-40 C", -40.0),
        ):
            read = read_line(line)
            self.assertEqual((read.temperature_c, read.state), (degrees, ThermometerState.READS))

    def test_what_is_no_reading_says_so(self) -> None:
        for line in ("temperature=hot", "83.4", "", "temperature=83.4 K", "temperature=400.1 C", "temperature=-41 C"):
            read = read_line(line)
            self.assertIsNone(read.temperature_c)
            self.assertIs(read.state, ThermometerState.GARBAGE)
            self.assertTrue(read.says)


class StandInProbe(unittest.TestCase):
    def test_the_pot_follows_the_heat_and_the_probe_the_pot(self) -> None:
        now = 0.0
        probe = Probe(clock=lambda: now)
        probe.line()
        probe.heat_c = 90.0
        shown = []
        for _ in range(30):
            now += 10
            probe.tick()
            shown.append(probe.shown_c)
        self.assertEqual(shown, sorted(shown))
        self.assertAlmostEqual(shown[-1], 90, delta=0.5)
        self.assertLess(shown[0], 45)
        self.assertEqual(probe.line(), f"temperature={probe.shown_c:.1f} C")


class Thermometer(ServerTest):
    def setUp(self) -> None:
        self.devices = StandIn()
        self.addCleanup(self.devices.stop)
        self.kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=self.kept)))

    def test_live_degrees_and_a_lost_cable(self) -> None:
        self.refused(self.client.get("/api/thermometer/live"), "thermometer_port")
        self.ok(self.client.put("/api/workshop/settings", json=self.devices.settings(self.kept)))
        self.devices.warm(at_once_c=84.0)
        with self.client.stream("GET", "/api/thermometer/live", timeout=20) as stream:
            lines = stream.iter_lines()

            def until(degrees: float | None) -> str:
                for _ in range(400):
                    line = next(lines)
                    if line.startswith("data: {"):
                        reading = json.loads(line[6:])
                        if reading["temperature_c"] == degrees:
                            return str(reading["says"])
                raise AssertionError("never said")

            self.assertEqual(until(84.0), "")
            self.devices.warm(at_once_c=92.5)
            until(92.5)
            self.devices.warm(cable=False)
            self.assertIn("thermometer", until(None))
            self.devices.warm(cable=True)
            until(92.5)
