"""What a lot of pigment that was made here can say of itself."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.db.materials import Lot

MADE_FAMILY = "made here"
"""The family of pigments that were made in the studio."""


@dataclass(frozen=True, slots=True)
class RunOf:
    """The run a lot of pigment came out of, and the process of the run."""

    run_number: int
    process_id: int


def run_of_row(row: Lot) -> RunOf | None:
    """Of which run a lot came; None where it was not made here."""
    if row.kind != "pigment" or not row.prepared or "run" not in row.prepared:
        return None
    return RunOf(row.prepared["run"], row.prepared["process"])
