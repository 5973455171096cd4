"""Ladders as asked and designed."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core import additives as core
from niddy.core import ladder
from niddy.core.amounts import OilRatio
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import Refused
from niddy.core.ladder import Design, Ingredient, Measured, Target
from niddy.core.words import Words
from niddy.studio import materials
from niddy.studio.materials import Asked

Pct = Annotated[float, Field(strict=True, ge=0, le=60)]


Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]


class LadderPart(Document):
    """One additive of a ladder: its top dose, from a lot (dry, or a gel) or from the library, dry."""

    additive_key: Key
    lot_id: RowId | None = None
    top_dose_pct: Annotated[float, Field(strict=True, ge=0.001, le=60)]


class TargetAsked(Document):
    """What a measure has to be, in its unit: at least, at most, or both."""

    what: Measured
    at_least: Annotated[float, Field(strict=True, ge=0, le=100_000)] | None = None
    at_most: Annotated[float, Field(strict=True, ge=0, le=100_000)] | None = None


class LadderAsked(Document):
    """A ladder: rungs of one mother paste. `oil_g_per_100g` is the ratio every rung ends at.

    `doses` are those of the first additive; a second rises in proportion. Left out, they are even steps.
    """

    name: Annotated[Words, Field(max_length=120)]
    recipe_id: RowId | None = None
    additives: Annotated[list[LadderPart], Field(min_length=1, max_length=2)]
    oil_g_per_100g: OilRatio
    paste_per_rung_g: Annotated[float, Field(strict=True, ge=0.1, le=500)] = 5.0
    rungs: Annotated[int, Field(strict=True, ge=1, le=40)] = 6
    doses: Annotated[list[Pct], Field(max_length=12)] | None = None
    targets: Annotated[list[TargetAsked], Field(max_length=3)] = []
    trial: bool = False


def _ingredients(session: Session, asked: LadderAsked) -> list[Ingredient]:
    stirred = materials.dosings(
        session,
        [(Asked(additive.lot_id, additive.additive_key), additive.top_dose_pct) for additive in asked.additives],
        {},
    )
    keys = [additive.additive_key for additive in asked.additives]
    if len(set(keys)) < len(keys):
        raise Refused("additives.1.additive_key", "the same additive twice", "another additive, or one alone")
    if stirred.extenders:
        raise Refused(
            "additives.0.additive_key", "an extender belongs in the dry blend", "an additive stirred into paste"
        )
    for n, (additive, dosing) in enumerate(zip(asked.additives, stirred.dosings, strict=True)):
        if dosing.additive.key != additive.additive_key:
            wanted = f"a lot of {additive.additive_key}"
            raise Refused(f"additives.{n}.lot_id", f"that lot is {dosing.additive.name}", wanted)
    return [
        Ingredient(
            core.named(dosing), dosing.dose_pct, dosing.basis, dosing.additive.dose_ceiling_pct, dosing.gel_strength
        )
        for dosing in stirred.dosings
    ]


def design(session: Session, asked: LadderAsked) -> Design:
    """A ladder on paper. Raises Refused, Missing."""
    parts = _ingredients(session, asked)
    top = parts[0].top_dose_pct
    doses = asked.doses or ladder.even_doses(asked.rungs, top)
    paste = ladder.mother(asked.oil_g_per_100g, asked.paste_per_rung_g, parts, max(doses))
    made = ladder.design(paste, parts, doses, trial=asked.trial)
    check_wanted(asked)
    return made


def check_wanted(asked: LadderAsked) -> None:
    """Refuse targets that contradict themselves."""
    ladder.check_targets(targets_of(asked))


def targets_of(asked: LadderAsked) -> list[Target]:
    """The targets as the core takes them."""
    return [Target(target.what, target.at_least, target.at_most) for target in asked.targets]
