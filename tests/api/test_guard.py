"""One request harms nobody: foreign pages, floors of amounts, runaway input, leaving in the middle, followers."""

import asyncio
import io
import re
import socket
import time
import unittest
from dataclasses import replace
from typing import Any, ClassVar
from unittest import mock

import psycopg
from PIL import Image
from sqlalchemy import event, text
from sqlalchemy.exc import IntegrityError

from niddy.api.follow import Followers
from niddy.core.balance import BalanceState, Scales
from niddy.core.errors import Refused
from niddy.devices.patterns import compiled
from niddy.exchange.printing import BOLD, fitted, fonts, wrapped
from niddy.studio import photos, workshop
from tests.support import DatabaseTest, ServerTest

LOT = {"kind": "pigment", "material_key": "bone-black", "received_on": "2026-05-01", "received": 100.0}


class OwnPagesOnly(ServerTest):
    with_demo = True

    def test_another_site_may_change_nothing_and_this_one_may(self) -> None:
        address = "/api/workshop/slabs"
        body = {"name": "Slate", "area_cm2": 600.0, "tooth": "fair"}
        for headers in (
            {"sec-fetch-site": "cross-site"},
            {"sec-fetch-site": "same-site"},
            {"origin": "http://evil.test"},
            {"origin": "null"},
            {"origin": "http://["},
        ):
            with self.subTest(headers):
                self.assertEqual(self.client.post(address, json=body, headers=headers).status_code, 403)
                self.assertEqual(self.client.delete("/api/plan/saved/1", headers=headers).status_code, 403)
        self.assertEqual(self.client.get("/api/workshop", headers={"sec-fetch-site": "cross-site"}).status_code, 200)
        own = {"sec-fetch-site": "same-origin", "origin": self.base}
        self.ok(self.client.post(address, json=body, headers=own))

    def test_bodies_say_what_they_are(self) -> None:
        for address, kind in (
            ("/api/materials/import", "text/plain"),
            ("/api/slab/32/photos/6b0f4a9e-8f5e-4d0c-9a55-0d7ad6dd2d11?made_at=2026-06-18T10:00:00Z", "text/plain"),
            ("/api/checks/photograph?card_x=0&card_y=0&paint_x=0&paint_y=0", "application/octet-stream"),
        ):
            answer = self.client.post(address, content=b"x", headers={"content-type": kind})
            self.refused(answer, "content-type", 415)
        plain = self.client.post("/api/rubout/priors", content=b"{}", headers={"content-type": "text/plain"})
        self.assertIn(plain.status_code, (404, 405, 415, 422))

    def test_every_answer_carries_the_safe_headers(self) -> None:
        for path in ("/", "/api/home", "/api/nothing", "/assets/nothing.js", "/%00", "/api/slab/999"):
            answer = self.client.get(path)
            self.assertLess(answer.status_code, 500, path)
            self.assertIn("script-src 'self'", answer.headers["content-security-policy"], path)
            self.assertNotIn("'unsafe-inline'", answer.headers["content-security-policy"].split("style-src")[0])
            self.assertEqual(answer.headers["x-content-type-options"], "nosniff")
            self.assertEqual(answer.headers["x-frame-options"], "DENY")
        page = self.client.get("/")
        self.assertNotIn("<script>", page.text)
        self.assertEqual(page.headers["cache-control"], "no-cache")

    def test_a_file_named_after_its_contents_is_asked_for_once(self) -> None:
        script = re.search(r"/assets/main-[^\"]+\.js", self.client.get("/").text)
        assert script is not None
        self.assertIn("immutable", self.client.get(script[0]).headers["cache-control"])
        self.assertNotIn("cache-control", self.client.get("/assets/nothing.js").headers)

    def test_an_unforeseen_error_is_a_problem_with_the_same_headers(self) -> None:
        with mock.patch("niddy.api.home.studio.home", side_effect=RuntimeError("odd")), self.assertLogs("niddy"):
            answer = self.client.get("/api/home")
        self.assertEqual((answer.status_code, answer.json()["errors"]), (500, []))
        self.assertEqual(answer.headers["x-frame-options"], "DENY")


class Floors(ServerTest):
    def test_no_amount_is_next_to_nothing(self) -> None:
        lots = "/api/materials/lots"
        for field, value in (("received", 5e-324), ("density_g_per_ml", 1e-300), ("drop_g", 1e-9)):
            self.refused(self.client.post(lots, json={**LOT, "code": "X", field: value}), field)
        self.refused(
            self.client.post("/api/workshop/tube-types", json={"name": "Tiny", "usable_ml": 1e-6}), "usable_ml"
        )
        for address, body, field in (
            ("/api/workshop/slabs", {"name": "S", "area_cm2": 1e-9, "tooth": "fair"}, "area_cm2"),
            ("/api/workshop/mullers", {"name": "M", "face_mm": 1e-9, "tooth": "fair"}, "face_mm"),
            ("/api/calc/measure", {"unit": "g", "amount": 5e-324}, "amount"),
        ):
            self.refused(self.client.post(address, json=body), field)
        self.assertEqual(self.client.get("/api/home").status_code, 200)

    def test_the_database_refuses_them_too(self) -> None:
        for statement in (
            "insert into lot (kind, material_key, code, received_on, received, on_hand, note, used_up, supplier_code,"
            " safety_note, demand_says) values ('pigment', 'x', 'T', '2026-01-01', 5e-324, 0, '', false, '', '', '')",
            "insert into tube_type (name, usable_ml, retired) values ('tiny', 1e-6, false)",
            "insert into slab (name, area_cm2, tooth, retired) values ('tiny', 1e-6, 'fair', false)",
            "update muller set face_mm = 1e-6",
        ):
            with self.subTest(statement[:30]), self.assertRaises(IntegrityError), self.database.session() as session:
                session.execute(text(statement))

    def test_a_name_in_use_is_refused_when_something_is_renamed(self) -> None:
        for kind, extra in (
            ("slabs", {"area_cm2": 500.0, "tooth": "fair"}),
            ("mullers", {"face_mm": 60.0, "tooth": "fair"}),
            ("tube-types", {"usable_ml": 30.0}),
        ):
            for name in ("First", "Second"):
                kept = self.ok(self.client.post(f"/api/workshop/{kind}", json={"name": name, **extra}))
            last = next(one for one in kept[kind.replace("-", "_")] if one["name"] == "Second")
            address = f"/api/workshop/{kind}/{last['id']}"
            self.refused(self.client.put(address, json={"name": "First", **extra}), "name")


class Runaway(unittest.TestCase):
    def test_a_nested_pattern_takes_no_longer_than_its_line(self) -> None:
        begun = time.process_time()
        scales = Scales(compiled("(?P<weight>(a+)+)+$"))
        self.assertIs(scales.read("a" * 150 + "!").state, BalanceState.GARBAGE)
        self.assertLess(time.process_time() - begun, 5)

    def test_what_is_no_weight_is_garbage(self) -> None:
        self.assertIs(Scales(compiled("(?P<weight>.+)")).read("1..2").state, BalanceState.GARBAGE)

    def test_long_words_are_broken_in_one_pass(self) -> None:
        fonts()
        begun = time.process_time()
        lines = wrapped("W" * 20_000, BOLD, 10, 60)
        self.assertEqual("".join(lines), "W" * 20_000)
        size, set_in = fitted("Quinacridone" * 170, BOLD, 18, 4, 120, 30)
        self.assertEqual((size, "".join(set_in)), (4, "Quinacridone" * 170))
        self.assertLess(time.process_time() - begun, 10)

    def test_the_largest_size_that_fits_is_found(self) -> None:
        fonts()
        size, lines = fitted("Burnt sienna", BOLD, 18, 4, 60, 40)
        larger = wrapped("Burnt sienna", BOLD, size + 0.25, 60)
        self.assertLessEqual(len(lines) * size * 1.18, 40)
        self.assertTrue(size == 18 or len(larger) * (size + 0.25) * 1.18 > 40 or len(larger) > 1)

    def test_only_the_pixels_of_a_picture_are_kept(self) -> None:
        out = io.BytesIO()
        Image.new("RGB", (300, 200), "#336699").save(out, "JPEG", comment=b"taken at home by the river")
        kept = photos.scaled(out.getvalue())
        self.assertNotIn(b"river", kept.jpeg)
        self.assertEqual(Image.open(io.BytesIO(kept.jpeg)).info.get("comment"), None)

    def test_a_phone_s_large_picture_is_taken_and_a_bomb_is_not(self) -> None:
        out = io.BytesIO()
        Image.new("L", (9_000, 7_000)).save(out, "JPEG", quality=30)
        self.assertEqual(photos.scaled(out.getvalue()).width, 1600)
        out = io.BytesIO()
        Image.new("1", (9_000, 7_000)).save(out, "PNG")
        self.assertRaises(Refused, photos.scaled, out.getvalue())


class Ports(DatabaseTest):
    def test_only_real_ports_and_plain_tare_words(self) -> None:
        with self.database.session() as session:
            kept = workshop.settings(session)

            def change(**what: Any) -> None:
                workshop.change_settings(session, replace(kept, **what))

            for port in ("/dev/zero", "/dev/../etc/passwd", "/dev/null", "socket://10.0.0.1:99", "file:///x"):
                with self.assertRaises(Refused) as caught:
                    change(balance_port=port)
                self.assertEqual(caught.exception.field, "balance_port")
            for tare in ("t\nare", "", "\t", "ü"):
                with self.assertRaises(Refused) as caught:
                    change(balance_tare=tare)
                self.assertEqual(caught.exception.field, "balance_tare")


class Leaving(ServerTest):
    def test_who_leaves_an_import_holds_nothing(self) -> None:
        rows = "kind,material,code,received,received_on\n" + "".join(
            f"pigment,bone-black,L{n},100,2026-01-02\n" for n in range(4_000)
        )
        head = (
            "POST /api/materials/import?write=true HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: text/csv\r\n"
            f"Content-Length: {len(rows)}\r\n\r\n"
        )
        port = int(self.base.rsplit(":", 1)[1])
        with socket.create_connection(("127.0.0.1", port), 5) as wire:
            wire.sendall((head + rows).encode())
            wire.recv(2_000)
        deadline = time.monotonic() + 20
        idle = text(
            "select count(*) from pg_stat_activity where datname = current_database()"
            " and state = 'idle in transaction' and pid <> pg_backend_pid()"
        )
        while time.monotonic() < deadline:
            with self.database.session() as session:
                if session.scalar(idle) == 0:
                    break
            time.sleep(0.2)
        with self.database.session() as session:
            self.assertEqual(session.scalar(idle), 0)
            self.assertIn(session.scalar(text("select count(*) from lot where code like 'L%'")), (0, 4_000))
        self.ok(self.client.get("/api/health"))

    def test_nobody_waits_for_ever(self) -> None:
        with self.database.session() as session:
            told = {
                name: session.scalar(text(f"show {name}"))
                for name in ("lock_timeout", "idle_in_transaction_session_timeout")
            }
        self.assertEqual(told, {"lock_timeout": "10s", "idle_in_transaction_session_timeout": "1min"})


class Listening(DatabaseTest):
    def test_it_goes_on_after_an_error_nobody_expected(self) -> None:
        real = psycopg.AsyncConnection.connect
        tries: list[int] = []

        async def odd(*what: Any, **named: Any) -> Any:
            tries.append(1)
            if len(tries) == 1:
                raise ValueError("never seen before")
            return await real(*what, **named)

        async def heard() -> bool:
            followers = Followers(self.database.url)
            with mock.patch("niddy.api.follow.psycopg.AsyncConnection.connect", odd):
                followers.start()
                async with followers.of(1) as grew:
                    try:
                        await asyncio.wait_for(grew.wait(), 10)
                    finally:
                        await followers.stop()
            return True

        with self.assertLogs("niddy"):
            self.assertTrue(asyncio.run(heard()))


class Questions(ServerTest):
    with_demo = True
    MOST: ClassVar[dict[str, int]] = {
        "/api/home": 39,
        "/api/day": 40,
        "/api/practice": 5,
        "/api/mixing": 12,
        "/api/mixing/charts/1": 22,
        "/api/mixing/paints/20": 12,
        "/api/sludge": 13,
        "/api/sludge/cans/1": 13,
        "/api/sludge/dishes/2": 6,
        "/api/making": 20,
        "/api/making/processes/1": 20,
        "/api/making/runs/2": 12,
        "/api/sticks": 16,
        "/api/sticks/9": 12,
        "/api/checks/compare?one=11&other=18": 26,
        "/api/shelf": 4,
        "/api/slab/32": 1,
    }

    def count(self, method: str, path: str, **what: Any) -> int:
        asked: list[str] = []
        listener = lambda *a: asked.append(a[2])  # noqa: E731
        event.listen(self.database.engine, "before_cursor_execute", listener)
        try:
            self.ok(self.client.request(method, path, **what))
        finally:
            event.remove(self.database.engine, "before_cursor_execute", listener)
        return len(asked)

    def test_a_screen_asks_the_database_a_bounded_number_of_questions(self) -> None:
        for path, most in self.MOST.items():
            self.assertLessEqual(self.count("GET", path), most, path)
        # A chart seen before is answered as it was while nothing it stands on has changed.
        self.assertLessEqual(self.count("GET", "/api/mixing/charts/1"), 9)
        self.assertLessEqual(self.count("POST", "/api/tubes/cost/recipe/1", json={}), 20)
