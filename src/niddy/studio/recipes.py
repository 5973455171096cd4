"""Recipes: what a paint should be like, in versions; the same again from another lot, oil or amount."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from niddy.core.checks import CHOICES, UNITS, CheckKind, spread
from niddy.core.errors import Refused
from niddy.core.ladder import Measured
from niddy.core.mulling import dispersing_minutes_per_load
from niddy.core.plan import Facts
from niddy.core.rebuild import Wets, rebuild
from niddy.core.slab import Status
from niddy.core.verdicts import Wanted
from niddy.db.recipes import Recipe, RecipeVersion
from niddy.studio import additives, batches, materials, plan
from niddy.studio.additives import TargetAsked
from niddy.studio.amounts import Grams, Parts
from niddy.studio.batches import OfRecipe
from niddy.studio.errors import Missing
from niddy.studio.materials import Asked
from niddy.studio.plan import (
    AdditiveAsked,
    LineAsked,
    OilAsked,
    OilPartAsked,
    PlanAsked,
    Planned,
    RowId,
    TubesAsked,
)
from niddy.studio.words import Words


class Stance(StrEnum):
    """What the recipe holds with."""

    PIGMENT_AND_OIL = "pigment_and_oil"
    ADDITIVES = "additives"


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class PartAsked(_Document):
    """One pigment of a recipe and its parts by weight."""

    pigment_key: Annotated[Words, Field(min_length=1, max_length=80)]
    parts: Parts = 1.0


class WantedAsked(_Document):
    """One check the recipe promises: target and tolerance in the unit of the check, or a drawn choice."""

    kind: CheckKind
    target: Annotated[float, Field(strict=True)] | None = None
    low: Annotated[float, Field(strict=True)] | None = None
    high: Annotated[float, Field(strict=True)] | None = None
    choice: Annotated[Words, Field(max_length=40)] | None = None


class RecipeDose(_Document):
    """One additive of a recipe and its dose in percent of its basis; `ladder_id` is its evidence, if there is any."""

    additive_key: Annotated[Words, Field(min_length=1, max_length=80)]
    dose_pct: Annotated[float, Field(strict=True, ge=0.001, le=60)]
    ladder_id: RowId | None = None


class RecipeAsked(_Document):
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


@dataclass(frozen=True, slots=True)
class RecipeLine:
    """A recipe as a list shows it."""

    id: int
    name: str
    version: int
    batches: int
    masstone_srgb: str
    last_at: datetime | None
    last_release: str | None
    reduced_pvc: float


@dataclass(frozen=True, slots=True)
class BatchOfRecipe:
    """A batch on its recipe's page."""

    number: int
    started_at: datetime
    status: Status
    release: str | None
    version: int
    oil_g_per_100g: float | None
    results: dict[str, float | str]


@dataclass(frozen=True, slots=True)
class RecipePage:
    """A recipe with all its versions, newest first, and its last batches, newest first."""

    id: int
    name: str
    versions: tuple[Version, ...]
    batches: tuple[BatchOfRecipe, ...]
    batch_count: int
    frozen_on: tuple[int, ...]
    bleeds_since: datetime | None
    units: dict[CheckKind, str]
    choices: dict[CheckKind, tuple[str, ...]]


def make(session: Session, now: datetime, name: str, asked: RecipeAsked, from_batch: int | None = None) -> int:
    """Make a recipe; its id. `from_batch` becomes its first batch and, where none is named, its standard.

    Raises Refused.
    """
    if from_batch is not None and asked.standard_batch is None:
        asked = asked.model_copy(update={"standard_batch": from_batch})
    _check(session, asked)
    name = name.strip()
    if not name:
        raise Refused("name", "empty", "a name for the recipe")
    row = Recipe(name=name, made_at=now, retired=False, frozen_on=None)
    try:
        with session.begin_nested():
            session.add(row)
            session.flush()
    except IntegrityError:
        raise Refused("name", f"'{name}' is taken", "a name no other recipe has") from None
    session.add(
        RecipeVersion(
            recipe_id=row.id, version=1, made_at=now, why="first version", document=asked.model_dump(mode="json")
        )
    )  # fmt: skip
    session.flush()
    if from_batch is not None:
        batches.made(session, from_batch)
        batches.put_under(session, from_batch, row.id, 1)
    return row.id


def change(session: Session, now: datetime, recipe_id: int, asked: RecipeAsked, why: str) -> int:
    """Make a new version; its number. Old batches keep theirs. Raises Refused, Missing."""
    _recipe(session, recipe_id, lock=True)
    _check(session, asked)
    last = version_of(session, recipe_id, None)
    if last.asked == asked:
        raise Refused("why", "nothing is different from the version before", "a change")
    if not why.strip():
        raise Refused("why", "empty", "why this version differs from the one before")
    session.add(
        RecipeVersion(
            recipe_id=recipe_id, version=last.version + 1, made_at=now, why=why.strip(),
            document=asked.model_dump(mode="json"),
        )
    )  # fmt: skip
    session.flush()
    return last.version + 1


def _check(session: Session, asked: RecipeAsked) -> None:
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
    for n, one in enumerate(asked.checks):
        field = f"checks.{n}"
        if one.kind in seen:
            raise Refused(f"{field}.kind", f"{one.kind} twice", "each check once")
        seen.add(one.kind)
        if one.kind in CHOICES and one.kind is not CheckKind.DRYING:
            if one.choice not in CHOICES[one.kind]:
                raise Refused(f"{field}.choice", "not one of its choices", ", ".join(CHOICES[one.kind]))
        elif one.choice is not None:
            raise Refused(f"{field}.choice", "this check is a figure", "a target and tolerance")
        if one.low is not None and one.high is not None and one.low >= one.high:
            raise Refused(
                f"{field}.high", "not above the lower one", f"more than {one.low:g} {UNITS.get(one.kind, '')}"
            )
        for bound, value in (("low", one.low), ("high", one.high)):
            outside = (
                one.target is not None
                and value is not None
                and (one.target < value if bound == "low" else one.target > value)
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
        oil=_oil_of(asked),
        reduced_pvc=asked.reduced_pvc,
        target_fineness_um=asked.fineness_um,
        additives=[AdditiveAsked(additive_key=one.additive_key, dose_pct=one.dose_pct) for one in asked.additives],
        **what,
    )


def _oil_of(asked: RecipeAsked) -> OilAsked:
    """The recipe's usual oil, or its oils stirred together."""
    if asked.oil_parts is None or len(asked.oil_keys) < 2:
        return OilAsked(oil_key=asked.oil_keys[0])
    return OilAsked(
        blend=[
            OilPartAsked(oil_key=key, parts=parts) for key, parts in zip(asked.oil_keys, asked.oil_parts, strict=True)
        ]
    )


def check_stance(session: Session, recipe_id: int | None, version: int | None, field: str) -> None:
    """Refuse an additive in a batch of a recipe that is pigment and oil only. Raises Refused, Missing."""
    if recipe_id is None:
        return
    if version_of(session, recipe_id, version).asked.stance is Stance.PIGMENT_AND_OIL:
        raise Refused(
            field, "this recipe is pigment and oil only", "nothing else, or a plan that does not follow the recipe"
        )


def planned(session: Session, asked: PlanAsked) -> Planned:
    """The plan for what is asked, held to the stance of the recipe it follows. Raises Refused, Missing."""
    if asked.additives:
        check_stance(session, asked.recipe_id, asked.recipe_version, "additives")
    return plan.compute(session, asked)


def _recipe(session: Session, recipe_id: int, *, lock: bool = False) -> Recipe:
    row = session.get(Recipe, recipe_id, with_for_update=lock or None)
    if row is None:
        raise Missing("recipe", recipe_id)
    return row


def followed(session: Session, asked: PlanAsked, pigment_keys: list[str], oil_keys: list[str]) -> PlanAsked:
    """A plan that says it follows a recipe, with the version it follows. Raises Refused where it does not, Missing."""
    if asked.recipe_id is None:
        return asked
    version = version_of(session, asked.recipe_id, asked.recipe_version)
    recipe = version.asked
    if sorted(pigment_keys) != sorted(part.pigment_key for part in recipe.pigments):
        raise Refused("recipe_id", "these are not the recipe's pigments", "its pigments, or a plan without the recipe")
    if asked.additives:
        check_stance(session, asked.recipe_id, version.version, "additives")
    if not set(oil_keys) <= set(recipe.oil_keys):
        raise Refused(
            "recipe_id", "the recipe is not made in this oil", "one of its oils, or a plan without the recipe"
        )
    return asked.model_copy(update={"recipe_version": version.version})


def version_of(session: Session, recipe_id: int, version: int | None) -> Version:
    """A version of a recipe, or its newest. Raises Missing."""
    wanted = select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id)
    if version is not None:
        wanted = wanted.where(RecipeVersion.version == version)
    row = session.scalar(wanted.order_by(RecipeVersion.version.desc()).limit(1))
    if row is None:
        raise Missing("recipe", f"{recipe_id}" if version is None else f"{recipe_id}, version {version}")
    return _version(row)


def _version(row: RecipeVersion) -> Version:
    return Version(row.version, row.made_at, row.why, RecipeAsked.model_validate(row.document))


@dataclass(frozen=True, slots=True)
class Newest:
    """A recipe by its newest version, and what its control limits are frozen on."""

    name: str
    frozen_on: tuple[int, ...]
    version: Version


def newest(session: Session, recipe_id: int) -> Newest:
    """A recipe as it stands, in one question. Raises Missing."""
    row = session.execute(
        select(Recipe.name, Recipe.frozen_on, RecipeVersion)
        .join(RecipeVersion, RecipeVersion.recipe_id == Recipe.id)
        .where(Recipe.id == recipe_id)
        .order_by(RecipeVersion.version.desc())
        .limit(1)
    ).first()
    if row is None:
        raise Missing("recipe", recipe_id)
    return Newest(row.name, tuple((row.frozen_on or {}).get("batches", ())), _version(row.RecipeVersion))


def name_of(session: Session, recipe_id: int) -> str:
    """The name of a recipe. Raises Missing."""
    return _recipe(session, recipe_id).name


def frozen_on(session: Session, recipe_id: int) -> tuple[int, ...]:
    """The batches a recipe's control limits are frozen on; none where they follow all of them."""
    return tuple((_recipe(session, recipe_id).frozen_on or {}).get("batches", ()))


def freeze(session: Session, recipe_id: int, numbers: list[int]) -> None:
    """Freeze the control limits on these batches, or let them follow all again with none. Raises Refused, Missing."""
    row = _recipe(session, recipe_id, lock=True)
    known = {one.number for one in batches.of_recipe(session, recipe_id)}
    strange = [number for number in numbers if number not in known]
    if strange:
        raise Refused("batches", f"batch {strange[0]} is not of this recipe", "batches of this recipe")
    if numbers and len(set(numbers)) < 2:
        raise Refused("batches", "one batch has no range", "two batches or more, or none")
    row.frozen_on = {"batches": sorted(set(numbers))} if numbers else None
    session.flush()


def note_bleeds(session: Session, now: datetime, recipe_id: int) -> None:
    """Mark a recipe as prone to bleed, from the first time it is seen. Raises Missing."""
    row = _recipe(session, recipe_id, lock=True)
    row.bleeds_since = row.bleeds_since or now
    session.flush()


def retire(session: Session, recipe_id: int) -> None:
    """Put a recipe out of use; its batches keep it. Raises Missing."""
    _recipe(session, recipe_id).retired = True
    session.flush()


def count(session: Session) -> int:
    """How many recipes are in use."""
    return session.scalar(select(func.count()).select_from(Recipe).where(~Recipe.retired)) or 0


def lines(session: Session) -> tuple[RecipeLine, ...]:
    """The recipes in use, by name."""
    newest = (
        select(RecipeVersion.recipe_id, func.max(RecipeVersion.version).label("version"))
        .group_by(RecipeVersion.recipe_id)
        .subquery()
    )
    rows = session.execute(
        select(Recipe, RecipeVersion)
        .join(newest, newest.c.recipe_id == Recipe.id)
        .join(RecipeVersion, (RecipeVersion.recipe_id == Recipe.id) & (RecipeVersion.version == newest.c.version))
        .where(~Recipe.retired)
        .order_by(Recipe.name)
    ).all()
    counted = batches.counted_by_recipe(session)
    shown = []
    for recipe, row in rows:
        version = _version(row)
        made = counted.get(recipe.id)
        colour = (
            made.masstone_srgb
            if made
            else plan.compute(session, plan_of(version.asked, pigment_g=100.0)).plan.masstone_srgb
        )
        shown.append(
            RecipeLine(
                recipe.id, recipe.name, version.version, made.count if made else 0, colour,
                made.last_at if made else None, made.last_release if made else None, version.asked.reduced_pvc,
            )
        )  # fmt: skip
    return tuple(shown)


PAGE_BATCHES = 60


def page(session: Session, recipe_id: int) -> RecipePage:
    """A recipe to be read. Raises Missing."""
    row = _recipe(session, recipe_id)
    rows = session.scalars(
        select(RecipeVersion).where(RecipeVersion.recipe_id == recipe_id).order_by(RecipeVersion.version.desc())
    )
    made = batches.of_recipe(session, recipe_id)
    return RecipePage(
        row.id, row.name, tuple(_version(one) for one in rows),
        tuple(
            BatchOfRecipe(b.number, b.started_at, b.status, b.release, b.version, b.oil_g_per_100g, b.results)
            for b in reversed(made[-PAGE_BATCHES:])
        ),
        len(made), frozen_on(session, recipe_id), row.bleeds_since, dict(UNITS), dict(CHOICES),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Suggested:
    """A recipe as a good batch suggests it, and a name for it."""

    name: str
    recipe: RecipeAsked


TOLERANCE: dict[CheckKind, float] = {CheckKind.SPREAD: 3.0, CheckKind.STRING: 5.0}
"""How far from the batch it is made from a new recipe lets these be, in mm (assumed)."""


def from_batch(session: Session, number: int) -> Suggested:
    """What recipe a batch would make: its blend, its target, its minutes, and its checks as targets. Raises Missing."""
    made = batches.made(session, number)
    kept = made.kept
    wanted = []
    for kind in CheckKind:
        found = made.results.get(kind)
        if isinstance(found, str) and kind is not CheckKind.DRYING:
            wanted.append(WantedAsked(kind=kind, choice=found))
        elif isinstance(found, (int, float)) and kind in TOLERANCE:
            by = TOLERANCE[kind]
            low, high = max(0.0, round(found - by, 1)), round(found + by, 1)
            wanted.append(WantedAsked(kind=kind, target=round(float(found), 1), low=low, high=high))
    if not any(one.kind is CheckKind.SPREAD for one in wanted):
        wanted.insert(0, WantedAsked(kind=CheckKind.SPREAD))
    minutes = dispersing_minutes_per_load(kept.paste.mulling)
    facts = kept.plan.facts
    target = kept.paste.target_reduced_pvc or facts.target_reduced_pvc
    parts = kept.plan.oil.parts
    doses = [
        RecipeDose(additive_key=line.dosing.additive.key, dose_pct=round(line.dosing.dose_pct, 3))
        for line in kept.plan.additives
        if line.dosing.source in kept.paste.additives
    ] + [
        RecipeDose(additive_key=f"{w.pigment.key}-extender", dose_pct=round(w.extends_pct, 3))
        for w in kept.plan.lines
        if w.extends_pct is not None
    ]
    main = [w for w in kept.plan.lines if w.extends_pct is None]
    whole = sum(w.share for w in main)
    return Suggested(
        kept.name,
        RecipeAsked(
            pigments=[PartAsked(pigment_key=w.pigment.key, parts=round(100 * w.share / whole, 2)) for w in main],
            oil_keys=[part.key for part in parts] or [kept.plan.oil.key],
            oil_parts=[round(100 * part.share, 2) for part in parts] or None,
            stance=Stance.ADDITIVES if doses else Stance.PIGMENT_AND_OIL,
            additives=doses,
            reduced_pvc=round(min(1.15, max(0.5, target)), 4),
            minutes_per_load=round(minutes, 1) if minutes else None,
            fineness_um=facts.target_fineness_um,
            checks=wanted,
            standard_batch=number,
        ),
    )


class AgainAsked(_Document):
    """The same again: how much, and of which lots where they are known. An empty lot means the library's figure."""

    version: RowId | None = None
    pigment_lots: Annotated[list[RowId | None], Field(max_length=12)] = []
    oil_lot_id: RowId | None = None
    oil_key: Annotated[Words, Field(max_length=80)] | None = None
    tubes: Annotated[list[TubesAsked], Field(max_length=24)] | None = None
    pigment_g: Grams | None = None
    slab_id: RowId | None = None
    muller_id: RowId | None = None


@dataclass(frozen=True, slots=True)
class Changed:
    """One thing that is different this time, and why it changes what is poured."""

    what: str
    before: str
    after: str
    why: str


@dataclass(frozen=True, slots=True)
class Again:
    """The same paint again: what to ask of the plan, its ratio, and what is different from the batch it follows."""

    plan: PlanAsked
    reduced_pvc: float
    oil_g_per_100g: float
    low: float
    high: float
    like: int | None
    like_oil_g_per_100g: float | None
    rebuilt_oil_g_per_100g: float | None
    changes: tuple[Changed, ...]


def again(session: Session, recipe_id: int, asked: AgainAsked) -> Again:
    """Carry a recipe to these lots, this oil and this amount: the body is kept, not the ratio (section 7).

    Raises Refused, Missing.
    """
    version = version_of(session, recipe_id, asked.version)
    recipe = version.asked
    if asked.pigment_lots and len(asked.pigment_lots) != len(recipe.pigments):
        raise Refused(
            "pigment_lots", f"{len(asked.pigment_lots)} lots", f"{len(recipe.pigments)}, one a pigment, or none"
        )
    if (asked.tubes is None) == (asked.pigment_g is None):
        raise Refused("tubes", "exactly one of the two is needed", "either tubes or pigment_g")
    lots = asked.pigment_lots or [None] * len(recipe.pigments)
    lines = [
        LineAsked(lot_id=lot, pigment_key=None if lot else part.pigment_key, parts=part.parts)
        for part, lot in zip(recipe.pigments, lots, strict=True)
    ]
    oil = _oil_of(recipe)
    if asked.oil_lot_id or asked.oil_key:
        oil = OilAsked(lot_id=asked.oil_lot_id, oil_key=None if asked.oil_lot_id else asked.oil_key)
    wish = PlanAsked(
        lines=lines, oil=oil, reduced_pvc=recipe.reduced_pvc, tubes=asked.tubes, pigment_g=asked.pigment_g,
        slab_id=asked.slab_id, muller_id=asked.muller_id, target_fineness_um=recipe.fineness_um,
        recipe_id=recipe_id, recipe_version=version.version,
        additives=[AdditiveAsked(additive_key=one.additive_key, dose_pct=one.dose_pct) for one in recipe.additives],
    )  # fmt: skip
    planned = plan.compute(session, wish).plan
    for n, (weigh, part) in enumerate(zip(planned.lines, recipe.pigments, strict=False)):
        if weigh.pigment.key != part.pigment_key:
            raise Refused(f"pigment_lots.{n}", f"that lot is {weigh.pigment.name}", f"a lot of {part.pigment_key}")
    like = _like(session, recipe_id, recipe)
    new = _wets(planned.facts)
    rebuilt = None
    changes: list[Changed] = []
    if like is not None and like.oil_g_per_100g is not None:
        rebuilt = rebuild(like.oil_g_per_100g, _wets(like.facts), new).oil_g_per_100g
        changes = _changes(session, like, planned.facts, [w.pigment.lot_id for w in planned.lines], planned.oil.lot_id)
    scale = planned.scale
    return Again(
        wish, recipe.reduced_pvc, planned.ratio.value, scale.band_low_oil_g_per_100g, scale.band_high_oil_g_per_100g,
        like.number if like else None, like.oil_g_per_100g if like else None, rebuilt, tuple(changes),
    )  # fmt: skip


def _like(session: Session, recipe_id: int, recipe: RecipeAsked) -> OfRecipe | None:
    """The batch to be like: the last released one, else the standard."""
    made = batches.of_recipe(session, recipe_id)
    released = [b for b in made if b.release in batches.RELEASED]
    if released:
        return released[-1]
    standard = [b for b in made if b.number == recipe.standard_batch]
    return standard[-1] if standard else None


def _wets(facts: Facts) -> Wets:
    return Wets(facts.oil_absorption_g_per_100g, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)


def _changes(
    session: Session, like: OfRecipe, now: Facts, lots: list[int | None], oil_lot: int | None
) -> list[Changed]:
    changes = []
    then = like.facts
    new_lots = [lot for lot in (*lots, oil_lot) if lot is not None and lot not in like.lot_ids]
    absorbed, absorbs = then.oil_absorption_g_per_100g, now.oil_absorption_g_per_100g
    if abs(absorbs / absorbed - 1) > 0.005:
        takes = "more" if absorbs > absorbed else "less"
        source = "another lot or oil" if new_lots else "what was learned since"
        changes.append(
            Changed(
                "oil absorption in this oil", f"{absorbed:.1f} g per 100 g", f"{absorbs:.1f} g per 100 g",
                f"By {source} it takes {takes} oil to the same body.",
            )
        )  # fmt: skip
    if abs(now.oil_density_g_per_ml - then.oil_density_g_per_ml) > 0.0005:
        changes.append(
            Changed(
                "density of the oil", f"{then.oil_density_g_per_ml:.3f} g/ml", f"{now.oil_density_g_per_ml:.3f} g/ml",
                "Oil wets by volume: the same body is another weight of it.",
            )
        )  # fmt: skip
    if abs(now.target_reduced_pvc - then.target_reduced_pvc) > 0.0005:
        changes.append(
            Changed(
                "target, reduced PVC", f"{then.target_reduced_pvc:.3f}", f"{now.target_reduced_pvc:.3f}",
                "This version of the recipe aims at another body.",
            )
        )  # fmt: skip
    return changes


@dataclass(frozen=True, slots=True)
class LadderStart:
    """What a recipe gives a ladder: its ratio in g oil per 100 g of powder, and targets from its checks."""

    name: str
    recipe_id: int
    oil_g_per_100g: float
    targets: tuple[TargetAsked, ...]
    additives: tuple[RecipeDose, ...]


def ladder_start(session: Session, recipe_id: int) -> LadderStart:
    """Where a ladder for a recipe starts. Raises Missing."""
    version = version_of(session, recipe_id, None)
    recipe = version.asked
    bare = recipe.model_copy(update={"additives": []})
    ratio = plan.compute(session, plan_of(bare, pigment_g=100.0)).plan.ratio.value
    targets = []
    for wanted in recipe.checks:
        low, high = wanted.low, wanted.high
        if wanted.kind is CheckKind.SPREAD and (low or high):
            # The wider it spreads, the less it yields: the ends change places.
            targets.append(TargetAsked(what=Measured.YIELD, at_least=_stress(high), at_most=_stress(low)))
        elif wanted.kind is CheckKind.STRING and (low or high):
            targets.append(TargetAsked(what=Measured.STRING, at_least=low or None, at_most=high))
        elif wanted.kind is CheckKind.BLEED and (high is not None or wanted.target is not None):
            targets.append(TargetAsked(what=Measured.BLEED, at_most=high if high is not None else wanted.target))
    return LadderStart(name_of(session, recipe_id), recipe_id, round(ratio, 1), tuple(targets), tuple(recipe.additives))


def _stress(diameter_mm: float | None) -> float | None:
    return round(spread([diameter_mm]).yield_stress_pa, 1) if diameter_mm else None


def take_ladder(session: Session, now: datetime, recipe_id: int, ladder_id: int) -> int:
    """Put what a ladder found into a recipe as a new version, the ladder its evidence; the version. Raises Refused."""
    found = additives.found(session, ladder_id)
    last = version_of(session, recipe_id, None).asked
    keys = {key for key, _ in found.doses}
    doses = [one for one in last.additives if one.additive_key not in keys]
    doses += [RecipeDose(additive_key=key, dose_pct=pct, ladder_id=ladder_id) for key, pct in found.doses]
    asked = last.model_copy(update={"additives": doses, "stance": Stance.ADDITIVES})
    return change(session, now, recipe_id, asked, found.says)
