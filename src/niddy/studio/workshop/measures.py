"""Measures of a studio's own: a straw, a scoop, a bottle cap, and how one knows what each holds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.acting import AmountAsked
from niddy.core.errors import Refused
from niddy.core.measures import OWN_UNITS, Holds, Unit, UnitKnown, offered, own_unit
from niddy.core.telling import Habit, Measuring
from niddy.db.workshop import OwnMeasure
from niddy.studio.errors import Missing
from niddy.studio.workshop.rows import kept, named
from niddy.studio.workshop.settings import settings


@dataclass(frozen=True, slots=True)
class OwnMeasureKept:
    """A measure of one's own: what it measures, what it holds and how one knows."""

    id: int
    name: str
    powder: bool
    liquid: bool
    holds: Holds
    amount: float | None
    spoon: Unit | None
    ml: float
    unit: Unit


def own_measures(session: Session) -> tuple[OwnMeasureKept, ...]:
    """The studio's own measures."""
    return tuple(
        OwnMeasureKept(
            row.id,
            row.name,
            row.powder,
            row.liquid,
            Holds(row.holds),
            row.amount,
            Unit(row.spoon) if row.spoon else None,
            _known(row).ml or 0.0,
            Unit(row.place),
        )
        for row in session.scalars(_ALL)
    )


def own_units(session: Session) -> tuple[UnitKnown, ...]:
    """The studio's own measures as units."""
    return tuple(_known(row) for row in session.scalars(_ALL))


def own_of(session: Session, asked: AmountAsked) -> Mapping[Unit, UnitKnown]:
    """The studio's own measures that an amount was taken with; nothing is looked up where it was taken without."""
    used = {one.unit for one in asked.measures({})}
    return {one.unit: one for one in own_units(session) if one.unit in used} if used & set(OWN_UNITS) else {}


def units(session: Session) -> tuple[UnitKnown, ...]:
    """The units this studio types amounts in."""
    now = settings(session)
    return offered(
        us=now.spoon_set == "us", ounces=now.mass_unit == "oz", missing=now.spoons_missing, own=own_units(session)
    )


def keep_own_measure(
    session: Session,
    measure_id: int | None,
    name: str,
    powder: bool,
    liquid: bool,
    holds: Holds,
    amount: float | None = None,
    spoon: Unit | None = None,
) -> int:
    """Add a measure of one's own, or change one; its id. Raises Refused, Missing."""
    name = named(name)
    if measure_id is None:
        taken = set(session.scalars(select(OwnMeasure.place)))
        free = next((unit for unit in OWN_UNITS if unit not in taken), None)
        if free is None:
            raise Refused("name", f"there are {len(OWN_UNITS)} measures already", "one of them removed first")
        row = OwnMeasure(place=free)
    else:
        found = session.get(OwnMeasure, measure_id)
        if found is None:
            raise Missing("measure", measure_id)
        row = found
    told = holds is not Holds.UNKNOWN
    row.name, row.powder, row.liquid, row.holds = name, powder, liquid, holds
    row.amount = amount if told else None
    row.spoon = (spoon or Unit.TEASPOON) if holds is Holds.SPOONS else None
    with session.no_autoflush:
        _known(row)
    return kept(session, row)


def remove_own_measure(session: Session, measure_id: int) -> None:
    """Remove one; what was taken with it keeps its words and its grams. Raises Missing."""
    row = session.get(OwnMeasure, measure_id)
    if row is None:
        raise Missing("measure", measure_id)
    session.delete(row)
    session.flush()


_ALL = select(OwnMeasure).order_by(OwnMeasure.id)


def _known(row: OwnMeasure) -> UnitKnown:
    return own_unit(
        Unit(row.place),
        row.name,
        powder=row.powder,
        liquid=row.liquid,
        holds=Holds(row.holds),
        amount=row.amount,
        spoon=Unit(row.spoon) if row.spoon else Unit.TEASPOON,
    )


def habit(session: Session, measuring: Measuring | None = None) -> Habit:
    """How this studio measures, or how one plan does."""
    now = settings(session)
    how = measuring or now.measuring
    own = own_units(session) if how is not Measuring.SCALE else ()
    missing = tuple(unit for unit in now.spoons_missing if how is not Measuring.SCALE)
    return Habit(how, now.spoon_set == "us", now.small, missing=missing, own=own)
