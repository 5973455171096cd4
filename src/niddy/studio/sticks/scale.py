"""The dent scale: how a stick feels between two dents."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import sticks as core


@dataclass(frozen=True, slots=True)
class DentZone:
    """One zone of the dent scale: how a stick feels between two dents."""

    feel: core.Feel
    says: str
    from_dmm: float
    to_dmm: float
    aim_dmm: float | None


FEEL_WORDS = {
    core.Feel.HARD: "hard line",
    core.Feel.FIRM: "firm",
    core.Feel.SOFT: "soft",
    core.Feel.BUTTERY: "buttery",
    core.Feel.TOO_SOFT: "too soft",
    core.Feel.CRUMBLES: "crumbles",
}
SCALE_DMM = (2.0, 250.0)


def dent_scale() -> tuple[DentZone, ...]:
    """The dent scale: its zones from hard to soft, and the dent each is aimed at."""
    ends = [SCALE_DMM[0], *(end for end, _ in core.FEEL_BELOW), SCALE_DMM[1]]
    feels = [*(feel for _, feel in core.FEEL_BELOW), core.Feel.TOO_SOFT]
    return tuple(
        DentZone(feel, FEEL_WORDS[feel], ends[n], ends[n + 1], core.FEEL_DENT.get(feel)) for n, feel in enumerate(feels)
    )
