"""Making on the web: a run's acts and pictures at their addresses, and the pH meter with its stand-in."""

import io
import json
import unittest
from uuid import uuid4

from PIL import Image

from niddy.core.ph_meter import PhMeterState, read_line
from niddy.devices.stand_in import Electrode
from tests.support import NOW, ServerTest, StandIn


class Lines(unittest.TestCase):
    def test_a_reading_and_what_is_none(self) -> None:
        for line, ph in (("ph=7.24", 7.24), (" ph=14\r", 14.0), ("ph=0.0", 0.0)):
            self.assertEqual((read_line(line).ph, read_line(line).state), (ph, PhMeterState.READS))
        for line in ("ph=14.2", "ph=-1", "7.2", "", "ph=sour"):
            self.assertEqual((read_line(line).ph, read_line(line).state), (None, PhMeterState.GARBAGE))
            self.assertTrue(read_line(line).says)

    def test_the_electrode_follows(self) -> None:
        now = 0.0
        electrode = Electrode(clock=lambda: now)
        electrode.line()
        electrode.ph = 4.0
        shown = []
        for _ in range(12):
            now += 1.0
            shown.append(float(electrode.line().removeprefix("ph=")))
        self.assertEqual(shown, sorted(shown, reverse=True))
        self.assertAlmostEqual(shown[-1], 4.0, delta=0.05)


class Runs(ServerTest):
    def test_begun_acted_on_photographed_and_read(self) -> None:
        process = {
            "name": f"Web {uuid4().hex[:6]}",
            "steps": [{"kind": "own", "says": "Stir"}],
            "ingredients": [{"name": "Chalk", "parts_g": 20.0, "formula": "CaCO3"}],
        }
        made = self.ok(self.client.post("/api/making/processes", json=process))
        runs = f"/api/making/processes/{made['id']}/runs"
        self.refused(self.client.post(runs, json={"request_id": str(uuid4()), "on_hand": {"0": -3}}), "on_hand.0")
        number = self.ok(self.client.post(runs, json={"request_id": str(uuid4())}))["number"]
        at = {"made_at": NOW.isoformat()}
        acts = f"/api/making/runs/{number}/acts"
        seen = self.ok(self.client.post(acts, json={"id": str(uuid4()), **at, "kind": "ph", "ph": 6.6}))
        self.assertEqual(seen["ph"]["readings"][0]["ph"], 6.6)
        self.refused(self.client.post(acts, json={"id": str(uuid4()), **at, "kind": "ph", "ph": 15.0}), "ph")
        self.refused(self.client.post(acts, json={"id": str(uuid4()), **at, "kind": "boiled"}), "kind")
        picture, out = uuid4(), io.BytesIO()
        Image.new("RGB", (40, 30), "#3f8f6d").save(out, "PNG")
        photos = f"/api/making/runs/{number}/photos/{picture}"
        sent = self.client.post(photos, params=at, content=out.getvalue(), headers={"content-type": "image/png"})
        self.assertTrue(self.ok(sent)["timeline"][0]["photo"])
        self.assertEqual(self.client.get(f"{photos}.jpg").headers["content-type"], "image/jpeg")
        self.assertEqual(self.client.get("/api/making/runs/99999").status_code, 404)
        self.assertEqual(self.ok(self.client.get(f"/api/making/runs/{number}/cost"))["missing"], [])
        self.assertIn("entries", self.ok(self.client.get("/api/making/waste")))


class Meter(ServerTest):
    def test_live_ph_beside_a_run_and_a_lost_cable(self) -> None:
        devices = StandIn()
        self.addCleanup(devices.stop)
        kept = self.ok(self.client.get("/api/workshop"))["settings"]
        self.addCleanup(lambda: self.ok(self.client.put("/api/workshop/settings", json=kept)))
        self.refused(self.client.get("/api/ph-meter/live"), "ph_port")
        self.ok(self.client.put("/api/workshop/settings", json=devices.settings(kept)))
        devices.sour(ph=4.5, at_once=True)
        with self.client.stream("GET", "/api/ph-meter/live", timeout=20) as stream:
            lines = stream.iter_lines()

            def until(ph: float | None) -> str:
                for _ in range(400):
                    line = next(lines)
                    if line.startswith("data: {"):
                        reading = json.loads(line[6:])
                        if reading["ph"] == ph:
                            return str(reading["says"])
                raise AssertionError("never said")

            self.assertEqual(until(4.5), "")
            devices.sour(ph=7.2, at_once=True)
            until(7.2)
            devices.sour(cable=False)
            self.assertIn("pH meter", until(None))
