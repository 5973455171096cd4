"""Pigments that nobody listed: taken for a kind of which others are known, with all the width of that kind."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.materials import Dispersing, Particle, Pigment, coarsest, slowest


class PigmentKind(StrEnum):
    """What a powder is taken for."""

    EARTH = "earth"
    MINERAL = "mineral"
    ORGANIC = "organic"
    LAKE = "lake"
    STONE = "stone"
    WHITE = "white"
    BLACK = "black"
    MIXED = "mixed"


KIND_WORDS: Mapping[PigmentKind, tuple[str, str]] = {
    PigmentKind.EARTH: ("an earth", "ochres, siennas, umbers, a clay found on a walk"),
    PigmentKind.MINERAL: ("a metal colour", "made of cobalt, cadmium, chromium, iron and the like"),
    PigmentKind.ORGANIC: ("an organic colour", "strong, light powders made by chemists"),
    PigmentKind.LAKE: ("a lake", "a dye on alum or chalk"),
    PigmentKind.STONE: ("a ground stone or glass", "coarse, gritty, weak in colour"),
    PigmentKind.WHITE: ("a white", "covers and lightens"),
    PigmentKind.BLACK: ("a black", "soot, bone, iron or carbon"),
    PigmentKind.MIXED: ("a ready-mixed powder", "tinted, filled with chalk, fluorescent: nobody says with what"),
}

_MEMBERS: Mapping[PigmentKind, frozenset[str]] = {
    PigmentKind.ORGANIC: frozenset(
        (
            "arylide-yellow",
            "pyrrole-red",
            "quinacridone-magenta",
            "quinacridone-violet",
            "phthalo-blue",
            "phthalo-green",
            "indigo",
        )
    ),
    PigmentKind.LAKE: frozenset(("madder-lake", "alumina-hydrate")),
    PigmentKind.MINERAL: frozenset(("titanate-buff",)),
    PigmentKind.STONE: frozenset(("smalt", "malachite", "slate-grey", "graphite", "chalk")),
}
_MIXED_OF = frozenset((PigmentKind.ORGANIC, PigmentKind.LAKE, PigmentKind.STONE, PigmentKind.WHITE))
_BY_FAMILY = {"earth": PigmentKind.EARTH, "white": PigmentKind.WHITE, "black": PigmentKind.BLACK}


def kind_of(pigment: Pigment) -> PigmentKind | None:
    """The kind a pigment of the library stands for; None for an extender that stands for none."""
    for kind, members in _MEMBERS.items():
        if pigment.key in members:
            return kind
    if pigment.family == "extender":
        return None
    return _BY_FAMILY.get(pigment.family, PigmentKind.MINERAL)


@dataclass(frozen=True, slots=True)
class KindValues:
    """What is taken for a powder of a kind: the whole width of its members, and every hazard one of them has."""

    kind: PigmentKind
    name: str
    says: str
    density_g_per_ml: float
    oil_absorption_low: float
    oil_absorption_high: float
    loose_density_g_per_ml: float
    particle: Particle
    dispersing: Dispersing
    opacity: str
    tinting: str
    drying: str
    hazards: tuple[str, ...]


def values_of(kind: PigmentKind, pigments: Iterable[Pigment]) -> KindValues:
    """What its members in the library say of a kind. Densities are geometric means, the oil range is as wide as all."""
    known = [(pigment, kind_of(pigment)) for pigment in pigments]
    # What is mixed with nobody knows what takes as much oil as any of these, and is as hazardous.
    members = [pigment for pigment, of in known if of is kind or (kind is PigmentKind.MIXED and of in _MIXED_OF)]
    name, says = KIND_WORDS[kind]
    return KindValues(
        kind,
        name,
        says,
        round(_mean([p.density_g_per_ml for p in members]), 2),
        min(p.oil_absorption_low for p in members),
        max(p.oil_absorption_high for p in members),
        round(_mean([p.loose_density_g_per_ml for p in members]), 2),
        coarsest([p.particle for p in members]),
        slowest([p.dispersing for p in members]),
        _usual(p.opacity for p in members),
        _usual(p.tinting for p in members),
        _usual(p.drying for p in members),
        tuple(sorted({hazard for p in members for hazard in p.hazards})),
    )


def _mean(values: list[float]) -> float:
    return math.exp(sum(map(math.log, values)) / len(values))


def _usual(values: Iterable[str]) -> str:
    return Counter(values).most_common(1)[0][0]
