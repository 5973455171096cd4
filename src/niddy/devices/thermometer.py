"""The thermometer's port."""

from __future__ import annotations

from niddy.core.thermometer import ThermometerReading, gone, read_line
from niddy.devices.line_port import ReadingPort


class ThermometerPort(ReadingPort[ThermometerReading]):
    """Reads a thermometer while it is open."""

    what = "thermometer"
    read = staticmethod(read_line)
    gone = staticmethod(gone)
