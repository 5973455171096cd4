"""Cans as they are kept: begun, read from their snapshot, an act logged with all that follows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from pydantic import Field, TypeAdapter
from sqlalchemy import bindparam, insert, select, update
from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.amounts import Grams, Millilitres
from niddy.core.documents import Document, Key
from niddy.core.errors import MAX_VOLUME_ML, Refused
from niddy.core.log import Status
from niddy.core.materials import Solvent
from niddy.core.sludge import Can, CanAct, CanFacts, CanLogged, Much
from niddy.core.sludge.can_acts import (
    AnyCanAct,
    CanWeighed,
    HeightRead,
    PourOff,
    Share,
    SludgeFound,
    SludgeOut,
    SolventIn,
    WashingIn,
)
from niddy.core.words import Words
from niddy.db.base import table_of
from niddy.db.log import Job
from niddy.db.sludge import WashCan
from niddy.reference import library
from niddy.studio import jobs, log, recorder
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.recorder import Acts, LogRoom
from niddy.studio.sludge.pace import g_per_weight
from niddy.studio.sludge.washed import looked_up

ROOM = "cans"
STATE = TypeAdapter(Can)
STATE_VERSION = 1
CAN_ACTS: Acts[CanAct, CanFacts] = Acts(AnyCanAct, CanFacts)

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

    An `old` one is so `full` (of what it holds) and so much of that, from the bottom up, is settled `sludge`.
    `request_id` is the client's: sent twice it begins one can.
    """

    request_id: UUID
    solvent_key: Key
    solvent_ml: Millilitres | None = None
    unlogged: Much | None = None
    old: Annotated[bool, Field(strict=True)] = False
    full: Share | None = None
    sludge: Annotated[float, Field(strict=True, gt=0, le=1)] | None = None


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

    @property
    def status(self) -> Status:
        """Whether it is in use."""
        return self.can.status


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
    _check_old(asked)
    doc = asked.model_dump(mode="json", exclude={"request_id"})
    begun = jobs.begin_job(
        session,
        ROOM,
        now,
        asked.request_id,
        asked.name.strip(),
        doc,
        state=STATE.dump_python(Can(), mode="json"),
        state_version=STATE_VERSION,
    )
    if not begun.anew:
        return begun.number
    session.execute(
        insert(table_of(WashCan)).values(
            number=begun.number,
            job_id=begun.job_id,
            solvent_key=solvent.key,
            place=asked.place,
            tare_g=asked.tare_g,
            holds_ml=asked.holds_ml,
            price_per_l=asked.price_per_l,
        )
    )
    first = UUID(int=asked.request_id.int ^ 1)
    if asked.solvent_ml is not None:
        filled = SolventIn(id=first, made_at=now, kind="solvent_in", solvent_key=solvent.key, ml=asked.solvent_ml)
        recorder.record(session, now, CANS, begun.number, filled)
    if asked.full is not None and asked.sludge is not None and asked.holds_ml is not None:
        sludge_ml = asked.holds_ml * asked.full * asked.sludge
        liquid_ml = core.liquid_of(asked.holds_ml, asked.full, sludge_ml)
        found = SludgeFound(
            id=UUID(int=asked.request_id.int ^ 3),
            made_at=now,
            kind="found",
            sludge_ml=sludge_ml,
            liquid_ml=liquid_ml,
            solvent_key=solvent.key,
        )
        recorder.record(session, now, CANS, begun.number, found)
    if asked.unlogged is not None:
        old = WashingIn(id=UUID(int=asked.request_id.int ^ 2), made_at=now, kind="washing", unlogged=asked.unlogged)
        recorder.record(session, now, CANS, begun.number, old)
    return begun.number


def _check_old(asked: CanAsked) -> None:
    """Refuse an old can of which too little is said. Raises Refused."""
    needed = {
        "holds_ml": (asked.holds_ml, "what the can or jar holds, in ml"),
        "full": (asked.full, "how full it is"),
        "sludge": (asked.sludge, "how much of that is sludge"),
    }
    if not asked.old and asked.full is None and asked.sludge is None:
        return
    for field, (given, wanted) in needed.items():
        if given is None:
            raise Refused(field, "missing", wanted)


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
        row.number,
        row.job_id,
        row.name,
        row.place,
        solvent_of(row.solvent_key),
        row.tare_g,
        row.holds_ml,
        row.price_per_l,
        row.started_at,
        row.last_seq,
        state,
    )


def _folded(session: Session, job_id: int) -> Can:
    return core.can_of(CAN_ACTS.logged(entry) for entry in log.entries(session, job_id))


def take_out(session: Session, now: datetime, number: int, act: SludgeOut, dish: int) -> None:
    """Log that sludge went into a dish, by the dish's number. Raises Refused, Conflict, Missing."""
    recorder.record(session, now, CANS, number, act, {"dish": dish})


# A snapshot in an older shape was folded anew, and is now kept in this one.
_JOB = table_of(Job)
_VERSIONED = (
    update(_JOB)
    .where(_JOB.c.id == bindparam("of_job"), _JOB.c.state_version != STATE_VERSION)
    .values(state_version=STATE_VERSION)
)


def _grown(session: Session, kept: CanKept, entry: Entry) -> CanKept:
    """The can with one act more; once an act is undone, folded anew."""
    one = CAN_ACTS.logged(entry)
    if entry.strikes is None:
        state = core.can_after(kept.can, one)
    else:
        state = core.can_of([*map(CAN_ACTS.logged, log.entries(session, kept.job_id)), one])
    return replace(kept, can=state, last_seq=entry.seq)


def _check(kept: CanKept, act: CanAct) -> None:
    """Refuse what cannot be. Raises Refused."""
    state = kept.can
    if state.status is not Status.OPEN:
        raise Refused("kind", "the can is out of use", "undoing that it was closed first")
    match act:
        case SolventIn():
            _check_solvent(kept, act)
        case PourOff():
            if act.ml is None and act.g is None:
                raise Refused("ml", "missing", "how many ml were poured off, or what they weighed")
            ml = _poured_ml(kept, act)
            most = OVERFULL * kept.holds_ml if kept.holds_ml is not None else MAX_VOLUME_ML
            if ml > most:
                raise Refused(
                    "ml" if act.ml is not None else "g",
                    f"{ml:.0f} ml out of a can of {kept.holds_ml:g} ml",
                    f"up to {kept.holds_ml:g} ml",
                )
            if ml > state.held_ml * 1.02 + 5 and not act.anyway:
                raise Refused(
                    "anyway",
                    f"{ml:.0f} ml is more than was logged. Was there liquid in it before?",
                    f"up to {state.held_ml:.0f} ml, or yes, there was more in it",
                )
        case HeightRead():
            core.check_height(act.clear_mm, act.total_mm)
        case CanWeighed():
            if kept.tare_g is None:
                raise Refused("g", "the empty can's weight is not known", "the tare first, under 'The can itself'")
            if act.g <= kept.tare_g:
                raise Refused("g", f"no more than the empty can's {kept.tare_g:g} g", f"above {kept.tare_g:g} g")
        case _:
            pass


def _check_solvent(kept: CanKept, act: SolventIn) -> None:
    solvent, state = solvent_of(act.solvent_key), kept.can
    others = [key for key in state.solvents if key != solvent.key]
    if others and not act.anyway:
        there = ", ".join(solvent_of(key).name.lower() for key in others)
        raise Refused(
            "anyway",
            f"{there} is in this can, and {solvent.name.lower()} would go into it",
            "the same solvent, or yes to mixing them: mixed, neither dries nor smells as it did",
        )
    if kept.holds_ml is not None and state.held_ml + act.ml > OVERFULL * kept.holds_ml:
        raise Refused(
            "ml",
            f"{state.held_ml + act.ml:.0f} ml in a can of {kept.holds_ml:g} ml",
            f"up to {kept.holds_ml - state.held_ml:.0f} ml",
        )


OVERFULL = 1.1
"""A can holds so many times what it is said to hold: nobody measured it to the brim (assumed)."""


def _poured_ml(kept: CanKept, act: PourOff) -> float:
    state = kept.can
    density = state.held_g / state.held_ml if state.held_ml > 0 else kept.solvent.density_g_per_ml
    return act.ml if act.ml is not None else (act.g or 0.0) / density


def _facts(session: Session, now: datetime, kept: CanKept, act: CanAct) -> CanFacts:
    """What the record makes of an act. Raises Refused, Missing."""
    match act:
        case WashingIn():
            return looked_up(session, act)
        case SolventIn():
            return CanFacts(density_g_per_ml=solvent_of(act.solvent_key).density_g_per_ml)
        case PourOff():
            return CanFacts(
                ml=_poured_ml(kept, act), beyond=kept.solvent.key, density_g_per_ml=kept.solvent.density_g_per_ml
            )
        case SludgeFound():
            unknown = core.OLD_SLUDGE_G_PER_ML * act.sludge_ml / g_per_weight(session)
            return CanFacts(unknown=unknown, density_g_per_ml=kept.solvent.density_g_per_ml)
        case CanWeighed():
            return CanFacts(net_g=act.g - (kept.tare_g or 0.0), g_per_weight=g_per_weight(session))
        case SludgeOut():
            return out_facts(session, kept, act.g)
        case _:
            return CanFacts()


def _check_undo(kept: CanKept, logged: CanLogged) -> None:
    if logged.facts.dish is not None:
        raise Refused("strikes", "a dish was begun with it", "throwing the dish away, in the dish")


def _words(kept: CanKept, logged: CanLogged) -> str:
    return logged.act.words(logged.facts, {key: solvent.name for key, solvent in library().solvents.items()})


def _follow(session: Session, now: datetime, kept: CanKept, act: CanAct) -> CanKept:
    session.execute(_VERSIONED, {"of_job": kept.job_id})
    return can(session, kept.number)


def out_facts(session: Session, kept: CanKept, g: float | None) -> CanFacts:
    """The facts of sludge that is taken out. Raises Refused where there is none, or more than there can be."""
    if kept.can.makeup.weight <= 0:
        raise Refused(
            "kind", "nothing was washed into this can yet", "a washing, or the old sludge that is in it, first"
        )
    leaves = g_per_weight(session)
    most = kept.can.held_g + 5 * kept.can.solids_g(leaves) + 20
    if g is not None and kept.can.held_ml > 0 and g > most:
        raise Refused("g", f"{g:g} g out of a can that holds about {most:.0f} g at the most", f"up to {most:.0f} g")
    return CanFacts(g_per_weight=leaves)


def freshen(session: Session) -> None:
    """Keep every can as its log says it is: folded anew."""
    for number, job_id in session.execute(select(WashCan.number, WashCan.job_id)).all():
        state = STATE.dump_python(_folded(session, job_id), mode="json")
        session.execute(update(_JOB).where(_JOB.c.room == ROOM, _JOB.c.number == number).values(state=state))


CANS: LogRoom[CanKept, CanAct, CanFacts] = LogRoom(
    ROOM,
    "can",
    CAN_ACTS,
    job=can,
    grown=_grown,
    words=_words,
    check=_check,
    check_undo=_check_undo,
    facts=_facts,
    written=lambda kept: STATE.dump_python(kept.can, mode="json"),
    follow=_follow,
)
