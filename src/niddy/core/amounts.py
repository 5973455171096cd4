"""Amounts as requests carry them: every one has a floor as it has a ceiling."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from niddy.core.errors import (
    MAX_DENSITY_G_PER_ML,
    MAX_MASS_G,
    MAX_OIL_G_PER_100G,
    MAX_VOLUME_ML,
    MIN_DENSITY_G_PER_ML,
    MIN_DROP_G,
    MIN_LENGTH_MM,
    MIN_MASS_G,
    MIN_OIL_G_PER_100G,
    MIN_PARTS,
    MIN_TUBE_ML,
    MIN_VOLUME_ML,
)

Grams = Annotated[float, Field(strict=True, ge=MIN_MASS_G, le=MAX_MASS_G)]
Millilitres = Annotated[float, Field(strict=True, ge=MIN_VOLUME_ML, le=MAX_VOLUME_ML)]
TubeMillilitres = Annotated[float, Field(strict=True, ge=MIN_TUBE_ML, le=MAX_VOLUME_ML)]
Density = Annotated[float, Field(strict=True, ge=MIN_DENSITY_G_PER_ML, le=MAX_DENSITY_G_PER_ML)]
OilRatio = Annotated[float, Field(strict=True, ge=MIN_OIL_G_PER_100G, le=MAX_OIL_G_PER_100G)]
Parts = Annotated[float, Field(strict=True, ge=MIN_PARTS, le=10_000)]
DropGrams = Annotated[float, Field(strict=True, ge=MIN_DROP_G, le=1)]
FilmMillimetres = Annotated[float, Field(strict=True, ge=MIN_LENGTH_MM, le=20)]
FaceMillimetres = Annotated[float, Field(strict=True, ge=1, le=500)]
SquareCentimetres = Annotated[float, Field(strict=True, ge=1, le=100_000)]
