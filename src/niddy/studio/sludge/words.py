"""The logs of cans and dishes in a maker's words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from niddy.core.log import Status
from niddy.core.sludge import CanKind, DishKind
from niddy.studio.log import Entry
from niddy.studio.sludge.cans import solvent_of

MUCH = {"little": "a little", "brushful": "a brushful", "palette": "a palette's worth"}


@dataclass(frozen=True, slots=True)
class LedgerLine:
    """One line of a log; `can_strike` says whether it may be struck out."""

    id: UUID
    seq: int
    kind: str
    at: datetime
    text: str
    struck: bool
    can_strike: bool


def can_lines(entries: Sequence[Entry]) -> tuple[LedgerLine, ...]:
    """The log of a can, the newest first."""
    return tuple(
        LedgerLine(
            entry.id, entry.seq, entry.kind, entry.made_at, can_words(entry, entries), entry.struck,
            not entry.struck and not entry.facts.get("dish"),
        )
        for entry in reversed(entries)
    )  # fmt: skip


def dish_lines(entries: Sequence[Entry], status: Status, tare_g: float) -> tuple[LedgerLine, ...]:
    """The log of a dish, the newest first."""
    done = status is not Status.OPEN
    return tuple(
        LedgerLine(
            entry.id, entry.seq, entry.kind, entry.made_at, dish_words(entry, entries, tare_g), entry.struck,
            not entry.struck
            and entry.kind != DishKind.TO_STOCK
            and (not done or entry.kind in (DishKind.THROW, DishKind.STRIKE)),
        )
        for entry in reversed(entries)
    )  # fmt: skip


def can_words(entry: Entry, entries: Sequence[Entry]) -> str:
    """One act on a can in words."""
    payload, facts = entry.payload, entry.facts
    match CanKind(entry.kind):
        case CanKind.WASHING:
            return f"washed: {washed_words(entry)}"
        case CanKind.SOLVENT_IN:
            name = solvent_of(payload["solvent_key"]).name.lower()
            how = "bought" if payload["origin"] == "bought" else "used again"
            return f"{payload['ml']:g} ml {name} in, {how}"
        case CanKind.POUR_OFF:
            return f"{facts['ml']:.0f} ml poured off clear"
        case CanKind.SLUDGE_OUT:
            weighed = f", {payload['g']:g} g wet" if payload.get("g") else ""
            into = f" into dish {facts['dish']}" if facts.get("dish") else ", kept for disposal"
            wiped = "; the can wiped clean" if payload.get("wiped") else ""
            return f"{share_words(payload['share'])} taken out{weighed}{into}{wiped}"
        case CanKind.HEIGHT:
            return f"clear down to {payload['clear_mm']:g} of {payload['total_mm']:g} mm"
        case CanKind.WEIGHED:
            return f"can weighed: {facts['net_g']:.0f} g in it"
        case CanKind.NOTE:
            return str(payload["text"])
        case CanKind.CLOSE:
            return "out of use"
        case CanKind.STRIKE:
            target = next((one for one in entries if one.id == entry.strikes), None)
            return f"struck out: {can_words(target, entries)}" if target is not None else "struck out"


def washed_words(entry: Entry) -> str:
    """What was washed off, and how much."""
    amounts = [MUCH[paint["much"]] for paint in entry.payload.get("paints", [])]
    if entry.payload.get("unlogged"):
        amounts.append(MUCH[entry.payload["unlogged"]])
    said = [f"{name}, {much}" for name, much in zip(entry.facts["names"], amounts, strict=True)]
    return "; ".join(said)


def share_words(share: float) -> str:
    """A share of the sludge in words."""
    if share >= 0.999:
        return "all sludge"
    return "half of the sludge" if abs(share - 0.5) < 0.01 else f"{100 * share:.0f} in 100 of the sludge"


def dish_words(entry: Entry, entries: Sequence[Entry], tare_g: float) -> str:
    """One act on a dish in words."""
    payload, facts = entry.payload, entry.facts
    match DishKind(entry.kind):
        case DishKind.WEIGH:
            return f"{payload['g'] - tare_g:.1f} g of sludge"
        case DishKind.ADDED:
            return f"more sludge in: now {payload['g'] - tare_g:.1f} g"
        case DishKind.SQUEEZED:
            return "squeezed in paper" + (f": now {payload['g'] - tare_g:.1f} g" if payload.get("g") else "")
        case DishKind.STRAINED:
            mesh = f"through a mesh of {payload['mesh_um']:g} µm" if payload.get("mesh_um") else ""
            hairs = "hairs picked out" if payload.get("hairs") else ""
            return ", ".join(part for part in (mesh, hairs) if part)
        case DishKind.NOTE:
            return str(payload["text"])
        case DishKind.TO_STOCK:
            wet = ", still wet" if facts["liquid_share"] else ""
            return f"{payload['g']:g} g into stock as {payload['code']}{wet}"
        case DishKind.THROW:
            return "kept for licensed disposal" + (f": {payload['text']}" if payload.get("text") else "")
        case DishKind.STRIKE:
            target = next((one for one in entries if one.id == entry.strikes), None)
            return f"struck out: {dish_words(target, entries, tare_g)}" if target is not None else "struck out"
