"""Readings of a colour instrument from a file: CGATS.17 text or CSV, spectral 400 to 700 nm or Lab."""

from __future__ import annotations

import csv
import io
import math
import re
import shlex
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise

from niddy.core.colorimetry import BANDS_NM, Lab
from niddy.core.errors import Refused

ACCEPTED = "CGATS.17 text or CSV with LAB_L, LAB_A, LAB_B or with bands 400 to 700 nm in steps of 10"
MAX_READINGS = 200
_BAND = re.compile(
    r"(?:SPECTRAL_(?:(?P<unit>NM|PCT|DEC)_?)?|NM_?|R_?)?(?P<nm>\d{3})(?: ?NM)?(?: ?(?P<percent>%|\(%\)))?",
    re.IGNORECASE,
)
_LAB = {"LAB_L": 0, "LAB_A": 1, "LAB_B": 2, "L": 0, "A": 1, "B": 2, "L*": 0, "A*": 1, "B*": 2}
_NAMES = ("SAMPLE_NAME", "SAMPLE_ID", "NAME", "SAMPLE")


@dataclass(frozen=True, slots=True)
class Reading:
    """One sample of a file: its name, and a spectrum (0 to 1) or Lab."""

    name: str
    spectrum: tuple[float, ...] | None
    lab: Lab | None


class LightScale(StrEnum):
    """What all the light is in a file's figures: 1, or 100."""

    FRACTION = "fraction"
    PERCENT = "percent"


SURELY_PERCENT = 3.0
"""A figure above this is no fraction of the light: no paint sends back three times what falls on it. Below it, a file
that does not say may be either: a black reflects one or two percent."""


def read(content: bytes, scale: LightScale | None = None) -> tuple[Reading, ...]:
    """The samples of a file; `scale` is asked for where the file does not say and its figures could be either.

    Raises Refused naming what is missing or wrong.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("file", "not a text file", ACCEPTED) from None
    header, rows = _cgats(text) if "BEGIN_DATA" in text else _csv(text)
    columns = [name.strip().strip('"').upper() for name in header]
    if not rows:
        raise Refused("file", "no sample in it", ACCEPTED)
    if len(rows) > MAX_READINGS:
        raise Refused("file", f"{len(rows)} samples", f"up to {MAX_READINGS}")
    found = {n: m for n, c in enumerate(columns) if (m := _BAND.fullmatch(c)) and 300 <= int(m["nm"]) <= 900}
    bands = {int(m["nm"]): n for n, m in found.items()}
    lab = {_LAB[c]: n for n, c in enumerate(columns) if c in _LAB}
    name_at = next((columns.index(name) for name in _NAMES if name in columns), None)
    if bands:
        _check_bands(bands)
    elif len(lab) < 3:
        raise Refused("file", "neither bands nor Lab in its header", ACCEPTED)
    rows = rows if not bands else [[cell.replace("%", "") for cell in row] for row in rows]
    readings = []
    spectra: list[tuple[float, ...]] = []
    for n, row in enumerate(rows):
        if len(row) != len(columns):
            raise Refused(f"file.{n + 1}", f"{len(row)} values for {len(columns)} columns", "one value a column")
        name = row[name_at].strip('"') if name_at is not None else str(n + 1)
        if bands:
            spectra.append(tuple(_number(row[bands[nm]], n, str(nm)) for nm in BANDS_NM))
            readings.append(Reading(name, None, None))
        else:
            one, two, three = (_number(row[lab[place]], n, "Lab") for place in range(3))
            try:
                readings.append(Reading(name, None, Lab(one, two, three)))
            except Refused as refusal:
                raise refusal.under(f"file.{n + 1}") from None
    if not bands:
        return tuple(readings)
    whole = 100.0 if (scale or _scale(found.values(), text, spectra)) is LightScale.PERCENT else 1.0
    return tuple(
        replace(reading, spectrum=tuple(value / whole for value in values))
        for reading, values in zip(readings, spectra, strict=True)
    )


def _scale(bands: Iterable[re.Match[str]], text: str, spectra: list[tuple[float, ...]]) -> LightScale:
    """What the header says, a figure that settles it, or a refusal that asks."""
    said = {(m["unit"] or "").upper() for m in bands} | {"PCT" for m in bands if m["percent"]}
    if "PCT" in said or "%" in text.partition("\n")[0]:
        return LightScale.PERCENT
    if "DEC" in said:
        return LightScale.FRACTION
    if max(max(values) for values in spectra) > SURELY_PERCENT:
        return LightScale.PERCENT
    raise Refused(
        "scale", "the file does not say whether 1 is all the light or one percent of it", ", ".join(LightScale)
    )


def _check_bands(bands: dict[int, int]) -> None:
    there = sorted(nm for nm in bands if 400 <= nm <= 700)
    steps = {b - a for a, b in pairwise(there)}
    missing = [nm for nm in BANDS_NM if nm not in bands]
    if missing and len(steps) == 1 and steps != {10} and there[0] <= 400:
        raise Refused("file", f"bands in steps of {steps.pop()} nm", "steps of 10 nm, or of 5 or 1 that contain them")
    if missing:
        listed = ", ".join(str(nm) for nm in missing[:6]) + (" and more" if len(missing) > 6 else "")
        raise Refused("file", f"bands missing: {listed} nm", "every band from 400 to 700 nm in steps of 10")


def _number(cell: str, row: int, column: str) -> float:
    try:
        value = float(cell.strip().strip('"').replace(",", "."))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Refused(f"file.{row + 1}", f"'{cell[:20]}' at {column} is not a number", "a number")
    return value


def _cgats(text: str) -> tuple[list[str], list[list[str]]]:
    fields = _between(text, "BEGIN_DATA_FORMAT", "END_DATA_FORMAT")
    data = _between(text, "BEGIN_DATA", "END_DATA")
    if fields is None or data is None:
        raise Refused("file", "its data format or data is not closed", ACCEPTED)
    if len(data) > MAX_READINGS:
        raise Refused("file", f"{len(data)} samples", f"up to {MAX_READINGS}")
    try:
        rows = [shlex.split(line) for line in data]
    except ValueError:
        raise Refused("file", "a quotation that is not closed", ACCEPTED) from None
    return " ".join(fields).split(), rows


def _between(text: str, first: str, last: str) -> list[str] | None:
    """The lines between the first pair of two markers, each on a line of its own; None where one is missing."""
    found: list[str] | None = None
    for line in text.splitlines():
        word = line.strip()
        if found is None:
            if word == first:
                found = []
        elif word == last:
            return found
        elif word:
            found.append(word)
    return None


def _csv(text: str) -> tuple[list[str], list[list[str]]]:
    first = text.splitlines()[0] if text.strip() else ""
    delimiter = max(";\t,", key=first.count)
    rows = [row for row in csv.reader(io.StringIO(text), delimiter=delimiter) if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise Refused("file", "no sample in it", ACCEPTED)
    return rows[0], rows[1:]


def write(readings: Iterable[Reading], title: str) -> str:
    """Samples as CGATS.17 text: with spectra (fractions of the light) where every one has one, else Lab alone.

    `read` takes it back.
    """
    samples = tuple(readings)
    spectral = bool(samples) and all(sample.spectrum is not None for sample in samples)
    fields = ["SAMPLE_ID", "SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B"]
    fields += [f"SPECTRAL_DEC{nm}" for nm in BANDS_NM] if spectral else []
    lines = [
        "CGATS.17",
        f'DESCRIPTOR "{_quoted(title)}"',
        'ORIGINATOR "Niddy"',
        'MEASUREMENT_SOURCE "D50, 2 degrees"',
        f"NUMBER_OF_FIELDS {len(fields)}",
        "BEGIN_DATA_FORMAT",
        " ".join(fields),
        "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(samples)}",
        "BEGIN_DATA",
    ]
    for n, sample in enumerate(samples, 1):
        values = [*((sample.lab.L, sample.lab.a, sample.lab.b) if sample.lab is not None else (0.0, 0.0, 0.0))]
        values += [*sample.spectrum] if spectral and sample.spectrum is not None else []
        lines.append(f'{n} "{_quoted(sample.name)}" ' + " ".join(f"{value:.4f}" for value in values))
    return "\n".join([*lines, "END_DATA", ""])


def _quoted(text: str) -> str:
    return text.replace('"', "'").replace("\n", " ")
