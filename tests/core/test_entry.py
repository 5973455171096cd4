"""What an entry asks is what its act declares: fields, units, what is needed, and every act that answers it."""

from __future__ import annotations

import unittest
from datetime import UTC, datetime
from typing import Any, get_args
from uuid import uuid4

from pydantic import TypeAdapter

from niddy.core.acting import Act
from niddy.core.asked import Drawn, Live, Option
from niddy.core.entry import Entry, EntryField, entry, kind_of
from niddy.core.making.acts import AnyRunAct, PhRead, PlateWeighed, RunNote, WeighedIn
from niddy.core.making.wasting import WasteOut
from niddy.core.sludge.can_acts import AnyCanAct, PourOff, SludgeOut, SolventIn
from niddy.core.sludge.dish_acts import AnyDishAct, Strained, ToStock
from niddy.core.sticks.acts import AnyPotAct, Out, PasteIn, PigmentIn

A_VALUE = {Drawn.WORDS: "two words", Drawn.CHECK: True, Drawn.COLOUR: "#123456"}


def filled(asked: Entry) -> dict[str, Any]:
    """What a screen sends of an entry with every field filled in."""
    out: dict[str, Any] = dict(asked.sends)
    for field in asked.fields:
        out[field.name] = _filled(field)
    return out


def _filled(field: EntryField) -> Any:
    if field.drawn is Drawn.AMOUNT:
        return {"unit": "g", "amount": 3.0}
    if field.choices:
        return field.choices[-1].value
    return A_VALUE.get(field.drawn, 3 if field.whole or field.drawn is Drawn.PICK else 3.0)


class Declared(unittest.TestCase):
    def test_every_asked_field_of_every_act_is_taken_as_it_is_asked(self) -> None:
        for acts in (AnyCanAct, AnyDishAct, AnyPotAct, AnyRunAct):
            takes: TypeAdapter[Act] = TypeAdapter(acts)
            for act in get_args(get_args(acts)[0]):
                unasked = {"source": "lot-1", "ingredient": "salt", "step": "one", "solvent_key": "spirit"}
                sends = {name: value for name, value in unasked.items() if name in act.model_fields}
                asked = entry(act, "A title", sends=sends)
                if not asked.fields:
                    continue
                with self.subTest(act=act.__name__):
                    said = {**filled(asked), "kind": kind_of(act), "id": str(uuid4()), "made_at": _now()}
                    if "flaw" in said:
                        said["flaw"] = "sank"
                    kept = takes.validate_json(TypeAdapter(dict[str, Any]).dump_json(said))
                    self.assertIs(type(kept), act)

    def test_a_needed_field_is_told_from_one_that_may_stay_empty(self) -> None:
        count, grams = entry(Out, "Out", values={"count": 12}).fields
        self.assertEqual((count.needed, count.whole, count.value), (True, True, 12))
        self.assertEqual((grams.needed, grams.whole, grams.unit), (False, False, "g"))

    def test_what_is_needed_says_what_would_be_accepted(self) -> None:
        for acts in (AnyCanAct, AnyDishAct, AnyPotAct, AnyRunAct):
            for act in get_args(get_args(acts)[0]):
                for field in entry(act, "A title").fields:
                    if field.needed and not field.choices and field.drawn in (Drawn.NUMBER, Drawn.WORDS, Drawn.AMOUNT):
                        self.assertTrue(field.accepted, f"{act.__name__}.{field.name}")

    def test_a_field_is_drawn_by_its_type(self) -> None:
        drawn = {
            (SolventIn, "ml"): Drawn.NUMBER,
            (SolventIn, "solvent_key"): Drawn.PICK,
            (SolventIn, "origin"): Drawn.CHOICE,
            (SludgeOut, "share"): Drawn.CHOICE,
            (Strained, "mesh_um"): Drawn.CHOICE,
            (Strained, "hairs"): Drawn.CHECK,
            (ToStock, "code"): Drawn.WORDS,
            (WeighedIn, "measure"): Drawn.AMOUNT,
            (PhRead, "ph"): Drawn.NUMBER,
            (PasteIn, "item_id"): Drawn.PICK,
        }
        for (act, name), how in drawn.items():
            field = next(one for one in entry(act, "A title").fields if one.name == name)
            self.assertEqual(field.drawn, how, f"{act.__name__}.{name}")

    def test_the_same_in_another_unit_is_one_field(self) -> None:
        (field,) = entry(PourOff, "Poured off").fields
        self.assertEqual([(one.value, one.label) for one in field.units], [("ml", "ml"), ("g", "g")])

    def test_an_instrument_stands_at_its_field(self) -> None:
        self.assertEqual(entry(PhRead, "pH").fields[0].live, Live.PH_METER)
        plate, tare = entry(PlateWeighed, "On the balance").fields
        self.assertEqual((plate.live, tare.live), (Live.BALANCE, None))

    def test_what_goes_along_unasked_is_no_field(self) -> None:
        asked = entry(WeighedIn, "In", sends={"ingredient": "alum"}, without=("lot_id",))
        self.assertEqual(([one.name for one in asked.fields], dict(asked.sends)), (["measure"], {"ingredient": "alum"}))
        self.assertEqual([one.name for one in entry(PigmentIn, "In", sends={"source": "lot-1"}).fields], ["measure"])

    def test_a_screen_may_suggest_and_rename(self) -> None:
        (field, *_) = entry(
            WasteOut, "Waste", values={"ml": 40}, labels={"ml": "Liquid"}, choices={"ml": (Option(1, "one"),)}
        ).fields
        self.assertEqual((field.value, field.label, field.choices[0].label), (40, "Liquid", "one"))

    def test_words_end_where_the_act_refuses_more(self) -> None:
        self.assertEqual(entry(RunNote, "Note").fields[0].longest, 2_000)
        self.assertEqual(entry(WasteOut, "Waste").fields[2].longest, 300)
        self.assertEqual(entry(ToStock, "Stock").fields[1].longest, 40)


def _now() -> str:
    return datetime(2026, 6, 18, 10, tzinfo=UTC).isoformat()


if __name__ == "__main__":
    unittest.main()
