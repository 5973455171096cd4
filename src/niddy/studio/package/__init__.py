"""A whole studio out and in: its tables as they are, and those of another held against them."""

from niddy.studio.package.coming import Look, Source, clear_leftovers, known_revision, lay_down, look, take_in
from niddy.studio.package.leaving import pictures, revision, row_count, rows, shapes

__all__ = [
    "Look",
    "Source",
    "clear_leftovers",
    "known_revision",
    "lay_down",
    "look",
    "pictures",
    "revision",
    "row_count",
    "rows",
    "shapes",
    "take_in",
]
