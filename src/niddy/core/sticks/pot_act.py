"""What every act of a pot is, and what the record adds to one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from niddy.core import telling
from niddy.core.acting import Act
from niddy.core.contents import Role
from niddy.core.measures import Measure, to_grams
from niddy.core.sticks.folding import Matter, Pot
from niddy.core.telling import Habit, Told


@dataclass(frozen=True, slots=True)
class PotMaterial:
    """One material of a pot: what it is, of which lot, and what it weighs for each ml."""

    source: str
    role: Role
    name: str
    code: str
    density_g_per_ml: float
    oil_absorption_g_per_100g: float | None
    hazards: tuple[str, ...]
    ci_name: str = ""
    loose_density_g_per_ml: float | None = None

    @property
    def spooned_g_per_ml(self) -> float:
        """What a ml of a level spoon of it weighs: oil as it is, powder loose, wax grated."""
        if self.role is Role.OIL:
            return self.density_g_per_ml
        return self.loose_density_g_per_ml or _LOOSE[self.role] * self.density_g_per_ml

    def grams_of(self, measure: Measure) -> float:
        """An amount of it in g. Raises Refused."""
        if self.role is Role.OIL:
            return to_grams(measure, density=self.density_g_per_ml).median
        return to_grams(measure, loose_density=self.spooned_g_per_ml).median

    def told(self, grams: float, habit: Habit) -> Told | None:
        """Grams of it in the maker's own measure; None for one with a scale."""
        if self.role is Role.OIL:
            return telling.oil(grams, self.density_g_per_ml, habit, telling.Rounding.NEAREST)
        return telling.powder(grams, self.spooned_g_per_ml, habit)


GRATED = 0.45
"""What a loose spoon of grated wax is of its density (assumed)."""

_LOOSE = {Role.PIGMENT: 0.3, Role.EXTENDER: 0.3, Role.WAX: GRATED}
"""What a loose spoon is of the density: powder of which nothing nearer is known, and wax off a grater (assumed)."""


@dataclass(frozen=True, slots=True)
class PotFacts:
    """What the record adds to an act: grams by source, materials that came beside the plan, a dent at 25 C."""

    bases: Mapping[str, float] = field(default_factory=dict)
    oils: Mapping[str, float] = field(default_factory=dict)
    pigments: Mapping[str, Matter] = field(default_factory=dict)
    materials: tuple[PotMaterial, ...] = ()
    dent_dmm: float | None = None

    @property
    def grams(self) -> dict[str, float]:
        """All that went in, in g by source."""
        powder = {source: matter.grams for source, matter in self.pigments.items()}
        return {**self.bases, **self.oils, **powder}


Names = Mapping[str, str]


class PotAct(Act):
    """What every act of a pot is: it may be refused, it changes the pot, and its log tells it in words."""

    def check(self, pot: Pot) -> None:
        """Refuse what cannot be in this pot. Raises Refused."""

    def fold(self, pot: Pot, facts: PotFacts) -> Pot:
        """The pot after it."""
        return pot

    def words(self, facts: PotFacts, names: Names) -> str:
        """It in words, of materials by their names."""
        raise NotImplementedError
