"""Where a material comes from, as a log names it: a lot, the shipped library, a blend, an old paint."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum

from niddy.core.errors import Refused


class SourceKind(StrEnum):
    """What a source is."""

    LOT = "lot"
    LIBRARY = "library"
    BLEND = "blend"
    OLD = "old"


_NAMED = re.compile(r"lot-(?P<lot>[1-9]\d{0,9})|library-(?P<library>[a-z0-9-]{1,80})|old-(?P<old>[0-9a-f]{1,32})|blend")


@dataclass(frozen=True, slots=True)
class Source:
    """A source and what it names: a lot's id, a key of the library, the mark of an old paint's part."""

    kind: SourceKind
    lot_id: int | None = None
    key: str = ""

    def __str__(self) -> str:
        if self.kind is SourceKind.LOT:
            return f"lot-{self.lot_id}"
        return self.kind.value if self.kind is SourceKind.BLEND else f"{self.kind}-{self.key}"


def source(name: str, field: str = "source") -> Source:
    """The source a log or a client names. Raises Refused for what names none."""
    found = _NAMED.fullmatch(name)
    if found is None:
        raise Refused(field, f"'{name[:40]}' names no material", "lot-N of a lot, or library-KEY")
    if found["lot"] is not None:
        return Source(SourceKind.LOT, lot_id=int(found["lot"]))
    if found["library"] is not None:
        return Source(SourceKind.LIBRARY, key=found["library"])
    if found["old"] is not None:
        return Source(SourceKind.OLD, key=found["old"])
    return Source(SourceKind.BLEND)


def lot_of(name: str) -> int | None:
    """The lot that a source names, or None where it names something else."""
    found = _NAMED.fullmatch(name)
    return int(found["lot"]) if found is not None and found["lot"] is not None else None


def of_lot(lot_id: int | None, key: str) -> str:
    """The name under which a log counts a material: its lot, or the library's entry where no lot is kept."""
    return str(Source(SourceKind.LOT, lot_id) if lot_id is not None else Source(SourceKind.LIBRARY, key=key))
