"""The slab: recording acts in a batch's log, and the view a gloved maker glances at."""

from __future__ import annotations

from niddy.core.acting import AmountAsked, PhotoAsked
from niddy.studio.slab.acts import DAB_ML, Act, Finish, Goes, GoesTo, LookAct, act_of, payload_of
from niddy.studio.slab.afterwards import BatchPage, LogPart, earlier, page, session_story
from niddy.studio.slab.recording import (
    Entered,
    decide_late,
    entered,
    keep,
    record,
    stirred_in_already,
    take_photo,
    take_to_slab,
)
from niddy.studio.slab.surfaces import SlabNow, Surface, slabs_now
from niddy.studio.slab.view import LOG_SHOWN, SlabView, view, view_of
from niddy.studio.slab.words import TimelineEntry, timeline

__all__ = [
    "DAB_ML",
    "LOG_SHOWN",
    "Act",
    "AmountAsked",
    "BatchPage",
    "Entered",
    "Finish",
    "Goes",
    "GoesTo",
    "LogPart",
    "LookAct",
    "PhotoAsked",
    "SlabNow",
    "SlabView",
    "Surface",
    "TimelineEntry",
    "act_of",
    "decide_late",
    "earlier",
    "entered",
    "keep",
    "page",
    "payload_of",
    "record",
    "session_story",
    "slabs_now",
    "stirred_in_already",
    "take_photo",
    "take_to_slab",
    "timeline",
    "view",
    "view_of",
]
