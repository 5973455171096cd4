"""Materials of the studio's own beside the shipped library."""

from __future__ import annotations

import re
from dataclasses import asdict
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.cautions import known_hazards
from niddy.core.errors import Refused, density_g_per_ml, oil_g_per_100g, within
from niddy.core.materials import Additive, Dispersing, Oil, Particle, Pigment, RawMaterial, Wax
from niddy.db.materials import OwnMaterial
from niddy.reference import library

OWN_PREFIX = "own-"


RAW = "raw"

Material = Pigment | Oil | Additive | Wax | RawMaterial
_SHELVES: dict[str, type[Material]] = {
    "pigment": Pigment,
    "oil": Oil,
    "additive": Additive,
    "wax": Wax,
    RAW: RawMaterial,
}


def pigment_of(session: Session, key: str) -> Pigment | None:
    """A pigment of the library or of the studio's own."""
    found = material_of(session, "pigment", key)
    return found if isinstance(found, Pigment) else None


def material_of(session: Session, kind: str, key: str) -> Material | None:
    """A material by its key: shipped, or the studio's own; None where there is none."""
    if kind not in _SHELVES:
        return None
    if key.startswith(OWN_PREFIX):
        row = session.get(OwnMaterial, key)
        return _own_of(row) if row is not None and row.kind == kind else None
    if kind == RAW:
        return None
    shelf = library()
    shipped: Material | None = {
        "pigment": shelf.pigments,
        "oil": shelf.oils,
        "additive": shelf.additives,
        "wax": shelf.waxes,
    }[kind].get(key)  # type: ignore[attr-defined]
    return shipped


def _own_of(row: OwnMaterial) -> Material:
    values = dict(row.values)
    values["hazards"] = tuple(values["hazards"])
    if row.kind == "pigment":
        values["particle"] = Particle(values["particle"])
        values["dispersing"] = Dispersing(values.get("dispersing", Dispersing.MEDIUM))
        values["synonyms"] = tuple(values.get("synonyms", ()))
    return _SHELVES[row.kind](**values)


def own_materials(session: Session) -> tuple[Material, ...]:
    """The studio's own materials, by name."""
    rows = session.scalars(select(OwnMaterial).order_by(OwnMaterial.key))
    return tuple(_own_of(row) for row in rows)


def add_own(session: Session, now: datetime, kind: str, material: Pigment | Oil | Wax | RawMaterial) -> str:
    """Keep a material of the studio's own; its key. The key given is replaced. Raises Refused naming the field."""
    name = material.name.strip()
    if not name:
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    key = OWN_PREFIX + (re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "material")
    if session.get(OwnMaterial, key) is not None:
        raise Refused("name", f"'{name}' is kept already", "a name of its own")
    if not isinstance(material, RawMaterial):
        density_g_per_ml("density_g_per_ml", material.density_g_per_ml)
    for n, hazard in enumerate(material.hazards):
        if hazard not in known_hazards():
            raise Refused(f"hazards.{n}", f"'{hazard}' is unknown", ", ".join(sorted(known_hazards())))
    if isinstance(material, Pigment):
        oil_g_per_100g("oil_absorption_low", material.oil_absorption_low)
        oil_g_per_100g("oil_absorption_high", material.oil_absorption_high)
        if material.oil_absorption_high <= material.oil_absorption_low:
            raise Refused("oil_absorption_high", "not above the low end", f"more than {material.oil_absorption_low:g}")
        density_g_per_ml("loose_density_g_per_ml", material.loose_density_g_per_ml)
        if not re.fullmatch("#[0-9a-fA-F]{6}", material.masstone_srgb):
            raise Refused("masstone_srgb", f"'{material.masstone_srgb}' is not a colour", "a colour like #a0522d")
    if isinstance(material, Oil) and material.touch_dry_days_high < material.touch_dry_days_low:
        raise Refused("touch_dry_days_high", "sooner than the low end", f"{material.touch_dry_days_low:g} days or more")
    if isinstance(material, Wax):
        within("melting_low_c", material.melting_low_c, 20, 200, "C")
        within("melting_high_c", material.melting_high_c, material.melting_low_c, 200, "C")
        within("penetration_dmm", material.penetration_dmm, 0.1, 400)
    values = {**asdict(material), "key": key, "name": name, "hazards": list(material.hazards)}
    if isinstance(material, Pigment):
        values["synonyms"] = list(material.synonyms)
    session.add(OwnMaterial(key=key, kind=kind, values=values, added_at=now))
    session.flush()
    return key


def oil_of(session: Session, key: str) -> Oil | None:
    """An oil of the library or of the studio's own."""
    found = material_of(session, "oil", key)
    return found if isinstance(found, Oil) else None


def additive_of(session: Session, key: str) -> Additive | None:
    """An additive of the library."""
    found = material_of(session, "additive", key)
    return found if isinstance(found, Additive) else None


def wax_of(session: Session, key: str) -> Wax | None:
    """A wax or resin of the library or of the studio's own."""
    found = material_of(session, "wax", key)
    return found if isinstance(found, Wax) else None


def raw_of(session: Session, key: str) -> RawMaterial | None:
    """A raw material, all of which are the studio's own."""
    found = material_of(session, RAW, key)
    return found if isinstance(found, RawMaterial) else None


def waxes(session: Session) -> tuple[Wax, ...]:
    """Every wax and resin: the studio's own, then those of the library."""
    own = (material for material in own_materials(session) if isinstance(material, Wax))
    return (*own, *library().waxes.values())
