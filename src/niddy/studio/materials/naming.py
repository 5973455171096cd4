"""A pigment or an oil by name: lots of the shelf first, then the whole library and the studio's own."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from niddy.core.materials import Oil, Pigment
from niddy.core.names import Named, NameFound, find_named
from niddy.core.sources import of_lot
from niddy.reference import library
from niddy.studio.materials.kept import LotKept, lots
from niddy.studio.materials.own import own_materials

MOST_LOTS = 2_000
MOST = 80


@dataclass(frozen=True, slots=True)
class MaterialNamed:
    """A lot or a material of the library, as one chooses it; `also` is the other name it was found by."""

    source: str
    name: str
    lot_code: str = ""
    on_hand: float | None = None
    suspect: bool = False
    masstone_srgb: str | None = None
    also: str = ""


@dataclass(frozen=True, slots=True)
class MaterialsNamed:
    """What goes by a name, the nearest first; where nothing does, what is most like it."""

    found: tuple[MaterialNamed, ...]
    nearest: tuple[MaterialNamed, ...]


def named(session: Session, kind: str, typed: str, *, lots_only: bool = False) -> MaterialsNamed:
    """What is called so, of pigments or oils."""
    shelf = library()
    shipped: tuple[Pigment | Oil, ...] = (
        tuple(shelf.pigments.values()) if kind == "pigment" else tuple(shelf.oils.values())
    )
    own = tuple(one for one in own_materials(session) if isinstance(one, Pigment if kind == "pigment" else Oil))
    by_key = {one.key: one for one in (*shipped, *own)}
    chosen: dict[str, MaterialNamed] = {}
    asked: list[Named] = []

    def offer(one: MaterialNamed, of: Pigment | Oil | None, *codes: str) -> None:
        chosen[one.source] = one
        also = of.synonyms if isinstance(of, Pigment) else ()
        ours = (of.ci_name, of.family) if isinstance(of, Pigment) else ()
        asked.append(Named(one.source, one.name, also, (*codes, *ours)))

    for lot in lots(session, kind, limit=MOST_LOTS):
        offer(_of_lot(lot), by_key.get(lot.material_key), lot.code)
    for material in () if lots_only else by_key.values():
        name = material.full_name if isinstance(material, Oil) else material.name
        colour = material.masstone_srgb if isinstance(material, Pigment) else None
        offer(MaterialNamed(of_lot(None, material.key), name, masstone_srgb=colour), material)
    found = find_named(typed, asked)

    def shown(hit: NameFound) -> MaterialNamed:
        return replace(chosen[hit.key], also=hit.also)

    return MaterialsNamed(tuple(map(shown, found.found[:MOST])), tuple(map(shown, found.nearest)))


def _of_lot(lot: LotKept) -> MaterialNamed:
    return MaterialNamed(of_lot(lot.id, ""), lot.name, lot.code, lot.on_hand, bool(lot.suspect), lot.masstone_srgb)
