"""What ladders taught."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.intent import Known
from niddy.db.additives import Ladder
from niddy.studio.additives.designing import LadderAsked
from niddy.studio.additives.ladders import DESIGN, fit_of, ladder_row, rung_states


def known(session: Session) -> dict[str, Known]:
    """What the newest ladder of each additive taught, those with two additives left out."""
    rows = session.execute(
        select(Ladder.id, Ladder.name, Ladder.design["asked"]["additives"].label("parts"), Ladder.outcome)
        .where(~Ladder.retired, Ladder.outcome.is_not(None))
        .order_by(Ladder.made_at, Ladder.id)
    )
    told = {}
    for row in rows:
        if len(row.parts) != 1 or not row.outcome:
            continue
        key = row.parts[0]["additive_key"]
        told[key] = Known(
            row.id, row.name, row.outcome["stiffening"], row.outcome["least"] or None, bool(row.outcome["none_does"])
        )
    return told


def taught(session: Session) -> dict[str, tuple[float, str]]:
    """Stiffening for each percent by additive, where a ladder of the studio's own told it, and which."""
    return {
        key: (one.stiffening_per_pct, f"from your ladder '{one.ladder_name}'")
        for key, one in known(session).items()
        if one.stiffening_per_pct is not None
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
    asked = LadderAsked.model_validate(row.design["asked"])
    made = DESIGN.validate_python(row.design["design"])
    fitted, missing = fit_of(asked, made, rung_states(session, ladder_id, row.made_at, len(made.rungs)))
    answer = fitted.answer if fitted else None
    if answer is None:
        raise Refused("ladder_id", "this ladder has no answer yet", "; ".join(missing) or "targets, and their readings")
    if answer.dose_pct is None:
        raise Refused("ladder_id", answer.says, "a ladder with a dose that does")
    if answer.dose_pct == 0:
        raise Refused("ladder_id", answer.says, "a ladder that needs a dose")
    first = asked.additives[0]
    doses = tuple(
        (one.additive_key, round(answer.dose_pct * one.top_dose_pct / first.top_dose_pct, 2)) for one in asked.additives
    )
    band = f"{answer.low_pct:.2g} to {answer.high_pct:.2g} %" + (" and more" if answer.open_end else "")
    return Found(row.name, doses, f"Ladder '{row.name}': {answer.dose_pct:.2g} % (90 %: {band})")
