"""What batches taught: losses, and the last one that was right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Double, Select, String, and_, bindparam, cast, func, or_, select
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Session

from niddy.core import sizing
from niddy.core.mulling import EndedBy, Mulling, dispersing_minutes_per_load
from niddy.core.plan import MULL_DISPERSION_TIMES
from niddy.core.slab import Kind, Status, Verdict
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Act, Job
from niddy.studio import log
from niddy.studio.batches.recipes import RELEASED

_MULLING = TypeAdapter(Mulling)


_LOSS_FROM_LAST = 20


def learned_loss(session: Session) -> sizing.LossLearned:
    """Hold-up and loss from the last finished batches that filled something."""
    rows: Sequence[Any] = session.execute(_FILLED).all()
    return sizing.learn_loss([sizing.Made(row.made_ml, row.filled_ml + row.leftover_ml) for row in rows])


# Statements of the busy path are built once. The newest batch is the one with the highest number.
_BATCH = table_of(Batch)
_JOB = table_of(Job)
_FINISHED = and_(_JOB.c.id == _BATCH.c.job_id, _JOB.c.status == Status.FINISHED)

_FILLED = (
    select(_BATCH.c.made_ml, _BATCH.c.filled_ml, _BATCH.c.leftover_ml)
    .where(_FINISHED, _BATCH.c.filled_ml > 0)
    .order_by(_BATCH.c.number.desc())
    .limit(_LOSS_FROM_LAST)
)

_TAU_FROM = 5
_TAU_FROM_LAST = 12
"""So many batches are looked through, the newest: a log is long, and an old slab bit otherwise."""


def learned_tau_min(session: Session, pigment_keys: list[str]) -> float | None:
    """Dispersion time of exactly these pigments by the studio's own clock, or None before five loads said so.

    Half the median minutes of the last five loads, in the newest batches of them, that ended by a silent muller or by
    the fineness wanted, each as a full load under a muller would have taken.
    """
    rows = session.scalars(_LOADS, {"keys": pigment_keys}).all()
    return median(rows) / MULL_DISPERSION_TIMES if len(rows) == _TAU_FROM else None


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
    return (
        select(minutes)
        .where(
            Act.job_id.in_(latest), _TIMED, minutes > 0, ended, ~log.STRUCK
        )
        .order_by(Act.made_at.desc())
        .limit(_TAU_FROM)
    )  # fmt: skip


# Written out, so that the index of such acts serves.
_TIMED = Act.kind.in_(bindparam("timed", [Kind.LOAD_DONE, Kind.FINENESS], expanding=True, literal_execute=True))
_KEYS = bindparam("keys", type_=ARRAY(String))
_LOADS = _loads()

_PACE_FROM = 5
_PACE_FROM_LAST = 8
_PACE_LOOKED_THROUGH = 40
_PACE_LONGEST_MIN = 12 * 60.0
_PACE_WITHIN = (0.3, 3.0)


def learned_pace(session: Session) -> float | None:
    """How long this studio's sessions took against what was planned at the slab; None before five were timed.

    The median of the last eight (of the last forty finished) that ended within a day's work of their start, setting up
    and cleaning left out. Asked once a session, since one screen may plan several times.
    """
    if "pace" not in session.info:
        session.info["pace"] = _pace(session)
    return session.info["pace"]  # type: ignore[no-any-return]


def _pace(session: Session) -> float | None:
    rows = [float(pace) for pace in session.scalars(_PACES)]
    if len(rows) < _PACE_FROM:
        return None
    return min(_PACE_WITHIN[1], max(_PACE_WITHIN[0], median(rows)))


_FINISHED_LAST = (
    select(
        cast(func.extract("epoch", _JOB.c.ended_at - _JOB.c.started_at) / 60, Double).label("took_min"),
        _BATCH.c.planned_min,
        _BATCH.c.number,
    )
    .where(_FINISHED)
    .order_by(_BATCH.c.number.desc())
    .limit(_PACE_LOOKED_THROUGH)
    .subquery()
)
_PACES = (
    select(_FINISHED_LAST.c.took_min / _FINISHED_LAST.c.planned_min)
    .where(_FINISHED_LAST.c.took_min.between(1, _PACE_LONGEST_MIN), _FINISHED_LAST.c.planned_min > 0)
    .order_by(_FINISHED_LAST.c.number.desc())
    .limit(_PACE_FROM_LAST)
)


@dataclass(frozen=True, slots=True)
class LastRight:
    """The last batch the maker found right: its ratio, and minutes a load where time was kept."""

    oil_g_per_100g: float
    minutes_per_load: float | None


def last_right(session: Session, pigment_keys: list[str], recipe_id: int | None = None) -> LastRight | None:
    """The recipe's last released batch; without one, the last of exactly these pigments the maker found right."""
    row = None
    if recipe_id is not None:
        row = session.execute(_RELEASED_LAST, {"recipe": recipe_id}).first()
    if row is None:
        row = session.execute(_RIGHT_LAST, {"keys": pigment_keys}).first()
    if row is None:
        return None
    mulling = _MULLING.validate_python(row.mulling) if row.mulling else Mulling()
    return LastRight(100 * row.oil_g / row.pigment_g, dispersing_minutes_per_load(mulling))


_LAST = (
    select(_BATCH.c.oil_g, _BATCH.c.pigment_g, _JOB.c.state["mulling"].label("mulling"))
    .where(_JOB.c.id == _BATCH.c.job_id, _BATCH.c.pigment_g > 0)
    .order_by(_BATCH.c.number.desc())
    .limit(1)
)
_RELEASED_LAST = _LAST.where(_BATCH.c.recipe_id == bindparam("recipe"), _BATCH.c.release.in_(RELEASED))
_RIGHT_LAST = _LAST.where(_BATCH.c.pigment_keys == _KEYS, _BATCH.c.verdict == Verdict.RIGHT)
