"""What every act of a pot is, and what the record adds to one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from niddy.core.acting import Act
from niddy.core.contents import Role
from niddy.core.sticks.folding import Matter, Pot


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
