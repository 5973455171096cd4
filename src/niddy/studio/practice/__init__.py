"""The practice slab: exercises at a simulated paste, kept apart from stock, records and all that is learned."""

from niddy.studio.practice.eye import EyeAsked, EyePage, EyeSeen, eye_page, eye_seen, use_eye
from niddy.studio.practice.judging import JudgeAsked, Judged, JudgingView, judge, judging
from niddy.studio.practice.kept import job_of
from niddy.studio.practice.lists import AtExercise, PracticeRoom, TryLine, room
from niddy.studio.practice.trying import PassAsked, TryAsked, begin, pass_time, record, show_advice, throw_away, view

__all__ = [
    "AtExercise",
    "EyeAsked",
    "EyePage",
    "EyeSeen",
    "JudgeAsked",
    "Judged",
    "JudgingView",
    "PassAsked",
    "PracticeRoom",
    "TryAsked",
    "TryLine",
    "begin",
    "eye_page",
    "eye_seen",
    "job_of",
    "judge",
    "judging",
    "pass_time",
    "record",
    "room",
    "show_advice",
    "throw_away",
    "use_eye",
    "view",
]
