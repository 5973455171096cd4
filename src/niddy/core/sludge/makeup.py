"""What is in a can's sludge: what was washed into it, and what nobody logged. It stays with the sludge to the cake."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from enum import StrEnum

from niddy.core.cautions import kept_apart
from niddy.core.colour import masstone_of
from niddy.core.contents import UNKNOWN_PARTS
from niddy.core.sludge.cake import UNKNOWN_DENSITY, Cake, Washing, cake

UNKNOWN_SRGB = "#7d776b"
"""What an unlogged washing may look like: the grey that most cans come to (assumed)."""

ASKED_FIRST = frozenset({"lead", "cadmium", "mercury", "arsenic", "antimony", UNKNOWN_PARTS})
"""With one of these in it, it is asked first whether a cake should become paint at all."""


class Much(StrEnum):
    """How much was washed off, as a maker says it."""

    LITTLE = "little"
    BRUSHFUL = "brushful"
    PALETTE = "palette"


WEIGHT = {Much.LITTLE: 1.0, Much.BRUSHFUL: 2.0, Much.PALETTE: 4.0}


MOSTLY_UNKNOWN = 0.5
"""Sludge of which more than this share was never logged has no colour until somebody looks at it."""


def colour_known(unknown_share: float) -> bool:
    """Whether the colour of sludge can be told from what was washed off: most of it is known."""
    return unknown_share <= MOSTLY_UNKNOWN


@dataclass(frozen=True, slots=True)
class Washed:
    """So much of one pigment that was washed off, with all the powder brings: its range, density, colour, hazards."""

    key: str
    name: str
    weight: float
    oil_absorption_low: float
    oil_absorption_high: float
    density_g_per_ml: float
    masstone_srgb: str
    tinting: str
    hazards: tuple[str, ...] = ()
    ci_name: str = ""


@dataclass(frozen=True, slots=True)
class Makeup:
    """What sludge is made of, by weight; `beside` are hazards of what was no pigment, by the material's name.

    `sources` names what it came from: tubes, batches and lots, as the log names them.
    """

    washed: dict[str, Washed] = field(default_factory=dict)
    unknown: float = 0.0
    beside: dict[str, tuple[str, ...]] = field(default_factory=dict)
    sources: tuple[str, ...] = ()

    @property
    def weight(self) -> float:
        """All of it, logged or not."""
        return sum(one.weight for one in self.washed.values()) + self.unknown

    @property
    def unknown_share(self) -> float:
        """The share nobody logged; all of it where nothing was logged at all."""
        return self.unknown / self.weight if self.weight > 0 else 1.0

    @property
    def colour_known(self) -> bool:
        """Whether its colour can be guessed from what was washed off."""
        return colour_known(self.unknown_share)

    @property
    def hazards(self) -> tuple[str, ...]:
        """Every hazard of everything that went in, each once; what nobody knows counts as one."""
        found = [key for one in self.washed.values() for key in one.hazards]
        found += [key for keys in self.beside.values() for key in keys]
        if self.unknown > 0 or not self.washed:
            found.append(UNKNOWN_PARTS)
        return tuple(sorted({"nuisance-dust", *found} - {"none"}))

    @property
    def by_material(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """The same by the material each comes from."""
        found = [(one.name, one.hazards) for one in self.washed.values()]
        found += list(self.beside.items())
        if self.unknown > 0 or not self.washed:
            found.append(("What nobody logged", (UNKNOWN_PARTS,)))
        return tuple(found)

    @property
    def masstone_srgb(self) -> str:
        """A guess of its colour: what was washed in, mixed."""
        parts = [(one.weight, one.tinting, one.masstone_srgb) for one in self.washed.values() if one.weight > 0]
        if self.unknown > 0 or not parts:
            parts.append((self.unknown or 1.0, "medium", UNKNOWN_SRGB))
        return masstone_of(parts)


def added(makeup: Makeup, washed: Iterable[Washed], unknown: float, sources: Iterable[str] = ()) -> Makeup:
    """The makeup after a washing."""
    found = dict(makeup.washed)
    for one in washed:
        there = found.get(one.key)
        if there is None:
            found[one.key] = one
        else:
            hazards = tuple(dict.fromkeys((*there.hazards, *one.hazards)))
            found[one.key] = replace(there, weight=there.weight + one.weight, hazards=hazards)
    return Makeup(found, makeup.unknown + unknown, makeup.beside, tuple(dict.fromkeys((*makeup.sources, *sources))))


def beside(makeup: Makeup, hazards: dict[str, tuple[str, ...]]) -> Makeup:
    """The makeup with the hazards of what is no pigment: oils, additives, what an old paint held."""
    found = dict(makeup.beside)
    for name, keys in hazards.items():
        found[name] = tuple(dict.fromkeys((*found.get(name, ()), *keys)))
    return replace(makeup, beside=found)


def share_of(makeup: Makeup, share: float) -> Makeup:
    """A part of it. Hazards and sources stay whole: a trace is enough."""
    washed = {key: replace(one, weight=one.weight * share) for key, one in makeup.washed.items()}
    return replace(makeup, washed=washed, unknown=makeup.unknown * share)


def together(one: Makeup, other: Makeup) -> Makeup:
    """Two put together."""
    joined = added(one, other.washed.values(), other.unknown, other.sources)
    return beside(joined, other.beside)


def cake_of(makeup: Makeup, *, oily: bool = False) -> Cake:
    """What a cake of it takes; `oily` where it was washed in oil, which only drains."""
    washings = [
        Washing(one.weight, one.oil_absorption_low, one.oil_absorption_high, one.density_g_per_ml)
        for one in makeup.washed.values()
        if one.weight > 0
    ]
    return cake(washings, makeup.unknown_share if washings else 1.0, drained=oily)


def density_of(makeup: Makeup) -> float:
    """Density of the dry solids in g/ml."""
    volume = sum(one.weight / one.density_g_per_ml for one in makeup.washed.values())
    volume += makeup.unknown / UNKNOWN_DENSITY
    return makeup.weight / volume if volume > 0 else UNKNOWN_DENSITY


def asked_first(makeup: Makeup) -> tuple[str, ...]:
    """The hazards that make one ask whether it should become paint at all."""
    return tuple(key for key in makeup.hazards if key in ASKED_FIRST)


def own_tools(makeup: Makeup) -> bool:
    """Whether something in it calls for tools of its own and waste kept apart."""
    return bool(kept_apart(makeup.hazards))
