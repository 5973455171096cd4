"""One recorder: what holds for the log of every craft, tried in each of them on the demo's own jobs."""

import io
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from PIL import Image

from niddy.core.acting import PhotoAsked
from niddy.core.errors import Refused
from niddy.studio import additives, log, making, mixing, recorder, shelf, sludge, sticks
from niddy.studio.errors import Conflict, Missing
from tests.support import NOW, DatabaseTest

ROOMS: dict[str, tuple[recorder.LogRoom[Any, Any, Any], int]] = {
    "pot": (sticks.POTS, 9),
    "run": (making.RUNS, 4),
    "can": (sludge.CANS, 1),
    "dish": (sludge.DISHES, 2),
    "chart": (mixing.CHARTS, 2),
    "tube": (shelf.ITEMS, 1),
    "ladder": (additives.LADDERS, 1),
}
TICKED = {"ladder": {"kind": "string", "rung": 0, "length_mm": 11.0}}
NOTED = {"kind": "note", "text": "the window was open"}
TOLD_BACK = {"ladder": {"kind": "strike", "rung": 0, "of": "string"}}


class EveryRoom(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.database.session().__enter__()
        self.addCleanup(self.session.close)
        self.addCleanup(self.session.rollback)

    def said(self, name: str, **what: Any) -> dict[str, Any]:
        return {"id": uuid4(), "made_at": NOW, **TICKED.get(name, NOTED), **what}

    def record(self, name: str, said: dict[str, Any]) -> Any:
        room, number = ROOMS[name]
        return recorder.record(self.session, NOW, room, number, room.acts.act_of(said))

    def entries(self, name: str) -> tuple[log.Entry, ...]:
        room, number = ROOMS[name]
        return log.entries(self.session, room.job_of(self.session, number))

    def refused(self, field: str, name: str, said: dict[str, Any]) -> None:
        before = len(self.entries(name))
        with self.assertRaises((Refused, Conflict)) as caught:
            self.record(name, said)
        self.assertEqual(caught.exception.field, field, name)
        self.assertEqual(len(self.entries(name)), before, name)

    def test_an_act_is_at_the_end_of_its_log_once_however_often_it_is_sent(self) -> None:
        for name in ROOMS:
            said, before = self.said(name), self.entries(name)
            for _ in range(3):
                self.record(name, said)
            after = self.entries(name)
            self.assertEqual([entry.id for entry in after], [*(entry.id for entry in before), said["id"]], name)
            self.assertEqual(after[-1].seq, (before[-1].seq if before else 0) + 1, name)

    def test_another_act_under_its_id_is_refused(self) -> None:
        for name in ROOMS:
            said = self.said(name)
            self.record(name, said)
            other = {"length_mm": 12.0} if name == "ladder" else {"text": "it was shut"}
            self.refused("id", name, {**said, **other})

    def test_nobody_says_nothing_nor_from_tomorrow(self) -> None:
        for name in ROOMS:
            self.refused("made_at", name, self.said(name, made_at=NOW + timedelta(hours=1)))
            if name not in TICKED:
                self.refused("text", name, self.said(name, text="  "))

    def test_a_job_that_is_not_there_is_missing(self) -> None:
        for name, (room, _) in ROOMS.items():
            with self.assertRaises(Missing, msg=name):
                recorder.record(self.session, NOW, room, 99_999, room.acts.act_of(self.said(name)))
            with self.assertRaises(Missing, msg=name):
                room.job_of(self.session, 99_999)

    def test_undone_it_counts_no_more_and_undone_again_it_does(self) -> None:
        for name in ROOMS:
            if name == "tube":
                continue
            said = self.said(name)
            self.record(name, said)
            undo = {"id": uuid4(), "made_at": NOW, **TOLD_BACK.get(name, {"kind": "strike", "strikes": said["id"]})}
            self.record(name, undo)
            self.assertTrue(self.struck(name, said["id"]), name)
            if name not in TOLD_BACK:
                again = {"id": uuid4(), "made_at": NOW, "kind": "strike", "strikes": undo["id"]}
                self.record(name, again)
                self.assertFalse(self.struck(name, said["id"]), name)
                self.refused("strikes", name, {"id": uuid4(), "made_at": NOW, "kind": "strike", "strikes": again["id"]})
            self.refused(
                "of" if name in TOLD_BACK else "strikes",
                name,
                {**undo, "id": uuid4(), **({} if name in TOLD_BACK else {"strikes": uuid4()})},
            )

    def struck(self, name: str, act_id: UUID) -> bool:
        return next(entry.struck for entry in self.entries(name) if entry.id == act_id)

    def test_a_picture_comes_by_its_own_address_and_is_kept_once(self) -> None:
        out = io.BytesIO()
        Image.new("RGB", (80, 60), "#3f8f6d").save(out, "JPEG")
        for name, (room, number) in ROOMS.items():
            if not room.acts.has_photos:
                continue
            if name != "tube":
                self.refused("kind", name, {"id": uuid4(), "made_at": NOW, "kind": "photo"})
            asked = PhotoAsked(id=uuid4(), made_at=NOW, text="in daylight")
            before = len(self.entries(name))
            for _ in range(2):
                recorder.take_photo(self.session, NOW, room, number, asked, out.getvalue())
            kept = self.entries(name)[before:]
            self.assertEqual([(entry.id, entry.kind) for entry in kept], [(asked.id, "photo")], name)
            self.assertEqual(kept[0].payload.get("text"), "in daylight", name)

    def test_every_line_of_a_log_has_words_and_says_what_may_be_undone(self) -> None:
        for name, (room, number) in ROOMS.items():
            if name in ("tube", "ladder"):
                continue
            entries = self.entries(name)
            lines = recorder.log_lines(room, room.job(self.session, number), entries)
            self.assertEqual([line.id for line in lines], [entry.id for entry in entries], name)
            self.assertTrue(all(line.text.strip() for line in lines), name)
            self.assertFalse(any(line.can_strike and line.struck for line in lines), name)

    def test_a_record_of_today_is_read_as_it_was_written(self) -> None:
        for name, (room, _) in ROOMS.items():
            for entry in self.entries(name):
                if name == "tube" and entry.kind in ("put", "drawn", "inspected", "topped_up", "settle", "regrind"):
                    continue
                logged = room.acts.logged(entry)
                self.assertEqual((logged.id, logged.seq, logged.act.kind), (entry.id, entry.seq, entry.kind), name)
                self.assertEqual(logged.act.made_at, entry.made_at, name)
