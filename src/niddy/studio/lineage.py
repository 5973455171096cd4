"""Lineage: all that is behind a tube or jar, and all that a lot went into, to any depth."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from sqlalchemy.orm import Session

from niddy.studio import batches, making, materials, outputs, shelf, sludge, sticks

MOST = 2_000
"""So many places are followed; more than a small studio has from one lot."""


class What(StrEnum):
    """What a place in a lineage is: a lot, a tube or jar, or a job that drew on such and made such."""

    LOT = "lot"
    BATCH = "batch"
    POT = "pot"
    DISH = "dish"
    RUN = "run"
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
    pots: int
    items: int
    here: int
    gone: int
    cut: bool


class _Kind(StrEnum):
    LOT = "lot"
    JOB = "job"
    ITEM = "item"


@dataclass(frozen=True, slots=True)
class _Key:
    kind: _Kind
    id: int


@dataclass(frozen=True, slots=True)
class _Step:
    """From one place to the next, with the grams of a lot that went that way."""

    start: _Key
    end: _Key
    grams: float | None = None


_Follow = Callable[[Session, _Kind, list[int]], list[_Step]]


def behind(session: Session, item_id: int) -> Lineage:
    """What is behind a tube or jar: its batches, their lots, the lots of their gels, the old paints in them.

    Raises Missing.
    """
    shelf.lines_of(session, [item_id])
    return _followed(session, _item(item_id), _back)


def went_into(session: Session, lot_id: int) -> Lineage:
    """What a lot went into: gels, batches, tubes and jars, and what those went into. Raises Missing."""
    materials.lot(session, lot_id)
    return _followed(session, _lot(lot_id), _on)


def _back(session: Session, kind: _Kind, ids: list[int]) -> list[_Step]:
    """What stands right behind some places: the jobs that made them, or what those jobs drew on."""
    match kind:
        case _Kind.ITEM:
            return [_Step(_item(link.item_id), _job(link.job_id)) for link in outputs.of_items(session, ids)]
        case _Kind.LOT:
            return [_Step(_lot(link.lot_id), _job(link.job_id)) for link in outputs.of_lots(session, ids)]
        case _Kind.JOB:
            lots = [
                _Step(_job(link.job_id), _lot(link.lot_id), link.grams)
                for link in materials.drawn(session, job_ids=ids)
            ]
            washed = [_Step(_job(one.job_id), _of_sludge(one)) for one in sludge.came_from(session, ids)]
            used = [_Step(_job(link.job_id), _item(link.item_id)) for link in shelf.used_in(session, ids)]
            return [*lots, *used, *washed]


def _on(session: Session, kind: _Kind, ids: list[int]) -> list[_Step]:
    """What some places went right into: the jobs that drew on them, or what those jobs made."""
    match kind:
        case _Kind.ITEM:
            used = [_Step(_item(link.item_id), _job(link.job_id)) for link in shelf.used_from(session, ids)]
            return [*used, *_washed(sludge.went_in(session, item_ids=ids))]
        case _Kind.LOT:
            drawn = [
                _Step(_lot(link.lot_id), _job(link.job_id), link.grams)
                for link in materials.drawn(session, lot_ids=ids)
            ]
            return [*drawn, *_washed(sludge.went_in(session, lot_ids=ids))]
        case _Kind.JOB:
            made = [
                _Step(_job(link.job_id), _lot(link.lot_id) if link.lot_id is not None else _item(link.item_id))
                for link in outputs.of_jobs(session, ids)
            ]
            return [*made, *_washed(sludge.went_in(session, job_ids=ids))]


def _of_sludge(one: sludge.Source) -> _Key:
    """What was washed into a dish."""
    if one.of_job_id is not None:
        return _job(one.of_job_id)
    return _lot(one.lot_id) if one.lot_id is not None else _item(one.item_id)


def _washed(sources: tuple[sludge.Source, ...]) -> list[_Step]:
    """From what was washed off to the dishes it went into."""
    return [_Step(_of_sludge(one), _job(one.job_id)) for one in sources]


def _item(item_id: int | None) -> _Key:
    assert item_id is not None
    return _Key(_Kind.ITEM, item_id)


def _lot(lot_id: int | None) -> _Key:
    assert lot_id is not None
    return _Key(_Kind.LOT, lot_id)


def _job(job_id: int) -> _Key:
    return _Key(_Kind.JOB, job_id)


def _followed(session: Session, start: _Key, follow: _Follow) -> Lineage:
    """Level by level, so that each is asked for at once and a short way is shown before a long one."""
    reached: dict[_Key, float | None] = {start: None}
    children: dict[_Key, list[_Key]] = {}
    level = [start]
    while level and len(reached) < MOST:
        following: list[_Key] = []
        for kind in _Kind:
            ids = [key.id for key in level if key.kind is kind]
            for step in follow(session, kind, ids) if ids else ():
                if step.end not in reached:
                    reached[step.end] = step.grams
                    children.setdefault(step.start, []).append(step.end)
                    following.append(step.end)
        level = following
    described = _described(session, reached)
    places: list[Place] = []
    waiting: list[tuple[_Key, int, float | None]] = [(start, 0, None)]
    while waiting:
        key, depth, grams = waiting.pop()
        place, grams = described.get(key), reached[key] if reached[key] is not None else grams
        if place is not None:
            places.append(replace(place, depth=depth, grams=grams))
            depth, grams = depth + 1, None
        # A job that nobody asks for by itself (a gel made) stands for the lot it made: what went in is told there.
        waiting += [(child, depth, grams) for child in reversed(children.get(key, []))]
    items = [place for place in places if place.what is What.ITEM]
    here = sum(bool(place.here) for place in items)
    return Lineage(
        tuple(places),
        sum(place.what is What.BATCH for place in places),
        sum(place.what is What.POT for place in places),
        len(items),
        here,
        len(items) - here,
        bool(level),
    )


def _described(session: Session, keys: Iterable[_Key]) -> dict[_Key, Place]:
    """What each place is called and where it stands."""
    ids: dict[_Kind, list[int]] = {kind: [] for kind in _Kind}
    for key in keys:
        ids[key.kind].append(key.id)
    found: dict[_Key, Place] = {}
    for lot in materials.lots_named(session, ids[_Kind.LOT]):
        says = f"{lot.kind}, came in" if lot.kind not in materials.MADE_HERE else f"{lot.kind}, made"
        found[_lot(lot.id)] = Place(What.LOT, lot.id, lot.code, lot.name, says, lot.day, 0, None, None)
    jobs = outputs.jobs_named(session, ids[_Kind.JOB])
    made = {job.number: job.id for job in jobs.values() if job.room == batches.ROOM}
    for number, (_, line) in batches.several(session, list(made)).items():
        found[_job(made[number])] = Place(
            What.BATCH, number, str(number), line.name, line.status, line.started_at.date(), 0, None, None
        )
    for pot in sticks.several(session, [job.number for job in jobs.values() if job.room == sticks.POTS.name]):
        found[_job(pot.job_id)] = Place(
            What.POT, pot.number, str(pot.number), pot.name, pot.status, pot.started_at.date(), 0, None, None
        )
    for dish in sludge.dishes_named(session, [job.number for job in jobs.values() if job.room == sludge.DISHES.name]):
        found[_job(dish.job_id)] = Place(
            What.DISH, dish.number, str(dish.number), dish.name, dish.status, dish.started_at.date(), 0, None, None
        )
    for run in making.runs_named(session, [job.number for job in jobs.values() if job.room == making.RUNS.name]):
        found[_job(run.job_id)] = Place(
            What.RUN, run.number, str(run.number), run.name, run.status, run.started_at.date(), 0, None, None
        )
    for item in shelf.whereabouts(session, ids[_Kind.ITEM]):
        held = item.line
        here = held.status in shelf.HERE
        says = held.place if here else held.status.replace("_", " ") + (f": {item.why}" if item.why else "")
        found[_item(held.id)] = Place(
            What.ITEM, held.id, held.code, f"{held.name}, {held.container}", says, held.filled_on, 0, None, here
        )
    return found
