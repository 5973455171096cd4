"""What an eye sees of many reflectances at once: Lab under D50 for 2 degrees, and CIEDE2000 between them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from coloraide import Color
from numpy.typing import NDArray

from niddy.core.colorimetry import Observer

Floats = NDArray[np.float64]
_E, _KAPPA = (6 / 29) ** 3, 3 * (6 / 29) ** 2


@dataclass(frozen=True, slots=True, eq=False)
class Viewer:
    """How channels come to X, Y and Z, each 1 for a perfect white: `weights` is 3 by channels.

    `shine` is what of every reflectance is the surface's own and not looked at, as a share of the light.
    """

    weights: Floats
    shine: float = 0.0

    def lab(self, reflectance: Floats) -> Floats:
        """Lab (..., 3) of reflectances (..., channels)."""
        return lab_of(self.xyz(reflectance))

    def xyz(self, reflectance: Floats) -> Floats:
        """X, Y and Z (..., 3) of reflectances (..., channels)."""
        return np.maximum(reflectance - self.shine, 0.0) @ self.weights.T

    def slopes(self, reflectance: Floats) -> Floats:
        """How Lab moves with each channel (n by 3 by channels)."""
        xyz = self.xyz(reflectance)
        f = np.where(xyz > _E, np.cbrt(np.maximum(xyz, 1e-9)) ** -2 / 3, 1 / _KAPPA)
        x, y, z = np.moveaxis(f[..., None] * self.weights, -2, 0)
        return np.stack([116 * y, 500 * (x - y), 200 * (y - z)], axis=-2)


def lab_of(xyz: Floats) -> Floats:
    """Lab (..., 3) of X, Y and Z (..., 3), each 1 for a perfect white."""
    f = np.where(xyz > _E, np.cbrt(np.maximum(xyz, 0)), xyz / _KAPPA + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def xyz_of(lab: Floats) -> Floats:
    """X, Y and Z (..., 3) of Lab (..., 3): `lab_of` the other way round."""
    f_y = (lab[..., 0] + 16) / 116
    f = np.stack([f_y + lab[..., 1] / 500, f_y, f_y - lab[..., 2] / 200], axis=-1)
    return np.where(f > 6 / 29, f**3, _KAPPA * (f - 4 / 29))


def srgb_of(lab: Floats) -> list[str]:
    """The nearest colours a screen can show, '#rrggbb', of Lab (n, 3): `colorimetry.srgb_of` for many at once."""
    linear = np.clip(xyz_of(lab) @ _to_rgb().T, 0.0, 1.0)
    codes = np.where(linear > 0.0031308, 1.055 * np.power(linear, 1 / 2.4) - 0.055, 12.92 * linear)
    return ["#{:02x}{:02x}{:02x}".format(*row) for row in np.rint(255 * codes).astype(int)]


@lru_cache(maxsize=1)
def _to_rgb() -> Floats:
    return np.asarray(np.linalg.inv(of_rgb().weights))


def of_spectra(observer: Observer, shine: float = 0.0) -> Viewer:
    """The viewer of reflectance spectra at `colorimetry.BANDS_NM`."""
    rows = np.array([observer.x, observer.y, observer.z], float)
    return Viewer(rows / rows.sum(axis=1, keepdims=True), shine)


@lru_cache(maxsize=1)
def of_rgb() -> Viewer:
    """The viewer of linear sRGB, adapted to D50: no measurement, and exact for nothing out of a screen's reach."""
    columns = [Color("srgb-linear", list(unit)).convert("xyz-d50").coords() for unit in np.eye(3)]
    rows = np.array(columns, float).T
    return Viewer(rows / rows.sum(axis=1, keepdims=True))


def difference(one: Floats, other: Floats) -> Floats:
    """CIEDE2000 (ISO/CIE 11664-6) of Lab colours (..., 3), as `colorimetry.difference` for many at once."""
    lightness_1, a_1, b_1 = np.moveaxis(one, -1, 0)
    lightness_2, a_2, b_2 = np.moveaxis(other, -1, 0)
    mean_chroma = (np.hypot(a_1, b_1) + np.hypot(a_2, b_2)) / 2
    g = 0.5 * (1 - np.sqrt(mean_chroma**7 / (mean_chroma**7 + 25.0**7)))
    a_1, a_2 = (1 + g) * a_1, (1 + g) * a_2
    chroma_1, chroma_2 = np.hypot(a_1, b_1), np.hypot(a_2, b_2)
    hue_1, hue_2 = (np.degrees(np.arctan2(b, a)) % 360 for a, b in ((a_1, b_1), (a_2, b_2)))
    grey = chroma_1 * chroma_2 == 0
    turn = hue_2 - hue_1
    turn = np.where(turn > 180, turn - 360, np.where(turn < -180, turn + 360, turn))
    turn = np.where(grey, 0.0, turn)
    d_lightness, d_chroma = lightness_2 - lightness_1, chroma_2 - chroma_1
    d_hue = 2 * np.sqrt(chroma_1 * chroma_2) * np.sin(np.radians(turn / 2))
    lightness, chroma = (lightness_1 + lightness_2) / 2, (chroma_1 + chroma_2) / 2
    both = hue_1 + hue_2
    hue = np.where(np.abs(hue_1 - hue_2) <= 180, both / 2, np.where(both < 360, both / 2 + 180, both / 2 - 180))
    hue = np.where(grey, both, hue)

    def cos(degrees: Any) -> Any:
        return np.cos(np.radians(degrees))

    t = 1 - 0.17 * cos(hue - 30) + 0.24 * cos(2 * hue) + 0.32 * cos(3 * hue + 6) - 0.20 * cos(4 * hue - 63)
    of_lightness = 1 + 0.015 * (lightness - 50) ** 2 / np.sqrt(20 + (lightness - 50) ** 2)
    of_chroma, of_hue = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    rotation = (
        -2 * np.sqrt(chroma**7 / (chroma**7 + 25.0**7)) * np.sin(np.radians(60 * np.exp(-(((hue - 275) / 25) ** 2))))
    )
    by_chroma, by_hue = d_chroma / of_chroma, d_hue / of_hue
    found = (d_lightness / of_lightness) ** 2 + by_chroma**2 + by_hue**2 + rotation * by_chroma * by_hue
    return np.asarray(np.sqrt(np.maximum(found, 0)))
