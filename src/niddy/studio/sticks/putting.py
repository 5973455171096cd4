"""Sticks put on the shelf, each with its share of what was in the pot."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from niddy.core.contents import scaled
from niddy.studio import shelf
from niddy.studio.shelf import ItemKind, NewItem
from niddy.studio.sticks.kept import PotKept, contents_of


def put_sticks(session: Session, now: datetime, kept: PotKept, act_id: UUID, place: str) -> None:
    """Put each stick that came out on the shelf: weight, colour, hazards, and the lots behind it."""
    state = kept.pot
    contents = contents_of(kept)
    density = _density(kept)
    moulds = [(name, mould.ml) for name, mould in kept.planned.moulds for _ in range(mould.count)]
    for n in range(state.sticks):
        name, ml = moulds[n] if n < len(moulds) else moulds[-1]
        # Weighed, or what its mould holds of the pot: as the plan says of each stick.
        weight = state.sticks_g / state.sticks if state.sticks_g else ml * (density or 1.0)
        share = weight / state.total_g if state.total_g else 0.0
        shelf.put(
            session,
            now,
            NewItem(
                uuid5(act_id, f"stick-{n}"),
                ItemKind.STICK,
                kept.name,
                kept.planned.masstone_srgb,
                name,
                round(weight / density, 2) if density else ml,
                (state.out_at or now).date(),
                density_g_per_ml=density or None,
                gross_g=round(weight, 2),
                tare_g=0.0,
                place=place,
                contents=scaled(contents, share),
                pot_number=kept.number,
                made_by=kept.job_id,
            ),
        )


def _density(kept: PotKept) -> float:
    volume = sum(content.grams / (content.density_g_per_ml or 1.0) for content in contents_of(kept))
    return kept.pot.total_g / volume if volume else 0.0
