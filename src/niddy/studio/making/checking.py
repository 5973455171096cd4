"""Whether an act can be in a run as it stands: what is refused names its field and says what would be accepted."""

from __future__ import annotations

from niddy.core import making as core
from niddy.core.cautions import held_word
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.making import ProcessStep, RunAct, RunActFacts
from niddy.core.making.acts import (
    HeatedBy,
    HoldBegun,
    HoldRested,
    PlateWeighed,
    RunFinished,
    StepDone,
    StepSkipped,
    WashDone,
)
from niddy.core.making.trying import LightJudged, LightLooked, PowderToStock
from niddy.core.making.wasting import WasteHandedOver, WasteOut, WasteWay
from niddy.core.sludge import RISE
from niddy.studio.making.facts import waste_holds
from niddy.studio.making.runs import RunKept, parts_g, theory_g

ABOVE_THEORY = 1.005
"""So much over what there can be is a weighing's error, no more (assumed)."""


def step_of(kept: RunKept, act: RunAct) -> ProcessStep | None:
    """The step an act belongs to: the one it names, else the one that is next. Raises Refused."""
    key = getattr(act, "step", None)
    if key is None:
        return None
    if not key:
        return core.step_now(kept.process, kept.run)
    found = next((step for step in kept.process.steps if step.key == key), None)
    if found is None:
        raise Refused("step", f"'{key}' is not a step of this process", "one of its steps")
    return found


def check(kept: RunKept, act: RunAct, facts: RunActFacts) -> None:
    """Refuse what cannot be."""
    if kept.status is not Status.OPEN and not act.afterwards:
        raise Refused("kind", f"the run is {kept.status}", "a trial, waste, a picture or a note")
    match act:
        case StepDone() | StepSkipped():
            _check_step(kept, act)
        case HoldBegun() | HoldRested():
            pass
        case WashDone():
            if act.ml <= 0:
                raise Refused("ml", "no water", "the ml of one wash, above 0")
        case PlateWeighed():
            step, grams = step_of(kept, act), facts.g or 0.0
            before = kept.run.weighed_of(step.key if step is not None else None)
            last = before[-1].value if before else None
            if not act.anyway and last is not None and grams > last * (1 + RISE) + 0.1:
                raise Refused(
                    "anyway",
                    f"{grams:.1f} g, and {last:.1f} g before: was something added, or is the plate another?",
                    "a weight below the last one; or say that it is so",
                )
        case HeatedBy():
            if act.g > act.before_g * 1.05:
                raise Refused("g", f"heavier than the {act.before_g:g} g before", f"up to {act.before_g:g} g")
        case RunFinished():
            _check_yield(kept, act)
        case WasteOut():
            holds = waste_holds(kept)
            if act.way is WasteWay.DRAIN and holds:
                raise Refused("way", f"it may hold {', '.join(map(held_word, holds))}", "kept, for licensed disposal")
        case WasteHandedOver():
            if not any(one.id == act.of and isinstance(one.act, WasteOut) for one in kept.acts):
                raise Refused("of", "no such waste in this log", "waste that is kept")
        case LightLooked():
            _check_light(kept)
        case LightJudged():
            _check_light(kept)
        case PowderToStock():
            _check_stock(kept, act)
        case _:
            pass


def check_undo(kept: RunKept, act: RunAct) -> None:
    """Refuse the undoing of an act that other things stand on. Raises Refused."""
    if isinstance(act, PowderToStock):
        raise Refused("strikes", "it is a lot in stock", "putting the lot right, in Stock")
    if kept.run.stocked_g > 0 and isinstance(act, RunFinished):
        raise Refused("strikes", "pigment of it is in stock", "putting the lot right, in Stock")


def _check_step(kept: RunKept, act: StepDone | StepSkipped) -> None:
    if isinstance(act, StepSkipped):
        if not act.why.strip():
            raise Refused("why", "empty", "a few words why it is left out")
        return
    before = core.out_of_order(kept.process, kept.run, act.step)
    if before is not None and not act.why.strip():
        raise Refused("why", f"'{before.says}' comes before it", "a few words why it is out of order")


def _check_yield(kept: RunKept, act: RunFinished) -> None:
    theory = theory_g(kept)
    most = theory if theory is not None else parts_g(kept)
    if act.anyway or act.g is None or not most or act.g <= most * ABOVE_THEORY:
        return
    what = "theory allows" if theory is not None else "went in"
    raise Refused(
        "anyway",
        f"{act.g:.1f} g is more than the {most:.1f} g that {what}: is it still wet, or are salts left in it?",
        f"up to {most:.1f} g; or keep it with open eyes",
    )


def _check_light(kept: RunKept) -> None:
    if kept.run.light is None:
        raise Refused("kind", "no light test hangs", "hanging one first")


def _check_stock(kept: RunKept, act: PowderToStock) -> None:
    if kept.run.yield_g is None:
        raise Refused("g", "nobody has weighed yet what there is", "the whole of it weighed first")
    left = kept.run.yield_g - kept.run.stocked_g
    if act.g > left * 1.02 + 0.05:
        raise Refused("g", f"{act.g:g} g out of {max(0.0, left):.1f} g that are left", f"up to {max(0.0, left):.1f} g")
    if not act.hazards_confirmed:
        raise Refused("hazards_confirmed", "nobody confirmed what it may hold", "a tick, once the list was read")
