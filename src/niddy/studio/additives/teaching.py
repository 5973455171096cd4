"""What ladders taught."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.intent import Known
from niddy.core.log import Status
from niddy.db.additives import Ladder
from niddy.studio import log
from niddy.studio.additives.ladders import asked_of, design_of, fit_of, ladder_row, rung_states


def known(session: Session) -> dict[str, Known]:
    """What the newest ladder of each additive taught, those with two additives left out."""
    rows = session.execute(
        select(Ladder.number, Ladder.name, Ladder.asked["additives"].label("parts"), Ladder.state)
        .where(Ladder.status == Status.OPEN, Ladder.state.is_not(None))
        .order_by(Ladder.started_at, Ladder.number)
    )
    learned = {}
    for row in rows:
        if len(row.parts) != 1 or not row.state:
            continue
        key = row.parts[0]["additive_key"]
        learned[key] = Known(
            row.number, row.name, row.state["stiffening"], row.state["least"] or None, bool(row.state["none_does"])
        )
    return learned


def taught(session: Session) -> dict[str, tuple[float, str]]:
    """Stiffening for each percent by additive, where a ladder of the studio's own told it, and which."""
    return {
        key: (knowledge.stiffening_per_pct, f"from your ladder '{knowledge.ladder_name}'")
        for key, knowledge in known(session).items()
        if knowledge.stiffening_per_pct is not None
    }


@dataclass(frozen=True, slots=True)
class Found:
    """The least dose of each additive of a ladder, for a recipe to take; and the sentence that says so."""

    name: str
    doses: tuple[tuple[str, float], ...]
    says: str


def found(session: Session, ladder_id: int) -> Found:
    """What a ladder found. Raises Refused where it found none, Missing."""
    row = ladder_row(session, ladder_id)
    asked = asked_of(row)
    made = design_of(row)
    states = rung_states(log.entries(session, row.job_id), row.started_at, len(made.rungs))
    fitted, missing = fit_of(asked, made, states)
    answer = fitted.answer if fitted else None
    if answer is None:
        raise Refused("ladder_id", "this ladder has no answer yet", "; ".join(missing) or "targets, and their readings")
    if answer.dose_pct is None:
        raise Refused("ladder_id", answer.says, "a ladder with a dose that does")
    if answer.dose_pct == 0:
        raise Refused("ladder_id", answer.says, "a ladder that needs a dose")
    first = asked.additives[0]
    doses = tuple(
        (additive.additive_key, round(answer.dose_pct * additive.top_dose_pct / first.top_dose_pct, 2))
        for additive in asked.additives
    )
    band = f"{answer.low_pct:.2g} to {answer.high_pct:.2g} %" + (" and more" if answer.open_end else "")
    return Found(row.name, doses, f"Ladder '{row.name}': {answer.dose_pct:.2g} % (90 %: {band})")
