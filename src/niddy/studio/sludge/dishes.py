"""Dishes as they are kept: sludge taken out of a can, weighed while it dries, and what becomes of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Annotated
from uuid import UUID, uuid5

from pydantic import Field, TypeAdapter
from sqlalchemy import insert, select, update
from sqlalchemy.orm import Session

from niddy.core import sludge as core
from niddy.core.amounts import Grams
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.log import Status, counting
from niddy.core.materials import Solvent
from niddy.core.sludge import Dish, DishAct, DishFacts, DishLogged, Forecast, Makeup, Method
from niddy.core.sludge.can_acts import Share, SludgeOut
from niddy.core.sludge.dish_acts import AnyDishAct, DishWeighed, DryBySigns, ToStock, check_act, check_undo
from niddy.db.base import table_of
from niddy.db.sludge import SludgeDish, SludgeSource
from niddy.studio import jobs, log, recorder
from niddy.studio.errors import Missing
from niddy.studio.log import Entry
from niddy.studio.recorder import Acts, LogRoom
from niddy.studio.sludge.cakes import into_stock
from niddy.studio.sludge.cans import Place, out_facts, solvent_of
from niddy.studio.sludge.cans import can as can_kept
from niddy.studio.sludge.cans import row_of as can_row
from niddy.studio.sludge.cans import take_out as take_out_of
from niddy.studio.sludge.pace import dish_pace
from niddy.studio.sludge.washed import sources_of

ROOM = "dishes"
MAKEUP = TypeAdapter(Makeup)
DISH_ACTS: Acts[DishAct, DishFacts] = Acts(AnyDishAct, DishFacts)


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
    acts: tuple[DishLogged, ...]
    dish: Dish
    forecast: Forecast | None

    @property
    def stocked(self) -> tuple[ToStock, DishFacts] | None:
        """The act that took it into stock, with what the record adds; None before."""
        return next(((one.act, one.facts) for one in self.acts if isinstance(one.act, ToStock)), None)

    @property
    def started_drying(self) -> datetime | None:
        """When the weighings that count began."""
        return self.dish.weighed[0].at if self.dish.weighed else None

    @property
    def ready_at(self) -> datetime | None:
        """When it may be tubed, in the middle of its band; since when, where it was judged so."""
        if self.dish.judged is not None and core.dry_enough(self.dish, self.forecast) and self.dish.judged_dry:
            return self.dish.judged.at
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
        _check_method(asked, kept.solvent)
        if asked.gross_g is not None and asked.gross_g <= (asked.tare_g or 0.0):
            raise Refused("gross_g", f"no more than the dish's {asked.tare_g:g} g", f"above {asked.tare_g:g} g")
        out_facts(session, kept, None)
    begun = jobs.begin_job(session, ROOM, now, asked.request_id, f"Sludge of {kept.name}", doc)
    if not begun.anew:
        return begun.number
    makeup = core.share_of(kept.can.makeup, asked.share)
    net_g = asked.gross_g - (asked.tare_g or 0.0) if asked.gross_g is not None else None
    out = SludgeOut(
        id=uuid5(asked.request_id, "out"), made_at=now, kind="sludge_out", share=asked.share, g=net_g, wiped=asked.wiped
    )
    take_out_of(session, now, asked.can_number, out, begun.number)
    session.execute(
        insert(_DISH).values(
            number=begun.number,
            job_id=begun.job_id,
            can_number=asked.can_number,
            method=asked.method,
            solvent_key=kept.solvent.key,
            place=asked.place,
            tare_g=asked.tare_g or 0.0,
            makeup={**MAKEUP.dump_python(makeup, mode="json"), "weight": makeup.weight},
        )
    )
    for source in sources_of(session, list(makeup.sources)):
        session.execute(insert(SludgeSource).values(job_id=begun.job_id, **source))
    if asked.gross_g is not None:
        first = DishWeighed(id=uuid5(asked.request_id, "first"), made_at=now, kind="weigh", g=asked.gross_g)
        recorder.record(session, now, DISHES, begun.number, first)
    return begun.number


_DISH = table_of(SludgeDish)


def _check_method(asked: DishAsked, solvent: Solvent) -> None:
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


def dish(session: Session, number: int) -> DishKept:
    """One dish with its log. Raises Missing."""
    row = row_of(session, number)
    return kept_of(session, row, log.entries(session, row.job_id))


def kept_of(session: Session, row: SludgeDish, entries: tuple[Entry, ...]) -> DishKept:
    """A dish of its row and log."""
    acts = counting(DISH_ACTS.logged(entry) for entry in entries)
    state = core.dish_of(acts, row.tare_g)
    method = Method(row.method)
    makeup = {key: value for key, value in row.makeup.items() if key != "weight"}
    return DishKept(
        row.number,
        row.job_id,
        row.name,
        row.can_number,
        method,
        solvent_of(row.solvent_key),
        row.place,
        row.tare_g,
        MAKEUP.validate_python(makeup),
        Status(row.status),
        row.started_at,
        row.ended_at,
        row.last_seq,
        entries,
        acts,
        state,
        core.dish_forecast(state, method, *dish_pace(session)),
    )


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


def _grown(session: Session, kept: DishKept, entry: Entry) -> DishKept:
    acts = counting([*map(DISH_ACTS.logged, kept.entries), DISH_ACTS.logged(entry)])
    state = core.dish_of(acts, kept.tare_g)
    return replace(kept, acts=acts, dish=state, status=state.status, last_seq=entry.seq)


def _facts(session: Session, now: datetime, kept: DishKept, act: DishAct) -> DishFacts:
    return into_stock(session, now, kept, act) if isinstance(act, ToStock) else DishFacts()


def _follow(session: Session, now: datetime, kept: DishKept, act: DishAct) -> DishKept:
    """The columns beside the log: when it is ready, and once it is done what it taught."""
    grown = dish(session, kept.number)
    down = grown.forecast.down if grown.forecast is not None else None
    done, stocked = grown.status is Status.FINISHED, grown.stocked
    summary = {
        "ready_at": None if done else grown.ready_at,
        "tau_h": down.tau_h.median if done and down is not None else None,
        "dry_g": stocked[1].dry_g if stocked is not None else None,
    }
    session.execute(update(_DISH).where(_DISH.c.number == kept.number).values(summary))
    return grown


def _check(kept: DishKept, act: DishAct) -> None:
    """Refuse what cannot be in this dish. Raises Refused."""
    if isinstance(act, DryBySigns) and not kept.solvent.evaporates:
        raise Refused(
            "kind", f"{kept.solvent.name.lower()} never dries away", "a weighing: it is done when it is steady"
        )
    check_act(kept.dish, act)


DISHES: LogRoom[DishKept, DishAct, DishFacts] = LogRoom(
    ROOM,
    "dish",
    DISH_ACTS,
    job=dish,
    grown=_grown,
    words=lambda kept, logged: logged.act.words(logged.facts, kept.tare_g),
    check=_check,
    check_undo=lambda kept, logged: check_undo(kept.dish, logged.act),
    facts=_facts,
    follow=_follow,
)
