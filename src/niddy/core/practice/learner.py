"""A made-up learner who does what Niddy says: what the ladder would have done with the very same paste."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid5

from niddy.core import measures, slab, telling
from niddy.core.advice import NextAct, advise, mulling_now, planned_lines
from niddy.core.estimate import Basis, Estimate, total
from niddy.core.measures import Measure, Unit, family
from niddy.core.mulling import EndedBy
from niddy.core.practice.begin import Begun
from niddy.core.practice.hidden import at_the_knife, walk
from niddy.core.practice.seen import stage_at
from niddy.core.slab import DoubtAnswer, Event, Kind, Stage, Verdict, Way
from niddy.core.telling import Measuring
from niddy.core.ways import ways
from niddy.core.wetting import body_at

MOST_ACTS = 200
"""A session that asks for more than this goes nowhere."""

_SPACE = UUID("5b0f6d0e-4f43-4dd0-9a5c-0c3a8b3f5d11")
TAKES_MIN = {Kind.OIL: 2.0, Kind.POWDER: 2.0, Kind.LOOK: 0.5, Kind.DRAW_OIL: 60.0}
"""Minutes at the slab that an act takes; others a quarter."""

BEGUN_AT = datetime(2026, 1, 1, 12, tzinfo=UTC)


def opening(begun: Begun, at: datetime) -> tuple[Event, ...]:
    """What was done before an exercise begins, as acts of a log."""
    events = []
    pigment = begun.plan.lines[0].pigment
    for n, one in enumerate(begun.done):
        mass, source, of = None, "", measures.Family.SCALE
        if one.spoons is not None:
            spooned = Measure(Unit.TEASPOON, one.spoons)
            mass, of = measures.to_grams(spooned, loose_density=pigment.loose_density_g_per_ml), measures.Family.SPOON
        elif one.grams is not None:
            mass = Estimate.exact(one.grams, Basis.MEASURED)
        if one.kind is Kind.POWDER:
            source = pigment.source
        elif one.kind is Kind.OIL:
            source = begun.plan.oil.source
        events.append(
            Event(
                uuid5(_SPACE, f"{n}"),
                n + 1,
                one.kind,
                at - timedelta(minutes=one.minutes_before),
                source,
                mass,
                stage=one.stage,
                family=of,
                ended_by=EndedBy.MINUTES if one.kind is Kind.LOAD_DONE else None,
            )
        )
    return tuple(events)


def follow(begun: Begun, chance: random.Random | None = None, eye_sd: float = 0.0) -> tuple[Event, ...]:
    """The acts of a learner who follows the advice, with an eye that scatters by `eye_sd`; ends unfinished if stuck."""
    return _Learner(begun, chance or random.Random(0), eye_sd).run()


class _Learner:
    def __init__(self, begun: Begun, chance: random.Random, eye_sd: float) -> None:
        self.begun, self.chance, self.eye_sd = begun, chance, eye_sd
        self.now = BEGUN_AT
        self.events = list(opening(begun, BEGUN_AT))
        self.lines = planned_lines(begun.plan)

    def act(self, kind: Kind, event: Event | None = None) -> None:
        seq = len(self.events) + 1
        blank = event or Event(UUID(int=0), seq, kind, self.now)
        self.now += timedelta(minutes=TAKES_MIN.get(kind, 0.25))
        self.events.append(replace(blank, id=uuid5(_SPACE, f"{seq}"), seq=seq, kind=kind, made_at=self.now))

    def pour(self, grams: float) -> None:
        """Oil as this maker measures it."""
        oil, habit = self.begun.plan.oil, self.begun.plan.facts.habit
        mass, unit = Estimate.exact(max(0.01, round(grams, 2)), Basis.MEASURED), Unit.GRAM
        told = telling.oil(grams, oil.density_g_per_ml, habit)
        if habit.how is not Measuring.SCALE and told is not None:
            whole = [(p.unit, p.amount) for p in told.parts] or [(told.unit, told.amount)]
            unit = whole[-1][0]
            mass = total(
                [
                    measures.to_grams(Measure(of, amount), density=oil.density_g_per_ml, by_marks=True)
                    for of, amount in whole
                ]
            )
        self.act(Kind.OIL, Event(UUID(int=0), 0, Kind.OIL, self.now, oil.source, mass, family=family(unit)))

    def powder(self, grams: float, source: str) -> None:
        mass = Estimate.exact(max(0.01, round(grams, 2)), Basis.MEASURED)
        of = measures.Family.SCALE if self.begun.plan.facts.habit.how is Measuring.SCALE else measures.Family.SPOON
        self.act(Kind.POWDER, Event(UUID(int=0), 0, Kind.POWDER, self.now, source, mass, family=of))

    def look(self, *, even: bool) -> None:
        """The stage, or at even paste the body as this eye sees it."""
        *_, last = walk(self.events, self.begun.hidden)
        now = replace(last, event=replace(last.event, made_at=self.now))
        seen = at_the_knife(now, self.begun.plan.facts, self.begun.hidden)
        event = Event(UUID(int=0), 0, Kind.LOOK, self.now, stage=Stage.CRUMBS)
        if seen is not None:
            stage = stage_at(seen, 0.0 if even else 1.0)
            event = replace(event, stage=stage)
            if stage is Stage.EVEN_PASTE:
                event = replace(event, body=body_at(seen + self.chance.gauss(0, self.eye_sd)))
        self.act(Kind.LOOK, event)

    def run(self) -> tuple[Event, ...]:
        plan, facts = self.begun.plan, self.begun.plan.facts
        for _ in range(MOST_ACTS):
            paste = slab.fold(self.events)
            mull = mulling_now(paste, plan, self.now)
            known = slab.know(paste, facts)
            advice = advise(known, self.lines, mull)
            match advice.act:
                case NextAct.POWDER:
                    self.powder(advice.grams or 1.0, advice.source)
                case NextAct.POUR:
                    self.pour(advice.grams or 0.3)
                case NextAct.MULL:
                    event = Event(UUID(int=0), 0, Kind.MULL, self.now, load=mull.load, of_loads=len(mull.loads))
                    self.act(Kind.MULL, event)
                case NextAct.MULL_ON:
                    self.now += timedelta(minutes=mull.left_minutes, seconds=1)
                case NextAct.LOAD_DONE:
                    self.act(Kind.LOAD_DONE, Event(UUID(int=0), 0, Kind.LOAD_DONE, self.now, ended_by=EndedBy.MINUTES))
                case NextAct.GATHER:
                    self.act(Kind.GATHER)
                case NextAct.LOOK | NextAct.REST:
                    self.look(even=not slab.dusty(paste) and mull.begun)
                case NextAct.DRAW_OIL:
                    mass = Estimate.exact(max(0.01, round(advice.grams or 0.1, 2)), Basis.MEASURED)
                    self.act(Kind.DRAW_OIL, Event(UUID(int=0), 0, Kind.DRAW_OIL, self.now, mass=mass))
                case NextAct.TOO_LOOSE:
                    open_ways = ways(known, self.lines, {}, None, None)
                    if not open_ways:
                        break
                    chosen = next((one for one in open_ways if one.way is Way.ADD_PIGMENT), open_ways[-1])
                    event = Event(
                        UUID(int=0),
                        0,
                        Kind.CHOOSE_WAY,
                        self.now,
                        way=chosen.way,
                        target_reduced_pvc=chosen.target_reduced_pvc,
                        portions={portion.source: portion.grams for portion in chosen.portions},
                    )
                    self.act(Kind.CHOOSE_WAY, event)
                case NextAct.DOUBT:
                    event = Event(
                        UUID(int=0),
                        0,
                        Kind.ANSWER,
                        self.now,
                        answer=DoubtAnswer.BELIEVE_EYE,
                        widened_sd_ln=slab.widening(known),
                    )
                    self.act(Kind.ANSWER, event)
                case NextAct.RIGHT:
                    self.act(Kind.FINISH, Event(UUID(int=0), 0, Kind.FINISH, self.now, verdict=Verdict.RIGHT))
                    break
                case _:
                    break
        return tuple(self.events)
