"""The view a gloved maker glances at."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from sqlalchemy.orm import Session

from niddy.core import slab, telling
from niddy.core.additives import Moment
from niddy.core.advice import Advice, NextAct, Planned, advise, mulling_now, phase_now, planned_lines
from niddy.core.cautions import Caution, protection_words
from niddy.core.cleanup import CleaningStep, cleaning
from niddy.core.figure import Figure
from niddy.core.mulling import MullingNow
from niddy.core.plan import Bench, Plan, Scale, Tool, Tubes, fully_known, pigment_and_oil_only
from niddy.core.practice import PracticeNow
from niddy.core.sizing import tubes_filled
from niddy.core.slab import Paste, Reading, SessionPhase, Stage, Standing, Status, Verdict, Way
from niddy.core.telling import Habit, Measuring, Told
from niddy.core.ways import WayBack
from niddy.core.wetting import Body
from niddy.studio import batches, late
from niddy.studio.batches import BatchKept
from niddy.studio.slab.asked import DoubtNow, doubt_now
from niddy.studio.slab.bench import as_weighed, left_of_lots, must_be_ready, ways_back
from niddy.studio.slab.calibrated import calibrated
from niddy.studio.slab.figures import body_now, body_says, figures
from niddy.studio.slab.ladder_shown import RungNow, rungs_shown, scale_shown
from niddy.studio.slab.surfaces import SlabNow, surface_for
from niddy.studio.slab.words import TimelineEntry, late_words, timeline

LOG_SHOWN = 24
"""So many of the last acts the slab shows; the batch page has them all."""


@dataclass(frozen=True, slots=True)
class Ingredient:
    """One material on the slab: how much is in, how much the plan has, what the shelf still holds.

    Of a lot that is still wet all three are g as it is, and `liquid_share` of them leaves again.
    """

    source: str
    name: str
    lot_code: str
    masstone_srgb: str | None
    in_g: float
    planned_g: float
    on_hand_g: float | None
    density_g_per_ml: float
    loose_density_g_per_ml: float | None
    loose_density_measured: bool
    drop_g: float | None
    drop_measured: bool
    planned_told: Told | None = None
    liquid_share: float = 0.0


@dataclass(frozen=True, slots=True)
class AdditiveNow:
    """One additive of the batch, in g of the tin or pot it comes from: planned for the powder in, in, still to come.

    `drops_to_go` counts the rest in drops where it is counted so.
    """

    source: str
    name: str
    moment: Moment
    planned_g: float
    in_g: float
    missing_g: float
    left_out: bool
    density_g_per_ml: float
    drop_g: float | None
    drop_measured: bool
    drops_to_go: float | None


@dataclass(frozen=True, slots=True)
class SlabView:
    """All that the slab screen shows."""

    number: int
    name: str
    status: Status
    verdict: Verdict | None
    now: datetime
    last_seq: int
    masstone_srgb: str
    undertone_srgb: str
    pigments: tuple[Ingredient, ...]
    oil: Ingredient
    additives: tuple[AdditiveNow, ...]
    pigment_and_oil_only: bool
    fully_known: bool
    protection: str
    use_by: date | None
    trial: bool
    tubes: tuple[Tubes, ...]
    bench: Bench | None
    in_paste_g: float
    sampled_g: float
    ratio: Figure | None
    reduced_pvc: Figure | None
    volume: Figure | None
    leaving_ml: float
    fills: str
    body: Body | None
    body_says: str
    target_reduced_pvc: float
    target_body: Body
    scale: Scale
    rungs: tuple[RungNow, ...]
    advice: Advice
    advice_told: Told | None
    habit: Habit
    tool: Tool
    can_finish: bool
    untold: bool
    can_tell: bool
    ways: tuple[WayBack, ...]
    stage: Stage | None
    phase: SessionPhase
    ready: bool
    must_be_ready: bool
    mulling: MullingNow
    last_minutes_per_load: float | None
    target_fineness_um: float | None
    taps_by_eye: int
    bottle_g: float | None
    doubt: DoubtNow | None
    standing: Standing
    shortage: str
    dusty: bool
    grit_expected: str
    cleaning: tuple[CleaningStep, ...]
    cautions: tuple[Caution, ...]
    caution_always: str
    caution_deference: str
    timeline: tuple[TimelineEntry, ...]
    earlier: int
    late: tuple[LateNow, ...] = ()
    practice: PracticeNow | None = None
    eye_says: str = ""
    surface: SlabNow | None = None
    way: Way | None = None


@dataclass(frozen=True, slots=True)
class LateNow:
    """An act that came when the batch was over: in words, when it was made, and whether it can be taken in."""

    id: UUID
    text: str
    made_at: datetime
    came_at: datetime
    can_take: bool


def view(session: Session, now: datetime, number: int) -> SlabView:
    """The slab of a batch as it is. Raises Missing."""
    return view_of(session, now, batches.with_lots(session, number, LOG_SHOWN))


def view_of(session: Session, now: datetime, kept: BatchKept) -> SlabView:
    """The slab of a batch already read from the record."""
    plan = kept.plan
    if plan.facts.habit.how is not Measuring.SCALE:
        plan = calibrated(session, plan)
    facts, paste = plan.facts, kept.paste
    known = slab.know(paste, facts)
    reading = known.reading
    lines = planned_lines(plan)
    left = left_of_lots(session, plan, kept.left)
    muller = mulling_now(paste, plan, now)
    advice = as_weighed(plan, advise(known, lines, muller))
    ratio, reduced, volume = figures(known, plan)
    contents_known = fully_known((line.pigment.hazards for line in plan.lines), old_paint=plan.old_paint is not None)
    return SlabView(
        number=kept.number,
        name=kept.name,
        status=paste.status,
        verdict=paste.verdict,
        now=now,
        last_seq=kept.last_seq,
        masstone_srgb=plan.masstone_srgb,
        undertone_srgb=plan.undertone_srgb,
        pigments=tuple(
            Ingredient(
                line.pigment.source,
                line.pigment.name,
                line.pigment.lot_code,
                line.pigment.masstone_srgb,
                line.pigment.wet_g(paste.pigments.get(line.pigment.source, 0.0)),
                line.pigment.wet_g(line.mass.value),
                left.get(line.pigment.source),
                line.pigment.density_g_per_ml,
                line.pigment.loose_density_g_per_ml,
                line.pigment.loose_density_measured,
                None,
                False,
                line.told,
                line.pigment.liquid_share,
            )
            for line in plan.lines
        ),
        oil=Ingredient(
            plan.oil.source,
            plan.oil.name,
            plan.oil.lot_code,
            None,
            paste.oil_g,
            plan.oil_mass.value,
            left.get(plan.oil.source),
            plan.oil.density_g_per_ml,
            None,
            False,
            plan.oil.drop_g if plan.oil.drop_measured else None,
            plan.oil.drop_measured,
            telling.oil_in_all(plan.oil_mass.value, plan.oil.density_g_per_ml, facts.habit),
        ),
        additives=_additives_now(paste, plan),
        pigment_and_oil_only=pigment_and_oil_only(
            plan.oil,
            [additive.what.name for additive in paste.additives.values()],
            any(paste.pigments.get(w.pigment.source) for w in plan.lines if w.extends_pct is not None),
            known=contents_known and not any(w.pigment.recycled for w in plan.lines),
        ),
        fully_known=contents_known,
        protection=protection_words(
            dust=any(not line.pigment.liquid_share for line in plan.lines),
            vapour=any(line.pigment.liquid_share for line in plan.lines) or "solvent" in plan.oil.hazards,
        ),
        use_by=paste.use_by,
        trial=plan.trial,
        tubes=plan.tubes,
        bench=plan.bench,
        in_paste_g=paste.total_g,
        sampled_g=paste.sampled_g,
        ratio=ratio,
        reduced_pvc=reduced,
        volume=volume,
        leaving_ml=sum(line.pigment.leaving_ml(paste.pigments.get(line.pigment.source, 0.0)) for line in plan.lines),
        fills=_fills(plan, reading),
        body=body_now(known),
        body_says=body_says(known),
        target_reduced_pvc=known.target,
        target_body=known.wanted,
        scale=scale_shown(known, plan),
        rungs=rungs_shown(known, plan, advice),
        advice=advice,
        advice_told=_told(advice, plan, paste),
        habit=facts.habit,
        tool=facts.tool,
        can_finish=paste.pigment_g > 0 and (paste.oil_g > 0 or paste.by_eye.taps > 0),
        untold=paste.untold,
        can_tell=paste.by_eye.taps > 0 and paste.status in (Status.OPEN, Status.FINISHED),
        ways=ways_back(session, kept, left),
        stage=slab.stage_seen(paste),
        phase=phase_now(known, lines, muller),
        ready=paste.ready,
        must_be_ready=must_be_ready(kept),
        mulling=muller,
        last_minutes_per_load=facts.last_minutes_per_load,
        target_fineness_um=facts.target_fineness_um,
        taps_by_eye=paste.by_eye.taps,
        bottle_g=paste.by_eye.bottle_g,
        doubt=doubt_now(session, kept, known),
        standing=known.standing,
        shortage=_shortage(advice, lines, left),
        dusty=slab.dusty(paste),
        grit_expected=plan.grit,
        cleaning=cleaning(facts.tool, batches.hazard_keys_of(kept)),
        cautions=batches.cautions_now(kept),
        caution_always=plan.caution_always,
        caution_deference=plan.caution_deference,
        timeline=timeline(kept),
        earlier=kept.earlier,
        late=_late_now(session, kept),
        eye_says=facts.eye.says,
        surface=_surface(session, now, kept),
        way=paste.way,
    )


def _surface(session: Session, now: datetime, kept: BatchKept) -> SlabNow | None:
    """Another batch's paint on the slab this one is planned for, as long as that matters."""
    if kept.status is not Status.OPEN or kept.paste.pigment_g > 0 or kept.plan.bench is None:
        return None
    return surface_for(session, now, kept.number, kept.plan.bench.slab_id)


def _told(advice: Advice, plan: Plan, paste: Paste) -> Told | None:
    """What is advised, in the maker's own measure; nothing with a scale."""
    habit = plan.facts.habit
    if advice.grams is None:
        return None
    if advice.act is NextAct.POWDER:
        line = next((line for line in plan.lines if line.pigment.source == advice.source), plan.lines[0])
        there_g = paste.pigments.get(line.pigment.source, 0.0)
        if habit.how is Measuring.EYE and not there_g and len(plan.lines) > 1:
            # Of a blend each powder is told against the most of it.
            return line.told
        return telling.powder(advice.grams, line.pigment.loose_density_g_per_ml, habit, there_g=there_g)
    if advice.act is NextAct.ADDITIVE and habit.how is not Measuring.SCALE:
        known = [*plan.facts.additives, *([paste.stabiliser] if paste.stabiliser is not None else [])]
        what = next((additive for additive in known if additive.source == advice.source), None)
        return telling.drips(advice.grams, what.density_g_per_ml, what.drop_g) if what is not None else None
    if advice.act in (NextAct.POUR, NextAct.RIGHT):
        return telling.oil(advice.grams, plan.oil.density_g_per_ml, habit, there_g=paste.oil_g)
    return None


def _late_now(session: Session, kept: BatchKept) -> tuple[LateNow, ...]:
    if not kept.late_waiting:
        return ()
    return tuple(
        LateNow(act.id, late_words(session, kept, act), act.made_at, act.came_at, act.can_take)
        for act in late.waiting(session, kept.number)
    )


def _additives_now(paste: Paste, plan: Plan) -> tuple[AdditiveNow, ...]:
    """The planned additives, then what else was stirred in."""
    planned = {additive.source: additive for additive in plan.facts.additives}
    beside = {source: additive.what for source, additive in paste.additives.items() if source not in planned}
    if paste.stabiliser is not None:
        beside[paste.stabiliser.source] = paste.stabiliser
    shown = []
    for source, additive in {**planned, **beside}.items():
        there = paste.additives.get(source)
        powder = paste.pigment_g or plan.pigment_mass.value
        missing_g = slab.missing_additive_g(paste, additive)
        shown.append(
            AdditiveNow(
                source,
                additive.name,
                additive.moment,
                additive.planned_per_g * powder,
                there.grams / additive.additive_fraction if there else 0.0,
                missing_g,
                source in paste.left_out,
                additive.density_g_per_ml,
                additive.drop_g,
                additive.drop_measured,
                missing_g / additive.drop_g if additive.drop_g and missing_g else None,
            )
        )
    return tuple(shown)


def _fills(plan: Plan, reading: Reading | None) -> str:
    """What the paint there is now fills, in tubes of the plan's first kind; empty where none was planned."""
    if reading is None or not plan.tubes:
        return ""
    tube = plan.tubes[0]
    count = tubes_filled(reading.volume_ml, tube.usable_ml)
    return f"fills {count} x {tube.name}" if count else f"not one {tube.name} full yet"


def _shortage(advice: Advice, lines: tuple[Planned, ...], left: dict[str, float]) -> str:
    """Foresees that what is advised, or still planned, is more than the tin holds."""
    if advice.grams is not None and advice.source in left and left[advice.source] < advice.grams - 0.05:
        name = next((line.name for line in lines if line.source == advice.source), "That additive")
        return f"{name}: {advice.grams:.1f} g wanted, {max(0.0, left[advice.source]):.1f} g left by the book."
    return ""
