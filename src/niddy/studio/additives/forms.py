"""Every additive and what the studio has of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session

from niddy.core import additives as core
from niddy.core import gels, ladder
from niddy.core.additives import Moment
from niddy.core.cautions import cautions_for
from niddy.core.intent import Known
from niddy.core.materials import Additive
from niddy.reference import library
from niddy.studio import materials
from niddy.studio.additives.teaching import known
from niddy.studio.materials import GEL


@dataclass(frozen=True, slots=True)
class Form:
    """One tin, bottle or pot an additive can come out of: dry or as it is, or a gel with its strength."""

    lot_id: int
    code: str
    name: str
    strength: float | None
    on_hand_g: float
    use_by: date | None
    past: bool


@dataclass(frozen=True, slots=True)
class Choice:
    """One additive: its dose and ceiling on its basis, when it goes in, its forms here, and what is known of it.

    `ladder_top_pct` is how far a first ladder of it reaches.
    """

    additive: Additive
    moment: Moment
    gels: bool
    usual_strength: float | None
    keeps_days: int | None
    forms: tuple[Form, ...]
    known: Known | None
    beware: tuple[str, ...]
    ladder_top_pct: float


def choices(session: Session, now: datetime) -> tuple[Choice, ...]:
    """Every additive of the library with the studio's own lots and gels of it."""
    forms: dict[str, list[Form]] = {}
    for kind in ("additive", GEL):
        for lot in materials.lots(session, kind=kind):
            past = lot.use_by is not None and lot.use_by < now.date()
            forms.setdefault(lot.material_key, []).append(
                Form(lot.id, lot.code, lot.name, lot.strength, lot.on_hand, lot.use_by, past)
            )
    learned = known(session)
    return tuple(
        Choice(
            additive,
            core.moment_of(additive),
            gels.can_gel(additive),
            gels.usual_strength(additive) if gels.can_gel(additive) else None,
            core.keeps_days(additive),
            tuple(forms.get(additive.key, ())),
            learned.get(additive.key),
            tuple(caution.short for caution in cautions_for([(additive.name, additive.hazards)])),
            ladder.usual_top_pct(additive.dose_high_pct, additive.dose_ceiling_pct),
        )
        for additive in library().additives.values()
    )
