"""A photographed sheet of squares in numbers: uneven light taken out by the paper, white and exposure by a card."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from niddy.core.colorimetry import CARD_CHROMA, CARD_REFLECTANCE, CLIPPED, DARK, Lab
from niddy.core.errors import Refused, within
from niddy.core.mixing.paints import PHOTO_OFF
from niddy.core.mixing.seeing import Floats, difference, lab_of, of_rgb

LIKE_PAPER = 0.1
"""A card's place that is by less than this darker than the paper has no card on it."""

UNPAINTED = 4.0
"""A square nearer to the paper than this (dE00) is taken to be unpainted."""


@dataclass(frozen=True, slots=True, eq=False)
class Patches:
    """Patches of a picture: where each is (n by 2, any unit), its mean sRGB codes and their sd (n by 3)."""

    at: Floats
    rgb: Floats
    sd: Floats


@dataclass(frozen=True, slots=True)
class PhotographedSquare:
    """A square read off a picture: Lab, how far off it may be (dE00), and whether it looks unpainted."""

    lab: Lab
    off: float
    empty: bool


def linear_of(codes: Floats) -> Floats:
    """Linear light of sRGB codes from 0 to 255."""
    share = codes / 255
    return np.where(share > 0.04045, ((share + 0.055) / 1.055) ** 2.4, share / 12.92)


def from_sheet(
    card: Patches, paper: Patches, painted: Patches, card_reflectance: float = CARD_REFLECTANCE
) -> tuple[PhotographedSquare, ...]:
    """The squares of a photographed sheet.

    Light over the sheet is a plane fitted to the paper between squares. Raises Refused at `card` where none lies on its
    place, it is clipped, too dark or coloured; at `picture` where squares or the paper are clipped.
    """
    within("card_reflectance", card_reflectance, 0.02, 0.98)
    of_card, of_paper = card.rgb.mean(axis=0), np.median(paper.rgb, axis=0)
    # Paper that is burnt out says nothing of how even the light is.
    light = _plane(paper) if of_paper.max() < CLIPPED else _even
    if of_card.max() >= CLIPPED:
        raise Refused("card", "too bright: a channel is clipped", "the same with less exposure")
    if np.all(linear_of(of_card) > (1 - LIKE_PAPER) * linear_of(of_paper)):
        raise Refused("card", "no grey card lies on its place: it looks like the paper", "the card on its place")
    if of_card.min() < DARK:
        raise Refused("card", "too dark to balance by", "the same with more light")
    if _chroma(of_card) > CARD_CHROMA:
        raise Refused(
            "card", "coloured: that is not a neutral card, or the light is coloured", "a grey card in daylight"
        )
    if np.mean(painted.rgb.max(axis=1) >= CLIPPED) > 0.5:
        raise Refused("picture", "too bright: most squares are clipped", "the same with less exposure")
    whole = linear_of(of_card) / card_reflectance / light(card.at).mean(axis=0)
    seen = _lab(linear_of(painted.rgb) / (whole * light(painted.at)))
    as_paper = _lab(np.median(linear_of(paper.rgb) / (whole * light(paper.at)), axis=0))
    noise = painted.sd.mean(axis=1) / np.maximum(8.0, painted.rgb.mean(axis=1))
    noise = noise + card.sd.mean() / max(8.0, float(of_card.mean()))
    off = PHOTO_OFF + 0.12 * _chroma(of_card) + 12 * noise
    clipped = painted.rgb.max(axis=1) >= CLIPPED
    like = difference(seen, as_paper)
    return tuple(
        PhotographedSquare(
            Lab(float(np.clip(lab[0], 0, 100)), float(np.clip(lab[1], -128, 128)), float(np.clip(lab[2], -128, 128))),
            float(much + (4 if burnt else 0)),
            bool(far < UNPAINTED),
        )
        for lab, much, burnt, far in zip(seen, off, clipped, like, strict=True)
    )


def _lab(linear: Floats) -> Floats:
    return lab_of(np.clip(linear, 0, 1.2) @ of_rgb().weights.T)


def _even(at: Floats) -> Floats:
    return np.ones((len(at), 3))


def _plane(paper: Patches) -> Callable[[Floats], Floats]:
    """The light over the sheet: for each channel a plane through the logarithm of what the paper gives."""
    middle, wide = paper.at.mean(axis=0), np.maximum(np.ptp(paper.at, axis=0), 1e-9)

    def rows(at: Floats) -> Floats:
        x, y = ((at - middle) / wide).T
        return np.stack([np.ones(len(at)), x, y, x * y], axis=1)

    level = np.log(np.maximum(linear_of(paper.rgb), 1e-4))
    planes, *_ = np.linalg.lstsq(rows(paper.at), level, rcond=None)
    # A blot of paint on a gap is no light: what is far off the plane is left out the second time.
    apart = np.abs(level - rows(paper.at) @ planes).max(axis=1)
    kept = apart <= max(0.08, float(np.quantile(apart, 0.8)))
    if kept.sum() >= 8:
        planes, *_ = np.linalg.lstsq(rows(paper.at[kept]), level[kept], rcond=None)
    return lambda at: np.exp(rows(at) @ planes)


def _chroma(codes: Floats) -> float:
    lab = _lab(linear_of(codes))
    return float(np.hypot(lab[1], lab[2]))
