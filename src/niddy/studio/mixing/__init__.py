"""Mixing: paints in numbers, charts predicted and painted, mixtures found."""

from niddy.studio.mixing.chart_view import ChartView, reflectance_at, view, view_of
from niddy.studio.mixing.charts import (
    ChartAsked,
    ChartLine,
    SheetAsked,
    SheetToBe,
    begin,
    chart_lines,
    chart_of,
    heavy_assumed,
    placed,
    sheet_to_be,
    squares_read,
)
from niddy.studio.mixing.finding import FindAsked, MixturesFound, find
from niddy.studio.mixing.kept import bench, of_items, several
from niddy.studio.mixing.lists import MixingRoom, PaintLine, PaintPage, page, room
from niddy.studio.mixing.of_recipes import RecipeColour, recipe_colour
from niddy.studio.mixing.reading import (
    PaintAsked,
    PaintChange,
    ReadingAsked,
    SightAsked,
    add_paint,
    change_paint,
    colour_of,
    keep,
    see_by,
    set_aside,
)
from niddy.studio.mixing.stamps import stamp_of_chart
from niddy.studio.mixing.teaching import CHARTS

__all__ = [
    "CHARTS",
    "ChartAsked",
    "ChartLine",
    "ChartView",
    "FindAsked",
    "MixingRoom",
    "MixturesFound",
    "PaintAsked",
    "PaintChange",
    "PaintLine",
    "PaintPage",
    "ReadingAsked",
    "RecipeColour",
    "SheetAsked",
    "SheetToBe",
    "SightAsked",
    "add_paint",
    "begin",
    "bench",
    "change_paint",
    "chart_lines",
    "chart_of",
    "colour_of",
    "find",
    "heavy_assumed",
    "keep",
    "of_items",
    "page",
    "placed",
    "recipe_colour",
    "reflectance_at",
    "room",
    "see_by",
    "set_aside",
    "several",
    "sheet_to_be",
    "squares_read",
    "stamp_of_chart",
    "view",
    "view_of",
]
