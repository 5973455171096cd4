"""Processes swapped between studios: one out as a file, one in with a look at it first."""

from __future__ import annotations

from datetime import datetime

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import making as core
from niddy.core.errors import Refused
from niddy.core.measures import Unit, amount_words
from niddy.db.making import MakingProcess
from niddy.studio.errors import Missing
from niddy.studio.making.asked import IngredientAsked, ProcessAsked, ProcessSaid, StepAsked
from niddy.studio.making.kept import version_of
from niddy.studio.making.processes import add
from niddy.studio.swapped import VERSION, Card, CardLine, Looked, ProcessFile, beyond


def as_file(session: Session, process_id: int) -> ProcessFile:
    """The newest version of a process as a file. Raises Missing."""
    row, version = _row(session, process_id), version_of(session, process_id, None)
    return ProcessFile(
        format="niddy-process",
        version=VERSION,
        name=row.name,
        why=version.why,
        process={**version.said, "note": row.note},
        **beyond(row.came_as, "process"),
    )


def look(session: Session, file: ProcessFile) -> Looked:
    """What would come in with a file. Changes nothing. Raises Refused where it cannot be a process here."""
    core.check(_asked(file, file.name).process(file.name))
    taken = session.scalar(select(MakingProcess.id).where(MakingProcess.name == file.name.strip())) is not None
    return Looked("process", file.name, taken, file.why, (), (), tuple(sorted(beyond(file.model_dump(), "process"))))


def take_in(session: Session, now: datetime, file: ProcessFile, name: str) -> int:
    """Take a process in; its id. Raises Refused."""
    process_id = add(session, now, _asked(file, name))
    _row(session, process_id).came_as = file.model_dump(mode="json")
    session.flush()
    return process_id


def card(session: Session, process_id: int) -> Card:
    """What stands on a process's card. Raises Missing."""
    row, version = _row(session, process_id), version_of(session, process_id, None)
    said = ProcessSaid.model_validate(version.said)
    lines = [
        CardLine(
            one.name + (f" ({one.formula})" if one.formula else ""),
            _amount(one) + (f" as {one.solution_pct:g} % solution" if one.solution_pct else ""),
        )
        for one in said.ingredients
    ]
    lines += [CardLine(f"{n + 1}. {step.says}", _measures(step)) for n, step in enumerate(said.steps)]
    lines.append(CardLine("Read every safety data sheet first; follow local codes and licensed disposal."))
    return Card("Process of making pigment", row.name, f"version {version.version}", tuple(lines))


def _measures(step: StepAsked) -> str:
    """What a step is measured by."""
    ph, heat = (step.ph_low, step.ph_high), (step.temperature_low_c, step.temperature_high_c)
    said = [
        "pH " + " to ".join(f"{at:g}" for at in ph if at is not None) if any(at is not None for at in ph) else "",
        " to ".join(f"{at:g}" for at in heat if at is not None) + " °C" if any(at is not None for at in heat) else "",
        _long(step.minutes) if step.minutes else "",
        f"{step.washes or 1} times {step.wash_ml:g} ml" if step.wash_ml else "",
        f"{step.mesh_um:g} µm" if step.mesh_um else "",
    ]
    return ", ".join(one for one in said if one)


def _long(minutes: float) -> str:
    if minutes < 120:
        return f"{minutes:g} min"
    return f"{minutes / 60:.3g} h" if minutes < 2_880 else f"{minutes / 1_440:.3g} days"


def _row(session: Session, process_id: int) -> MakingProcess:
    row = session.get(MakingProcess, process_id)
    if row is None:
        raise Missing("process", process_id)
    return row


def _asked(file: ProcessFile, name: str) -> ProcessAsked:
    known = set(ProcessSaid.model_fields)
    document = {key: value for key, value in file.process.items() if key in known}
    try:
        return ProcessAsked.model_validate(
            {**document, "note": file.process.get("note", ""), "name": name.strip()[:80]}
        )
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"]))
        raise Refused("file", f"its process is damaged at {where}", "a process saved by Niddy as a file") from None


def _amount(one: IngredientAsked) -> str:
    if one.unit is Unit.EYE:
        return "some"
    return f"{one.parts_g:g} g" if one.amount is None else amount_words(one.amount, one.unit)
