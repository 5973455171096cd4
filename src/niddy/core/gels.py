"""Gels: an additive worked into warm oil beforehand, used by weight from then on."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.errors import Refused, mass_g, within
from niddy.core.materials import Additive
from niddy.core.steps import Step, Window

SHELF_LIFE_DAYS = 180
"""How long a gel keeps in a closed pot, cool and dark (assumed)."""

YIELD = 0.95
"""What of the weighed in comes out of the pot: the rest stays on walls and spoon (assumed)."""

MOST_BATCH_G = 1_000.0
"""More hot oil than this at once is not for a bench."""


@dataclass(frozen=True, slots=True)
class Heating:
    """How an additive goes into oil: the temperatures between which it works, minutes held, and how it is cooled."""

    low_c: float
    high_c: float
    hold_min: float
    usual_strength: float
    cool_to_c: float
    cool_min: float
    sign: str
    spoiled: str


HEATING = {
    "aluminium-stearate": Heating(
        80, 110, 20, 0.10, 40, 30, "clear and thickening, no white grains", "above 120 C the oil darkens and smokes"
    ),
    "hydrogenated-castor-oil": Heating(
        40,
        60,
        30,
        0.10,
        25,
        30,
        "creamy and even, no flakes",
        "above 65 C it melts, and on cooling comes back as grains",
    ),
    "beeswax": Heating(65, 75, 10, 0.20, 30, 20, "one clear liquid", "above 85 C the wax darkens"),
}
"""Temperatures from the library's notes; times are assumed."""


@dataclass(frozen=True, slots=True)
class GelPlan:
    """A gel on paper: what to weigh in g, the strength it comes to, steps in order, what should come out."""

    additive_g: float
    oil_g: float
    strength: float
    expected_g: float
    steps: tuple[Step, ...]
    shelf_life_days: int


HOT_OIL = (
    "Hot oil burns. Thermometer in it, no flame under it, never left alone, a lid that fits at hand to smother; "
    "sleeves down, goggles on."
)
HOT_WAX = "Water bath, thermometer, never left alone. Wax and oil over an open flame take fire."


def can_gel(additive: Additive) -> bool:
    """Whether this additive is worked into warm oil beforehand."""
    return additive.key in HEATING


def usual_strength(additive: Additive) -> float:
    """The strength a gel of it usually has, as a mass fraction."""
    return HEATING[additive.key].usual_strength


def plan(additive: Additive, grams: float, strength: float | None = None) -> GelPlan:
    """A gel that yields `grams` at a strength (mass fraction of additive). Raises Refused."""
    heating = HEATING.get(additive.key)
    if heating is None:
        raise Refused("additive_key", f"{additive.name} is not worked into warm oil", ", ".join(HEATING))
    mass_g("grams", grams)
    within("grams", grams, 5, MOST_BATCH_G, "g")
    share = heating.usual_strength if strength is None else strength
    within("strength", share, 0.001, 1)
    if share > 0.5:
        raise Refused("strength", f"{share:.0%} is too stiff to stir", "up to 0.5")
    whole = grams / YIELD
    wax = "hot-wax" in additive.hazards
    caution = HOT_WAX if wax else HOT_OIL
    warm = Window("temperature", "C", heating.low_c, heating.high_c)
    steps = (
        Step(
            "oil",
            f"Weigh {whole * (1 - share):.1f} g of oil into a pot three times as big, and warm it slowly.",
            "In a water bath." if wax or heating.high_c <= 75 else "",
            measured="grams of oil",
            caution=caution,
        ),
        Step(
            "additive",
            f"At {heating.low_c:g} C stir in {whole * share:.1f} g of {additive.name.lower()}.",
            "A pinch at a time.",
            window=warm,
            measured=f"grams of {additive.name.lower()}",
            caution="Mask on while it is dry powder." if not wax else "",
        ),
        Step(
            "hold",
            f"Hold it between {heating.low_c:g} and {heating.high_c:g} C, stirring.",
            f"{heating.spoiled[:1].upper()}{heating.spoiled[1:]}.",
            window=warm,
            minutes=heating.hold_min,
            done_when=heating.sign,
            caution=caution,
        ),
        Step(
            "cool",
            f"Off the heat. Stir on while it cools to {heating.cool_to_c:g} C.",
            "Left alone it sets in grains or lumps.",
            window=Window("temperature", "C", None, heating.cool_to_c),
            minutes=heating.cool_min,
        ),
        Step(
            "jar",
            "Weigh the pot again, fill a clean jar to the brim, close and label it.",
            "Rags into a water-filled metal can.",
            measured="grams of gel",
        ),
    )
    return GelPlan(whole * share, whole * (1 - share), share, grams, steps, SHELF_LIFE_DAYS)


def strength_of(additive_g: float, oil_g: float) -> float:
    """The strength of a gel from what was weighed in. Raises Refused."""
    mass_g("additive_g", additive_g)
    mass_g("oil_g", oil_g)
    return additive_g / (additive_g + oil_g)


def check_yield(additive_g: float, oil_g: float, yield_g: float) -> None:
    """Refuse more gel out of the pot than went in; what evaporates or stays behind is only ever a loss."""
    mass_g("yield_g", yield_g)
    if yield_g > (additive_g + oil_g) * 1.01:
        raise Refused(
            "yield_g", f"more than the {additive_g + oil_g:.1f} g weighed in", f"up to {additive_g + oil_g:.1f} g"
        )
