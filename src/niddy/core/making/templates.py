"""What a new process starts from: general knowledge only, no amounts to trust, and nothing of a toxic compound."""

from __future__ import annotations

from enum import StrEnum

from niddy.core.making.lake import FORMULAS, Alum, Soda
from niddy.core.making.process import Does, Ingredient, Process, ProcessStep, StepKind, Through
from niddy.core.measures import Unit
from niddy.core.steps import Window

USUAL_SOLUTION_PCT = 10.0
"""So strong a solution is made where nobody says otherwise, percent by weight (assumed)."""


class Template(StrEnum):
    """What a new process starts from."""

    BLANK = "blank"
    LAKE_ALUM = "lake_alum"
    LAKE_CHALK = "lake_chalk"
    LAKE_SPOON = "lake_spoon"
    PRECIPITATION = "precipitation"


PH = "pH"
_DRAW = ProcessStep(
    "draw",
    StepKind.HOLD,
    "Draw the dye",
    "in hot water, never boiling; strain it",
    "dye",
    60.0,
    temperature=Window("temperature", "C", 60.0, 80.0),
    done_when="the water takes no more colour",
)
_CRUSH = ProcessStep("crush", StepKind.CRUSH, "Crush it", "mask on; in a mortar, damp cloth beneath")
_AFTERWARDS = (
    ProcessStep("settle", StepKind.SETTLE, "Let it settle", minutes=720.0),
    ProcessStep("wash", StepKind.WASH, "Wash it", "stir well, let it settle, pour off", wash_ml=200.0, washes=4),
    ProcessStep("dry", StepKind.DRY, "Dry it", "spread thin on a plate, out of the sun; weigh it a day apart"),
    _CRUSH,
    ProcessStep("sieve", StepKind.SIEVE, "Sieve it", "mask on; the coarsest sieve on top", mesh_um=125.0),
)


def template(which: Template) -> Process:
    """A process to begin from: general knowledge only, no amounts to trust."""
    match which:
        case Template.BLANK:
            return Process("", (), ())
        case Template.LAKE_ALUM:
            return Process(
                "",
                (
                    Ingredient("dye", "Dyestuff, dried plant", 50.0, Does.DYE),
                    Ingredient("alum", "Potash alum", 20.0, Does.SALT, FORMULAS[Alum.POTASH], 1.0, USUAL_SOLUTION_PCT),
                    Ingredient(
                        "soda",
                        "Washing soda, anhydrous",
                        6.7,
                        Does.PRECIPITANT,
                        FORMULAS[Soda.ANHYDROUS],
                        1.0,
                        USUAL_SOLUTION_PCT,
                    ),
                ),
                (
                    _DRAW,
                    ProcessStep("alum", StepKind.ADD, "Alum into the dye", "dissolved, while it is warm", "alum"),
                    ProcessStep(
                        "soda", StepKind.ADD, "Soda in slowly", "a spoon at a time: it foams up; stir", "soda", 20.0
                    ),
                    ProcessStep(
                        "ph", StepKind.ACIDITY, "Bring the pH in", ingredient="soda", ph=Window(PH, "", 6.5, 7.5)
                    ),
                    *_AFTERWARDS,
                ),
            )
        case Template.LAKE_CHALK:
            return Process(
                "",
                (
                    Ingredient("dye", "Dyestuff, dried plant", 50.0, Does.DYE),
                    Ingredient("alum", "Potash alum", 10.0, Does.SALT, FORMULAS[Alum.POTASH], 1.0, USUAL_SOLUTION_PCT),
                    Ingredient("chalk", "Chalk, fine", 20.0, Does.SUBSTRATE, "CaCO3"),
                ),
                (
                    _DRAW,
                    ProcessStep("alum", StepKind.ADD, "Alum into the dye", "dissolved, while it is warm", "alum"),
                    ProcessStep(
                        "chalk", StepKind.ADD, "Chalk in slowly", "stirred with water first: it foams up", "chalk", 20.0
                    ),
                    ProcessStep("hold", StepKind.HOLD, "Stir it now and then", minutes=120.0),
                    *_AFTERWARDS,
                ),
            )
        case Template.LAKE_SPOON:
            return Process(
                "",
                (
                    Ingredient("dye", "Dyestuff, dried plant", 0.0, Does.DYE, unit=Unit.EYE),
                    Ingredient("alum", "Potash alum", 0.0, Does.SALT, FORMULAS[Alum.POTASH], unit=Unit.EYE),
                    Ingredient("chalk", "Chalk, fine", 15.0, Does.SUBSTRATE, "CaCO3", unit=Unit.TABLESPOON, amount=1.0),
                ),
                (
                    _DRAW,
                    ProcessStep("alum", StepKind.ADD, "Alum into the dye", "while it is warm", "alum"),
                    ProcessStep(
                        "chalk", StepKind.ADD, "Chalk in slowly", "stirred with water first: it foams up", "chalk"
                    ),
                    ProcessStep("filter", StepKind.FILTER, "Filter it", through=Through.CLOTH),
                    ProcessStep(
                        "wash",
                        StepKind.WASH,
                        "Wash it on the filter",
                        "pour, let it run through",
                        wash_ml=200.0,
                        washes=2,
                    ),
                    ProcessStep("dry", StepKind.DRY, "Dry it", "spread thin on a plate, out of the sun"),
                    _CRUSH,
                ),
            )
        case Template.PRECIPITATION:
            return Process(
                "",
                (
                    Ingredient("salt", "", 50.0, Does.SALT, "", 1.0, USUAL_SOLUTION_PCT),
                    Ingredient("other", "", 25.0, Does.PRECIPITANT, "", 1.0, USUAL_SOLUTION_PCT),
                ),
                (
                    ProcessStep("dissolve", StepKind.DISSOLVE, "Dissolve each by itself", "into cool water, stirring"),
                    ProcessStep(
                        "add", StepKind.ADD, "The one into the other, slowly", "stir all the while", "other", 30.0
                    ),
                    ProcessStep(
                        "ph",
                        StepKind.ACIDITY,
                        "Keep the pH between 6.5 and 8.5",
                        ingredient="other",
                        ph=Window(PH, "", 6.5, 8.5),
                    ),
                    ProcessStep("hold", StepKind.HOLD, "Let it ripen", minutes=60.0),
                    *_AFTERWARDS,
                ),
            )
