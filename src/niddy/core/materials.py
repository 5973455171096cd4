"""Materials: pigments, oils and additives as the library and a studio's lots describe them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from niddy.core.estimate import Basis
from niddy.core.names import searched
from niddy.core.sources import Source, SourceKind, of_lot

REFERENCE_OIL_DENSITY_G_PER_ML = 0.930
"""Density of the oil in which oil absorption is stated here."""


SOLVENT_G_PER_ML = 0.76
"""What the liquid in a wet lot is taken for where nobody said."""


STILL_WET = (
    "It is still wet: solvent leaves on the slab. Air moving through and no flame; judge the body once it no longer "
    "smells of solvent, and tube it only then."
)
"""What stands wherever a lot that is still wet goes into a paste."""


class Particle(StrEnum):
    """Coarseness class of a pigment: it sets film thickness on the slab and dispersion time."""

    FINE = "fine"
    MEDIUM = "medium"
    COARSE = "coarse"


_COARSENESS = (Particle.FINE, Particle.MEDIUM, Particle.COARSE)


class Dispersing(StrEnum):
    """How readily a pigment comes apart under the muller: it sets the dispersion time, whatever its coarseness."""

    EASY = "easy"
    MEDIUM = "medium"
    HARD = "hard"


TAU_MIN = {Dispersing.EASY: 6.0, Dispersing.MEDIUM: 8.0, Dispersing.HARD: 12.0}
"""Dispersion time in minutes of mulling a load (assumed)."""

FILM_MM = {Particle.FINE: 0.3, Particle.MEDIUM: 0.4, Particle.COARSE: 0.5}
"""Thickness in mm of the film mulled on the slab (assumed)."""


def coarsest(particles: list[Particle]) -> Particle:
    """The class that governs a blend: its coarsest."""
    return max(particles, key=_COARSENESS.index)


def slowest(dispersing: list[Dispersing]) -> Dispersing:
    """The class that governs a blend: its hardest to disperse."""
    return max(dispersing, key=list(Dispersing).index)


@dataclass(frozen=True, slots=True)
class Pigment:
    """A dry pigment of the library. Oil absorption in g reference oil per 100 g, as an approximate range.

    `synonyms` are other names it is sold and asked for by.
    """

    key: str
    name: str
    ci_name: str
    family: str
    density_g_per_ml: float
    oil_absorption_low: float
    oil_absorption_high: float
    loose_density_g_per_ml: float
    particle: Particle
    opacity: str
    tinting: str
    staining: int
    lightfast_class: str
    drying: str
    hazards: tuple[str, ...]
    masstone_srgb: str
    dispersing: Dispersing = Dispersing.MEDIUM
    synonyms: tuple[str, ...] = ()

    @property
    def names(self) -> str:
        """All it may be asked for by, in small letters, for a search."""
        return searched(self.name, *self.synonyms, self.ci_name, self.family)


@dataclass(frozen=True, slots=True)
class Oil:
    """A drying oil or medium of the library."""

    key: str
    name: str
    process: str
    density_g_per_ml: float
    viscosity_mpa_s: float
    nonvolatile_fraction: float
    touch_dry_days_low: float
    touch_dry_days_high: float
    yellowing_rank: int
    film_rank: int
    hazards: tuple[str, ...]
    note: str

    @property
    def full_name(self) -> str:
        """Name with its process, since two linseed oils differ by that alone."""
        return f"{self.name}, {self.process}"


@dataclass(frozen=True, slots=True)
class Additive:
    """An additive of the library, with the basis of its dose and its ceiling in percent."""

    key: str
    name: str
    kind: str
    school: str
    density_g_per_ml: float
    nonvolatile_fraction: float
    dose_basis: str
    dose_low_pct: float
    dose_high_pct: float
    dose_ceiling_pct: float
    stiffening_per_pct: float
    preparation: str
    hazards: tuple[str, ...]
    note: str


@dataclass(frozen=True, slots=True)
class Solvent:
    """What brushes are washed in (approximate); boiling range and flash point in C, None where it does not boil off."""

    key: str
    name: str
    density_g_per_ml: float
    boiling_low_c: float | None
    boiling_high_c: float | None
    flash_point_c: float | None
    evaporation: str
    hazards: tuple[str, ...]
    note: str

    @property
    def evaporates(self) -> bool:
        """Whether a dish of its sludge dries at all, or only drains."""
        return self.evaporation != "none"


BOUGHT = "bought"
"""The kind of a wax that is somebody else's base: what is in it, nobody here knows."""


@dataclass(frozen=True, slots=True)
class Wax:
    """A wax or resin of the library: its melting range in C, and its needle dent in 0.1 mm (approximate)."""

    key: str
    name: str
    kind: str
    source: str
    density_g_per_ml: float
    melting_low_c: float
    melting_high_c: float
    penetration_dmm: float
    hazards: tuple[str, ...]
    note: str

    @property
    def melting_c(self) -> float:
        """The middle of its melting range."""
        return (self.melting_low_c + self.melting_high_c) / 2


@dataclass(frozen=True, slots=True)
class RawMaterial:
    """What a pigment is made of, and nothing is known of beyond what the maker says: a salt, an alkali, a dyestuff.

    `formula` with its hydrate; empty where it has none.
    """

    key: str
    name: str
    formula: str
    hazards: tuple[str, ...]


CAKE_FAMILY = "sludge"
"""The family of pigments that are cakes of sludge."""


@dataclass(frozen=True, slots=True)
class DryPigment:
    """A lot of dry pigment as the calculations need it.

    `demand_g_per_100g` is the median oil absorption in the reference oil, `demand_sd_ln` the sd of its
    logarithm; `demand_says` is the line a maker reads about where that comes from. Of a lot that is still wet,
    `liquid_share` of its mass is solvent that will leave; everything else here is of its dry part. `recycled`: it is a
    cake of sludge.
    """

    lot_id: int | None
    key: str
    name: str
    lot_code: str
    ci_name: str
    density_g_per_ml: float
    loose_density_g_per_ml: float
    loose_density_measured: bool
    particle: Particle
    tinting: str
    masstone_srgb: str
    hazards: tuple[str, ...]
    demand_g_per_100g: float
    demand_sd_ln: float
    demand_basis: Basis
    demand_says: str
    drying: str = "medium"
    dispersing: Dispersing = Dispersing.MEDIUM
    demand_shared_sd_ln: float = 0.0
    demand_eye_covariance: float = 0.0
    opacity: str = ""
    liquid_share: float = 0.0
    liquid_density_g_per_ml: float = SOLVENT_G_PER_ML
    recycled: bool = False

    @property
    def source(self) -> str:
        """What the slab's log calls it."""
        return of_lot(self.lot_id, self.key)

    def wet_g(self, dry_g: float) -> float:
        """What so much of its dry part weighs as the lot is."""
        return dry_g / (1 - self.liquid_share)

    def leaving_ml(self, dry_g: float) -> float:
        """Solvent in ml that is in it beside so much of its dry part, and will leave."""
        return (self.wet_g(dry_g) - dry_g) / self.liquid_density_g_per_ml


@dataclass(frozen=True, slots=True)
class OilPart:
    """One oil of a blend and its share by weight."""

    lot_id: int | None
    key: str
    name: str
    lot_code: str
    share: float
    viscosity_mpa_s: float
    yellowing_rank: int
    film_rank: int

    @property
    def source(self) -> str:
        return of_lot(self.lot_id, self.key)


@dataclass(frozen=True, slots=True)
class BinderOil:
    """A bottle of oil as the calculations need it; or a blend, its `parts` stirred together before the first pour."""

    lot_id: int | None
    key: str
    name: str
    lot_code: str
    density_g_per_ml: float
    hazards: tuple[str, ...]
    drop_g: float
    drop_measured: bool
    touch_dry_days_low: float | None = None
    touch_dry_days_high: float | None = None
    nonvolatile_fraction: float = 1.0
    parts: tuple[OilPart, ...] = ()

    @property
    def source(self) -> str:
        """What the slab's log calls it."""
        return BLEND if self.parts else of_lot(self.lot_id, self.key)


BLEND = str(Source(SourceKind.BLEND))
"""The source under which a log counts oils that were stirred together before the first pour."""
