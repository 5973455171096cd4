"""Filling from a batch, the shelf afterwards, saving what separates, found jars, cost and labels."""

import io
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any
from uuid import uuid4

import numpy as np
import pypdf
import zxingcpp
from PIL import Image

from niddy.core.contents import Content, Role
from niddy.core.errors import Refused
from niddy.core.shelf import Outcome, Skin
from niddy.exchange import labels_pdf, lists_pdf, printing
from niddy.exchange.label_sheet import LabelForm, Sheet
from niddy.exchange.labels_pdf import LabelStyle
from niddy.reference import library
from niddy.studio import batches, cost, home, labels, materials, photos, recipes, shelf, slab, tubes, workshop
from niddy.studio.cost import CostAsked, Reckoning
from niddy.studio.errors import Conflict, Missing
from niddy.studio.labels import Label
from niddy.studio.materials import NewLot
from niddy.studio.plan import PlanAsked
from niddy.studio.shelf import FoundAsked, InspectAsked, ItemKind, Left, Wanted
from niddy.studio.tubes import FillAsked
from tests.studio.recording import record_item
from tests.support import NOW, DatabaseTest

WAITS = 30
"""The demo's last batch of its recipe: 41 ml, not released yet, nothing filled yet."""


class Rooms(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        self.small, self.middle, *_ = (tube.id for tube in workshop.workshop(self.session).tube_types)

    def refused(self, field: str, does: object, *what: object, **named: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what, **named)  # type: ignore[operator]
        self.assertEqual(caught.exception.field, field)
        return caught.exception

    def fill(self, number: int = WAITS, **what: object) -> tubes.Done:
        asked = {"id": uuid4(), "tube_type_id": self.middle, "reason": "a trial", **what}
        return tubes.fill(self.session, NOW, number, FillAsked.model_validate(asked))

    def item(self, code: str) -> int:
        found = shelf.by_code(self.session, code)
        assert found is not None
        return found

    def act(self, item: int, kind: str, **what: object) -> shelf.ItemPage:
        asked = {"id": uuid4(), "kind": kind, "made_at": NOW, **what}
        return record_item(self.session, NOW, item, shelf.ITEMS.acts.act_of(asked))

    def look(self, item: int, layer: float, height: float = 80.0, **what: object) -> shelf.ItemPage:
        asked = {"id": uuid4(), "made_on": NOW.date(), "layer_mm": layer, "fill_height_mm": height, **what}
        return shelf.inspect(self.session, NOW, item, InspectAsked.model_validate(asked))


class Filling(Rooms):
    def test_which_to_fill_what_it_weighs_and_what_is_left(self) -> None:
        seen = tubes.filling(self.session, NOW, WAITS)
        self.assertEqual([(k.name, k.suggested) for k in seen.kinds if k.suggested], [("40 ml tube", 1)])
        kind = seen.kinds[1]
        self.assertAlmostEqual(kind.target_gross_g or 0, 9.1 + 40 * seen.density_g_per_ml * 0.98)
        before = materials.pieces(self.session, "tube")["40 ml tube"]
        done = self.fill(gross_g=kind.target_gross_g, place="Drawer 9")
        assert done.weighed is not None
        self.assertEqual(done.weighed.fill, "full")
        self.assertAlmostEqual(done.filling.left_ml, seen.left_ml - 39.2)
        self.assertEqual(materials.pieces(self.session, "tube")["40 ml tube"], before - 1)
        page = shelf.page(self.session, NOW, done.item_id)
        self.assertEqual((page.line.code, page.line.place, page.line.status), (f"{WAITS}-1", "Drawer 9", "kept"))
        self.assertEqual(page.line.next_inspection_on, (NOW + timedelta(days=30)).date())

    def test_what_is_not_released_needs_a_reason(self) -> None:
        self.assertIn("not released yet", self.refused("reason", self.fill, reason=" ").problem)

    def test_sent_twice_it_is_one_tube(self) -> None:
        one = uuid4()
        first = self.fill(id=one)
        again = self.fill(id=one)
        self.assertEqual((again.item_id, len(again.filling.items)), (first.item_id, 1))

    def test_what_cannot_be_is_named(self) -> None:
        self.refused("gross_g", self.fill, gross_g=5.0)
        self.refused("volume_ml", self.fill, volume_ml=60.0)
        self.refused("tube_type_id", self.fill, tube_type_id=999)
        self.refused("tube_type_id", self.fill, tube_type_id=None)
        self.refused("tare_g", self.fill, tube_type_id=None, jar="a cup", gross_g=50.0)
        self.refused("number", tubes.filling, self.session, NOW, 32)
        self.fill()
        left = tubes.filling(self.session, NOW, WAITS).left_ml
        self.refused("volume_ml", self.fill)
        self.refused("volume_ml", self.fill, volume_ml=left * 1.3 + 0.5, part=True)
        with self.assertRaises(Missing):
            tubes.filling(self.session, NOW, 999)

    def test_more_tubes_than_empties(self) -> None:
        for lot in materials.lots(self.session, kind="tube"):
            materials.weigh_in(self.session, NOW, lot.id, 0)
        self.assertIn("no empty 40 ml tube", self.refused("tube_type_id", self.fill).problem)

    def test_the_part_filled_last_one_is_topped_up_by_the_next_batch(self) -> None:
        part = self.fill(volume_ml=25.0, part=True)
        self.assertEqual(shelf.page(self.session, NOW, part.item_id).line.status, "waiting")
        other = 19
        self.assertEqual([one.id for one in tubes.filling(self.session, NOW, other).waiting], [part.item_id])
        before = tubes.filling(self.session, NOW, other).filled_ml
        small = {"tube_type_id": self.small, "top_up_id": part.item_id, "volume_ml": 20.0}
        self.assertIn("it is a 40 ml tube", self.refused("top_up_id", self.fill, other, **small).problem)
        self.refused("volume_ml", self.fill, other, top_up_id=part.item_id, volume_ml=20.0)
        self.refused("volume_ml", self.fill, other, top_up_id=part.item_id, volume_ml=40.0)
        left = tubes.filling(self.session, NOW, other).left_ml
        self.refused("volume_ml", self.fill, other, top_up_id=part.item_id, volume_ml=25.0 + left * 1.2)
        self.fill(other, top_up_id=part.item_id, volume_ml=25.9)
        line = shelf.page(self.session, NOW, part.item_id).line
        self.assertEqual((line.batch_number, line.topped_by, line.status, line.volume_ml), (WAITS, other, "kept", 25.9))
        self.assertAlmostEqual(tubes.filling(self.session, NOW, other).filled_ml, before + 0.9)
        self.assertAlmostEqual(tubes.filling(self.session, NOW, WAITS).filled_ml, 25)

    def test_a_jar_with_a_cover_of_oil(self) -> None:
        done = self.fill(tube_type_id=None, jar="100 ml jar", volume_ml=30.0, cover="oil")
        page = shelf.page(self.session, NOW, done.item_id)
        self.assertEqual((page.line.kind, page.cover, page.line.container), (ItemKind.JAR, "oil", "100 ml jar"))

    def test_a_tube_type_takes_what_its_measures_say(self) -> None:
        made = workshop.keep_tube_type(
            self.session, None, "long tube", diameter_mm=25.0, length_mm=110.0, headspace_mm=25.0
        )
        kept = {one.id: one for one in workshop.workshop(self.session).tube_types}[made]
        self.assertAlmostEqual(kept.usable_ml, 41.724, 3)
        self.refused("headspace_mm", workshop.keep_tube_type, self.session, None, "none", None, 25.0, 110.0, 110.0)
        self.refused("length_mm", workshop.keep_tube_type, self.session, None, "none", None, 25.0)


class OnTheShelf(Rooms):
    def test_about_sixty_oldest_first_and_found_by_word_place_and_code(self) -> None:
        page = shelf.search(self.session, NOW, Wanted(limit=200))
        self.assertTrue(55 <= page.total <= 75)
        days = [one.filled_on for one in page.items]
        self.assertEqual(days, sorted(days))
        self.assertGreater((days[-1] - days[0]).days, 3.5 * 365)
        drawer = shelf.search(self.session, NOW, Wanted(place="Drawer 1"))
        self.assertEqual({one.place for one in drawer.items}, {"Drawer 1"})
        self.assertEqual(
            {one.name for one in shelf.search(self.session, NOW, Wanted(words="green earth")).items}, {"Green earth"}
        )
        self.assertEqual(shelf.by_code(self.session, "#1"), self.item("1-1"))
        self.assertIsNone(shelf.by_code(self.session, "nothing"))
        due = shelf.search(self.session, NOW, Wanted(only_due=True, limit=200)).items
        self.assertTrue(due and all(one.due for one in due))

    def test_an_inspection_decides_and_sets_the_next(self) -> None:
        item = self.item("27-1")
        page = self.look(item, 0.0)
        self.assertEqual((page.line.last_outcome, page.line.due), (Outcome.GOOD, False))
        page = self.look(item, 3.0)
        self.assertIs(page.line.last_outcome, Outcome.STIR_BACK)
        assert page.line.next_inspection_on is not None
        self.assertLess(page.line.next_inspection_on, NOW.date() + timedelta(days=60))
        page = self.act(item, "stir_back")
        self.assertIs(page.line.last_outcome, Outcome.GOOD)
        self.assertEqual([event.kind for event in page.events], ["put", "inspected", "inspected", "stir_back"])

    def test_before_its_filling_or_to_come_is_refused(self) -> None:
        item = self.item("27-1")
        self.refused("made_on", self.look, item, 0.0, made_on=NOW.date() - timedelta(days=5_000))
        self.refused("made_on", self.look, item, 0.0, made_on=NOW.date() + timedelta(days=2))
        self.refused("layer_mm", self.look, item, 90.0)

    def test_what_can_hurt_stands_at_the_step(self) -> None:
        lead = shelf.page(self.session, NOW, self.item("3-1"))
        self.assertEqual(lead.beware, ("Lead",))
        self.assertIn("Lead", lead.hazards)
        black = shelf.page(self.session, NOW, self.item("24-1"))
        self.assertEqual(black.beware, ())
        self.assertEqual(tubes.filling(self.session, NOW, 3).beware, ("Lead",))

    def test_bad_separation_marks_the_recipe(self) -> None:
        self.assertIsNone(recipes.page(self.session, 1).bleeds_since)
        page = self.look(self.item("15-1"), 20.0)
        self.assertIs(page.line.last_outcome, Outcome.REGRIND_PRONE)
        self.assertEqual(recipes.page(self.session, 1).bleeds_since, NOW)
        self.assertIn(page.line.id, [one.id for one in shelf.search(self.session, NOW, Wanted(at_risk=True)).items])

    def test_back_on_the_slab_it_is_a_batch_of_known_ratio(self) -> None:
        item = self.item("15-1")
        of = batches.batch(self.session, 10, 0)
        before = {lot.id: lot.on_hand for lot in materials.lots(self.session, limit=500)}
        request = uuid4()
        made = shelf.regrind(self.session, NOW, item, request)
        self.assertEqual(shelf.regrind(self.session, NOW, item, request), made)
        view = slab.view(self.session, NOW, made.number)
        assert view.ratio is not None and view.volume is not None
        self.assertAlmostEqual(view.ratio.value, of.paste.oil_g_per_100g or 0, 3)
        self.assertAlmostEqual(view.volume.value, 40.0, 1)
        self.assertEqual({lot.id: lot.on_hand for lot in materials.lots(self.session, limit=500)}, before)
        self.assertEqual(shelf.page(self.session, NOW, item).line.status, "reground")
        self.refused("kind", self.act, item, "move", place="Drawer 1")

    def test_given_sold_discarded_and_back(self) -> None:
        item = self.item("2-1")
        self.refused("text", self.act, item, "leave", how=Left.DISCARDED)
        self.refused("how", self.act, item, "leave", how=Left.REGROUND)
        self.refused("place", self.act, item, "move", place=" ")
        self.assertEqual(self.act(item, "leave", how=Left.SOLD, text="a painter").line.status, "sold")
        self.assertEqual(self.act(item, "back").line.status, "kept")
        self.assertEqual(self.act(item, "lift_skin", volume_ml=30.0).line.volume_ml, 30.0)
        self.refused("volume_ml", self.act, item, "lift_skin", volume_ml=31.0)

    def test_sent_twice_it_counts_once(self) -> None:
        item = self.item("2-1")
        asked = InspectAsked(id=uuid4(), made_on=NOW.date(), layer_mm=1.0, fill_height_mm=80.0)
        for _ in range(2):
            page = shelf.inspect(self.session, NOW, item, asked)
        count = sum(event.id == asked.id for event in page.events)
        self.assertEqual(count, 1)
        with self.assertRaises(Conflict):
            shelf.inspect(self.session, NOW, item, asked.model_copy(update={"skin": Skin.SKIN}))

    def found(self, **what: Any) -> int:
        return shelf.find(self.session, NOW, FoundAsked.model_validate({"id": uuid4(), "srgb": "#7d3820", **what}))

    def test_of_a_bought_paint_what_its_label_says_is_enough(self) -> None:
        item = self.found(what="bought", name="Warm grey", label="PBr7, PW 4; linseed oil", jar_ml=40.0, full=0.5)
        (held,) = shelf.held(self.session, [item])
        self.assertEqual((held.line.name, held.line.volume_ml, held.line.unknown_hazard), ("Warm grey", 20.0, False))
        self.assertIn("zinc", held.hazards)
        (label,) = labels.texts(self.session, [item])
        self.assertEqual(label.besides, "Its own label says: PBr7, PW 4; linseed oil.")
        self.assertNotIn("Unknown", label.hazards)
        self.assertEqual(shelf.page(self.session, NOW, item).label_says, "PBr7, PW 4; linseed oil")

    def test_a_label_that_names_nothing_known_here_leaves_it_an_unknown_hazard(self) -> None:
        for label in ("", "made with love", "PBr7 and PR9999", "PX12"):
            item = self.found(what="bought", name="Odd", label=label, volume_ml=40.0)
            (held,) = shelf.held(self.session, [item])
            self.assertTrue(held.line.unknown_hazard, label)

    def test_a_label_with_year_and_month_or_the_year_alone_is_date_enough(self) -> None:
        for what, day, said in (
            ({"year": 2019, "month": 4}, date(2019, 4, 1), "April 2019"),
            ({"year": 2019, "dated": "made"}, date(2019, 1, 1), "made 2019"),
            ({}, NOW.date(), "it will not open"),
        ):
            item = self.found(what="shut", volume_ml=100.0, **what)
            page = shelf.page(self.session, NOW, item)
            self.assertEqual((page.line.filled_on, said in page.note), (day, True), page.note)
            self.assertTrue(page.line.unknown_hazard)
        self.refused("year", self.found, what="shut", volume_ml=100.0, year=NOW.year + 2)

    def test_what_is_said_of_how_much_there_is_must_be_possible(self) -> None:
        self.refused("volume_ml", self.found, jar_ml=370.0)
        self.refused("full", self.found, jar_ml=370.0, full=1.2)
        self.refused("name", self.found, what="bought", volume_ml=40.0)

    def test_a_found_jar_is_matched_and_settled(self) -> None:
        self.refused(
            "tare_g",
            shelf.find,
            self.session,
            NOW,
            FoundAsked(id=uuid4(), srgb="#1f2f8f", volume_ml=60.0, gross_g=200.0),
        )
        self.refused(
            "gross_g",
            shelf.find,
            self.session,
            NOW,
            FoundAsked(id=uuid4(), srgb="#1f2f8f", volume_ml=60.0, gross_g=90.0, tare_g=98.0),
        )
        page = shelf.page(self.session, NOW, self.item("F-1"))
        self.assertTrue(page.line.unknown_hazard)
        self.assertEqual(page.likely[0].number, 1)
        self.refused("id", shelf.regrind, self.session, NOW, page.line.id, uuid4())
        page = shelf.settle(self.session, NOW, page.line.id, 1)
        self.assertEqual((page.line.name, page.line.unknown_hazard, page.likely), ("Ultramarine blue", False, ()))

    def test_home_tells_what_is_at_risk_and_due(self) -> None:
        seen = home.home(self.session, NOW)
        says = [one.says for one in seen.attention]
        self.assertLessEqual(len(says), 3)
        self.assertRegex(says[1], r"^\d+ tubes or jars are separated, skinned or too old: save them$")
        self.assertEqual([one.harm for one in seen.attention], sorted((o.harm for o in seen.attention), reverse=True))
        self.assertEqual((seen.counts.tubes, seen.empty), (1, False))


class WhatItCosts(Rooms):
    def test_a_batch_by_its_lots(self) -> None:
        told = cost.cost(self.session, CostAsked(batch_number=24, bought_per_tube=Decimal("9.50"), tools=Decimal(180)))
        kept = batches.batch(self.session, 24, 0)
        black = Decimal(f"{kept.paste.pigment_g / 1000:.5f}") * Decimal("14.50")
        self.assertEqual(told.cost.lines[0].cost, black.quantize(Decimal("0.01")))
        self.assertEqual((told.currency, told.tubes, told.tube_name), ("EUR", 3, "40 ml tube"))
        assert told.cost.against is not None
        self.assertGreater(told.cost.against.pays_back_tubes or 0, 5)

    def test_a_plan_and_what_has_no_price(self) -> None:
        asked = batches.batch(self.session, 1, 0).asked
        told = cost.cost(self.session, CostAsked.model_validate({"plan": asked}))
        self.assertEqual(set(told.cost.missing), {"Ultramarine blue", "Linseed oil, refined"})
        self.refused("batch_number", cost.cost, self.session, CostAsked())

    def test_a_recipe_by_its_batches(self) -> None:
        told = cost.of_recipe(self.session, 1, Reckoning(label_price=Decimal("0.10")))
        numbers = [one.number for one in told.batches]
        self.assertEqual(numbers, sorted(numbers, reverse=True))
        alone = cost.cost(self.session, CostAsked(batch_number=numbers[0], label_price=Decimal("0.10")))
        self.assertEqual((told.batches[0].total, told.batches[0].per_ml), (alone.cost.total, alone.cost.per_ml))
        per_ml = [one.per_ml for one in told.batches]
        self.assertEqual((told.together.low, told.together.high), (min(per_ml), max(per_ml)))
        self.assertTrue(min(per_ml) <= told.together.per_ml <= max(per_ml))
        with self.assertRaises(Missing):
            cost.of_recipe(self.session, 999, Reckoning())
        bare = recipes.make(self.session, NOW, "Never made", recipes.page(self.session, 1).versions[1].asked)
        self.refused("recipe_id", cost.of_recipe, self.session, bare, Reckoning())

    def test_what_if_more_were_made(self) -> None:
        once = cost.cost(self.session, CostAsked(batch_number=24))
        thrice = cost.cost(self.session, CostAsked(batch_number=24, times=3.0))
        self.assertAlmostEqual(float(thrice.volume_ml), 3 * float(once.volume_ml), 3)
        self.assertEqual(thrice.tubes, 3 * once.tubes)
        self.assertAlmostEqual(float(thrice.cost.per_ml), float(once.cost.per_ml), 3)
        for one, more in zip(once.cost.lines, thrice.cost.lines, strict=True):
            self.assertAlmostEqual(float(more.amount), 3 * float(one.amount), 3)
        # Half of three tubes is one tube and a rest.
        half = cost.cost(self.session, CostAsked(batch_number=24, times=0.5))
        self.assertEqual(half.tubes, once.tubes // 2)

    def test_what_if_it_were_of_another_lot(self) -> None:
        new = NewLot("pigment", "bone-black", "BB-9", NOW.date(), 500, price_per_unit=Decimal("29.00"))
        other = materials.receive(self.session, NOW, new)
        once = cost.cost(self.session, CostAsked(batch_number=24))
        choice = next(one for one in once.choices if other in {lot.lot_id for lot in one.lots})
        self.assertNotEqual(choice.lot_id, other)
        told = cost.cost(self.session, CostAsked(batch_number=24, instead={choice.source: other}))
        line, before = told.cost.lines[choice.line], once.cost.lines[choice.line]
        self.assertEqual((line.price_per_unit, before.price_per_unit), (Decimal("29.0000"), Decimal("14.5000")))
        self.assertEqual(line.amount, before.amount)
        self.assertGreater(told.cost.total, once.cost.total)
        oil = next(one for one in once.choices if one.line != choice.line)
        self.refused(
            f"instead.{oil.source}", cost.cost, self.session, CostAsked(batch_number=24, instead={oil.source: other})
        )


LABEL = Label(
    "Lead-tin yellow",
    "Lead-tin yellow (PY0)",
    "Walnut oil",
    "Pigment and oil only.",
    "24-1, batch 24",
    "20 Apr 2023",
    "",
    "40 ml",
    "Lead. Follow the safety data sheet.",
    ("health", "exclamation"),
    "http://127.0.0.1/batches/24",
)


def words(pdf: bytes, page: int = 0) -> str:
    return pypdf.PdfReader(io.BytesIO(pdf)).pages[page].extract_text()


class Labels(Rooms):
    def test_read_back_with_text_page_size_and_code(self) -> None:
        printed = labels_pdf.labels([LABEL] * 5, Sheet("a4", 2, 2, 10, 15, 5, 2))
        read = pypdf.PdfReader(io.BytesIO(printed.pdf))
        self.assertEqual((len(read.pages), printed.pages), (2, 2))
        self.assertAlmostEqual(float(read.pages[0].mediabox.width), 595.28, 1)
        for part in ("Lead-tin yellow", "Pigment and oil only.", "batch 24", "40 ml", "Lead"):
            self.assertIn(part, words(printed.pdf))
        picture = Image.open(io.BytesIO(printing.picture(printed.pdf, width_px=1600)))
        self.assertEqual({code.text for code in zxingcpp.read_barcodes(picture)}, {LABEL.address})
        self.assertEqual(len(zxingcpp.read_barcodes(picture)), 4)

    def test_a_used_sheet_starts_at_its_first_free_place(self) -> None:
        sheet = Sheet("letter", 2, 3, 10, 15, 5, 2)
        self.assertEqual(labels_pdf.labels([LABEL] * 3, sheet, 4).pages, 1)
        self.assertEqual(labels_pdf.labels([LABEL] * 4, sheet, 4).pages, 2)
        self.refused("start_at", labels_pdf.labels, [LABEL], sheet, 7)

    def test_single_labels_and_grids_that_do_not_fit(self) -> None:
        one = labels_pdf.labels([LABEL], Sheet(single_mm=(60, 30)))
        self.assertAlmostEqual(float(pypdf.PdfReader(io.BytesIO(one.pdf)).pages[0].mediabox.width), 60 / 25.4 * 72, 1)
        self.refused("columns", labels_pdf.labels, [LABEL], Sheet(columns=9))
        self.refused("rows", labels_pdf.labels, [LABEL], Sheet(rows=30))
        self.refused("width_mm", labels_pdf.labels, [LABEL], Sheet(single_mm=(10, 30)))
        self.refused("items", labels_pdf.labels, [], Sheet())

    def test_long_and_foreign_names_are_shrunk_and_never_cut_in_silence(self) -> None:
        long = "Very " * 40 + "long blue"
        fits = labels_pdf.labels([replace(LABEL, name=long)], Sheet(single_mm=(90, 50)))
        self.assertIn("long blue", words(fits.pdf).replace("\n", " "))
        self.assertEqual(fits.says, ())
        tiny = labels_pdf.labels([replace(LABEL, name=long)], Sheet(single_mm=(30, 16)))
        self.assertTrue(any("is cut" in one for one in tiny.says))
        cyrillic = labels_pdf.labels([replace(LABEL, name="Синяя земля")], Sheet(single_mm=(90, 50)))
        self.assertIn("Синяя", words(cyrillic.pdf))
        self.assertEqual(cyrillic.says, ())
        # Hebrew reads from the right; Arabic letters take the form of their place.
        hebrew = labels_pdf.labels([replace(LABEL, name="כחול")], Sheet(single_mm=(90, 50)))
        self.assertEqual(hebrew.says, ())
        self.assertEqual([printing.visual("כחול 12"), printing.visual("blue 12")], ["12 לוחכ", "blue 12"])
        says: list[str] = []
        self.assertEqual(printing.printable("أزرق", says), "\ufe83\ufeaf\ufead\ufed5")
        self.assertEqual(says, [])
        other = labels_pdf.labels([replace(LABEL, name="\u85cd")], Sheet(single_mm=(90, 50)))
        self.assertTrue(any("U+85CD" in one for one in other.says))

    def test_a_lid_is_round_and_a_sleeve_is_folded_and_both_say_all_they_must(self) -> None:
        long = replace(LABEL, name="Transparent iron oxide yellow, third lot of the river", studio="The Shed")
        for label in (LABEL, long):
            with self.subTest(label.name):
                lid = labels_pdf.labels([label], Sheet(single_mm=(55, 55), form=LabelForm.ROUND))
                self.assertEqual(lid.says, ())
                self.assertIn(label.name.split()[-1], words(lid.pdf))
                self.assertNotIn("data sheet", words(lid.pdf), "that stands on the jar, with the room it needs")
                sleeve = labels_pdf.labels([label], Sheet(single_mm=(60, 56), form=LabelForm.SLEEVE))
                for part in (label.name.split()[-1], "Lead", "glue"):
                    self.assertIn(part, words(sleeve.pdf))
                self.assertFalse([one for one in sleeve.says if "cut" in one])
        picture = Image.open(io.BytesIO(printing.picture(lid.pdf, width_px=1200)))
        self.assertEqual([code.text for code in zxingcpp.read_barcodes(picture)], [LABEL.address])
        # Outside the circle the paper stays white.
        self.assertEqual(picture.convert("L").getpixel((20, 20)), 255)

    def test_the_mark_stands_on_the_front(self) -> None:
        drawn = Image.new("RGBA", (900, 300), (0, 0, 0, 0))
        drawn.paste((20, 40, 200, 255), (0, 0, 900, 150))
        out = io.BytesIO()
        drawn.save(out, "PNG")
        workshop.keep_mark(self.session, photos.mark(out.getvalue()))
        kept = Image.open(io.BytesIO(workshop.mark(self.session) or b""))
        self.assertEqual((kept.format, kept.size), ("PNG", (240, 80)))
        self.assertEqual(kept.convert("RGB").getpixel((5, 70)), (255, 255, 255), "white where it let through")
        for sheet in (Sheet(single_mm=(65, 38)), Sheet(single_mm=(55, 55), form=LabelForm.ROUND)):
            with_it = labels_pdf.labels([replace(LABEL, mark=workshop.mark(self.session))], sheet)
            seen = Image.open(io.BytesIO(printing.picture(with_it.pdf, width_px=800))).convert("RGB")
            blue = sum(n for n, (r, g, b) in seen.getcolors(1 << 20) or () if b > 150 and r < 60 and g < 80)
            self.assertGreater(blue, 800)
        self.refused("picture", photos.mark, b"not a picture")
        self.assertTrue(workshop.workshop(self.session).has_mark)
        workshop.keep_mark(self.session, None)
        self.assertEqual((workshop.mark(self.session), workshop.workshop(self.session).has_mark), (None, False))

    def test_each_front_has_its_manner_and_breaks_no_word_that_could_be_smaller(self) -> None:
        label = replace(LABEL, name="Unknown ultramarine", colour="#1c2a90", studio="Saltmarsh Bench")
        blue: dict[LabelStyle, int] = {}
        for style in LabelStyle:
            for size in ((65, 38), (90, 50), (40, 60), (25, 15)):
                printed = labels_pdf.labels([label], Sheet(single_mm=size), style=style)
                said = words(printed.pdf)
                for word in ("Unknown", "ultramarine", "Saltmarsh Bench"):
                    self.assertTrue(word in said or size == (25, 15), (style, size, said))
            bits = np.asarray(Image.open(io.BytesIO(printing.picture(printed.pdf)))).astype(int)
            blue[style] = int(((bits[..., 2] > 120) & (bits[..., 0] < 60)).sum())
        self.assertGreater(blue[LabelStyle.BAND], 2 * blue[LabelStyle.RULE])
        self.assertEqual(blue[LabelStyle.DAB], 0)
        unread = labels_pdf.labels([replace(label, colour="")], Sheet(single_mm=(90, 50)))
        self.assertIn("dab", words(unread.pdf), "what has no colour yet has room for one")
        can = labels_pdf.labels([replace(label, colour="", dab=False)], Sheet(single_mm=(90, 50)))
        self.assertNotIn("dab", words(can.pdf), "nobody dabs from a can of solvent")

    def test_pictograms_are_of_the_usual_size_or_it_is_said(self) -> None:
        marked = replace(LABEL, pictograms=("health", "exclamation", "environment", "flame"))
        self.assertEqual(labels_pdf.labels([marked], Sheet(single_mm=(90, 50))).says, ())
        small = labels_pdf.labels([marked], Sheet(single_mm=(50, 25)))
        self.assertTrue(any("1 cm²" in one for one in small.says))
        red = [0, 0]
        for n, label in enumerate((replace(marked, pictograms=()), marked)):
            printed = labels_pdf.labels([label], Sheet(single_mm=(90, 50)))
            bits = np.asarray(Image.open(io.BytesIO(printing.picture(printed.pdf)))).astype(int)
            red[n] = int(((bits[..., 0] > 150) & (bits[..., 1] < 80) & (bits[..., 2] < 80)).sum())
        self.assertEqual(red[0], 0)
        self.assertGreater(red[1], 1_000)

    def test_no_word_stands_outside_its_label(self) -> None:
        sheet = Sheet("a4", 3, 7, 8, 12, 4, 3)
        width, height = (side * 72 / 25.4 for side in labels_pdf.size_of(sheet))
        long = replace(LABEL, pigments="Viridian (PG18), " * 9, name="Green " * 12, pictograms=("health", "flame"))
        printed = labels_pdf.labels([long] * 21, sheet)
        page = pypdf.PdfReader(io.BytesIO(printed.pdf)).pages[0]
        seen: list[tuple[float, float]] = []

        def visit(text: str, _cm: object, matrix: list[float], _font: object, _size: object) -> None:
            if text.strip():
                seen.append((matrix[4], matrix[5]))

        page.extract_text(visitor_text=visit)
        self.assertGreater(len(seen), 21 * 3)
        left, top = 8 * 72 / 25.4, float(page.mediabox.height) - 12 * 72 / 25.4
        pitch_x, pitch_y = width + 4 * 72 / 25.4, height + 3 * 72 / 25.4
        for x, y in seen:
            column, row = int((x - left) // pitch_x), int((top - y) // pitch_y)
            self.assertTrue(0 <= column < 3 and 0 <= row < 7, (x, y))
            self.assertLess(x - left - column * pitch_x, width)
            self.assertLess(top - y - row * pitch_y, height)

    def test_its_words_are_of_its_own_record(self) -> None:
        buff, black, jar = (self.item(code) for code in ("28-1", "24-1", "F-1"))
        told = labels.texts(self.session, [buff, black, jar])
        self.assertEqual(told[0].besides, "With egg yolk.")
        self.assertIn("Use by 10 Jun 2026", told[0].use_by)
        self.assertEqual(told[1].besides, "Pigment and oil only.")
        self.assertIn("PBk9", told[1].pigments)
        self.assertIn("Unknown", told[2].hazards)
        lead = labels.texts(self.session, [self.item("3-1")])[0]
        self.assertIn("Lead", lead.hazards)
        self.assertIn("health", lead.pictograms)

    def test_a_list_on_paper_takes_as_many_pages_as_it_needs(self) -> None:
        rows = tuple((f"{n}-1", "Ultramarine blue with a rather long name " * 2) for n in range(120))
        made = lists_pdf.table(
            lists_pdf.Table("Shelf", "today", (("code", 1, False), ("paint", 3, True)), rows, ("#1f2f8f",) * 120)
        )
        self.assertGreater(made.pages, 2)
        self.assertIn("119-1", words(made.pdf, made.pages - 1))


class Truth(Rooms):
    """What is on the label and in the count follows the paint, not the plan."""

    def take(self, **plan: object) -> int:
        asked = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 100.0,
            **plan,
        }
        self.number = slab.take_to_slab(self.session, NOW, uuid4(), PlanAsked.model_validate(asked))
        self.log("ready")
        self.log("powder", source="library-bone-black", measure={"amount": 100.0})
        self.log("oil", source="library-linseed-refined", measure={"amount": 38.0})
        return self.number

    def take_of(self, lot: int) -> None:
        asked = {
            "lines": [{"lot_id": lot, "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 100.0,
        }
        self.number = slab.take_to_slab(self.session, NOW, uuid4(), PlanAsked.model_validate(asked))
        self.log("ready")
        self.log("powder", source=f"lot-{lot}", measure={"amount": 100.0})
        self.log("oil", source="library-linseed-refined", measure={"amount": 58.0})

    def log(self, kind: str, **what: object) -> slab.SlabView:
        act = slab.act_of({"id": uuid4(), "kind": kind, "made_at": NOW, **what})
        return slab.record(self.session, NOW, self.number, act)

    def finished(self) -> None:
        self.log("look", stage="even_paste", body="tube")
        self.log("finish", verdict="right", tubes=[], leftover_ml=60.0)

    def test_a_drier_beside_the_plan_brings_its_caution_and_is_on_label_and_shelf(self) -> None:
        self.take()
        seen = self.log("additive", source="library-zirconium-drier", measure={"amount": 0.05})
        self.assertIn("driers", [one.key for one in seen.cautions])
        self.finished()
        item = self.fill(self.number, tube_type_id=self.small).item_id
        label = labels.texts(self.session, [item])[0]
        self.assertIn("Driers", label.hazards)
        self.assertIn("Driers", shelf.page(self.session, NOW, item).hazards)
        # Ground again, the drier and its hazard go on into the new batch and onto its label.
        again = shelf.regrind(self.session, NOW, item, uuid4()).number
        paste = batches.batch(self.session, again, 0).paste
        self.assertEqual([one.what.name for one in paste.additives.values()], ["Zirconium drier"])
        self.assertIn("driers", [one.key for one in slab.view(self.session, NOW, again).cautions])
        self.number = again
        self.log("finish", verdict="right", tubes=[], leftover_ml=15.0)
        second = self.fill(again, tube_type_id=self.small, volume_ml=10.0).item_id
        relabel = labels.texts(self.session, [second])[0]
        self.assertIn("Driers", relabel.hazards)
        self.assertNotIn("Pigment and oil only", relabel.besides)

    def test_paint_that_spoils_waits_for_no_other_batch(self) -> None:
        self.take()
        self.log("additive", source="library-egg-yolk", measure={"amount": 1.0})
        self.finished()
        self.assertTrue(tubes.filling(self.session, NOW, self.number).spoils)
        with self.assertRaises(Refused) as refused:
            self.fill(self.number, tube_type_id=self.small, volume_ml=5.0, part=True)
        self.assertEqual(refused.exception.field, "part")
        item = self.fill(self.number, tube_type_id=self.small).item_id
        self.assertEqual(shelf.page(self.session, NOW, item).line.status, "kept")

    def test_what_nobody_logged_is_never_called_pigment_and_oil_only(self) -> None:
        hazards = ("unknown-parts",)
        black = library().pigments["bone-black"]
        cake = materials.add_own(
            self.session, NOW, "pigment", replace(black, key="", name="Grey cake", hazards=hazards)
        )
        lot = materials.receive(self.session, NOW, NewLot("pigment", cake, "CAKE", NOW.date(), 300.0))
        self.take_of(lot)
        seen = slab.view(self.session, NOW, self.number)
        self.assertEqual((seen.pigment_and_oil_only, seen.fully_known), (False, False))
        self.finished()
        item = self.fill(self.number, tube_type_id=self.small).item_id
        said = labels.texts(self.session, [item])[0].besides
        self.assertEqual(said, "Recycled; contents not fully known: treat as hazardous.")

    def test_a_lot_of_an_additive_leads_to_its_batches_planned_or_not(self) -> None:
        new = [
            materials.receive(self.session, NOW, NewLot("additive", "aluminium-stearate", code, NOW.date(), 100.0))
            for code in ("AS-planned", "AS-beside")
        ]
        self.take(additives=[{"lot_id": new[0], "dose_pct": 1.0}])
        self.log("additive", source=f"lot-{new[1]}", measure={"amount": 0.4})
        for lot in new:
            found = batches.search(self.session, batches.Search(lot_id=lot)).batches
            self.assertEqual([one.number for one in found], [self.number])

    def test_lifting_a_skin_gives_nothing_back_to_the_batch_and_tubes_have_one_count(self) -> None:
        self.take()
        self.finished()
        item = self.fill(self.number, tube_type_id=self.middle).item_id
        left = tubes.filling(self.session, NOW, self.number).left_ml
        self.act(item, "lift_skin", volume_ml=5.0)
        self.assertEqual(tubes.filling(self.session, NOW, self.number).left_ml, left)
        self.assertEqual(shelf.taken_of(self.session, [self.number]), {self.number: 40.0})
        self.assertEqual(batches.line(self.session, self.number).tubes_filled, 1)

    def test_a_topped_up_tube_holds_the_hazards_of_both_paints(self) -> None:
        recipe = batches.made(self.session, WAITS).recipe_id
        item = self.fill(part=True, volume_ml=5.0).item_id
        blue = Content("lot-9", Role.PIGMENT, "Cobalt blue", 1.4, 3.8, ("cobalt", "nuisance-dust"), "PB 28")
        drier = Content("library-zirconium-drier", Role.ADDITIVE, "Zirconium drier", 0.01, 0.95, ("driers", "solvent"))
        shelf.top_up(self.session, NOW, item, uuid4(), WAITS, 20.0, (blue, drier))
        self.assertIsNotNone(recipe)
        self.assertTrue({"Cobalt", "Driers"} <= set(shelf.page(self.session, NOW, item).hazards))
        label = labels.texts(self.session, [item])[0]
        self.assertIn("Cobalt", label.hazards)
        self.assertIn("Cobalt blue (PB 28)", label.pigments)
        self.assertEqual(label.besides, "With zirconium drier.")
        (held,) = shelf.held(self.session, [item])
        self.assertAlmostEqual(next(one.grams for one in held.contents if one.name == "Cobalt blue"), 1.4 * 15.0)

    def test_an_act_of_another_age_is_refused(self) -> None:
        item = self.item("F-1") if shelf.by_code(self.session, "F-1") else self.fill().item_id
        for year in (1, 1899, 9999):
            self.refused("made_at", self.act, item, "note", text="x", made_at=NOW.replace(year=year))


class AtTheSameMoment(DatabaseTest):
    with_demo = True

    def test_eight_fills_at_once_are_each_there_once_and_never_overfill(self) -> None:
        with self.database.session() as session:
            small = workshop.workshop(session).tube_types[0].id
            left = tubes.filling(session, NOW, WAITS).left_ml

        def fill(_: int) -> str:
            asked = FillAsked.model_validate({"id": uuid4(), "tube_type_id": small, "reason": "at once"})
            try:
                with self.database.session() as session:
                    tubes.fill(session, NOW, WAITS, asked)
                return "filled"
            except Refused as refusal:
                return refusal.field

        with ThreadPoolExecutor(8) as pool:
            told = list(pool.map(fill, range(8)))
        self.assertEqual(set(told), {"filled", "volume_ml"})
        with self.database.session() as session:
            taken = shelf.taken_of(session, [WAITS])[WAITS]
            found = tubes.filling(session, NOW, WAITS).items
        self.assertEqual(len({one.code for one in found}), told.count("filled"))
        self.assertLessEqual(taken, left * tubes.SPARE + 0.5)
