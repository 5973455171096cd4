"""The story of a session: what was in the paste after each act, its body, and every spell at the muller."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID

from niddy.core import slab
from niddy.core.plan import Facts
from niddy.core.slab import Event, Kind, Paste
from niddy.core.wetting import Body

_MOVES = (Kind.POWDER, Kind.OIL, Kind.BY_EYE, Kind.BOTTLE, Kind.SAMPLE, Kind.DRAW_OIL, Kind.LOOK)


@dataclass(frozen=True, slots=True)
class StoryPoint:
    """The paste after one act. Masses g, ratio g oil per 100 g; reduced PVC with its 90 % range, as known then."""

    id: UUID
    at: datetime
    kind: Kind
    pigment_g: float
    oil_g: float
    oil_g_per_100g: float | None
    reduced_pvc: float | None
    reduced_low: float | None
    reduced_high: float | None
    body: Body | None
    seen: Body | None


@dataclass(frozen=True, slots=True)
class Spell:
    """One spell at the muller: on which load of which round, from when to when, and minutes that count."""

    load: int
    round: int
    begun_at: datetime
    ended_at: datetime
    minutes: float


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture taken in a session."""

    id: UUID
    at: datetime


@dataclass(frozen=True, slots=True)
class Story:
    """A session told in order."""

    points: tuple[StoryPoint, ...]
    spells: tuple[Spell, ...]
    pictures: tuple[Picture, ...]


def story(events: list[Event], facts: Facts, now: datetime) -> Story:
    """Tell a session from its log; a spell still running ends now. What was struck out is left out."""
    paste = Paste()
    points: list[StoryPoint] = []
    spells: list[Spell] = []
    pictures: list[Picture] = []
    for event in slab.put_right(events):
        before, paste = paste, slab.after(paste, event)
        since = before.mulling.running_since
        if since is not None and paste.mulling.running_since != since:
            minutes = (paste.mulling.seconds - before.mulling.seconds) / 60
            spells.append(Spell(before.mulling.at + 1, before.mulling.rounds, since, event.made_at, minutes))
        if event.kind is Kind.PHOTO:
            pictures.append(Picture(event.id, event.made_at))
        if event.kind in _MOVES:
            points.append(_point(event, paste, facts))
    since = paste.mulling.running_since
    if since is not None:
        ran = max(0.0, (now - since).total_seconds() / 60)
        spells.append(Spell(paste.mulling.at + 1, paste.mulling.rounds, since, max(now, since), ran))
    # Pours by eye get their share once the bottle was weighed; until then only the powder is known.
    return Story(_with_taps(points, paste), tuple(spells), tuple(pictures))


def _point(event: Event, paste: Paste, facts: Facts) -> StoryPoint:
    reading = slab.know(paste, facts).reading if paste.oil_g > 0 else None
    low = high = None
    if reading is not None:
        low, high = reading.reduced_low, reading.reduced_high
    return StoryPoint(
        event.id,
        event.made_at,
        event.kind,
        paste.pigment_g,
        paste.oil_g,
        reading.oil_g_per_100g if reading else None,
        reading.reduced_pvc if reading else None,
        low,
        high,
        reading.body if reading else None,
        event.body if event.kind is Kind.LOOK else None,
    )


def _with_taps(points: list[StoryPoint], paste: Paste) -> tuple[StoryPoint, ...]:
    """The taps before each weighing of the bottle, with the oil that its sum gives them."""
    corrected = list(points)
    for n, point in enumerate(points):
        spread = paste.by_eye.weighings.get(point.id)
        if spread is None:
            continue
        each, behind = spread.grams / spread.taps, 0
        for back in range(n - 1, -1, -1):
            if behind >= spread.taps:
                break
            earlier = corrected[back]
            oil_g = point.oil_g - each * behind
            ratio = 100 * oil_g / earlier.pigment_g if earlier.pigment_g > 0 else None
            corrected[back] = replace(earlier, oil_g=oil_g, oil_g_per_100g=ratio)
            behind += earlier.kind is Kind.BY_EYE
    return tuple(corrected)
