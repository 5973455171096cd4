"""Signing in over HTTP: what is asked on a network, cookies, roles at every address, words for every refusal."""

import os
import re
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from time import sleep
from typing import Any
from unittest import mock

import httpx
from fastapi import FastAPI
from limits import RateLimitItemPerMinute
from pydantic import SecretStr
from sqlalchemy.exc import OperationalError

from niddy.api import makers as web
from niddy.api.app import addresses, create_app
from niddy.api.router import Router
from niddy.core.makers import MakerRole, Reach
from niddy.db import Database
from niddy.operations.ports import free_port
from niddy.settings import ROOT, Settings
from niddy.studio import makers
from niddy.studio.makers import NewMaker
from tests.support import NOW, TODAY, ServerTest, now_iso, wait_for

PASSWORD = "umber and linseed"


def written() -> dict[tuple[str, str], Reach]:
    """Who may use which address, as it was written by hand."""
    found: dict[tuple[str, str], Reach] = {}
    reach = Reach.ANYBODY
    for line in (Path(__file__).parent / "who_may.txt").read_text().splitlines():
        if line.startswith("["):
            reach = Reach(line.strip("[]"))
        elif line and not line.startswith("#"):
            *methods, path = line.split()
            found |= {(method, path): reach for method in methods}
    return found


def filled(path: str) -> str:
    """An address with something for each of its places."""
    return re.sub(r"\{on\}", "2026-06-18", re.sub(r"\{(?!on)\w+\}", "1", path))


def typed(method: str, path: str) -> dict[str, str]:
    """The content type an address wants."""
    address = addresses().find(method, path)
    kinds = address.policy.body.kinds if address is not None else ()
    return {"content-type": (*kinds, "application/json")[0]}


ENDINGS = (
    "%0A",
    "%0D",
    "%0D%0A",
    "%09",
    "%00",
    "%0B",
    "%1F",
    "%7F",
    "%C2%85",
    "%E2%80%A8",
    "%E2%80%A9",
    "/",
    "//",
    "/.",
    "/..;/",
    "%2F",
    "%252F",
    ";",
    "%3B.json",
    "%20",
    ".",
    "%23x",
    "%3Fx",
    "%EF%BC%8F",
)
"""What may stand behind an address for a router and a guard to disagree."""


class Addressed(ServerTest):
    """Every address, held against what was written by hand, with whatever may be put behind it."""

    host = "bench.test"
    signs_in = False

    def test_what_stands_on_the_routes_is_what_was_written_by_hand(self) -> None:
        stands = {(method, one.path): one.policy.reach for one in addresses().all for method in one.methods - {"HEAD"}}
        self.assertEqual(stands, written())

    def test_an_address_without_a_policy_is_no_address(self) -> None:
        router = Router(prefix="/api/x")
        router.get("/read")(lambda: None)
        with self.assertRaises(TypeError):
            router.post("/write")(lambda: None)

    def test_no_ending_and_no_encoding_gets_past_signing_in_or_a_role(self) -> None:
        for name, role in (("Bo", MakerRole.MAKER), ("Lu", MakerRole.LOOKER)):
            makers.add(self.database, NOW, NewMaker(name=name, role=role, password=SecretStr(PASSWORD)))
        may = {
            "Bo": (Reach.ANYBODY, Reach.LOOKS, Reach.WORKS),
            "Lu": (Reach.ANYBODY, Reach.LOOKS),
            "": (Reach.ANYBODY,),
        }
        got: list[tuple[str, str, str, int]] = []
        tried = 0
        for name, reaches in may.items():
            client = httpx.Client(base_url=self.base, timeout=20)
            self.addCleanup(client.close)
            if name:
                said = {"name": name, "password": PASSWORD}
                self.assertEqual(client.post("/api/makers/sign-in", json=said).status_code, 204)
            for (method, path), reach in written().items():
                if reach in reaches:
                    continue
                at = filled(path)
                for ending in ("", *ENDINGS):
                    # Raw, so that nothing puts it right on its way.
                    url = httpx.URL(self.base).copy_with(raw_path=f"{at}{ending}".encode())
                    answer = client.request(method, url, content=b"{}", headers=typed(method, at))
                    tried += 1
                    if answer.status_code not in (400, 401, 403, 404, 405):
                        got.append((name, method, f"{at}{ending}", answer.status_code))
        self.assertEqual(got, [])
        self.assertGreater(tried, 5_000)

    def test_a_new_line_at_the_end_makes_nobody_an_owner(self) -> None:
        makers.add(self.database, NOW, NewMaker(name="Cy", role=MakerRole.MAKER, password=SecretStr(PASSWORD)))
        client = httpx.Client(base_url=self.base, timeout=20)
        self.addCleanup(client.close)
        client.post("/api/makers/sign-in", json={"name": "Cy", "password": PASSWORD}).raise_for_status()
        body = {"name": "Mallory", "role": "owner", "password": PASSWORD}
        answer = client.post(f"{self.base}/api/makers%0A", json=body)
        self.assertEqual(self.refused(answer, "path", 400)["problem"], "control characters")
        with self.database.session() as session:
            self.assertNotIn("Mallory", [one.name for one in makers.list_makers(session)])


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
        for name, role in (("Ada", MakerRole.OWNER), ("Bo", MakerRole.MAKER), ("Lu", MakerRole.LOOKER)):
            makers.add(cls.database, NOW, NewMaker(name=name, role=role, password=SecretStr(PASSWORD)))

    def setUp(self) -> None:
        web.TRIES.reset()

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

    def test_who_is_not_signed_in_gets_the_pages_and_whether_to_sign_in(self) -> None:
        self.assertEqual(self.client.get("/", headers={"cookie": "niddy_session=x"}).status_code in (200, 503), True)
        self.assertTrue(self.ok(self.client.get("/api/makers/here"))["asked"])
        self.assertEqual(self.client.get("/api/openapi.json").status_code, 401)

    def test_a_looker_looks(self) -> None:
        looker = self.as_("Lu")
        self.ok(looker.get("/api/home"))
        self.ok(looker.get("/api/slab/32"))
        refused = looker.post("/api/slab/32/acts", json={})
        self.assertIn("look and print", refused.json()["errors"][0]["problem"])

    def test_an_act_and_a_change_carry_who_made_them(self) -> None:
        bo, ada = self.as_("Bo"), self.as_("Ada")
        act = {"id": "5f1c7c60-3f0e-4a53-8a5c-0d3a4f6a7b01", "kind": "note", "made_at": now_iso(), "text": "warm hands"}
        self.ok(bo.post("/api/slab/32/acts", json=act))
        self.ok(ada.post("/api/workshop/slabs", json={"name": "Slate", "area_cm2": 600.0, "tooth": "fair"}))
        done = self.ok(ada.get("/api/makers/doing"))
        self.assertIn(("BO", 1), [(one["initials"], one["acts"]) for one in done if "batch 32" in one["what"]])
        self.assertIn(("AD", "Added a slab"), [(one["initials"], one["what"]) for one in done])
        self.assertEqual(self.ok(bo.get("/api/makers/log/slab/32")), {act["id"]: "BO"})
        refused = bo.post("/api/workshop/slabs", json={"name": "Other", "area_cm2": 600.0, "tooth": "fair"})
        self.assertIn("owner", refused.json()["errors"][0]["problem"])

    def test_wrong_tries_by_anybody_make_nobody_wait_on_a_device_of_theirs(self) -> None:
        ada = self.as_("Ada")
        wrong = {"name": "\uff21da", "password": "not it at all"}
        for _ in range(5):
            self.refused(self.client.post("/api/makers/sign-in", json=wrong), "name")
        answer = self.client.post("/api/makers/sign-in", json={"name": "ADA", "password": PASSWORD})
        self.assertIn("device you signed in on before", self.refused(answer, "name", 429)["accepted"])
        self.assertIn(answer.headers["retry-after"], ("9", "10"))
        self.assertEqual(ada.post("/api/makers/sign-out").status_code, 204)
        again = ada.post("/api/makers/sign-in", json={"name": "Ada", "password": PASSWORD})
        self.assertEqual(again.status_code, 204)
        self.as_("Bo")

    def test_an_address_that_tries_and_tries_is_held_whatever_the_names(self) -> None:
        for n in range(20):
            self.client.post("/api/makers/sign-in", json={"name": f"nobody {n}", "password": "not it at all"})
        answer = self.client.post("/api/makers/sign-in", json={"name": "Ada", "password": PASSWORD})
        self.refused(answer, "name", 429)

    def test_a_flood_of_passwords_leaves_the_slab_quick(self) -> None:
        bo = self.as_("Bo")

        def slow(*_: object) -> bool:
            sleep(0.1)
            return False

        def flood(n: int) -> int:
            body = {"name": f"nobody {n}", "password": "not it at all"}
            return httpx.post(f"{self.base}/api/makers/sign-in", json=body, timeout=60, verify=False).status_code

        generous = (RateLimitItemPerMinute(1_000),)
        slow_hasher = mock.Mock(verify=slow, hash=lambda _: "x")
        with (
            mock.patch("niddy.api.tries.OF_AN_ADDRESS", generous),
            mock.patch("niddy.studio.makers.proving.HASHER", slow_hasher),
            ThreadPoolExecutor(80) as pool,
        ):
            sent = [pool.submit(flood, n) for n in range(80)]
            # However many come, only so many are at work: what is asked meanwhile is answered before they are through.
            waited = 0
            while not all(one.done() for one in sent):
                self.ok(bo.get("/api/health"))
                self.ok(bo.get("/api/slab/32"))
                waited += 1
            said = [one.result() for one in sent]
        self.assertEqual(set(said), {422, 429})
        self.assertLessEqual(said.count(422), 80 - said.count(429))
        self.assertGreater(said.count(429), 40)
        self.assertGreater(waited, 1)

    def test_an_owner_by_pin_gives_the_password_again(self) -> None:
        ada = self.as_("Ada", shared=True)
        me = self.ok(ada.get("/api/makers/here"))["me"]["id"]
        ada.put("/api/makers/me/pin", json={"pin": "1937", "password": PASSWORD})
        tablet = self.as_("Bo", shared=True)
        self.assertEqual(tablet.post("/api/makers/switch", json={"maker_id": me, "pin": "1937"}).status_code, 204)
        slab = {"name": "Basalt", "area_cm2": 600.0, "tooth": "fair"}
        for method, path, body in (
            ("POST", "/api/workshop/slabs", slab),
            ("GET", "/api/package", None),
            ("POST", "/api/workshop/backups", {}),
            ("PUT", f"/api/makers/{me}/password", {"password": PASSWORD}),
            ("DELETE", "/api/makers/2", None),
        ):
            answer = tablet.request(method, path, json=body)
            self.assertEqual(answer.status_code, 403, path)
            self.assertIn("PIN", answer.json()["errors"][0]["problem"])
        self.refused(tablet.post("/api/makers/me/proof", json={"password": "not it at all"}), "password")
        self.assertEqual(tablet.post("/api/makers/me/proof", json={"password": PASSWORD}).status_code, 204)
        self.assertTrue(self.ok(tablet.get("/api/makers/here"))["me"]["owns"])
        self.ok(tablet.post("/api/workshop/slabs", json=slab))

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
        said = [
            self.refused(tablet.post("/api/makers/switch", json={"maker_id": me, "pin": "9999"}), "pin")["problem"]
            for _ in range(10)
        ]
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
        command = [
            sys.executable,
            "-m",
            "uvicorn",
            "--factory",
            "tests.api.test_makers:second",
            "--port",
            str(port),
            "--log-level",
            "critical",
        ]
        environment = {
            **os.environ,
            "NIDDY_DATABASE_URL": self.database.url,
            "NIDDY_TODAY": str(TODAY),
            "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}",
        }
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
