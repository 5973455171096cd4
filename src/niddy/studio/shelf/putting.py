"""Paint put on the shelf, topped up, and how much of which batch that took."""

from __future__ import annotations

import math
from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy import Integer, Select, cast, func, or_, select
from sqlalchemy.orm import Session

from niddy.core import shelf as core
from niddy.core.colorimetry import lab_of_srgb
from niddy.core.contents import Contents, hazard_keys, joined, scaled
from niddy.core.errors import Refused, volume_ml
from niddy.db.shelf import ShelfItem
from niddy.studio import batches, jobs, log, outputs, paints
from niddy.studio.shelf.items import CONTENTS, ROOM, ItemKind, ItemLine, NewItem, contents_of_row, item_line, item_row


def put(session: Session, now: datetime, new: NewItem) -> int:
    """Put a tube or jar on the shelf; its id. The same `request_id` again gives the same one. Raises Refused."""
    volume_ml("volume_ml", new.volume_ml)
    if new.filled_on > now.date():
        raise Refused("filled_on", f"{new.filled_on} is still to come", f"up to {now.date()}")
    # A batch's or pot's codes are counted under its own lock; those of found jars under one of their own.
    if new.batch_number is not None:
        batches.hold(session, new.batch_number)
    elif new.made_by is None:
        session.execute(select(func.pg_advisory_xact_lock(_FOUND_CODES)))
    prefix = str(new.batch_number) if new.batch_number is not None else "F"
    if new.pot_number is not None:
        prefix = f"S{new.pot_number}"
    code = f"{prefix}-{(session.scalar(_last_code(prefix)) or 0) + 1}"
    begun = jobs.begin_job(session, ROOM, now, new.request_id, code)
    if not begun.anew:
        return begun.number
    row = ShelfItem(
        id=begun.number,
        job_id=begun.job_id,
        code=code,
        kind=new.kind,
        name=new.name,
        masstone_srgb=new.masstone_srgb,
        colour_order=_colour_order(new.masstone_srgb),
        batch_number=new.batch_number,
        pot_number=new.pot_number,
        container=new.container,
        usable_ml=new.usable_ml,
        volume_ml=new.volume_ml,
        density_g_per_ml=new.density_g_per_ml,
        gross_g=new.gross_g,
        tare_g=new.tare_g,
        place=new.place.strip(),
        cover=new.cover,
        note=new.note,
        filled_on=new.filled_on,
        use_by=new.use_by,
        status=new.status,
        why="",
        hazards=sorted({*new.hazards, *hazard_keys(new.contents)}),
        contents=CONTENTS.dump_python(new.contents, mode="json"),
        unknown_hazard=new.unknown_hazard,
        label_says=new.label_says,
        colour_read=new.colour_read,
        next_inspection_on=core.until_use_by(
            core.after_months(new.filled_on, core.next_interval_months([])), new.use_by
        ),
    )
    session.add(row)
    session.flush()
    if new.batch_number is not None:
        outputs.note(session, batches.job_of(session, new.batch_number), now, new.volume_ml, item_id=row.id)
        _note_tubes(session, new.batch_number)
    if new.kind != ItemKind.STICK:
        _know(session, now, row)
    if new.made_by is not None:
        outputs.note(session, new.made_by, now, new.volume_ml, item_id=row.id)
    what = "found" if new.batch_number is None else "waits to be topped up" if new.status == "waiting" else "filled"
    if new.made_by is not None:
        what = "cast"
    log.log(session, now, begun.job_id, log.New(uuid5(new.request_id, "put"), "put", now, {}, {"text": what}))
    return row.id


def _know(session: Session, now: datetime, row: ShelfItem) -> None:
    """Make the paint of a tube or jar known as one that can be mixed."""
    if row.batch_number is None:
        paints.know_item(session, now, row.id, row.name, row.masstone_srgb)
    elif paints.of_batch(session, row.batch_number) is None:
        lines = batches.batch(session, row.batch_number, 0).plan.lines
        tinting = lines[0].pigment.tinting if len(lines) == 1 else "medium"
        paints.know_batch(session, now, row.batch_number, row.name, tinting, row.masstone_srgb)


def _note_tubes(session: Session, number: int) -> None:
    tubes = select(func.count()).where(ShelfItem.batch_number == number, ShelfItem.kind == ItemKind.TUBE)
    batches.note_tubes(session, number, session.scalar(tubes) or 0)


_FOUND_CODES = 0x6E6A6172


def _last_code(prefix: str) -> Select[int]:
    number = cast(func.split_part(ShelfItem.code, "-", 2), Integer)
    return select(func.max(number)).where(ShelfItem.code.op("~")(f"^{prefix}-[0-9]+$"))


def _colour_order(srgb: str) -> float:
    """Greys by lightness first, then round the hues."""
    lab = lab_of_srgb(srgb)
    chroma = (lab.a**2 + lab.b**2) ** 0.5
    if chroma < 8:
        return lab.L / 1000
    return 1 + math.degrees(math.atan2(lab.b, lab.a)) % 360


def waiting_of(session: Session, recipe_id: int) -> tuple[ItemLine, ...]:
    """Part-filled tubes that wait for the next batch of a recipe."""
    numbers = [batch.number for batch in batches.of_recipe(session, recipe_id)]
    rows = session.scalars(
        select(ShelfItem).where(
            ShelfItem.status == "waiting", ShelfItem.use_by.is_(None), ShelfItem.batch_number.in_(numbers)
        )
    )
    return tuple(item_line(row, row.filled_on) for row in rows)


def top_up(
    session: Session, now: datetime, item_id: int, event_id: UUID, number: int, volume_ml: float, paint: Contents
) -> None:
    """Fill a waiting tube up with paint of the next batch, whose `paint` is given for 1 ml; both numbers are kept.

    Raises Refused, Missing.
    """
    row = item_row(session, item_id, lock=True)
    if row.status != "waiting":
        raise Refused("item_id", "it does not wait", "a part-filled tube")
    most = (row.usable_ml or volume_ml) * 1.05
    if volume_ml <= row.volume_ml or volume_ml > most:
        raise Refused(
            "volume_ml", f"{volume_ml:g} ml would not fill it up", f"above {row.volume_ml:.1f} to {most:.1f} ml"
        )
    taken = volume_ml - row.volume_ml
    row.volume_ml, row.topped_by, row.status = volume_ml, number, "kept"
    outputs.note(session, batches.job_of(session, number), now, taken, item_id=item_id, act_id=event_id)
    row.contents = CONTENTS.dump_python(joined(contents_of_row(session, row), scaled(paint, taken)), mode="json")
    row.hazards = sorted({*row.hazards, *hazard_keys(paint)})
    facts = {"text": f"topped up with {taken:.1f} ml of batch {number}", "taken_ml": taken}
    log.log(session, now, row.job_id, log.New(event_id, "topped_up", now, {}, facts))
    session.flush()


def filled_from(session: Session, number: int) -> tuple[tuple[ItemLine, ...], float]:
    """What was filled from a batch, and how much of its paint that took in ml, top-ups counted where they went."""
    rows = session.scalars(
        select(ShelfItem)
        .where(or_(ShelfItem.batch_number == number, ShelfItem.topped_by == number))
        .order_by(ShelfItem.id)
    ).all()
    return tuple(item_line(row, row.filled_on) for row in rows), taken_of(session, [number]).get(number, 0.0)


def taken_of(session: Session, numbers: list[int]) -> dict[int, float]:
    """How much of the paint of some batches is in tubes and jars, in ml."""
    jobs = batches.jobs_of(session, numbers)
    taken: dict[int, float] = {}
    for made in outputs.of_jobs(session, list(jobs)):
        if made.item_id is not None:
            taken[jobs[made.job_id]] = taken.get(jobs[made.job_id], 0.0) + made.amount
    return taken
