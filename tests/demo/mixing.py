"""The demo's colours in numbers: a white, paints read with and without their tints, a chart painted and one begun."""

from __future__ import annotations

import random
from datetime import datetime, timedelta

import numpy as np
from sqlalchemy.orm import Session

from niddy.core.checks import CheckKind
from niddy.core.colorimetry import BANDS_NM, lab_of_spectrum, spectrum_of
from niddy.core.mixing import K1, Paint, inside, k_over_s, mixed
from niddy.core.mixing.chart import WHITE, Lower, squares
from niddy.core.mixing.paints import Shine
from niddy.reference import observer
from niddy.studio import batches, checks, mixing, recorder
from niddy.studio.checks import CheckAsked, LabAsked
from niddy.studio.mixing import ChartAsked, PaintAsked, ReadingAsked, SightAsked
from niddy.studio.mixing.chart_acts import SquareRead, SquaresPainted
from tests.demo.session import demo_id

SPECTRA, FIGURES, ALONE = "spectra", "figures", "alone"
READ = ((1, FIGURES), (2, SPECTRA), (3, SPECTRA), (4, ALONE), (5, SPECTRA), (9, SPECTRA), (16, FIGURES), (24, SPECTRA))
"""Batches that were read, and how: with spectra, by three figures, by the masstone alone."""

PAINTED, BEGUN = (16, 9, 2, 5, 1, 24), (3, 16, 9, 5, 24)
TITANIUM = tuple(0.945 if nm > 430 else 0.945 - 0.012 * (430 - nm) for nm in BANDS_NM)
_SHARE = 1 / 11


class _True:
    """What a demo paint truly is: it scatters as its own made-up luck has it, and is so strong beside others."""

    def __init__(self, colour: str, chance: random.Random) -> None:
        s = chance.uniform(0.25, 0.7)
        masstone = [max(0.012, r) for r in spectrum_of(colour)]
        self.strength = chance.uniform(-0.45, 0.45)
        tilt = chance.uniform(-0.5, 0.2)
        scatters = [s * (nm / 550) ** tilt for nm in BANDS_NM]
        self.paint = Paint(
            tuple(k_over_s(inside(r + K1)) * at for r, at in zip(masstone, scatters, strict=True)), tuple(scatters)
        )


_WHITE = Paint(tuple(k_over_s(inside(r + K1)) for r in TITANIUM), (1.0,) * len(TITANIUM))


def _seen(parts: list[tuple[float, Paint]], chance: random.Random, scatter: float = 0.002) -> tuple[float, ...]:
    """What the reader sees of a mixture, without its shine."""
    return tuple(
        round(min(1.0, max(0.002, r - K1 + chance.gauss(0, scatter * (0.2 + r)))), 5)
        for r in mixed(parts, surface=True)
    )


def colours_in_numbers(session: Session, now: datetime) -> None:
    """Read a white and some batches, paint a chart, begin another."""
    chance = random.Random(44)
    at = now - timedelta(days=29)
    white = mixing.add_paint(
        session,
        at,
        PaintAsked(id=demo_id("white", 0), name="Titanium white, bought tube", tinting="high", swatch_srgb="#f4f4f0"),
    )
    reading = ReadingAsked(id=demo_id("white", 1), kind="masstone", made_at=at, spectrum=list(TITANIUM))
    mixing.keep(session, at, white, reading)
    mixing.see_by(session, SightAsked(white_id=white, shine=Shine.WITHOUT))
    true = {
        number: _True(batches.batch(session, number, 0).masstone_srgb, chance)
        for number in sorted({*(number for number, _ in READ), *PAINTED})
    }
    for n, (number, how) in enumerate(READ):
        when = at + timedelta(minutes=6 * n)
        _read(session, when, number, CheckKind.MASSTONE, how, _seen([(1.0, true[number].paint)], chance))
        if how != ALONE:
            let_down = _seen([(_SHARE, true[number].paint), (1 - _SHARE, _WHITE)], chance)
            _read(session, when, number, CheckKind.TINT, how, let_down)
    paints = {one.row.batch_number: one.id for one in mixing.several(session).values()}
    _painted(
        session,
        now - timedelta(days=22),
        [paints[number] for number in PAINTED],
        [true[number] for number in PAINTED],
        chance,
    )
    mixing.begin(
        session,
        now - timedelta(days=1),
        ChartAsked(
            id=demo_id("chart", 1),
            name="Greens and greys for the set of nine",
            paint_ids=[paints[number] for number in BEGUN],
            lower=Lower.OTHER_WAY,
            row_parts=3.0,
            white_rows=[4.0],
        ),
    )


def _read(session: Session, at: datetime, number: int, kind: CheckKind, how: str, spectrum: tuple[float, ...]) -> None:
    lab = lab_of_spectrum(spectrum, observer())
    asked = CheckAsked(
        id=demo_id(f"colour-{number}", kind is CheckKind.TINT),
        kind=kind,
        made_at=at,
        lab=LabAsked(L=round(lab.L, 2), a=round(lab.a, 2), b=round(lab.b, 2)) if how == FIGURES else None,
        spectrum=list(spectrum) if how != FIGURES else None,
    )
    checks.keep(session, at, number, asked)


def _painted(session: Session, at: datetime, paints: list[int], true: list[_True], chance: random.Random) -> None:
    """A chart painted on a Sunday: every square as these paints truly are, scattered by the hand that mixed it."""
    asked = ChartAsked(
        id=demo_id("chart", 0),
        name="Six colours with titanium white",
        paint_ids=paints,
        lower=Lower.WITH_WHITE,
        white_rows=[1.0, 4.0, 10.0],
    )
    number = mixing.begin(session, at, asked)
    read = []
    for square in squares(mixing.chart_of(session, number).plan.layout):
        parts = [
            (
                much * float(np.exp((0 if n == WHITE else true[n].strength) + chance.gauss(0, 0.04))),
                _WHITE if n == WHITE else true[n].paint,
            )
            for n, much in square.parts
        ]
        lab = lab_of_spectrum(_seen(parts, chance, 0.006), observer())
        read.append(SquareRead(code=square.code, lab=LabAsked(L=round(lab.L, 2), a=round(lab.a, 2), b=round(lab.b, 2))))
    when = at + timedelta(days=2)
    act = SquaresPainted(id=demo_id("chart", 10), made_at=when, kind="painted", squares=read, how="reader")
    recorder.record(session, when, mixing.CHARTS, number, act)
