"""What a device says with an act: its clock, which may be off, and the job it means, whatever has its number now."""

import io
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

import httpx
from PIL import Image
from sqlalchemy import text

from tests.support import NOW, ServerTest


class SentWith(ServerTest):
    with_demo = True

    def send(self, path: str, off: timedelta = timedelta(0), job: str = "", **what: Any) -> httpx.Response:
        """An act made a minute ago by a clock that is `off`."""
        at = NOW + off - timedelta(minutes=1)
        self.last = str(uuid4())
        body = {"id": self.last, "kind": "note", "text": "sent", "made_at": at.isoformat(), **what}
        headers = {"niddy-clock": (NOW + off).isoformat(), **({"niddy-job": job} if job else {})}
        return self.client.post(f"{path}/acts", json=body, headers=headers)

    def logged(self) -> tuple[datetime, dict[str, Any]]:
        with self.database.session() as session:
            row = session.execute(text("select made_at, payload from act where id = :id"), {"id": self.last}).one()
        return row.made_at, row.payload

    def own_id(self, path: str) -> str:
        with self.client.stream("GET", f"{path}/follow") as stream:
            for line in stream.iter_lines():
                if line.startswith("data:"):
                    return str(UUID(line.split('"job": "')[1][:36]))
        raise AssertionError("the stream told no job")

    def test_a_clock_that_is_off_is_put_right_and_what_it_said_is_kept(self) -> None:
        for path, room in (
            ("/api/slab/32", "slab"),
            ("/api/sticks/9", "sticks"),
            ("/api/sludge/cans/1", "cans"),
            ("/api/sludge/dishes/2", "dishes"),
            ("/api/making/runs/4", "runs"),
            ("/api/mixing/charts/2", "charts"),
            ("/api/shelf/1", "shelf"),
        ):
            for off in (timedelta(days=3), -timedelta(days=3), timedelta(minutes=6)):
                with self.subTest(room, off=off):
                    self.ok(self.send(path, off))
                    made_at, payload = self.logged()
                    self.assertEqual(made_at, NOW - timedelta(minutes=1))
                    said = datetime.fromisoformat(payload["clock_made_at"])
                    self.assertEqual(said, NOW + off - timedelta(minutes=1))
        self.ok(self.send("/api/slab/32", timedelta(minutes=4)))
        made_at, payload = self.logged()
        self.assertEqual(made_at, NOW + timedelta(minutes=3))
        self.assertNotIn("clock_made_at", payload)

    def test_sent_again_by_a_clock_that_drifts_it_is_the_same_act(self) -> None:
        body = {"id": str(uuid4()), "kind": "note", "text": "late", "made_at": (NOW - timedelta(days=2)).isoformat()}
        for path in ("/api/slab/32", "/api/sticks/9"):
            body["id"] = str(uuid4())
            for drift in (0, 7):
                clock = NOW - timedelta(days=2, seconds=drift)
                answer = self.client.post(f"{path}/acts", json=body, headers={"niddy-clock": clock.isoformat()})
                self.ok(answer)
            other = self.client.post(f"{path}/acts", json=body | {"text": "another"})
            self.refused(other, "id", 409)

    def test_an_act_ahead_of_now_is_refused_as_it_says(self) -> None:
        body = {"id": str(uuid4()), "kind": "note", "text": "x", "made_at": (NOW + timedelta(minutes=6)).isoformat()}
        for path in ("/api/slab/32", "/api/sticks/9", "/api/making/runs/4"):
            said = self.refused(self.client.post(f"{path}/acts", json=body), "made_at")
            self.assertIn("to now", said["accepted"])
        wrong = self.client.post("/api/slab/32/acts", json=body, headers={"niddy-clock": "half past ten"})
        self.refused(wrong, "niddy-clock")

    def test_an_act_lands_in_the_job_it_was_made_for_or_in_none(self) -> None:
        for path in ("/api/slab/32", "/api/sticks/9", "/api/sludge/cans/1", "/api/making/runs/4", "/api/shelf/1"):
            with self.subTest(path):
                job = self.own_id(path)
                self.ok(self.send(path, job=job))
                self.refused(self.send(path, job=str(uuid4())), "job", 409)
                gone = f"{path.rsplit('/', 1)[0]}/99999"
                self.refused(self.send(gone, job=job), "job", 409)
        out = io.BytesIO()
        Image.new("RGB", (40, 30), "#3f8f6d").save(out, "JPEG")
        headers = {"content-type": "image/jpeg", "niddy-job": str(uuid4())}
        at = {"made_at": NOW.isoformat()}
        for path in ("/api/slab/32", "/api/sticks/9", "/api/making/runs/4", "/api/shelf/1"):
            sent = self.client.post(f"{path}/photos/{uuid4()}", params=at, content=out.getvalue(), headers=headers)
            self.refused(sent, "job", 409)

    def test_a_phone_s_picture_comes_in_everywhere_and_text_nowhere(self) -> None:
        noise = Image.effect_noise((2600, 1900), 90).convert("RGB")
        out = io.BytesIO()
        noise.save(out, "JPEG", quality=95)
        self.assertGreater(len(out.getvalue()), 2_000_000)
        at = {"made_at": NOW.isoformat()}
        for path in ("/api/slab/32", "/api/sticks/9", "/api/making/runs/4", "/api/shelf/1"):
            with self.subTest(path):
                photo = f"{path}/photos/{uuid4()}"
                sent = self.client.post(
                    photo, params=at, content=out.getvalue(), headers={"content-type": "image/jpeg"}
                )
                self.ok(sent)
                for kind in ("text/plain", "application/json", ""):
                    text_sent = self.client.post(photo, params=at, content=b"words", headers={"content-type": kind})
                    self.refused(text_sent, "content-type", 415)
