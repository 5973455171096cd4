"""The Colour room on the record: readings that are asked once, charts that keep their lots, what squares teach."""

from dataclasses import replace
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import text

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import Lab, difference, lab_of_srgb
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.mixing.chart import Lower, PartsBy, squares
from niddy.core.mixing.paints import SRGB_OFF, KnownBy, Missing, Shine
from niddy.core.sludge import Grey
from niddy.core.telling import Measuring
from niddy.studio import checks, materials, mixing, recorder, shelf, sludge, workshop
from niddy.studio.checks import CheckAsked, ReadColour
from niddy.studio.errors import Conflict
from niddy.studio.errors import Missing as NotThere
from niddy.studio.mixing import ChartAsked, FindAsked, PaintAsked, PaintChange, ReadingAsked, SightAsked
from niddy.studio.mixing.inside import inside
from niddy.studio.mixing.kept import several
from niddy.studio.shelf.finding import FoundAsked
from niddy.studio.sludge.steering import SteerAsked
from tests.support import NOW, DatabaseTest

RED, RED_TINT, WHITE = {"L": 38, "a": 45, "b": 30}, {"L": 70, "a": 30, "b": 14}, {"L": 97, "a": 0, "b": 1}
BLUE, BLUE_TINT = {"L": 28, "a": 8, "b": -42}, {"L": 68, "a": -6, "b": -30}


def vars_of(lab: Lab) -> dict[str, float]:
    return {"L": lab.L, "a": lab.a, "b": lab.b}


class Colours(DatabaseTest):
    def setUp(self) -> None:
        self.session = self.enterContext(self.database.session())
        self.addCleanup(self.session.rollback)
        self.count = 0

    def paint(self, name: str, masstone: dict[str, Any] | None = None, tint: dict[str, Any] | None = None) -> int:
        made = mixing.add_paint(self.session, NOW, PaintAsked(id=uuid4(), name=name))
        for kind, lab in (("masstone", masstone), ("tint", tint)):
            if lab is not None:
                self.read(made, kind, lab=lab)
        return made

    def read(self, paint_id: int, kind: str, **colour: Any) -> UUID:
        # One after the other, as hands do it: the last counts.
        self.count += 1
        at = NOW + timedelta(seconds=self.count)
        asked = ReadingAsked.model_validate({"id": uuid4(), "kind": kind, "made_at": at, **colour})
        mixing.keep(self.session, NOW, paint_id, asked)
        return asked.id

    def white(self) -> int:
        made = self.paint("White", WHITE)
        mixing.see_by(self.session, SightAsked(white_id=made, shine=Shine.WITHOUT))
        return made

    def chart(self, *paints: int, **asked: Any) -> int:
        return mixing.begin(self.session, NOW, ChartAsked(id=uuid4(), paint_ids=list(paints), **asked))

    def act(self, number: int, kind: str, **what: Any) -> Any:
        said = mixing.CHARTS.acts.act_of({"id": uuid4(), "made_at": NOW, "kind": kind, **what})
        recorder.record(self.session, NOW, mixing.CHARTS, number, said)
        return said

    def painted(self, number: int, labs: dict[str, dict[str, Any]], how: str = "typed") -> Any:
        return self.act(number, "painted", squares=[{"code": code, "lab": lab} for code, lab in labs.items()], how=how)

    def lines(self) -> list[mixing.PaintLine]:
        room = mixing.room(self.session)
        return [*(line for lots in room.here for line in (lots.first, *lots.older)), *room.gone]

    def line(self, paint_id: int) -> mixing.PaintLine:
        return next(line for line in self.lines() if line.id == paint_id)

    def refused(self, field: str, words: str, work: Any, *asked: Any) -> None:
        with self.assertRaises(Refused) as refused:
            work(*asked)
        self.assertEqual(refused.exception.field, field)
        self.assertIn(words, refused.exception.problem)


class Paints(Colours):
    def test_a_paint_says_what_it_wants_until_it_wants_nothing(self) -> None:
        red = self.paint("Red")
        self.assertEqual(self.line(red).missing, (Missing.MASSTONE, Missing.TINT))
        self.read(red, "masstone", lab=RED)
        self.assertEqual((self.line(red).how, self.line(red).missing), (KnownBy.MASSTONE, (Missing.TINT,)))
        self.refused("white_id", "no white is chosen", lambda: self.read(red, "tint", lab=RED_TINT))
        self.white()
        self.read(red, "tint", lab=RED_TINT)
        line = self.line(red)
        self.assertEqual((line.how, line.missing, line.trouble), (KnownBy.FIGURES, (), ""))
        self.assertTrue(line.spectrum_helps, "a strong colour known by three figures")
        page = mixing.page(self.session, NOW, red)
        self.assertCountEqual([reading.kind for reading in page.readings], ["masstone", "tint"])
        self.assertEqual(page.white, "White")
        self.assertEqual(len(page.curves.k), 31)
        assert page.curves.white_k is not None and page.curves.tint is not None
        self.assertTrue(all(s > 0 for s in page.curves.s))

    def test_a_tint_keeps_the_white_it_was_let_down_with(self) -> None:
        first = self.white()
        red = self.paint("Red", RED, RED_TINT)
        before = mixing.page(self.session, NOW, red).curves
        other = self.paint("Another white", {"L": 90, "a": 0, "b": 8})
        mixing.see_by(self.session, SightAsked(white_id=other, shine=Shine.WITHOUT))
        after = mixing.page(self.session, NOW, red)
        self.assertEqual((after.white, after.white_now, after.curves.k), ("White", "Another white", before.k))
        self.refused(
            "retired",
            "studio's white",
            mixing.change_paint,
            self.session,
            other,
            PaintChange(name="x", tinting="low", swatch_srgb="#ffffff", retired=True),
        )
        mixing.change_paint(
            self.session, first, PaintChange(name="Old", tinting="low", swatch_srgb="#FFFFFF", retired=True)
        )
        self.assertEqual((self.line(first).name, self.line(first).retired), ("Old", True))

    def test_a_reading_set_aside_does_not_count_and_counts_again(self) -> None:
        self.white()
        red = self.paint("Red", RED, RED_TINT)
        wrong = self.read(red, "tint", lab=RED)
        self.assertIn("tint", self.line(red).trouble.lower())
        self.assertEqual(self.line(red).how, KnownBy.MASSTONE)
        mixing.set_aside(self.session, NOW, red, wrong, "read the wrong patch")
        self.assertEqual((self.line(red).how, self.line(red).trouble), (KnownBy.FIGURES, ""))
        mixing.set_aside(self.session, NOW, red, wrong, None)
        self.assertEqual(self.line(red).how, KnownBy.MASSTONE)
        self.refused("reason", "empty", mixing.set_aside, self.session, NOW, red, wrong, "  ")
        self.refused("reading_id", "no such reading", mixing.set_aside, self.session, NOW, red, uuid4(), "x")

    def test_asked_twice_it_is_once(self) -> None:
        asked = PaintAsked(id=uuid4(), name="Red")
        red = mixing.add_paint(self.session, NOW, asked)
        self.assertEqual(mixing.add_paint(self.session, NOW, asked), red)
        with self.assertRaises(Conflict):
            mixing.add_paint(self.session, NOW, PaintAsked(id=asked.id, name="Blue"))
        reading = ReadingAsked.model_validate({"id": uuid4(), "kind": "masstone", "made_at": NOW, "lab": RED})
        for _ in range(2):
            mixing.keep(self.session, NOW, red, reading)
        self.assertEqual(len(mixing.page(self.session, NOW, red).readings), 1)
        with self.assertRaises(Conflict):
            mixing.keep(self.session, NOW, red, reading.model_copy(update={"lab": None, "srgb": "#123456"}))

    def test_bad_readings_are_named(self) -> None:
        red = self.paint("Red")
        for field, words, colour in (
            ("lab", "exactly one", {}),
            ("lab", "exactly one", {"lab": RED, "srgb": "#ff0000"}),
            ("srgb", "'red'", {"srgb": "red"}),
            ("lab.L", "outside", {"lab": {"L": 140, "a": 0, "b": 0}}),
            ("spectrum", "30 bands", {"spectrum": [0.5] * 30}),
            ("spectrum", "a reflectance of 0 at 400 nm", {"spectrum": [0.0] + [0.5] * 30}),
            ("spectrum", "a reflectance of 1.2 at 410 nm", {"spectrum": [0.5, 1.2] + [0.5] * 29}),
            ("lab", "not a colour paint can have", {"lab": {"L": 90, "a": 120, "b": -120}}),
        ):
            with self.subTest(words):
                self.refused(field, words, lambda colour=colour: self.read(red, "masstone", **colour))
        self.refused(
            "made_at", "still to come", lambda: self.read(red, "masstone", lab=RED, made_at=NOW.replace(year=2030))
        )
        self.refused("name", "one of them", mixing.add_paint, self.session, NOW, PaintAsked(id=uuid4()))
        self.refused("name", "empty", mixing.add_paint, self.session, NOW, PaintAsked(id=uuid4(), name="  "))
        self.refused(
            "white_id", "no such paint", mixing.see_by, self.session, SightAsked(white_id=999, shine=Shine.OFF)
        )
        with self.assertRaises(NotThere):
            mixing.page(self.session, NOW, 999)


class Charts(Colours):
    def setUp(self) -> None:
        super().setUp()
        self.of_white = self.white()
        self.red, self.blue = self.paint("Red", RED, RED_TINT), self.paint("Blue", BLUE, BLUE_TINT)

    def predicted(self, number: int, code: str) -> Lab:
        return next(cell.lab for cell in mixing.view(self.session, NOW, number).cells if cell.code == code)

    def test_a_chart_is_predicted_painted_and_learned_from(self) -> None:
        number = self.chart(self.red, self.blue, white_rows=[1.0, 4.0, 10.0])
        view = mixing.view(self.session, NOW, number)
        self.assertEqual((len(view.cells), view.accuracy, view.next_code), (10, None, "A1"))
        for cell, lab in zip((view.cells[0], view.cells[3]), (RED, BLUE), strict=True):
            self.assertLess(difference(cell.lab, Lab(**lab)), 0.1, "a paint alone looks as it was read")
        tint = next(cell for cell in view.cells if cell.code == "A5")
        self.assertLess(difference(tint.lab, Lab(**RED_TINT)), 1.5, "the tint it was read from")
        # Painted, the blue turns out much stronger than its readings say.
        stronger = {
            "B1": {"L": 30, "a": 14, "b": -20},
            "A2": {"L": 52, "a": 10, "b": -24},
            "B3": {"L": 44, "a": 0, "b": -44},
            "B4": {"L": 54, "a": -3, "b": -40},
            "B5": {"L": 61, "a": -5, "b": -35},
        }
        self.painted(number, stronger)
        after = mixing.view(self.session, NOW, number)
        assert after.accuracy is not None
        self.assertEqual((after.accuracy.squares, after.next_code), (5, "A1"))
        self.assertLess(after.accuracy.after, after.accuracy.before)
        blue, red = self.line(self.blue), self.line(self.red)
        assert blue.strength is not None and red.strength is not None and blue.strength_low is not None
        self.assertGreater(blue.strength, 1.05)
        self.assertGreater(blue.strength, red.strength)
        self.assertEqual((blue.squares, red.squares), (5, 2))
        self.assertIsNone(self.line(self.of_white).strength)
        learned_at = self.predicted(number, "B4")
        self.painted(number, {"A1": RED, "B2": BLUE, "A3": RED, "A4": RED_TINT, "A5": RED_TINT})
        done = mixing.view(self.session, NOW, number)
        self.assertEqual((done.status, done.next_code), (Status.FINISHED, None))
        self.assertNotEqual(learned_at, self.predicted(number, "B4"))

    def test_an_act_taken_back_teaches_nothing_any_more(self) -> None:
        number = self.chart(self.red, self.blue)
        plain = self.predicted(number, "B1")
        act = self.painted(number, {"B1": {"L": 25, "a": 20, "b": -25}})
        self.assertNotEqual(self.predicted(number, "B1"), plain)
        self.act(number, "strike", strikes=act.id)
        view = mixing.view(self.session, NOW, number)
        self.assertEqual((view.accuracy, self.predicted(number, "B1")), (None, plain))
        self.assertIsNone(self.line(self.blue).strength)
        self.assertTrue(view.done[0].struck)
        self.refused("strikes", "undone already", lambda: self.act(number, "strike", strikes=act.id))

    def test_the_last_reading_of_a_square_counts_and_the_same_act_counts_once(self) -> None:
        number = self.chart(self.red, self.blue)
        act = self.painted(number, {"A1": RED})
        recorder.record(self.session, NOW, mixing.CHARTS, number, act)
        self.painted(number, {"A1": BLUE}, how="photo")
        view = mixing.view(self.session, NOW, number)
        self.assertEqual(view.cells[0].painted_lab, Lab(**BLUE))
        self.assertGreaterEqual(view.cells[0].painted_off or 0, 4.0)
        self.assertEqual([done.says for done in view.done], ["A1 from a photograph", "A1 from figures typed in"])
        with self.assertRaises(Conflict):
            recorder.record(self.session, NOW, mixing.CHARTS, number, act.model_copy(update={"how": "file"}))

    def test_squares_by_eye_are_weak_readings_and_say_nothing_of_how_right_it_is(self) -> None:
        number = self.chart(self.red, self.blue)
        plain = self.predicted(number, "B1")
        self.act(number, "judged", code="b1", looks=["bluer", "darker"])
        view = mixing.view(self.session, NOW, number)
        cell = next(cell for cell in view.cells if cell.code == "B1")
        assert cell.painted_lab is not None
        self.assertEqual((cell.how, cell.painted_off, view.accuracy), ("eye", 9.0, None))
        self.assertAlmostEqual(cell.painted_lab.b, plain.b - 7.0, delta=0.01)
        self.assertLess(self.predicted(number, "B1").b, plain.b, "the next prediction leans that way")
        self.assertGreater(self.predicted(number, "B1").b, plain.b - 7.0, "and no further than a word is worth")
        said = self.act(number, "judged", code="A1", looks=[])
        self.assertEqual(
            [one.says for one in mixing.view(self.session, NOW, number).done],
            ["A1 looks the same", "B1 looks bluer and darker"],
        )
        self.act(number, "strike", strikes=said.id)
        self.assertIn("A1", mixing.view(self.session, NOW, number).unread)
        self.refused("code", "not a square", lambda: self.act(number, "judged", code="Z9", looks=[]))
        self.painted(number, {"B2": BLUE})
        self.refused("code", "read already", lambda: self.act(number, "judged", code="B2", looks=[]))
        self.refused("looks", "at once", lambda: self.act(number, "judged", code="A1", looks=["redder", "greener"]))

    def test_thin_films_are_judged_and_the_paint_knows(self) -> None:
        number = self.chart(self.red, self.blue, thin=True, lower=Lower.EMPTY)
        self.assertEqual([film.code for film in mixing.view(self.session, NOW, number).films], ["C1", "C2"])
        self.assertIsNone(mixing.page(self.session, NOW, self.blue).hides)
        act = self.act(number, "hides", code="C2", hides="nearly")
        self.assertEqual(mixing.page(self.session, NOW, self.blue).hides, "nearly")
        self.painted(number, dict.fromkeys(("A1", "B1", "B2"), RED))
        self.assertEqual(mixing.view(self.session, NOW, number).status, Status.OPEN, "one film waits")
        self.act(number, "hides", code="C1", hides="fully")
        self.assertEqual(mixing.view(self.session, NOW, number).status, Status.FINISHED)
        self.act(number, "strike", strikes=act.id)
        self.assertIsNone(mixing.page(self.session, NOW, self.blue).hides)
        self.refused("code", "not a thin film", lambda: self.act(number, "hides", code="A1", hides="some"))

    def test_squares_that_cannot_be_are_named_and_nothing_is_kept(self) -> None:
        number = self.chart(self.red, self.blue)
        for field, words, labs in (
            ("squares", "none", {}),
            ("squares.1.code", "'Q7' is not a square", {"A1": RED, "Q7": RED}),
            ("squares.1.code", "A1 is in it twice", {"A1": RED, "a1": RED}),
            ("squares.0.lab.L", "outside", {"A1": {"L": -5, "a": 0, "b": 0}}),
        ):
            with self.subTest(words):
                self.refused(field, words, self.painted, number, labs)
        self.refused("text", "empty", lambda: self.act(number, "note", text=" "))
        self.assertEqual(mixing.view(self.session, NOW, number).done, ())

    def test_charts_that_cannot_be_are_refused(self) -> None:
        self.refused("paint_ids", "twice", self.chart, self.red, self.red)
        self.refused("paint_ids.1", "no such paint", self.chart, self.red, 999)
        mixing.see_by(self.session, SightAsked(white_id=None, shine=Shine.WITHOUT))
        self.refused("white_id", "no white is chosen", lambda: self.chart(self.red, white_rows=[1.0]))
        unread = self.paint("Unread white")
        mixing.see_by(self.session, SightAsked(white_id=unread, shine=Shine.WITHOUT))
        by_eye = mixing.view(self.session, NOW, self.chart(self.red, lower=Lower.WITH_WHITE))
        self.assertEqual(by_eye.white and by_eye.white.name, "Unread white")
        self.assertGreater(self.chart(self.red, self.blue, lower=Lower.EMPTY), 0)
        with self.assertRaises(NotThere):
            mixing.view(self.session, NOW, 999)

    def test_from_an_empty_studio_pigments_by_name_and_a_white_as_most_are_are_enough(self) -> None:
        mixing.see_by(self.session, SightAsked(white_id=None, shine=Shine.WITHOUT))
        keys = ("yellow-ochre", "ultramarine-blue", "red-ochre", "bone-black")
        paints = [mixing.add_paint(self.session, NOW, PaintAsked(id=uuid4(), source=f"library-{key}")) for key in keys]
        white = PaintAsked(id=uuid4(), source="library-titanium-white-rutile", white=True)
        for _ in range(2):
            white_id = mixing.add_paint(self.session, NOW, white)
        room = mixing.room(self.session)
        self.assertEqual((room.white_id, room.white_ready), (white_id, False))
        number = self.chart(*paints, white_rows=[4.0])
        view = mixing.view(self.session, NOW, number)
        self.assertEqual(view.white and view.white.name, "Titanium white (rutile)")
        black, let_down = self.predicted(number, "D4"), self.predicted(number, "D5")
        self.assertGreater(let_down.L, black.L + 15)
        self.refused("source", "is not a pigment", lambda: self.of("library-linseed-refined"))
        self.refused("source", "names no material", lambda: self.of("mud"))
        self.refused("name", "one of them", lambda: self.of("library-yellow-ochre", name="Both"))

    def of(self, source: str, **what: Any) -> int:
        return mixing.add_paint(self.session, NOW, PaintAsked(id=uuid4(), source=source, **what))

    def test_an_old_chart_keeps_its_white_and_its_lots(self) -> None:
        number = self.chart(self.red, white_rows=[4.0])
        before = self.predicted(number, "A2")
        other = self.paint("A grey white", {"L": 80, "a": 0, "b": 4})
        mixing.see_by(self.session, SightAsked(white_id=other, shine=Shine.WITHOUT))
        self.paint("Red", {"L": 20, "a": 10, "b": 10})
        view = mixing.view(self.session, NOW, number)
        assert view.white is not None
        self.assertEqual((view.white.name, self.predicted(number, "A2")), ("White", before))
        again = ChartAsked(id=uuid4(), paint_ids=[self.red])
        self.assertEqual(*(mixing.begin(self.session, NOW, again) for _ in range(2)))

    def test_one_chart_teaches_another_with_the_same_paint(self) -> None:
        first, second = self.chart(self.red, self.blue), self.chart(self.blue, self.red)
        before = self.predicted(second, "B1")
        self.painted(first, {"B1": {"L": 25, "a": 20, "b": -25}})
        self.assertNotEqual(self.predicted(second, "B1"), before)

    def test_what_squares_taught_stands_beside_the_readings_as_they_are_now(self) -> None:
        number = self.chart(self.red, self.blue, white_rows=[4.0])
        seen = mixing.view(self.session, NOW, number)
        other = {"L": 24, "a": 2, "b": -30}
        self.painted(number, {cell.code: vars_of(cell.lab) for cell in seen.cells})
        self.assertAlmostEqual(self.line(self.blue).strength or 0, 1, delta=0.05)
        wrong = self.read(self.blue, "tint", lab={"L": 50, "a": -2, "b": -36})
        weaker = self.line(self.blue).strength
        assert weaker is not None
        self.assertLess(weaker, 0.9, "read too strong, the squares say it is weaker")
        after = mixing.view(self.session, NOW, number).accuracy
        line = next(line for line in mixing.room(self.session).charts if line.number == number)
        assert after is not None
        self.assertAlmostEqual(line.after or 0, after.after, 6)
        self.assertAlmostEqual(line.before or 0, after.before, 6)
        mixing.set_aside(self.session, NOW, self.blue, wrong, "wrong ratio")
        self.assertAlmostEqual(self.line(self.blue).strength or 0, 1, delta=0.05)
        whiter = self.read(self.of_white, "masstone", lab={"L": 88, "a": 0, "b": 6})
        self.assertNotAlmostEqual(self.line(self.blue).strength or 0, 1, 3)
        mixing.set_aside(self.session, NOW, self.of_white, whiter, "dirty")
        self.read(self.blue, "masstone", lab=other)
        self.assertNotAlmostEqual(self.line(self.red).strength or 0, 1, 6)

    def test_charts_that_share_no_paint_but_through_others_teach_together(self) -> None:
        green = self.paint("Green", {"L": 45, "a": -40, "b": 20}, {"L": 75, "a": -22, "b": 10})
        first, second = self.chart(self.red, self.blue), self.chart(self.blue, green)
        self.painted(second, {"B1": {"L": 25, "a": 0, "b": -25}})
        taught = self.line(green).strength
        third = self.chart(green, self.paint("Grey", {"L": 50, "a": 0, "b": 0}, {"L": 80, "a": 0, "b": 0}))
        self.painted(third, {"B1": {"L": 40, "a": -10, "b": 5}})
        both = self.line(green).strength
        self.painted(first, {"A1": RED})
        assert taught is not None and both is not None
        self.assertNotEqual(taught, both)
        self.assertAlmostEqual(self.line(green).strength or 0, both, 4)
        self.assertEqual(self.line(green).squares, 2)

    def test_surface_left_alone_predicts_otherwise(self) -> None:
        number = self.chart(self.red, self.blue)
        corrected = self.predicted(number, "B1")
        mixing.see_by(self.session, SightAsked(white_id=self.of_white, shine=Shine.OFF))
        self.assertGreater(difference(self.predicted(number, "B1"), corrected), 0.2)
        self.assertLess(difference(self.predicted(number, "A1"), Lab(**RED)), 0.1)

    def test_a_twenty_four_by_twenty_four_chart(self) -> None:
        ids = [self.paint(f"P{n}", {"L": 20 + 2 * n, "a": n - 12, "b": 12 - n}) for n in range(24)]
        number = self.chart(*ids, lower=Lower.WITH_WHITE, white_rows=[1.0, 2.0, 4.0, 10.0])
        view = mixing.view(self.session, NOW, number)
        self.assertEqual(len(view.cells), 24 * 28)
        self.painted(number, {cell.code: vars_of(cell.lab) for cell in view.cells})
        accuracy = mixing.view(self.session, NOW, number).accuracy
        assert accuracy is not None and accuracy.held_out is not None
        self.assertEqual(accuracy.squares, 672)
        self.assertLess(max(accuracy.before, accuracy.after, accuracy.held_out), 0.2)


class Finding(Colours):
    def setUp(self) -> None:
        super().setUp()
        self.of_white = self.white()
        self.red, self.blue = self.paint("Red", RED, RED_TINT), self.paint("Blue", BLUE, BLUE_TINT)
        self.unread = self.paint("Never read")

    def find(self, **asked: Any) -> mixing.MixturesFound:
        return mixing.find(self.session, FindAsked.model_validate(asked))

    def test_what_was_mixed_is_found_again_in_parts_at_the_bench(self) -> None:
        number = self.chart(self.red, self.blue, lower=Lower.WITH_WHITE)
        lab = next(cell.lab for cell in mixing.view(self.session, NOW, number).cells if cell.code == "A2")
        found = self.find(colour={"lab": {"L": lab.L, "a": lab.a, "b": lab.b}}, total_g=60)
        best = found.mixtures[0]
        self.assertLess(best.de00, 0.5)
        self.assertEqual(best.says, "close to", "a hand mixes within 1.5: nobody can promise no difference")
        self.assertEqual({part.paint_id for part in best.parts}, {self.red, self.blue, self.of_white})
        self.assertAlmostEqual(sum(part.grams for part in best.parts), 60, 6)
        shares = {part.paint_id: part.share for part in best.parts}
        self.assertAlmostEqual(shares[self.red], 0.25, delta=0.05)
        self.assertTrue(all(part.does for part in best.parts))
        self.assertGreater(best.off, 1)
        self.assertEqual((found.chosen_from, found.left_out, found.by), (2, 1, PartsBy.WEIGHT))

    def test_what_may_go_in_is_the_makers_choice(self) -> None:
        wanted = {"srgb": "#8060a0"}
        without = self.find(colour=wanted, white=False, most=1)
        self.assertTrue(all(len(one.parts) == 1 and not one.parts[0].white for one in without.mixtures))
        guessed = self.find(colour=wanted, guesses=True)
        self.assertEqual((guessed.chosen_from, guessed.left_out), (3, 1))
        only = self.find(colour=wanted, paint_ids=[self.red])
        self.assertEqual({part.paint_id for one in only.mixtures for part in one.parts}, {self.red, self.of_white})
        left = self.find(colour=wanted, without_ids=[self.blue])
        self.assertNotIn(self.blue, {part.paint_id for one in left.mixtures for part in one.parts})
        itself = self.find(paint_id=self.red)
        self.assertNotIn(self.red, {part.paint_id for one in itself.mixtures for part in one.parts})
        self.assertEqual(itself.wanted_name, "Red")
        self.assertEqual(self.find(paint_id=self.unread).wanted_off, 12.0)

    def test_a_maker_without_a_scale_gets_parts_by_volume(self) -> None:
        settings = workshop.settings(self.session)
        workshop.change_settings(self.session, replace(settings, measuring=Measuring.EYE))
        found = self.find(colour={"srgb": "#8060a0"})
        self.assertEqual(found.by, PartsBy.VOLUME)
        for part in found.mixtures[0].parts:
            self.assertAlmostEqual(part.ml, part.grams / 1.7)
            self.assertFalse(part.density_known)
        self.assertEqual(self.find(colour={"srgb": "#8060a0"}, by="weight").by, PartsBy.WEIGHT)

    def test_a_grey_from_two(self) -> None:
        orange = self.paint("Orange", {"L": 62, "a": 36, "b": 62}, {"L": 80, "a": 16, "b": 34})
        found = self.find(grey_of=[orange, self.blue])
        grey = found.mixtures[0]
        self.assertLess(abs(grey.lab.a) + abs(grey.lab.b), 26)
        self.assertEqual({part.paint_id for part in grey.parts}, {orange, self.blue})

    def test_of_one_name_the_newest_that_is_here(self) -> None:
        newer = self.paint("Red", RED)
        parts = {part.paint_id for one in self.find(colour={"srgb": "#a04030"}).mixtures for part in one.parts}
        self.assertNotIn(self.red, parts)
        self.assertIn(newer, parts)

    def test_what_cannot_be_found_is_said(self) -> None:
        for field, words, asked in (
            ("colour", "one wanted colour", {}),
            ("colour", "one wanted colour", {"paint_id": 1, "item_id": 2}),
            ("colour.srgb", "'blue'", {"colour": {"srgb": "blue"}}),
            ("paint_id", "no such paint", {"paint_id": 999}),
            ("paint_ids.0", "no such paint", {"colour": {"srgb": "#808080"}, "paint_ids": [999]}),
            ("grey_of.1", "the same paint", {"grey_of": [self.red, self.red]}),
            ("grey_of.1", "no such paint", {"grey_of": [self.red, 999]}),
            (
                "paint_ids",
                "no paint to choose from",
                {"colour": {"srgb": "#808080"}, "without_ids": [self.red, self.blue]},
            ),
        ):
            with self.subTest(words):
                self.refused(field, words, lambda asked=asked: self.find(**asked))


class Joined(Colours):
    """The demo studio: batches, shelf, found jars, sludge and recipes."""

    with_demo = True

    def of_batch(self, number: int) -> mixing.PaintLine:
        return next(line for line in self.lines() if line.batch_number == number)

    def test_a_batch_that_is_checked_is_a_paint_without_asking_twice(self) -> None:
        line = self.of_batch(30)
        self.assertEqual((line.how, line.missing), (KnownBy.MASSTONE, (Missing.TINT,)))
        tint = CheckAsked.model_validate(
            {"id": uuid4(), "kind": "tint", "made_at": NOW, "lab": {"L": 66, "a": 20, "b": 28}, "white_parts": 8.0}
        )
        checks.record(self.session, NOW, 30, tint)
        self.assertEqual(self.of_batch(30).how, KnownBy.FIGURES)
        page = mixing.page(self.session, NOW, line.id)
        self.assertTrue(all(reading.from_checks for reading in page.readings))
        self.assertEqual((page.readings[0].white_parts, page.white), (8.0, "Titanium white, bought tube"))
        # The other way round: read under Colour, it is one of the batch's checks.
        green = self.of_batch(29)
        self.read(green.id, "masstone", lab={"L": 50, "a": -35, "b": 2})
        self.assertIn(CheckKind.MASSTONE, {one.kind for one in checks.page(self.session, NOW, 29).readings})
        self.assertEqual(self.of_batch(29).how, KnownBy.MASSTONE)
        reading = mixing.page(self.session, NOW, green.id).readings[0]
        mixing.set_aside(self.session, NOW, green.id, reading.id, "wrong patch")
        self.assertEqual(self.of_batch(29).how, KnownBy.GUESS)

    def test_a_colour_typed_under_check_is_as_unsure_as_one_typed_here(self) -> None:
        typed = CheckAsked.model_validate({"id": uuid4(), "kind": "masstone", "made_at": NOW, "srgb": "#a05030"})
        checks.record(self.session, NOW, 29, typed)
        page = mixing.page(self.session, NOW, self.of_batch(29).id)
        self.assertEqual([one.off for one in page.readings], [SRGB_OFF])

    def test_a_tint_let_down_by_volume_is_kept_as_what_it_weighs(self) -> None:
        blue, white = self.of_batch(5).id, workshop.white_of_tints(self.session) or 0
        of = inside(self.session, list(several(self.session, [blue, white]).values()))
        heavier = of[white].density_g_per_ml / of[blue].density_g_per_ml
        self.assertGreater(abs(heavier - 1), 0.02)
        self.assertFalse(mixing.page(self.session, NOW, blue).heavy_known, "nobody logged what is in the white")
        self.read(blue, "tint", lab=BLUE_TINT, white_parts=6.0, by="volume")
        last = mixing.page(self.session, NOW, blue).readings[0]
        self.assertAlmostEqual(last.white_parts or 0, 6 * heavier, 2)
        with self.assertRaises(Refused) as caught:
            self.read(blue, "tint", lab=BLUE_TINT, white_parts=1_000.0 if heavier > 1 else 0.05, by="volume")
        self.assertEqual(caught.exception.field, "white_parts")
        self.assertIn(" to ", caught.exception.accepted)
        self.read(blue, "tint", lab=BLUE_TINT, white_parts=6.0)
        self.assertEqual(mixing.page(self.session, NOW, blue).readings[0].white_parts, 6)

    def test_tubes_and_jars_are_paints_and_what_is_used_up_is_told_apart(self) -> None:
        lines = {line.batch_number: line for line in self.lines() if line.batch_number}
        self.assertTrue(lines[24].here)
        self.assertEqual(lines[8].how, KnownBy.GUESS)
        self.assertFalse(lines[30].here, "nothing of it is in a tube yet")
        item = shelf.search(self.session, NOW, shelf.Wanted(batch_number=5)).items[0]
        made = mixing.add_paint(self.session, NOW, PaintAsked(id=uuid4(), item_id=item.id))
        self.assertEqual(made, lines[5].id)
        self.assertEqual(
            [one.name for one in mixing.page(self.session, NOW, made).charts],
            ["Greens and greys for the set of nine", "Six colours with titanium white"],
        )

    def test_a_found_jar_read_by_a_reader_is_matched_by_what_was_read(self) -> None:
        lab = next(r.lab for r in checks.colours_of(self.session, [5]) if r.kind is CheckKind.MASSTONE)
        asked = FoundAsked.model_validate(
            {
                "id": uuid4(),
                "kind": "jar",
                "srgb": "#000000",
                "container": "jar",
                "volume_ml": 30.0,
                "lab": [lab.L, lab.a, lab.b],
            }
        )
        jar = shelf.find(self.session, NOW, asked)
        page = shelf.page(self.session, NOW, jar)
        self.assertEqual(page.likely[0].number, 5)
        line = next(line for line in self.lines() if line.item_id == jar)
        self.assertEqual((line.how, line.lab), (KnownBy.MASSTONE, lab))
        found = mixing.find(self.session, FindAsked(item_id=jar))
        self.assertEqual((found.wanted_lab, found.wanted_off), (lab, 0.3))
        self.assertIn("Cobalt blue", {part.name for part in found.mixtures[0].parts})

    def test_hazards_of_what_is_mixed_stand_there_also_where_another_tube_brought_them(self) -> None:
        found = mixing.find(self.session, FindAsked(colour=ReadColour(srgb="#e8d080")))
        held = {part.name: part.beware for one in found.mixtures for part in one.parts}
        self.assertEqual(held["Lead-tin yellow"], ("Lead",))
        lead = next(caution for caution in found.beware.cautions if caution.key == "lead")
        self.assertEqual(lead.because, ("Lead-tin yellow",))
        self.assertEqual(found.beware.unlogged, ("Titanium white, bought tube",))
        self.assertIn("safety data sheet", found.beware.deference)
        chart = mixing.view(self.session, NOW, 2).beware
        self.assertIn("lead", {caution.key for caution in chart.cautions})
        self.assertNotIn("carbon-dust", {caution.key for caution in chart.cautions}, "in paint it does not fly")
        ochre = shelf.search(self.session, NOW, shelf.Wanted(batch_number=9)).items[0]
        self.session.execute(text("update shelf_item set hazards = '{mercury}' where id = :id"), {"id": ochre.id})
        self.session.expire_all()
        again = mixing.view(self.session, NOW, 2).beware
        self.assertIn(("mercury", ("Red ochre",)), {(caution.key, caution.because) for caution in again.cautions})
        jar = next(line for line in self.lines() if line.item_id is not None)
        unlogged = mixing.find(self.session, FindAsked(colour=ReadColour(srgb="#202880"), paint_ids=[jar.id])).beware
        self.assertIn("Unknown paint", unlogged.unlogged)

    def test_lots_that_are_heavier_get_fewer_dabs(self) -> None:
        by_weight = mixing.find(self.session, FindAsked(colour=ReadColour(srgb="#e8d080"), by=PartsBy.WEIGHT, most=1))
        by_volume = mixing.find(self.session, FindAsked(colour=ReadColour(srgb="#e8d080"), by=PartsBy.VOLUME, most=1))
        for found in (by_weight, by_volume):
            for one in found.mixtures:
                amounts = [part.grams if found.by is PartsBy.WEIGHT else part.ml for part in one.parts]
                for much, part in zip(amounts, one.parts, strict=True):
                    self.assertAlmostEqual(much / amounts[0], part.parts / one.parts[0].parts, 6)
        heavy = next(part for one in by_weight.mixtures for part in one.parts if part.name == "Lead-tin yellow")
        self.assertTrue(heavy.density_known)
        self.assertGreater(heavy.grams / heavy.ml, 2.5)
        paints = [line.id for line in self.lines() if line.batch_number in (3, 5)]
        plain, dabs = (
            mixing.begin(self.session, NOW, ChartAsked(id=uuid4(), paint_ids=paints, lower=Lower.EMPTY, by=by))
            for by in PartsBy
        )
        pair = [next(c.lab for c in mixing.view(self.session, NOW, n).cells if c.code == "B1") for n in (plain, dabs)]
        self.assertGreater(difference(*pair), 1, "as many dabs of a heavy paint are more of it")
        self.assertEqual(mixing.view(self.session, NOW, dabs).heavy_assumed, (), "both are batches")
        let_down = ChartAsked(id=uuid4(), paint_ids=paints, white_rows=[4.0], by=PartsBy.VOLUME)
        seen = mixing.view(self.session, NOW, mixing.begin(self.session, NOW, let_down))
        self.assertEqual(seen.heavy_assumed, ("Titanium white, bought tube",))

    def test_what_the_shelf_shows_is_found_by_its_batch(self) -> None:
        item = shelf.search(self.session, NOW, shelf.Wanted(batch_number=9)).items[0]
        found = mixing.find(self.session, FindAsked(item_id=item.id))
        self.assertLess(found.wanted_off, 1)
        unread = shelf.search(self.session, NOW, shelf.Wanted(batch_number=8)).items[0]
        self.assertEqual(mixing.find(self.session, FindAsked(item_id=unread.id)).wanted_off, 12.0)

    def test_a_cake_is_steered_by_what_was_read(self) -> None:
        cake = next(lot for lot in materials.lots(self.session, "pigment") if lot.cake is not None)
        ways = sludge.steer(self.session, NOW, cake.id, SteerAsked(wish=Grey.COOL)).ways
        self.assertTrue(ways)
        read = [way for way in ways if way.read]
        self.assertTrue(read, "the blues of the shelf were read")
        self.assertTrue(all(way.may_be_off is not None and way.may_be_off > 1 for way in read))

    def test_a_recipe_shows_its_batches_as_read(self) -> None:
        colour = mixing.recipe_colour(self.session, 1)
        self.assertEqual(colour.paints[0].batch_number, 30)
        at = [paint.batch_number for paint in colour.paints].index(colour.standard)
        self.assertEqual(colour.off_standard[at], 0.0)
        self.assertTrue(all(off is not None and off < 3 for off in colour.off_standard))
        self.assertIsNone(colour.predicted_srgb)

    def test_the_demo_chart_taught_its_paints(self) -> None:
        view = mixing.view(self.session, NOW, 1)
        assert view.accuracy is not None and view.accuracy.held_out is not None
        self.assertEqual(view.accuracy.squares, len(squares(view.layout)))
        self.assertLess(view.accuracy.held_out, 0.7 * view.accuracy.before)
        self.assertGreater(view.accuracy.within, 0.85 * view.accuracy.squares)
        self.assertEqual(mixing.view(self.session, NOW, 2).accuracy, None)

    def test_every_reading_says_what_it_is_of(self) -> None:
        lost = self.session.execute(text("select count(*) from mixing_reading where facts -> 'lab' is null"))
        self.assertEqual(lost.scalar_one(), 0)
        self.assertEqual(mixing.colour_of(lab_of_srgb("#808080"), None), lab_of_srgb("#808080"))
        self.assertAlmostEqual(mixing.colour_of(None, (0.2,) * 31).a, 0, 2)
        self.assertEqual(ReadColour(srgb="#808080").reading().off, 8.0)
