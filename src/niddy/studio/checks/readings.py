"""Readings: as sent, as worked out, and their means."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from statistics import fmean
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import checks, colorimetry
from niddy.core.amounts import Grams
from niddy.core.checks import CHOICES, COLOURS, UNITS, CheckKind, Component
from niddy.core.colorimetry import Lab
from niddy.core.documents import Document
from niddy.core.errors import MIN_VOLUME_ML, Refused
from niddy.core.estimate import Estimate
from niddy.core.mixing.paints import READER_OFF
from niddy.core.mulling import dispersing_minutes_per_load
from niddy.core.words import Words
from niddy.db.checks import Check
from niddy.studio import batches, jobs, log, paints, recipes, workshop
from niddy.studio.batches import Made
from niddy.studio.checks.colours import TINT_WHITE_PARTS, UNCERTAIN, LabAsked, ReadColour
from niddy.studio.times import act_time

READ = "read"
"""The result of a colour that has no standard to be compared with: it was read, that is all."""


Millimetres = Annotated[float, Field(strict=True, ge=0, le=2_000)]


class CheckAsked(Document):
    """One reading, with an id made by the client. What belongs to its kind is needed, the rest left out.

    `spread`: `diameters_mm` (two, at right angles), and `volume_ml`, `mass_kg`, `plate_mm` where they are not
    the usual; `density`: `gross_g`, `tare_g`, `volume_ml` of a syringe; `string`, `bleed`: `length_mm`;
    `fineness`: `fineness_um`; colours: `lab`, `srgb`, or `spectrum` (31 bands), and of
    a tint the `white_parts` to one of paint where they are not ten; the drawn ones: `choice`.
    """

    id: UUID
    kind: CheckKind
    made_at: AwareDatetime
    diameters_mm: Annotated[list[Millimetres | None], Field(max_length=8)] | None = None
    volume_ml: Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=1_000)] | None = None
    mass_kg: Annotated[float, Field(strict=True, ge=0.001, le=100)] | None = None
    plate_mm: Millimetres | None = None
    gross_g: Grams | None = None
    tare_g: Annotated[float, Field(strict=True, ge=0, le=20_000)] | None = None
    length_mm: Millimetres | None = None
    fineness_um: Annotated[float, Field(strict=True, ge=0.1, le=500)] | None = None
    choice: Annotated[Words, Field(max_length=40)] | None = None
    lab: LabAsked | None = None
    srgb: Annotated[Words, Field(max_length=20)] | None = None
    spectrum: Annotated[list[Annotated[float, Field(strict=True)]], Field(max_length=200)] | None = None
    uncertainty: Annotated[float, Field(strict=True, ge=0, le=100)] | None = None
    white_parts: Annotated[float, Field(strict=True, ge=0.05, le=1_000)] | None = None
    note: Annotated[Words, Field(max_length=500)] = ""


@dataclass(frozen=True, slots=True)
class Worked:
    """One line of how a result was got."""

    name: str
    value: float
    unit: str


@dataclass(frozen=True, slots=True)
class CheckKept:
    """A reading as kept: its result, how it was got, and why it does not count where it does not."""

    id: UUID
    kind: CheckKind
    value: float | None
    unit: str
    choice: str | None
    srgb: str | None
    lab: Lab | None
    worked: tuple[Worked, ...]
    says: str
    note: str
    made_at: datetime
    set_aside: str | None


@dataclass(frozen=True, slots=True)
class Mean:
    """The readings of one check that count, together."""

    kind: CheckKind
    unit: str
    estimate: Estimate | None
    choice: str | None
    readings: int


ROOM = "checks"
"""The room whose job, under a batch's own number, has the log of its readings and decisions."""

READING = "reading"


def keep(session: Session, now: datetime, number: int, asked: CheckAsked) -> None:
    """Keep one reading, as `record` does."""
    payload = asked.model_dump(mode="json", exclude_none=True)
    job_id = jobs.job_beside(session, ROOM, now, number, batches.made(session, number).kept.name)
    log.hold(session, job_id)
    made = batches.made(session, number)
    if log.known(session, job_id, asked.id, READING, payload):
        return
    ended = made.kept.ended_at or made.kept.started_at
    act_time("made_at", asked.made_at, now, since=made.kept.started_at - timedelta(days=2))
    value, choice, facts = _worked(session, made, asked, ended)
    facts |= {"note": asked.note} if asked.note else {}
    noted = {**facts, "value": value, "choice": choice}
    log.log(session, now, job_id, log.New(asked.id, READING, asked.made_at, payload, noted))
    session.add(
        Check(
            id=asked.id,
            batch_number=number,
            kind=asked.kind,
            value=value,
            choice=choice,
            facts=facts,
            made_at=asked.made_at,
            set_aside=None,
        )
    )
    session.flush()
    if asked.kind in (CheckKind.MASSTONE, CheckKind.TINT):
        pigments = [weighed.pigment for weighed in made.kept.plan.lines]
        tinting = pigments[0].tinting if len(pigments) == 1 else "medium"
        paint_id = paints.know_batch(session, now, number, made.kept.name, tinting, made.kept.masstone_srgb)
        paints.read_anew(session, paint_id)
    keep_results(session, number)


def _needed(field: str, value: Any, accepted: str) -> Any:
    if value is None:
        raise Refused(field, "missing", accepted)
    return value


def _worked(
    session: Session, made: Made, asked: CheckAsked, ended: datetime
) -> tuple[float | None, str | None, dict[str, Any]]:
    """The result of a reading: its figure or choice, and how it was got."""
    match asked.kind:
        case CheckKind.SPREAD:
            diameters = _needed("diameters_mm", asked.diameters_mm, "two diameters at right angles, in mm")
            if len(diameters) < 2 or any(d is None for d in diameters):
                missing = next((n for n, d in enumerate(diameters) if d is None), len(diameters))
                raise Refused(f"diameters_mm.{missing}", "missing", "two diameters at right angles, in mm")
            volume, mass = asked.volume_ml or checks.SYRINGE_ML, asked.mass_kg or checks.PLATES_KG
            spreading = checks.spread(diameters, volume, mass, asked.plate_mm or checks.PLATE_MM)
            return (
                spreading.diameter_mm,
                None,
                {
                    "worked": [
                        ["volume", volume, "ml"],
                        ["plate and weight", mass, "kg"],
                        ["yield stress", spreading.yield_stress_pa, "Pa"],
                    ],
                    "says": f"yields at {spreading.yield_stress_pa:.0f} Pa: 3 M g V / (2 pi^2 (D/2)^5)",
                },
            )
        case CheckKind.DENSITY:
            return _density(made, asked)
        case CheckKind.STRING:
            length = float(_needed("length_mm", asked.length_mm, "the longest thread in mm"))
            return length, None, {"says": checks.string_says(length)}
        case CheckKind.BLEED:
            return float(_needed("length_mm", asked.length_mm, "the width of the halo in mm")), None, {}
        case CheckKind.FINENESS:
            return float(_needed("fineness_um", asked.fineness_um, "the reading of the gauge in um")), None, {}
        case CheckKind.MASSTONE | CheckKind.UNDERTONE | CheckKind.TINT:
            return _colour(session, made, asked)
        case CheckKind.DRYING:
            choice = _choice(asked)
            day = max(0.0, (asked.made_at - ended).total_seconds() / 86_400)
            dry = choice == CHOICES[CheckKind.DRYING][-1]
            return (day if dry else None), choice, {"says": f"day {day:.0f}: {choice}"}
        case _:
            return None, _choice(asked), {}


def _choice(asked: CheckAsked) -> str:
    if asked.choice not in CHOICES[asked.kind]:
        raise Refused(
            "choice", "missing" if asked.choice is None else "not one of them", ", ".join(CHOICES[asked.kind])
        )
    return asked.choice


def components_of(made: Made) -> tuple[Component, ...]:
    """What is in a batch, by mass and density; nothing where that is not known."""
    paste, facts = made.kept.paste, made.kept.plan.facts
    if paste.pigment_g <= 0 or paste.oil_g <= 0:
        return ()
    return (
        Component(paste.pigment_g, facts.pigment_density_g_per_ml),
        Component(paste.oil_g, facts.oil_density_g_per_ml),
        *(
            Component(additive.grams, additive.what.density_g_per_ml)
            for additive in paste.additives.values()
            if additive.grams > 0
        ),
    )


def _density(made: Made, asked: CheckAsked) -> tuple[float, None, dict[str, Any]]:
    facts = made.kept.plan.facts
    components = components_of(made)
    if not components:
        raise Refused("kind", "nothing is known to be in this paint", "a batch with powder and oil logged")
    air = checks.air(
        _needed("gross_g", asked.gross_g, "the full syringe in g"),
        _needed("tare_g", asked.tare_g, "the empty syringe in g"),
        _needed("volume_ml", asked.volume_ml, "the volume of paint in it, in ml"),
        list(components),
    )
    implied = checks.implied_ratio(air.density_g_per_ml, facts.pigment_density_g_per_ml, facts.oil_density_g_per_ml)
    worked = [["density", air.density_g_per_ml, "g/ml"], ["without air", air.theoretical_g_per_ml, "g/ml"]]
    if implied is not None:
        worked.append(["ratio it implies without air", implied, "g per 100 g"])
    return 100 * air.air_fraction, None, {"worked": worked, "says": checks.air_says(air.air_fraction)}


def _colour(session: Session, made: Made, asked: CheckAsked) -> tuple[float | None, None, dict[str, Any]]:
    read = ReadColour(lab=asked.lab, srgb=asked.srgb, spectrum=asked.spectrum, uncertainty=asked.uncertainty).seen()
    lab = read.lab
    facts: dict[str, Any] = {"worked": [], "lab": [lab.L, lab.a, lab.b]}
    if read.spectrum is not None:
        facts["spectrum"] = list(read.spectrum)
    if read.off != READER_OFF:
        facts["worked"].append([UNCERTAIN, read.off, "dE00"])
    if asked.kind is CheckKind.TINT:
        # The white of this tint stays its white, whatever the studio lets down with later.
        facts |= {"white_parts": asked.white_parts or TINT_WHITE_PARTS, "white_id": workshop.white_of_tints(session)}
    standard = standard_of(session, made, asked.kind)
    if standard is None:
        return None, None, {**facts, "says": "no standard to compare with yet"}
    difference = colorimetry.difference(Lab(*standard.facts["lab"]), lab)
    facts["says"] = f"dE00 {difference:.1f} from batch {standard.batch_number}"
    if asked.kind is CheckKind.TINT and asked.spectrum and standard.facts.get("spectrum"):
        strength = colorimetry.tint_strength_percent(
            tuple(max(0.001, min(1.0, r)) for r in standard.facts["spectrum"]),
            tuple(max(0.001, min(1.0, r)) for r in asked.spectrum),
        )
        facts["worked"].append(["tint strength", strength, "%"])
        facts["says"] += _weak(session, made, standard.batch_number, strength)
    return difference, None, facts


def _weak(session: Session, made: Made, standard: int, strength: float) -> str:
    """Why a tint is weak, against what went into the standard."""
    other = batches.made(session, standard)
    ratio = [m.kept.paste.oil_g_per_100g for m in (made, other)]
    fine = [m.results.get(CheckKind.FINENESS) for m in (made, other)]
    mull = [dispersing_minutes_per_load(m.kept.paste.mulling) for m in (made, other)]
    says = colorimetry.weaker_because(
        strength,
        ratio[0] / ratio[1] - 1 if ratio[0] and ratio[1] else 0.0,
        fine[0] - fine[1] if fine[0] is not None and fine[1] is not None else None,
        mull[0] - mull[1] if mull[0] is not None and mull[1] is not None else None,
        [w.pigment.source for w in made.kept.plan.lines] != [w.pigment.source for w in other.kept.plan.lines],
    )
    return f". {says}" if says else ""


def standard_of(session: Session, made: Made, kind: CheckKind) -> Check | None:
    """The reading of the recipe's standard batch that colours are compared with."""
    if made.recipe_id is None:
        return None
    number = recipes.version_of(session, made.recipe_id, made.recipe_version).asked.standard_batch
    if number is None or number == made.kept.number:
        return None
    return session.scalar(
        select(Check)
        .where(Check.batch_number == number, Check.kind == kind, Check.set_aside.is_(None))
        .order_by(Check.made_at.desc())
        .limit(1)
    )


def rows_of(session: Session, number: int) -> list[Check]:
    """The readings of a batch, oldest first."""
    return list(session.scalars(select(Check).where(Check.batch_number == number).order_by(Check.made_at, Check.id)))


def keep_results(session: Session, number: int) -> None:
    """The mean of each check that counts; of drawn ones the last."""
    results: dict[str, Any] = {}
    counting: dict[str, list[float]] = {}
    for row in rows_of(session, number):
        if row.set_aside is not None:
            continue
        if row.value is not None:
            counting.setdefault(row.kind, []).append(row.value)
        elif row.choice is not None:
            results[row.kind] = row.choice
        else:
            results[row.kind] = READ
    results |= {kind: fmean(values) for kind, values in counting.items()}
    if CheckKind.DRYING in counting:
        results[CheckKind.DRYING] = min(counting[CheckKind.DRYING])
    batches.note_results(session, number, results)


def kept_check(row: Check) -> CheckKept:
    """A reading as it is shown."""
    kind = CheckKind(row.kind)
    lab = Lab(*row.facts["lab"]) if row.facts.get("lab") else None
    return CheckKept(
        row.id,
        kind,
        row.value,
        UNITS.get(kind, ""),
        row.choice,
        colorimetry.srgb_of(lab) if lab else None,
        lab,
        tuple(Worked(*figure) for figure in row.facts.get("worked", [])),
        row.facts.get("says", ""),
        row.facts.get("note", ""),
        row.made_at,
        row.set_aside,
    )


def means_of(rows: list[Check]) -> tuple[Mean, ...]:
    """The mean of each kind of reading that counts."""
    means = []
    for kind in CheckKind:
        counting = [row for row in rows if row.kind == kind and row.set_aside is None]
        if not counting:
            continue
        values = [row.value for row in counting if row.value is not None]
        means.append(
            Mean(
                kind,
                UNITS.get(kind, ""),
                checks.repeated(values) if values else None,
                counting[-1].choice,
                len(counting),
            )
        )
    return tuple(means)


def is_colour(kind: CheckKind) -> bool:
    """Whether a check is of a colour."""
    return kind in COLOURS
