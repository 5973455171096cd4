"""Pots as they are kept: what was planned of each, its log, and what both come to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid5

from pydantic import TypeAdapter
from sqlalchemy import insert, select
from sqlalchemy.dialects.postgresql import insert as insert_once
from sqlalchemy.orm import Session

from niddy.core import sticks as core
from niddy.core.acting import Logged
from niddy.core.cautions import Caution
from niddy.core.contents import Content, Contents, Role
from niddy.core.documents import Step, upgraded
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.sources import lot_of, of_lot
from niddy.core.sticks import Mould, Pot, PotAct, PotFacts, PotMaterial, PotPlan
from niddy.core.sticks.acts import AnyPotAct
from niddy.db.base import table_of
from niddy.db.sticks import StickPot, StickSet
from niddy.studio import jobs, log, materials
from niddy.studio.errors import Conflict, Missing
from niddy.studio.log import Entry
from niddy.studio.recorder import Acts
from niddy.studio.sticks.asked import SetAsked
from niddy.studio.sticks.planning import Computed, SetPlanned, compute
from niddy.studio.sticks.set_shown import ColourShown

ROOM = "sticks"


@dataclass(frozen=True, slots=True)
class PotPlanned:
    """What a pot was planned as, for good: later lots and lessons change nothing of it."""

    plan: PotPlan
    materials: tuple[PotMaterial, ...]
    moulds: tuple[tuple[str, Mould], ...]
    base_id: int
    base_name: str
    base_version: int
    masstone_srgb: str
    reduced_pvc: float
    by_weight_pct: float
    pour_factor: float
    crayon: bool
    remarks: tuple[str, ...]
    cautions: tuple[Caution, ...]


PLANNED: TypeAdapter[PotPlanned] = TypeAdapter(PotPlanned)
PLANNED_VERSION = 1
_STEPS: dict[int, Step] = {}
POT_ACTS: Acts[PotAct, PotFacts] = Acts(AnyPotAct, PotFacts)


@dataclass(frozen=True, slots=True)
class PotKept:
    """A pot: its row in short, what was planned, its log and the fold of it."""

    number: int
    job_id: int
    name: str
    status: Status
    started_at: datetime
    set_id: int | None
    recipe_id: int | None
    base_version_id: int
    verdict: str | None
    last_seq: int
    planned: PotPlanned
    entries: tuple[Entry, ...]
    acts: tuple[Logged[PotAct, PotFacts], ...]
    pot: Pot

    def material(self, source: str) -> PotMaterial | None:
        """A material of the plan, or of what was put in beside it."""
        return next((one for one in (*self.planned.materials, *self.beside) if one.source == source), None)

    @property
    def beside(self) -> tuple[PotMaterial, ...]:
        """Materials that went in beside the plan, with a paste of an earlier batch."""
        found: dict[str, PotMaterial] = {}
        for logged in self.acts:
            for material in logged.facts.materials:
                found.setdefault(material.source, material)
        return tuple(found.values())

    @property
    def acted_at(self) -> datetime | None:
        """When something was done last."""
        return max((entry.made_at for entry in self.entries), default=None)

    @property
    def names(self) -> dict[str, str]:
        """The names of its materials by source."""
        return {material.source: material.name for material in (*self.beside, *self.planned.materials)}


def take_to_pots(session: Session, now: datetime, request_id: UUID, asked: SetAsked) -> tuple[int, ...]:
    """Begin a pot for each colour of a set, in the order of casting; their numbers. Sent twice it begins them once.

    Raises Refused for a colour that cannot be cast or would never dry, Conflict, Missing.
    """
    doc = asked.model_dump(mode="json")
    made = session.scalar(select(StickSet).where(StickSet.request_id == request_id))
    if made is not None:
        if made.asked != doc:
            raise Conflict("request_id", "this id began something else already", "a new id for another")
        return tuple(
            session.scalars(select(StickPot.number).where(StickPot.set_id == made.id).order_by(StickPot.number))
        )
    computed = compute(session, asked)
    for n, shown in enumerate(computed.planned.colours):
        try:
            core.dries_or_crayon(shown.plan, crayon=asked.crayon)
        except Refused as refused:
            field = "crayon" if refused.field == "crayon" else f"colours.{n}.{refused.field}"
            raise Refused(field, refused.problem, refused.accepted) from None
    name = asked.name.strip() or f"{len(asked.colours)} colours of {computed.base.name}"
    begun_set = insert_once(table_of(StickSet)).values(request_id=request_id, name=name, asked=doc, made_at=now)
    set_id = session.scalar(begun_set.on_conflict_do_nothing().returning(StickSet.id))
    if set_id is None:
        # Another window was quicker with the same request.
        return take_to_pots(session, now, request_id, asked)
    pots = []
    for n in computed.planned.order:
        planned = _planned(session, computed, n, asked)
        colour = asked.colours[n]
        begun = jobs.begin_job(
            session,
            ROOM,
            now,
            uuid5(request_id, f"pot-{n}"),
            computed.planned.colours[n].plan.name,
            {"set": set_id, "colour": n},
            plan=PLANNED.dump_python(planned, mode="json"),
            plan_version=PLANNED_VERSION,
        )
        lots = [lot_of(material.source) for material in planned.materials]
        session.execute(
            insert(_POT).values(
                number=begun.number,
                job_id=begun.job_id,
                set_id=set_id,
                base_version_id=computed.base.version_id,
                recipe_id=colour.recipe_id,
                masstone_srgb=planned.masstone_srgb,
                target_dmm=planned.plan.target_dmm,
                lot_ids=sorted({lot for lot in lots if lot is not None}),
            )
        )
        pots.append(begun.number)
    return tuple(pots)


_POT = table_of(StickPot)


def pots_of(session: Session, set_id: int) -> tuple[int, ...]:
    """The pots of a set, in the order of casting."""
    return tuple(session.scalars(select(StickPot.number).where(StickPot.set_id == set_id).order_by(StickPot.number)))


def _planned(session: Session, computed: Computed, n: int, asked: SetAsked) -> PotPlanned:
    planned, base = computed.planned, computed.base
    shown = planned.colours[n]
    made, oil = shown.plan.stick, planned.oil
    base_g, waxes = _base_of(session, computed, made.base_g)
    of_pigment = [
        PotMaterial(
            line.pigment.source,
            Role.PIGMENT,
            line.pigment.name,
            line.pigment.lot_code,
            line.pigment.density_g_per_ml,
            line.pigment.demand_g_per_100g,
            line.pigment.hazards,
            line.pigment.ci_name,
            line.pigment.loose_density_g_per_ml,
        )
        for line in shown.plan.lines
    ]
    of_oil = PotMaterial(oil.source, Role.OIL, oil.name, oil.lot_code, oil.density_g_per_ml, None, oil.hazards)
    sinking = tuple((line.pigment.density_g_per_ml, core.SIZE_UM[line.pigment.particle]) for line in shown.plan.lines)
    return PotPlanned(
        PotPlan(
            base.mix,
            computed.oil,
            base_g,
            {oil.source: made.oil_g},
            {line.pigment.source: line.grams for line in shown.plan.lines},
            asked.way,
            shown.plan.target_dmm,
            base.offset.offset_ln,
            shown.plan.offset_sd_ln,
            made.melt_c,
            made.pour_low_c,
            made.pour_high_c,
            made.water_bath,
            sum(m.ml * m.count for m in shown.moulds) / shown.plan.sticks,
            shown.plan.sticks,
            shown.plan.cooling_min,
            sinking,
        ),
        (*waxes, of_oil, *of_pigment),
        tuple((kept.name, Mould(kept.ml, count)) for kept, count in computed.moulds[n]),
        base.base_id,
        base.name,
        base.version,
        shown.plan.masstone_srgb,
        shown.plan.reduced_pvc,
        shown.by_weight_pct,
        made.pour_factor,
        asked.crayon,
        shown.remarks,
        _cautions(planned, shown),
    )


def _cautions(planned: SetPlanned, shown: ColourShown) -> tuple[Caution, ...]:
    """The cautions of a set that are this colour's: those of its own pigments, and those of base and oil."""
    own = {line.pigment.name for line in shown.plan.lines}
    others = {line.pigment.name for colour in planned.colours for line in colour.plan.lines} - own
    return tuple(caution for caution in planned.cautions if set(caution.because) - others)


def _base_of(session: Session, computed: Computed, grams: float) -> tuple[dict[str, float], list[PotMaterial]]:
    """What of the base goes into a pot: the block, or each wax from its fullest lot."""
    base, block = computed.base, computed.planned.block
    if block is not None:
        source = of_lot(block.lot_id, "")
        name = f"{base.name}, block"
        return {source: grams}, [
            PotMaterial(source, Role.WAX, name, block.code, base.mix.density_g_per_ml, None, block.hazards)
        ]
    whole = sum(share for _, share in base.waxes)
    weights: dict[str, float] = {}
    found: list[PotMaterial] = []
    in_stock = materials.lots(session, materials.WAX)
    for wax, share in base.waxes:
        lots = [lot for lot in in_stock if lot.material_key == wax.key]
        lot = max(lots, key=lambda one: one.on_hand) if lots else None
        source = of_lot(lot.id if lot else None, wax.key)
        weights[source] = grams * share / whole
        hazards = lot.hazards if lot else wax.hazards
        found.append(
            PotMaterial(source, Role.WAX, wax.name, lot.code if lot else "", wax.density_g_per_ml, None, hazards)
        )
    return weights, found


def row_of(session: Session, number: int) -> StickPot:
    """The row of a pot. Raises Missing."""
    # Acts are written past the session's own copy of the row: it is read anew each time.
    wanted = select(StickPot).where(StickPot.number == number).execution_options(populate_existing=True)
    row = session.scalar(wanted)
    if row is None:
        raise Missing("pot", number)
    return row


def pot(session: Session, number: int) -> PotKept:
    """A pot with its log. Raises Missing."""
    row = row_of(session, number)
    entries = log.entries(session, row.job_id)
    acts = tuple(POT_ACTS.logged(entry) for entry in entries)
    doc = upgraded(row.plan or {}, row.plan_version, PLANNED_VERSION, _STEPS)
    return PotKept(
        row.number,
        row.job_id,
        row.name,
        Status(row.status),
        row.started_at,
        row.set_id,
        row.recipe_id,
        row.base_version_id,
        row.verdict,
        row.last_seq,
        PLANNED.validate_python(doc),
        entries,
        acts,
        core.fold(acts),
    )


def state_of(text: str) -> core.Pot:
    """What a log as text comes to."""
    return core.fold(POT_ACTS.logged(entry) for entry in log.from_text(text))


def contents_of(kept: PotKept) -> Contents:
    """What is in a pot, with the hazards that came with each gram."""
    state = kept.pot
    found = []
    grams = {**state.bases, **state.oils, **{source: matter.grams for source, matter in state.pigments.items()}}
    for source, amount in grams.items():
        material = kept.material(source)
        if material is None or amount <= 0:
            continue
        found.append(
            Content(
                source,
                material.role,
                material.name,
                amount,
                material.density_g_per_ml,
                material.hazards,
                material.ci_name,
            )
        )
    return tuple(found)
