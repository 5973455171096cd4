"""The thermometer's port."""

from __future__ import annotations

from collections.abc import Callable

from niddy.core.thermometer import ThermometerReading, gone, read_line
from niddy.devices.line_port import LinePort

BAUD = 9600


class ThermometerPort(LinePort):
    """Reads a thermometer while it is open, and says every reading to whoever listens."""

    what = "thermometer"

    def __init__(self, port: str, heard: Callable[[ThermometerReading], None]) -> None:
        super().__init__(port, BAUD)
        self.connection = port
        self._heard = heard

    def heard_line(self, line: str) -> None:
        self._heard(read_line(line))

    def heard_gone(self, says: str) -> None:
        self._heard(gone(says))
