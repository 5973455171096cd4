"""The mixing chart: paints across and down, each square a mixture by parts, and rows let down with white beneath."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from string import ascii_uppercase

from niddy.core.errors import Refused, within

MOST_PAINTS = 24
MOST_WHITE_ROWS = 6
MOST_PARTS = 200.0


class PartsBy(StrEnum):
    """What parts are measured by: on a scale, or as spoons and dabs of one size."""

    WEIGHT = "weight"
    VOLUME = "volume"


class Hides(StrEnum):
    """How well a thin film of a paint hides black beside white."""

    NOTHING = "nothing"
    SOME = "some"
    NEARLY = "nearly"
    FULLY = "fully"


class Lower(StrEnum):
    """What stands below the diagonal: the pair the other way round, the pair let down with white, or nothing."""

    OTHER_WAY = "other_way"
    WITH_WHITE = "with_white"
    EMPTY = "empty"


@dataclass(frozen=True, slots=True)
class Layout:
    """How a chart is laid out: so many paints across and down; parts of the paint of a row to the one of a column.

    Below the diagonal `lower`, with `white_parts` of white to both paints' parts together; beneath the grid a row for
    each of `white_rows`, parts of white to one of paint. All parts are by weight or by volume. `thin` is a column more
    at the right, where each paint is drawn thin over white and black.
    """

    paints: int
    row_parts: float = 1.0
    column_parts: float = 1.0
    lower: Lower = Lower.EMPTY
    white_parts: float = 1.0
    white_rows: tuple[float, ...] = ()
    by: PartsBy = PartsBy.WEIGHT
    thin: bool = False

    def __post_init__(self) -> None:
        if not 1 <= self.paints <= MOST_PAINTS:
            raise Refused("paints", f"{self.paints} of them", f"1 to {MOST_PAINTS} paints")
        for name in ("row_parts", "column_parts", "white_parts"):
            within(name, getattr(self, name), 0.05, MOST_PARTS)
        if len(self.white_rows) > MOST_WHITE_ROWS:
            raise Refused("white_rows", f"{len(self.white_rows)} of them", f"up to {MOST_WHITE_ROWS}")
        for n, parts in enumerate(self.white_rows):
            within(f"white_rows.{n}", parts, 0.05, MOST_PARTS)

    @property
    def wants_white(self) -> bool:
        """Whether white goes into any of it."""
        return bool(self.white_rows) or self.lower is Lower.WITH_WHITE

    @property
    def rows(self) -> int:
        """Rows of squares, those with white included."""
        return self.paints + len(self.white_rows)

    @property
    def columns(self) -> int:
        """Columns of squares, that of thin films included."""
        return self.paints + self.thin


@dataclass(frozen=True, slots=True)
class Square:
    """One square: its code, its place, and its mixture as (place of the paint, parts); the white is paint -1."""

    code: str
    row: int
    column: int
    parts: tuple[tuple[int, float], ...]


WHITE = -1


def code_of(row: int, column: int) -> str:
    """A square's code: the letter of its column, the number of its row, from A1."""
    return f"{ascii_uppercase[column]}{row + 1}"


def thin_films(layout: Layout) -> tuple[str, ...]:
    """The codes of the thin films, one for each paint down the last column; none where the chart has none."""
    return tuple(code_of(row, layout.paints) for row in range(layout.paints)) if layout.thin else ()


def squares(layout: Layout) -> tuple[Square, ...]:
    """The squares of a chart in the order they are painted and read: row by row, from the left."""
    made = []
    for row in range(layout.paints):
        for column in range(layout.paints):
            parts = _parts(layout, row, column)
            if parts:
                made.append(Square(code_of(row, column), row, column, parts))
    for n, white in enumerate(layout.white_rows):
        for column in range(layout.paints):
            row = layout.paints + n
            made.append(Square(code_of(row, column), row, column, ((column, 1.0), (WHITE, white))))
    return tuple(made)


def _parts(layout: Layout, row: int, column: int) -> tuple[tuple[int, float], ...]:
    if row == column:
        return ((row, 1.0),)
    pair = ((row, layout.row_parts), (column, layout.column_parts))
    if row < column or layout.lower is Lower.OTHER_WAY:
        return pair
    if layout.lower is Lower.WITH_WHITE:
        return (*pair, (WHITE, layout.white_parts * (layout.row_parts + layout.column_parts)))
    return ()


def placed(codes: Sequence[str], layout: Layout) -> tuple[Square, ...]:
    """The squares readings belong to: by their codes where all have one, else in reading order where all are there.

    Raises Refused where neither holds.
    """
    every = squares(layout)
    by_code = {square.code: square for square in every}
    named = [by_code.get(code.strip().upper()) for code in codes]
    found = [square for square in named if square is not None]
    if len(found) == len(codes):
        if len(set(found)) < len(found):
            twice = next(square.code for square in found if found.count(square) > 1)
            raise Refused("file", f"square {twice} is in it twice", "each square once")
        return tuple(found)
    if found:
        strange = next(code for code, square in zip(codes, named, strict=True) if square is None)
        raise Refused("file", f"'{strange[:20]}' is not a square of this chart", f"{every[0].code} to {every[-1].code}")
    if len(codes) == len(every):
        return every
    raise Refused(
        "file",
        f"{len(codes)} readings without the squares' codes, for {len(every)} squares",
        "samples named by their squares, such as B3; or all squares in reading order",
    )


def no_square(code: str, field: str = "square") -> Refused:
    """The refusal of a code that is no square."""
    return Refused(field, f"'{code[:20]}' is not a square of this chart", "a square such as B3")
