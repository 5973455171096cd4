"""A batch read afterwards."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from niddy.core import slab
from niddy.core.batches import Difference, compare
from niddy.core.log import Status
from niddy.core.plan import Plan, Tubes
from niddy.core.story import Story, story
from niddy.studio import batches, workshop
from niddy.studio.batches import Keeping
from niddy.studio.plan import PlanAsked
from niddy.studio.slab.recording import last_finish
from niddy.studio.slab.view import SlabView, view_of
from niddy.studio.slab.words import TimelineEntry, timeline

PAGE_SHOWN = 100
"""So many of the last acts the batch page shows at once."""


STORY_FROM = 2_000
"""The story of a session is told from so many acts at most; more than a day at the slab has."""


@dataclass(frozen=True, slots=True)
class BatchPage:
    """A batch read afterwards: the slab view, the plan it followed, and the two side by side."""

    view: SlabView
    plan: Plan
    asked: PlanAsked
    started_at: datetime
    ended_at: datetime | None
    differences: tuple[Difference, ...]
    filled: tuple[Tubes, ...]
    leftover_ml: float
    keeping: Keeping
    past_use_by: bool
    to_clean: bool


def page(session: Session, now: datetime, number: int) -> BatchPage:
    """A batch to be read: the last acts of its log, figures against the plan. Raises Missing."""
    kept = batches.with_lots(session, number, PAGE_SHOWN)
    finish = last_finish(session, kept.job_id, kept.paste, kept.log)
    keeping = batches.keeping(session, number)
    filled: tuple[Tubes, ...] = ()
    leftover_ml = finish.event.leftover_ml if finish else 0.0
    if finish is not None:
        lines = [t for t in finish.payload.get("tubes", []) if t["count"]]
        filled = workshop.tubes(session, [(t["tube_type_id"], t["count"]) for t in lines]) if lines else ()
    return BatchPage(
        view_of(session, now, kept),
        kept.plan,
        PlanAsked.model_validate(kept.asked),
        kept.started_at,
        kept.ended_at,
        compare(
            kept.plan,
            kept.paste,
            slab.know(kept.paste, kept.plan.facts).reading,
            finish.event.filled_ml if finish else 0.0,
            leftover_ml,
        ),
        filled,
        leftover_ml,
        keeping,
        keeping.use_by is not None and keeping.use_by < now.date() and keeping.discarded_at is None,
        kept.status is not Status.OPEN and kept.paste.pigment_g > 0 and not kept.paste.cleaned,
    )


@dataclass(frozen=True, slots=True)
class LogPart:
    """A part of a batch's log in words, and how many acts stand before it."""

    entries: tuple[TimelineEntry, ...]
    earlier: int


def earlier(session: Session, number: int, before: int) -> LogPart:
    """The acts that stand before a place in a batch's log. Raises Missing."""
    kept = batches.earlier(session, number, before, PAGE_SHOWN)
    return LogPart(timeline(kept), kept.earlier)


def session_story(session: Session, now: datetime, number: int) -> Story:
    """How the session went, for its chart; nothing for a log too long for one. Raises Missing."""
    kept = batches.batch(session, number, 0)
    if kept.last_seq > STORY_FROM:
        return Story((), (), ())
    return story([logged.event for logged in batches.log(session, kept.job_id)], kept.plan.facts, now)
