"""Recipes swapped as files: out and in again, into another studio with its materials, and what is refused."""

import json
from pathlib import Path
from typing import Any

from niddy.core.errors import Refused
from niddy.core.materials import Pigment
from niddy.exchange import recipe_json
from niddy.settings import ROOT
from niddy.studio import materials, recipes
from niddy.studio.recipes import RecipeAsked, RecipeFile
from tests.support import NOW, DatabaseTest

RED = {
    "key": "", "ci_name": "", "family": "earth", "density_g_per_ml": 3.4, "oil_absorption_low": 24.0,
    "oil_absorption_high": 36.0, "loose_density_g_per_ml": 0.8, "particle": "medium", "opacity": "opaque",
    "tinting": "medium", "staining": 1, "lightfast_class": "I", "drying": "medium", "hazards": ("silica",),
    "masstone_srgb": "#8a3a2a",
}  # fmt: skip


class Swapped(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def red(self, name: str = "Cliff red", **what: Any) -> str:
        return materials.add_own(self.session, NOW, "pigment", Pigment(name=name, **{**RED, **what}))

    def recipe(self, *pigment_keys: str, **what: Any) -> RecipeAsked:
        return RecipeAsked.model_validate(
            {"pigments": [{"pigment_key": key, "parts": n + 1.0} for n, key in enumerate(pigment_keys)],
             "oil_keys": ["linseed-refined", "walnut-refined"], "reduced_pvc": 0.84, **what}
        )  # fmt: skip

    def made(self, asked: RecipeAsked, name: str = "Door red") -> RecipeFile:
        file = recipes.as_file(self.session, recipes.make(self.session, NOW, name, asked))
        return recipe_json.load(recipe_json.dump(file).encode())

    def refused(self, field: str, text: bytes) -> Refused:
        with self.assertRaises(Refused) as caught:
            recipes.look(self.session, recipe_json.load(text))
        self.assertEqual(caught.exception.field, field)
        return caught.exception

    def test_out_and_in_again_is_the_same_promise(self) -> None:
        asked = self.recipe("burnt-sienna", "bone-black", stance="additives",
                            additives=[{"additive_key": "beeswax", "dose_pct": 1.5}], minutes_per_load=12.0,
                            checks=[{"kind": "spread", "target": 40.0, "low": 36.0, "high": 44.0}])  # fmt: skip
        file = self.made(asked)
        looked = recipes.look(self.session, file)
        self.assertTrue(looked.name_taken)
        self.assertEqual({one.state for one in looked.materials}, {"known"})
        with self.assertRaises(Refused) as caught:
            recipes.take_in(self.session, NOW, file, file.name)
        self.assertEqual(caught.exception.field, "name")
        back = recipes.take_in(self.session, NOW, file, "Door red, from a friend")
        self.assertEqual(recipes.version_of(self.session, back, None).asked, asked)

    def test_a_material_of_their_own_comes_along_and_one_of_ours_counts(self) -> None:
        file = self.made(self.recipe(self.red()))
        document = file.model_dump(mode="json")
        document["materials"][0] |= {"key": "own-harbour-red", "name": "Harbour red"}
        document["recipe"]["pigments"][0]["pigment_key"] = "own-harbour-red"
        theirs = recipe_json.load(json.dumps(document).encode())
        looked = recipes.look(self.session, theirs)
        self.assertEqual((looked.materials[0].name, looked.materials[0].state), ("Harbour red", "new"))
        made = recipes.take_in(self.session, NOW, theirs, "Harbour door")
        key = recipes.version_of(self.session, made, None).asked.pigments[0].pigment_key
        found = materials.pigment_of(self.session, key)
        assert found is not None
        self.assertEqual((found.name, found.oil_absorption_high, found.hazards), ("Harbour red", 36.0, ("silica",)))

        document["materials"][0]["values"]["oil_absorption_high"] = 50.0
        again = recipes.look(self.session, recipe_json.load(json.dumps(document).encode()))
        self.assertEqual(again.materials[0].state, "differs")
        self.assertIn("oil absorption high", again.materials[0].says)

    def test_what_is_not_understood_is_said_kept_and_goes_on(self) -> None:
        document = self.made(self.recipe("burnt-sienna")).model_dump(mode="json") | {"varnish_after_months": 9}
        file = recipe_json.load(json.dumps(document).encode())
        self.assertEqual(recipes.look(self.session, file).not_understood, ("varnish_after_months",))
        taken = recipes.take_in(self.session, NOW, file, "Varnished")
        self.assertEqual(recipes.as_file(self.session, taken).model_dump()["varnish_after_months"], 9)

    def test_what_belongs_to_the_other_studio_stays_there(self) -> None:
        document = self.made(self.recipe("burnt-sienna")).model_dump(mode="json")
        document["recipe"]["standard_batch"] = 77
        file = recipe_json.load(json.dumps(document).encode())
        self.assertIn("standard batch", recipes.look(self.session, file).left_out[0])
        taken = recipes.take_in(self.session, NOW, file, "No standard")
        self.assertIsNone(recipes.version_of(self.session, taken, None).asked.standard_batch)

    def test_what_is_no_recipe_is_refused_in_words_and_nothing_comes_in(self) -> None:
        good = self.made(self.recipe(self.red())).model_dump(mode="json")

        def with_(**what: Any) -> bytes:
            return json.dumps(good | what).encode()

        self.assertIn("no JSON", self.refused("file", b"%PDF-1.7").problem)
        self.assertIn("no recipe", self.refused("file", b"[1, 2]").problem)
        self.assertIn("no recipe", self.refused("file", with_(format="other")).problem)
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
                recipes.take_in(self.session, NOW, recipe_json.load(text), "Odd one")
            self.assertEqual(len(materials.own_materials(self.session)), before)
        unknown = with_(materials=[*good["materials"], {"kind": "additive", "key": "x", "name": "Moon dust"}])
        self.assertIn("Moon dust", self.refused("file", unknown).problem)

    def test_the_published_schema_is_that_of_the_program(self) -> None:
        self.assertEqual(Path(ROOT / "docs" / "recipe.schema.json").read_text(), recipe_json.schema())
