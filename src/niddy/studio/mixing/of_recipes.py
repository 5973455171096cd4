"""What a recipe looks like in numbers: its batches as read, and a blend predicted from its pigments' own paints."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from niddy.core.colorimetry import Lab, difference
from niddy.core.mixing.predicting import expected_off
from niddy.core.mixing.seeing import srgb_of
from niddy.studio import batches, recipes
from niddy.studio.mixing.kept import PaintKept, bench, palette_of, several
from niddy.studio.mixing.lists import PaintLine, lines


@dataclass(frozen=True, slots=True)
class RecipeColour:
    """A recipe's colour: its batches as paints, the newest first, with dE00 between each and the standard as read.

    `predicted_srgb` is what a blend looks like by its pigments' own paints, `off` how far off that may be, and
    `missing` the pigments of it that no read batch is made of alone.
    """

    paints: tuple[PaintLine, ...]
    off_standard: tuple[float | None, ...]
    standard: int | None
    predicted_srgb: str | None
    predicted_lab: Lab | None
    off: float | None
    missing: tuple[str, ...]


def recipe_colour(session: Session, recipe_id: int) -> RecipeColour:
    """A recipe's colour. Raises Missing."""
    version = recipes.version_of(session, recipe_id, None)
    of_recipe = {one.number for one in batches.of_recipe(session, recipe_id)}
    every = several(session)
    mine = [one for one in every.values() if one.row.batch_number in of_recipe and one.known.masstone is not None]
    mine.sort(key=lambda one: -(one.row.batch_number or 0))
    shown = lines(session, [one.id for one in mine])
    standard = version.asked.standard_batch
    by_batch = {one.row.batch_number: one for one in mine}
    against = by_batch[standard].known.masstone if standard in by_batch else None
    off = tuple(
        difference(one.known.masstone.lab, against.lab) if against is not None and one.known.masstone else None
        for one in mine
    )
    lab, sure, missing = _blend(
        session, [(p.pigment_key, p.parts) for p in version.asked.pigments], list(every.values())
    )
    return RecipeColour(
        tuple(shown[one.id] for one in mine),
        off,
        standard,
        srgb_of(np.array([[lab.L, lab.a, lab.b]]))[0] if lab is not None else None,
        lab,
        sure,
        missing,
    )


def _blend(
    session: Session, parts: Sequence[tuple[str, float]], every: list[PaintKept]
) -> tuple[Lab | None, float | None, tuple[str, ...]]:
    """A blend by the newest read batch of each of its pigments alone; the pigments that have none."""
    if len(parts) < 2:
        return None, None, ()
    keys = batches.pigments_of(session, [one.row.batch_number for one in every if one.row.batch_number is not None])
    alone = {
        keys[one.row.batch_number][0]: one
        for one in sorted(every, key=lambda one: one.row.batch_number or 0)
        if one.row.batch_number is not None
        and len(keys.get(one.row.batch_number, ())) == 1
        and one.known.masstone is not None
    }
    missing = tuple(key for key, _ in parts if key not in alone)
    if missing:
        return None, None, missing
    palette = palette_of([alone[key] for key, _ in parts], bench(session), None)
    weights = np.array([[much for _, much in parts]], float)
    seen = palette.lab(weights)
    lightness, a, b = (float(at) for at in seen[0])
    return Lab(min(100.0, max(0.0, lightness)), a, b), float(expected_off(palette, weights, seen)[0]), ()
