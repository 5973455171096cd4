"""The shipped library of materials: approximate general figures, read once from CSV."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib import resources

from niddy.core.colorimetry import BANDS_NM, Observer
from niddy.core.materials import Additive, Dispersing, Oil, Particle, Pigment, Solvent, Wax

APPROXIMATE = "Approximate general figures: a lot of your own may differ widely."


@dataclass(frozen=True, slots=True)
class Library:
    """All shipped materials by key, in the order of the tables."""

    pigments: dict[str, Pigment]
    oils: dict[str, Oil]
    additives: dict[str, Additive]
    waxes: dict[str, Wax]
    solvents: dict[str, Solvent]


@dataclass(frozen=True, slots=True)
class Term:
    """A word of the craft in a sentence, and what its drawing shows."""

    term: str
    says: str
    drawing: str


@cache
def terms() -> tuple[Term, ...]:
    """The words of the craft, as shipped."""
    return tuple(Term(row["term"], row["says"], row["drawing"]) for row in _rows("terms.csv"))


@cache
def library() -> Library:
    """The shipped library."""
    return Library(
        {row["key"]: _pigment(row) for row in _rows("pigments.csv")},
        {row["key"]: _oil(row) for row in _rows("oils.csv")},
        {row["key"]: _additive(row) for row in _rows("additives.csv")},
        {row["key"]: _wax(row) for row in _rows("waxes.csv")},
        {row["key"]: _solvent(row) for row in _rows("solvents.csv")},
    )


def _solvent(row: dict[str, str]) -> Solvent:
    def degrees(name: str) -> float | None:
        return float(row[name]) if row[name] else None

    return Solvent(
        row["key"],
        row["name"],
        float(row["density_g_per_ml"]),
        degrees("boiling_low_c"),
        degrees("boiling_high_c"),
        degrees("flash_point_c"),
        row["evaporation"],
        _hazards(row),
        row["note"],
    )


def _wax(row: dict[str, str]) -> Wax:
    return Wax(
        row["key"],
        row["name"],
        row["kind"],
        row["source"],
        float(row["density_g_per_ml"]),
        float(row["melting_low_c"]),
        float(row["melting_high_c"]),
        float(row["penetration_dmm"]),
        _hazards(row),
        row["note"],
    )


@cache
def observer() -> Observer:
    """The CIE 1931 2 degree observer under D50, at the bands of a reading."""
    rows = {int(row["nm"]): row for row in _rows("observer_d50.csv")}
    x, y, z = (
        tuple(float(rows[nm][name]) * float(rows[nm]["d50"]) for nm in BANDS_NM) for name in ("x_bar", "y_bar", "z_bar")
    )
    return Observer(x, y, z)


def _rows(name: str) -> Iterator[dict[str, str]]:
    with resources.files(__package__).joinpath(name).open(encoding="utf-8") as file:
        yield from csv.DictReader(file)


def _hazards(row: dict[str, str]) -> tuple[str, ...]:
    return tuple(row["hazards"].split(";"))


def _stains(row: dict[str, str]) -> bool:
    """Whether a powder dyes what it touches: organic colours of the strongest staining class."""
    organic = float(row["density_g_per_ml"]) < 2.2 and row["family"] != "black"
    return organic and row["staining"] == "3"


def _pigment(row: dict[str, str]) -> Pigment:
    return Pigment(
        key=row["key"],
        name=row["name"],
        ci_name=row["ci_name"],
        family=row["family"],
        density_g_per_ml=float(row["density_g_per_ml"]),
        oil_absorption_low=float(row["oil_absorption_low"]),
        oil_absorption_high=float(row["oil_absorption_high"]),
        loose_density_g_per_ml=float(row["loose_density_g_per_ml"]),
        particle=Particle(row["particle"]),
        opacity=row["opacity"],
        tinting=row["tinting"],
        staining=int(row["staining"]),
        lightfast_class=row["lightfast_class"],
        drying=row["drying"],
        hazards=(*_hazards(row), *(("stains",) if _stains(row) else ())),
        masstone_srgb=row["masstone_srgb"],
        dispersing=Dispersing(row["dispersing"]),
        synonyms=tuple(name for name in row["synonyms"].split(";") if name),
    )


def _oil(row: dict[str, str]) -> Oil:
    return Oil(
        key=row["key"],
        name=row["name"],
        process=row["process"],
        density_g_per_ml=float(row["density_g_per_ml"]),
        viscosity_mpa_s=float(row["viscosity_mpa_s"]),
        nonvolatile_fraction=float(row["nonvolatile_fraction"]),
        touch_dry_days_low=float(row["touch_dry_days_low"]),
        touch_dry_days_high=float(row["touch_dry_days_high"]),
        yellowing_rank=int(row["yellowing_rank"]),
        film_rank=int(row["film_rank"]),
        hazards=_hazards(row),
        note=row["note"],
    )


def _additive(row: dict[str, str]) -> Additive:
    return Additive(
        key=row["key"],
        name=row["name"],
        kind=row["kind"],
        school=row["school"],
        density_g_per_ml=float(row["density_g_per_ml"]),
        nonvolatile_fraction=float(row["nonvolatile_fraction"]),
        dose_basis=row["dose_basis"],
        dose_low_pct=float(row["dose_low_pct"]),
        dose_high_pct=float(row["dose_high_pct"]),
        dose_ceiling_pct=float(row["dose_ceiling_pct"]),
        stiffening_per_pct=float(row["stiffening_per_pct"]),
        preparation=row["preparation"],
        hazards=_hazards(row),
        note=row["note"],
    )
