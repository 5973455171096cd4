"""Lineage: all that is behind a tube or jar, and all that a lot went into, to any depth."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from sqlalchemy.orm import Session

from niddy.studio import batches, materials, shelf

MOST = 2_000
"""So many places are followed; more than a small studio has from one lot."""


class What(StrEnum):
    """What a place in a lineage is."""

    LOT = "lot"
    BATCH = "batch"
    ITEM = "item"


@dataclass(frozen=True, slots=True)
class Place:
    """One place in a lineage, `depth` steps from where it begins.

    `grams` of a lot went into a gel or batch, where the stock knows; `here` is whether a tube or jar is on the shelf,
    and `says` where it stands, or to whom it went.
    """

    what: What
    id: int
    code: str
    name: str
    says: str
    day: date
    depth: int
    grams: float | None
    here: bool | None


@dataclass(frozen=True, slots=True)
class Lineage:
    """A lineage as one reads it: each place beneath what it comes from, or went into what it comes beneath.

    `cut` says that it was not followed to its end.
    """

    places: tuple[Place, ...]
    batches: int
    items: int
    here: int
    gone: int
    cut: bool


@dataclass(frozen=True, slots=True)
class _Key:
    what: What
    id: int


@dataclass(frozen=True, slots=True)
class _Step:
    """From one place to the next, with the grams of a lot that went that way."""

    start: _Key
    end: _Key
    grams: float | None = None


_Follow = Callable[[Session, What, list[int]], list[_Step]]


def behind(session: Session, item_id: int) -> Lineage:
    """What is behind a tube or jar: its batches, their lots, the lots of their gels, the old paints in them.

    Raises Missing.
    """
    shelf.lines_of(session, [item_id])
    return _followed(session, _Key(What.ITEM, item_id), _back)


def went_into(session: Session, lot_id: int) -> Lineage:
    """What a lot went into: gels, batches, tubes and jars, and what those went into. Raises Missing."""
    materials.lot(session, lot_id)
    return _followed(session, _Key(What.LOT, lot_id), _on)


def _back(session: Session, what: What, ids: list[int]) -> list[_Step]:
    match what:
        case What.ITEM:
            return [
                _Step(_Key(What.ITEM, line.id), _Key(What.BATCH, number))
                for line in shelf.lines_of(session, ids)
                for number in (line.batch_number, line.topped_by)
                if number is not None
            ]
        case What.BATCH:
            lots = [
                _Step(_Key(What.BATCH, one.batch_number), _Key(What.LOT, one.lot_id), one.grams)
                for one in materials.drawn(session, batch_numbers=ids)
            ]
            old = [
                _Step(_Key(What.BATCH, one.batch_number), _Key(What.ITEM, one.item_id))
                for one in shelf.used_in(session, ids)
            ]
            return [*lots, *old]
        case What.LOT:
            return [
                _Step(_Key(What.LOT, one.gel_id), _Key(What.LOT, one.lot_id), one.grams)
                for one in materials.into_gels(session, gel_ids=ids)
            ]


def _on(session: Session, what: What, ids: list[int]) -> list[_Step]:
    match what:
        case What.LOT:
            gels = [
                _Step(_Key(What.LOT, one.lot_id), _Key(What.LOT, one.gel_id), one.grams)
                for one in materials.into_gels(session, lot_ids=ids)
            ]
            made = [
                _Step(_Key(What.LOT, one.lot_id), _Key(What.BATCH, one.batch_number), one.grams)
                for one in materials.drawn(session, lot_ids=ids)
            ]
            return [*gels, *made]
        case What.BATCH:
            return [
                _Step(_Key(What.BATCH, number), _Key(What.ITEM, line.id))
                for line in shelf.of_batches(session, ids)
                for number in (line.batch_number, line.topped_by)
                if number in ids
            ]
        case What.ITEM:
            return [
                _Step(_Key(What.ITEM, one.item_id), _Key(What.BATCH, one.batch_number))
                for one in shelf.used_from(session, ids)
            ]


def _followed(session: Session, start: _Key, follow: _Follow) -> Lineage:
    """Level by level, so that each is asked for at once and a short way is shown before a long one."""
    reached: dict[_Key, float | None] = {start: None}
    children: dict[_Key, list[_Key]] = {}
    level = [start]
    while level and len(reached) < MOST:
        following: list[_Key] = []
        for what in What:
            ids = [key.id for key in level if key.what is what]
            for step in follow(session, what, ids) if ids else ():
                if step.end not in reached:
                    reached[step.end] = step.grams
                    children.setdefault(step.start, []).append(step.end)
                    following.append(step.end)
        level = following
    told = _told(session, reached)
    places: list[Place] = []
    waiting = [(start, 0)]
    while waiting:
        key, depth = waiting.pop()
        place = told[key]
        places.append(_at(place, depth, reached[key]))
        waiting += [(child, depth + 1) for child in reversed(children.get(key, []))]
    items = [place for place in places if place.what is What.ITEM]
    here = sum(bool(place.here) for place in items)
    return Lineage(
        tuple(places), sum(place.what is What.BATCH for place in places), len(items), here, len(items) - here,
        bool(level),
    )  # fmt: skip


def _at(place: Place, depth: int, grams: float | None) -> Place:
    return Place(
        place.what, place.id, place.code, place.name, place.says, place.day, depth, grams, place.here
    )  # fmt: skip


def _told(session: Session, keys: Iterable[_Key]) -> dict[_Key, Place]:
    """What each place is called and where it stands."""
    ids: dict[What, list[int]] = {what: [] for what in What}
    for key in keys:
        ids[key.what].append(key.id)
    found: dict[_Key, Place] = {}
    for lot in materials.lots_named(session, ids[What.LOT]):
        says = f"{lot.kind}, came in" if lot.kind != materials.GEL else "gel, made"
        found[_Key(What.LOT, lot.id)] = Place(What.LOT, lot.id, lot.code, lot.name, says, lot.day, 0, None, None)
    for number, (_, line) in batches.several(session, ids[What.BATCH]).items():
        key = _Key(What.BATCH, number)
        found[key] = Place(
            What.BATCH, number, str(number), line.name, line.status, line.started_at.date(), 0, None, None
        )
    for item in shelf.whereabouts(session, ids[What.ITEM]):
        held = item.line
        here = held.status in shelf.HERE
        says = held.place if here else held.status.replace("_", " ") + (f": {item.why}" if item.why else "")
        found[_Key(What.ITEM, held.id)] = Place(
            What.ITEM, held.id, held.code, f"{held.name}, {held.container}", says, held.filled_on, 0, None, here
        )
    return found
