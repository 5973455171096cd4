"""Signing in over HTTP: what is asked on a network, cookies, roles at every address, words for every refusal."""

import os
import re
import subprocess
import sys
from typing import Any
from unittest import mock

import httpx
from fastapi import FastAPI
from pydantic import SecretStr
from sqlalchemy.exc import OperationalError

from niddy.api import create_app, guard
from niddy.api import makers as web
from niddy.core.makers import REMEMBERS_NOTHING, MakerRole
from niddy.db import Database
from niddy.operations.cluster import free_port
from niddy.settings import ROOT, Settings
from niddy.studio import makers
from niddy.studio.makers import NewMaker
from tests.support import NOW, TODAY, ServerTest, now_iso, wait_for

PASSWORD = "umber and linseed"


def typed(path: str) -> dict[str, str]:
    """The content type an address wants."""
    wanted = next((kinds for pattern, kinds in guard.CONTENT if pattern.fullmatch(path)), ("application/json",))
    return {"content-type": wanted[0]}


class Alone(ServerTest):
    with_demo = True

    def test_on_this_machine_alone_nothing_is_asked(self) -> None:
        here = self.ok(self.client.get("/api/makers/here"))
        self.assertEqual((here["asked"], here["me"], here["owner_exists"]), (False, None, False))
        self.ok(self.client.get("/api/home"))
        self.assertEqual(self.client.post("/api/makers/pairing").status_code, 422)


class OnTheNetwork(ServerTest):
    with_demo = True
    host = "bench.test"
    signs_in = False

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        with cls.database.session() as session:
            for name, role in (("Ada", MakerRole.OWNER), ("Bo", MakerRole.MAKER), ("Lu", MakerRole.LOOKER)):
                makers.add(session, NOW, NewMaker(name=name, role=role, password=SecretStr(PASSWORD)))

    def setUp(self) -> None:
        web._TRIES.storage.reset()

    def as_(self, name: str, **more: Any) -> httpx.Client:
        client = httpx.Client(base_url=self.base, timeout=20)
        self.addCleanup(client.close)
        said = {"name": name, "password": PASSWORD, **more}
        answer = client.post("/api/makers/sign-in", json=said)
        self.assertEqual(answer.status_code, 204, answer.text)
        cookie = answer.headers["set-cookie"]
        self.assertIn("HttpOnly", cookie)
        self.assertIn("SameSite=strict", cookie)
        return client

    def test_nobody_reads_or_writes_who_is_not_signed_in(self) -> None:
        described = self.as_("Ada").get("/api/openapi.json").json()["paths"]
        free = {"/api/health", "/api/makers/here", "/api/makers/sign-in", "/api/makers/pair"}
        for path, operations in described.items():
            filled = re.sub(r"\{on\}", "2026-06-18", re.sub(r"\{(?!on)\w+\}", "1", path))
            if path in free or path.startswith(("/api/day/feed/", "/api/swap/schemas/")):
                continue
            for method in operations:
                with self.subTest(method=method, path=path):
                    answer = self.client.request(method, filled, headers=typed(filled))
                    self.assertEqual(answer.status_code, 401, answer.text)
        self.assertEqual(self.client.get("/", headers={"cookie": "niddy_session=x"}).status_code in (200, 503), True)
        self.assertTrue(self.ok(self.client.get("/api/makers/here"))["asked"])

    def test_a_looker_changes_nothing_anywhere(self) -> None:
        looker = self.as_("Lu")
        described = looker.get("/api/openapi.json").json()["paths"]
        own = re.compile(r"/api/makers/(?:sign-.*|switch|pair|pairing|shared|me/.*|sessions/.*)")
        for path, operations in described.items():
            filled = re.sub(r"\{on\}", "2026-06-18", re.sub(r"\{(?!on)\w+\}", "1", path))
            for method in set(operations) - {"get"}:
                if REMEMBERS_NOTHING.fullmatch(filled) or own.fullmatch(filled):
                    continue
                with self.subTest(method=method, path=path):
                    answer = looker.request(method, filled, content=b"{}", headers=typed(filled))
                    self.assertEqual(answer.status_code, 403, answer.text)
                    self.assertTrue(answer.json()["errors"][0]["problem"])
        self.ok(looker.get("/api/home"))
        self.ok(looker.get("/api/slab/32"))

    def test_an_act_and_a_change_carry_who_made_them(self) -> None:
        bo, ada = self.as_("Bo"), self.as_("Ada")
        act = {"id": "5f1c7c60-3f0e-4a53-8a5c-0d3a4f6a7b01", "kind": "note", "made_at": now_iso(), "text": "warm hands"}
        self.ok(bo.post("/api/slab/32/acts", json=act))
        self.ok(ada.post("/api/workshop/slabs", json={"name": "Slate", "area_cm2": 600.0, "tooth": "fair"}))
        done = self.ok(ada.get("/api/makers/doing"))
        self.assertIn(("BO", 1), [(one["initials"], one["acts"]) for one in done if "batch 32" in one["what"]])
        self.assertIn(("AD", "Add a slab"), [(one["initials"], one["what"]) for one in done])
        self.assertEqual(self.ok(bo.get("/api/makers/log/slab/32")), {act["id"]: "BO"})
        refused = bo.post("/api/workshop/slabs", json={"name": "Other", "area_cm2": 600.0, "tooth": "fair"})
        self.assertIn("owner", refused.json()["errors"][0]["problem"])

    def test_wrong_tries_are_counted_and_the_right_one_waits_with_them(self) -> None:
        for _ in range(5):
            wrong = self.client.post("/api/makers/sign-in", json={"name": "Ada", "password": "not it at all"})
            self.refused(wrong, "name")
        for password in ("not it at all", PASSWORD):
            answer = self.client.post("/api/makers/sign-in", json={"name": "Ada", "password": password})
            self.refused(answer, "name", 429)
            self.assertEqual(answer.headers["retry-after"], "60")
        self.as_("Bo")

    def test_a_shared_tablet_changes_hands_and_a_wrong_pin_ten_times_locks(self) -> None:
        bo = self.as_("Bo")
        me = self.ok(bo.get("/api/makers/here"))["me"]["id"]
        self.refused(bo.put("/api/makers/me/pin", json={"pin": "1234", "password": PASSWORD}), "pin")
        self.refused(bo.put("/api/makers/me/pin", json={"pin": "2580", "password": "not it at all"}), "password")
        self.assertEqual(bo.put("/api/makers/me/pin", json={"pin": "2580", "password": PASSWORD}).status_code, 204)
        tablet = self.as_("Ada", shared=True, device="tablet")
        self.assertEqual([one["name"] for one in self.ok(tablet.get("/api/makers/here"))["others"]], ["Bo", "Lu"])
        self.assertEqual(tablet.post("/api/makers/switch", json={"maker_id": me, "pin": "2580"}).status_code, 204)
        self.assertEqual(self.ok(tablet.get("/api/makers/here"))["me"]["by"], "pin")
        self.assertEqual(tablet.post("/api/makers/pairing").status_code, 422)
        tablet = self.as_("Ada", shared=True)
        said = [self.refused(tablet.post("/api/makers/switch", json={"maker_id": me, "pin": "9999"}), "pin")["problem"]
                for _ in range(10)]  # fmt: skip
        self.assertIn("not that maker's", said[0])
        self.assertIn("locked", said[-1])
        self.assertEqual(self.ok(tablet.get("/api/makers/here"))["me"]["name"], "Ada")

    def test_a_phone_is_paired_by_what_stands_behind_the_number_sign(self) -> None:
        bo = self.as_("Bo")
        made = self.ok(bo.post("/api/makers/pairing"))
        self.assertTrue(made["picture"].startswith("data:image/svg+xml"))
        address, _, token = made["address"].partition("#")
        self.assertTrue(address.startswith("http://bench.test:") and address.endswith("/pair"))
        phone = httpx.Client(base_url=self.base, timeout=20)
        self.addCleanup(phone.close)
        self.assertEqual(phone.post("/api/makers/pair", json={"token": token, "device": "phone"}).status_code, 204)
        self.assertEqual(self.ok(phone.get("/api/makers/here"))["me"]["name"], "Bo")
        self.refused(self.client.post("/api/makers/pair", json={"token": token}), "token")
        devices = {one["device"]: one for one in self.ok(bo.get("/api/makers/sessions"))}
        self.ok(bo.delete(f"/api/makers/sessions/{devices['phone']['id']}"))
        self.assertEqual(phone.get("/api/home").status_code, 401)

    def test_a_removed_maker_is_told_to_sign_in_and_an_open_stream_ends(self) -> None:
        ada = self.as_("Ada")
        kept = self.ok(ada.post("/api/makers", json={"name": "Cy", "role": "maker", "password": PASSWORD}))
        cy_id = next(one["id"] for one in kept if one["name"] == "Cy")
        cy = self.as_("Cy")
        with mock.patch("niddy.api.guard.LOOK_AGAIN_S", 0.1), cy.stream("GET", "/api/slab/32/follow") as stream:
            lines = stream.iter_lines()
            next(lines)
            self.ok(ada.delete(f"/api/makers/{cy_id}"))
            with self.assertRaises((httpx.RemoteProtocolError, StopIteration)):
                while True:
                    next(lines)
        answer = cy.get("/api/home")
        self.assertEqual((answer.status_code, answer.json()["title"]), (401, "Sign in first; nothing is lost"))

    def test_a_database_that_does_not_answer_is_said_so_and_not_as_signed_out(self) -> None:
        bo = self.as_("Bo")
        away = OperationalError("", {}, Exception("gone"))
        with mock.patch("niddy.studio.makers.who", side_effect=away):
            answer = bo.get("/api/home")
        self.assertEqual((answer.status_code, answer.headers["retry-after"]), (503, "2"))
        self.ok(bo.get("/api/home"))

    def test_bad_input_is_refused_at_its_field(self) -> None:
        ada = self.as_("Ada")
        for path, body, field in (
            ("/api/makers", {"name": "ada", "role": "maker", "password": PASSWORD}, "name"),
            ("/api/makers", {"name": "Di", "role": "king", "password": PASSWORD}, "role"),
            ("/api/makers", {"name": "Di", "role": "maker", "password": "short"}, "password"),
            ("/api/makers", {"name": "", "role": "maker", "password": PASSWORD}, "name"),
            ("/api/makers", {"name": "D\x00i", "role": "maker", "password": PASSWORD}, "name"),
            ("/api/makers/switch", {"maker_id": 1, "pin": "2580"}, "maker_id"),
            ("/api/makers/pair", {"token": "x" * 90}, "token"),
        ):
            with self.subTest(path=path, body=body):
                answer = ada.post(path, json=body)
                self.refused(answer, field)
                self.assertNotIn(PASSWORD, answer.text)
        self.refused(ada.put("/api/makers/me/password", json={"old": "no", "password": PASSWORD}), "old")
        self.assertEqual(ada.delete("/api/makers/999").status_code, 404)

    def test_signing_out_ends_it(self) -> None:
        bo = self.as_("Bo")
        cookie = bo.cookies["niddy_session"]
        self.assertEqual(bo.post("/api/makers/sign-out").status_code, 204)
        again = self.client.get("/api/home", headers={"cookie": f"niddy_session={cookie}"})
        self.assertEqual(again.status_code, 401)


class TwoProcesses(ServerTest):
    with_demo = True

    def test_an_act_sent_to_one_is_told_by_the_other_and_kept_once(self) -> None:
        port = free_port()
        command = [sys.executable, "-m", "uvicorn", "--factory", "tests.api.test_makers:second", "--port", str(port),
                   "--log-level", "critical"]  # fmt: skip
        environment = {**os.environ, "NIDDY_DATABASE_URL": self.database.url, "NIDDY_TODAY": str(TODAY),
                       "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}  # fmt: skip
        other = subprocess.Popen(command, env=environment, cwd=ROOT)
        self.addCleanup(other.wait, 20)
        self.addCleanup(other.terminate)
        base = f"http://127.0.0.1:{port}"
        wait_for(base)
        act = {"id": "7b1c7c60-3f0e-4a53-8a5c-0d3a4f6a7b77", "kind": "note", "made_at": now_iso(), "text": "cold hands"}
        with httpx.stream("GET", f"{base}/api/slab/32/follow", timeout=30) as stream:
            lines = stream.iter_lines()
            while "ready" not in next(lines):
                pass
            self.ok(self.client.post("/api/slab/32/acts", json=act))
            while "grew" not in next(lines):
                pass
        again = httpx.post(f"{base}/api/slab/32/acts", json=act, timeout=20)
        self.assertEqual(again.status_code, 200)
        log = httpx.get(f"{base}/api/batches/32/log", params={"before": 2_000_000_000}, timeout=20).json()["entries"]
        self.assertEqual([one["id"] for one in log].count(act["id"]), 1)


def second() -> FastAPI:
    """The application of a second process on the same database."""
    settings = Settings()
    return create_app(settings, Database(settings.database_url or ""))
