"""The shelf as CSV, out and in: one row a lot, amounts in g (tubes and jars in pieces), UTF-8.

Cells that a spreadsheet would run as a formula are escaped on the way out and taken back on the way in; nothing
is ever run. Reading keeps one row at a time.
"""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation
from io import StringIO
from typing import Any

from niddy.core.errors import Refused
from niddy.studio.materials import MADE_HERE, MASS_KINDS, LotKept, NewLot

COLUMNS = (
    "kind",
    "material",
    "code",
    "received_on",
    "received",
    "on_hand",
    "price_per_unit",
    "supplier_code",
    "opened_on",
    "density_g_per_ml",
    "loose_density_g_per_ml",
    "drop_g",
    "hazards",
    "safety_note",
    "note",
    "purity",
)
NEEDED = ("kind", "material", "code", "received_on", "received")
DELIMITERS = ",;\t"
MAX_ROWS = 50_000
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True, slots=True)
class CellProblem:
    """One refused cell."""

    column: str
    problem: str
    accepted: str


@dataclass(frozen=True, slots=True)
class RowRead:
    """One row of a file: what it says of a lot, or what is wrong with it. `line` counts as an editor does."""

    line: int
    code: str
    lot: NewLot | None
    on_hand: float | None
    problems: tuple[CellProblem, ...]


def write(lots: Iterable[LotKept]) -> Iterator[str]:
    """The lines of the file, header first. Values that are the library's are left empty.

    What is made here (gels, blocks of base, cakes, pigment from runs) is left out: a file cannot receive it.
    """
    yield _line(COLUMNS)
    for lot in lots:
        if lot.kind in MADE_HERE or lot.cake is not None or lot.made_in is not None:
            continue
        own = {"density_g_per_ml": lot.density, "loose_density_g_per_ml": lot.loose_density, "drop_g": lot.drop}
        figures = [
            f"{value.value:.6g}" if value is not None and value.basis in ("entered", "measured") else ""
            for value in own.values()
        ]
        yield _line(
            (
                lot.kind,
                lot.material_key,
                lot.code,
                lot.received_on.isoformat(),
                f"{lot.received:g}",
                f"{lot.on_hand:.6g}",
                "" if lot.price_per_unit is None else f"{lot.price_per_unit.normalize():f}",
                lot.supplier_code,
                lot.opened_on.isoformat() if lot.opened_on else "",
                *figures,
                ";".join(lot.hazards) if lot.hazards_own else "",
                lot.safety_note,
                lot.note,
                f"{lot.purity.value / 100:.6g}" if lot.purity is not None else "",
            )
        )


def _line(cells: Iterable[str]) -> str:
    out = StringIO()
    csv.writer(out, lineterminator="\r\n").writerow([escaped(cell) for cell in cells])
    return out.getvalue()


def escaped(cell: str) -> str:
    """A cell no spreadsheet takes for a formula."""
    return (
        f"'{cell}" if cell.startswith(_FORMULA) or (cell[:1] == "'" and cell[1:].startswith((*_FORMULA, "'"))) else cell
    )


def unescaped(cell: str) -> str:
    """The cell before `escaped`."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith((*_FORMULA, "'")) else cell


def read(lines: Iterable[bytes]) -> Iterator[RowRead]:
    """The rows of a file, one at a time. Raises Refused (field `file`) for what is no such file at all."""
    text = iter(_decoded(lines))
    first = next(text, "")
    if not first.strip():
        raise Refused("file", "empty", "a CSV file whose first line names the columns")
    delimiter = max(DELIMITERS, key=first.count)
    header = [name.strip().strip('"').lower() for name in first.rstrip("\r\n").split(delimiter)]
    missing = [name for name in NEEDED if name not in header]
    if missing:
        raise Refused(
            "file",
            f"the first line has no column {', '.join(missing)}",
            f"columns {', '.join(COLUMNS)}, parted by comma, semicolon or tab",
        )
    unknown = [name for name in header if name not in COLUMNS]
    if unknown:
        raise Refused("file", f"unknown column '{unknown[0]}'", ", ".join(COLUMNS))
    if len(set(header)) < len(header):
        raise Refused("file", "a column stands twice", "each column once")
    reader = csv.reader(text, delimiter=delimiter)
    seen: set[str] = set()
    count = 0
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            count += 1
            if count > MAX_ROWS:
                raise Refused("file", "too many rows", f"at most {MAX_ROWS}")
            yield _row(reader.line_num + 1, header, cells, seen)
    except csv.Error as error:
        raise Refused("file", f"line {reader.line_num + 1}: {error}", "well-formed CSV") from None


def _decoded(lines: Iterable[bytes]) -> Iterator[str]:
    for number, line in enumerate(lines, 1):
        if b"\0" in line:
            raise Refused("file", "not a text file", "CSV text in UTF-8")
        try:
            yield line.decode("utf-8-sig" if number == 1 else "utf-8")
        except UnicodeDecodeError:
            raise Refused("file", f"line {number} is not UTF-8", "CSV text in UTF-8") from None


class _Cells:
    """Reads the cells of one row and gathers what is wrong with them."""

    def __init__(self, cells: dict[str, str]) -> None:
        self.cells = cells
        self.problems: list[CellProblem] = []

    def text(self, column: str, most: int) -> str:
        value = unescaped(self.cells.get(column, "").strip())
        if len(value) > most:
            self.refuse(column, f"{len(value)} characters", f"at most {most}")
        if any(ord(letter) < 32 and letter not in "\n\t\r" for letter in value):
            self.refuse(column, "control characters", "plain text")
        return value

    def number(self, column: str) -> float | None:
        value = unescaped(self.cells.get(column, "").strip())
        if not value:
            return None
        try:
            number = float(value.replace(",", "."))
        except ValueError:
            self.refuse(column, f"'{value[:30]}' is not a number", "a number such as 12.5, or nothing")
            return None
        if number != number or number in (float("inf"), float("-inf")):
            self.refuse(column, "not a finite number", "a number such as 12.5, or nothing")
            return None
        return number

    def money(self, column: str) -> Decimal | None:
        value = self.cells.get(column, "").strip()
        try:
            money = Decimal(value.replace(",", ".")) if value else None
        except InvalidOperation:
            money = Decimal("NaN")
        if money is not None and not money.is_finite():
            self.refuse(column, f"'{value[:30]}' is not a price", "a number such as 14.50, or nothing")
            return None
        return money

    def day(self, column: str) -> date | None:
        value = self.cells.get(column, "").strip()
        try:
            return date.fromisoformat(value) if value else None
        except ValueError:
            self.refuse(column, f"'{value[:30]}' is not a date", "a date like 2026-03-31, or nothing")
            return None

    def refuse(self, column: str, problem: str, accepted: str) -> None:
        self.problems.append(CellProblem(column, problem, accepted))


def _row(line: int, header: list[str], cells: list[str], seen: set[str]) -> RowRead:
    if len(cells) != len(header):
        problem = CellProblem("row", f"{len(cells)} cells", f"{len(header)} cells, as in the first line")
        return RowRead(line, "", None, None, (problem,))
    cells_by_name = _Cells(dict(zip(header, cells, strict=True)))
    kind, code = cells_by_name.text("kind", 20).lower(), cells_by_name.text("code", 40)
    if code in seen:
        cells_by_name.refuse("code", f"'{code}' stands twice in the file", "each code once")
    seen.add(code)
    received, received_on = cells_by_name.number("received"), cells_by_name.day("received_on")
    for column, value in (("received", received), ("received_on", received_on)):
        if value is None and not any(p.column == column for p in cells_by_name.problems):
            cells_by_name.refuse(column, "empty", "a value")
    hazards = tuple(part.strip() for part in cells_by_name.text("hazards", 300).split(";") if part.strip())
    values: dict[str, Any] = {
        "kind": kind,
        "material_key": cells_by_name.text("material", 80),
        "code": code,
        "price_per_unit": cells_by_name.money("price_per_unit"),
        "note": cells_by_name.text("note", 500),
        "density_g_per_ml": cells_by_name.number("density_g_per_ml"),
        "loose_density_g_per_ml": cells_by_name.number("loose_density_g_per_ml"),
        "drop_g": cells_by_name.number("drop_g"),
        "supplier_code": cells_by_name.text("supplier_code", 80),
        "opened_on": cells_by_name.day("opened_on"),
        "safety_note": cells_by_name.text("safety_note", 500),
        "hazards": hazards or None,
        "purity": cells_by_name.number("purity"),
    }
    on_hand = cells_by_name.number("on_hand")
    if on_hand is not None and on_hand < 0 and kind in MASS_KINDS:
        on_hand = None
    if cells_by_name.problems or received is None or received_on is None:
        return RowRead(line, code, None, None, tuple(cells_by_name.problems))
    return RowRead(line, code, NewLot(received=received, received_on=received_on, **values), on_hand, ())
