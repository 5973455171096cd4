"""The workshop: slabs, mullers, tube types, and the studio's settings with sensible defaults."""

from niddy.studio.workshop.settings import (
    BALANCE_PORT_ACCEPTED,
    BackupsSeen,
    PractisedEye,
    Settings,
    bought_tube_price,
    calendar_secret,
    change_settings,
    habit,
    keep_calendar_secret,
    practised_eye,
    set_bought_tube_price,
    settings,
    use_eye,
)
from niddy.studio.workshop.tools import (
    TOOL_NAMES,
    MullerKept,
    SlabKept,
    TubeTypeKept,
    Workshop,
    bench,
    furnish,
    keep_muller,
    keep_slab,
    keep_tube_type,
    retire,
    smallest_tube,
    tubes,
    workshop,
)

__all__ = [
    "BALANCE_PORT_ACCEPTED", "TOOL_NAMES", "BackupsSeen", "MullerKept", "PractisedEye", "Settings", "SlabKept",
    "TubeTypeKept", "Workshop", "bench", "bought_tube_price", "calendar_secret", "change_settings", "furnish", "habit",
    "keep_calendar_secret", "keep_muller", "keep_slab", "keep_tube_type", "practised_eye", "retire",
    "set_bought_tube_price", "settings", "smallest_tube", "tubes", "use_eye", "workshop",
]  # fmt: skip
