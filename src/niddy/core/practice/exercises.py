"""The nine exercises: what each is about, which powders it draws, and what is on the slab when it begins."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.materials import Dispersing, Pigment


class Exercise(StrEnum):
    """What can be practised; each is something that goes wrong at the bench."""

    FIRST = "first"
    LOOSENING = "loosening"
    OVERSHOT = "overshot"
    THIRSTY = "thirsty"
    HEAVY = "heavy"
    LOADS = "loads"
    NEW_LOT = "new_lot"
    SPOONS = "spoons"
    JUDGING = "judging"


@dataclass(frozen=True, slots=True)
class About:
    """An exercise in words: its name, what goes wrong, what to do about it, and whether Niddy's advice shows at first.

    `begins_at` is the reduced PVC that the paste really stands at when it begins, None where no oil is in yet;
    `mulled` says that it is dispersed already. `volume_ml` is the paint it makes, about.
    """

    exercise: Exercise
    name: str
    goes_wrong: str
    task: str
    advised: bool = False
    begins_at: float | None = None
    mulled: bool = False
    volume_ml: float = 13.0


ABOUT: tuple[About, ...] = (
    About(
        Exercise.FIRST,
        "First pour",
        "Half the oil of the whole batch goes in at once, and the batch is a soup.",
        "The powder is on the slab and nobody has ground it before. Pour, fold in, look, mull; stop at tube body.",
        advised=True,
    ),
    About(
        Exercise.LOOSENING,
        "It loosens by itself",
        "It looks too stiff before it is mulled, so more oil goes in; ten minutes later it runs.",
        "Powder and oil are together and wet, not yet mulled. Bring it to tube body.",
        begins_at=0.855,
    ),
    About(
        Exercise.OVERSHOT,
        "Back from too much",
        "Too much oil, then too much powder, then oil again: three times the paint anybody wanted.",
        "Somebody poured too much. Bring it back to tube body for the least money.",
        begins_at=0.715,
        mulled=True,
    ),
    About(
        Exercise.THIRSTY,
        "The thirsty powder",
        "It drinks oil for half an hour and still looks dry; then it has had too much.",
        "A fine organic powder that takes its own weight in oil or near it. Bring it to tube body.",
    ),
    About(
        Exercise.HEAVY,
        "The heavy powder",
        "It hardly needs any oil: a few drops too many, and it runs at once.",
        "A dense powder that takes very little oil. Bring it to tube body.",
    ),
    About(
        Exercise.LOADS,
        "Three loads the same",
        "The first load is mulled well, the third in a hurry, and the tubes differ.",
        "A batch of three loads: mull each as long as the others, gather, and judge.",
        volume_ml=0.0,
    ),
    About(
        Exercise.NEW_LOT,
        "A new lot, the same body",
        "The new tin takes another amount of oil, and the old figure is poured all the same.",
        "You know what the last lot took. This one is near it, and not the same. Bring it to tube body.",
    ),
    About(
        Exercise.SPOONS,
        "By spoons and drops",
        "No scale: the spoon holds more or less than the list says, and so does the drop.",
        "The powder was spooned in. Pour by drops and spoons, look, mull; stop at tube body.",
        advised=True,
    ),
    About(
        Exercise.JUDGING,
        "Name the body",
        "Two people call the same paste stiff and soft.",
        "Forty pastes, one after another: say what body each has. Niddy learns how your eye leans.",
    ),
)
"""In the order in which they are best done."""


def about(exercise: Exercise) -> About:
    """An exercise in words."""
    return next(one for one in ABOUT if one.exercise is exercise)


def _usual(pigment: Pigment) -> bool:
    return pigment.oil_absorption_low >= 14 and pigment.oil_absorption_high <= 70


SUITS: dict[Exercise, Callable[[Pigment], bool]] = {
    Exercise.THIRSTY: lambda p: p.oil_absorption_low >= 38 and p.dispersing is not Dispersing.EASY,
    Exercise.HEAVY: lambda p: p.density_g_per_ml >= 5.0 and p.oil_absorption_high <= 24,
}
"""Which powders of the library an exercise draws from; the usual ones where it does not say."""


def powders(exercise: Exercise, library: list[Pigment]) -> list[Pigment]:
    """The powders an exercise draws from, by their keys; extenders and the toxic ones among them are left out.

    The heavy exercise keeps its leads: nothing is in the air here, and they are what it is about.
    """
    suits = SUITS.get(exercise, _usual)
    harmless = [
        p for p in library if p.family != "extender" and (exercise is Exercise.HEAVY or set(p.hazards) <= _HARMLESS)
    ]
    return sorted((p for p in harmless if suits(p)), key=lambda p: p.key)


_HARMLESS = {"nuisance-dust", "silica", "carbon-dust", "stains"}
