"""The practice slab: a simulated paste under real hands, obeying the same rules as the slab, and what came of it."""

from niddy.core.practice.begin import MOST_SEED, Begun, Done, begin
from niddy.core.practice.exercises import ABOUT, About, Exercise, about
from niddy.core.practice.hidden import (
    Hidden,
    Looks,
    Moment,
    at_the_knife,
    looks_like,
    needed_g,
    reduced,
    unmulled,
    walk,
)
from niddy.core.practice.judging import PASTES, pastes
from niddy.core.practice.learner import BEGUN_AT, follow, opening
from niddy.core.practice.now import STREAM_G_PER_S, PracticeNow, answered, under_the_knife
from niddy.core.practice.score import Came, Compared, Score, came_of, compared, judgements, lesson, lot_says, score_of
from niddy.core.practice.seen import Seen, seen_at, stage_at

__all__ = [
    "ABOUT",
    "BEGUN_AT",
    "MOST_SEED",
    "PASTES",
    "STREAM_G_PER_S",
    "About",
    "Begun",
    "Came",
    "Compared",
    "Done",
    "Exercise",
    "Hidden",
    "Looks",
    "Moment",
    "PracticeNow",
    "Score",
    "Seen",
    "about",
    "answered",
    "at_the_knife",
    "begin",
    "came_of",
    "compared",
    "follow",
    "judgements",
    "lesson",
    "looks_like",
    "lot_says",
    "needed_g",
    "opening",
    "pastes",
    "reduced",
    "score_of",
    "seen_at",
    "stage_at",
    "under_the_knife",
    "unmulled",
    "walk",
]
