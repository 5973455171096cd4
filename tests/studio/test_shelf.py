"""The shelf: every kind of material, the studio's own, measures weighed once, CSV out and in."""

import io
from dataclasses import replace
from decimal import Decimal
from uuid import uuid4

from hypothesis import given
from hypothesis import strategies as st

from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.materials import Particle, Pigment
from niddy.core.measures import Unit
from niddy.exchange import stock_csv
from niddy.studio import materials, plan
from niddy.studio.materials import LotChange, NewLot
from niddy.studio.plan import PlanAsked
from tests.support import NOW, DatabaseTest

OWN = Pigment(
    "",
    "Ditch clay",
    "",
    "own",
    2.7,
    30.0,
    44.0,
    0.7,
    Particle.COARSE,
    "semi",
    "medium",
    1,
    "",
    "medium",
    ("silica",),
    "#9a6b3f",
)
HEADER = "kind,material,code,received_on,received\n"


def rows(text: str | bytes) -> list[stock_csv.RowRead]:
    return list(stock_csv.read(io.BytesIO(text if isinstance(text, bytes) else text.encode())))


class Kinds(DatabaseTest):
    def receive(self, **what: object) -> int:
        known: dict[str, object] = {
            "kind": "oil",
            "material_key": "walnut-refined",
            "code": uuid4().hex[:9],
            "received_on": NOW.date(),
            "received": 500.0,
        }
        with self.database.session() as session:
            return materials.receive(session, NOW, NewLot(**(known | what)))  # type: ignore[arg-type]

    def lot(self, lot_id: int) -> materials.LotKept:
        with self.database.session() as session:
            return materials.lot(session, lot_id)

    def test_tubes_and_jars_are_counted(self) -> None:
        lot = self.lot(self.receive(kind="tube", material_key="40 ml tube", received=50.0))
        self.assertEqual((lot.name, lot.unit, lot.on_hand, lot.density), ("40 ml tube", "pieces", 50.0, None))
        for bad in (0.0, 2.5, 1e9):
            with self.assertRaises(Refused) as caught:
                self.receive(kind="jar", material_key="jar", received=bad)
            self.assertEqual(caught.exception.field, "received")
        additive = self.lot(self.receive(kind="additive", material_key="beeswax"))
        self.assertEqual((additive.name, additive.unit, additive.hazards), ("Beeswax", "g", ("hot-wax",)))

    def test_a_spoon_and_drops_weighed_once_tighten_every_later_one(self) -> None:
        powder = self.receive(kind="pigment", material_key="viridian")
        oil = self.receive()
        before = self.planned_from_spoons(powder)
        with self.database.session() as session:
            materials.weigh_spoon(session, powder, Unit.TEASPOON, 4.8, 2)
            materials.weigh_drops(session, oil, 40, 0.88)
        self.assertEqual(self.lot(powder).loose_density, materials.Value(0.48, "g/ml", Basis.MEASURED))
        drop = self.lot(oil).drop
        assert drop is not None
        self.assertAlmostEqual(drop.value, 0.022)
        after = self.planned_from_spoons(powder)
        width = [((p.high or 0) - (p.low or 0)) / p.value for p in (before, after)]
        self.assertAlmostEqual(width[0], 0.70)
        self.assertAlmostEqual(width[1], 0.16)

    def planned_from_spoons(self, lot_id: int) -> "plan.core.Figure":
        asked = PlanAsked.model_validate(
            {
                "lines": [{"lot_id": lot_id, "spoons": {"amount": 3}}],
                "oil": {"oil_key": "walnut-refined"},
                "reduced_pvc": 0.86,
            }
        )
        with self.database.session() as session:
            return plan.compute(session, asked).plan.lines[0].mass

    def test_senseless_weighings_name_their_field(self) -> None:
        powder, oil = self.receive(kind="pigment", material_key="viridian"), self.receive()
        calls = {
            "unit": lambda s: materials.weigh_spoon(s, powder, Unit.DROP, 5, 1),
            "grams": lambda s: materials.weigh_spoon(s, powder, Unit.TEASPOON, 500, 1),
            "spoons": lambda s: materials.weigh_spoon(s, powder, Unit.TEASPOON, 5, 0),
            "drops": lambda s: materials.weigh_drops(s, oil, 12, 0.3),
        }
        for field, call in calls.items():
            with self.subTest(field), self.database.session() as session, self.assertRaises(Refused) as caught:
                call(session)
            self.assertEqual(caught.exception.field, field)

    def test_a_material_of_ones_own_is_planned_like_any_other(self) -> None:
        with self.database.session() as session:
            key = materials.add_own(session, NOW, "pigment", OWN)
            self.assertEqual(key, "own-ditch-clay")
            with self.assertRaises(Refused) as caught:
                materials.add_own(session, NOW, "pigment", OWN)
            self.assertEqual(caught.exception.field, "name")
            for field, bad in {
                "oil_absorption_high": replace(OWN, name="b", oil_absorption_high=20.0),
                "hazards.0": replace(OWN, name="c", hazards=("dragons",)),
                "masstone_srgb": replace(OWN, name="d", masstone_srgb="brown"),
                "density_g_per_ml": replace(OWN, name="e", density_g_per_ml=0.0),
            }.items():
                with self.assertRaises(Refused) as caught:
                    materials.add_own(session, NOW, "pigment", bad)
                self.assertEqual(caught.exception.field, field)
        lot = self.receive(kind="pigment", material_key=key)
        asked = PlanAsked.model_validate(
            {
                "lines": [{"lot_id": lot, "parts": 1.0}],
                "oil": {"oil_key": "walnut-refined"},
                "reduced_pvc": 0.86,
                "pigment_g": 50.0,
            }
        )
        with self.database.session() as session:
            made = plan.compute(session, asked).plan
            self.assertIn(lot, [one.id for one in materials.lots(session, words="ditch")])
        self.assertEqual((made.name, made.cautions[0].key), ("Ditch clay", "silica"))
        self.assertIn("range 30 to 44", made.scale.says)

    def test_a_lot_is_changed_and_its_own_hazards_reach_the_plan(self) -> None:
        lot_id = self.receive(kind="pigment", material_key="viridian")
        other = self.lot(self.receive())
        wanted = LotChange("V-7", Decimal("9.5"), "", 3.4, None, None, "K", NOW.date(), "keep wet", ("lead",))
        with self.database.session() as session:
            materials.change(session, NOW, lot_id, wanted)
        lot = self.lot(lot_id)
        self.assertEqual(
            (lot.code, lot.hazards, lot.hazards_own, lot.safety_note), ("V-7", ("lead",), True, "keep wet")
        )
        with self.database.session() as session, self.assertRaises(Refused) as caught:
            materials.change(session, NOW, lot_id, replace(wanted, code=other.code))
        self.assertEqual(caught.exception.field, "code")

    def test_sorting_and_what_runs_low(self) -> None:
        few = self.receive(received=1000.0)
        with self.database.session() as session:
            materials.weigh_in(session, NOW, few, 20.0)
            self.assertEqual(materials.lots(session, sort="on_hand", kind="oil")[0].id, few)
            self.assertIn(few, [lot.id for lot in materials.low_lots(session)])
            codes = [lot.code for lot in materials.lots(session, sort="code")]
            self.assertEqual(codes, sorted(codes))


class Csv(DatabaseTest):
    with_demo = True

    def test_out_and_in_again_changes_nothing(self) -> None:
        with self.database.session() as session:
            kept = materials.lots(session, with_used_up=True)
            text = "".join(stock_csv.write(kept))
            read = rows(text)
            self.assertEqual(
                [row.problems for row in read],
                [()] * len([lot for lot in kept if lot.kind not in ("gel", "base") and not (lot.cake or lot.made_in)]),
            )
            done = materials.import_lots(session, NOW, [(r.lot, r.on_hand) for r in read if r.lot], write=True)
            self.assertEqual({row.does for row in done}, {"nothing"})
            self.assertEqual(materials.lots(session, with_used_up=True), kept)

    def test_new_lots_come_in_and_known_ones_are_changed(self) -> None:
        text = (
            "\ufeffkind;material;code;received_on;received;on_hand;note\r\n"
            "pigment;viridian;NEW-1;2026-05-01;250,5;200;'=1+1\r\n"
            "pigment;bone-black;BB-3;2026-01-01;900;700;drier\r\n"
        )
        read = rows(text)
        with self.database.session() as session:
            done = materials.import_lots(session, NOW, [(r.lot, r.on_hand) for r in read if r.lot], write=True)
            self.assertEqual([row.does for row in done], ["receive", "change"])
            known = materials.known_lots(session, ["NEW-1", "BB-3"])
            new, black = known["NEW-1"], known["BB-3"]
            moves = materials.movements(session, black.id)
        self.assertEqual((new.received, new.on_hand, new.note), (250.5, 200.0, "=1+1"))
        self.assertEqual((black.on_hand, black.note, moves[0].reason), (700.0, "drier", "weighed_in"))
        # A file without the spoon's weight takes it back to the library's.
        assert black.loose_density is not None
        self.assertIs(black.loose_density.basis, Basis.LIBRARY)

    def test_every_refused_cell_is_named(self) -> None:
        text = "kind,material,code,received_on,received,density_g_per_ml,price_per_unit\n"
        text += "pigment,viridian,A,yesterday,250,,\n"
        text += "pigment,viridian,A,2026-05-01,much,inf,cheap\n"
        text += "pigment,viridian,B,2026-05-01\n"
        text += "pigment,viridian,,,,,\n"
        problems = [[(p.column, bool(p.accepted)) for p in row.problems] for row in rows(text)]
        self.assertEqual(problems[0], [("received_on", True)])
        self.assertEqual({c for c, _ in problems[1]}, {"code", "received", "density_g_per_ml", "price_per_unit"})
        self.assertEqual(problems[2], [("row", True)])
        self.assertEqual({c for c, _ in problems[3]}, {"received", "received_on"})
        read = rows(
            HEADER + "pigment,butter,Z,2026-05-01,5\nspade,x,Y,2026-05-01,5\noil,walnut-refined,BB-3,2026-05-01,5\n"
        )
        with self.database.session() as session:
            done = materials.import_lots(session, NOW, [(r.lot, None) for r in read if r.lot], write=False)
        self.assertEqual([row.refused[0][0] for row in done], ["material_key", "kind", "material"])

    def test_what_is_no_such_file(self) -> None:
        for text, words in {
            b"": "empty",
            b"kind\x00,material\n": "not a text file",
            b"\x89PNG\r\n\x1a\n": "not UTF-8",
            HEADER.encode("utf-16"): "not a text file",
            HEADER.replace(",", "|").encode(): "no column",
            b"kind,material,code,received_on,received,colour\n": "unknown column",
            b"kind,kind,material,code,received_on,received\n": "twice",
            HEADER.encode() + b"pigment,caf\xe9,A,2026-05-01,5\n": "not UTF-8",
        }.items():
            with self.subTest(words), self.assertRaises(Refused) as caught:
                rows(text)
            self.assertEqual(caught.exception.field, "file")
            self.assertIn(words, caught.exception.problem)

    @given(st.text(alphabet=st.characters(blacklist_categories=("Cs", "Cc")), max_size=20))
    def test_cells_come_back_as_they_went_and_never_as_formulas(self, cell: str) -> None:
        out = stock_csv.escaped(cell)
        self.assertFalse(out.startswith(("=", "+", "-", "@")))
        self.assertEqual(stock_csv.unescaped(out), cell)
