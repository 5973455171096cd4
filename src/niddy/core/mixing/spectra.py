"""A spectrum for a colour nobody measured one of: the smoothest reflectance that looks like it.

Roughness is measured on the inverse hyperbolic tangent of the reflectance, which so stays between 0 and 1 (Burns 2020,
"Numerical methods for smoothest reflectance reconstruction", Color Research and Application 45). Mixed band by band,
such spectra come twice as near to what paints do as three channels.
"""

from __future__ import annotations

import numpy as np

from niddy.core.colorimetry import Lab
from niddy.core.errors import Refused
from niddy.core.mixing.seeing import Viewer, xyz_of

MOST_STEPS = 80
CLOSE = 1e-8


def smoothest(lab: Lab, viewer: Viewer, field: str = "") -> tuple[float, ...]:
    """The smoothest reflectance, above 0 and below 1 in every band, that looks like a colour.

    Raises Refused under `field` for a colour that no reflecting surface has.
    """
    wanted = xyz_of(np.array([lab.L, lab.a, lab.b]))
    weights = viewer.weights
    bands = weights.shape[1]
    rough = 4 * np.eye(bands) - 2 * np.eye(bands, k=1) - 2 * np.eye(bands, k=-1)
    rough[0, 0] = rough[-1, -1] = 2
    level, pull = np.zeros(bands), np.zeros(3)
    for _ in range(MOST_STEPS):
        slope = (1 - np.tanh(level) ** 2) / 2
        bend = -np.tanh(level) * (1 - np.tanh(level) ** 2)
        drawn = weights.T @ pull
        off = np.concatenate([rough @ level + drawn * slope, weights @ (np.tanh(level) + 1) / 2 - wanted])
        if np.abs(off).max() < CLOSE:
            return tuple(float(r) for r in (np.tanh(level) + 1) / 2)
        towards = np.block(
            [[rough + np.diag(drawn * bend), slope[:, None] * weights.T], [weights * slope, np.zeros((3, 3))]]
        )
        step = np.linalg.lstsq(towards, -off, rcond=None)[0]
        # A step too far from where the tangent still bends leads nowhere.
        step = step / max(1.0, float(np.abs(step[:bands]).max()) / 2)
        level, pull = level + step[:bands], pull + step[bands:]
    raise Refused(
        field,
        f"L* {lab.L:.0f}, a* {lab.a:.0f}, b* {lab.b:.0f} is not a colour paint can have",
        "a colour a surface can have",
    )
