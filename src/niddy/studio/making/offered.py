"""The lots an ingredient may be weighed from, and whether one of them is under suspicion."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.errors import Refused
from niddy.core.making import Ingredient, Process
from niddy.studio import materials
from niddy.studio.materials import LotKept


@dataclass(frozen=True, slots=True)
class RawOffered:
    """A lot an ingredient may be weighed from, and why it is under suspicion, where it is."""

    lot_id: int
    code: str
    name: str
    formula: str
    left_g: float
    suspect: str


def raw_lots(session: Session, process: Process) -> tuple[LotKept, ...]:
    """What runs of a process may be weighed from; extenders too where it has a ground: chalk is kept as a pigment."""
    raw = materials.lots(session, materials.RAW)
    if all(one.role is not core.Does.SUBSTRATE for one in process.ingredients):
        return raw
    return (*raw, *(lot for lot in materials.lots(session, "pigment") if lot.family == "extender"))


def offered(one: Ingredient, lots: tuple[LotKept, ...]) -> tuple[RawOffered, ...]:
    """Those of some lots that an ingredient may be weighed from: of the same salt, whatever its hydrate.

    Where it has no formula, those that have none; a ground may be an extender. Of the same name first.
    """
    found = [lot for lot in lots if _may(one, lot)]
    found.sort(key=lambda lot: lot.name.lower() != one.name.lower())
    return tuple(RawOffered(lot.id, lot.code, lot.name, lot.formula, lot.on_hand, lot.suspect) for lot in found)


def _may(one: Ingredient, lot: LotKept) -> bool:
    if lot.kind != materials.RAW:
        return one.role is core.Does.SUBSTRATE
    if bool(lot.formula) != bool(one.formula):
        return False
    try:
        core.grams_per_gram(one.formula, 1.0, lot.formula, 1.0)
    except Refused:
        return False
    return True
