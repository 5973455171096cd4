"""Cans as they are kept: begun, read from their snapshot, an act logged with all that follows."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import bindparam, insert, select, update
from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.errors import MAX_VOLUME_ML, Refused
from niddy.core.log import Status
from niddy.core.materials import Solvent
from niddy.core.sludge import Can, CanAct, CanKind, Much, Origin, Washed
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.sludge import WashCan
from niddy.reference import library
from niddy.studio import log, undoing
from niddy.studio.amounts import Grams, Millilitres
from niddy.studio.documents import Document, Key
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.sludge.acts import (
    CanActAsked,
    CanStrike,
    CanWeighed,
    HeightRead,
    PourOff,
    SludgeOut,
    SolventIn,
    WashingIn,
    payload_of,
)
from niddy.studio.sludge.pace import g_per_weight
from niddy.studio.sludge.washed import looked_up
from niddy.studio.times import act_time
from niddy.studio.words import Words

ROOM = "cans"
STATE = TypeAdapter(Can)
STATE_VERSION = 1

Place = Annotated[Words, Field(max_length=80)]
Price = Annotated[Decimal, Field(ge=0, le=100_000, decimal_places=4)]


class CanChange(Document):
    """What may be set right of a can at any time."""

    name: Annotated[Words, Field(max_length=80)]
    place: Place = ""
    tare_g: Grams | None = None
    holds_ml: Annotated[float, Field(strict=True, ge=1, le=MAX_VOLUME_ML)] | None = None
    price_per_l: Price | None = None


class CanAsked(CanChange):
    """A can to keep: its solvent, and how much nobody logged lies in it already.

    `request_id` is the client's: sent twice it begins one can.
    """

    request_id: UUID
    solvent_key: Key
    solvent_ml: Millilitres | None = None
    unlogged: Much | None = None


@dataclass(frozen=True, slots=True)
class CanKept:
    """A can with its state; its log is read apart, since it is long."""

    number: int
    job_id: int
    name: str
    place: str
    solvent: Solvent
    tare_g: float | None
    holds_ml: float | None
    price_per_l: Decimal | None
    started_at: datetime
    last_seq: int
    can: Can


def solvent_of(key: str, field: str = "solvent_key") -> Solvent:
    """A solvent of the library. Raises Missing."""
    found = library().solvents.get(key)
    if found is None:
        raise Missing("solvent", key, field)
    return found


def begin(session: Session, now: datetime, asked: CanAsked) -> int:
    """Begin a can; its number. Raises Refused, Missing, Conflict."""
    solvent = solvent_of(asked.solvent_key)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    doc = asked.model_dump(mode="json", exclude={"request_id"})
    begun = log.begin(
        session, ROOM, now, asked.request_id, asked.name.strip(), doc, state=STATE.dump_python(Can(), mode="json"),
        state_version=STATE_VERSION,
    )  # fmt: skip
    if not begun.anew:
        return begun.number
    session.execute(
        insert(table_of(WashCan)).values(
            number=begun.number, job_id=begun.job_id, solvent_key=solvent.key, place=asked.place,
            tare_g=asked.tare_g, holds_ml=asked.holds_ml, price_per_l=asked.price_per_l,
        )
    )  # fmt: skip
    first = UUID(int=asked.request_id.int ^ 1)
    if asked.solvent_ml is not None:
        filled = SolventIn(
            id=first, made_at=now, kind=CanKind.SOLVENT_IN, solvent_key=solvent.key, ml=asked.solvent_ml
        )  # fmt: skip
        keep(session, now, begun.number, filled)
    if asked.unlogged is not None:
        old = WashingIn(
            id=UUID(int=asked.request_id.int ^ 2), made_at=now, kind=CanKind.WASHING, unlogged=asked.unlogged
        )  # fmt: skip
        keep(session, now, begun.number, old)
    return begun.number


def change(session: Session, number: int, asked: CanChange) -> None:
    """Set a can's name, place, tare, size and price. Raises Refused, Missing."""
    row = row_of(session, number)
    if not asked.name.strip():
        raise Refused("name", "empty", "a name of 1 to 80 characters")
    row.name = asked.name.strip()
    row.place, row.tare_g, row.holds_ml, row.price_per_l = asked.place, asked.tare_g, asked.holds_ml, asked.price_per_l
    session.flush()


def row_of(session: Session, number: int) -> WashCan:
    """The row of a can. Raises Missing."""
    wanted = select(WashCan).where(WashCan.number == number).execution_options(populate_existing=True)
    row = session.scalar(wanted)
    if row is None:
        raise Missing("can", number)
    return row


def job_of(session: Session, number: int) -> int:
    """The job of a can. Raises Missing."""
    return row_of(session, number).job_id


def can(session: Session, number: int) -> CanKept:
    """One can. Raises Missing."""
    return kept_of(session, row_of(session, number))


def cans(session: Session, *, closed: bool = False) -> tuple[CanKept, ...]:
    """The cans in use, or all, in the order they were begun."""
    wanted = select(WashCan).order_by(WashCan.number)
    if not closed:
        wanted = wanted.where(WashCan.status == Status.OPEN)
    rows = session.scalars(wanted.execution_options(populate_existing=True))
    return tuple(kept_of(session, row) for row in rows)


def kept_of(session: Session, row: WashCan) -> CanKept:
    """A can of its row: from the snapshot, or folded anew where that is of another shape."""
    if row.state is not None and row.state_version == STATE_VERSION:
        state = STATE.validate_python(row.state)
    else:
        state = _folded(session, row.job_id)
    return CanKept(
        row.number, row.job_id, row.name, row.place, solvent_of(row.solvent_key), row.tare_g, row.holds_ml,
        row.price_per_l, row.started_at, row.last_seq, state,
    )  # fmt: skip


def _folded(session: Session, job_id: int) -> Can:
    return core.can_of([act_from(entry) for entry in log.entries(session, job_id)])


_WASHED: TypeAdapter[tuple[Washed, ...]] = TypeAdapter(tuple[Washed, ...])


def act_from(entry: Entry) -> CanAct:
    """The core's act of a logged one."""
    payload, facts = entry.payload, entry.facts
    return CanAct(
        entry.id, entry.seq, CanKind(entry.kind), entry.made_at, entry.strikes,
        washed=_WASHED.validate_python(facts["washed"]) if facts.get("washed") else (),
        unknown=facts.get("unknown", 0.0),
        beside={name: tuple(keys) for name, keys in facts.get("beside", {}).items()},
        sources=tuple(facts.get("sources", ())),
        solvent=payload.get("solvent_key", ""), density_g_per_ml=facts.get("density_g_per_ml", 0.0),
        ml=facts.get("ml", payload.get("ml") or 0.0),
        origin=Origin(payload["origin"]) if "origin" in payload else None,
        share=payload.get("share", 0.0), wiped=payload.get("wiped", False),
        g=facts.get("net_g", payload.get("g") or 0.0),
        g_per_weight=facts.get("g_per_weight", core.GRAMS_PER_WEIGHT),
        clear_mm=payload.get("clear_mm", 0.0), total_mm=payload.get("total_mm", 0.0),
    )  # fmt: skip


def take_out(session: Session, now: datetime, number: int, act: SludgeOut, dish: int) -> None:
    """Log that sludge went into a dish, by the dish's number. Raises Refused, Conflict, Missing."""
    keep(session, now, number, act, {"dish": dish})


def keep(session: Session, now: datetime, number: int, act: CanActAsked, also: dict[str, Any] | None = None) -> CanKept:
    """Log an act; the can after it. `also` goes with its facts. Sent again it changes nothing.

    Raises Refused, Conflict, Missing.
    """
    job_id = job_of(session, number)
    log.hold(session, job_id)
    kept = can(session, number)
    payload = payload_of(act)
    if log.known(session, job_id, act.id, act.kind, payload):
        return kept
    act_time("made_at", act.made_at, now)
    if kept.can.status is not Status.OPEN and not isinstance(act, CanStrike):
        raise Refused("kind", "the can is out of use", "striking out that it was closed first")
    facts = {**_facts(session, kept, act), **(also or {})}
    strikes = act.strikes if isinstance(act, CanStrike) else None
    entry = Entry(act.id, kept.last_seq + 1, act.kind, payload, facts, strikes, act.made_at)
    after = core.can_after(kept.can, act_from(entry)) if strikes is None else _without(session, kept, entry)
    log.append(
        session, now, job_id, log.New(act.id, act.kind, act.made_at, payload, facts, strikes), entry.seq,
        status=after.status, state=STATE.dump_python(after, mode="json"),
    )  # fmt: skip
    session.execute(_VERSIONED, {"of_job": job_id})
    return can(session, number)


# A snapshot in an older shape was folded anew, and is now kept in this one.
_JOB = table_of(Job)
_VERSIONED = (
    update(_JOB)
    .where(_JOB.c.id == bindparam("of_job"), _JOB.c.state_version != STATE_VERSION)
    .values(state_version=STATE_VERSION)
)


def _without(session: Session, kept: CanKept, entry: Entry) -> Can:
    """The can once an act is struck out, folded anew. Raises Refused."""
    entries = log.entries(session, kept.job_id)
    target = undoing.undone_by(entries, entry.strikes)
    if target.facts.get("dish"):
        raise Refused("strikes", "a dish was begun with it", "throwing the dish away, in the dish")
    return core.can_of([act_from(one) for one in (*entries, entry)])


def _facts(session: Session, kept: CanKept, act: CanActAsked) -> dict[str, Any]:
    """What the door makes of an act. Raises Refused, Missing."""
    state = kept.can
    match act:
        case WashingIn():
            return looked_up(session, act)
        case SolventIn():
            solvent = solvent_of(act.solvent_key)
            others = [key for key in state.solvents if key != solvent.key]
            if others and not act.anyway:
                there = ", ".join(solvent_of(key).name.lower() for key in others)
                raise Refused(
                    "anyway", f"{there} is in this can, and {solvent.name.lower()} would go into it",
                    "the same solvent, or yes to mixing them: mixed, neither dries nor smells as it did",
                )  # fmt: skip
            held = state.held_ml + act.ml
            if kept.holds_ml is not None and held > 1.1 * kept.holds_ml:
                raise Refused(
                    "ml", f"{held:.0f} ml in a can of {kept.holds_ml:g} ml",
                    f"up to {kept.holds_ml - state.held_ml:.0f} ml",
                )  # fmt: skip
            return {"density_g_per_ml": solvent.density_g_per_ml}
        case PourOff():
            if act.ml is None and act.g is None:
                raise Refused("ml", "missing", "how many ml were poured off, or what they weighed")
            density = state.held_g / state.held_ml if state.held_ml > 0 else kept.solvent.density_g_per_ml
            ml = act.ml if act.ml is not None else (act.g or 0.0) / density
            if ml > state.held_ml * 1.02 + 5:
                field = "ml" if act.ml is not None else "g"
                raise Refused(
                    field, f"{ml:.0f} ml out of a can that holds {state.held_ml:.0f} ml by its ledger",
                    f"up to {state.held_ml:.0f} ml; or log the solvent that went in, or weigh the can, first",
                )  # fmt: skip
            return {"ml": ml}
        case HeightRead():
            if act.clear_mm > act.total_mm:
                raise Refused(
                    "clear_mm", f"{act.clear_mm:g} mm clear of {act.total_mm:g} mm", f"up to {act.total_mm:g} mm"
                )
        case CanWeighed():
            if kept.tare_g is None:
                raise Refused("g", "the empty can's weight is not known", "the tare first, under 'The can itself'")
            if act.g <= kept.tare_g:
                raise Refused("g", f"no more than the empty can's {kept.tare_g:g} g", f"above {kept.tare_g:g} g")
            return {"net_g": act.g - kept.tare_g, "g_per_weight": g_per_weight(session)}
        case SludgeOut():
            return out_facts(session, kept, act.g)
        case _:
            pass
    return {}


def out_facts(session: Session, kept: CanKept, g: float | None) -> dict[str, Any]:
    """The facts of sludge that is taken out. Raises Refused where there is none, or more than there can be."""
    if kept.can.makeup.weight <= 0:
        raise Refused("kind", "nothing was washed into this can yet", "a washing first, or 'not sure what' was")
    leaves = g_per_weight(session)
    most = kept.can.held_g + 5 * kept.can.solids_g(leaves) + 20
    if g is not None and kept.can.held_ml > 0 and g > most:
        raise Refused("g", f"{g:g} g out of a can that holds about {most:.0f} g at the most", f"up to {most:.0f} g")
    return {"g_per_weight": leaves}
