"""The log of a run in a maker's words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from niddy.core.making import RunKind
from niddy.core.measures import Unit, amount_words
from niddy.studio.acting import AmountAsked
from niddy.studio.log import Entry

TAKES = {"well": "took oil well", "gritty": "turned gritty", "seizes": "seized"}
FADING = {"none": "no change", "barely": "barely paler", "clearly": "clearly paler", "gone": "gone"}
WAYS = {"kept": "kept", "handed_over": "handed over", "drain": "poured away"}
SPOTS = {"unchanged": "no change", "turned": "changed colour", "fizzed": "fizzed", "dissolved": "dissolved"}


@dataclass(frozen=True, slots=True)
class RunLine:
    """One line of a run's log; `can_strike` says whether it may be struck out, `photo` whether it is a picture."""

    id: UUID
    seq: int
    kind: str
    at: datetime
    text: str
    struck: bool
    can_strike: bool
    photo: bool
    srgb: str | None


def lines(entries: Sequence[Entry], steps: Mapping[str, str], stocked: bool) -> tuple[RunLine, ...]:
    """The log, the newest first; `steps` are what the process calls them."""
    return tuple(
        RunLine(
            entry.id, entry.seq, entry.kind, entry.made_at, words(entry, entries, steps), entry.struck,
            not entry.struck
            and entry.kind != RunKind.TO_STOCK
            and not (stocked and entry.kind == RunKind.FINISH),
            entry.kind == RunKind.PHOTO, entry.payload.get("srgb"),
        )
        for entry in reversed(entries)
    )  # fmt: skip


def words(entry: Entry, entries: Sequence[Entry], steps: Mapping[str, str]) -> str:
    """One act in words."""
    said = _said(entry, entries, steps)
    if entry.facts.get("completes"):
        said += f"; {steps.get(entry.facts.get('step', ''), 'the step')}: done"
    return said


def _said(entry: Entry, entries: Sequence[Entry], steps: Mapping[str, str]) -> str:
    payload, facts = entry.payload, entry.facts
    step = steps.get(payload.get("step", ""), "a step")
    note = f": {payload['text']}" if payload.get("text") else ""
    because = f", because {payload['why']}" if payload.get("why") else ""
    match RunKind(entry.kind):
        case RunKind.READY:
            return "goggles and gloves on, data sheets read"
        case RunKind.ADDED:
            return _added(entry)
        case RunKind.PH:
            return f"pH {payload['ph']:g}"
        case RunKind.TEMPERATURE:
            return f"{payload['temperature_c']:g} °C"
        case RunKind.HOLD:
            return f"{step}: the time runs"
        case RunKind.REST:
            return f"{step}: the time rests"
        case RunKind.WASHED:
            return f"washed with {payload['ml']:g} ml"
        case RunKind.WEIGHED:
            return f"{facts['g']:.1f} g on the plate"
        case RunKind.HEATED:
            return f"heated: {payload['before_g']:g} g before, {payload['g']:g} g after"
        case RunKind.SIEVED:
            on = ", ".join(f"{one['retained_g']:g} g on {one['aperture_um']:g} µm" for one in payload["fractions"])
            return f"sieved: {on}, {payload['pan_g']:g} g in the pan"
        case RunKind.DONE:
            return f"{step}: done{because}"
        case RunKind.SKIP:
            return f"{step}: left out{because}"
        case RunKind.WASTE:
            return f"{payload['ml']:g} ml of waste {WAYS[payload['way']]}{note}"
        case RunKind.HANDED_OVER:
            return f"waste handed over{note}"
        case RunKind.PHOTO:
            return f"picture{note}"
        case RunKind.COLOUR:
            return f"looks so{note}"
        case RunKind.NOTE:
            return str(payload["text"])
        case RunKind.FINISH:
            return f"{payload['g']:g} g in all"
        case RunKind.ABANDON:
            return f"given up{note}"
        case RunKind.STRIKE:
            target = next((one for one in entries if one.id == entry.strikes), None)
            return f"struck out: {words(target, entries, steps)}" if target is not None else "struck out"
    return _tried(entry, note)


def _tried(entry: Entry, note: str) -> str:
    payload, facts = entry.payload, entry.facts
    match RunKind(entry.kind):
        case RunKind.TRIED:
            return f"a pinch in oil {TAKES[payload['takes']]}{note}"
        case RunKind.STRENGTH:
            beside = f" beside {facts['reference']}" if facts.get("reference") else ""
            return f"in white {facts['percent']:.0f} % as strong{beside}{note}"
        case RunKind.SPOT:
            return f"a spot with {payload['tried_with']}: {SPOTS[payload['seen']]}{note}"
        case RunKind.IN_MEDIUM:
            return f"dye straight in a medium{note}"
        case RunKind.LIGHT:
            return f"light test hung{note}"
        case RunKind.FADED:
            read = f" ({facts['percent']:.1f} dE00)" if "percent" in facts else ""
            return f"light test: {FADING[facts.get('fading') or payload['fading']]}{read}"
        case RunKind.LIGHT_VERDICT:
            return f"light test: {payload['verdict']}"
        case RunKind.DENSITY:
            return f"density {facts['g']:.2f} g/ml by displacement"
        case _:
            return f"{payload['g']:g} g into stock as {payload['code']}"


def _added(entry: Entry) -> str:
    payload, facts = entry.payload, entry.facts
    of = f" of lot {facts['lot_code']}" if facts["lot_code"] else ""
    measure = AmountAsked.model_validate(payload["measure"]).measure()
    if measure.unit is Unit.GRAM:
        return f"{facts['g']:.2f} g {facts['name']}{of} in"
    much = amount_words(measure.amount or 0.0, measure.unit, fill=measure.fill)
    return f"{much}, about {facts['g']:.0f} g, {facts['name']}{of} in"
