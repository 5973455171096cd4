"""Additives: what can be stirred in, gels made beforehand, ladders run and read, body by intent."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, TypeAdapter
from sqlalchemy import Select, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from niddy.core import additives as core
from niddy.core import checks, gels, intent, ladder
from niddy.core.additives import DoseBasis, Moment
from niddy.core.cautions import cautions_for
from niddy.core.errors import MIN_MASS_G, MIN_VOLUME_ML, Refused
from niddy.core.gels import GelPlan
from niddy.core.intent import Brush, Cupboard, Intent, Keep, Known, Route, Stand, Thread
from niddy.core.ladder import Design, Fit, Ingredient, Measured, RungRead, Target
from niddy.core.materials import Additive
from niddy.db.additives import Ladder, LadderAct
from niddy.reference import library
from niddy.studio import materials
from niddy.studio.amounts import OilRatio
from niddy.studio.errors import Conflict, Missing
from niddy.studio.materials import GEL, Asked, LotKept, NewGel
from niddy.studio.times import act_time
from niddy.studio.words import Words

RowId = Annotated[int, Field(strict=True, ge=1, le=2_147_483_647)]
Key = Annotated[Words, Field(min_length=1, max_length=80)]
Pct = Annotated[float, Field(strict=True, ge=0, le=60)]
Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]
BLEED_AFTER = timedelta(hours=checks.BLEED_AFTER_H)
HALOS_WAIT_FOR = timedelta(days=21)
"""A ladder begun longer ago than this asks for nothing any more."""


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


# --- what there is


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
    """One additive: its dose and ceiling on its basis, when it goes in, its forms here, and what is known of it."""

    additive: Additive
    moment: Moment
    gels: bool
    usual_strength: float | None
    keeps_days: int | None
    forms: tuple[Form, ...]
    known: Known | None
    beware: tuple[str, ...]


def choices(session: Session, now: datetime) -> tuple[Choice, ...]:
    """Every additive of the library with the studio's own lots and gels of it."""
    forms: dict[str, list[Form]] = {}
    for kind in ("additive", GEL):
        for lot in materials.lots(session, kind=kind):
            past = lot.use_by is not None and lot.use_by < now.date()
            forms.setdefault(lot.material_key, []).append(
                Form(lot.id, lot.code, lot.name, lot.strength, lot.on_hand, lot.use_by, past)
            )
    told = known(session)
    return tuple(
        Choice(
            one, core.moment_of(one), gels.can_gel(one), gels.usual_strength(one) if gels.can_gel(one) else None,
            core.keeps_days(one), tuple(forms.get(one.key, ())), told.get(one.key),
            tuple(f"{caution.title}. {caution.text}" for caution in cautions_for([(one.name, one.hazards)])),
        )
        for one in library().additives.values()
    )  # fmt: skip


# --- gels


def plan_gel(session: Session, additive_key: str, grams: float, strength: float | None) -> GelPlan:
    """A gel on paper. Raises Refused, Missing."""
    additive = materials.additive_of(session, additive_key)
    if additive is None:
        raise Missing("additive", additive_key, "additive_key")
    return gels.plan(additive, grams, strength)


class GelAsked(_Document):
    """A gel that was made: what was weighed in and out, in g, and the code on its jar."""

    additive_key: Key
    oil_key: Key
    additive_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=1_000)]
    oil_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=2_000)]
    yield_g: Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=3_000)]
    code: Annotated[Words, Field(max_length=60)]
    additive_lot_id: RowId | None = None
    oil_lot_id: RowId | None = None
    note: Annotated[Words, Field(max_length=500)] = ""


def make_gel(session: Session, now: datetime, asked: GelAsked) -> LotKept:
    """Keep a gel as a lot: its strength is from what was weighed in. Raises Refused, Missing."""
    additive = materials.additive_of(session, asked.additive_key)
    if additive is None:
        raise Missing("additive", asked.additive_key, "additive_key")
    if not gels.can_gel(additive):
        raise Refused("additive_key", f"{additive.name} is not worked into warm oil", ", ".join(gels.HEATING))
    if asked.oil_key not in library().oils and not asked.oil_key.startswith(materials.OWN_PREFIX):
        raise Missing("oil", asked.oil_key, "oil_key")
    if gels.strength_of(asked.additive_g, asked.oil_g) > 0.5:
        raise Refused("additive_g", "more than half of it is additive", f"up to {asked.oil_g:g} g")
    gels.check_yield(asked.additive_g, asked.oil_g, asked.yield_g)
    lot_id = materials.keep_gel(
        session, now,
        NewGel(
            asked.additive_key, asked.oil_key, asked.additive_g, asked.oil_g, asked.yield_g, asked.code,
            now.date() + timedelta(days=gels.SHELF_LIFE_DAYS), asked.additive_lot_id, asked.oil_lot_id, asked.note,
        ),
    )  # fmt: skip
    return materials.lot(session, lot_id)


# --- ladders


class LadderPart(_Document):
    """One additive of a ladder: its top dose, from a lot (dry, or a gel) or from the library, dry."""

    additive_key: Key
    lot_id: RowId | None = None
    top_dose_pct: Annotated[float, Field(strict=True, ge=0.001, le=60)]


class TargetAsked(_Document):
    """What a measure has to be, in its unit: at least, at most, or both."""

    what: Measured
    at_least: Annotated[float, Field(strict=True, ge=0, le=100_000)] | None = None
    at_most: Annotated[float, Field(strict=True, ge=0, le=100_000)] | None = None


class LadderAsked(_Document):
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


class RungAct(StrEnum):
    """What can happen to a rung: weighed out, mixed and dabbed, and its three readings."""

    WEIGHED = "weighed"
    MIXED = "mixed"
    SPREAD = "spread"
    STRING = "string"
    BLEED = "bleed"


class RungActAsked(_Document):
    """One tick or reading of a rung, with an id made by the client. `undo` takes the last of its kind back.

    `spread` has `diameters_mm` (two, at right angles), and `volume_ml`, `mass_kg`, `plate_mm` where they are not
    the usual; `string` and `bleed` have `length_mm`.
    """

    id: UUID
    rung: Annotated[int, Field(strict=True, ge=0, le=40)]
    kind: RungAct
    made_at: AwareDatetime
    diameters_mm: Annotated[list[Millimetres], Field(max_length=8)] | None = None
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None
    length_mm: Millimetres | None = None
    undo: bool = False


@dataclass(frozen=True, slots=True)
class RungState:
    """A rung as it stands: ticks, readings (spread in mm and the stress it tells in Pa), and when bleed can be read."""

    weighed: bool
    mixed_at: datetime | None
    spread_mm: float | None
    yield_pa: float | None
    string_mm: float | None
    bleed_mm: float | None
    bleed_due_at: datetime | None
    bleed_is_due: bool


@dataclass(frozen=True, slots=True)
class LadderPage:
    """A ladder: what to weigh, how far it is, what its readings say, and what is still missing."""

    id: int
    name: str
    made_at: datetime
    recipe_id: int | None
    asked: LadderAsked
    parts: tuple[str, ...]
    basis: DoseBasis
    design: Design
    rungs: tuple[RungState, ...]
    fit: Fit | None
    missing: tuple[str, ...]
    next_line: str
    next_reason: str
    next_rung: int | None
    next_kind: RungAct | None
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LadderLine:
    """A ladder as a list shows it."""

    id: int
    name: str
    made_at: datetime
    recipe_id: int | None
    parts: tuple[str, ...]
    says: str
    waits: str


def _ingredients(session: Session, asked: LadderAsked) -> list[Ingredient]:
    stirred = materials.dosings(
        session, [(Asked(one.lot_id, one.additive_key), one.top_dose_pct) for one in asked.additives], {}
    )
    keys = [one.additive_key for one in asked.additives]
    if len(set(keys)) < len(keys):
        raise Refused("additives.1.additive_key", "the same additive twice", "another additive, or one alone")
    if stirred.extenders:
        raise Refused(
            "additives.0.additive_key", "an extender belongs in the dry blend", "an additive stirred into paste"
        )
    for n, (one, dosing) in enumerate(zip(asked.additives, stirred.dosings, strict=True)):
        if dosing.additive.key != one.additive_key:
            wanted = f"a lot of {one.additive_key}"
            raise Refused(f"additives.{n}.lot_id", f"that lot is {dosing.additive.name}", wanted)
    return [
        Ingredient(core.named(one), one.dose_pct, one.basis, one.additive.dose_ceiling_pct, one.gel_strength)
        for one in stirred.dosings
    ]


def design(session: Session, asked: LadderAsked) -> Design:
    """A ladder on paper. Raises Refused, Missing."""
    parts = _ingredients(session, asked)
    top = parts[0].top_dose_pct
    doses = asked.doses or ladder.even_doses(asked.rungs, top)
    paste = ladder.mother(asked.oil_g_per_100g, asked.paste_per_rung_g, parts, max(doses))
    made = ladder.design(paste, parts, doses, trial=asked.trial)
    _check_targets(asked)
    return made


def _check_targets(asked: LadderAsked) -> None:
    ladder.check_targets(_targets(asked))


def _targets(asked: LadderAsked) -> list[Target]:
    return [Target(one.what, one.at_least, one.at_most) for one in asked.targets]


def begin(session: Session, now: datetime, request_id: UUID, asked: LadderAsked) -> int:
    """Keep a ladder to be run; its id. The same `request_id` again gives the same ladder. Raises Refused, Missing."""
    made = design(session, asked)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name for the ladder")
    document = {"asked": asked.model_dump(mode="json"), "design": _DESIGN.dump_python(made, mode="json")}
    found = session.scalar(
        insert(Ladder)
        .values(
            request_id=request_id, name=asked.name.strip(), made_at=now, recipe_id=asked.recipe_id, design=document,
            retired=False,
        )
        .on_conflict_do_nothing(index_elements=[Ladder.request_id])
        .returning(Ladder.id)
    )  # fmt: skip
    if found is not None:
        return int(found)
    earlier = session.execute(select(Ladder.id, Ladder.design).where(Ladder.request_id == request_id)).one()
    if earlier.design["asked"] != document["asked"]:
        raise Conflict("request_id", "this id began another ladder already", "a new id for another ladder")
    return int(earlier.id)


_DESIGN = TypeAdapter(Design)


def _row(session: Session, ladder_id: int, *, lock: bool = False) -> Ladder:
    row = session.get(Ladder, ladder_id, with_for_update=lock or None)
    if row is None:
        raise Missing("ladder", ladder_id)
    return row


def retarget(session: Session, now: datetime, ladder_id: int, targets: list[TargetAsked]) -> LadderPage:
    """Change what the ladder is asked for; readings stay. Raises Refused, Missing."""
    row = _row(session, ladder_id, lock=True)
    asked = LadderAsked.model_validate(row.design["asked"]).model_copy(update={"targets": targets})
    _check_targets(asked)
    row.design = {**row.design, "asked": asked.model_dump(mode="json")}
    _note_outcome(session, row)
    return page(session, now, ladder_id)


def act(session: Session, now: datetime, ladder_id: int, asked: RungActAsked) -> LadderPage:
    """Log a tick or a reading of one rung. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    row = _row(session, ladder_id, lock=True)
    value = asked.model_dump(mode="json", exclude={"id", "rung", "kind", "made_at"}, exclude_defaults=True)
    earlier = session.get(LadderAct, asked.id)
    if earlier is not None:
        if (earlier.ladder_id, earlier.rung, earlier.kind, earlier.value) != (
            ladder_id, asked.rung, asked.kind, value,
        ):  # fmt: skip
            raise Conflict("id", "this id belongs to another act already", "a new id for another act")
        return page(session, now, ladder_id)
    made = _DESIGN.validate_python(row.design["design"])
    if asked.rung >= len(made.rungs):
        raise Refused("rung", f"there is no rung {asked.rung}", f"0 to {len(made.rungs) - 1}")
    state = _states(session, ladder_id, now, len(made.rungs))[asked.rung]
    if not asked.undo:
        _check_act(asked, state, now)
    last = session.scalar(select(func.max(LadderAct.seq)).where(LadderAct.ladder_id == ladder_id)) or 0
    session.add(
        LadderAct(
            id=asked.id, ladder_id=ladder_id, seq=last + 1, rung=asked.rung, kind=asked.kind, value=value,
            made_at=asked.made_at, recorded_at=now,
        )
    )  # fmt: skip
    session.flush()
    _note_outcome(session, row)
    return page(session, now, ladder_id)


def _check_act(asked: RungActAsked, state: RungState, now: datetime) -> None:
    match asked.kind:
        case RungAct.SPREAD:
            if not asked.diameters_mm or len(asked.diameters_mm) != 2:
                raise Refused("diameters_mm", "one of two diameters is missing", "two diameters at right angles, in mm")
            checks.spread(
                asked.diameters_mm, asked.volume_ml or checks.SYRINGE_ML, asked.mass_kg or checks.PLATES_KG,
                asked.plate_mm or checks.PLATE_MM,
            )  # fmt: skip
        case RungAct.STRING:
            if not asked.length_mm:
                raise Refused("length_mm", "missing", "the length at which the thread broke, above 0 mm")
        case RungAct.BLEED:
            if asked.length_mm is None:
                raise Refused("length_mm", "missing", "the width of the halo, 0 mm or more")
            if state.mixed_at is None:
                raise Refused("kind", "this rung has no dab yet", "bleed a day after the dab was made")
            if asked.made_at < state.mixed_at + BLEED_AFTER * 0.75:
                raise Refused(
                    "kind", "its dab is younger than a day", f"bleed from {state.mixed_at + BLEED_AFTER:%d %B %H:%M}"
                )
        case RungAct.MIXED:
            if not state.weighed:
                raise Refused("kind", "this rung was not weighed out yet", "weighed first")
        case RungAct.WEIGHED:
            pass
    act_time("made_at", asked.made_at, now)


def _states(session: Session, ladder_id: int, now: datetime, rungs: int) -> list[RungState]:
    rows = session.scalars(select(LadderAct).where(LadderAct.ladder_id == ladder_id).order_by(LadderAct.seq))
    last: dict[tuple[int, str], LadderAct] = {}
    for row in rows:
        if row.value.get("undo"):
            last.pop((row.rung, row.kind), None)
        else:
            last[row.rung, row.kind] = row
    states = []
    for rung in range(rungs):
        told = {kind: last.get((rung, kind)) for kind in RungAct}
        mixed, spread = told[RungAct.MIXED], told[RungAct.SPREAD]
        diameter = stress = None
        if spread is not None:
            value = spread.value
            read = checks.spread(
                value["diameters_mm"], value.get("volume_ml") or checks.SYRINGE_ML,
                value.get("mass_kg") or checks.PLATES_KG, None,
            )  # fmt: skip
            diameter, stress = read.diameter_mm, read.yield_stress_pa
        due = mixed.made_at + BLEED_AFTER if mixed is not None else None
        bleed = _length(told[RungAct.BLEED])
        states.append(
            RungState(
                told[RungAct.WEIGHED] is not None, mixed.made_at if mixed else None, diameter, stress,
                _length(told[RungAct.STRING]), bleed, due, due is not None and bleed is None and due <= now,
            )
        )  # fmt: skip
    return states


def _length(row: LadderAct | None) -> float | None:
    return float(row.value["length_mm"]) if row is not None else None


def _read(made: Design, states: list[RungState]) -> list[RungRead]:
    return [
        RungRead(rung.additives[0].dose_pct, state.yield_pa, state.string_mm, state.bleed_mm)
        for rung, state in zip(made.rungs, states, strict=True)
    ]


def _fitted(asked: LadderAsked, made: Design, states: list[RungState]) -> tuple[Fit | None, tuple[str, ...]]:
    """What the readings say so far: the fit, with its answer once every target's measure has rungs enough."""
    read = _read(made, states)
    counts = {what: sum(one.value(what) is not None for one in read) for what in Measured}
    if max(counts.values()) < ladder.RUNGS_TO_FIT:
        return None, (f"{ladder.RUNGS_TO_FIT} rungs or more have to be checked before a line can be drawn.",)
    short = [
        f"{ladder.WORDS[one.what]}: {ladder.RUNGS_TO_FIT - counts[one.what]} more rungs to check"
        for one in asked.targets
        if counts[one.what] < ladder.RUNGS_TO_FIT
    ]
    top = max(rung.additives[0].dose_pct for rung in made.rungs)
    fitted = ladder.fit(read, [] if short else _targets(asked), top)
    return fitted, tuple(dict.fromkeys((*short, *fitted.missing)))


def _note_outcome(session: Session, row: Ladder) -> None:
    """Keep what a ladder taught beside it, for plans and routes to use."""
    asked = LadderAsked.model_validate(row.design["asked"])
    made = _DESIGN.validate_python(row.design["design"])
    fitted, _ = _fitted(asked, made, _states(session, row.id, row.made_at, len(made.rungs)))
    outcome: dict[str, Any] = {}
    if fitted is not None:
        slope = next((one.slope for one in fitted.lines if one.what is Measured.YIELD), None)
        answer = fitted.answer
        outcome = {
            "stiffening": slope if len(asked.additives) == 1 else None,
            "least": answer.dose_pct if answer else None,
            "none_does": answer is not None and answer.dose_pct is None,
            "says": answer.says if answer else "",
        }
    row.outcome = outcome or None
    session.flush()


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


def page(session: Session, now: datetime, ladder_id: int) -> LadderPage:
    """A ladder to be run and read. Raises Missing."""
    row = _row(session, ladder_id)
    asked = LadderAsked.model_validate(row.design["asked"])
    made = _DESIGN.validate_python(row.design["design"])
    states = _states(session, ladder_id, now, len(made.rungs))
    fitted, missing = _fitted(asked, made, states)
    additives = [library().additives[one.additive_key] for one in asked.additives]
    line, reason, next_rung, next_kind = _next(made, states, fitted, missing)
    return LadderPage(
        row.id, row.name, row.made_at, row.recipe_id, asked, tuple(w.name for w in made.rungs[0].additives),
        DoseBasis(additives[0].dose_basis), made, tuple(states), fitted, missing, line, reason,
        next_rung, next_kind,
        tuple(one.note for one in additives),
    )  # fmt: skip


def _next(
    made: Design, states: list[RungState], fitted: Fit | None, missing: tuple[str, ...]
) -> tuple[str, str, int | None, RungAct | None]:
    """What to do next in a line, why, and on which rung."""
    rungs = list(enumerate(zip(made.rungs, states, strict=True)))
    for n, (rung, state) in rungs:
        if not state.weighed:
            why = "Paste, then the additive, then plain oil: the same order each time."
            return f"Weigh out {rung.label}", why, n, RungAct.WEIGHED
        if state.mixed_at is None:
            why = "A minute with the knife, then a dab on blotting paper beside its label."
            return f"Mix {rung.label} and dab it", why, n, RungAct.MIXED
    for kind, what in ((RungAct.SPREAD, "spread_mm"), (RungAct.STRING, "string_mm")):
        for n, (rung, state) in rungs:
            if getattr(state, what) is None:
                return f"Read the {kind} of {rung.label}", "Fresh paste, all rungs within the hour.", n, kind
    for n, (rung, state) in rungs:
        if state.bleed_mm is None and state.bleed_due_at is not None:
            if state.bleed_is_due:
                return f"Read the halo of {rung.label}", "Its dab is a day old.", n, RungAct.BLEED
            return (
                "Wait for the halos",
                f"{rung.label} is a day old on {state.bleed_due_at:%A, %d %B, %H:%M} UTC.",
                n,
                None,
            )
    if fitted is not None and fitted.answer is not None:
        return fitted.answer.says, "From the lines below; the band is 90 %.", None, None
    why = "; ".join(missing) or "With targets the ladder tells the least dose that meets them."
    return "Say what is wanted", why, None, None


def lines(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """The ladders, newest first."""
    return _lines(session, now, select(Ladder).where(~Ladder.retired))


def _lines(session: Session, now: datetime, wanted: Select[Ladder]) -> tuple[LadderLine, ...]:
    rows = session.scalars(wanted.order_by(Ladder.made_at.desc(), Ladder.id.desc()).limit(60))
    shown = []
    for row in rows:
        made = _DESIGN.validate_python(row.design["design"])
        states = _states(session, row.id, now, len(made.rungs))
        done = sum(state.bleed_mm is not None for state in states)
        due = sum(state.bleed_is_due for state in states)
        says = (row.outcome or {}).get("says") or ""
        waits = f"{due} halos to read" if due else "" if says else f"{done} of {len(states)} rungs read"
        shown.append(
            LadderLine(
                row.id, row.name, row.made_at, row.recipe_id, tuple(w.name for w in made.rungs[0].additives), says,
                waits,
            )
        )  # fmt: skip
    return tuple(shown)


def halos_due(session: Session, now: datetime) -> tuple[LadderLine, ...]:
    """Ladders with halos to read now."""
    recent = select(Ladder).where(~Ladder.retired, Ladder.made_at > now - HALOS_WAIT_FOR)
    return tuple(one for one in _lines(session, now, recent) if "halos" in one.waits)


def retire(session: Session, ladder_id: int) -> None:
    """Put a ladder away: its readings are kept, but teach nothing any more. Raises Missing."""
    _row(session, ladder_id, lock=True).retired = True
    session.flush()


@dataclass(frozen=True, slots=True)
class Found:
    """The least dose of each additive of a ladder, for a recipe to take; and the sentence that says so."""

    name: str
    doses: tuple[tuple[str, float], ...]
    says: str


def found(session: Session, ladder_id: int) -> Found:
    """What a ladder found. Raises Refused where it found none, Missing."""
    row = _row(session, ladder_id)
    asked = LadderAsked.model_validate(row.design["asked"])
    made = _DESIGN.validate_python(row.design["design"])
    fitted, missing = _fitted(asked, made, _states(session, ladder_id, row.made_at, len(made.rungs)))
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


# --- body by intent


class IntentAsked(_Document):
    """What is wanted, in drawn choices, for a pigment in an oil: lots of the shelf or entries of the library."""

    stand: Stand
    brush: Brush
    thread: Thread
    keep: Keep
    pigment_lot_id: RowId | None = None
    pigment_key: Key | None = None
    oil_lot_id: RowId | None = None
    oil_key: Key | None = None


def routes(session: Session, asked: IntentAsked) -> tuple[Route, ...]:
    """Three ways to the paint wanted, by school. Raises Refused, Missing."""
    if asked.pigment_lot_id is None and asked.pigment_key is None:
        raise Refused("pigment_key", "no pigment named", "pigment_lot_id of a tin or pigment_key of the library")
    if asked.oil_lot_id is None and asked.oil_key is None:
        raise Refused("oil_key", "no oil named", "oil_lot_id of a bottle or oil_key of the library")
    oil = Asked(asked.oil_lot_id, asked.oil_key)
    gathered = materials.gather(session, [Asked(asked.pigment_lot_id, asked.pigment_key)], oil)
    bottle, _ = materials.portions(session, [(oil, 1.0)], "oil")
    thick, _ = materials.portions(
        session, [(Asked(None, key), 1.0) for key in ("linseed-stand", "linseed-sun-thickened")], "oil"
    )
    extenders = materials.dosings(
        session, [(Asked(None, key), 1.0) for key, one in library().additives.items() if core.extends_as(one)], {}
    )
    cupboard = Cupboard(
        dict(library().additives),
        {dosing.additive.key: pigment for dosing, pigment in extenders.extenders},
        {one.oil.key: one for one in thick},
    )
    wanted = Intent(asked.stand, asked.brush, asked.thread, asked.keep)
    return intent.routes(wanted, gathered.pigments[0], bottle[0], cupboard, known(session))
