"""Where labels stand on a sheet: forms and sizes that fit tubes, jars, lids and sticks, and the grid they make."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from reportlab.lib.units import mm

from niddy.core.errors import Refused, within
from niddy.exchange.printing import PAPERS


class LabelForm(StrEnum):
    """What a label goes on: a side or a tube, a round lid, or a stick that it is folded round."""

    FLAT = "flat"
    ROUND = "round"
    SLEEVE = "sleeve"


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of labels: paper, columns and rows, margins and gaps in mm. Or one label a page of `single` mm."""

    paper: str = "a4"
    columns: int = 3
    rows: int = 8
    margin_x_mm: float = 7.0
    margin_y_mm: float = 12.0
    gap_x_mm: float = 2.5
    gap_y_mm: float = 0.0
    single_mm: tuple[float, float] | None = None
    form: LabelForm = LabelForm.FLAT


def size_of(sheet: Sheet) -> tuple[float, float]:
    """Width and height of one label in mm. Raises Refused for a grid that does not fit its page."""
    if sheet.single_mm is not None:
        width, height = sheet.single_mm
        within("width_mm", width, 25, 300, "mm")
        within("height_mm", height, 15, 300, "mm")
        return width, height
    if sheet.paper not in PAPERS:
        raise Refused("paper", f"'{sheet.paper}' is not a paper size here", ", ".join(PAPERS))
    within("columns", sheet.columns, 1, 12)
    within("rows", sheet.rows, 1, 40)
    for name in ("margin_x_mm", "margin_y_mm", "gap_x_mm", "gap_y_mm"):
        within(name, getattr(sheet, name), 0, 100, "mm")
    page_w, page_h = (side / mm for side in PAPERS[sheet.paper])
    width = (page_w - 2 * sheet.margin_x_mm - (sheet.columns - 1) * sheet.gap_x_mm) / sheet.columns
    height = (page_h - 2 * sheet.margin_y_mm - (sheet.rows - 1) * sheet.gap_y_mm) / sheet.rows
    if width < 25:
        raise Refused(
            "columns", f"{sheet.columns} columns leave {width:.0f} mm a label", "fewer columns: 25 mm or more"
        )
    if height < 15:
        raise Refused("rows", f"{sheet.rows} rows leave {height:.0f} mm a label", "fewer rows: 15 mm or more")
    return width, height


LABEL_SIZES = (
    ("20 ml tube", 50.0, 30.0, LabelForm.FLAT),
    ("40 ml tube", 65.0, 38.0, LabelForm.FLAT),
    ("60 ml tube", 80.0, 45.0, LabelForm.FLAT),
    ("Jar", 90.0, 50.0, LabelForm.FLAT),
    ("Jar lid", 55.0, 55.0, LabelForm.ROUND),
    ("Stick sleeve", 60.0, 56.0, LabelForm.SLEEVE),
)
"""Labels in mm that go once round a tube below its folds, on a jar's side or lid, or round a stick as its sleeve."""

_LEAST_MARGIN_MM = 8.0
_GAP_MM = 3.0


@dataclass(frozen=True, slots=True)
class LabelSize:
    """A label that fits one kind of tube or jar, and the grid that puts as many as go on a sheet."""

    name: str
    form: LabelForm
    width_mm: float
    height_mm: float
    columns: int
    rows: int
    margin_x_mm: float
    margin_y_mm: float
    gap_x_mm: float
    gap_y_mm: float


def label_sizes(paper: str) -> tuple[LabelSize, ...]:
    """The sizes to choose from on a paper. Raises Refused for an unknown one."""
    if paper not in PAPERS:
        raise Refused("paper", f"'{paper}' is not a paper size here", ", ".join(PAPERS))
    page_w, page_h = (side / mm for side in PAPERS[paper])
    found = []
    for name, width, height, form in LABEL_SIZES:
        columns = int((page_w - 2 * _LEAST_MARGIN_MM + _GAP_MM) // (width + _GAP_MM))
        rows = int((page_h - 2 * _LEAST_MARGIN_MM + _GAP_MM) // (height + _GAP_MM))
        left, above = (
            (page - n * (side + _GAP_MM) + _GAP_MM) / 2
            for page, n, side in ((page_w, columns, width), (page_h, rows, height))
        )
        found.append(
            LabelSize(name, form, width, height, columns, rows, round(left, 2), round(above, 2), _GAP_MM, _GAP_MM)
        )
    return tuple(found)
