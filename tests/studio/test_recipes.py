"""Recipes and checks on the record: versions, readings, verdicts, decisions, consistency, the same again."""

from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from niddy.core.checks import CheckKind
from niddy.core.control import Rule
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.verdicts import Release
from niddy.exchange import colour_reading, due_ics
from niddy.exchange.colour_reading import LightScale
from niddy.studio import batches, checks, due, log, materials, recipes, rubout, slab
from niddy.studio.checks import BatchChecks, CheckAsked, ReleaseAsked
from niddy.studio.errors import Conflict, Missing
from niddy.studio.plan import PlanAsked
from niddy.studio.recipes import AgainAsked, PartAsked, RecipeAsked, WantedAsked
from niddy.studio.slab import act_of
from tests.support import NOW, DatabaseTest

SPREAD = WantedAsked(kind=CheckKind.SPREAD, target=45, low=42, high=48)
BLEED = WantedAsked(kind=CheckKind.BLEED, target=1, high=4)


class RecipeTest(DatabaseTest):
    def setUp(self) -> None:
        code = str(uuid4())[:8]
        with self.database.session() as session:
            new = materials.NewLot("pigment", "burnt-sienna", code, NOW.date(), 5_000.0)
            self.lot = materials.receive(session, NOW, new)
            self.recipe = recipes.make(session, NOW, f"Sienna {code}", self.asked())

    def asked(self, **what: Any) -> RecipeAsked:
        return RecipeAsked(
            **{
                "pigments": [PartAsked(pigment_key="burnt-sienna")],
                "oil_keys": ["linseed-refined", "walnut-refined"],
                "reduced_pvc": 0.86,
                "checks": [SPREAD, BLEED],
                **what,
            }
        )

    def batch(self, ratio: float = 42.0, days: float = 0.0) -> int:
        """A finished batch of the recipe."""
        at = NOW + timedelta(days=days)
        plan = PlanAsked.model_validate(
            {
                "lines": [{"lot_id": self.lot, "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 100.0,
                "recipe_id": self.recipe,
            }
        )
        with self.database.session() as session:
            number = slab.take_to_slab(session, at, uuid4(), plan)
            for kind, what in (
                ("ready", {}),
                ("powder", {"source": f"lot-{self.lot}", "measure": {"amount": 100.0}}),
                ("oil", {"source": "library-linseed-refined", "measure": {"amount": ratio}}),
                ("finish", {"verdict": "right", "leftover_ml": 1.0}),
            ):
                slab.record(session, at, number, act_of({"id": uuid4(), "kind": kind, "made_at": at, **what}))
        return number

    def check(self, number: int, kind: str, *, id: UUID | None = None, days: float = 0.0, **what: Any) -> BatchChecks:
        at = NOW + timedelta(days=days)
        self.last = id or uuid4()
        asked = CheckAsked.model_validate({"id": self.last, "kind": kind, "made_at": at, **what})
        with self.database.session() as session:
            return checks.record(session, at + timedelta(days=1), number, asked)

    def spread(self, number: int, mm: float, **what: Any) -> BatchChecks:
        return self.check(number, "spread", diameters_mm=[mm - 0.5, mm + 0.5], **what)

    def decide(self, number: int, release: Release, reason: str = "") -> BatchChecks:
        with self.database.session() as session:
            return checks.decide(session, NOW, number, ReleaseAsked(id=uuid4(), release=release, reason=reason))


class Versions(RecipeTest):
    def test_a_change_makes_a_new_one_and_old_batches_keep_theirs(self) -> None:
        old = self.batch()
        with self.database.session() as session:
            self.assertEqual(recipes.change(session, NOW, self.recipe, self.asked(reduced_pvc=0.88), "stiffer"), 2)
        new = self.batch()
        with self.database.session() as session:
            made = [batches.made(session, number).recipe_version for number in (old, new)]
            page = recipes.page(session, self.recipe)
        self.assertEqual(made, [1, 2])
        self.assertEqual([(v.version, v.why) for v in page.versions], [(2, "stiffer"), (1, "first version")])
        self.assertEqual([b.number for b in page.batches], [new, old])

    def test_what_cannot_be_is_named_at_its_field(self) -> None:
        other = WantedAsked(kind=CheckKind.BRUSH_MARK, choice="sings")
        for what, field in (
            ({"pigments": [PartAsked(pigment_key="nothing")]}, "pigments.0.pigment_key"),
            ({"pigments": [PartAsked(pigment_key="burnt-sienna")] * 2}, "pigments"),
            ({"oil_keys": ["linseed-refined"] * 2}, "oil_keys"),
            ({"checks": [SPREAD, SPREAD]}, "checks.1.kind"),
            ({"checks": [other]}, "checks.0.choice"),
            ({"checks": [WantedAsked(kind=CheckKind.SPREAD, low=9, high=8)]}, "checks.0.high"),
            ({"checks": [WantedAsked(kind=CheckKind.SPREAD, target=50, high=48)]}, "checks.0.target"),
            ({"standard_batch": 9_999}, "standard_batch"),
        ):
            with self.subTest(field), self.database.session() as session:
                with self.assertRaises((Refused, Missing)) as caught:
                    recipes.change(session, NOW, self.recipe, self.asked(**what), "try")
                self.assertEqual(getattr(caught.exception, "field", None) or "path", field)
        with self.database.session() as session:
            for asked, why in ((self.asked(), "same"), (self.asked(reduced_pvc=0.9), " ")):
                with self.assertRaises(Refused) as refused:
                    recipes.change(session, NOW, self.recipe, asked, why)
                self.assertEqual(refused.exception.field, "why")

    def test_a_recipe_of_a_good_batch_in_one_step(self) -> None:
        number = self.batch()
        self.spread(number, 46)
        with self.database.session() as session:
            read = CheckAsked.model_validate(
                {"id": uuid4(), "kind": "masstone", "made_at": NOW, "lab": {"L": 12, "a": 0, "b": 0}}
            )
            checks.record(session, NOW, number, read)
            told = recipes.from_batch(session, number)
            made = recipes.make(session, NOW, f"From {number}", told.recipe, number)
            version = recipes.version_of(session, made, None)
            self.assertEqual(batches.made(session, number).recipe_id, made)
        self.assertEqual(version.asked.standard_batch, number)
        self.assertEqual(
            [(w.kind, w.target, w.low, w.high) for w in version.asked.checks],
            [("spread", 46, 43, 49), ("masstone", None, None, 2.5)],
        )

    def test_a_plan_that_is_not_the_recipe_is_refused(self) -> None:
        plan = PlanAsked.model_validate(
            {
                "lines": [{"pigment_key": "bone-black", "parts": 1.0}],
                "oil": {"oil_key": "linseed-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 100.0,
                "recipe_id": self.recipe,
            }
        )
        with self.database.session() as session, self.assertRaises(Refused) as caught:
            slab.take_to_slab(session, NOW, uuid4(), plan)
        self.assertEqual(caught.exception.field, "recipe_id")

    def test_it_is_made_in_one_of_its_oils(self) -> None:
        for oil, taken in (("walnut-refined", True), ("poppy-refined", False)):
            plan = PlanAsked.model_validate(
                {
                    "lines": [{"lot_id": self.lot, "parts": 1.0}],
                    "oil": {"oil_key": oil},
                    "reduced_pvc": 0.86,
                    "pigment_g": 100.0,
                    "recipe_id": self.recipe,
                }
            )
            with self.subTest(oil), self.database.session() as session:
                if taken:
                    slab.take_to_slab(session, NOW, uuid4(), plan)
                    continue
                with self.assertRaisesRegex(Refused, "not made in this oil"):
                    slab.take_to_slab(session, NOW, uuid4(), plan)


class Readings(RecipeTest):
    def test_repeats_have_a_mean_and_one_can_be_set_aside_with_a_reason(self) -> None:
        number = self.batch()
        self.spread(number, 44)
        seen = self.spread(number, 50)
        slip = self.last
        (mean,) = seen.means
        self.assertEqual((mean.estimate.median if mean.estimate else 0, mean.readings), (47, 2))
        self.assertIn("Pa", seen.readings[0].says)
        with self.database.session() as session:
            with self.assertRaises(Refused):
                checks.set_aside(session, NOW, number, slip, "  ")
            seen = checks.set_aside(session, NOW, number, slip, "an air bubble")
            self.assertEqual(batches.made(session, number).results["spread"], 44)
        self.assertEqual({r.value: r.set_aside for r in seen.readings}, {44: None, 50: "an air bubble"})
        with self.database.session() as session:
            checks.set_aside(session, NOW, number, slip, "an air bubble")
            checks.set_aside(session, NOW, number, slip, "two bubbles")
            seen = checks.set_aside(session, NOW, number, slip, None)
            self.assertEqual(batches.made(session, number).results["spread"], 47)
            job = log.find(session, "checks", number)
            assert job is not None
            acts = log.entries(session, job)
        self.assertEqual([r.set_aside for r in seen.readings], [None, None])
        self.assertEqual(
            [(act.kind, act.struck) for act in acts],
            [
                ("reading", False),
                ("reading", False),
                ("set_aside", True),
                ("strike", False),
                ("set_aside", True),
                ("strike", False),
            ],
        )
        self.assertEqual(acts[4].payload, {"reason": "two bubbles"})

    def test_sent_again_it_counts_once_and_another_under_its_id_is_a_conflict(self) -> None:
        number = self.batch()
        one = uuid4()
        for _ in range(2):
            seen = self.spread(number, 45, id=one)
        self.assertEqual(len(seen.readings), 1)
        with self.assertRaises(Conflict):
            self.spread(number, 46, id=one)

    def test_density_knows_what_is_in_the_paint(self) -> None:
        number = self.batch(ratio=42)
        whole = 142 / (100 / 3.4 + 42 / 0.93)
        seen = self.check(number, "density", gross_g=20 + 0.98 * whole * 5, tare_g=20.0, volume_ml=5.0)
        (reading,) = seen.readings
        self.assertAlmostEqual(reading.value or 0, 2.0, 1)
        self.assertEqual([w.name for w in reading.worked], ["density", "without air", "ratio it implies without air"])

    def test_what_cannot_be_is_named_at_its_field(self) -> None:
        number = self.batch()
        for kind, what, field in (
            ("spread", {"diameters_mm": [46.0, None]}, "diameters_mm.1"),
            ("spread", {"diameters_mm": [46.0]}, "diameters_mm.1"),
            ("spread", {"diameters_mm": [46.0, 170.0]}, "diameters_mm.1"),
            ("spread", {"diameters_mm": [4.0, 46.0]}, "diameters_mm.0"),
            ("spread", {}, "diameters_mm"),
            ("density", {"gross_g": 9.0, "tare_g": 10.0, "volume_ml": 5.0}, "gross_g"),
            ("density", {"gross_g": 9.0, "tare_g": 1.0}, "volume_ml"),
            ("string", {}, "length_mm"),
            ("drying", {"choice": "crisp"}, "choice"),
            ("masstone", {"lab": {"L": 120.0, "a": 0.0, "b": 0.0}}, "lab.L"),
            ("masstone", {"srgb": "brown"}, "srgb"),
            ("masstone", {"spectrum": [0.5] * 12}, "spectrum"),
            ("masstone", {}, "lab"),
        ):
            with self.subTest(kind, field=field), self.assertRaises(Refused) as caught:
                self.check(number, kind, **what)
            self.assertEqual(caught.exception.field, field)
            self.assertTrue(caught.exception.accepted)
        with self.assertRaises(Refused):
            self.check(number, "string", length_mm=3.0, days=-60)

    def test_colours_are_compared_with_the_standard(self) -> None:
        standard, other = self.batch(), self.batch()
        self.check(standard, "masstone", lab={"L": 40.0, "a": 20.0, "b": 25.0})
        with self.database.session() as session:
            recipes.change(session, NOW, self.recipe, self.asked(standard_batch=standard), "a standard")
            # The batch was made by version 1, which had none; a later one follows the new version.
        self.assertIsNone(self.check(other, "masstone", lab={"L": 41.0, "a": 20.0, "b": 25.0}).readings[0].value)
        later = self.batch()
        (reading,) = self.check(later, "masstone", lab={"L": 41.0, "a": 20.0, "b": 25.0}).readings
        self.assertAlmostEqual(reading.value or 0, 0.9, 1)
        self.assertIn(f"batch {standard}", reading.says)


class Verdicts(RecipeTest):
    def test_from_check_to_hold_to_correction_to_release(self) -> None:
        number = self.batch(ratio=46)
        self.assertIs(self.spread(number, 51).verdict.release, Release.ADJUST)  # type: ignore[union-attr]
        seen = self.check(number, "bleed", length_mm=5.0)
        assert seen.verdict is not None and seen.adjustment is not None
        self.assertIs(seen.verdict.release, Release.HOLD)
        self.assertIn("bleed 5.0 mm is above 4", seen.verdict.reason)
        self.assertGreater(seen.adjustment.pigment_to_add_g, 0)
        self.assertEqual(seen.adjustment.adds, f"Grind in {seen.adjustment.pigment_to_add_g:.1f} g of pigment")
        self.assertGreater(seen.adjustment.reduced_wanted, seen.adjustment.reduced_now)
        self.assertIs(seen.adjustment.slope.basis, Basis.ASSUMED)
        with self.assertRaises(Refused) as caught:
            self.decide(number, Release.RELEASE)
        self.assertEqual(caught.exception.field, "reason")
        held = self.decide(number, Release.HOLD)
        self.assertIs(held.decision.release if held.decision else None, Release.HOLD)
        told = self.decide(number, Release.RELEASE, "a trial tube for a friend")
        assert told.decision is not None
        self.assertEqual((told.decision.advised, told.decision.reason), (Release.HOLD, "a trial tube for a friend"))

    def test_advice_is_no_decision_and_an_open_batch_none_to_release(self) -> None:
        number = self.batch()
        for release in (Release.WAIT, Release.ADJUST):
            with self.assertRaises(Refused) as caught:
                self.decide(number, release)
            self.assertIn("advice", caught.exception.problem)
        self.decide(number, Release.RELEASE, "sold fresh")
        with self.database.session() as session:
            (finish,) = batches.finishes(session, number)
            strike = {"id": uuid4(), "kind": "strike", "made_at": NOW, "strikes": finish.event.id}
            slab.record(session, NOW, number, act_of(strike))
            self.assertIsNone(batches.made(session, number).release)
        with self.assertRaises(Refused) as caught:
            self.decide(number, Release.HOLD)
        self.assertIn("open", caught.exception.problem)

    def test_only_a_surface_that_is_dry_ends_the_finger_tests(self) -> None:
        with self.database.session() as session:
            drying = self.asked(checks=[SPREAD, WantedAsked(kind=CheckKind.DRYING)])
            self.recipe = recipes.make(session, NOW, f"Dry {self.lot}", drying)
        number = self.batch(days=-3)
        self.spread(number, 45, days=-3)

        def waits() -> list[str]:
            with self.database.session() as session:
                return [wait.kind for wait in checks.all_due(session, NOW) if wait.number == number]

        self.assertEqual(waits(), ["drying"])
        self.check(number, "drying", days=-2, choice="wet")
        self.assertEqual(waits(), ["drying"])
        self.check(number, "drying", days=-1, choice="touch-dry")
        self.assertEqual(waits(), [])

    def test_last_time_is_the_recipes_last_released_batch(self) -> None:
        first, _ = self.batch(ratio=40), self.batch(ratio=44)
        self.decide(first, Release.RELEASE, "sold fresh")
        with self.database.session() as session:
            of_recipe = batches.learned(session, ["burnt-sienna"], self.recipe).last
            other = batches.learned(session, ["burnt-sienna"]).last
        self.assertAlmostEqual(of_recipe.oil_g_per_100g if of_recipe else 0, 40)
        self.assertIsNotNone(other)

    def test_the_decision_teaches_the_lot(self) -> None:
        number = self.batch(ratio=44)
        self.spread(number, 52)
        self.decide(number, Release.HOLD)
        with self.database.session() as session:
            records = rubout.pigment_page(session, "burnt-sienna").records
        (record,) = [r for r in records if r.kind == "verdict" and r.ref == number]
        self.assertIn("soft", record.says)

    def test_what_is_due_when(self) -> None:
        number = self.batch(days=-2)
        with self.database.session() as session:
            mine = [d for d in checks.all_due(session, NOW) if d.number == number]
            self.assertEqual([(d.kind, d.overdue) for d in mine], [("spread", True), ("bleed", True)])
            told = [one for one in due.everything(session, NOW) if one.page == f"/checks/{number}"]
            calendar = due_ics.dump(tuple(told), NOW, "http://127.0.0.1").decode()
        self.assertEqual(calendar.count("BEGIN:VEVENT"), 2)
        self.assertIn(f"/checks/{number}", calendar)
        self.spread(number, 45, days=-2)
        with self.database.session() as session:
            self.assertEqual([d.kind for d in checks.all_due(session, NOW) if d.number == number], ["bleed"])


class Again(RecipeTest):
    def test_another_oil_keeps_the_body_and_says_why(self) -> None:
        number = self.batch(ratio=42)
        self.spread(number, 45)
        self.check(number, "bleed", length_mm=1.0)
        self.decide(number, Release.RELEASE)
        with self.database.session() as session:
            told = recipes.again(
                session, self.recipe, AgainAsked(pigment_lots=[self.lot], oil_key="walnut-refined", pigment_g=50.0)
            )
        self.assertEqual((told.like, told.reduced_pvc, told.plan.recipe_id), (number, 0.86, self.recipe))
        self.assertIn("density of the oil", [c.what for c in told.changes])
        with self.database.session() as session:
            same = recipes.again(
                session, self.recipe, AgainAsked(pigment_lots=[self.lot], oil_key="linseed-refined", pigment_g=50.0)
            )
        self.assertNotIn("density of the oil", [c.what for c in same.changes])
        assert told.rebuilt_oil_g_per_100g is not None
        self.assertNotAlmostEqual(told.rebuilt_oil_g_per_100g, 42, 1)

    def test_wrong_lots_and_no_amount_are_named(self) -> None:
        with self.database.session() as session:
            new = materials.NewLot("pigment", "bone-black", str(uuid4())[:8], NOW.date(), 100.0)
            strange = materials.receive(session, NOW, new)
            for what, field in (
                ({"pigment_lots": [strange], "pigment_g": 50.0}, "pigment_lots.0"),
                ({"pigment_lots": [None, None], "pigment_g": 50.0}, "pigment_lots"),
                ({}, "tubes"),
            ):
                with self.assertRaises(Refused) as caught:
                    recipes.again(session, self.recipe, AgainAsked.model_validate(what))
                self.assertEqual(caught.exception.field, field)


class Demo(DatabaseTest):
    with_demo = True

    def test_the_demo_recipe_tells_a_lot_change_a_drift_and_one_held_and_mended(self) -> None:
        with self.database.session() as session:
            told = checks.consistency(session, 1, CheckKind.SPREAD)
            self.assertEqual(len(told.values), 16)
            self.assertEqual(len(set(told.lots)), 2)
            assert told.control is not None
            self.assertEqual([(s.rule, s.at) for s in told.control.signals], [(Rule.SIX_TRENDING, 15)])
            held = checks.page(session, NOW, told.numbers[10])
            self.assertEqual(
                [r.set_aside is not None for r in held.readings if r.kind == "spread"], [True, False, False]
            )
            recipes.freeze(session, 1, list(told.numbers[:8]))
            frozen = checks.consistency(session, 1, CheckKind.SPREAD)
            assert frozen.control is not None
            self.assertNotEqual(frozen.control.sigma, told.control.sigma)
            with self.assertRaises(Refused):
                recipes.freeze(session, 1, [1, 2])
            with self.assertRaises(Refused):
                recipes.freeze(session, 1, [told.numbers[0]])
            self.assertEqual(len(checks.body_map(session, 1).points), 16)
            explained = checks.compare(session, told.numbers[1], told.numbers[15]).explained
            assert explained is not None
            self.assertAlmostEqual(explained.change_mm, 1.8)
            self.assertIn("Spread", checks.compare(session, 1, 2).why_not)


class ReadingFiles(DatabaseTest):
    BANDS = tuple(range(400, 701, 10))

    def csv(self, bands: list[int], level: float = 0.4) -> bytes:
        return (",".join(["name", *map(str, bands)]) + "\n" + ",".join(["one", *[str(level)] * len(bands)])).encode()

    def test_cgats_and_csv_spectral_and_lab(self) -> None:
        fields = " ".join(["SAMPLE_NAME", *(f"SPECTRAL_NM_{nm}" for nm in self.BANDS)])
        rows = '"sienna, dry" ' + " ".join(["41.5"] * 31)
        text = f"CGATS.17\nBEGIN_DATA_FORMAT\n{fields}\nEND_DATA_FORMAT\nBEGIN_DATA\n{rows}\nEND_DATA\n".encode()
        (one,) = colour_reading.read(text)
        self.assertEqual((one.name, one.spectrum), ("sienna, dry", (0.415,) * 31))
        (two,) = colour_reading.read(self.csv(list(self.BANDS)), LightScale.FRACTION)
        self.assertEqual(two.spectrum, (0.4,) * 31)
        (fine,) = colour_reading.read(self.csv(list(range(380, 731, 5))), LightScale.FRACTION)
        self.assertEqual(len(fine.spectrum or ()), 31)
        (lab,) = colour_reading.read(b"name;L;a;b\nx;41,5;20;25\n")
        self.assertEqual((lab.lab.L if lab.lab else 0), 41.5)

    def test_a_dark_reading_in_percent_is_not_taken_for_white(self) -> None:
        dark = self.csv(list(self.BANDS), 1.2)
        with self.assertRaises(Refused) as caught:
            colour_reading.read(dark)
        self.assertEqual((caught.exception.field, caught.exception.accepted), ("scale", "fraction, percent"))
        for content, scale in (
            (dark, LightScale.PERCENT),
            (dark.replace(b"400,", b"400%,", 1), None),
            (dark.replace(b",4", b",SPECTRAL_PCT_4"), None),
        ):
            (read,) = colour_reading.read(content, scale)
            self.assertAlmostEqual((read.spectrum or (0.0,))[0], 0.012)
        (told,) = colour_reading.read(self.csv(list(self.BANDS), 0.4).replace(b",4", b",SPECTRAL_DEC_4"))
        self.assertEqual(told.spectrum, (0.4,) * 31)

    def test_repeated_markers_are_read_in_one_pass(self) -> None:
        with self.assertRaises(Refused):
            colour_reading.read(b"BEGIN_DATA_FORMAT\n" * 60_000)
        with self.assertRaises(Refused):
            colour_reading.read(b"BEGIN_DATA_FORMAT\nL\nEND_DATA_FORMAT\n" + b"BEGIN_DATA " * 90_000)

    def test_missing_bands_wrong_steps_and_nonsense_are_named(self) -> None:
        for content, problem in (
            (self.csv([nm for nm in self.BANDS if nm not in (530, 540)]), "530, 540 nm"),
            (self.csv(list(range(400, 701, 20))), "steps of 20 nm"),
            (b"name,taste\nx,sweet\n", "neither bands nor Lab"),
            (b"\xff\xfe\x00", "not a text file"),
            (b"CGATS.17\nBEGIN_DATA\n1 2\n", "not closed"),
            (b"L,a,b\n1,2\n", "2 values for 3 columns"),
            (b"L,a,b\n1,x,3\n", "not a number"),
            (b"L,a,b\n140,0,0\n", "outside"),
            (b"", "no sample"),
        ):
            with self.subTest(problem), self.assertRaises(Refused) as caught:
                colour_reading.read(content)
            self.assertIn(problem, caught.exception.problem)
