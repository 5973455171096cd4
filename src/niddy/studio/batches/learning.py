"""What batches taught: losses, minutes, and the last one that was right; asked of the record in one statement."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import median
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import (
    Double,
    Integer,
    ScalarSelect,
    Select,
    String,
    and_,
    bindparam,
    cast,
    func,
    literal_column,
    or_,
    select,
)
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import sizing
from niddy.core.mulling import EndedBy, Mulling, dispersing_minutes_per_load
from niddy.core.plan import QUIET_DISPERSION_TIMES
from niddy.core.slab import Kind, Status, Verdict
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Act, Job
from niddy.studio import log
from niddy.studio.batches.recipes import RELEASED

_MULLING = TypeAdapter(Mulling)

_LOSS_FROM_LAST = 20
_TAU_FROM = 5
_TAU_FROM_LAST = 12
"""So many batches are looked through, the newest: a log is long, and an old slab bit otherwise."""
_PACE_FROM = 1
_PACE_FROM_PLAN = 3
_PACE_FROM_LAST = 8
_PACE_LOOKED_THROUGH = 40
_PACE_LONGEST_MIN = 12 * 60.0
_PACE_WITHIN = (0.3, 3.0)


@dataclass(frozen=True, slots=True)
class LastRight:
    """The last batch the maker found right: its ratio, and minutes a load where time was kept."""

    oil_g_per_100g: float
    minutes_per_load: float | None


@dataclass(frozen=True, slots=True)
class Learned:
    """What finished batches say to the next one.

    `loss`: hold-up and loss from the last finished batches that filled something.
    `last`: the recipe's last released batch; without one, the last of exactly these pigments the maker found right.
    `tau_min`: dispersion time of exactly these pigments by the studio's own clock, or None before five loads said so:
    half the median minutes of the last five loads, in the newest batches of them, that ended by a silent muller or by
    the fineness wanted, each as a full load under a muller would have taken.
    `pace`: how long this studio's sessions took against what was planned at the slab; None before one was timed. The
    median of the last eight (of the last forty finished) that ended within a day's work of their start, setting up and
    cleaning left out.
    `in_loads`: whether any of those was worked in more than one load, as some do and some never.
    """

    loss: sizing.LossLearned
    last: LastRight | None
    tau_min: float | None
    pace: float | None
    in_loads: bool


def learned(session: Session, pigment_keys: list[str], recipe_id: int | None = None) -> Learned:
    """What batches taught for exactly these pigments, by `recipe_id` if it is one of a recipe."""
    row = session.execute(_LEARNED, {"keys": sorted(set(pigment_keys)), "recipe": recipe_id}).one()
    return Learned(
        sizing.learn_loss([sizing.Made(made_ml, kept_ml) for made_ml, kept_ml in row.filled or ()]),
        _last(row.released or row.right),
        median(row.loads) / QUIET_DISPERSION_TIMES if len(row.loads) == _TAU_FROM else None,
        min(_PACE_WITHIN[1], max(_PACE_WITHIN[0], median(row.paces))) if len(row.paces) >= _PACE_FROM else None,
        bool(row.in_loads),
    )


def _last(found: list[Any] | None) -> LastRight | None:
    if found is None:
        return None
    oil_g, pigment_g, mulling = found
    known = _MULLING.validate_python(mulling) if mulling else Mulling()
    return LastRight(100 * oil_g / pigment_g, dispersing_minutes_per_load(known))


# The statement is built once. The newest batch is the one with the highest number.
_BATCH = table_of(Batch)
_JOB = table_of(Job)
_FINISHED = and_(_JOB.c.id == _BATCH.c.job_id, _JOB.c.status == Status.FINISHED)
_KEYS = bindparam("keys", type_=ARRAY(String))


def _filled() -> ScalarSelect[Any]:
    latest = (
        select(_BATCH.c.made_ml, (_BATCH.c.filled_ml + _BATCH.c.leftover_ml).label("kept_ml"))
        .where(_FINISHED, _BATCH.c.filled_ml > 0)
        .order_by(_BATCH.c.number.desc())
        .limit(_LOSS_FROM_LAST)
        .subquery()
    )
    return select(func.json_agg(func.json_build_array(latest.c.made_ml, latest.c.kept_ml))).scalar_subquery()


def _loads() -> Select[float]:
    took = Act.facts["minutes_in_load"].astext.cast(Double)
    minutes = took / func.coalesce(Act.facts["working_factor"].astext.cast(Double), 1.0)
    ended = or_(
        Act.payload["ended_by"].astext.in_((EndedBy.SILENCE, EndedBy.FINENESS)),
        Act.payload["fineness_um"].astext.cast(Double) <= Act.facts["target_fineness_um"].astext.cast(Double),
    )
    latest = (
        select(_BATCH.c.job_id)
        .where(_BATCH.c.pigment_keys == _KEYS)
        .order_by(_BATCH.c.number.desc())
        .limit(_TAU_FROM_LAST)
        .correlate(None)
    )
    # Written out, so that the index of such acts serves.
    timed = Act.kind.in_([literal_column(f"'{kind}'") for kind in (Kind.LOAD_DONE, Kind.FINENESS)])
    return (
        select(minutes)
        .where(Act.job_id.in_(latest), timed, minutes > 0, ended, ~log.STRUCK)
        .order_by(Act.made_at.desc())
        .limit(_TAU_FROM)
    )


def _paces() -> Select[Any]:
    latest = (
        select(
            cast(func.extract("epoch", _JOB.c.ended_at - _JOB.c.started_at) / 60, Double).label("took_min"),
            _BATCH.c.planned_min,
            _BATCH.c.number,
        )
        # Earlier plans gave every load twice its dispersion time: they say nothing of a pace.
        .where(_FINISHED, _JOB.c.plan_version >= _PACE_FROM_PLAN)
        .order_by(_BATCH.c.number.desc())
        .limit(_PACE_LOOKED_THROUGH)
        .subquery()
    )
    return (
        select(latest.c.took_min / cast(latest.c.planned_min, Double))
        .where(latest.c.took_min.between(1, _PACE_LONGEST_MIN), latest.c.planned_min > 0)
        .order_by(latest.c.number.desc())
        .limit(_PACE_FROM_LAST)
    )


def _in_loads() -> ScalarSelect[Any]:
    loads = cast(_JOB.c.state["mulling"]["dispersing_loads"].astext, Integer)
    latest = (
        select(loads.label("loads"))
        .where(_JOB.c.id == _BATCH.c.job_id)
        .order_by(_BATCH.c.number.desc())
        .limit(_PACE_LOOKED_THROUGH)
        .subquery()
    )
    return select(func.bool_or(latest.c.loads > 1)).scalar_subquery()


_LAST = (
    select(func.json_build_array(_BATCH.c.oil_g, _BATCH.c.pigment_g, _JOB.c.state["mulling"]))
    .where(_JOB.c.id == _BATCH.c.job_id, _BATCH.c.pigment_g > 0)
    .order_by(_BATCH.c.number.desc())
    .limit(1)
)
_OF_RECIPE = _BATCH.c.recipe_id == bindparam("recipe", type_=Integer)

_LEARNED = select(
    _filled().label("filled"),
    _LAST.where(_OF_RECIPE, _BATCH.c.release.in_(RELEASED)).scalar_subquery().label("released"),
    _LAST.where(_BATCH.c.pigment_keys == _KEYS, _BATCH.c.verdict == Verdict.RIGHT).scalar_subquery().label("right"),
    func.array(_loads().scalar_subquery(), type_=ARRAY(Double)).label("loads"),
    func.array(_paces().scalar_subquery(), type_=ARRAY(Double)).label("paces"),
    _in_loads().label("in_loads"),
)
