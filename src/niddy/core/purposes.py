"""What a paint is for: the bodies one can ask for, what each use wants, and which materials suit it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.colorimetry import lab_of_srgb
from niddy.core.evidence import ZONE_REDUCED
from niddy.core.materials import BinderOil, DryPigment
from niddy.core.wetting import SCALE_REDUCED_DRY, SCALE_REDUCED_WET, Body


class Purpose(StrEnum):
    """What a paint is for."""

    GLAZE = "glaze"
    UNDERPAINTING = "underpainting"
    BODY_COLOUR = "body_colour"
    WOOD = "wood"


@dataclass(frozen=True, slots=True)
class BodyChoice:
    """A body to ask for: what it does, and the reduced PVC in the middle of it."""

    body: Body
    says: str
    reduced_pvc: float


@dataclass(frozen=True, slots=True)
class PurposeChoice:
    """A use to ask for, the reduced PVC it wants (assumed), and why."""

    purpose: Purpose
    name: str
    says: str
    reduced_pvc: float


_SAYS = {
    Body.CRUMBLES: "falls apart",
    Body.PUTTY: "kneads",
    Body.STIFF: "stands, pulls",
    Body.TUBE: "stands, brushes",
    Body.SOFT: "sags slowly",
    Body.LOOSE: "slides off",
    Body.RUNS: "drips",
}


def _middle(body: Body) -> float:
    low, high = ZONE_REDUCED[body]
    low, high = max(low, SCALE_REDUCED_WET), min(high, SCALE_REDUCED_DRY)
    return round((low + high) / 2, 2)


BODIES = tuple(BodyChoice(body, _SAYS[body], 0.86 if body is Body.TUBE else _middle(body)) for body in Body)
PURPOSES = (
    PurposeChoice(
        Purpose.GLAZE, "Glaze", "thin and clear over dry paint: soft; transparent colours, a plain or stand oil", 0.75
    ),
    PurposeChoice(
        Purpose.UNDERPAINTING,
        "Underpainting",
        "lean and quick to dry: stiff; linseed or alkyd, with umbers, iron oxides, lead white",
        0.93,
    ),
    PurposeChoice(Purpose.BODY_COLOUR, "Body colour", "stands as the brush leaves it: the usual tube paint", 0.86),
    PurposeChoice(
        Purpose.WOOD,
        "Wood, wall, metal",
        "thin, brushed out in several coats: loose; boiled linseed oil dries in a day or two",
        0.64,
    ),
)

SLOW_DAYS = 5.0
"""An oil that takes this long at its quickest is slow for an underpainting (assumed)."""


def suits(purpose: Purpose, pigments: tuple[DryPigment, ...], oil: BinderOil) -> tuple[str, ...]:
    """What is worth knowing of these materials for a use; nothing where they suit it."""
    remarks: list[str] = []
    if purpose is Purpose.UNDERPAINTING:
        if oil.touch_dry_days_low is not None and oil.touch_dry_days_low >= SLOW_DAYS:
            remarks.append(f"{oil.name} dries slowly. Under other paint, linseed or an alkyd medium dries sooner.")
        slow = [pigment.name for pigment in pigments if pigment.drying == "slow"]
        if slow:
            remarks.append(
                f"{_and(slow)} {'dries' if len(slow) == 1 else 'dry'} slowly. Umbers, lead whites and iron oxides "
                "dry sooner and suit it better."
            )
    if purpose is Purpose.GLAZE:
        covering = [pigment.name for pigment in pigments if pigment.opacity == "opaque"]
        if covering:
            remarks.append(f"{_and(covering)} {'covers' if len(covering) == 1 else 'cover'}: a glaze wants it clear.")
        if oil.touch_dry_days_high is not None and oil.touch_dry_days_high <= 2:
            remarks.append(f"{oil.name} dries too soon to work a glaze out; a plain or stand oil stays open.")
    if purpose is Purpose.WOOD:
        if "driers" in oil.hazards:
            pale = [pigment.name for pigment in pigments if lab_of_srgb(pigment.masstone_srgb).L >= PALE_L]
            tint = f": {_and(pale)} will look yellower for it" if pale else ""
            remarks.append(f"{oil.name} is warm in colour{tint}. Driers are toxic: gloves on, nothing near food.")
        elif oil.touch_dry_days_low is not None and oil.touch_dry_days_low > BOILED_DAYS:
            remarks.append(
                f"{oil.name} stays tacky for days on wood. Boiled linseed oil dries sooner; it is warmer in colour."
            )
    return tuple(remarks)


PALE_L = 70.0
"""So light a colour shows the warmth of its oil (assumed)."""

BOILED_DAYS = 2.0
"""An oil that is slower than this at its quickest gathers dust on a wall or a board (assumed)."""


def _and(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
