"""What batches taught: losses, and the last one that was right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Double, func, or_, select
from sqlalchemy.orm import Session

from niddy.core import sizing
from niddy.core.mulling import EndedBy, Mulling, dispersing_minutes_per_load
from niddy.core.plan import MULL_DISPERSION_TIMES
from niddy.core.slab import Kind, Status, Verdict
from niddy.db.base import table_of
from niddy.db.batches import Batch
from niddy.db.log import Act
from niddy.studio import log
from niddy.studio.batches.recipes import RELEASED

_MULLING = TypeAdapter(Mulling)


_LOSS_FROM_LAST = 20


def learned_loss(session: Session) -> sizing.LossLearned:
    """Hold-up and loss from the last finished batches that filled something."""
    rows: Sequence[Any] = session.execute(
        select(Batch.made_ml, Batch.filled_ml, Batch.leftover_ml)
        .where(Batch.status == Status.FINISHED, Batch.filled_ml > 0)
        .order_by(Batch.started_at.desc())
        .limit(_LOSS_FROM_LAST)
    ).all()
    return sizing.learn_loss([sizing.Made(row.made_ml, row.filled_ml + row.leftover_ml) for row in rows])


_TAU_FROM = 5
_TAU_FROM_LAST = 12
"""So many batches are looked through, the newest: a log is long, and an old slab bit otherwise."""


def learned_tau_min(session: Session, pigment_keys: list[str]) -> float | None:
    """Dispersion time of exactly these pigments by the studio's own clock, or None before five loads said so.

    Half the median minutes of the last five loads, in the newest batches of them, that ended by a silent muller or by
    the fineness wanted, each as a full load under a muller would have taken.
    """
    took = Act.facts["minutes_in_load"].astext.cast(Double)
    minutes = took / func.coalesce(Act.facts["working_factor"].astext.cast(Double), 1.0)
    ended = or_(
        Act.payload["ended_by"].astext.in_((EndedBy.SILENCE, EndedBy.FINENESS)),
        Act.payload["fineness_um"].astext.cast(Double) <= Act.facts["target_fineness_um"].astext.cast(Double),
    )
    latest = (
        select(_BATCH.c.job_id)
        .where(_BATCH.c.pigment_keys == pigment_keys)
        .order_by(_BATCH.c.number.desc())
        .limit(_TAU_FROM_LAST)
        .correlate(None)
    )
    rows = session.scalars(
        select(minutes)
        .where(
            Act.job_id.in_(latest), Act.kind.in_((Kind.LOAD_DONE, Kind.FINENESS)), minutes > 0, ended, ~log.STRUCK
        )
        .order_by(Act.made_at.desc())
        .limit(_TAU_FROM)
    ).all()  # fmt: skip
    return median(rows) / MULL_DISPERSION_TIMES if len(rows) == _TAU_FROM else None


_BATCH = table_of(Batch)

_PACE_FROM = 5
_PACE_FROM_LAST = 8
_PACE_LONGEST_MIN = 12 * 60.0
_PACE_WITHIN = (0.3, 3.0)


def learned_pace(session: Session) -> float | None:
    """How long this studio's sessions took against what was planned at the slab; None before five were timed.

    The median of the last eight finished within a day's work of their start, setting up and cleaning left out. Asked
    once a session, since one screen may plan several times.
    """
    if "pace" not in session.info:
        session.info["pace"] = _pace(session)
    return session.info["pace"]  # type: ignore[no-any-return]


def _pace(session: Session) -> float | None:
    # Plans are large documents: only those of a few batches are opened.
    took = func.extract("epoch", Batch.ended_at - Batch.started_at) / 60
    latest = (
        select(Batch.number)
        .where(Batch.status == Status.FINISHED, took.between(1, _PACE_LONGEST_MIN))
        .order_by(Batch.started_at.desc())
        .limit(_PACE_FROM_LAST)
        .correlate(None)
    )
    planned = Batch.plan["minutes"]["value"].astext.cast(Double)
    # Sessions planned before tidying was told apart count it in both.
    apart = Batch.plan["tidying"]["value"].astext
    rows = session.scalars(
        select(took / planned).where(Batch.number.in_(latest), planned > 0, apart.is_not(None))
    ).all()
    if len(rows) < _PACE_FROM:
        return None
    return min(_PACE_WITHIN[1], max(_PACE_WITHIN[0], float(median(rows))))


@dataclass(frozen=True, slots=True)
class LastRight:
    """The last batch the maker found right: its ratio, and minutes a load where time was kept."""

    oil_g_per_100g: float
    minutes_per_load: float | None


def last_right(session: Session, pigment_keys: list[str], recipe_id: int | None = None) -> LastRight | None:
    """The recipe's last released batch; without one, the last of exactly these pigments the maker found right."""
    found = select(Batch.oil_g, Batch.pigment_g, Batch.state["mulling"].label("mulling")).where(Batch.pigment_g > 0)
    found = found.order_by(Batch.started_at.desc()).limit(1)
    row = None
    if recipe_id is not None:
        row = session.execute(found.where(Batch.recipe_id == recipe_id, Batch.release.in_(RELEASED))).first()
    if row is None:
        row = session.execute(found.where(Batch.pigment_keys == pigment_keys, Batch.verdict == Verdict.RIGHT)).first()
    if row is None:
        return None
    mulling = _MULLING.validate_python(row.mulling) if row.mulling else Mulling()
    return LastRight(100 * row.oil_g / row.pigment_g, dispersing_minutes_per_load(mulling))
