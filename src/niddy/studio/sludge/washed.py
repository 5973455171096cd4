"""What was washed off, looked up at the door: the pigments of a tube, a batch or a lot, with all they bring."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from niddy.core.contents import Content, Contents, Role
from niddy.core.errors import Refused
from niddy.core.estimate import Estimate
from niddy.core.materials import DryPigment
from niddy.core.sludge import WEIGHT, CanFacts, Washed
from niddy.core.sludge.can_acts import OffPaint, WashingIn
from niddy.core.sources import SourceKind, source
from niddy.studio import batches, materials, shelf
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked

_ANY_OIL = Asked(None, "linseed-refined")


@dataclass
class Door:
    """What the door makes of a washing."""

    washed: list[Washed] = field(default_factory=list)
    unknown: float = 0.0
    beside: dict[str, tuple[str, ...]] = field(default_factory=dict)
    sources: list[str] = field(default_factory=list)
    names: list[str] = field(default_factory=list)

    def facts(self) -> CanFacts:
        """As the log keeps it."""
        return CanFacts(
            washed=tuple(self.washed),
            unknown=self.unknown,
            beside=self.beside,
            sources=tuple(self.sources),
            names=tuple(self.names),
        )


def looked_up(session: Session, act: WashingIn) -> CanFacts:
    """The facts of a washing. Raises Refused, Missing naming the paint."""
    if not act.paints and act.unlogged is None:
        raise Refused("paints", "nothing was washed off", "at least one paint, or 'not sure what'")
    door = Door()
    for n, paint in enumerate(act.paints):
        named = [paint.item_id, paint.batch_number, paint.source]
        if sum(one is not None for one in named) != 1:
            raise Refused(f"paints.{n}", "names no paint, or more than one", "one tube, batch or pigment")
        try:
            _one(session, door, paint)
        except Missing as missing:
            raise Missing(missing.what, missing.key, f"paints.{n}") from None
    if act.unlogged is not None:
        door.unknown += WEIGHT[act.unlogged]
        door.names.append("not sure what")
    return door.facts()


def _one(session: Session, door: Door, paint: OffPaint) -> None:
    weight = WEIGHT[paint.much]
    if paint.item_id is not None:
        held = shelf.held(session, [paint.item_id])[0]
        door.sources.append(f"item-{paint.item_id}")
        door.names.append(f"{held.line.name} {held.line.code}")
        _contents(session, door, held.contents, weight)
        left = tuple(sorted(set(held.hazards) - {key for keys in _brought(door) for key in keys}))
        if left:
            door.beside[f"{held.line.name} {held.line.code}"] = left
    elif paint.batch_number is not None:
        kept = batches.batch(session, paint.batch_number, 0)
        door.sources.append(f"batch-{paint.batch_number}")
        door.names.append(f"{kept.name}, batch {kept.number}")
        _contents(session, door, batches.contents_of(kept), weight)
    else:
        assert paint.source is not None
        named = source(paint.source)
        asked = Asked(named.lot_id, named.key or None)
        if named.kind not in (SourceKind.LOT, SourceKind.LIBRARY):
            raise Refused("source", f"'{paint.source}' is not a pigment", "a lot of pigment, or one of the library")
        dry = materials.gather(session, [asked], _ANY_OIL).pigments[0]
        door.sources.append(paint.source)
        door.names.append(dry.name)
        door.washed.append(_washed(dry, weight, dry.hazards))


def _brought(door: Door) -> list[tuple[str, ...]]:
    return [*(one.hazards for one in door.washed), *door.beside.values()]


def _contents(session: Session, door: Door, contents: Contents, weight: float) -> None:
    """The pigments of a paint by their share of it, and the hazards of all else; what nobody knows is unknown."""
    pigments = [one for one in contents if one.role in (Role.PIGMENT, Role.EXTENDER) and one.grams > 0]
    whole = sum(one.grams for one in pigments)
    if whole <= 0:
        door.unknown += weight
    for content in pigments:
        dry = _dry(session, content)
        if dry is None:
            door.unknown += weight * content.grams / whole
            door.beside[content.name] = content.hazards
        else:
            hazards = tuple(dict.fromkeys((*content.hazards, *dry.hazards)))
            door.washed.append(_washed(dry, weight * content.grams / whole, hazards))
    for content in contents:
        if content.role not in (Role.PIGMENT, Role.EXTENDER) and content.hazards:
            door.beside[content.name] = tuple(dict.fromkeys((*door.beside.get(content.name, ()), *content.hazards)))


def _dry(session: Session, content: Content) -> DryPigment | None:
    named = source(content.source)
    if named.kind not in (SourceKind.LOT, SourceKind.LIBRARY):
        return None
    try:
        return materials.gather(session, [Asked(named.lot_id, named.key or None)], _ANY_OIL).pigments[0]
    except Missing:
        # An extender that was an additive's lot: what is known of it came with its content.
        return None


def _washed(dry: DryPigment, weight: float, hazards: tuple[str, ...]) -> Washed:
    ranged = Estimate.lognormal(dry.demand_g_per_100g, dry.demand_sd_ln, dry.demand_basis)
    return Washed(
        dry.key,
        dry.name,
        weight,
        ranged.low or dry.demand_g_per_100g,
        ranged.high or dry.demand_g_per_100g,
        dry.density_g_per_ml,
        dry.masstone_srgb,
        dry.tinting,
        hazards,
        dry.ci_name,
    )


def sources_of(session: Session, names: list[str]) -> list[dict[str, int]]:
    """What a dish came from as its lineage keeps it: tubes, lots, and the jobs of batches; each once."""
    found: list[dict[str, int]] = []
    numbers = [int(name.removeprefix("batch-")) for name in names if name.startswith("batch-")]
    jobs = {number: kept.job_id for number, (kept, _) in batches.several(session, numbers).items()}
    for name in names:
        kind, _, key = name.partition("-")
        if kind == "item":
            found.append({"item_id": int(key)})
        elif kind == "lot":
            found.append({"lot_id": int(key)})
        elif kind == "batch" and int(key) in jobs:
            found.append({"of_job_id": jobs[int(key)]})
    return found
