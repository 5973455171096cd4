"""Cautions: what to beware of, why, and at which step; always deferring to those who know the material better."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

DEFERENCE = "Follow the safety data sheet, local codes and licensed disposal."

ALWAYS = (
    "Mask and gloves while powder is dry. Wet wipe; never sweep or blow. No food or drink at the bench. "
    "No pigment, oil or rinse water in the drain."
)


class Level(StrEnum):
    """How strict a caution is. `strict` asks for a tap before powder goes onto the slab."""

    STRICT = "strict"
    CARE = "care"


class Step(StrEnum):
    """Where the risk is."""

    POWDER = "powder"
    OIL = "oil"
    CLEANING = "cleaning"


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution: the hazard's key, how strict, at which step, what to do, and because of which materials."""

    key: str
    level: Level
    step: Step
    title: str
    text: str
    because: tuple[str, ...]


_METAL = (
    "Poisonous by dust and by mouth. Keep tools of its own, never sand or dry-scrape it, keep all waste and wipes "
    "for licensed disposal. Not for children, nor in pregnancy."
)

_KNOWN: dict[str, tuple[Level, Step, str, str]] = {
    "lead": (Level.STRICT, Step.POWDER, "Holds lead", _METAL),
    "cadmium": (Level.STRICT, Step.POWDER, "Holds cadmium", _METAL),
    "cobalt": (Level.STRICT, Step.POWDER, "Holds cobalt", _METAL),
    "nickel": (Level.STRICT, Step.POWDER, "Holds nickel", _METAL),
    "manganese": (Level.STRICT, Step.POWDER, "Holds manganese", _METAL),
    "antimony": (Level.STRICT, Step.POWDER, "Holds antimony", _METAL),
    "arsenic": (Level.STRICT, Step.POWDER, "Holds arsenic", _METAL),
    "mercury": (Level.STRICT, Step.POWDER, "Holds mercury", _METAL),
    "chromium-3": (Level.STRICT, Step.POWDER, "Holds chromium", _METAL),
    "vanadium": (Level.STRICT, Step.POWDER, "Holds vanadium", _METAL),
    "selenium": (Level.STRICT, Step.POWDER, "Holds selenium", _METAL),
    "silica": (
        Level.STRICT,
        Step.POWDER,
        "Silica dust",
        "Fine silica scars the lungs. Mask until no dry powder is left; wet wipe the slab, the floor and the tin.",
    ),
    "zinc": (Level.CARE, Step.POWDER, "Holds zinc", "Harmful to life in water. Nothing of it in the drain."),
    "copper": (Level.CARE, Step.POWDER, "Holds copper", "Harmful to life in water. Nothing of it in the drain."),
    "carbon-dust": (
        Level.CARE,
        Step.POWDER,
        "Flies and smears",
        "Very light dust, possibly carcinogenic by breathing. Mask, no draught, lid back on the tin at once; keep it "
        "from flames.",
    ),
    "nuisance-dust": (
        Level.CARE,
        Step.POWDER,
        "Dust",
        "Any fine dust is bad to breathe. Mask until no dry powder is left.",
    ),
    "oily-rags": (
        Level.CARE,
        Step.CLEANING,
        "Oily rags heat themselves",
        "Rags and paper wet with drying oil can take fire by themselves: into a water-filled metal can, lid on.",
    ),
    "driers": (
        Level.STRICT,
        Step.OIL,
        "Holds driers",
        "Driers are toxic and make rags heat sooner. Gloves; keep from mouth and skin.",
    ),
    "solvent": (Level.STRICT, Step.OIL, "Holds solvent", "Air moving through, no flame or spark, gloves, lid on."),
    "flammable": (
        Level.STRICT,
        Step.OIL,
        "Catches fire",
        "Its vapour catches fire from a spark: no flame, no heater, cans closed, wet paper into a water-filled metal "
        "can with a lid.",
    ),
    "nut-allergen": (Level.CARE, Step.OIL, "From nuts", "May trouble those who cannot bear nuts; say so on the label."),
    "hot-oil": (Level.STRICT, Step.OIL, "Hot oil", "Thermometer, no flame, never left alone, lid at hand."),
    "hot-wax": (
        Level.STRICT,
        Step.OIL,
        "Hot wax",
        "Water bath where it will do, thermometer, lid at hand, never left alone; no water into it. It burns.",
    ),
    "resin-dust": (
        Level.CARE,
        Step.POWDER,
        "Resin dust",
        "Fine resin dust is bad to breathe and may catch fire: mask, no flame, wet wipe.",
    ),
    "egg": (Level.CARE, Step.OIL, "Egg", "Spoils: keep cold, short life."),
    "acid-sulphide": (
        Level.CARE,
        Step.POWDER,
        "Gives off a poisonous gas with acid",
        "With any acid it gives off a poisonous gas. No vinegar, acid cleaner or acid medium near powder, paint or "
        "waste.",
    ),
    "acid-heat-cyanide": (
        Level.STRICT,
        Step.POWDER,
        "Never with strong acid or strong heat",
        "With strong acid or strong heat it gives off cyanide. No acid cleaner, no torch, no kiln, no fire.",
    ),
    "sensitiser": (
        Level.CARE,
        Step.OIL,
        "May cause allergy by skin",
        "Once allergic, always: gloves, wipe the bottle's neck, keep it from the skin.",
    ),
    "reproductive": (
        Level.STRICT,
        Step.OIL,
        "May harm fertility or the unborn child",
        "Gloves, no splashes, no food at the bench; not in pregnancy.",
    ),
    "unknown-parts": (
        Level.STRICT,
        Step.POWDER,
        "Parts nobody knows",
        "Not all that was washed into it was logged: handle it as if it held the worst. Mask once it is dry, gloves, "
        "tools of its own, and all of its waste kept for licensed disposal.",
    ),
    "barium": (Level.STRICT, Step.POWDER, "Holds barium", _METAL),
    "thallium": (Level.STRICT, Step.POWDER, "Holds thallium", _METAL),
    "chromium-6": (
        Level.STRICT,
        Step.POWDER,
        "Holds chromate",
        "Poisonous by dust, skin and mouth, and may cause cancer. Not for a studio without a fume hood and training.",
    ),
    "foams": (
        Level.CARE,
        Step.POWDER,
        "Foams with acid and alum",
        "A carbonate foams up with anything sour: a vessel of three times the liquid, add slowly, stir, stand back.",
    ),
    "ammonia": (
        Level.CARE,
        Step.POWDER,
        "Gives off ammonia",
        "With lye, soda or heat it gives off ammonia: open air, goggles, never near bleach.",
    ),
    "strong-acid": (
        Level.STRICT,
        Step.POWDER,
        "Strong acid",
        "Burns skin and eyes. Goggles and gloves; acid into water, slowly, never water into acid.",
    ),
    "caustic": (
        Level.STRICT,
        Step.POWDER,
        "Caustic",
        "Burns skin and eyes, and boils up with water. Goggles and gloves; into cold water, slowly, stirring.",
    ),
    "irritant": (Level.CARE, Step.OIL, "Irritant", "Keep from skin and eyes."),
}


def protection_words(*, dust: bool, vapour: bool) -> str:
    """What to wear and how to keep the air before powder or paste is handled.

    Dust asks for still air, vapour for moving air; both together for air that moves, but not over the powder.
    """
    if dust and vapour:
        return "Mask that fits, gloves, apron; air moving through the room, none of it over the dry powder"
    if vapour:
        return "Gloves, apron; a window open and air moving through: solvent leaves the paste"
    return "Mask that fits, gloves, apron; no draught over the powder"


def level_of(hazard: str) -> Level | None:
    """How strict a hazard is; None where it is unknown."""
    return _KNOWN[hazard][0] if hazard in _KNOWN else None


def title_of(hazard: str) -> str:
    """A hazard in words."""
    return _KNOWN[hazard][2] if hazard in _KNOWN else hazard


def held_word(hazard: str) -> str:
    """What something holds, by a hazard of it: copper, solvent."""
    return title_of(hazard).removeprefix("Holds ").lower()


def known_hazards() -> frozenset[str]:
    """Every hazard key the product can speak about."""
    return frozenset(_KNOWN) | {"none"}


_OF_THE_MAKING = frozenset({"nuisance-dust", "carbon-dust", "silica", "hot-oil", "hot-wax", "none"})


def in_paint(hazards: tuple[str, ...]) -> tuple[str, ...]:
    """The hazards that a finished paint keeps: what is a danger of the powder or of the making alone is left out."""
    return tuple(hazard for hazard in hazards if hazard not in _OF_THE_MAKING)


def beware(hazards: tuple[str, ...]) -> tuple[str, ...]:
    """The titles of the strict cautions among some hazards: what stands at the step itself. Raises KeyError."""
    return tuple(caution.title for caution in cautions_for([("", hazards)]) if caution.level is Level.STRICT)


def cautions_for(materials: list[tuple[str, tuple[str, ...]]]) -> tuple[Caution, ...]:
    """The cautions of some materials (name, hazard keys), each once with all the materials it comes from.

    Strict ones first, then in the order of the work. Metals share their text, so a screen may gather them.
    Raises KeyError for a hazard nobody has written a caution for: a shipped table must not slip one past.
    """
    because: dict[str, list[str]] = {}
    for name, hazards in materials:
        for hazard in hazards:
            if hazard != "none" and name not in because.setdefault(hazard, []):
                because[hazard].append(name)
    found = [Caution(key, *_KNOWN[key], tuple(names)) for key, names in because.items()]
    order = list(Step)
    return tuple(sorted(found, key=lambda caution: (caution.level is not Level.STRICT, order.index(caution.step))))
