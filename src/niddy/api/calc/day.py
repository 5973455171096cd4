"""The day: the order with the least cleaning; and how far a maker's eye is off."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.api.calc.base import Asked, example, router
from niddy.core import day as core
from niddy.core.day import Job, Order
from niddy.core.eye import Eye, Judgement, eye_of
from niddy.core.wetting import Body
from niddy.core.words import Words


class JobAsked(Asked):
    """A job of the day: its minutes, lightness L* of its colour, staining 0 to 3, its oil, whether it is hazardous."""

    key: Annotated[Words, Field(min_length=1, max_length=80)]
    minutes: Annotated[float, Field(strict=True, ge=0, le=1_440)]
    lightness: Annotated[float, Field(strict=True, ge=0, le=100)]
    staining: Annotated[int, Field(strict=True, ge=0, le=3)] = 0
    oil: Annotated[Words, Field(max_length=80)] = ""
    hazard: Annotated[bool, Field(strict=True)] = False


class DayAsked(Asked):
    """The jobs of a day, in the order they were put on it."""

    jobs: Annotated[list[JobAsked], Field(max_length=200)]


_DAY = [
    {"key": "a", "minutes": 60, "lightness": 35, "staining": 3, "oil": "linseed"},
    {"key": "b", "minutes": 45, "lightness": 92, "staining": 0, "oil": "walnut"},
    {"key": "c", "minutes": 50, "lightness": 60, "staining": 1, "oil": "linseed"},
    {"key": "d", "minutes": 55, "lightness": 80, "staining": 1, "oil": "linseed", "hazard": True},
]


@router.post("/day")
def day(asked: Annotated[DayAsked, example("four colours, one of them hazardous", jobs=_DAY)]) -> Order:
    """The order with the least cleaning, hazardous jobs last, and what cleaning the given order would take."""
    return core.best_order(
        [Job(one.key, one.minutes, one.lightness, one.staining, one.oil, one.hazard) for one in asked.jobs]
    )


class JudgementAsked(Asked):
    """A body that was said, and the reduced PVC it really was."""

    true_reduced_pvc: Annotated[float, Field(strict=True, ge=0.3, le=1.3)]
    said_body: Body


class EyeAsked(Asked):
    """A maker's judgements."""

    judgements: Annotated[list[JudgementAsked], Field(max_length=10_000)]


_EYE = [
    {"true_reduced_pvc": 0.86, "said_body": "stiff"},
    {"true_reduced_pvc": 0.80, "said_body": "tube"},
    {"true_reduced_pvc": 0.72, "said_body": "soft"},
]


@router.post("/eye")
def eye(asked: Annotated[EyeAsked, example("three judgements, all too dry", judgements=_EYE)]) -> Eye:
    """How far a maker's eye is off, and how it scatters, drawn to what is assumed of any eye."""
    return eye_of([Judgement(one.true_reduced_pvc, one.said_body) for one in asked.judgements])
