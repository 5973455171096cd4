"""The calculators over HTTP: exactly the fixed fields, worked figures, refusals."""

import math
from typing import Any, ClassVar

import httpx

from tests.support import ServerTest

WETTING = {
    "pigments": [{"parts": 1, "density_g_per_ml": 2.5, "oil_absorption_g_per_100g": 52}],
    "oil_density_g_per_ml": 0.930,
    "reduced_pvc": 0.86,
}
POURS = {
    "pigment_g": 100,
    "demand": {"median": 53.4767, "sd_ln": 0.034637},
    "pigment_density_g_per_ml": 2.5,
    "oil_density_g_per_ml": 0.930,
    "reduced_pvc": 0.86,
}
SIZE = {
    "tubes": [{"usable_ml": 40, "count": 3}],
    "oil_g_per_100g": 66.521,
    "pigment_density_g_per_ml": 2.5,
    "oil_density_g_per_ml": 0.930,
    "slab_area_cm2": 900,
    "film_mm": 0.3,
}
CORRECTION = {
    "pigment_g": 80,
    "oil_g": 60,
    "target_oil_g_per_100g": 68.6,
    "pigment_density_g_per_ml": 2.5,
    "oil_density_g_per_ml": 0.930,
    "oil_absorption_g_per_100g": 52,
}
MEASURE = {"amount": 2, "unit": "teaspoon", "loose_density_g_per_ml": 0.55}
DEMAND = {
    "range_low": 42,
    "range_high": 68,
    "lots": [
        {"key": "A", "observations": [{"oil_absorption_g_per_100g": v, "sd": 0.05} for v in (52, 55)]},
        {"key": "B", "observations": []},
    ],
}
REBUILD = {
    "old": {
        "oil_g_per_100g": 66.0,
        "oil_absorption_g_per_100g": 52,
        "pigment_density_g_per_ml": 2.5,
        "oil_density_g_per_ml": 0.930,
    },
    "new": {"oil_absorption_g_per_100g": 57.626, "pigment_density_g_per_ml": 2.5, "oil_density_g_per_ml": 0.924},
}
SPREAD = {"diameters_mm": [45, 47], "volume_ml": 0.5, "mass_kg": 0.65}
AIR = {
    "gross_g": 17.4,
    "tare_g": 10.2,
    "volume_ml": 5,
    "components": [{"mass_g": 100, "density_g_per_ml": 2.5}, {"mass_g": 66.521, "density_g_per_ml": 0.93}],
}
ADDITIVE = {"dose_pct": 1.5, "basis": "oil", "pigment_g": 112, "oil_g": 74.4, "gel_strength": 0.1}
CONTROL = {"values": [44.1, 45.0, 43.6, 44.8, 45.9, 44.4, 43.9, 45.2, 44.6, 44.9]}
GOOD: dict[str, dict[str, Any]] = {
    "rebuild": REBUILD,
    "spread": SPREAD,
    "air": AIR,
    "control": CONTROL,
    "additive": ADDITIVE,
    "demand": DEMAND,
    "wetting": WETTING,
    "pours": POURS,
    "size": SIZE,
    "correction": CORRECTION,
    "measure": MEASURE,
}


class StickCalculators(ServerTest):
    def test_worked_figures_and_fields(self) -> None:
        base = [
            {"share": 60, "density_g_per_ml": 0.93, "penetration_dmm": 25, "melting_c": 72},
            {"share": 25, "density_g_per_ml": 0.96, "penetration_dmm": 17, "melting_c": 63},
            {"share": 15, "density_g_per_ml": 0.98, "penetration_dmm": 1.5, "melting_c": 84},
        ]
        made_of = {
            "pigment": {"density_g_per_ml": 2.5, "oil_absorption_g_per_100g": 52},
            "base": base,
            "oil": {"density_g_per_ml": 0.93, "drying": "drying"},
        }
        asked = {**made_of, "oil_fraction": 0.6, "moulds": [{"ml": 18, "count": 6}]}
        made = self.ok(self.client.post("/api/calc/stick", json=asked))
        self.assertEqual(
            set(made),
            {
                "cpvc",
                "pvc",
                "oil_fraction",
                "pigment_fraction",
                "penetration_dmm",
                "feel",
                "drying_oil_fraction",
                "dries",
                "melt_c",
                "water_bath",
                "pour_low_c",
                "pour_high_c",
                "pour_factor",
                "pigment_g",
                "oil_g",
                "base_g",
                "base_each_g",
                "volume_ml",
                "stick_density_g_per_ml",
                "limited_by",
            },
        )
        self.assertEqual((round(made["pigment_g"], 3), made["feel"], made["dries"]), (83.625, "soft", "through"))
        blending = self.ok(self.client.post("/api/calc/stick", json={**asked, "pigment": None}))
        self.assertIsNone(blending["cpvc"])
        pot = {**made_of, "pigment_g": 60, "base_g": 20, "oil_g": 30, "observed_dmm": 22, "target_dmm": 35}
        told = self.ok(self.client.post("/api/calc/stick_correction", json=pot))
        self.assertEqual((told["direction"], round(told["add_g"], 3)), ("add_oil", 11.486))
        readings = {"observations": [{"ln_ratio": 0.2, "sd": 0.12}, {"ln_ratio": 0.3, "sd": 0.35}]}
        taught = self.ok(self.client.post("/api/calc/stick_offset", json=readings))
        self.assertEqual((round(taught["offset_ln"], 5), round(taught["sd_ln"], 5)), (0.19048, 0.10798))
        for field, change in (
            ("oil_fraction", {"penetration_dmm": 30}),
            ("base", {"base": [{**base[0], "share": 0}]}),
            ("base.0.penetration_dmm", {"base": [{**base[0], "penetration_dmm": -3}]}),
            ("moulds", {"moulds": []}),
        ):
            self.refused(self.client.post("/api/calc/stick", json={**asked, **change}), field)


class CheckCalculators(ServerTest):
    def calc(self, name: str, **change: Any) -> Any:
        return self.client.post(f"/api/calc/{name}", json={**GOOD[name], **change})

    def test_sludge(self) -> None:
        dish = [{"hours": h, "g": g} for h, g in ((0, 180), (6, 165.99), (24, 139.02), (48, 122.73))]
        made = self.ok(self.client.post("/api/calc/drydown", json={"readings": dish}))
        self.assertLessEqual(
            {"dry_g", "tau_h", "residual_now", "hours_to_target", "constant", "shape", "weigh_again_h"}, set(made)
        )
        self.assertEqual(set(made["shape"]), {"exponential", "tail", "constant"})
        self.assertTrue(made["hours_to_target"]["low"] < 77.4 < made["hours_to_target"]["high"])
        on_dish = {"readings": [{**one, "g": one["g"] + 30} for one in dish], "tare_g": 30}
        self.assertAlmostEqual(
            self.ok(self.client.post("/api/calc/drydown", json=on_dish))["dry_g"]["median"],
            made["dry_g"]["median"],
            delta=0.5,
        )
        heights = [{"hours": h, "clear_mm": 2.0 * h, "total_mm": 100.0} for h in (6, 12, 20, 28)]
        can = self.ok(self.client.post("/api/calc/settling", json={"heights": heights, "now_h": 30.0}))
        self.assertGreater(can["shape"]["constant"], 0.5)
        self.assertTrue(can["clear_now"]["low"] <= 0.6 <= can["clear_now"]["high"])
        heights[1]["clear_mm"] = 130.0
        self.refused(self.client.post("/api/calc/settling", json={"heights": heights}), "heights.1.clear_mm")
        self.refused(self.client.post("/api/calc/drydown", json={"readings": dish[:2]}), "readings")
        self.refused(self.client.post("/api/calc/drydown", json={"readings": dish, "tare_g": 150}), "readings.2.g")
        self.refused(
            self.client.post("/api/calc/drydown", json={"readings": dish, "target_residual": 0}), "target_residual"
        )
        washing = {"weight": 1, "oil_absorption_low": 18, "oil_absorption_high": 26, "density_g_per_ml": 4.1}
        half = self.ok(self.client.post("/api/calc/cake", json={"washings": [washing], "unknown_share": 0.5}))
        self.assertAlmostEqual(half["oil_absorption"]["median"], 18.127, 3)
        self.refused(self.client.post("/api/calc/cake", json={"washings": []}), "washings")
        weeks = {"weekly_g": [3, 5, 4, 4], "have_g": 20, "want_g": 60}
        self.assertAlmostEqual(self.ok(self.client.post("/api/calc/forecast", json=weeks))["days"]["median"], 70)
        self.refused(self.client.post("/api/calc/forecast", json={**weeks, "weekly_g": [1]}), "weekly_g")

    def test_worked_figures(self) -> None:
        self.assertAlmostEqual(self.ok(self.calc("rebuild"))["oil_g_per_100g"], 72.471, 3)
        self.assertAlmostEqual(self.ok(self.calc("spread"))["yield_stress_pa"], 75.26, 2)
        one = self.client.post("/api/calc/spread", json={"diameter_mm": 30, "volume_ml": 0.5, "mass_kg": 0.65})
        self.assertAlmostEqual(self.ok(one)["yield_stress_pa"], 637.9, 1)
        told = self.ok(self.calc("air"))
        self.assertAlmostEqual(told["theoretical_g_per_ml"], 1.49309, 5)
        self.assertAlmostEqual(told["air_fraction"], 1 - 1.44 / 1.49309, 5)
        told = self.ok(self.calc("additive"))
        self.assertAlmostEqual(told["gel_g"], 11.16)
        self.assertAlmostEqual(told["oil_to_pour_g"], 64.356)
        dry = self.ok(self.calc("additive", gel_strength=None, basis="total", dose_pct=2, pigment_g=100, oil_g=40))
        self.assertAlmostEqual(dry["additive_g"], 2.8571, 4)
        self.assertEqual(set(dry), {"additive_g", "oil_to_pour_g"})
        told = self.ok(self.calc("control"))
        self.assertAlmostEqual(told["lower"], 42.040, 3)
        self.assertNotIn("cpk", told)
        self.assertIn("cpk", self.ok(self.calc("control", tolerance_low=42, tolerance_high=48)))

    def test_refusals(self) -> None:
        for name, change, field in (
            ("rebuild", {"new": {**REBUILD["new"], "oil_density_g_per_ml": 0}}, "new.oil_density_g_per_ml"),
            ("spread", {"diameters_mm": [3, 46]}, "diameters_mm.0"),
            ("spread", {"diameter_mm": 40}, "diameters_mm"),
            ("spread", {"diameters_mm": [46, 160], "plate_mm": 150}, "diameters_mm.1"),
            ("air", {"gross_g": 9.0}, "gross_g"),
            ("additive", {"gel_strength": 0}, "gel_strength"),
            ("additive", {"gel_strength": 0.005}, "gel_strength"),
            ("additive", {"basis": "water"}, "basis"),
            ("control", {"values": [1.0]}, "values"),
            ("control", {"tolerance_low": 5, "tolerance_high": 4}, "tolerance_high"),
        ):
            with self.subTest(name, field=field):
                self.refused(self.calc(name, **change), field)


class Calculators(ServerTest):
    def calc(self, name: str, **change: Any) -> Any:
        return self.client.post(f"/api/calc/{name}", json=GOOD[name] | change)

    def test_wetting(self) -> None:
        answer = self.ok(self.calc("wetting"))
        self.assertEqual(
            set(answer),
            {
                "pigment_density_g_per_ml",
                "oil_absorption_g_per_100g",
                "cpvc",
                "pvc",
                "reduced_pvc",
                "oil_g_per_100g",
                "body",
            },
        )
        self.assertAlmostEqual(answer["oil_g_per_100g"], 66.521, 3)
        self.assertEqual(answer["body"], "tube")

    def test_pours(self) -> None:
        answer = self.ok(self.calc("pours"))
        self.assertEqual(set(answer), {"pours", "expected_g"})
        self.assertEqual(set(answer["pours"][0]), {"quantile", "cumulative_g", "step_g"})
        self.assertAlmostEqual(answer["pours"][0]["cumulative_g"], 65.543, 2)
        self.assertAlmostEqual(answer["expected_g"], 68.239, 2)

    def test_pours_by_measures_that_err(self) -> None:
        first, *_, last = (p["cumulative_g"] for p in self.ok(self.calc("pours"))["pours"])
        wide = self.ok(self.calc("pours", pigment_sd_ln=0.0468, oil_sd_ln=0.159))
        # s_r = a OA / r s_OA; the rungs at z = +-1.2816 by the two spreads together.
        a, b, oa, sd = 1.1628, 6.0555, 53.477, 0.0346
        s_r, other = a * oa / (a * oa + b) * sd, 0.0468**2 + 0.159**2
        whole = math.sqrt(s_r**2 + other)
        for z, seen in ((-1.2816, wide["pours"][0]), (1.2816, wide["pours"][-1])):
            rung = (a * oa * math.exp(z * sd * s_r / whole) + b) * math.exp(z * other / whole)
            self.assertAlmostEqual(seen["cumulative_g"], rung, delta=0.05)
        self.assertLess(wide["pours"][0]["cumulative_g"], first)
        self.assertGreater(wide["pours"][-1]["cumulative_g"], last)
        self.refused(self.calc("pours", oil_sd_ln=-0.1), "oil_sd_ln")

    def test_size(self) -> None:
        answer = self.ok(self.calc("size"))
        self.assertEqual(
            set(answer),
            {"volume_ml", "pigment_g", "oil_g", "paint_density_g_per_ml", "loads", "load_ml", "leftover_ml"},
        )
        self.assertAlmostEqual(answer["pigment_g"], 111.848, 3)
        self.assertEqual((answer["loads"], round(answer["load_ml"], 6)), (8, 16.2))

    def test_correction(self) -> None:
        answer = self.ok(self.calc("correction"))
        self.assertEqual(
            set(answer),
            {
                "direction",
                "pigment_to_add_g",
                "oil_to_add_g",
                "oil_to_draw_g",
                "reduced_pvc_now",
                "body_now",
                "reduced_pvc_after",
                "volume_before_ml",
                "volume_after_ml",
                "reachable",
            },
        )
        self.assertEqual(answer["direction"], "add_pigment")
        self.assertAlmostEqual(answer["pigment_to_add_g"], 7.4636, 4)

    def test_measure(self) -> None:
        answer = self.ok(self.calc("measure"))
        mass = answer["mass_g"]
        self.assertEqual(set(mass), {"median", "low", "high", "basis"})
        self.assertEqual([round(mass[k], 6) for k in ("median", "low", "high")], [5.5, 3.575, 7.425])

        for fill, factor in (("tapped", 1.25), ("heaped", 1.6)):
            self.assertAlmostEqual(self.ok(self.calc("measure", fill=fill))["mass_g"]["median"], 5.5 * factor)

    def test_demand_with_noise_of_the_studio_s_own(self) -> None:
        known, rough = self.ok(self.calc("demand")), self.ok(self.calc("demand", rub_out_sd=0.12))
        self.assertGreater(rough["lots"][0]["sd_ln"], known["lots"][0]["sd_ln"] + 0.01)
        self.assertEqual(known, self.ok(self.calc("demand", rub_out_sd=0.05, lot_sd=0.08)))
        unlike = self.ok(self.calc("demand", lot_sd=0.2))
        self.assertGreater(unlike["lots"][1]["sd_ln"], known["lots"][1]["sd_ln"] + 0.05)
        self.refused(self.calc("demand", lot_sd=0), "lot_sd")

    def test_demand(self) -> None:
        answer = self.ok(self.calc("demand"))
        self.assertEqual(set(answer), {"lots", "unseen_lot"})
        a, b = answer["lots"]
        self.assertEqual((a["key"], b["key"]), ("A", "B"))
        self.assertAlmostEqual(a["estimate"]["median"], 53.477, 3)
        self.assertAlmostEqual(a["sd_ln"], 0.0346, 4)
        self.assertAlmostEqual(b["estimate"]["high"], 64.045, 3)
        self.assertEqual(a["estimate"]["basis"], "learned")
        nothing = self.ok(self.calc("demand", lots=[]))["unseen_lot"]
        self.assertAlmostEqual(nothing["sd_ln"], 0.1669, 4)
        self.assertEqual(nothing["estimate"]["basis"], "library")

    def test_refusals_name_the_field(self) -> None:
        cases: list[tuple[str, str, dict[str, Any]]] = [
            ("wetting", "pigments", {"pigments": []}),
            (
                "wetting",
                "pigments.0.density_g_per_ml",
                {"pigments": [WETTING["pigments"][0] | {"density_g_per_ml": 0}]},
            ),  # type: ignore[index]
            ("wetting", "reduced_pvc", {"reduced_pvc": 1.2}),
            ("wetting", "oil_g_per_100g", {"oil_g_per_100g": 60}),
            ("wetting", "oil_density_g_per_ml", {"oil_density_g_per_ml": "thin"}),
            ("wetting", "colour", {"colour": "blue"}),
            ("pours", "pigment_g", {"pigment_g": 1_000_000}),
            ("pours", "demand.sd_ln", {"demand": {"median": 50, "sd_ln": -1}}),
            ("size", "tubes", {"pigment_g": 50}),
            ("size", "tubes.0.count", {"tubes": [{"usable_ml": 40, "count": 1.5}]}),
            ("size", "film_mm", {"film_mm": None}),
            ("correction", "pigment_g", {"pigment_g": 0}),
            ("correction", "pigment_on_hand_g", {"pigment_on_hand_g": -1}),
            ("demand", "range_high", {"range_high": 30}),
            ("demand", "lots.1.key", {"lots": [DEMAND["lots"][0], DEMAND["lots"][0]]}),  # type: ignore[index]
            (
                "demand",
                "lots.0.observations.0.sd",
                {"lots": [{"key": "A", "observations": [{"oil_absorption_g_per_100g": 50, "sd": 0}]}]},
            ),
            ("measure", "amount", {"amount": -2}),
            ("measure", "amount", {"amount": True}),
            ("measure", "unit", {"unit": "bucket"}),
            ("measure", "after_g", {"unit": "weigh_back", "before_g": 100, "after_g": 130}),
        ]
        for name, field, change in cases:
            with self.subTest(name=name, field=field, change=change):
                self.refused(self.calc(name, **change), field)

    def test_what_json_cannot_hold(self) -> None:
        headers = {"content-type": "application/json"}
        for word in ("NaN", "Infinity", "-Infinity", "1e999"):
            body = f'{{"amount": {word}, "unit": "g"}}'
            self.refused(self.client.post("/api/calc/measure", content=body, headers=headers), "amount")
        self.refused(self.client.post("/api/calc/measure", content="{", headers=headers), "body")

    def test_the_description_shows_every_calculator_with_an_example(self) -> None:
        paths = self.ok(self.client.get("/api/openapi.json", timeout=60))["paths"]
        for name in GOOD:
            operation = paths[f"/api/calc/{name}"]["post"]
            examples = operation["requestBody"]["content"]["application/json"]["examples"]
            value = examples["worked"]["value"]
            self.ok(self.client.post(f"/api/calc/{name}", json=value))
            self.assertIn("application/problem+json", operation["responses"]["422"]["content"])


class LadderCalculator(ServerTest):
    READINGS = [{"dose_pct": float(d), "bleed_mm": 4.0 - d} for d in range(4)]

    def post(self, **body: object) -> httpx.Response:
        return self.client.post("/api/calc/ladder", json=body)

    def test_a_design_and_the_least_dose(self) -> None:
        told = self.ok(
            self.post(
                design={"top_dose_pct": 3.0, "basis": "oil", "oil_g_per_100g": 60.0, "rungs": 4, "gel_strength": 0.1},
                readings=self.READINGS,
                targets=[{"what": "bleed_mm", "at_most": 2.5}],
            )
        )
        self.assertEqual([rung["additives"][0]["dose_pct"] for rung in told["design"]["rungs"]], [0, 1, 2, 3])
        self.assertAlmostEqual(told["design"]["oil_g_per_100g"], 60.0)
        self.assertAlmostEqual(told["fit"]["answer"]["dose_pct"], 1.5)

    def test_each_refusal_names_its_field(self) -> None:
        design = {"top_dose_pct": 3.0, "basis": "oil", "oil_g_per_100g": 60.0}
        for body, field in (
            ({}, "design"),
            ({"design": {**design, "paste_per_rung_g": 1.0}}, "design.paste_per_rung_g"),
            ({"design": {**design, "gel_strength": 0.02}}, "design.gel_strength"),
            ({"design": {**design, "doses": [0.0, 1.0, 1.0]}}, "design.doses.2"),
            ({"readings": self.READINGS[:2]}, "readings"),
            ({"readings": [*self.READINGS, self.READINGS[0]]}, "readings.4.dose_pct"),
            ({"readings": self.READINGS, "targets": [{"what": "string_mm", "at_most": 9.0}]}, "targets.0.what"),
        ):
            with self.subTest(field):
                self.refused(self.post(**body), field)


class MakingCalculators(ServerTest):
    REACTION: ClassVar[dict[str, Any]] = {
        "reactants": [{"formula": "CuSO4.5H2O", "mass_g": 50}, {"formula": "Na2CO3", "mass_g": 25}],
        "products": [{"formula": one} for one in ("Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O")],
        "wanted": "Cu2(OH)2CO3",
    }

    def post(self, path: str, **body: Any) -> httpx.Response:
        return self.client.post(f"/api/calc/{path}", json=body)

    def test_worked_figures_and_fields(self) -> None:
        told = self.ok(self.post("reaction", **self.REACTION, obtained_g=20))
        self.assertEqual(
            set(told), {"equation", "coefficients", "limiting", "theoretical_g", "left", "yield_fraction", "masses_g"}
        )
        self.assertEqual(told["coefficients"]["H2O"], 9)
        self.assertAlmostEqual(told["yield_fraction"], 0.9034, 4)
        self.assertAlmostEqual(self.ok(self.post("lake", alum_g=20))["soda_g"], 6.7026, 4)
        self.assertEqual(self.ok(self.post("washes", retained_ml=40, wash_ml=200, target_fraction=0.001))["washes"], 4)
        self.assertAlmostEqual(
            self.ok(self.post("washes", retained_ml=40, water_ml=600, washes=3))["left_fraction"], 0.00463, 5
        )
        stack = [{"aperture_um": um, "retained_g": g} for um, g in ((250, 2), (125, 8), (63, 18), (38, 9))]
        self.assertAlmostEqual(self.ok(self.post("sieve", fractions=stack, pan_g=3, charge_g=41))["d50_um"], 85.43, 2)
        heated = {"before_g": 10, "after_g": 7.2, "from_formula": "Cu2(OH)2CO3", "to_formula": "CuO"}
        self.assertAlmostEqual(self.ok(self.post("heating", **heated))["expected_after_g"], 7.1949, 4)

    def test_each_refusal_names_its_field(self) -> None:
        odd = {**self.REACTION, "reactants": [{"formula": "CuSO4,5H2O", "mass_g": 50}, {"formula": "Na2CO3"}]}
        for path, body, field in (
            ("reaction", odd, "reactants.0.formula"),
            ("reaction", {**self.REACTION, "wanted": "CuO"}, "wanted"),
            ("reaction", {**self.REACTION, "products": [{"formula": "Cu2(OH)2CO3"}, {"formula": "CO2"}]}, "products"),
            ("lake", {"alum_g": 20, "soda": "cream"}, "soda"),
            ("washes", {"retained_ml": 40, "wash_ml": 0, "target_fraction": 0.001}, "wash_ml"),
            ("washes", {"retained_ml": 40}, "wash_ml"),
            (
                "sieve",
                {
                    "fractions": [{"aperture_um": 63, "retained_g": 1}, {"aperture_um": 125, "retained_g": 1}],
                    "pan_g": 1,
                },
                "fractions.1.aperture_um",
            ),
            ("heating", {"before_g": 10, "after_g": 7, "from_formula": "Zz", "to_formula": "CuO"}, "from_formula"),
        ):
            with self.subTest(path=path, field=field):
                self.refused(self.post(path, **body), field)


class TubesAndCost(ServerTest):
    def test_tubes_as_worked(self) -> None:
        stock = [{"usable_ml": 40, "count": 3}, {"usable_ml": 20, "count": 2}, {"usable_ml": 60, "count": 1}]
        told = self.ok(self.client.post("/api/calc/tubes", json={"volume_ml": 131, "stock": stock}))
        self.assertEqual((told["filled_ml"], told["leftover_ml"]), (120, 11))
        self.assertEqual(sorted((one["usable_ml"], one["count"]) for one in told["use"]), [(20, 1), (40, 1), (60, 1)])
        bad = self.client.post("/api/calc/tubes", json={"volume_ml": 131, "stock": [{"usable_ml": -1, "count": 3}]})
        self.refused(bad, "stock.0.usable_ml")

    def test_cost_in_decimal_text(self) -> None:
        items = [{"name": "Smalt", "amount": "0.1", "price_per_unit": "30.15"}]
        told = self.ok(self.client.post("/api/calc/cost", json={"items": items, "volume_ml": "40", "tube_ml": "20"}))
        self.assertEqual((told["total"], told["per_ml"], told["per_tube"]), ("3.02", "0.0755", "1.51"))
        self.refused(self.client.post("/api/calc/cost", json={"items": [], "volume_ml": "40"}), "items")
        self.refused(self.client.post("/api/calc/cost", json={"items": items, "volume_ml": "0"}), "volume_ml")


class DayCalculators(ServerTest):
    JOBS: ClassVar[list[dict[str, Any]]] = [
        {"key": "a", "minutes": 60, "lightness": 35, "staining": 3, "oil": "linseed", "hazard": False},
        {"key": "b", "minutes": 45, "lightness": 92, "staining": 0, "oil": "walnut", "hazard": False},
        {"key": "c", "minutes": 50, "lightness": 60, "staining": 1, "oil": "linseed", "hazard": False},
        {"key": "d", "minutes": 55, "lightness": 80, "staining": 1, "oil": "linseed", "hazard": True},
    ]

    def test_the_day_with_the_least_cleaning(self) -> None:
        told = self.ok(self.client.post("/api/calc/day", json={"jobs": self.JOBS}))
        self.assertEqual(
            set(told), {"order", "cleaning_min", "total_cleaning_min", "total_min", "as_given_cleaning_min"}
        )
        self.assertAlmostEqual(told["total_cleaning_min"], 59.1, 6)
        self.assertAlmostEqual(told["as_given_cleaning_min"], 74.7, 6)
        self.assertEqual(self.ok(self.client.post("/api/calc/day", json={"jobs": []}))["order"], [])
        twice = {"jobs": [self.JOBS[0], self.JOBS[0]]}
        self.refused(self.client.post("/api/calc/day", json=twice), "jobs.1.key")
        self.refused(
            self.client.post("/api/calc/day", json={"jobs": [{**self.JOBS[0], "lightness": 120}]}), "jobs.0.lightness"
        )

    def test_a_makers_eye(self) -> None:
        said = [
            {"true_reduced_pvc": true, "said_body": body}
            for true, body in ((0.86, "stiff"), (0.80, "tube"), (0.72, "soft"))
        ]
        told = self.ok(self.client.post("/api/calc/eye", json={"judgements": said}))
        self.assertAlmostEqual(told["bias"], 0.03491, 5)
        self.assertAlmostEqual(told["sd"], 0.05069, 5)
        wrong = {"judgements": [{**said[0], "said_body": "fluffy"}]}
        self.refused(self.client.post("/api/calc/eye", json=wrong), "judgements.0.said_body")


class InColour(ServerTest):
    def test_the_worked_paint_and_its_half_with_white(self) -> None:
        asked = {"masstone": [0.05, 0.08, 0.35], "tint": [0.45, 0.52, 0.75], "white": [0.93, 0.93, 0.90]}
        paint = self.ok(self.client.post("/api/calc/paint_colour", json={**asked, "tint_share": 1 / 11}))
        for found, wanted in zip(paint["s"], (0.38380, 0.43189, 0.64266), strict=True):
            self.assertAlmostEqual(found, wanted, 5)
        white = {"share": 1, "k": [(1 - w) ** 2 / (2 * w) for w in asked["white"]], "s": [1, 1, 1]}
        half = self.ok(self.client.post("/api/calc/mix_colour", json={"parts": [{"share": 1, **paint}, white]}))
        for found, wanted in zip(half["reflectance"], (0.14568, 0.20021, 0.50712), strict=True):
            self.assertAlmostEqual(found, wanted, 5)
        self.assertRegex(half["srgb"], "^#[0-9a-f]{6}$")

    def test_each_refusal_names_its_field(self) -> None:
        good = {"masstone": [0.05], "tint": [0.45], "white": [0.93], "tint_share": 0.1}
        for what, field in (
            ({"masstone": [0.0]}, "masstone.0"),
            ({"white": [1.1]}, "white.0"),
            ({"tint": [0.04]}, "tint.0"),
            ({"white": []}, "white"),
            ({"tint": [0.4, 0.5]}, "tint"),
            ({"tint_share": 1.0}, "tint_share"),
            ({"masstone": [0.03], "surface": True}, "masstone.0"),
        ):
            with self.subTest(what):
                self.refused(self.client.post("/api/calc/paint_colour", json={**good, **what}), field)
        for parts, field in (
            ([], "parts"),
            ([{"share": 0, "k": [1], "s": [1]}], "parts"),
            ([{"share": 1, "k": [1], "s": [0]}], "parts.0.s.0"),
            ([{"share": -1, "k": [1], "s": [1]}], "parts.0.share"),
        ):
            with self.subTest(parts):
                self.refused(self.client.post("/api/calc/mix_colour", json={"parts": parts}), field)
