"""Making pigment: processes in versions, and their runs on paper."""

from __future__ import annotations

from niddy.studio.making.asked import (
    IngredientAsked,
    ProcessAsked,
    ProcessPreview,
    ProcessSaid,
    ProcessVersionAsked,
    RunAsked,
    StepAsked,
)
from niddy.studio.making.processes import (
    MakingRoom,
    Previewed,
    ProcessPage,
    add,
    add_version,
    page,
    plan,
    preview,
    room,
)

__all__ = [
    "IngredientAsked", "MakingRoom", "Previewed", "ProcessAsked", "ProcessPage", "ProcessPreview", "ProcessSaid",
    "ProcessVersionAsked", "RunAsked", "StepAsked", "add", "add_version", "page", "plan", "preview", "room",
]  # fmt: skip
