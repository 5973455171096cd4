"""What the screens of pots, runs, cans and dishes ask can be recorded as it is asked, and says its unhappy ends."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any
from uuid import uuid4

from niddy.core.asked import Drawn
from niddy.core.entry import Entry, EntryField
from niddy.core.errors import Refused
from niddy.studio import making, recorder, sludge, sticks
from niddy.studio.sticks.view import view as sticks_view
from tests.support import NOW, DatabaseTest

JOBS: tuple[tuple[str, recorder.LogRoom[Any, Any, Any], Any, int], ...] = (
    ("pot", sticks.POTS, sticks_view, 9),
    ("run", making.RUNS, making.run, 4),
    ("can", sludge.CANS, sludge.can, 1),
    ("dish", sludge.DISHES, sludge.dish, 2),
)


class OnTheDemosJobs(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.database.session().__enter__()
        self.addCleanup(self.session.close)
        self.addCleanup(self.session.rollback)

    def entries(self) -> Iterable[tuple[str, recorder.LogRoom[Any, Any, Any], int, Entry]]:
        for name, room, view, number in JOBS:
            found = view(self.session, NOW, number).entries
            self.assertTrue(found, name)
            for one in found:
                yield name, room, number, one

    def test_every_entry_and_every_answer_to_it_is_an_act_of_its_room(self) -> None:
        for name, room, _, asked in self.entries():
            fields = {field.name: _filled(field) for field in asked.fields}
            ways = [(asked.kind, {}, None), *((one.kind, one.sends, one.only) for one in asked.beside + asked.answers)]
            for kind, more, only in ways:
                with self.subTest(job=name, entry=asked.key, kind=kind):
                    sent = {key: value for key, value in fields.items() if only is None or key in only}
                    said = {**asked.sends, **sent, **more, "kind": kind, "id": str(uuid4()), "made_at": NOW.isoformat()}
                    self.assertEqual(room.acts.act_of(json.loads(json.dumps(said))).kind, kind)

    def test_no_two_entries_of_a_job_share_a_key_and_each_has_a_title(self) -> None:
        seen = [(name, asked.key) for name, _, _, asked in self.entries()]
        self.assertEqual(len(seen), len(set(seen)))
        for _, _, _, asked in self.entries():
            self.assertTrue(asked.title and asked.doing)
            self.assertTrue(all(field.label for field in asked.fields), asked.key)

    def test_a_dish_that_grew_heavier_is_asked_about_and_either_answer_is_kept(self) -> None:
        dish = sludge.dish(self.session, NOW, 2)
        asked = next(one for one in dish.entries if one.key == "weigh")
        heavier = {"g": dish.tare_g + (dish.now_g or 0) + 60}
        with self.assertRaises(Refused) as caught:
            self._record(sludge.DISHES, 2, {"kind": "weigh", **heavier})
        self.assertEqual(caught.exception.field, "anyway")
        self.assertEqual([one.kind for one in asked.answers], ["added", "weigh"])
        for answer in asked.answers:
            with self.session.begin_nested() as once:
                self._record(sludge.DISHES, 2, {**heavier, **answer.sends, "kind": answer.kind})
                once.rollback()

    def test_what_is_over_asks_for_what_may_come_afterwards_alone(self) -> None:
        pot = sticks_view(self.session, NOW, 1)
        self.assertEqual(({one.kind for one in pot.entries}, pot.status), ({"flaw", "note"}, "finished"))
        for number in range(1, 4):
            run = making.run(self.session, NOW, number)
            if run.status == "finished":
                self.assertEqual({one.kind for one in run.entries}, {"waste", "colour", "note"})

    def test_powder_carries_its_caution_and_liquid_does_not(self) -> None:
        pot = sticks_view(self.session, NOW, 9)
        into = {one.kind: one.caution for one in pot.entries if one.group == "amount"}
        self.assertIn("Mask on", into["pigment"])
        self.assertEqual((into["base"], into["oil"]), ("", ""))

    def test_what_is_advised_for_the_pot_is_the_amount_that_is_wanted(self) -> None:
        pot = sticks_view(self.session, NOW, 9)
        wanted = {one.sends["source"]: one.wanted_g for one in pot.entries if one.wanted_g is not None}
        told = {pot.advice.source: pot.advice.grams} if pot.advice.act in ("base", "oil", "pigment") else {}
        self.assertEqual(wanted, told)

    def _record(self, room: recorder.LogRoom[Any, Any, Any], number: int, said: dict[str, Any]) -> None:
        recorder.record(self.session, NOW, room, number, room.acts.act_of({**said, "id": uuid4(), "made_at": NOW}))


def _filled(field: EntryField) -> Any:
    if field.drawn is Drawn.AMOUNT:
        return {"unit": field.choices[-1].value if field.choices else "g", "amount": 3.0}
    if field.choices:
        return field.choices[-1].value
    return {Drawn.WORDS: "words", Drawn.CHECK: True, Drawn.COLOUR: "#123456"}.get(field.drawn, 3)
