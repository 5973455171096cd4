"""Mixing's part of the bench: made-up paints with hidden spectra and a surface, predicted from two readings each."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import Enum
from itertools import combinations
from uuid import uuid4

import httpx
import numpy as np

from niddy.core import mixing
from niddy.core.colorimetry import BANDS_NM, Lab
from niddy.core.mixing import Paint
from niddy.core.mixing.finding import find
from niddy.core.mixing.paints import Known, Reading, Shine, in_numbers, white_in_numbers
from niddy.core.mixing.predicting import expected_off, palette, weights_of
from niddy.core.mixing.seeing import Floats, Viewer, difference, of_rgb, of_spectra
from niddy.core.mixing.spectra import smoothest
from niddy.reference import observer

PAINTS, SHELF, CHART = 14, 60, 24
TINT_SHARE = 1 / 11
SHARES = (0.25, 0.5, 0.75)
READS_WITHIN = 0.002
"""What a colour reader's reflectances scatter by (assumed)."""

BEYOND_SCREENS = 0.15
"""By so much a colour no screen can show may go beyond the white in a channel."""


class Told(Enum):
    """How a paint's readings are told."""

    CHANNELS = 1
    SMOOTHEST = 2
    SPECTRA = 3


@dataclass(frozen=True, slots=True)
class Hidden:
    """A made-up paint: what it truly absorbs and scatters in every band."""

    k: Floats
    s: Floats


def made_up(luck: np.random.Generator) -> Hidden:
    """A paint of one to three broad bands of absorption, scattering more towards the blue or less."""
    bands = np.array(BANDS_NM, float)
    k = np.full(len(bands), 10 ** luck.uniform(-2.2, -1.2))
    for _ in range(int(luck.integers(1, 4))):
        centre, wide = luck.uniform(390, 680), luck.uniform(25, 70)
        k = k + 10 ** luck.uniform(-0.6, 0.9) * np.exp(-(((bands - centre) / wide) ** 2))
    s = luck.uniform(0.15, 0.9) * (bands / 550) ** luck.uniform(-1.2, 0.2)
    return Hidden(k, s)


def predicted() -> None:
    """Print how near pairs are predicted from three channels and from spectra, and how long a mixture is looked for."""
    luck = np.random.default_rng(20260618)
    by_eye = of_spectra(observer())
    white = Hidden(np.full(len(BANDS_NM), 0.0035), np.ones(len(BANDS_NM)))
    hidden = [made_up(luck) for _ in range(PAINTS)]
    for name, viewer, told_by in (
        ("three channels", of_rgb(), Told.CHANNELS),
        ("three figures, as smoothest spectra", by_eye, Told.SMOOTHEST),
        ("spectra", by_eye, Told.SPECTRA),
    ):
        paints = _calibrated(hidden, white, by_eye, luck, told_by)
        off = []
        for (one, first), (other, second) in combinations(zip(hidden, paints, strict=True), 2):
            for share in SHARES:
                truth = _seen([(share, one), (1 - share, other)])
                told = np.array(mixing.mixed([(share, first), (1 - share, second)], surface=True))
                off.append(float(difference(viewer.lab(told), by_eye.lab(truth))))
        quarter = float(np.quantile(off, 0.75))
        print(
            f"pairs from {name}: median {np.median(off):.2f} dE00, one in four above {quarter:.1f} ({len(off)} pairs)"
        )
    for read in READ:
        away, told_off = pairs_off(hidden, by_eye, luck, read)
        print(
            f"from {read[0]}: {100 * np.mean(away <= told_off):.0f} % of pairs within what is said, "
            f"median {np.median(told_off):.1f} dE00 said, {np.median(away):.1f} found"
        )
    shelf = [mixing.white_of((0.93,) * 3)] + [
        Paint(tuple(10 ** luck.uniform(-2, 1, 3)), tuple(luck.uniform(0.1, 0.9, 3))) for _ in range(SHELF)
    ]
    begun = time.perf_counter()
    found = find((55, 25, -20), shelf, of_rgb(), always=0)
    took = time.perf_counter() - begun
    print(f"a mixture among {SHELF} paints: {took:.2f} s, {found[0].de00:.2f} dE00")


def chart(client: httpx.Client, rounds: int) -> None:
    """A chart of 24 by 24 paints against the bare endpoint, after its first view; and a mixture found over HTTP."""
    from tests.bench.benching import print_table, timed

    def read(paint: int, kind: str, lab: tuple[float, float, float]) -> None:
        body = {
            "id": str(uuid4()),
            "kind": kind,
            "made_at": datetime.now(UTC).isoformat(),
            "lab": {"L": lab[0], "a": lab[1], "b": lab[2]},
        }
        client.post(f"/api/mixing/paints/{paint}/readings", json=body).raise_for_status()

    def made(name: str) -> int:
        answer = client.post("/api/mixing/paints", json={"id": str(uuid4()), "name": name})
        return int(answer.raise_for_status().json()["id"])

    white = made("white")
    read(white, "masstone", (97.0, 0.0, 1.0))
    client.put("/api/mixing/sight", json={"white_id": white, "shine": "without"}).raise_for_status()
    paints = []
    for n in range(CHART):
        a, b = 40 * math.cos(n), 40 * math.sin(n)
        paints.append(made(f"paint {n}"))
        read(paints[-1], "masstone", (25 + 1.5 * n, a, b))
        read(paints[-1], "tint", (72 + 0.6 * n, a / 2, b / 2))
    asked = {"id": str(uuid4()), "paint_ids": paints, "lower": "other_way"}
    number = client.post("/api/mixing/charts", json=asked).raise_for_status().json()["number"]
    begun = time.perf_counter()
    squares = len(client.get(f"/api/mixing/charts/{number}").json()["cells"])
    print(f"\na mixing chart of {squares} squares: the first view {1_000 * (time.perf_counter() - begun):.0f} ms")
    requests: dict[str, Callable[[], httpx.Response]] = {
        "bare": lambda: client.get("/api/health"),
        "chart": lambda: client.get(f"/api/mixing/charts/{number}"),
        "room": lambda: client.get("/api/mixing"),
        "find": lambda: client.post("/api/mixing/find", json={"colour": {"srgb": "#6c7f5a"}}),
    }
    print_table(timed(requests, min(rounds, 60)))


READ: tuple[tuple[str, bool, bool], ...] = (
    ("spectra", True, True),
    ("figures", False, True),
    ("masstone alone", False, False),
)
"""What a paint may be known from: whether its readings are spectra, whether its tint was read."""


def strong_organic(luck: np.random.Generator) -> Hidden:
    """A paint that hardly scatters and absorbs a great deal in one or two bands."""
    bands = np.array(BANDS_NM, float)
    k = np.full(len(bands), 10 ** luck.uniform(-2.2, -1.6))
    for _ in range(int(luck.integers(1, 3))):
        centre, wide = luck.uniform(420, 640), luck.uniform(30, 60)
        k = k + 10 ** luck.uniform(0.5, 1.3) * np.exp(-(((bands - centre) / wide) ** 2))
    return Hidden(k, np.full(len(bands), luck.uniform(0.03, 0.12)))


def pairs_off(
    hidden: list[Hidden], by_eye: Viewer, luck: np.random.Generator, read: tuple[str, bool, bool]
) -> tuple[Floats, Floats]:
    """How far off pairs of made-up paints, white among them, are predicted, and how far off is said (dE00)."""
    _, spectral, tinted = read
    white = Hidden(np.full(len(BANDS_NM), 0.0035), np.ones(len(BANDS_NM)))

    def reading(parts: list[tuple[float, Hidden]]) -> Reading:
        seen = np.clip(_seen(parts) + luck.normal(0, READS_WITHIN, len(BANDS_NM)), mixing.K1 + 0.0005, 1.0)
        lab = Lab(*(float(at) for at in by_eye.lab(seen)))
        return Reading(lab, tuple(float(at) for at in seen) if spectral else None)

    all_ = [*hidden, white]
    pairs = [(n, m, share) for n, m in combinations(range(len(all_)), 2) for share in SHARES]
    weights = weights_of([((n, share), (m, 1 - share)) for n, m, share in pairs], len(all_))
    truth = by_eye.lab(np.array([_seen([(share, all_[n]), (1 - share, all_[m])]) for n, m, share in pairs]))
    known = [
        in_numbers(
            Known(
                "medium",
                "#808080",
                reading([(1.0, one)]),
                reading([(TINT_SHARE, one), (1 - TINT_SHARE, white)]) if tinted else None,
                reading([(1.0, white)]),
            ),
            by_eye,
            Shine.WITH,
        )
        for one in hidden
    ]
    known.append(white_in_numbers(reading([(1.0, white)]), by_eye, Shine.WITH))
    by = palette(known, by_eye, Shine.WITH)
    seen = by.lab(weights)
    return difference(seen, truth), expected_off(by, weights, seen)


def _seen(parts: list[tuple[float, Hidden]]) -> Floats:
    """The reflectance of a true mixture, above its surface."""
    k, s = (sum(share * getattr(one, what) for share, one in parts) for what in ("k", "s"))
    x = np.asarray(k) / np.asarray(s)
    layer = 1 / (1 + x + np.sqrt(x * x + 2 * x))
    return np.asarray([mixing.outside(float(at)) for at in layer])


def _calibrated(
    hidden: list[Hidden], white: Hidden, by_eye: Viewer, luck: np.random.Generator, told_by: Told
) -> list[Paint]:
    """Paints as a studio knows them, from readings of masstone and tint with the reader's scatter."""

    def read(parts: list[tuple[float, Hidden]]) -> tuple[float, ...]:
        seen = _seen(parts) + luck.normal(0, READS_WITHIN, len(BANDS_NM))
        if told_by is Told.CHANNELS:
            seen = _as_rgb(by_eye, seen)
        elif told_by is Told.SMOOTHEST:
            seen = np.array(smoothest(Lab(*(float(at) for at in by_eye.lab(seen))), by_eye))
        return tuple(float(at) for at in np.clip(seen, mixing.K1 + 0.0005, 1.0))

    white_read = read([(1.0, white)])
    return [
        mixing.calibrated(
            read([(1.0, one)]),
            read([(TINT_SHARE, one), (1 - TINT_SHARE, white)]),
            white_read,
            TINT_SHARE,
            surface=True,
            scatter=3 * READS_WITHIN if told_by is Told.SPECTRA else BEYOND_SCREENS,
        )
        for one in hidden
    ]


def _as_rgb(by_eye: Viewer, seen: Floats) -> Floats:
    """The linear sRGB that looks the same."""
    return np.asarray(np.linalg.solve(of_rgb().weights, by_eye.weights @ seen))
