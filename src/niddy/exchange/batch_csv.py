"""The log of one batch as CSV: a row an act, struck acts included. Masses g, times UTC."""

from __future__ import annotations

import csv
import io

from niddy.exchange.stock_csv import escaped
from niddy.studio.batches import BatchKept
from niddy.studio.slab import TimelineEntry

COLUMNS = (
    "seq",
    "made_at",
    "kind",
    "what",
    "source",
    "grams",
    "spread_g",
    "struck_out",
    "stage",
    "body",
    "grit",
    "string",
    "gloss",
    "expected_body",
    "fineness_um",
    "ended_by",
    "minutes",
    "bottle_g",
    "oil_g_per_100g_after",
    "body_after",
)


def dump(kept: BatchKept, timeline: tuple[TimelineEntry, ...]) -> str:
    """The whole log of a batch; `told` are its acts in words."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for logged, entry in zip(kept.log, timeline, strict=True):
        event = logged.event
        writer.writerow(
            [
                event.seq,
                event.made_at.isoformat(),
                event.kind,
                escaped(entry.text),
                event.source,
                _figure(entry.grams),
                _figure(entry.spread_g),
                "yes" if entry.struck else "",
                event.stage or "",
                event.body or "",
                event.grit or "",
                event.string or "",
                event.gloss or "",
                entry.expected or "",
                _figure(event.fineness_um),
                event.ended_by or "",
                _figure(event.minutes),
                _figure(event.bottle_g),
                _figure(entry.oil_g_per_100g),
                entry.body or "",
            ]
        )
    return out.getvalue()


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.6g}"
