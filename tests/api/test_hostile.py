"""Files of other studios that mean harm, and a clock that jumps: refused in words or harmless, never an error."""

import base64
import io
import json
import random
import zlib
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import segno
from PIL import Image
from pydantic import SecretStr

from niddy.core.makers import MakerRole, Who
from niddy.studio import home, makers, making, mixing, practice, slab, sludge, sticks
from niddy.studio.makers import NewMaker
from niddy.studio.plan import PlanAsked
from tests.support import NOW, DatabaseTest, ServerTest

ODD: tuple[Any, ...] = (
    None,
    True,
    "",
    " ",
    "\0",
    "x" * 5_000,
    "\ud800".encode("utf-16", "surrogatepass").decode("utf-16", "replace"),
    -1,
    0,
    1e308,
    -1e308,
    2**63,
    10**400,
    float("nan"),
    float("inf"),
    [],
    {},
    [[]] * 3,
    {"a": {"b": []}},
    "NaN",
    "<script>alert(1)</script>",
    "'; drop table lot; --",
    "../../etc/passwd",
)


def places(document: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a document."""
    found = [path] if path else []
    inner = (
        document.items() if isinstance(document, dict) else enumerate(document) if isinstance(document, list) else ()
    )
    for key, value in inner:
        found += places(value, (*path, key))
    return found


def changed(document: Any, path: tuple[Any, ...], value: Any) -> Any:
    """A copy of a document with something else in one place."""
    copy = json.loads(json.dumps(document))
    at = copy
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return copy


class Swapped(ServerTest):
    with_demo = True
    KINDS = (("recipe", 1), ("base", 1), ("process", 1))

    def file(self, kind: str, number: int) -> Any:
        return self.client.get(f"/api/swap/{kind}/{number}/file").json()

    def test_a_file_with_anything_anywhere_is_refused_or_harmless(self) -> None:
        luck = random.Random(7302)
        tried = 0
        for kind, number in self.KINDS:
            whole = self.file(kind, number)
            for path in places(whole):
                for odd in luck.sample(ODD, 3):
                    body = json.dumps(changed(whole, path, odd)).encode()
                    headers = {"content-type": "application/json"}
                    look = self.client.post("/api/swap/look", content=body, headers=headers)
                    self.assertLess(look.status_code, 500, (kind, path, odd))
                    tried += 1
                    if look.status_code == 200 and luck.random() < 0.15:
                        taken = self.client.post(
                            "/api/swap", params={"name": f"Odd {tried}"}, content=body, headers=headers
                        )
                        self.assertLess(taken.status_code, 500, (kind, path, odd, taken.text[:200]))
        self.assertGreater(tried, 200)

    def test_files_that_are_no_files_are_refused_in_words(self) -> None:
        deep = b"[" * 60_000 + b"]" * 60_000
        for body in (b"", b"\xff\xfe", b"null", b"[]", b"{", deep, b'{"format": []}', b'{"format": "niddy-recipe"}'):
            with self.subTest(body[:20]):
                answer = self.client.post("/api/swap/look", content=body, headers={"content-type": "application/json"})
                self.refused(answer, "file")
        answer = self.client.post("/api/swap/look", content=b"{}", headers={"content-type": "text/plain"})
        self.refused(answer, "content-type", 415)

    def card(self, *texts: str) -> bytes:
        """A picture of codes side by side."""
        pictures = []
        for text in texts:
            out = io.BytesIO()
            segno.make(text, error="m").save(out, kind="png", scale=4, border=4)
            pictures.append(Image.open(out).convert("RGB"))
        sheet = Image.new("RGB", (sum(one.width for one in pictures), max(one.height for one in pictures)), "white")
        left = 0
        for one in pictures:
            sheet.paste(one, (left, 0))
            left += one.width
        out = io.BytesIO()
        sheet.save(out, "PNG")
        return out.getvalue()

    def test_a_card_that_means_harm_is_refused_in_words(self) -> None:
        bomb = zlib.compress(b"0" * 60_000_000, 9)
        letters = base64.b32encode(bomb).decode().rstrip("=")
        parts = [letters[n : n + 1_500] for n in range(0, len(letters), 1_500)][:4]
        check = f"{zlib.crc32(bomb):08X}"
        whole = io.BytesIO()
        Image.new("RGB", (60, 60), "white").save(whole, "PNG")
        png = bytearray(whole.getvalue())
        png[40:60] = b"\xff" * 20
        for name, picture in (
            ("bomb", self.card(*(f"NIDDY {n + 1}/{len(parts)} {check}:{part}" for n, part in enumerate(parts)))),
            ("of many", self.card(f"NIDDY 1/999999999 {check}:{letters[:200]}")),
            ("of none", self.card(f"NIDDY 0/0 {check}:{letters[:200]}")),
            ("damaged", self.card(f"NIDDY 1/1 {check}:{letters[:200]}")),
            ("an address", self.card("http://127.0.0.1:1/fetch-me")),
            ("broken", bytes(png)),
            ("cut", whole.getvalue()[:50]),
            ("text", b"no picture"),
        ):
            with self.subTest(name):
                answer = self.client.post("/api/swap/look", content=picture, headers={"content-type": "image/png"})
                self.refused(answer, "file")


class ClockThatJumps(DatabaseTest):
    with_demo = True

    def test_every_room_opens_three_days_before_and_after(self) -> None:
        rooms = (
            lambda session, now: slab.view(session, now, 32),
            lambda session, now: sticks.view(session, now, 9),
            lambda session, now: sludge.can(session, now, 1),
            lambda session, now: sludge.dish(session, now, 2),
            lambda session, now: making.run(session, now, 4),
            lambda session, now: mixing.view(session, now, 2),
            lambda session, now: practice.view(session, now, 4),
            lambda session, now: home.home(session, now),
        )
        for days in (-3, 3):
            for room in rooms:
                with self.subTest(days=days), self.database.session() as session:
                    room(session, NOW + timedelta(days=days))

    def test_a_muller_that_ran_over_the_jump_has_no_minutes_nobody_mulled(self) -> None:
        for days in (-3, 3):
            with self.subTest(days=days):
                asked = {
                    "lines": [{"pigment_key": "bone-black", "parts": 1}],
                    "oil": {"oil_key": "linseed-refined"},
                    "reduced_pvc": 0.86,
                    "pigment_g": 40.0,
                }
                session = self.enterContext(self.database.session())
                number = slab.take_to_slab(session, NOW, uuid4(), PlanAsked.model_validate(asked))

                def act(at: datetime, kind: str, number: int = number, session: Any = session, **what: Any) -> Any:
                    said = {"id": uuid4(), "kind": kind, "made_at": at, **what}
                    return slab.record(session, at, number, slab.act_of(said))

                act(NOW, "powder", source="library-bone-black", measure={"amount": 40.0})
                act(NOW, "oil", source="library-linseed-refined", measure={"amount": 25.0})
                act(NOW, "look", stage="wet_curds")
                act(NOW, "mull")
                jumped = NOW + timedelta(days=days)
                seen = slab.view(session, jumped, number)
                self.assertGreaterEqual(seen.mulling.seconds, 0.0)
                # Set back, a spell is worth nothing; set ahead, the screen asks how long it was.
                self.assertEqual(seen.mulling.long_spell, days > 0)
                after = act(jumped, "pause", **({"minutes": 5.0} if days > 0 else {}))
                self.assertAlmostEqual(after.mulling.seconds, 300.0 if days > 0 else 0.0)
                session.rollback()

    def test_sign_ins_and_pins_over_a_jump(self) -> None:
        for name in ("Ada", "Bo"):
            new = NewMaker(name=name, role=MakerRole.OWNER, password=SecretStr("umber and linseed"))
            made = makers.add(self.database, NOW, new)
            makers.set_pin(self.database, made, "2580", "umber and linseed")
        token = makers.sign_in(self.database, NOW, "Ada", "umber and linseed", "", shared=True).token

        def who(days: float) -> Who | None:
            with self.database.session() as session:
                return makers.who(session, NOW + timedelta(days=days), token)

        self.assertIsNone(who(-3))
        here = who(0)
        assert here is not None
        self.assertIsNone(makers.switch(self.database, NOW, here.session_id, made, "2580"))
        makers.prove(self.database, NOW, here.session_id, made, "umber and linseed")
        self.assertTrue((now := who(0)) is not None and now.owns)
        for days in (0.5, 3):
            later = who(days)
            self.assertTrue(later is not None and not later.owns, days)
        early = NOW - timedelta(days=3)
        self.assertTrue(makers.sign_in(self.database, early, "Bo", "umber and linseed", "", shared=False).token)
