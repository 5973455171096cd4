"""The workshop: slabs, mullers, tube types, and the studio's settings with sensible defaults."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import Integer, bindparam, func, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import tubes as core_tubes
from niddy.core.errors import MAX_VOLUME_ML, MIN_LENGTH_MM, MIN_TUBE_ML, Refused, within
from niddy.core.measures import UNITS, UnitKnown, spoons_of
from niddy.core.plan import Bench, Tool, Tooth, Tubes
from niddy.db.workshop import Muller, Slab, StudioSettings, TubeType
from niddy.studio.errors import Missing
from niddy.studio.workshop.measures import OwnMeasureKept, own_measures, remove_own_measure, units
from niddy.studio.workshop.rows import kept, named
from niddy.studio.workshop.settings import Settings, has_mark, know, own, settings

_FIRST_SLABS = (("Frosted glass 30 x 30 cm", 900.0, Tooth.FRESH),)
_FIRST_MULLERS = (("Glass muller, middle", 70.0, Tooth.FRESH),)
_FIRST_TUBES = (("20 ml tube", 20.0), ("40 ml tube", 40.0), ("60 ml tube", 60.0), ("50 ml tube", 50.0))


@dataclass(frozen=True, slots=True)
class SlabKept:
    """A slab of the studio."""

    id: int
    name: str
    area_cm2: float
    tooth: Tooth
    film_mm: float | None


@dataclass(frozen=True, slots=True)
class MullerKept:
    """A muller of the studio."""

    id: int
    name: str
    face_mm: float
    tooth: Tooth


@dataclass(frozen=True, slots=True)
class TubeTypeKept:
    """A tube type of the studio."""

    id: int
    name: str
    usable_ml: float
    diameter_mm: float | None = None
    length_mm: float | None = None
    headspace_mm: float | None = None
    tare_g: float | None = None
    folds: int | None = None


@dataclass(frozen=True, slots=True)
class Workshop:
    """Everything of the workshop that is in use."""

    settings: Settings
    slabs: tuple[SlabKept, ...]
    mullers: tuple[MullerKept, ...]
    tube_types: tuple[TubeTypeKept, ...]
    units: tuple[UnitKnown, ...]
    spoons: tuple[UnitKnown, ...]
    own_measures: tuple[OwnMeasureKept, ...]
    has_mark: bool


def furnish(session: Session) -> None:
    """Give an empty studio one slab, one muller and some tube types to start with; harmless when repeated."""
    if session.get(StudioSettings, 1) is not None:
        return
    slabs = [Slab(name=name, area_cm2=area, tooth=tooth, retired=False) for name, area, tooth in _FIRST_SLABS]
    mullers = [Muller(name=name, face_mm=face, tooth=tooth, retired=False) for name, face, tooth in _FIRST_MULLERS]
    session.add_all([*slabs, *mullers, *(TubeType(name=n, usable_ml=ml, retired=False) for n, ml in _FIRST_TUBES)])
    session.flush()
    session.add(StudioSettings(id=1, default_slab_id=slabs[0].id, default_muller_id=mullers[0].id))
    session.flush()


def workshop(session: Session) -> Workshop:
    """The workshop as it is now."""
    slabs = session.scalars(select(Slab).where(~Slab.retired).order_by(Slab.id))
    mullers = session.scalars(select(Muller).where(~Muller.retired).order_by(Muller.id))
    tubes = session.scalars(select(TubeType).where(~TubeType.retired).order_by(TubeType.usable_ml, TubeType.id))
    return Workshop(
        settings(session),
        tuple(SlabKept(s.id, s.name, s.area_cm2, Tooth(s.tooth), s.film_mm) for s in slabs),
        tuple(MullerKept(m.id, m.name, m.face_mm, Tooth(m.tooth)) for m in mullers),
        tuple(
            TubeTypeKept(t.id, t.name, t.usable_ml, t.diameter_mm, t.length_mm, t.headspace_mm, t.tare_g, t.folds)
            for t in tubes
        ),
        units(session),
        tuple(UNITS[unit] for unit in spoons_of(settings(session).spoon_set == "us")),
        own_measures(session),
        has_mark(session),
    )


def slab_names(session: Session) -> tuple[tuple[int, str], ...]:
    """The slabs in use, by id and name."""
    rows = session.execute(select(Slab.id, Slab.name).where(~Slab.retired).order_by(Slab.id))
    return tuple((row.id, row.name) for row in rows)


def keep_slab(
    session: Session, slab_id: int | None, name: str, area_cm2: float, tooth: Tooth, film_mm: float | None
) -> int:
    """Add a slab (`slab_id` None) or change one; its id. Raises Refused, Missing."""
    within("area_cm2", area_cm2, 1, 100_000, "cm2")
    if film_mm is not None:
        within("film_mm", film_mm, MIN_LENGTH_MM, 20, "mm")
    row = Slab(retired=False) if slab_id is None else session.get(Slab, slab_id)
    if row is None:
        raise Missing("slab", slab_id)
    row.name, row.area_cm2, row.tooth, row.film_mm = named(name), area_cm2, tooth, film_mm
    return kept(session, row)


def keep_muller(session: Session, muller_id: int | None, name: str, face_mm: float, tooth: Tooth) -> int:
    """Add a muller or change one; its id. Raises Refused, Missing."""
    within("face_mm", face_mm, 1, 500, "mm")
    row = Muller(retired=False) if muller_id is None else session.get(Muller, muller_id)
    if row is None:
        raise Missing("muller", muller_id)
    row.name, row.face_mm, row.tooth = named(name), face_mm, tooth
    return kept(session, row)


def keep_tube_type(
    session: Session,
    tube_type_id: int | None,
    name: str,
    usable_ml: float | None = None,
    diameter_mm: float | None = None,
    length_mm: float | None = None,
    headspace_mm: float | None = None,
    tare_g: float | None = None,
    folds: int | None = None,
) -> int:
    """Add a tube type or change one; its id. What it takes is entered, or follows from its measures.

    Raises Refused, Missing.
    """
    if usable_ml is None:
        for field, value in (("diameter_mm", diameter_mm), ("length_mm", length_mm), ("headspace_mm", headspace_mm)):
            if value is None:
                raise Refused(field, "missing", "all three measures in mm, or what it takes in ml")
        usable_ml = core_tubes.usable_ml(diameter_mm or 0.0, length_mm or 0.0, headspace_mm or 0.0)
    elif diameter_mm is not None and length_mm is not None and headspace_mm is not None:
        core_tubes.usable_ml(diameter_mm, length_mm, headspace_mm)
    if tare_g is not None:
        within("tare_g", tare_g, 0.01, 1_000, "g")
    if folds is not None:
        within("folds", folds, 1, 6)
    within("usable_ml", usable_ml, MIN_TUBE_ML, MAX_VOLUME_ML, "ml")
    row = TubeType(retired=False) if tube_type_id is None else session.get(TubeType, tube_type_id)
    if row is None:
        raise Missing("tube type", tube_type_id)
    row.name, row.usable_ml = named(name), usable_ml
    row.diameter_mm, row.length_mm, row.headspace_mm = diameter_mm, length_mm, headspace_mm
    row.tare_g, row.folds = tare_g, folds
    return kept(session, row)


def retire(session: Session, kind: str, item_id: int) -> None:
    """Put a slab, muller, tube type or measure of one's own out of use; what was made with it keeps its record.

    Raises Missing.
    """
    if kind == "measure":
        remove_own_measure(session, item_id)
        return
    row = session.get({"slab": Slab, "muller": Muller, "tube_type": TubeType}[kind], item_id)
    if row is None:
        raise Missing(kind.replace("_", " "), item_id)
    assert isinstance(row, Slab | Muller | TubeType)
    row.retired = True
    chosen = own(session)
    if kind == "slab" and chosen.default_slab_id == item_id:
        chosen.default_slab_id = None
    if kind == "muller" and chosen.default_muller_id == item_id:
        chosen.default_muller_id = None


TOOL_NAMES = {Tool.KNIFE: "Knife only", Tool.JAR: "Jar or bottle bottom", Tool.GLASS: "Flat-bottomed glass"}
"""What stands in the kit list in a muller's place."""


# Of the busy path: built once.
_BENCH = (
    select(Slab, Muller, StudioSettings)
    .select_from(StudioSettings)
    .outerjoin(Slab, Slab.id == func.coalesce(bindparam("slab_id", type_=Integer), StudioSettings.default_slab_id))
    .outerjoin(
        Muller, Muller.id == func.coalesce(bindparam("muller_id", type_=Integer), StudioSettings.default_muller_id)
    )
)


def bench(session: Session, slab_id: int | None, muller_id: int | None, tool: Tool | None = None) -> Bench | None:
    """Slab and tool for a plan, the studio's own where none is named; None where there is no slab."""
    found = session.execute(_BENCH, {"slab_id": slab_id, "muller_id": muller_id}).one()
    know(session, found[2])
    slab: Slab | None = found[0]
    muller: Muller | None = found[1]
    if slab is None and slab_id is not None:
        raise Missing("slab", slab_id, "slab_id")
    if muller is None and muller_id is not None:
        raise Missing("muller", muller_id, "muller_id")
    if slab is None:
        return None
    with_what = tool or Tool(found[2].tool)
    if with_what is Tool.MULLER and muller is None:
        with_what = Tool.KNIFE
    if with_what is not Tool.MULLER or muller is None:
        return Bench(
            slab.id,
            slab.name,
            slab.area_cm2,
            Tooth(slab.tooth),
            slab.film_mm,
            None,
            TOOL_NAMES[with_what],
            Tooth.FRESH,
            with_what,
        )
    return Bench(
        slab.id, slab.name, slab.area_cm2, Tooth(slab.tooth), slab.film_mm, muller.id, muller.name, Tooth(muller.tooth)
    )


def smallest_tube(session: Session, at_least_ml: float) -> TubeTypeKept | None:
    """The smallest tube type in use that takes so much."""
    wanted = select(TubeType).where(~TubeType.retired, TubeType.usable_ml >= at_least_ml)
    row = session.scalar(wanted.order_by(TubeType.usable_ml, TubeType.id).limit(1))
    return TubeTypeKept(row.id, row.name, row.usable_ml) if row is not None else None


# Of the busy path: built once.
_TUBES = select(TubeType.id, TubeType.name, TubeType.usable_ml).where(
    TubeType.id == func.any(bindparam("type_ids", type_=ARRAY(Integer)))
)


def tubes(session: Session, wanted: list[tuple[int, int]]) -> tuple[Tubes, ...]:
    """Tubes for a plan or a filling, from (tube type id, count). Raises Missing naming the line."""
    kept = {row.id: row for row in session.execute(_TUBES, {"type_ids": list({type_id for type_id, _ in wanted})})}
    found = []
    for n, (tube_type_id, count) in enumerate(wanted):
        if tube_type_id not in kept:
            raise Missing("tube type", tube_type_id, f"tubes.{n}.tube_type_id")
        row = kept[tube_type_id]
        found.append(Tubes(row.id, row.name, row.usable_ml, count))
    return tuple(found)
