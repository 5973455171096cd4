"""What is in the paints one mixes: their hazards, whoever filled or topped up the tube, and how heavy each is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from niddy.core.cautions import DEFERENCE, Caution, cautions_for, in_paint
from niddy.core.mixing.bench import PAINT_G_PER_ML
from niddy.studio import batches, shelf
from niddy.studio.mixing.kept import PaintKept


@dataclass(frozen=True, slots=True)
class Inside:
    """What is in a paint: the hazards a finished paint keeps, whether anybody logged that, and its density.

    `density_known` is False where the usual density of a paint stands in.
    """

    hazards: tuple[str, ...]
    logged: bool
    density_g_per_ml: float
    density_known: bool


@dataclass(frozen=True, slots=True)
class MixingBeware:
    """What to beware of with some paints on the palette; `unlogged` are those nobody logged the contents of."""

    cautions: tuple[Caution, ...]
    unlogged: tuple[str, ...]
    deference: str


def inside(session: Session, kept: Sequence[PaintKept]) -> dict[int, Inside]:
    """What is in some paints, by their ids."""
    numbers = sorted({one.row.batch_number for one in kept if one.row.batch_number is not None})
    items = sorted({one.row.item_id for one in kept if one.row.item_id is not None})
    made = batches.several(session, numbers) if numbers else {}
    held = shelf.hazards_in(session, numbers, items)
    found = {}
    for one in kept:
        number, item = one.row.batch_number, one.row.item_id
        if number is not None and number in made:
            batch = made[number][0]
            keys = {*batches.hazard_keys_of(batch), *held.of_batches.get(number, ())}
            grams = [(part.grams, part.density_g_per_ml) for part in batches.contents_of(batch) if part.grams > 0]
            ml = sum(much / density for much, density in grams if density)
            density = sum(much for much, density in grams if density) / ml if ml > 0 else None
            found[one.id] = _inside(keys, density, logged=True)
        elif item is not None and item in held.of_items:
            found[one.id] = _inside(set(held.of_items[item]), held.densities.get(item), logged=item not in held.unknown)
        else:
            found[one.id] = _inside(set(), None, logged=False)
    return found


def _inside(keys: set[str], density: float | None, *, logged: bool) -> Inside:
    return Inside(in_paint(tuple(sorted(keys))), logged, density or PAINT_G_PER_ML, density is not None)


def beware_of(kept: Sequence[PaintKept], of: dict[int, Inside]) -> MixingBeware:
    """What to beware of with some paints, each hazard once with the paints it comes from."""
    once = {one.id: one for one in kept}.values()
    return MixingBeware(
        cautions_for([(one.row.name, of[one.id].hazards) for one in once]),
        tuple(dict.fromkeys(one.row.name for one in once if not of[one.id].logged)),
        DEFERENCE,
    )
