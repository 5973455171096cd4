"""Recipes swapped as files: out and in again, into another studio with its materials, and what is refused."""

import json
from typing import Any

from niddy.core.errors import Refused
from niddy.core.materials import Pigment
from niddy.exchange import printing, swap_card, swap_json
from niddy.settings import ROOT
from niddy.studio import materials, recipes, swap
from niddy.studio.recipes import RecipeAsked, swapping
from niddy.studio.swap import SwapKind
from niddy.studio.swapped import RecipeFile
from tests.support import NOW, DatabaseTest

RED = {
    "key": "",
    "ci_name": "",
    "family": "earth",
    "density_g_per_ml": 3.4,
    "oil_absorption_low": 24.0,
    "oil_absorption_high": 36.0,
    "loose_density_g_per_ml": 0.8,
    "particle": "medium",
    "opacity": "opaque",
    "tinting": "medium",
    "staining": 1,
    "lightfast_class": "I",
    "drying": "medium",
    "hazards": ("silica",),
    "masstone_srgb": "#8a3a2a",
}


class Swapped(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def red(self, name: str = "Cliff red", **what: Any) -> str:
        return materials.add_own(self.session, NOW, "pigment", Pigment(name=name, **{**RED, **what}))

    def recipe(self, *pigment_keys: str, **what: Any) -> RecipeAsked:
        return RecipeAsked.model_validate(
            {
                "pigments": [{"pigment_key": key, "parts": n + 1.0} for n, key in enumerate(pigment_keys)],
                "oil_keys": ["linseed-refined", "walnut-refined"],
                "reduced_pvc": 0.84,
                **what,
            }
        )

    def made(self, asked: RecipeAsked, name: str = "Door red") -> RecipeFile:
        file = swapping.as_file(self.session, recipes.make(self.session, NOW, name, asked))
        return swap_json.load(swap_json.dump(file).encode())

    def refused(self, field: str, text: bytes) -> Refused:
        with self.assertRaises(Refused) as caught:
            swapping.look(self.session, swap_json.load(text))
        self.assertEqual(caught.exception.field, field)
        return caught.exception

    def test_out_and_in_again_is_the_same_promise(self) -> None:
        asked = self.recipe(
            "burnt-sienna",
            "bone-black",
            stance="additives",
            additives=[{"additive_key": "beeswax", "dose_pct": 1.5}],
            minutes_per_load=12.0,
            checks=[{"kind": "spread", "target": 40.0, "low": 36.0, "high": 44.0}],
        )
        file = self.made(asked)
        looked = swapping.look(self.session, file)
        self.assertTrue(looked.name_taken)
        self.assertEqual({one.state for one in looked.materials}, {"known"})
        with self.assertRaises(Refused) as caught:
            swapping.take_in(self.session, NOW, file, file.name)
        self.assertEqual(caught.exception.field, "name")
        back = swapping.take_in(self.session, NOW, file, "Door red, from a friend")
        self.assertEqual(recipes.version_of(self.session, back, None).asked, asked)

    def test_a_material_of_their_own_comes_along_and_one_of_ours_counts(self) -> None:
        file = self.made(self.recipe(self.red()))
        document = file.model_dump(mode="json")
        document["materials"][0] |= {"key": "own-harbour-red", "name": "Harbour red"}
        document["recipe"]["pigments"][0]["pigment_key"] = "own-harbour-red"
        theirs = swap_json.load(json.dumps(document).encode())
        looked = swapping.look(self.session, theirs)
        self.assertEqual((looked.materials[0].name, looked.materials[0].state), ("Harbour red", "new"))
        made = swapping.take_in(self.session, NOW, theirs, "Harbour door")
        key = recipes.version_of(self.session, made, None).asked.pigments[0].pigment_key
        found = materials.pigment_of(self.session, key)
        assert found is not None
        self.assertEqual((found.name, found.oil_absorption_high, found.hazards), ("Harbour red", 36.0, ("silica",)))

        document["materials"][0]["values"]["oil_absorption_high"] = 50.0
        again = swapping.look(self.session, swap_json.load(json.dumps(document).encode()))
        self.assertEqual(again.materials[0].state, "differs")
        self.assertIn("oil absorption high", again.materials[0].says)

    def test_what_is_not_understood_is_said_kept_and_goes_on(self) -> None:
        document = self.made(self.recipe("burnt-sienna")).model_dump(mode="json") | {"varnish_after_months": 9}
        file = swap_json.load(json.dumps(document).encode())
        self.assertEqual(swapping.look(self.session, file).not_understood, ("varnish_after_months",))
        taken = swapping.take_in(self.session, NOW, file, "Varnished")
        self.assertEqual(swapping.as_file(self.session, taken).model_dump()["varnish_after_months"], 9)

    def test_what_belongs_to_the_other_studio_stays_there(self) -> None:
        document = self.made(self.recipe("burnt-sienna")).model_dump(mode="json")
        document["recipe"]["standard_batch"] = 77
        file = swap_json.load(json.dumps(document).encode())
        self.assertIn("standard batch", swapping.look(self.session, file).left_out[0])
        taken = swapping.take_in(self.session, NOW, file, "No standard")
        self.assertIsNone(recipes.version_of(self.session, taken, None).asked.standard_batch)

    def test_what_is_no_recipe_is_refused_in_words_and_nothing_comes_in(self) -> None:
        good = self.made(self.recipe(self.red())).model_dump(mode="json")

        def with_(**what: Any) -> bytes:
            return json.dumps(good | what).encode()

        self.assertIn("not a JSON", self.refused("file", b"%PDF-1.7").problem)
        self.assertIn("not a recipe, base or process", self.refused("file", b"[1, 2]").problem)
        self.assertIn("not a recipe, base or process", self.refused("file", with_(format="other")).problem)
        self.assertIn("newer", self.refused("file", with_(version=99)).problem)
        self.assertIn("damaged", self.refused("file", with_(materials="none")).problem)
        self.assertIn("recipe is damaged", self.refused("file", with_(recipe={"pigments": []})).problem)
        self.assertIn("kB", self.refused("file", b" " * 600_000).problem)
        self.refused("file", b"[" * 100_000)
        odd_recipe = {**good["recipe"], "pigments": [{"pigment_key": "own-odd", "parts": 1.0}]}
        for values in ({"density_g_per_ml": "heavy"}, {**RED, "oil_absorption_low": 60.0}):
            odd = {"kind": "pigment", "key": "own-odd", "name": "Odd", "values": values}
            text = with_(materials=[odd, *good["materials"]], recipe=odd_recipe)
            before = len(materials.own_materials(self.session))
            with self.assertRaises(Refused), self.session.begin_nested():
                swapping.take_in(self.session, NOW, swap_json.load(text), "Odd one")
            self.assertEqual(len(materials.own_materials(self.session)), before)
        unknown = with_(materials=[*good["materials"], {"kind": "additive", "key": "x", "name": "Moon dust"}])
        self.assertIn("Moon dust", self.refused("file", unknown).problem)

    def test_the_published_schema_is_that_of_the_program(self) -> None:
        for kind in SwapKind:
            self.assertEqual((ROOT / "docs" / f"{kind}.schema.json").read_text(), swap_json.schema(kind))


class BasesAndProcesses(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def test_each_goes_out_and_comes_in_under_another_name_and_what_nobody_knows_goes_on(self) -> None:
        for kind in SwapKind:
            with self.subTest(kind):
                document = json.loads(swap_json.dump(swap.as_file(self.session, kind, 1)))
                file = swap_json.load(json.dumps(document | {"smells_of": "clove"}).encode())
                looked = swap.look(self.session, file)
                self.assertEqual((looked.kind, looked.name_taken), (str(kind), True))
                self.assertEqual(looked.not_understood, ("smells_of",))
                self.assertRaises(Refused, swap.take_in, self.session, NOW, file, file.name)
                came = swap.take_in(self.session, NOW, file, "From a friend")
                self.assertTrue(came.page.endswith(str(came.id)))
                again = json.loads(swap_json.dump(swap.as_file(self.session, kind, came.id)))
                self.assertEqual(again.pop("smells_of"), "clove")
                for field in ("name", "why"):
                    again.pop(field), document.pop(field)
                if kind is SwapKind.RECIPE:
                    document["recipe"]["standard_batch"] = None
                self.assertEqual(again, document)

    def test_a_wax_of_their_own_comes_along(self) -> None:
        document = json.loads(swap_json.dump(swap.as_file(self.session, SwapKind.BASE, 1)))
        first = document["materials"][0]
        document["base"]["parts"][0]["wax_key"] = "own-cave-wax"
        document["materials"][0] = first | {"key": "own-cave-wax", "name": "Cave wax"}
        file = swap_json.load(json.dumps(document).encode())
        self.assertEqual(swap.look(self.session, file).materials[0].state, "new")
        came = swap.take_in(self.session, NOW, file, "Cave base")
        self.assertEqual(materials.wax_of(self.session, "own-cave-wax") is not None, True)
        self.assertIn("Cave wax", [line.what for line in swap.card(self.session, SwapKind.BASE, came.id).lines])

    def test_damaged_ones_are_refused_in_words(self) -> None:
        base = json.loads(swap_json.dump(swap.as_file(self.session, SwapKind.BASE, 1)))
        process = json.loads(swap_json.dump(swap.as_file(self.session, SwapKind.PROCESS, 1)))
        for document in (
            base | {"base": {}},
            base | {"base": {"parts": [{"wax_key": "beeswax", "share": "much"}]}},
            process | {"process": {}},
            process | {"process": {"ingredients": [{"name": "x", "parts_g": -1}]}},
            base | {"format": "niddy-soup"},
            base | {"version": 99},
            base | {"materials": "none"},
        ):
            with self.subTest(document["format"]), self.assertRaises(Refused) as refused:
                swap.look(self.session, swap_json.load(json.dumps(document).encode()))
            self.assertEqual(refused.exception.field, "file")

    def test_a_card_holds_its_file_and_a_picture_of_it_gives_it_back(self) -> None:
        for kind in SwapKind:
            for paper in ("a4", "letter"):
                with self.subTest(kind, paper=paper):
                    file = swap.as_file(self.session, kind, 1)
                    said = swap.card(self.session, kind, 1)
                    self.assertGreaterEqual(len(said.lines), 2)
                    made = swap_card.card(said, file, paper)
                    self.assertEqual(made.says, ())
                    if made.pages == 1:
                        picture = printing.picture(made.pdf, width_px=1500)
                        self.assertEqual(swap_json.load(swap_card.read(picture)), file)
                    self.assertEqual(swap_json.load(swap_card.joined(reversed(swap_card.codes(file)))), file)

    def test_codes_that_lack_a_part_or_are_damaged_are_refused(self) -> None:
        codes = swap_card.codes(swap.as_file(self.session, SwapKind.PROCESS, 1))
        self.assertGreater(len(codes), 1)
        other = codes[0][:-1] + ("A" if codes[0][-1] != "A" else "B")
        for texts, words in (
            ([], "no code"),
            (["hello"], "no code"),
            (codes[:1], "no. 2"),
            ([other, *codes[1:]], "belong together"),
        ):
            with self.subTest(words), self.assertRaises(Refused) as refused:
                swap_card.joined(texts)
            self.assertIn(words, refused.exception.problem)
        self.assertRaises(Refused, swap_card.read, b"no picture")
