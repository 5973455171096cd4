"""Readings of a colour instrument from a file: CGATS.17 text or CSV, spectral 400 to 700 nm or Lab."""

from __future__ import annotations

import csv
import io
import re
import shlex
from dataclasses import dataclass
from itertools import pairwise

from niddy.core.colorimetry import BANDS_NM, Lab
from niddy.core.errors import Refused

ACCEPTED = "CGATS.17 text or CSV with LAB_L, LAB_A, LAB_B or with bands 400 to 700 nm in steps of 10"
MAX_READINGS = 200
_BAND = re.compile(r"(?:SPECTRAL_(?:NM_?)?|NM_?|R_?)?(\d{3})(?:NM)?", re.IGNORECASE)
_LAB = {"LAB_L": 0, "LAB_A": 1, "LAB_B": 2, "L": 0, "A": 1, "B": 2, "L*": 0, "A*": 1, "B*": 2}
_NAMES = ("SAMPLE_NAME", "SAMPLE_ID", "NAME", "SAMPLE")


@dataclass(frozen=True, slots=True)
class Reading:
    """One sample of a file: its name, and a spectrum (0 to 1) or Lab."""

    name: str
    spectrum: tuple[float, ...] | None
    lab: Lab | None


def read(content: bytes) -> tuple[Reading, ...]:
    """The samples of a file. Raises Refused naming what is missing or wrong."""
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
    bands = {
        int(m.group(1)): n for n, c in enumerate(columns) if (m := _BAND.fullmatch(c)) and 300 <= int(m.group(1)) <= 900
    }
    lab = {_LAB[c]: n for n, c in enumerate(columns) if c in _LAB}
    name_at = next((columns.index(name) for name in _NAMES if name in columns), None)
    if bands:
        _check_bands(bands)
    elif len(lab) < 3:
        raise Refused("file", "neither bands nor Lab in its header", ACCEPTED)
    readings = []
    for n, row in enumerate(rows):
        if len(row) != len(columns):
            raise Refused(f"file.{n + 1}", f"{len(row)} values for {len(columns)} columns", "one value a column")
        name = row[name_at].strip('"') if name_at is not None else str(n + 1)
        if bands:
            values = [_number(row[bands[nm]], n, str(nm)) for nm in BANDS_NM]
            # Reflectance is told as a fraction or in percent.
            scale = 100.0 if max(values) > 2 else 1.0
            readings.append(Reading(name, tuple(value / scale for value in values), None))
        else:
            one, two, three = (_number(row[lab[place]], n, "Lab") for place in range(3))
            try:
                readings.append(Reading(name, None, Lab(one, two, three)))
            except Refused as refusal:
                raise refusal.under(f"file.{n + 1}") from None
    return tuple(readings)


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
        return float(cell.strip().strip('"').replace(",", "."))
    except ValueError:
        raise Refused(f"file.{row + 1}", f"'{cell[:20]}' at {column} is no number", "a number") from None


def _cgats(text: str) -> tuple[list[str], list[list[str]]]:
    fields = re.search(r"BEGIN_DATA_FORMAT\s(.*?)END_DATA_FORMAT", text, re.DOTALL)
    data = re.search(r"BEGIN_DATA\s(.*?)END_DATA\b(?!_)", text, re.DOTALL)
    if fields is None or data is None:
        raise Refused("file", "its data format or data is not closed", ACCEPTED)
    try:
        rows = [shlex.split(line) for line in data.group(1).splitlines() if line.strip()]
    except ValueError:
        raise Refused("file", "a quotation that is not closed", ACCEPTED) from None
    return fields.group(1).split(), rows


def _csv(text: str) -> tuple[list[str], list[list[str]]]:
    first = text.splitlines()[0] if text.strip() else ""
    delimiter = max(";\t,", key=first.count)
    rows = [row for row in csv.reader(io.StringIO(text), delimiter=delimiter) if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise Refused("file", "no sample in it", ACCEPTED)
    return rows[0], rows[1:]
