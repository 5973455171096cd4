"""Materials of the studio's own as a client says them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from niddy.core.amounts import Density, OilRatio
from niddy.core.documents import Document, Hazards
from niddy.core.kinds import PigmentKind, values_of
from niddy.core.making import compound, hazards_of
from niddy.core.materials import Dispersing, Oil, Particle, Pigment, RawMaterial, Wax
from niddy.core.words import Words
from niddy.reference import library


class OwnPigment(Document):
    """A pigment the library does not have. Oil absorption as a range, g reference oil per 100 g."""

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    ci_name: Annotated[Words, Field(max_length=20)] = ""
    density_g_per_ml: Density
    oil_absorption_low: OilRatio
    oil_absorption_high: OilRatio
    loose_density_g_per_ml: Density
    particle: Particle = Particle.MEDIUM
    dispersing: Dispersing = Dispersing.MEDIUM
    synonyms: Annotated[tuple[Annotated[Words, Field(min_length=1, max_length=80)], ...], Field(max_length=20)] = ()
    tinting: Literal["none", "low", "medium", "high"] = "medium"
    masstone_srgb: Annotated[Words, Field(max_length=7)] = "#808080"
    hazards: Hazards = ["nuisance-dust"]

    def pigment(self) -> Pigment:
        """The core's type, without a key."""
        given = dict(self) | {"hazards": tuple(self.hazards)}
        return Pigment(key="", family="own", opacity="semi", staining=1, lightfast_class="", drying="medium", **given)


class OwnWax(Document):
    """A wax or resin the library does not have: its melting range in C, its needle dent in 0.1 mm."""

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    resin: Annotated[bool, Field(strict=True)] = False
    density_g_per_ml: Density
    melting_low_c: Annotated[float, Field(strict=True, ge=20, le=200)]
    melting_high_c: Annotated[float, Field(strict=True, ge=20, le=200)]
    penetration_dmm: Annotated[float, Field(strict=True, ge=0.1, le=400)]
    hazards: Hazards = ["hot-wax"]

    def wax(self) -> Wax:
        """The core's type, without a key; any wax is melted, so that its heat is always among the hazards."""
        return Wax(
            "",
            self.name,
            "resin" if self.resin else "wax",
            "own",
            self.density_g_per_ml,
            self.melting_low_c,
            self.melting_high_c,
            self.penetration_dmm,
            tuple(dict.fromkeys(("hot-wax", *self.hazards))),
            "",
        )


class OwnRaw(Document):
    """What pigments are made of: its name, and its formula with its hydrate where it has one."""

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    formula: Annotated[Words, Field(max_length=80)] = ""
    hazards: Hazards = []

    def raw(self) -> RawMaterial:
        """The core's type, without a key; what its formula calls for is always among the hazards. Raises Refused."""
        called_for: tuple[str, ...] = ()
        formula = self.formula.strip()
        if formula:
            read = compound("formula", formula)
            formula, called_for = read.formula, hazards_of(read)
        return RawMaterial("", self.name, formula, tuple(dict.fromkeys((*called_for, *self.hazards))))


class OwnOil(Document):
    """A drying oil, ready-made binder or medium the library does not have.

    What of it stays as a share by weight, and its days to touch-dry in a thin film, as its maker gives them.
    """

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    ready_made: Annotated[bool, Field(strict=True)] = True
    density_g_per_ml: Density
    nonvolatile_fraction: Annotated[float, Field(strict=True, ge=0.2, le=1)] = 1.0
    touch_dry_days_low: Annotated[float, Field(strict=True, ge=0.1, le=365)]
    touch_dry_days_high: Annotated[float, Field(strict=True, ge=0.1, le=365)]
    hazards: Hazards = ["oily-rags"]

    def oil(self) -> Oil:
        """The core's type, without a key; any drying oil heats a rag, and what leaves it is a solvent."""
        always = ("oily-rags",) if self.nonvolatile_fraction >= 1 else ("oily-rags", "solvent", "flammable")
        return Oil(
            key="",
            name=self.name,
            process="ready-made" if self.ready_made else "own",
            density_g_per_ml=self.density_g_per_ml,
            viscosity_mpa_s=_OWN_VISCOSITY_MPA_S,
            nonvolatile_fraction=self.nonvolatile_fraction,
            touch_dry_days_low=self.touch_dry_days_low,
            touch_dry_days_high=self.touch_dry_days_high,
            yellowing_rank=3,
            film_rank=3,
            hazards=tuple(dict.fromkeys((*always, *self.hazards))),
            note="",
        )


_OWN_VISCOSITY_MPA_S = 60.0
"""How thick an oil is taken for that the library does not have (assumed)."""


class OwnOfKind(Document):
    """A powder that is not listed: its name, what kind it is taken for, its colour, the hazards confirmed."""

    name: Annotated[Words, Field(min_length=1, max_length=80)]
    kind: PigmentKind
    masstone_srgb: Annotated[Words, Field(max_length=7)] = "#808080"
    hazards: Hazards = ["nuisance-dust"]

    def pigment(self) -> Pigment:
        """The core's type, without a key: what is taken for its kind."""
        taken = values_of(self.kind, library().pigments.values())
        return Pigment(
            key="",
            name=self.name,
            ci_name="",
            family="own",
            density_g_per_ml=taken.density_g_per_ml,
            oil_absorption_low=taken.oil_absorption_low,
            oil_absorption_high=taken.oil_absorption_high,
            loose_density_g_per_ml=taken.loose_density_g_per_ml,
            particle=taken.particle,
            opacity=taken.opacity,
            tinting=taken.tinting,
            staining=1,
            lightfast_class="",
            drying=taken.drying,
            hazards=tuple(self.hazards),
            masstone_srgb=self.masstone_srgb,
            dispersing=taken.dispersing,
        )
