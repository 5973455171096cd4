"""The log of a pot in a maker's words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from niddy.core import sticks as core
from niddy.core.log import Status
from niddy.core.sticks import Flaw, Kind
from niddy.studio.log import Entry
from niddy.studio.sticks.kept import PotKept

FEELS = {"hard": "hard", "firm": "firm", "soft": "soft", "buttery": "buttery", "too_soft": "too soft"}
VERDICTS = {
    "too_hard": "too hard", "right": "right", "too_soft": "too soft", "crumbles": "it crumbles",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class LogLine:
    """One line of the log; `can_strike` says whether it may be struck out."""

    id: UUID
    seq: int
    kind: str
    at: datetime
    text: str
    struck: bool
    can_strike: bool
    photo: bool


def timeline(kept: PotKept) -> tuple[LogLine, ...]:
    """The log in order."""
    done = kept.status is not Status.OPEN
    return tuple(
        LogLine(
            entry.id, entry.seq, entry.kind, entry.made_at, words_of(kept, entry), entry.struck,
            not entry.struck and entry.kind not in (Kind.FINISH, Kind.ABANDON)
            and (not done or entry.kind in (*core.AFTERWARDS, Kind.STRIKE)),
            entry.kind == Kind.PHOTO,
        )
        for entry in kept.entries
    )  # fmt: skip


def words_of(kept: PotKept, entry: Entry) -> str:
    """One act in words."""
    payload, facts = entry.payload, entry.facts
    match Kind(entry.kind):
        case Kind.READY:
            return "kit checked"
        case Kind.BASE | Kind.OIL | Kind.PIGMENT | Kind.MULLED:
            grams = {**facts.get("bases", {}), **facts.get("oils", {})}
            grams |= {name: matter["grams"] for name, matter in facts.get("pigments", {}).items()}
            parts = [f"{_name(kept, name)} {amount:.1f} g" for name, amount in grams.items()]
            mulled = entry.kind == Kind.MULLED and "pigments" in facts
            return ("mulled paste in: " if mulled else "in: ") + ", ".join(parts)
        case Kind.PASTE:
            return f"{payload['volume_ml']:g} ml of paste in"
        case Kind.TEMPERATURE:
            return f"{payload['temperature_c']:.0f} °C"
        case Kind.MELTED:
            return "melted and clear" + _at(payload)
        case Kind.STIR:
            return "stirred from the bottom"
        case Kind.DROP | Kind.DENT:
            what = "a drop" if entry.kind == Kind.DROP else "a stick"
            if payload["by"] == "needle":
                return f"{what} dents {facts['dent_dmm']:.0f} by needle"
            return f"{what} feels {FEELS[payload['feel']]}"
        case Kind.POUR:
            return "poured" + _at(payload)
        case Kind.SKIN:
            return "a skin" + _at(payload)
        case Kind.OUT:
            weighed = f", {payload['grams']:g} g together" if payload.get("grams") else ""
            return f"{payload['count']} out of the moulds{weighed}"
        case Kind.FLAW:
            return core.FLAW_WORDS[Flaw(payload["flaw"])][0]
        case Kind.DRY_TRIAL | Kind.WET_TRIAL:
            questions = core.DRY if entry.kind == Kind.DRY_TRIAL else core.WET
            tool = {"solvent": "with solvent", "blender": "with the blending stick"}.get(payload.get("tool", ""), "dry")
            answers = [
                f"{question.says.lower()}: {choice.says}"
                for question in questions
                for choice in question.choices
                if payload["seen"].get(question.key) == choice.key
            ]
            return f"{tool}; " + "; ".join(answers)
        case Kind.DRIED:
            return core.DRYING[payload["what"]]
        case Kind.VERDICT:
            return f"verdict: {VERDICTS[payload['verdict']]}"
        case Kind.NOTE:
            return str(payload["text"])
        case Kind.PHOTO:
            return payload.get("text") or "picture"
        case Kind.FINISH:
            return "onto the shelf"
        case Kind.ABANDON:
            return "given up" + (f": {payload['text']}" if payload.get("text") else "")
        case Kind.STRIKE:
            target = next((one for one in kept.entries if one.id == entry.strikes), None)
            return f"struck out: {words_of(kept, target)}" if target is not None else "struck out"


def _name(kept: PotKept, name: str) -> str:
    material = kept.material(name)
    return material.name if material is not None else name


def _at(payload: dict[str, object]) -> str:
    at = payload.get("temperature_c")
    return f" at {at:.0f} °C" if isinstance(at, float | int) else ""
