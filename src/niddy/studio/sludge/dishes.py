"""Dishes as they are kept: sludge taken out of a can, weighed while it dries, and what becomes of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID, uuid5

from pydantic import Field, TypeAdapter
from sqlalchemy import insert, select, update
from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.materials import Solvent
from niddy.core.sludge import CanKind, Dish, DishAct, DishKind, Forecast, Makeup, Method
from niddy.db.base import table_of
from niddy.db.sludge import SludgeDish, SludgeSource
from niddy.studio import log, undoing
from niddy.studio.amounts import Grams
from niddy.studio.documents import Document, RowId
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.sludge.acts import (
    DishActAsked,
    DishAdded,
    DishStrike,
    DishWeighed,
    Share,
    SludgeOut,
    Squeezed,
    Strained,
    ToStock,
    payload_of,
)
from niddy.studio.sludge.cakes import into_stock
from niddy.studio.sludge.cans import Place, out_facts, solvent_of
from niddy.studio.sludge.cans import can as can_kept
from niddy.studio.sludge.cans import row_of as can_row
from niddy.studio.sludge.cans import take_out as take_out_of
from niddy.studio.sludge.pace import dish_pace
from niddy.studio.sludge.washed import sources_of
from niddy.studio.times import act_time

ROOM = "dishes"
MAKEUP = TypeAdapter(Makeup)


class DishAsked(Document):
    """Sludge taken out of a can into a dish: what share of it, the empty dish, and the dish with the sludge in it.

    `request_id` is the client's: sent twice it begins one dish.
    """

    request_id: UUID
    can_number: RowId
    method: Method
    share: Share = 1.0
    wiped: Annotated[bool, Field(strict=True)] = False
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    gross_g: Grams | None = None
    place: Place = ""


@dataclass(frozen=True, slots=True)
class DishKept:
    """A dish with its log, and what will become of it."""

    number: int
    job_id: int
    name: str
    can_number: int
    method: Method
    solvent: Solvent
    place: str
    tare_g: float
    makeup: Makeup
    status: Status
    started_at: datetime
    ended_at: datetime | None
    last_seq: int
    entries: tuple[Entry, ...]
    dish: Dish
    forecast: Forecast | None

    @property
    def started_drying(self) -> datetime | None:
        """When the weighings that count began."""
        return self.dish.weighed[0].at if self.dish.weighed else None

    @property
    def ready_at(self) -> datetime | None:
        """When it may be tubed, in the middle of its band."""
        if self.forecast is None or self.forecast.ready_hours is None or self.started_drying is None:
            return None
        return self.started_drying + timedelta(hours=self.forecast.ready_hours.median)


def begin(session: Session, now: datetime, asked: DishAsked) -> int:
    """Take sludge out of a can into a dish; the dish's number. Raises Refused, Conflict, Missing."""
    can_row(session, asked.can_number)
    kept = can_kept(session, asked.can_number)
    doc = asked.model_dump(mode="json", exclude={"request_id"})
    earlier = log.by_request(session, ROOM, asked.request_id)
    if earlier is None:
        _check(asked, kept.solvent)
        if asked.gross_g is not None and asked.gross_g <= (asked.tare_g or 0.0):
            raise Refused("gross_g", f"no more than the dish's {asked.tare_g:g} g", f"above {asked.tare_g:g} g")
        out_facts(session, kept, None)
    begun = log.begin(
        session, ROOM, now, asked.request_id, f"Sludge of {kept.name}", doc
    )  # fmt: skip
    if not begun.anew:
        return begun.number
    makeup = core.share_of(kept.can.makeup, asked.share)
    net_g = asked.gross_g - (asked.tare_g or 0.0) if asked.gross_g is not None else None
    out = SludgeOut(
        id=uuid5(asked.request_id, "out"), made_at=now, kind=CanKind.SLUDGE_OUT, share=asked.share,
        g=net_g, wiped=asked.wiped,
    )  # fmt: skip
    take_out_of(session, now, asked.can_number, out, begun.number)
    session.execute(
        insert(_DISH).values(
            number=begun.number, job_id=begun.job_id, can_number=asked.can_number, method=asked.method,
            solvent_key=kept.solvent.key, place=asked.place, tare_g=asked.tare_g or 0.0,
            makeup={**MAKEUP.dump_python(makeup, mode="json"), "weight": makeup.weight},
        )
    )  # fmt: skip
    for source in sources_of(session, list(makeup.sources)):
        session.execute(insert(SludgeSource).values(job_id=begun.job_id, **source))
    if asked.gross_g is not None:
        first = DishWeighed(id=uuid5(asked.request_id, "first"), made_at=now, kind=DishKind.WEIGH, g=asked.gross_g)
        keep(session, now, begun.number, first)
    return begun.number


_DISH = table_of(SludgeDish)


def _check(asked: DishAsked, solvent: Solvent) -> None:
    if asked.method is Method.DRAIN and solvent.evaporates:
        raise Refused("method", f"{solvent.name.lower()} dries: it need not drain", "squeeze or evaporate")
    if asked.method is Method.EVAPORATE and not solvent.evaporates:
        raise Refused("method", f"{solvent.name.lower()} never evaporates", "squeeze it, or let it drain")


def row_of(session: Session, number: int) -> SludgeDish:
    """The row of a dish. Raises Missing."""
    wanted = select(SludgeDish).where(SludgeDish.number == number).execution_options(populate_existing=True)
    row = session.scalar(wanted)
    if row is None:
        raise Missing("dish", number)
    return row


def job_of(session: Session, number: int) -> int:
    """The job of a dish. Raises Missing."""
    return row_of(session, number).job_id


def dish(session: Session, number: int) -> DishKept:
    """One dish with its log. Raises Missing."""
    row = row_of(session, number)
    return kept_of(session, row, log.entries(session, row.job_id))


def kept_of(session: Session, row: SludgeDish, entries: tuple[Entry, ...]) -> DishKept:
    """A dish of its row and log."""
    state = core.dish_of([act_from(entry, row.tare_g) for entry in entries])
    method = Method(row.method)
    makeup = {key: value for key, value in row.makeup.items() if key != "weight"}
    return DishKept(
        row.number, row.job_id, row.name, row.can_number, method, solvent_of(row.solvent_key), row.place, row.tare_g,
        MAKEUP.validate_python(makeup), Status(row.status), row.started_at, row.ended_at, row.last_seq, entries,
        state, core.dish_forecast(state, method, *dish_pace(session)),
    )  # fmt: skip


def several(session: Session, rows: Sequence[SludgeDish]) -> tuple[DishKept, ...]:
    """Dishes of their rows, with their logs read at once."""
    entries = log.several(session, [row.job_id for row in rows]) if rows else {}
    return tuple(kept_of(session, row, tuple(entries[row.job_id])) for row in rows)


def still_open(session: Session, can_numbers: Sequence[int] | None = None) -> tuple[DishKept, ...]:
    """The dishes that dry or drain, the newest first; all, or of some cans."""
    wanted = select(SludgeDish).where(SludgeDish.status == Status.OPEN)
    if can_numbers is not None:
        wanted = wanted.where(SludgeDish.can_number.in_(can_numbers))
    return several(session, session.scalars(wanted.order_by(SludgeDish.number.desc())).all())


def act_from(entry: Entry, tare_g: float) -> DishAct:
    """The core's act of a logged one."""
    payload = entry.payload
    g = payload.get("g")
    if g is not None and entry.kind != DishKind.TO_STOCK:
        g = g - tare_g
    return DishAct(
        entry.id, entry.seq, DishKind(entry.kind), entry.made_at, entry.strikes, g=g,
        mesh_um=payload.get("mesh_um"), hairs=payload.get("hairs", False),
    )  # fmt: skip


def keep(session: Session, now: datetime, number: int, act: DishActAsked) -> DishKept:
    """Log an act; the dish after it. Sent again it changes nothing. Raises Refused, Conflict, Missing."""
    job_id = job_of(session, number)
    log.hold(session, job_id)
    kept = dish(session, number)
    payload = payload_of(act)
    if log.known(session, job_id, act.id, act.kind, payload):
        return kept
    act_time("made_at", act.made_at, now)
    check(kept, act)
    facts: dict[str, Any] = {}
    if isinstance(act, ToStock):
        facts = into_stock(session, now, kept, act)
    strikes = act.strikes if isinstance(act, DishStrike) else None
    entry = Entry(act.id, kept.last_seq + 1, act.kind, payload, facts, strikes, act.made_at)
    after = core.dish_of([act_from(one, kept.tare_g) for one in (*kept.entries, entry)])
    log.append(
        session, now, job_id, log.New(act.id, act.kind, act.made_at, payload, facts, strikes), entry.seq,
        status=after.status,
    )  # fmt: skip
    grown = kept_of(session, row_of(session, number), log.entries(session, job_id))
    _summarise(session, grown)
    return grown


def check(kept: DishKept, act: DishActAsked) -> None:
    """Whether this act can be: what is refused names its field."""
    if isinstance(act, DishStrike):
        target = undoing.undone_by(kept.entries, act.strikes)
        if target.kind == DishKind.TO_STOCK:
            raise Refused("strikes", "it is a lot in stock", "putting the lot right, in Materials")
        return
    if kept.status is not Status.OPEN:
        raise Refused("kind", "the dish is done with", "striking out what ended it first")
    if isinstance(act, DishWeighed | DishAdded | Squeezed) and act.g is not None and act.g <= kept.tare_g:
        raise Refused("g", f"no more than the empty dish's {kept.tare_g:g} g", f"above {kept.tare_g:g} g")
    if isinstance(act, DishWeighed) and kept.dish.weighed and not act.anyway:
        last = kept.dish.weighed[-1].g
        now_g = act.g - kept.tare_g
        if now_g > last * (1 + core.RISE) + 0.1:
            raise Refused(
                "g", f"{now_g:.1f} g of sludge, and {last:.1f} g the time before: was something added?",
                "a weight below the last one; or say that something was added",
            )  # fmt: skip
    if isinstance(act, Strained) and act.mesh_um is None and not act.hairs:
        raise Refused("mesh_um", "missing", "the mesh in micrometres, or that hairs were picked out")


def _summarise(session: Session, kept: DishKept) -> None:
    """The columns beside the log: when it is ready, and once it is done what it taught."""
    down = kept.forecast.down if kept.forecast is not None else None
    done = kept.status is Status.FINISHED
    lot = next((one for one in kept.entries if one.kind == DishKind.TO_STOCK and not one.struck), None)
    session.execute(
        update(_DISH)
        .where(_DISH.c.number == kept.number)
        .values(
            ready_at=None if done else kept.ready_at,
            tau_h=down.tau_h.median if done and down is not None else None,
            dry_g=lot.facts["dry_g"] if lot is not None else None,
        )
    )  # fmt: skip
