"""The pH meter's port."""

from __future__ import annotations

from collections.abc import Callable

from niddy.core.ph_meter import PhMeterReading, gone, read_line
from niddy.devices.line_port import LinePort

BAUD = 9600


class PhMeterPort(LinePort):
    """Reads a pH meter while it is open, and says every reading to whoever listens."""

    what = "pH meter"

    def __init__(self, port: str, heard: Callable[[PhMeterReading], None]) -> None:
        super().__init__(port, BAUD)
        self.connection = port
        self._heard = heard

    def heard_line(self, line: str) -> None:
        self._heard(read_line(line))

    def heard_gone(self, says: str) -> None:
        self._heard(gone(says))
