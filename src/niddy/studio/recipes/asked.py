"""A recipe as a client sends it, its versions, and what is checked of it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Annotated, Any

from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Parts
from niddy.core.checks import CHOICES, UNITS, CheckKind
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.verdicts import Wanted
from niddy.core.words import Words
from niddy.studio import batches, materials, plan
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked
from niddy.studio.plan import AdditiveAsked, LineAsked, OilAsked, OilPartAsked, PlanAsked


class Stance(StrEnum):
    """What the recipe holds with."""

    PIGMENT_AND_OIL = "pigment_and_oil"
    ADDITIVES = "additives"


class PartAsked(Document):
    """One pigment of a recipe and its parts by weight."""

    pigment_key: Annotated[Words, Field(min_length=1, max_length=80)]
    parts: Parts = 1.0


class WantedAsked(Document):
    """One check the recipe promises: target and tolerance in the unit of the check, or a drawn choice."""

    kind: CheckKind
    target: Annotated[float, Field(strict=True)] | None = None
    low: Annotated[float, Field(strict=True)] | None = None
    high: Annotated[float, Field(strict=True)] | None = None
    choice: Annotated[Words, Field(max_length=40)] | None = None


class RecipeDose(Document):
    """One additive of a recipe and its dose in percent of its basis; `ladder_id` is its evidence, if there is any."""

    additive_key: Annotated[Words, Field(min_length=1, max_length=80)]
    dose_pct: Annotated[float, Field(strict=True, ge=0.001, le=60)]
    ladder_id: RowId | None = None


class RecipeAsked(Document):
    """A recipe: its usual oil first. `standard_batch` is the batch others are compared with.

    The oils are alternatives; with `oil_parts` they are stirred together in these parts by weight.
    """

    pigments: Annotated[list[PartAsked], Field(min_length=1, max_length=12)]
    oil_keys: Annotated[list[Annotated[Words, Field(min_length=1, max_length=80)]], Field(min_length=1, max_length=8)]
    reduced_pvc: Annotated[float, Field(strict=True, ge=0.5, le=1.15)]
    stance: Stance = Stance.PIGMENT_AND_OIL
    minutes_per_load: Annotated[float, Field(strict=True, ge=0.1, le=240)] | None = None
    fineness_um: Annotated[float, Field(strict=True, ge=1, le=250)] | None = None
    checks: Annotated[list[WantedAsked], Field(max_length=12)] = []
    standard_batch: RowId | None = None
    additives: Annotated[list[RecipeDose], Field(max_length=6)] = []
    oil_parts: Annotated[list[Parts], Field(max_length=8)] | None = None


@dataclass(frozen=True, slots=True)
class Version:
    """One version of a recipe."""

    version: int
    made_at: datetime
    why: str
    asked: RecipeAsked

    @property
    def wanted(self) -> list[Wanted]:
        """The checks promised, for the core."""
        return [Wanted(c.kind, c.target, c.low, c.high, c.choice) for c in self.asked.checks]


def check_asked(session: Session, asked: RecipeAsked) -> None:
    """Refuse a recipe that contradicts itself or names what is not kept, naming the field."""
    keys = [part.pigment_key for part in asked.pigments]
    if len(set(keys)) < len(keys):
        raise Refused("pigments", "one pigment twice", "each pigment once, with its parts")
    if len(set(asked.oil_keys)) < len(asked.oil_keys):
        raise Refused("oil_keys", "one oil twice", "each oil once")
    if asked.oil_parts is not None and len(asked.oil_parts) != len(asked.oil_keys):
        raise Refused("oil_parts", f"{len(asked.oil_parts)} parts", f"{len(asked.oil_keys)}, one for each oil")
    if asked.stance is Stance.PIGMENT_AND_OIL and asked.additives:
        raise Refused("additives", "this recipe is pigment and oil only", "none, or a recipe that holds with additives")
    seen: set[CheckKind] = set()
    for n, check in enumerate(asked.checks):
        field = f"checks.{n}"
        if check.kind in seen:
            raise Refused(f"{field}.kind", f"{check.kind} twice", "each check once")
        seen.add(check.kind)
        if check.kind in CHOICES and check.kind is not CheckKind.DRYING:
            if check.choice not in CHOICES[check.kind]:
                raise Refused(f"{field}.choice", "not one of its choices", ", ".join(CHOICES[check.kind]))
        elif check.choice is not None:
            raise Refused(f"{field}.choice", "this check is a figure", "a target and tolerance")
        if check.low is not None and check.high is not None and check.low >= check.high:
            raise Refused(
                f"{field}.high", "not above the lower one", f"more than {check.low:g} {UNITS.get(check.kind, '')}"
            )
        for bound, value in (("low", check.low), ("high", check.high)):
            outside = (
                check.target is not None
                and value is not None
                and (check.target < value if bound == "low" else check.target > value)
            )
            if outside:
                raise Refused(f"{field}.target", "outside its tolerance", "a target between the two limits")
    if asked.standard_batch is not None and not batches.exists(session, asked.standard_batch):
        raise Missing("batch", asked.standard_batch, "standard_batch")
    # The plan knows whether these materials exist, and says so at its own fields.
    try:
        materials.portions(session, [(Asked(None, key), 1.0) for key in asked.oil_keys], "oil")
        plan.compute(session, plan_of(asked, pigment_g=100.0))
    except Missing as missing:
        raise Missing(missing.what, missing.key, _in_recipe(missing.field)) from None
    except Refused as refused:
        raise Refused(_in_recipe(refused.field), refused.problem, refused.accepted) from None


def _in_recipe(field: str) -> str:
    """The field of a recipe that a plan's field stands for."""
    return re.sub(r"^oil\.(\d+)\..*", r"oil_keys.\1", field.replace("lines.", "pigments.", 1))


def plan_of(asked: RecipeAsked, **what: Any) -> PlanAsked:
    """What a recipe asks of a plan, from the library's materials."""
    return PlanAsked(
        lines=[LineAsked(pigment_key=part.pigment_key, parts=part.parts) for part in asked.pigments],
        oil=oil_of(asked),
        reduced_pvc=asked.reduced_pvc,
        target_fineness_um=asked.fineness_um,
        additives=[
            AdditiveAsked(additive_key=additive.additive_key, dose_pct=additive.dose_pct)
            for additive in asked.additives
        ],
        **what,
    )


def oil_of(asked: RecipeAsked) -> OilAsked:
    """The recipe's usual oil, or its oils stirred together."""
    if asked.oil_parts is None or len(asked.oil_keys) < 2:
        return OilAsked(oil_key=asked.oil_keys[0])
    return OilAsked(
        blend=[
            OilPartAsked(oil_key=key, parts=parts) for key, parts in zip(asked.oil_keys, asked.oil_parts, strict=True)
        ]
    )
