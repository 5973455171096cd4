"""Ways to get paint into a tube or a jar, step by step."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class FillingWay(StrEnum):
    """How the paint gets in."""

    KNIFE = "knife"
    CYLINDER = "cylinder"
    BAG = "bag"
    SYRINGE = "syringe"
    JAR = "jar"


@dataclass(frozen=True, slots=True)
class WayToFill:
    """One way: what it is called, and its steps in order. `jar` is of jars alone."""

    way: FillingWay
    name: str
    steps: tuple[str, ...]
    jar: bool = False


_SEAL = (
    "Stop at the mark: room is left for the folds.",
    "Flatten the end, fold it over as often as this kind has it, crimp each fold.",
    "Wipe it, label it, weigh it if you weigh; a dab of the paint on the label.",
)

WAYS = (
    WayToFill(
        FillingWay.KNIFE,
        "Knife and paper strip",
        (
            "Strip of paper inside the back end, so that the seal stays clean.",
            "Paint in from the back with a narrow knife; tap the cap on the table now and then: the air comes up.",
            "Pull the strip.",
            *_SEAL,
        ),
    ),
    WayToFill(
        FillingWay.CYLINDER,
        "Paper cylinder",
        (
            "Roll greaseproof paper round a stick a little thinner than the tube; slide it off.",
            "Spread the paint along the paper, roll it up, and push the roll into the tube from the back.",
            "Pinch the end shut and draw the paper out: the paint stays. Tap the air up.",
            *_SEAL,
        ),
    ),
    WayToFill(
        FillingWay.BAG,
        "Cut-corner bag",
        (
            "Paint into one corner of a strong bag; press the air out and twist it shut.",
            "Cut the corner as wide as a pencil, put it deep into the tube, and squeeze as you draw back.",
            "Tap the cap on the table: the air comes up.",
            *_SEAL,
        ),
    ),
    WayToFill(
        FillingWay.SYRINGE,
        "Syringe without a needle",
        (
            "Paint into the open back of a wide syringe; plunger in, tip up, air out.",
            "Tip to the bottom of the tube; press as you draw back. What went in is read off the barrel.",
            "Tap the cap on the table: the air comes up.",
            *_SEAL,
        ),
    ),
    WayToFill(
        FillingWay.JAR,
        "Jar",
        (
            "A clean, dry jar hardly larger than the paint: air above it makes a skin.",
            "Paint in by the knife, pressed down in layers; knock the jar on a folded cloth to let air out.",
            "Smooth the top. Lay a piece of film on the paint, or a thin layer of the same oil over it.",
            "Wipe the rim and the thread clean, or the lid sets fast. Lid on; turn it upside down for a minute.",
            "Label the jar itself, not its lid; a dab of the paint on the label.",
        ),
        jar=True,
    ),
)
"""The ways, the usual one first."""
