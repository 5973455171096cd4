"""Processes on the record: kept in versions, read with what they come to, planned forward and back."""

from typing import Any

from niddy.core.errors import Refused
from niddy.core.figure import Figure
from niddy.core.making import Does, StepKind, Template
from niddy.studio import making
from niddy.studio.errors import Missing
from niddy.studio.making import (
    IngredientAsked,
    ProcessAsked,
    ProcessPreview,
    ProcessVersionAsked,
    RunAsked,
    RunPaper,
    StepAsked,
)
from tests.support import NOW, DatabaseTest

SALTS = [
    IngredientAsked(name="Copper sulfate", parts_g=50.0, role=Does.SALT, formula="CuSO4.5H2O", solution_pct=10.0),
    IngredientAsked(name="Soda", parts_g=25.0, role=Does.PRECIPITANT, formula="Na2CO3"),
]
OUT = ["Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"]
WASH = StepAsked(kind=StepKind.WASH, says="Wash it", wash_ml=200.0, washes=4)


def figure(paper: RunPaper, label: str) -> Figure:
    """A figure of a run on paper, which must have a working."""
    found = next(one for one in paper.figures if one.label == label)
    assert found.working.inputs
    return found


class Processes(DatabaseTest):
    with_demo = True

    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)

    def refused(self, field: str, does: Any, *what: object) -> Refused:
        with self.assertRaises(Refused) as caught:
            does(*what)
        self.assertEqual(caught.exception.field, field)
        return caught.exception

    def asked(self, **what: Any) -> ProcessAsked:
        return ProcessAsked(
            **{"name": "Green", "ingredients": SALTS, "products": OUT, "wanted": OUT[0], "steps": [WASH], **what}
        )

    def version(self, **what: Any) -> ProcessVersionAsked:
        said = self.asked().model_dump(exclude={"name", "note"})
        return ProcessVersionAsked.model_validate({**said, "why": "cleaner", **what})

    def test_kept_in_versions_that_say_why(self) -> None:
        number = making.add(self.session, NOW, self.asked(note="first"))
        self.refused("name", making.add, self.session, NOW, self.asked())
        self.refused("ingredients", making.add_version, self.session, NOW, number, self.version())
        more = [WASH.model_copy(update={"washes": 6})]
        self.refused("why", making.add_version, self.session, NOW, number, self.version(steps=more, why=" "))
        self.assertEqual(making.add_version(self.session, NOW, number, self.version(steps=more)), 2)
        page = making.page(self.session, number)
        self.assertEqual((page.version, [one.why for one in page.versions]), (2, ["cleaner", ""]))
        self.assertEqual(page.said.steps[0].washes, 6)
        self.assertEqual(making.page(self.session, number, 1).said.steps[0].washes, 4)
        for missing in ((number, 9), (9_999, None)):
            with self.assertRaises(Missing):
                making.page(self.session, *missing)
        with self.assertRaises(Missing):
            making.add_version(self.session, NOW, 9_999, self.version())

    def test_what_it_comes_to_and_what_it_calls_for(self) -> None:
        seen = making.page(self.session, making.add(self.session, NOW, self.asked())).previewed
        self.assertAlmostEqual(figure(seen.run, "Theory").value, 22.139, 3)
        self.assertIn("copper", seen.run.waste_holds)
        self.assertEqual(seen.measured, ("wash water",))
        self.assertLessEqual({"copper", "foams"}, {caution.key for caution in seen.cautions})
        self.assertIn("licensed disposal", seen.always)

    def test_refusals_name_the_field_of_the_sheet(self) -> None:
        salt, soda = SALTS
        for field, what in (
            ("name", {"name": " "}),
            ("ingredients.1.formula", {"ingredients": [salt, soda.model_copy(update={"formula": "Na2CO3,"})]}),
            ("products", {"products": OUT[:2]}),
            ("wanted", {"wanted": "CO2"}),
            ("steps.0.wash_ml", {"steps": [WASH.model_copy(update={"wash_ml": 0.0})]}),
            ("steps.0.ingredient", {"steps": [WASH.model_copy(update={"ingredient": 7})]}),
        ):
            with self.subTest(field):
                self.refused(field, making.add, self.session, NOW, self.asked(**what))
        self.refused(
            "low",
            making.preview,
            ProcessPreview(
                ingredients=SALTS, steps=[StepAsked(kind=StepKind.ACIDITY, says="pH", ph_low=9.0, ph_high=6.0)]
            ),
        )

    def test_a_sheet_without_names_is_reckoned_while_one_writes(self) -> None:
        bare = [one.model_copy(update={"name": ""}) for one in SALTS]
        seen = making.preview(ProcessPreview(ingredients=bare, products=OUT, wanted=OUT[0]))
        self.assertEqual([one.name for one in seen.run.weigh], ["no. 1", "no. 2"])
        for one in making.room(self.session, NOW).templates:
            if one.key not in (Template.BLANK, Template.PRECIPITATION):
                said = one.said.model_dump()
                self.assertTrue(making.preview(ProcessPreview.model_validate(said)).run.weigh)

    def test_a_run_forward_and_back(self) -> None:
        number = making.add(self.session, NOW, self.asked())
        hand = making.plan(self.session, number, RunAsked(on_hand={0: 100.0, 1: 30.0}))
        self.assertAlmostEqual(hand.factor, 1.2)
        back = making.plan(self.session, number, RunAsked(wanted_g=40.0))
        self.assertAlmostEqual(figure(back, "Expect").value, 40.0)
        self.refused("on_hand.5", making.plan, self.session, number, RunAsked(on_hand={5: 3.0}))
        bare = making.add(self.session, NOW, self.asked(name="Bare", products=[], wanted=""))
        self.refused("wanted_g", making.plan, self.session, bare, RunAsked(wanted_g=10.0))

    def test_the_demo_has_two(self) -> None:
        lines = {line.name: line for line in making.room(self.session, NOW).processes}
        self.assertEqual((lines["Estuary green"].version, lines["Marshwort lake"].wanted), (2, ""))
